"""Set zones and their bowls at once, as a repeated card does."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from decimal import Decimal

from studio.accounts.models import Person
from studio.head.models import Bowl
from studio.head.services.changing import changing
from studio.head.state import TARGET_NAMES, BowlState, restore_bowl
from studio.ui.refusal import Refusal
from studio.visits.models import Reading, Zone


@dataclass(frozen=True, kw_only=True)
class CoatSetting:
    """A coat as a card has it: what it is for, where its lift ends, its minutes if they are set, and which of the
    card's bowls it comes from. plain: product, grams and own_vol of one that nothing is mixed for, which has no bowl.
    """

    purpose: str
    to_level: Decimal | None = None
    minutes: Decimal | None = None
    bowl_number: int = 0
    bowl: BowlState | None = None
    plain: Mapping[str, object] = field(default_factory=dict)


@dataclass(frozen=True, kw_only=True)
class ZoneSetting:
    """A zone as a card has it: its place on the head, its hair before any coat, its seam, and its coats in order.

    lies: its stretch, its strands and their pattern, its sections, as a zone's own fields.
    """

    name: str
    part: str
    position: int
    blend_percent: int
    lies: Mapping[str, object]
    hair: Mapping[str, Decimal | str]
    coats: tuple[CoatSetting, ...]

    @property
    def mixed(self) -> tuple[CoatSetting, ...]:
        """Its coats that come from a bowl; a card has one at least."""
        return tuple(each for each in self.coats if each.bowl is not None)


def set_head(
    person: Person, *, zone_id: int, coat_id: int | None = None, version: int, zones: Sequence[ZoneSetting], words: str
) -> Bowl:
    """Bring the head to a card's zones, coats and bowls in one step, one undo away; returns the bowl of the first.

    One zone alone is set on the zone of that name, else on the one in hand, and the others stay. Several become the
    zones of the head. Hair that was read today stays. Raises Refusal coat_begun when a zone of them has a coat on;
    Stale; Bowl.DoesNotExist.
    """
    with changing(person, zone_id=zone_id, coat_id=coat_id, version=version, words=words) as bowl:
        worktop = bowl.worktop
        standing = {zone.name: zone for zone in Zone.objects.filter(visit_id=worktop.visit_id, removed=False)}
        if len(zones) == 1:
            zone = standing.get(zones[0].name) or Zone.objects.get(pk=zone_id)
            if len(zones[0].coats) == 1 and zone.coats.filter(removed=False).count() == 1:
                _lay(zone, zones[0])
                return _set_one(person, bowl, zone, zones[0])
        else:
            Zone.objects.filter(visit_id=worktop.visit_id).update(removed=True)
        bowls: dict[int, Bowl] = {}
        for each in zones:
            zone = standing.get(each.name) or (
                Zone.objects.get(pk=zone_id) if len(zones) == 1 else Zone(visit_id=worktop.visit_id, name=each.name)
            )
            if len(zones) > 1:
                zone.part, zone.position, zone.removed = each.part, each.position, False
                zone.save()
            _lay(zone, each)
            _set_coats(bowl, zone, each, bowls)
            _read_once(person, zone, each.hair)
    return bowls[zones[0].mixed[0].bowl_number]


def _lay(zone: Zone, setting: ZoneSetting) -> None:
    """Where a card's zone lay; what was measured today stays where the card says nothing."""
    for name, value in setting.lies.items():
        if value is not None:
            setattr(zone, name, value)
    zone.save(update_fields=list(setting.lies))


def _set_coats(in_hand: Bowl, zone: Zone, setting: ZoneSetting, bowls: dict[int, Bowl]) -> None:
    """The coats of a card in place of a zone's own, from bowls that are made as they are met."""
    if zone.coats.filter(removed=False, begun=True).exists():
        raise Refusal("coat_begun")
    zone.coats.update(removed=True)
    for place, coat in enumerate(setting.coats):
        if coat.bowl is not None and coat.bowl_number not in bowls:
            own = bowls[coat.bowl_number] = in_hand.worktop.bowls.create(line=in_hand.line)
            restore_bowl(own, coat.bowl, fresh=True)
            own.save()
        zone.coats.create(
            bowl=None if coat.bowl is None else bowls[coat.bowl_number],
            purpose=coat.purpose,
            to_level=coat.to_level,
            minutes=coat.minutes,
            order=place,
            blend_percent=setting.blend_percent,
            **coat.plain,
        )


def _set_one(person: Person, in_hand: Bowl, zone: Zone, setting: ZoneSetting) -> Bowl:
    coats = zone.coats.filter(removed=False, bowl__isnull=False)
    coat = coats.filter(bowl=in_hand).first() or coats.select_related("bowl__line").last()
    if coat is None or coat.bowl is None:
        raise Bowl.DoesNotExist
    bowl, wanted = coat.bowl, setting.mixed[0]
    own = {"purpose": wanted.purpose, "to_level": wanted.to_level, "minutes": wanted.minutes}
    zone.coats.filter(pk=coat.pk).update(**own, **dict.fromkeys(TARGET_NAMES))
    if wanted.bowl is not None:
        restore_bowl(bowl, wanted.bowl, fresh=True)
    bowl.save()
    _read_once(person, zone, setting.hair)
    return bowl


def _read_once(person: Person, zone: Zone, hair: Mapping[str, Decimal | str]) -> None:
    """The card's hair as a first reading, unless the zone was read already."""
    if not Reading.objects.filter(zone=zone).exists():
        Reading.objects.create(zone=zone, number=1, read_by=person, **hair)
