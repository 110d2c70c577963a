"""Say where a zone lies: its stretch of the hair, its part of the scalp, its strands, and whether it gets nothing; and
whether it is worked in sections and rinsed by itself."""

from dataclasses import dataclass
from decimal import Decimal

from django.db import transaction

from engine.service.amounts import Length
from engine.service.root import TAP_CM
from engine.service.stretch import LENGTH_CM
from studio.accounts.models import Person
from studio.ui.numbers import within
from studio.ui.refusal import Refusal
from studio.visits.models import Consult, Zone
from studio.visits.services.consult import usual_of

LONGEST_CM = 150


@dataclass(frozen=True, kw_only=True)
class ZonePlace:
    """Where a zone lies, in cm from the scalp and in percent; None for what is as its part usually has it.

    length_cm, regrowth_cm: of the head's hair.
    """

    length_cm: Decimal | None
    regrowth_cm: Decimal | None
    from_cm: Decimal | None
    to_cm: Decimal | None
    area_percent: Decimal | None
    strand_percent: Decimal | None
    pattern: str
    left_alone: bool


@transaction.atomic
def place_zone(person: Person, *, zone_id: int, place: ZonePlace) -> Zone:
    """Keep where a zone lies. Strands of one part that together are more than all of it are refused.

    Raises Refusal out_of_range with the field, pattern_unknown, stretch_half, stretch_crossed, stretch_past,
    strands_over; Zone.DoesNotExist for another studio's zone, or one that was removed.
    """
    zone = Zone.objects.visible_to(person).select_for_update(of=("self",)).get(pk=zone_id, removed=False)
    _check(place)
    consult, _ = Consult.objects.select_for_update().get_or_create(visit=zone.visit, defaults=usual_of(person))
    length_cm = place.length_cm or Decimal(LENGTH_CM[Length(consult.length)])
    if place.to_cm is not None and place.to_cm > length_cm:
        raise Refusal("stretch_past", "to_cm", length=length_cm, given=place.to_cm)
    zone.from_cm, zone.to_cm = (None if cm is None else round(cm, 1) for cm in (place.from_cm, place.to_cm))
    zone.area_share, zone.strand_share = (_share(part) for part in (place.area_percent, place.strand_percent))
    zone.pattern, zone.left_alone = place.pattern, place.left_alone
    _check_strands(zone)
    zone.save(update_fields=["from_cm", "to_cm", "area_share", "strand_share", "pattern", "left_alone"])
    measured = (place.length_cm, place.regrowth_cm)
    if measured != (consult.length_cm, consult.regrowth_cm):
        consult.length_cm, consult.regrowth_cm = measured
        consult.version += 1
        consult.save(update_fields=["length_cm", "regrowth_cm", "version"])
    return zone


@transaction.atomic
def place_root(person: Person, *, zone_id: int, left_alone: bool, to_cm: float | None) -> None:
    """Say of a root whether it gets nothing, and how far from the scalp it reaches; None for as its part usually does.

    A stretch that somebody has typed stays. Raises Zone.DoesNotExist as `place_zone` does.
    """
    zone = Zone.objects.visible_to(person).select_for_update(of=("self",)).get(pk=zone_id, removed=False)
    zone.left_alone = left_alone
    if to_cm is not None:
        zone.from_cm, zone.to_cm = Decimal(0), Decimal(str(to_cm))
    elif zone.to_cm == Decimal(str(TAP_CM)):
        zone.from_cm = zone.to_cm = None
    zone.save(update_fields=["from_cm", "to_cm", "left_alone"])


@transaction.atomic
def leave_alone(person: Person, *, zone_id: int, left: bool = True, pattern: str | None = None) -> None:
    """Say of a zone whether it gets nothing, and of which strands it is where that changes.

    Raises Refusal pattern_unknown; Zone.DoesNotExist as `place_zone` does.
    """
    zone = Zone.objects.visible_to(person).select_for_update(of=("self",)).get(pk=zone_id, removed=False)
    if pattern is not None and pattern not in Zone.Pattern.values:
        raise Refusal("pattern_unknown", "pattern")
    zone.left_alone = left
    zone.pattern = zone.pattern if pattern is None else pattern
    zone.save(update_fields=["left_alone", "pattern"])


def _check(place: ZonePlace) -> None:
    for number, name, low, high, unit in (
        (place.length_cm, "length_cm", 1, LONGEST_CM, " cm"),
        (place.regrowth_cm, "regrowth_cm", 0, LONGEST_CM, " cm"),
        (place.from_cm, "from_cm", 0, LONGEST_CM, " cm"),
        (place.to_cm, "to_cm", 0, LONGEST_CM, " cm"),
        (place.area_percent, "area_percent", 1, 100, " %"),
        (place.strand_percent, "strand_percent", 1, 100, " %"),
    ):
        if number is not None:
            within(number, name, low, high, unit)
    if place.pattern not in Zone.Pattern.values:
        raise Refusal("pattern_unknown", "pattern")
    if (place.from_cm is None) is not (place.to_cm is None):
        raise Refusal("stretch_half", "to_cm" if place.to_cm is None else "from_cm")
    if place.from_cm is not None and place.to_cm is not None and place.to_cm <= place.from_cm:
        raise Refusal("stretch_crossed", "to_cm")


def _share(percent: Decimal | None) -> Decimal | None:
    return None if percent is None else round(percent / 100, 2)


def _check_strands(zone: Zone) -> None:
    """Raises Refusal strands_over when the strands that are said of one part come to more than all of it."""
    others = Zone.objects.filter(visit=zone.visit_id, removed=False, part=zone.part).exclude(pk=zone.pk)
    said = [zone.strand_share, *others.values_list("strand_share", flat=True)]
    total = sum((share for share in said if share is not None), Decimal(0))
    if zone.strand_share is not None and total > 1:
        raise Refusal("strands_over", "strand_percent", total=100 * total, part=zone.get_part_display())
