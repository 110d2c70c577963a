"""The zones of a visit: add, split, name, remove, and which bowl serves which."""

from decimal import Decimal

from django.db import transaction
from django.db.models import Max

from engine.arrays import FloatArray
from studio.accounts.models import Person
from studio.head.models import BLEND_MOST_PERCENT, Bowl, Serving, Worktop
from studio.head.services.changing import changing, locked_bowl, remember
from studio.head.state import bowl_state, restore_bowl, set_target
from studio.ui.refusal import Refusal
from studio.ui.texts import one_line
from studio.visits.models import ZONES_MOST, Reading, Zone

NAME_LONGEST = 40
SPLITS = {
    "two": (("roots", Zone.Part.ROOTS), ("lengths", Zone.Part.ENDS)),
    "three": (("roots", Zone.Part.ROOTS), ("mids", Zone.Part.MIDS), ("ends", Zone.Part.ENDS)),
}


@transaction.atomic
def add_zone(person: Person, *, zone_id: int, version: int, name: str, part: str) -> Zone:
    """A new zone with the hair and the bowl of the zone in hand; both can then be changed for it alone.

    Raises Refusal zone_unnamed, zone_name_taken, zone_part_unknown, too_many_zones; Stale; Bowl.DoesNotExist.
    """
    name = one_line(name, NAME_LONGEST)
    if part not in Zone.Part.values:
        raise Refusal("zone_part_unknown", "part")
    name = name or Zone.Part(part).label
    bowl = locked_bowl(person, zone_id=zone_id, version=version, attempt=f"add {name}")
    made = _copied(bowl, zone_id, name, part)
    remember(person, bowl.worktop, f"{name} added")
    return made


@transaction.atomic
def split_head(person: Person, *, zone_id: int, version: int, into: str) -> Zone:
    """Turn the one zone of a whole head into roots and lengths, or roots, mids and ends; hair and bowl stay.

    Raises Refusal zone_part_unknown, zone_name_taken; Stale; Bowl.DoesNotExist. Returns the first of the new zones.
    """
    if into not in SPLITS:
        raise Refusal("zone_part_unknown", "part")
    bowl = locked_bowl(person, zone_id=zone_id, version=version, attempt="split the head")
    whole = Zone.objects.get(pk=zone_id)
    made = [_copied(bowl, zone_id, name, part) for name, part in SPLITS[into]]
    whole.removed = True
    whole.save(update_fields=["removed"])
    remember(person, bowl.worktop, "the head split into " + ", ".join(zone.name for zone in made))
    return made[0]


@transaction.atomic
def remove_zone(person: Person, *, zone_id: int, version: int) -> None:
    """Take a zone off the head; undo brings it back with its bowl. Raises Refusal last_zone; Stale."""
    bowl = locked_bowl(person, zone_id=zone_id, version=version, attempt="remove a zone")
    zones = Zone.objects.filter(visit_id=bowl.worktop.visit_id, removed=False)
    if zones.count() < 2:
        raise Refusal("last_zone")
    zone = zones.get(pk=zone_id)
    zone.removed = True
    zone.save(update_fields=["removed"])
    remember(person, bowl.worktop, f"{zone.name} removed")


@transaction.atomic
def rename_zone(person: Person, *, zone_id: int, version: int, name: str) -> None:
    """Give a zone another name. Raises Refusal zone_unnamed, zone_name_taken; Stale."""
    name = one_line(name, NAME_LONGEST)
    bowl = locked_bowl(person, zone_id=zone_id, version=version, attempt=f"name a zone {name}")
    _check_name(bowl.worktop, name, but=zone_id)
    Zone.objects.filter(pk=zone_id).update(name=name)
    bowl.worktop.version += 1  # a name is not a step of the mixing, and undo leaves it
    bowl.worktop.save(update_fields=["version"])


