"""What has happened at a visit, read with the visit itself."""

from django.db.models import Exists, OuterRef, QuerySet

from studio.cards.models import Formula, ZoneResult
from studio.clocks.models import ZoneClock
from studio.head.models import Bowl, Coat
from studio.pour.models import Batch, Weighing
from studio.route.models import ChosenRoute, VisitPlan
from studio.visits.models import Consult, Reading, Visit


def with_progress(visits: QuerySet[Visit]) -> QuerySet[Visit]:
    """Visits, each with whether it was consulted, read, aimed, routed, planned, poured, mixed, rinsed, judged, on_card.

    One query in all.
    """
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
