"""An archive's own numbers for rows: 1, 2, 3 within each table, which tell nothing of the database it is from."""

from collections.abc import Hashable, Iterable


class Numbers:
    """The numbers of each table, by what its rows are known by in the database."""

    def __init__(self) -> None:
        self._by_table: dict[str, dict[Hashable, int]] = {}

    def begin(self, label: str, keys: Iterable[Hashable]) -> int:
        """Number a table's rows in their order. Returns how many there are."""
        found = {key: place for place, key in enumerate(keys, 1)}
        self._by_table[label] = found
        return len(found)

    def of(self, label: str, key: Hashable) -> int:
        """The number of a row. One that is gone, and is named by a trace or a step still, gets the next."""
        table = self._by_table.setdefault(label, {})
        return table.setdefault(key, len(table) + 1)

    def knows(self, label: str, key: Hashable) -> bool:
        """Whether a row has a number."""
        return key in self._by_table.get(label, {})

    def keys(self, label: str) -> list[Hashable]:
        """What the numbered rows of a table are known by, in the order of their numbers."""
        return list(self._by_table.get(label, {}))

    def most(self, label: str) -> int:
        """How many numbers a table has, with those of rows that are gone."""
        return len(self._by_table.get(label, {}))