@transaction.atomic
def own_bowl(person: Person, *, zone_id: int, version: int, target_lab: FloatArray | None = None) -> Bowl:
    """Give a zone a bowl of its own with a copy of what it had, and, if wanted, another aim L*a*b* (3,).

    Raises Stale; Bowl.DoesNotExist.
    """
    bowl = locked_bowl(person, zone_id=zone_id, version=version, attempt="a bowl of its own")
    zone = Zone.objects.get(pk=zone_id)
    if bowl.servings.filter(zone__removed=False).count() > 1:
        own = Bowl.objects.create(worktop=bowl.worktop, line=bowl.line)
        restore_bowl(own, bowl_state(bowl, list(bowl.pours.all())))
        Serving.objects.filter(zone_id=zone_id).update(bowl=own)
    else:
        own = bowl
    if target_lab is not None:
        set_target(own, [Decimal(str(float(part))) for part in target_lab])
    own.save()
    remember(person, bowl.worktop, f"a bowl of its own for {zone.name}")
    return own


@transaction.atomic
def share_bowl(person: Person, *, zone_id: int, version: int, with_zone_id: int) -> Bowl:
    """Serve a zone from the bowl of another zone of the visit; its own is one undo away.

    Raises Refusal zone_gone; Stale; Bowl.DoesNotExist.
    """
    bowl = locked_bowl(person, zone_id=zone_id, version=version, attempt="share a bowl")
    other = Serving.objects.filter(
        zone_id=with_zone_id, zone__removed=False, bowl__worktop=bowl.worktop
    ).select_related("bowl__line", "zone")
    served = other.first()
    if served is None:
        raise Refusal("zone_gone")
    Serving.objects.filter(zone_id=zone_id).update(bowl=served.bowl)
    remember(person, bowl.worktop, f"one bowl with {served.zone.name}")
    return served.bowl


def copy_bowl(person: Person, *, zone_id: int, version: int, to_zone_id: int) -> Bowl:
    """Copy what is in a zone's bowl, and its aim, into the bowl of another zone.

    Raises Refusal zone_gone; Stale; Bowl.DoesNotExist.
    """
    with changing(person, zone_id=zone_id, version=version, words="the bowl copied to another zone") as bowl:
        serving = Serving.objects.filter(zone_id=to_zone_id, zone__removed=False, bowl__worktop=bowl.worktop).first()
        if serving is None:
            raise Refusal("zone_gone")
        if serving.bowl_id != bowl.pk:
            restore_bowl(serving.bowl, bowl_state(bowl, list(bowl.pours.all())))
            serving.bowl.save()
    return bowl


def set_blend(person: Person, *, zone_id: int, version: int, percent: Decimal) -> Bowl:
    """How wide the seam below a zone is blended, in percent of the length. Raises Refusal out_of_range; Stale."""
    if not 0 <= percent <= BLEND_MOST_PERCENT:
        raise Refusal("out_of_range", "blend", low=0, high=BLEND_MOST_PERCENT, given=percent, unit=" %")
    with changing(person, zone_id=zone_id, version=version, words=f"seam blended over {percent:.0f} %") as bowl:
        Serving.objects.filter(zone_id=zone_id).update(blend_percent=int(percent))
    return bowl


def _copied(bowl: Bowl, zone_id: int, name: str, part: str) -> Zone:
    """A further zone with the newest reading of another, served from the same bowl."""
    _check_name(bowl.worktop, name)
    zones = Zone.objects.filter(visit_id=bowl.worktop.visit_id)
    if zones.filter(removed=False).count() >= ZONES_MOST:
        raise Refusal("too_many_zones", most=ZONES_MOST)
    last = zones.aggregate(last=Max("position"))["last"] or 0
    made = Zone.objects.create(visit_id=bowl.worktop.visit_id, name=name, part=part, position=last + 1)
    reading = Reading.objects.filter(zone=zone_id).order_by("-number").first()
    if reading:
        reading.pk, reading.zone, reading.number = None, made, 1
        reading._state.adding = True
        reading.save()
    Serving.objects.create(zone=made, bowl=bowl)
    return made


def _check_name(worktop: Worktop, name: str, but: int = 0) -> None:
    if not name:
        raise Refusal("zone_unnamed", "name")
    if Zone.objects.filter(visit_id=worktop.visit_id, removed=False, name__iexact=name).exclude(pk=but).exists():
        raise Refusal("zone_name_taken", "name")
