"""Whether this server lives, and whether it can serve: asked by whoever watches it, without a session or a person."""

import shutil
import time
from collections.abc import Callable
from datetime import timedelta
from typing import Final

from django.conf import settings
from django.db import DatabaseError, connection
from django.db.migrations.executor import MigrationExecutor
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.utils import timezone

from studio.ui.metrics import metrics

FREE_LEAST_BYTES: Final = 200_000_000  # of the disk; PostgreSQL stops when none is left
WORKER_SEEN_WITHIN: Final = timedelta(seconds=60)  # procrastinate's workers say every ten seconds that they are there
MIGRATED_FOR_S: Final = 60.0  # the code's migrations don't change while it runs, and reading them all takes a while
OK: Final = "ok"

_migrated_at: float | None = None


def live(request: HttpRequest) -> HttpResponse:
    """200 as long as the process answers at all."""
    return JsonResponse({"live": OK})


def ready(request: HttpRequest) -> HttpResponse:
    """200 if all that a request needs is there, else 503 with what is missing in words.

    A worker that is away is told and does not close the server: forecasts go on, and learn later.
    """
    told = {"disk": _disk(), "database": _said(_database)}
    is_there = told["database"] == OK  # else each look would wait for it anew
    told |= {name: _said(check) if is_there else "unknown" for name, check in IN_DATABASE.items()}
    is_ready = all(told[name] == OK for name in told if name not in MAY_BE_AWAY)
    answer = JsonResponse({"ready": is_ready, **told}, status=200 if is_ready else 503)
    if not is_ready:
        answer["Retry-After"] = "5"
    return answer


def _said(check: Callable[[], str]) -> str:
    try:
        return check()
    except DatabaseError:
        return "away"


def _database() -> str:
    with connection.cursor() as cursor:
        cursor.execute("SELECT 1")
    return OK


def _migrations() -> str:
    global _migrated_at
    if _migrated_at is None or time.monotonic() - _migrated_at > MIGRATED_FOR_S:
        executor = MigrationExecutor(connection)
        missing = executor.migration_plan(executor.loader.graph.leaf_nodes())
        if missing:
            return f"{len(missing)} missing"
        _migrated_at = time.monotonic()
    return OK


def _disk() -> str:
    free = shutil.disk_usage(settings.STATIC_ROOT).free
    return OK if free >= FREE_LEAST_BYTES else f"{free // 1_000_000} MB free"


def _worker() -> str:
    with connection.cursor() as cursor:
        cursor.execute("SELECT max(last_heartbeat) FROM procrastinate_workers")
        (seen,) = cursor.fetchone()
    return OK if seen and timezone.now() - seen < WORKER_SEEN_WITHIN else "away"


IN_DATABASE: Final[dict[str, Callable[[], str]]] = {"migrations": _migrations, "worker": _worker}
MAY_BE_AWAY: Final = frozenset({"worker"})
PAGES: Final[dict[str, Callable[[HttpRequest], HttpResponse]]] = {"/health/live": live, "/health/ready": ready}
PAGES["/health/metrics"] = metrics
