"""Which clocks and mixed bowls there are, as they stand at a moment."""

import datetime
from collections.abc import Sequence
from typing import Final

from django.db.models import Exists, OuterRef, QuerySet, prefetch_related_objects

from engine.language import listed
from engine.service.timing import CLOCK_OF_DYE, TIMINGS, ClockKind, Watch, freshness
from studio.accounts.models import Person
from studio.accounts.prepared import Prepared
from studio.clocks.models import ZoneClock
from studio.clocks.seen import BowlSeen, ClockSeen, seen
from studio.head.models import Coat
from studio.pour.models import Batch
from studio.shelf.models import LIGHTENER
from studio.shelf.selectors import stocked_line

_RUNNING: Final = Prepared(
    lambda studio, visits: (
        ZoneClock.objects.of_studio(studio)
        .filter(zone__visit__among=visits, rinsed_at=None)
        .select_related("zone__visit__client", "bowl__line")
        .order_by("applied_at")
    ),
    studio=int,
    visits=list,
)
_JOINING: Final = Prepared(
    lambda coats: (
        Coat.objects.filter(joins__among=coats, begun=False, removed=False, zone__removed=False)
        .select_related("zone")
        .order_by("order", "pk")
    ),
    coats=list,
)
_MIXED: Final = Prepared(
    lambda studio, visits: (
        Batch.objects.of_studio(studio)
        .filter(bowl__worktop__visit__among=visits, mixed_at__isnull=False)
        .select_related("bowl__line", "bowl__worktop__visit__client")
        .order_by("bowl_id", "-number")
        .distinct("bowl_id")
    ),
    studio=int,
    visits=list,
)
_SERVED: Final = Prepared(
    lambda bowls: Coat.objects.filter(bowl__among=bowls, removed=False, zone__removed=False).select_related("zone"),
    bowls=list,
)


def _whose_bowl_waits(zones: list[int]) -> QuerySet[Coat]:
    """Coats of zones whose bowl is also for another zone, on which no colour has been put yet."""
    coloured = ZoneClock.objects.filter(zone=OuterRef("zone"), kind__in=ZoneClock.COLOURS)
    here = Coat.objects.filter(removed=False, bowl__isnull=False)
    waiting = here.filter(~Exists(coloured), bowl=OuterRef("bowl"), zone__removed=False)
    return here.filter(Exists(waiting), zone__among=zones).order_by()


_JOINED: Final = Prepared(_whose_bowl_waits, zones=list)


def running_clocks(person: Person, visits: Sequence[int], now: datetime.datetime) -> list[ClockSeen]:
    """The running clocks of visits, first on first: what was applied first is rinsed first. Four queries."""
    watch, check_min = Watch(person.studio.watch), float(person.studio.check_min)
    clocks_now = _RUNNING(studio=person.studio_id, visits=list(visits))
    prefetch_related_objects(clocks_now, "checks")
    joined = _joined([clock.zone_id for clock in clocks_now if clock.kind in ZoneClock.COLOURS])
    joining = _joining([clock.coat_id for clock in clocks_now if clock.coat_id])
    return [
        seen(
            clock,
            now,
            watch,
            check_min,
            joins=clock.zone_id in joined,
            joining=tuple(joining.get(clock.coat_id or 0, ())),
        )
        for clock in clocks_now
    ]


def _joining(coats: Sequence[int]) -> dict[int, list[Coat]]:
    """The coats that are to go on beside those of some rows and are not on yet, by them. One query."""
    found: dict[int, list[Coat]] = {}
    if coats:
        for coat in _JOINING(coats=list(coats)):
            found.setdefault(coat.joins_id or 0, []).append(coat)
    return found


def _joined(zones: Sequence[int]) -> set[int]:
    """Those of zones whose bowl is for another zone, too, on which no colour has been put yet. One query."""
    return {coat.zone_id for coat in _JOINED(zones=list(zones))} if zones else set()


def done_clocks(person: Person, visit_id: int) -> list[ZoneClock]:
    """The clocks of a visit that were rinsed, newest first, with what was set right. Two queries."""
    found = ZoneClock.objects.visible_to(person).filter(zone__visit=visit_id, rinsed_at__isnull=False)
    return list(
        found.select_related("zone", "coat").prefetch_related("corrections__corrected_by").order_by("-rinsed_at")
    )


def mixed_bowls(person: Person, visits: Sequence[int], now: datetime.datetime) -> list[BowlSeen]:
    """The last mixed batch of each bowl of visits whose life counts, oldest first. A few queries."""
    batches = _MIXED(studio=person.studio_id, visits=list(visits))
    served: dict[int, dict[str, None]] = {}
    for coat in _SERVED(bowls=[batch.bowl_id for batch in batches]) if batches else ():
        served.setdefault(coat.bowl_id or 0, {})[coat.zone.name] = None
    found = []
    for batch in batches:
        kind = _clock_of(batch)
        if batch.mixed_at is None or TIMINGS[kind].life_min is None:
            continue
        age = max((now - batch.mixed_at).total_seconds() / 60, 0.0)
        zones = listed(served.get(batch.bowl_id, ()))
        found.append(BowlSeen(batch=batch, zones=zones, age_min=age, freshness=freshness(kind, age)))
    return sorted(found, key=lambda each: -each.age_min)


def _clock_of(batch: Batch) -> ClockKind:
    if batch.bowl.line.kind == LIGHTENER:
        return ClockKind.LIGHTENER
    dyes = stocked_line(batch.bowl.line).dyes.values()
    return next((CLOCK_OF_DYE[dye.kind] for dye in dyes if not dye.is_clear), ClockKind.DIRECT)
