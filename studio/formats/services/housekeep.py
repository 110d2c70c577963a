"""Let go of what has been kept long enough: by each studio's rules, and what no program needs any more."""

import datetime
from typing import Final

from axes.models import AccessAttempt, AccessFailureLog, AccessLog
from django.apps import apps
from django.db import connection
from django.db.models import Exists, OuterRef, Q
from pghistory.models import Context

from studio.accounts.models import SentOnce, SignedIn, Studio
from studio.accounts.services.once import KEPT_FOR
from studio.accounts.sessions import IDLE
from studio.clients.models import SkinTest
from studio.people.models import Invitation
from studio.photos.models import Photo
from studio.trace.selectors import OF_CLIENT, OF_HOUSE
from studio.visits.models import Signature

GUESSES_FOR: Final = datetime.timedelta(days=90)
LINKS_FOR: Final = datetime.timedelta(days=365)
A_MONTH: Final = datetime.timedelta(days=30.4375)
A_YEAR: Final = datetime.timedelta(days=365.25)


def housekeep(now: datetime.datetime) -> dict[str, int]:
    """Delete it. Returns how many rows went, by what they were."""
    gone = _of_programs(now)
    for studio in Studio.objects.all():
        for what, count in _of_studio(studio, now).items():
            gone[what] = gone.get(what, 0) + count
    gone["traces"] += _of_no_hand(now) + _loose_contexts()
    return gone


def _of_programs(now: datetime.datetime) -> dict[str, int]:
    """Sessions that ended, changes that nobody can send again, guesses at passwords, old links, what was counted."""
    ended = SignedIn.objects.filter(Q(expire_date__lt=now) | Q(touched_at__lt=now - IDLE))
    tried = (AccessAttempt, AccessLog, AccessFailureLog)
    guesses = [model.objects.filter(attempt_time__lt=now - GUESSES_FOR) for model in tried]
    with connection.cursor() as cursor:
        cursor.execute("DELETE FROM kept_for_a_while WHERE expires < %s", [now])
        counted = cursor.rowcount
    return {
        "sessions": ended.delete()[0],
        "sent": SentOnce.objects.filter(made_at__lt=now - KEPT_FOR).delete()[0],
        "guesses": sum(each.delete()[0] for each in guesses),
        "links": Invitation.objects.filter(made_at__lt=now - LINKS_FOR).delete()[0],
        "counted": counted,
        "traces": 0,
    }


def _of_studio(studio: Studio, now: datetime.datetime) -> dict[str, int]:
    gone = {}
    if studio.photos_months:
        day = (now - studio.photos_months * A_MONTH).date()
        gone["photos"] = Photo.objects.filter(visit__client__studio=studio, visit__day__lt=day).delete()[0]
    nameless = {"visit__client__studio": studio, "visit__client__forgotten_at__isnull": False}
    before = now - studio.signed_years * A_YEAR
    gone["signatures"] = Signature.objects.filter(**nameless, signed_at__lt=before).delete()[0]
    tests = SkinTest.objects.filter(client__studio=studio, client__forgotten_at__isnull=False, tested_at__lt=before)
    gone["tests"] = tests.delete()[0]
    if studio.traces_months:
        gone["traces"] = _old_traces(studio, now - studio.traces_months * A_MONTH)
    return gone


def _old_traces(studio: Studio, before: datetime.datetime) -> int:
    """Traces by hands of this studio."""
    count = 0
    for name in (*(each for each, _ in OF_CLIENT), *OF_HOUSE):
        rows = apps.get_model(name)._default_manager.filter(pgh_created_at__lt=before)
        count += rows.filter(pgh_context__metadata__studio=studio.pk).delete()[0]
    return count


def _of_no_hand(now: datetime.datetime) -> int:
    """Traces of no hand go by the longest rule of all, as whose they are is not told; where one keeps all, none go."""
    months = list(Studio.objects.values_list("traces_months", flat=True))
    if not all(months):
        return 0
    before, count = now - max(months, default=0) * A_MONTH, 0
    for name in (*(each for each, _ in OF_CLIENT), *OF_HOUSE):
        rows = apps.get_model(name)._default_manager.filter(pgh_created_at__lt=before, pgh_context=None)
        count += rows.delete()[0]
    return count


def _loose_contexts() -> int:
    """Whose hand it was, of changes that are not told any more."""
    rows = Context.objects.all()
    for name in (*(each for each, _ in OF_CLIENT), *OF_HOUSE):
        rows = rows.exclude(Exists(apps.get_model(name)._default_manager.filter(pgh_context=OuterRef("pk"))))
    return int(rows.delete()[0])
