"""Rows of an archive put into the database: each table copied in at once, under new numbers, traces as they were."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import Any, Final

import pgtrigger.registry
from django.apps import apps
from django.contrib.auth.hashers import make_password
from django.db import connection, models

from engine.language import say
from studio.accounts.models import Person, Studio
from studio.archives.cells import value_of
from studio.archives.opened import Opened, Unfit
from studio.archives.progress import Progress
from studio.archives.references import INSIDE
from studio.archives.tables import CONTEXTS, FIELDS_LEFT_OUT, HOUSE, PATHS, PEOPLE, fields_of, pk_of, related, tracked

MAILS: Final = "account.EmailAddress"
OF_WHO_BRINGS: Final = ("first_name", "last_name", "language", "licensed", "date_joined")  # the role stays the owner's
SAME_NAME_MOST: Final = 1000


def put(opened: Opened, person: Person, progress: Progress) -> list[str]:
    """Put all of an archive into a person's studio, which has to be empty, within a transaction.

    Returns what came otherwise than it was, in words. Raises Unfit; IntegrityError and DataError where rows break a
    rule of the database.
    """
    with connection.cursor() as cursor:
        pgids = ",".join(trigger.get_pgid(model) for model, trigger in pgtrigger.registry.registered())
        cursor.execute("SELECT set_config('pgtrigger.ignore', %s, true)", [f"{{{pgids}}}"])
        told = _Putter(opened, person, progress).put()
        cursor.execute("SELECT set_config('pgtrigger.ignore', '', true)")
    return told


class _Putter:
    def __init__(self, opened: Opened, person: Person, progress: Progress) -> None:
        self._opened, self._person, self._progress = opened, person, progress
        self._keys: dict[str, Sequence[Any]] = {}
        self._told: list[str] = []

    def put(self) -> list[str]:
        for label in (*PATHS, CONTEXTS):
            self._keys[label] = self._reserved(label, self._opened.numbers_of(label))
        self._put_house()
        self._put_people()
        for label in PATHS:
            if label not in (HOUSE, PEOPLE):
                rows = iter(list(self._mails())) if label == MAILS else self._rows(label)  # no query amid a COPY
                self._copy(label, rows)
        self._copy(CONTEXTS, self._rows(CONTEXTS))
        return self._told

    def _reserved(self, label: str, count: int) -> Sequence[Any]:
        """So many new keys of a table, in order."""
        model = apps.get_model(label)
        key = model._meta.pk
        if isinstance(key, models.UUIDField):
            return [key.get_default() for _ in range(count)]
        with connection.cursor() as cursor:
            cursor.execute(
                "SELECT nextval(pg_get_serial_sequence(%s, %s)) FROM generate_series(1, %s)",
                [f'"{model._meta.db_table}"', key.column if key else "", count],
            )
            return sorted(row[0] for row in cursor.fetchall())

    def _key(self, label: str, number: int) -> Any:
        """The key of a row by its number in the archive."""
        keys = self._keys[label]
        if not isinstance(number, int) or not 1 <= number <= len(keys):
            raise Unfit(
                say("It names a row {number} of {name}, which it has not.", number=str(number)[:20], name=label)
            )
        return keys[number - 1]

    def _rows(self, label: str) -> Iterator[dict[str, Any]]:
        """The rows of a table as values of its columns. Raises Unfit with the line that is wrong."""
        known = {field.name: field for field in fields_of(label)}
        for line, row in enumerate(self._opened.table(label), 1):
            try:
                yield self._values(label, row, known)
            except (ValueError, KeyError, TypeError, AttributeError) as wrong:
                words = str(wrong) if isinstance(wrong, ValueError) else say("this is no row")
                raise Unfit(say("{name}, line {line}: {words}", name=label, line=line, words=words)) from None

    def _values(self, label: str, row: dict[str, Any], known: dict[str, models.Field[Any, Any]]) -> dict[str, Any]:
        if unknown := sorted(set(row) - set(known)):
            raise ValueError(say("{name} is not known here: the archive is newer", name=unknown[0][:40]))
        values: dict[str, Any] = {}
        for name, field in known.items():
            if name in row:
                values[name] = self._value(label, field, row[name])
            elif field.primary_key or not (field.null or field.has_default()):
                raise ValueError(say("{name} is missing", name=name))
            else:  # of before there was such a column
                values[name] = field.get_default()
        return values

    def _value(self, label: str, field: models.Field[Any, Any], cell: Any) -> Any:
        if cell is None:
            return value_of(field, cell)
        if field.primary_key:
            return self._key(label, cell)
        if field.is_relation:
            return self._key(related(field), cell)
        if tracked(label) and field.name == "id":
            return self._key(tracked(label), cell)
        if isinstance(field, models.BinaryField):
            return self._opened.file(cell)
        value = value_of(field, cell)
        inside = INSIDE.get(label, {})
        return inside[field.name](value, self._key) if field.name in inside else value

    def _put_house(self) -> None:
        """The studio's own row: its rules and its name, unless another studio here has that."""
        keys = self._keys[HOUSE]
        self._keys[HOUSE] = [self._person.studio_id, *keys[1:]]
        (values,) = self._rows(HOUSE)
        if Studio.objects.filter(name=values["name"]).exclude(pk=self._person.studio_id).exists():
            taken = values.pop("name")
            self._told.append(say("The name {name} is taken here: the studio keeps its own.", name=taken))
        values.pop(pk_of(HOUSE))
        Studio.objects.filter(pk=self._person.studio_id).update(**values)

    def _put_people(self) -> None:
        """Everybody who works there, without a password; who brings the archive stays, and is not doubled."""
        people = list(self._rows(PEOPLE))
        self._hold([each["username"] for each in people])
        key = pk_of(PEOPLE)
        mine = next((each for each in people if each["username"] == self._person.username), None)
        if mine is not None:
            self._keys[PEOPLE] = [self._person.pk if each == mine[key] else each for each in self._keys[PEOPLE]]
            self._told.append(say("You are taken for {name} of the archive.", name=mine["username"]))
            kept = {name: value for name, value in mine.items() if name in OF_WHO_BRINGS}
            kept["email"] = self._person.email or mine["email"]
            Person.objects.filter(pk=self._person.pk).update(**kept)
            people.remove(mine)
        for each in people:
            name = each["username"]
            each["username"] = self._free_name(name)
            if each["username"] != name and not each["first_name"] + each["last_name"]:
                each["first_name"] = name  # what they are called does not change with what they sign in by
            each |= {"password": make_password(None), "pin": "", "pin_wrong": 0, "last_login": None}
            each |= {"is_staff": False, "is_superuser": False}
            if mine is not None and each["same_as"] == mine[key]:
                each["same_as"] = self._person.pk
        self._copy(PEOPLE, iter(people), *FIELDS_LEFT_OUT[PEOPLE])

    def _mails(self) -> Iterator[dict[str, Any]]:
        """Addresses for mail, none twice. A file confirms none: else anybody could take anybody's address with one."""
        mails = apps.get_model(MAILS)._default_manager
        for each in self._rows(MAILS):
            own = mails.filter(user=each["user"])
            if own.filter(email__iexact=each["email"]).exists():
                continue
            if each["verified"]:
                each["verified"] = False
                self._told.append(say("{email} has to be confirmed again.", email=each["email"]))
            each["primary"] = each["primary"] and not own.filter(primary=True).exists()
            yield each

    def _hold(self, names: list[str]) -> None:
        """Names that are looked for now are nobody else's to choose from until this is done: another worker waits."""
        with connection.cursor() as cursor:
            cursor.execute(
                "SELECT pg_advisory_xact_lock(hashtext('archives'), hashtext(name))"
                " FROM (SELECT DISTINCT name FROM unnest(%s::text[]) name ORDER BY name) names",
                [names],
            )

    def _free_name(self, name: str) -> str:
        """A name to sign in by that nobody on this server has."""
        found = name
        for number in range(2, SAME_NAME_MOST):
            if not Person.objects.filter(username=found).exists():
                break
            found = f"{name[:140]}-{number}"
        if found != name:
            self._told.append(say("{name} signs in as {found} here: the name is taken.", name=name, found=found))
        return found

    def _copy(self, label: str, rows: Iterator[dict[str, Any]], *more: str) -> None:
        """Copy rows into a table. more: columns that are not in archives."""
        model = apps.get_model(label)
        fields = [*fields_of(label), *(model._meta.get_field(name) for name in more)]
        columns = ", ".join(connection.ops.quote_name(field.column) for field in fields)
        table = connection.ops.quote_name(model._meta.db_table)
        with (
            connection.wrap_database_errors,
            connection.cursor() as cursor,
            cursor.copy(f"COPY {table} ({columns}) FROM STDIN") as copy,
        ):
            for row in rows:
                copy.write_row([field.get_db_prep_save(row[field.name], connection) for field in fields])
                self._progress.count()
