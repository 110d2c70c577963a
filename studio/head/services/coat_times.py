"""When a coat is worked: its minutes, no sooner than when it is begun, what it joins, and the zone's sections."""

from dataclasses import dataclass
from decimal import Decimal
from typing import Final

from django.db import transaction
from django.db.models import Q

from engine.language import say
from engine.service.schedule.usual import JOIN_MIN
from engine.service.schedule.work import MINUTES_MOST
from engine.service.sections import SECTIONS_MOST
from studio.accounts.models import Person
from studio.head.models import Coat
from studio.head.services.changing import LockedCoat, locked_coat, remember
from studio.head.services.coats import MINUTES_LIMITS, in_hand_after
from studio.ui.numbers import within
from studio.ui.refusal import Refusal
from studio.visits.models import Zone
from studio.visits.selectors import Hand

NAMES: Final = ("minutes", "apply_min", "not_before_min", "joins")


@dataclass(frozen=True, kw_only=True)
class CoatTimes:
    """minutes: on the hair; of what joins, before the other is rinsed. apply_min: of the hands. None for as usual.

    not_before_min: from the begin of the visit. joins: the row of another zone's coat.
    """

    minutes: Decimal | None = None
    apply_min: Decimal | None = None
    not_before_min: Decimal | None = None
    joins: int | None = None


AS_RECKONED: Final = CoatTimes()


@transaction.atomic
def time_coat(
    person: Person, *, zone_id: int, coat_id: int | None = None, version: int, times: CoatTimes = AS_RECKONED
) -> Hand:
    """Set when a coat is worked; what is not given is as reckoned again.

    Raises Refusal out_of_range with the field, coat_begun, join_gone, join_apart, join_twice; Stale; Bowl.DoesNotExist.
    """
    for number, name, limits in (
        (times.minutes, "minutes", MINUTES_LIMITS),
        (times.apply_min, "apply_min", (0, MINUTES_LIMITS[1])),
        (times.not_before_min, "not_before", (0, MINUTES_MOST)),
    ):
        if number is not None:
            within(number, name, limits[0], limits[1], " min")
    held = locked_coat(person, zone_id=zone_id, coat_id=coat_id, version=version, attempt=say("when a coat is worked"))
    coat = held.coat
    if coat.begun:
        raise Refusal("coat_begun")
    joins, minutes = _joined(held, times.joins), times.minutes
    if joins and minutes is None:
        minutes = Decimal(str(JOIN_MIN))
    coat.minutes = None if minutes is None else round(minutes, 1)
    coat.apply_min = None if times.apply_min is None else round(times.apply_min, 1)
    coat.not_before_min = None if times.not_before_min is None else round(times.not_before_min, 1)
    coat.joins = joins
    coat.save(update_fields=NAMES)
    remember(person, held.worktop, say("when {purpose} is worked", purpose=coat.get_purpose_display()))
    return Hand(zone_id=zone_id, coat_id=in_hand_after(held))


def _joined(held: LockedCoat, row: int | None) -> Coat | None:
    """The coat that one may join: of another zone of this head, rinsed in the same basin, and joining none itself."""
    if row is None:
        return None
    there = Coat.objects.filter(pk=row, zone__visit=held.worktop.visit_id, zone__removed=False, removed=False)
    other = there.exclude(zone=held.coat.zone_id).select_related("zone").first()
    if other is None or other.zone.left_alone:
        raise Refusal("join_gone", "joins")
    for zone in (held.coat.zone, other.zone):
        if zone.lies_apart:
            raise Refusal("join_apart", "joins", zone=zone.name)
    if other.joins_id or held.coat.joined_by.filter(removed=False).exists():
        raise Refusal("join_twice", "joins")
    return other


@transaction.atomic
def work_zone(
    person: Person,
    *,
    zone_id: int,
    version: int,
    sections: Decimal | None = None,
    rinsed_apart: bool | None = None,
) -> Zone:
    """Say into how many sections a zone is parted, and whether it is rinsed by itself; what is given.

    Raises Refusal out_of_range, join_apart while a coat of it joins another or is joined; Stale; Bowl.DoesNotExist for
    another studio's zone, or one that was removed.
    """
    if sections is not None:
        within(sections, "sections", 1, SECTIONS_MOST)
    held = locked_coat(person, zone_id=zone_id, version=version, attempt=say("how a zone is parted"), whole=True)
    zone = held.coat.zone
    zone.sections = zone.sections if sections is None else int(sections)
    zone.rinsed_apart = zone.rinsed_apart if rinsed_apart is None else rinsed_apart
    joining = Coat.objects.filter(Q(joins__isnull=False) | Q(joined_by__removed=False), zone=zone, removed=False)
    if zone.lies_apart and joining.exists():
        raise Refusal("join_apart", "sections" if sections is not None else "rinsed_apart", zone=zone.name)
    zone.save(update_fields=["sections", "rinsed_apart"])
    told = (
        say("in {sections} sections", sections=zone.sections)
        if zone.sections > 1
        else say("rinsed by itself")
        if zone.rinsed_apart
        else say("whole")
    )
    remember(person, held.worktop, f"{zone.name} {told}")
    return zone
