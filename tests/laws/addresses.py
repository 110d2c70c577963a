"""Every address of the application, from its own table, and what is asked of a request there."""

import contextlib
import json
import uuid
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from html.parser import HTMLParser
from unittest.mock import patch

from django.db import connection, models
from django.db.backends.base.base import BaseDatabaseWrapper
from django.http import QueryDict
from django.urls import URLPattern, URLResolver, get_resolver
from django.utils.datastructures import MultiValueDict

# What is open to anyone: the door, and what leads to it by a link or a mail.
PUBLIC = frozenset(
    {
        *(
            ":sign-in",
            ":account_login",
            ":pulse",
            ":tablet-worker",
            ":app",
            ":away",
            "people:begin",
            "people:join",
            ":mfa_authenticate",
        ),
        *("formats:feed", ":openapi"),
        *(f"api:{name}" for name in ("api-root", "key", "clients", "card", "formulas", "logbook", "shelf", "forecast")),
        *(":account_confirm_email", ":account_reset_password", ":account_reset_password_done"),
        ":account_email_verification_sent",
        *(":account_reset_password_from_key", ":account_reset_password_from_key_done"),
    }
)

# The rows that addresses name, and any value for each parameter.
ROWS = (
    *("visit", "client", "formula", "line", "intake", "shade", "list", "strand", "sheet", "supply", "transfer"),
    *("drill", "key"),
)
ANY: dict[str, object] = {
    **{f"{name}_id": 1 for name in ROWS},
    "depth": 50,
    "kind": "json",
    "key": "result-1",
    "uidb36": "1",
    "number": 0,
    "uid": uuid.UUID(int=1),
}


@dataclass(frozen=True)
class Address:
    """A named place. path: with every parameter filled."""

    name: str
    path: str


def addresses(given: Mapping[str, object]) -> list[Address]:
    """All of them. given: a value for each parameter; one that is missing fails, so that no new page is left out."""
    return sorted(_walk(get_resolver().url_patterns, "", "/", given), key=lambda each: each.name)


def _walk(
    patterns: list[URLPattern | URLResolver], space: str, path: str, given: Mapping[str, object]
) -> Iterator[Address]:
    for each in patterns:
        route = str(each.pattern)
        for name, converter in each.pattern.converters.items():
            start, end = route.index("<"), route.index(">") + 1
            route = route[:start] + converter.to_url(given[name]) + route[end:]
        if isinstance(each, URLResolver):
            yield from _walk(each.url_patterns, each.namespace or space, path + route, given)
        else:
            yield Address(f"{space}:{each.name}", path + route)


@contextlib.contextmanager
def asked_names() -> Iterator[set[str]]:
    """Notes every name that code looks for in a form or a query."""
    asked: set[str] = set()

    def noting(method: str) -> object:
        real = getattr(MultiValueDict, method)

        def noted(self: MultiValueDict, name: str, *rest: object) -> object:
            if isinstance(self, QueryDict):
                asked.add(str(name))
            return real(self, name, *rest)

        return patch.object(MultiValueDict, method, noted, create=True)

    with contextlib.ExitStack() as stack:
        for method in ("__getitem__", "get", "getlist", "__contains__"):
            stack.enter_context(noting(method))
        yield asked


@dataclass
class Form:
    """What a form would send, and the buttons that send it."""

    action: str
    fields: dict[str, str] = field(default_factory=dict)
    buttons: list[tuple[str, str]] = field(default_factory=list)


class Controls(HTMLParser):
    """A page's own controls: names with values, names of files, and forms by id or place."""

    def __init__(self, path: str) -> None:
        super().__init__()
        self.path = path
        self.found: dict[str, set[str]] = {}
        self.files: set[str] = set()
        self.forms: dict[str, Form] = {}
        self.inside: list[str] = []
        self.select = ""
        self.pending: list[tuple[str, dict[str, str | None]]] = []

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        held = dict(attrs)
        if tag == "form":
            self.inside.append(held.get("id") or f"form {len(self.forms)}")
            self.forms[self.inside[-1]] = Form(held.get("hx-post") or held.get("action") or self.path)
        if tag == "select":
            self.select = held.get("name") or ""
        if tag in ("input", "button", "textarea", "option"):
            held["name"] = self.select if tag == "option" else held.get("name")
            self.pending.append((held.get("form") or (self.inside[-1] if self.inside else ""), held | {"tag": tag}))

    def handle_endtag(self, tag: str) -> None:
        if tag == "form" and self.inside:
            self.inside.pop()

    def close(self) -> None:
        """Sort the controls to their forms, which may come after them."""
        super().close()
        for form_id, held in self.pending:
            name, value = held.get("name") or "", held.get("value") or ""
            if held.get("type") == "file":
                self.files.add(name)
            if not name:
                continue
            self.found.setdefault(name, set()).add(value)
            form = self.forms.get(form_id)
            if form and held["tag"] == "button":
                form.buttons.append((name, value))
            elif form and (held.get("type") not in ("checkbox", "radio") or "checked" in held):
                form.fields.setdefault(name, value)


def controls_of(path: str, html: str) -> Controls:
    """What a page's controls would send. path: the page's own."""
    controls = Controls(path)
    controls.feed(html)
    controls.close()
    return controls


def spread_ids(connection: BaseDatabaseWrapper, apart: int = 10_000) -> None:
    """Let every table count from a number of its own, so that an id says what it is of."""
    with connection.cursor() as cursor:
        for place, table in enumerate(sorted(connection.introspection.table_names(cursor)), start=1):
            for sequence in connection.introspection.get_sequences(cursor, table):
                cursor.execute(f'ALTER SEQUENCE "{sequence["name"]}" RESTART WITH {place * apart}')


Row = tuple[str, int]  # a table's model and an id


def rows_below(*roots: models.Model) -> dict[Row, dict[str, object]]:
    """Rows and everything that hangs on them, however far, as plain values by model and id. One look at the records."""
    relations = _relations_below({type(root) for root in roots})
    held = _all_rows({relation.related_model for relation in relations} | {type(root) for root in roots})
    hanging: dict[Row, list[Row]] = {}
    for relation in relations:
        label, column = relation.related_model._meta.label, relation.field.column
        for key, row in held.items():
            if key[0] == label and row[column] is not None:
                hanging.setdefault((relation.model._meta.label, row[column]), []).append(key)
    found: dict[Row, dict[str, object]] = {}
    waiting = [(root._meta.label, root.pk) for root in roots]
    while waiting:
        key = waiting.pop()
        if key not in found:
            found[key] = held[key]
            waiting += hanging.get(key, [])
    return found


def _relations_below(kinds: set[type[models.Model]]) -> list[models.ForeignObjectRel]:
    """Every relation through which rows of other models hang on rows of these, however far."""
    seen: set[type[models.Model]] = set()
    relations, waiting = [], list(kinds)
    while waiting:
        kind = waiting.pop()
        if kind not in seen:
            seen.add(kind)
            relations += kind._meta.related_objects
            waiting += [relation.related_model for relation in kind._meta.related_objects]
    return relations


def _all_rows(kinds: set[type[models.Model]]) -> dict[Row, dict[str, object]]:
    """Every row of some models, in one query."""
    select = "SELECT '{0.label}', one.{0.pk.column}, to_jsonb(one) FROM {0.db_table} one"
    with connection.cursor() as cursor:
        cursor.execute(" UNION ALL ".join(select.format(kind._meta) for kind in kinds))
        return {(label, pk): json.loads(row) for label, pk, row in cursor}
