"""What has happened at a visit, read with the visit itself."""

import datetime
from typing import Final

from django.db.models import Exists, OuterRef, QuerySet

from studio.accounts.prepared import Prepared
from studio.cards.models import Formula, ZoneResult
from studio.clocks.models import ZoneClock
from studio.head.models import Bowl, Coat
from studio.pour.models import Batch, Weighing
from studio.route.models import ChosenRoute, VisitPlan
from studio.visits.models import Consult, Reading, Visit


def _with_progress(visits: QuerySet[Visit]) -> QuerySet[Visit]:
    """Visits, each with what has happened at it, by NAMES."""
    own, coloured = OuterRef("pk"), ZoneClock.objects.filter(kind__in=ZoneClock.COLOURS)
    return visits.only("pk").annotate(
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
Progress = dict[str, bool]

_OF_VISIT: Final = Prepared(lambda visit: _with_progress(Visit.objects.filter(pk=visit)), visit=int)
_OF_DAY: Final = Prepared(
    lambda studio, day: _with_progress(Visit.objects.of_studio(studio).filter(day=day)).order_by(),
    studio=int,
    day=datetime.date,
)


def progress_of(visit_id: int) -> Progress:
    """What has happened at one visit, by NAMES. One query."""
    found = _OF_VISIT(visit=visit_id)
    return _progress(found[0]) if found else dict.fromkeys(NAMES, False)


def progress_of_day(studio_id: int, day: datetime.date) -> dict[int, Progress]:
    """What has happened at every visit of a studio's day, by the visits' rows. One query."""
    return {visit.pk: _progress(visit) for visit in _OF_DAY(studio=studio_id, day=day)}


def _progress(visit: Visit) -> Progress:
    return {name: getattr(visit, name) for name in NAMES}
