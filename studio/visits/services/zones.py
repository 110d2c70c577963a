"""Which zones a visit has: add one, or set them all at once."""

from collections.abc import Sequence

from django.db import transaction

from engine.language import listed, say
from engine.service.parting import LENGTHS, PARTS, called, came_from, in_order, with_part
from studio.accounts.models import Person
from studio.ui.refusal import Refusal
from studio.ui.texts import one_line
from studio.visits.models import ZONES_MOST, Reading, Zone
from studio.visits.signals import Carved, ZonesSet, zones_set

NAME_LONGEST = 40


@transaction.atomic
def add_zone(person: Person, *, like_zone_id: int, part: str, name: str) -> Zone:
    """A further zone of the head, to begin with with the hair and the coats of another.

    Raises Refusal zone_part_unknown, zone_name_taken, too_many_zones; Zone.DoesNotExist for another studio's zone.
    """
    standing, like = _locked(person, like_zone_id)
    if part not in PARTS or part == Zone.Part.WHOLE:
        raise Refusal("zone_part_unknown", "part")
    same_hair = like.part == came_from(part, [zone.part for zone in standing])
    made = _made(person, standing, like, part, one_line(name, NAME_LONGEST), same_hair=same_hair)
    _settle(
        person, ZonesSet(visit_id=like.visit_id, made=(made,), gone=(), words=say("{name} added", name=made.zone.name))
    )
    return made.zone


@transaction.atomic
def set_zones(person: Person, *, zone_id: int, parts: Sequence[str]) -> Zone:
    """Let a visit have one zone for each of these parts at least, and none of another part; what stands, stays.

    A new zone begins with the hair and the coats of what it was part of, else of the zone in hand. Returns the first.
    Raises Refusal zone_part_unknown, zone_name_taken, last_zone, too_many_zones, coat_on where a zone that would go has
    something on; Zone.DoesNotExist for another studio's zone.
    """
    standing, like = _locked(person, zone_id)
    if not set(parts) <= set(PARTS):
        raise Refusal("zone_part_unknown", "part")
    if not parts:
        raise Refusal("last_zone")
    wanted = in_order(parts)
    gone = tuple(zone for zone in standing if zone.part not in wanted)
    left = [zone for zone in standing if zone.part in wanted]
    Zone.objects.filter(pk__in=[zone.pk for zone in gone]).update(removed=True)
    made: list[Carved] = []
    for part in wanted:
        if all(zone.part != part for zone in left):
            origin = came_from(part, [zone.part for zone in standing])
            source = next((zone for zone in standing if zone.part == origin), like)
            made.append(_made(person, left, source, part, called(part, wanted) or "", same_hair=origin is not None))
            left.append(made[-1].zone)
    ends = Zone.Part.ENDS.label
    if called("ends", wanted) is None and all(zone.name != ends for zone in left):  # mids are told from them now
        Zone.objects.filter(pk__in=[zone.pk for zone in left if zone.name == LENGTHS]).update(name=ends)
    if made or gone:
        words = say("zones: {parts}", parts=listed(str(Zone.Part(part).label) for part in wanted))
        _settle(person, ZonesSet(visit_id=like.visit_id, made=tuple(made), gone=gone, words=words))
    return Zone.objects.filter(visit=like.visit_id, removed=False)[0]


@transaction.atomic
def switch_part(person: Person, *, zone_id: int, part: str) -> Zone:
    """Treat a part of the head on its own, or no longer: a whole head is parted along its length for it.

    Returns its zone, or the first that is left. Raises Refusal as `set_zones` does; Zone.DoesNotExist.
    """
    standing, _ = _locked(person, zone_id)
    if part not in PARTS:
        raise Refusal("zone_part_unknown", "part")
    now = [zone.part for zone in standing]
    if part not in now:
        set_zones(person, zone_id=zone_id, parts=with_part(now, part))
        return Zone.objects.filter(visit=standing[0].visit_id, removed=False, part=part)[0]
    return set_zones(person, zone_id=zone_id, parts=[each for each in now if each != part])


def _locked(person: Person, zone_id: int) -> tuple[list[Zone], Zone]:
    """The zones of a visit, locked until the transaction ends, and one of them."""
    zone = Zone.objects.visible_to(person).get(pk=zone_id, removed=False)
    standing = list(Zone.objects.filter(visit=zone.visit_id, removed=False).select_for_update())
    return standing, next(each for each in standing if each.pk == zone_id)


def _made(person: Person, standing: Sequence[Zone], like: Zone, part: str, name: str, *, same_hair: bool) -> Carved:
    """A zone with the newest readings of another; of the same hair those between its coats, too."""
    if len(standing) >= ZONES_MOST:
        raise Refusal("too_many_zones", most=ZONES_MOST)
    name = name or Zone.Part(part).label
    if any(zone.name.lower() == name.lower() for zone in standing):
        raise Refusal("zone_name_taken", "zone_name")
    zone = Zone.objects.create(visit_id=like.visit_id, name=name, part=part, position=like.position)
    readings = list(like.readings.all()) if same_hair else list(like.readings.all()[:1])
    for number, reading in enumerate(reversed(readings), start=1):
        fields = {field.name: getattr(reading, field.name) for field in Reading._meta.fields}
        for own in ("id", "zone", "number", "read_by", "read_at"):
            fields.pop(own)
        fields["after_coats"] = reading.after_coats if same_hair else 0
        Reading.objects.create(zone=zone, number=number, read_by=person, **fields)
    return Carved(zone=zone, like=like, same_hair=same_hair)


def _settle(person: Person, change: ZonesSet) -> None:
    """Number the zones from root to end, and tell of the change."""
    standing = list(Zone.objects.filter(visit=change.visit_id, removed=False))
    standing.sort(key=lambda zone: (PARTS.index(zone.part), zone.position, zone.pk))
    for position, zone in enumerate(standing):
        zone.position = position
    Zone.objects.bulk_update(standing, ["position"])
    zones_set.send(sender=Zone, person=person, change=change)
