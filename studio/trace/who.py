"""Tells the database, with each transaction that changes something, whose hand it is."""

import json
import re
import uuid
from collections.abc import Callable, Mapping
from functools import cache
from typing import Any, Final

import pgtrigger
from django.db import connection, transaction
from django.http import HttpRequest, HttpResponse

from studio.accounts.models import Person

TELLS: Final = "SELECT set_config('pghistory.context_id', %s, true), set_config('pghistory.context_metadata', %s, true)"
READS: Final = ("select", "with", "savepoint", "release", "rollback", "set ", "show")
_CHANGED: Final = re.compile(r'\s*(?:insert\s+into|update|delete\s+from)\s+"?(\w+)', re.IGNORECASE)


@cache
def _traced_tables() -> frozenset[str]:
    return frozenset(model._meta.db_table for model, _ in pgtrigger.registered())


def _leaves_a_trace(sql: str) -> bool:
    """Whether a statement may change rows that are traced: what can't be told apart may. A pour changes none."""
    if sql[:12].lstrip().lower().startswith(READS):
        return False
    changed = _CHANGED.match(sql)
    return changed is None or changed.group(1) in _traced_tables()


class Who:
    """Changes that a person asks for are theirs in the trace; what the worker or a command does is nobody's.

    The package's own way puts this before every statement, which a prepared statement does not take: here it is one
    statement more for a transaction, before the first that changes something.
    """

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Pass the request on, its changes told whose they are."""
        if request.method in ("GET", "HEAD", "OPTIONS") or not isinstance(request.user, Person):
            return self.get_response(request)
        with connection.execute_wrapper(_Telling(request.user)):
            return self.get_response(request)


class _Telling:
    def __init__(self, person: Person) -> None:
        self._said = [str(uuid.uuid4()), json.dumps({"person": person.pk, "studio": person.studio_id})]

    def __call__(
        self, execute: Callable[..., Any], sql: str, params: Any, many: bool, context: Mapping[str, Any]
    ) -> Any:
        """Before the first change of a transaction: if it is rolled back, the note that it was told is, too."""
        here = context["connection"]
        if here.in_atomic_block and _leaves_a_trace(sql) and not self._is_told(here):
            execute(TELLS, self._said, False, context)
            transaction.on_commit(self._told)
        return execute(sql, params, many, context)

    def _told(self) -> None:
        """Nothing is left to do: that it waits for the commit is the note."""

    def _is_told(self, here: Any) -> bool:
        return any(each[1] == self._told for each in here.run_on_commit)
