"""Set zones and their bowls at once, as a repeated card does."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from decimal import Decimal

from studio.accounts.models import Person
from studio.head.models import Bowl
from studio.head.services.changing import changing
from studio.head.state import TARGET_NAMES, BowlState, restore_bowl
from studio.visits.models import Reading, Zone


@dataclass(frozen=True, kw_only=True)
class ZoneSetting:
    """A zone as a card has it: its place on the head, its hair, its seam, and which of the card's bowls serves it."""

    name: str
    part: str
    position: int
    blend_percent: int
    hair: Mapping[str, Decimal | str]
    bowl_number: int
    bowl: BowlState


def set_head(
    person: Person, *, zone_id: int, coat_id: int | None = None, version: int, zones: Sequence[ZoneSetting], words: str
) -> Bowl:
    """Bring the head to a card's zones and bowls in one step, one undo away; returns the bowl of the first.

    One zone alone is set on the zone of that name, else on the one in hand, and the others stay. Several become the
    zones of the head. Hair that was read today stays. Raises Stale; Bowl.DoesNotExist.
    """
    with changing(person, zone_id=zone_id, coat_id=coat_id, version=version, words=words) as bowl:
        worktop = bowl.worktop
        standing = {zone.name: zone for zone in Zone.objects.filter(visit_id=worktop.visit_id, removed=False)}
        if len(zones) == 1:
            zone = standing.get(zones[0].name) or Zone.objects.get(pk=zone_id)
            return _set_one(person, bowl, zone, zones[0])
        bowls = {number: worktop.bowls.create(line=bowl.line) for number in {each.bowl_number for each in zones}}
        Zone.objects.filter(visit_id=worktop.visit_id).update(removed=True)
        for each in zones:
            zone = standing.get(each.name) or Zone(visit_id=worktop.visit_id, name=each.name)
            zone.part, zone.position, zone.removed = each.part, each.position, False
            zone.save()
            own = bowls[each.bowl_number]
            restore_bowl(own, each.bowl, fresh=True)
            own.save()
            zone.coats.update(removed=True)
            zone.coats.create(bowl=own, blend_percent=each.blend_percent)
            _read_once(person, zone, each.hair)
    return bowls[zones[0].bowl_number]


def _set_one(person: Person, in_hand: Bowl, zone: Zone, setting: ZoneSetting) -> Bowl:
    coats = zone.coats.filter(removed=False, bowl__isnull=False)
    coat = coats.filter(bowl=in_hand).first() or coats.select_related("bowl__line").last()
    if coat is None or coat.bowl is None:
        raise Bowl.DoesNotExist
    bowl = coat.bowl
    zone.coats.filter(pk=coat.pk).update(**dict.fromkeys(TARGET_NAMES))
    restore_bowl(bowl, setting.bowl, fresh=True)
    bowl.save()
    _read_once(person, zone, setting.hair)
    return bowl


def _read_once(person: Person, zone: Zone, hair: Mapping[str, Decimal | str]) -> None:
    """The card's hair as a first reading, unless the zone was read already."""
    if not Reading.objects.filter(zone=zone).exists():
        Reading.objects.create(zone=zone, number=1, read_by=person, **hair)
