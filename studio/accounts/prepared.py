"""Queries that are put into SQL once: building the same one again for every page costs more than the answer does."""

import copy
import datetime
from collections.abc import Callable, Mapping
from functools import cached_property
from types import SimpleNamespace
from typing import Any, Final, Generic, TypeVar

from django.db import connection
from django.db.backends.base.base import BaseDatabaseWrapper
from django.db.models import ForeignKey, Lookup, Model, QuerySet
from django.db.models.query import ModelIterable
from django.db.models.sql.compiler import SQLCompiler
from django.db.transaction import TransactionManagementError

Row = TypeVar("Row", bound=Model)
# What stands in prepared SQL for a value that is asked later, by its type; each further one of a type is one more away.
_ROW: Final = -1_000_001
_DAY: Final = datetime.date.min
_MOMENT: Final = datetime.datetime.min.replace(tzinfo=datetime.UTC)
_ROW_MOST: Final = 2**63 - 1


class Prepared(Generic[Row]):
    """A query by the names of what it is asked, such as a visit's row id: `zones = Prepared(build, visit=int)`.

    build: makes the query from values by those names, which it may only compare columns with, as they are. Each is an
    int that a row's id may be, a text, a date, a moment, or a list of such ints that is compared by the lookup `among`.
    """

    def __init__(self, build: Callable[..., QuerySet[Row]], **types: type) -> None:
        self._build, self._types = build, types

    def __call__(self, **asked: object) -> list[Row]:
        """The rows for what is asked. Raises TypeError for names other than its own."""
        if asked.keys() != self._types.keys():
            raise TypeError(f"asked for {sorted(asked)}, prepared for {sorted(self._types)}")
        if any(isinstance(value, int) and not -_ROW_MOST <= value <= _ROW_MOST for value in asked.values()):
            return []  # an address may name any number; there is no such row
        compiler = copy.copy(self._compiler)
        compiler.connection = connection
        query = self._compiler.query
        if query.select_for_update and connection.get_autocommit():
            raise TransactionManagementError("a lock outlives no query outside a transaction")
        values = tuple(self._value(each, asked) for each in self._given)
        compiler.as_sql = lambda *_, **__: (self._sql, values)  # type: ignore[method-assign,assignment]
        compiler.get_converters = lambda *_: self._converters  # type: ignore[method-assign]
        rows: Any = SimpleNamespace(
            db=connection.alias,
            query=SimpleNamespace(get_compiler=lambda using: compiler),  # as Django's own is called
            _known_related_objects={},
        )
        return list(ModelIterable(rows))

    @cached_property
    def _stand_ins(self) -> Mapping[str, Any]:
        """What stands for each name in the query that is put into SQL."""
        return {name: _stand_in(kind, number) for number, (name, kind) in enumerate(self._types.items())}

    @cached_property
    def _compiler(self) -> SQLCompiler:
        query = self._build(**self._stand_ins).query
        compiler: SQLCompiler = query.get_compiler(connection=connection)
        self._sql, self._given = compiler.as_sql()
        self._converters = compiler.get_converters([column for column, *_ in compiler.select[: compiler.col_count]])
        return compiler

    def _value(self, given: object, asked: Mapping[str, object]) -> object:
        """What a parameter of the SQL is this time."""
        for name, stand_in in self._stand_ins.items():
            if type(given) is type(stand_in) and given == stand_in:
                return asked[name]
        return given


def _stand_in(kind: type, number: int) -> Any:
    later = datetime.timedelta(days=number)
    by_kind = {int: _ROW - number, list: [_ROW - number], str: f"{_ROW - number}"}
    return (by_kind | {datetime.date: _DAY + later, datetime.datetime: _MOMENT + later})[kind]


@ForeignKey.register_lookup
class Among(Lookup):
    """A row id that is one of a list, `= ANY(list)`: one parameter, however many they are."""

    lookup_name = "among"

    def get_prep_lookup(self) -> list[int]:
        """The list as it is."""
        return list(self.rhs)

    def as_sql(self, compiler: SQLCompiler, connection: BaseDatabaseWrapper) -> tuple[str, tuple[Any, ...]]:
        """The SQL, and its one parameter."""
        column, given = self.process_lhs(compiler, connection)
        return f"{column} = ANY(%s)", (*given, self.rhs)
