"""Published values as rows of a file."""

import csv
from pathlib import Path


def rows(name: str) -> list[dict[str, str]]:
    """The rows of tests/published/<name>.csv by column."""
    with (Path(__file__).parent / f"{name}.csv").open(encoding="utf-8") as file:
        return list(csv.DictReader(file))
