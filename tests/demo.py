"""The demo studio, loaded once a process and put back before each test that needs all of it."""

import datetime
from functools import cache

import pgtrigger
from django.apps import apps
from django.db import connection, transaction
from django.utils import timezone

from studio.accounts.models import Person
from studio.demo.load import load_demo
from studio.shelf.selectors import forget_lines

FILLED = frozenset({"django_content_type", "auth_permission", "django_migrations"})
QUEUE = frozenset({"procrastinate_jobs"})  # which its own package makes and no model manages
UNTRACED = "SELECT set_config('pgtrigger.ignore', %s, true)"  # what a test puts in and takes out leaves no trace
PASSWORD = "lamps along the quay"


class Snapshot:
    """The rows that loading the demo makes. They keep their keys when put back; the sequences go on counting."""

    def __init__(self) -> None:
        models = apps.get_models(include_auto_created=True)
        tables = [model._meta.db_table for model in models if model._meta.managed]  # no queue waits for a worker here
        tables.remove("pghistory_events")  # a view of all of them that nobody makes
        empty = [table for table in tables if not _rows_of(table)]  # Django fills some of its own itself
        load_demo(PASSWORD)
        self.rows = {table: rows for table in empty if (rows := _rows_of(table))}

    def put_back(self) -> None:
        """Into empty tables, all at once: what refers to what is looked at in the end."""
        with transaction.atomic(), connection.cursor() as cursor:
            cursor.execute(UNTRACED, [_triggers()])
            for table, rows in self.rows.items():
                with cursor.copy(f"COPY {_quoted(table)} FROM STDIN (FORMAT binary)") as copy:
                    copy.write(rows)


def empty_tables() -> None:
    """Take out every row that a test has left, of the tables that hold any: a tenth of what emptying all of them takes.

    What Django fills itself stays.
    """
    forget_lines()  # the rows that come next have the numbers of those that go
    names = set(connection.introspection.django_table_names(only_existing=True, include_views=False)) - FILLED | QUEUE
    with transaction.atomic(), connection.cursor() as cursor:
        cursor.execute(" UNION ALL ".join(f"(SELECT {_literal(name)} FROM {_quoted(name)} LIMIT 1)" for name in names))
        held = cursor.fetchall()
        cursor.execute(UNTRACED, [_triggers()])
        for (name,) in held:
            cursor.execute(f"DELETE FROM {_quoted(name)}")


@cache
def _triggers() -> str:
    """Those that keep traces, as an array of SQL."""
    return "{" + ",".join(trigger.get_pgid(model) for model, trigger in pgtrigger.registered()) + "}"


def _quoted(table: str) -> str:
    return connection.ops.quote_name(table)


def _literal(text: str) -> str:
    return "'" + text.replace("'", "''") + "'"


def _rows_of(table: str) -> bytes:
    name = _quoted(table)
    with connection.cursor() as cursor:
        cursor.execute(f"SELECT 1 FROM {name} LIMIT 1")
        if not cursor.fetchone():
            return b""
        with cursor.copy(f"COPY {name} TO STDOUT (FORMAT binary)") as copy:
            return b"".join(bytes(part) for part in copy)


_of_day: dict[datetime.date, Snapshot] = {}  # the demo's visits lie so many days before it


def demo_studio() -> Person:
    """The demo studio in tables that are empty, as `load_demo` leaves it; returns the person who signs in."""
    today = timezone.localdate()
    if today in _of_day:
        _of_day[today].put_back()
    else:
        _of_day[today] = Snapshot()
    return Person.objects.get()
