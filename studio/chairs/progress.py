"""What has happened at a visit, read with the visit itself."""

import datetime
from collections.abc import Mapping
from functools import cache
from typing import Any, Final

from django.db import connection
from django.db.models import Exists, OuterRef, QuerySet

from studio.cards.models import Formula, ZoneResult
from studio.clocks.models import ZoneClock
from studio.head.models import Bowl, Coat
from studio.pour.models import Batch, Weighing
from studio.route.models import ChosenRoute, VisitPlan
from studio.visits.models import Consult, Reading, Visit


def _with_progress(visits: QuerySet[Visit]) -> QuerySet[Visit]:
    """Visits, each with what has happened at it, by NAMES."""
    own, coloured = OuterRef("pk"), ZoneClock.objects.filter(kind__in=ZoneClock.COLOURS)
    return visits.annotate(
        consulted=Exists(Consult.objects.filter(visit=own, version__gt=0)),
        read=Exists(Reading.objects.filter(zone__visit=own)),
        aimed=Exists(Bowl.objects.filter(worktop__visit=own, target_l__isnull=False))
        | Exists(Coat.objects.filter(zone__visit=own, removed=False, target_l__isnull=False)),
        routed=Exists(ChosenRoute.objects.filter(zone__visit=own)),
        planned=Exists(VisitPlan.objects.filter(visit=own)),
        poured=Exists(Weighing.objects.filter(batch__bowl__worktop__visit=own, taken_back=False)),
        mixed=Exists(Batch.objects.filter(bowl__worktop__visit=own, mixed_at__isnull=False)),
        rinsed=Exists(coloured.filter(zone__visit=own, rinsed_at__isnull=False)),
        judged=Exists(ZoneResult.objects.filter(zone__visit=own)),
        on_card=Exists(Formula.objects.filter(visit=own)),
    )


NAMES: Final = ("consulted", "read", "aimed", "routed", "planned", "poured", "mixed", "rinsed", "judged", "on_card")
# What stands in compiled SQL for what is asked: a visit, a studio, a day.
_VISIT, _STUDIO, _DAY = -1, -2, datetime.date.min

Progress = dict[str, bool]


def progress_of(visit_id: int) -> Progress:
    """What has happened at one visit, by NAMES. One query, put into SQL once: every page of every visit asks it."""
    return _ask(_of_visit(), {_VISIT: visit_id}).get(visit_id, dict.fromkeys(NAMES, False))


def progress_of_day(studio_id: int, day: datetime.date) -> dict[int, Progress]:
    """What has happened at every visit of a studio's day, by the visits' rows. One query, put into SQL once."""
    return _ask(_of_day(), {_STUDIO: studio_id, _DAY: day})


def _ask(compiled: tuple[str, tuple[Any, ...]], asked: Mapping[object, object]) -> dict[int, Progress]:
    sql, given = compiled
    values: list[Any] = [asked.get(each, each) for each in given]
    with connection.cursor() as cursor:
        cursor.execute(sql, values)
        return {row[0]: dict(zip(NAMES, row[1:], strict=True)) for row in cursor.fetchall()}


@cache
def _of_visit() -> tuple[str, tuple[Any, ...]]:
    return _compiled(Visit.objects.filter(pk=_VISIT))


@cache
def _of_day() -> tuple[str, tuple[Any, ...]]:
    return _compiled(Visit.objects.filter(client__studio=_STUDIO, day=_DAY))


def _compiled(visits: QuerySet[Visit]) -> tuple[str, tuple[Any, ...]]:
    return _with_progress(visits).order_by().values_list("pk", *NAMES).query.sql_with_params()
