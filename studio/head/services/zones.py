"""The zones of a visit: add, split, name, remove, and which bowl serves which."""

from decimal import Decimal

from django.db import transaction
from django.db.models import QuerySet

from engine.arrays import FloatArray
from engine.language import say
from engine.service.parting import SETS, parted_as
from studio.accounts.models import Person
from studio.head.models import BLEND_MOST_PERCENT, Bowl, Coat, Worktop
from studio.head.services.changing import changing, locked_bowl, locked_coat, remember
from studio.head.state import TARGET_NAMES, bowl_state, restore_bowl, set_target
from studio.ui.refusal import Refusal
from studio.ui.texts import one_line
from studio.visits.models import Zone
from studio.visits.services.zones import NAME_LONGEST, add_zone, set_zones


@transaction.atomic
def add_to_head(
    person: Person, *, zone_id: int, coat_id: int | None = None, version: int, name: str, part: str
) -> Zone:
    """A new zone with the hair and the bowl of the zone in hand; both can then be changed for it alone.

    Raises Refusal as `studio.visits.services.zones.add_zone` does; Stale; Bowl.DoesNotExist.
    """
    attempt = say("add {part}", part=one_line(name, NAME_LONGEST) or part)
    locked_bowl(person, zone_id=zone_id, coat_id=coat_id, version=version, attempt=attempt, whole=True)
    return add_zone(person, like_zone_id=zone_id, part=part, name=name)


@transaction.atomic
def split_head(person: Person, *, zone_id: int, coat_id: int | None = None, version: int, into: str) -> Zone:
    """Turn the one zone of a whole head into roots and lengths, or roots, mids and ends; hair and bowl stay.

    Raises Refusal zone_part_unknown, zone_name_taken, coat_on; Stale; Bowl.DoesNotExist. Returns the first of them.
    """
    if into not in SETS:
        raise Refusal("zone_part_unknown", "part")
    bowl = locked_bowl(
        person, zone_id=zone_id, coat_id=coat_id, version=version, attempt=say("split the head"), whole=True
    )
    standing = Zone.objects.filter(visit=bowl.worktop.visit_id, removed=False).values_list("part", flat=True)
    return set_zones(person, zone_id=zone_id, parts=parted_as(into, list(standing)))


@transaction.atomic
def remove_zone(person: Person, *, zone_id: int, coat_id: int | None = None, version: int) -> None:
    """Take a zone off the head; undo brings it back with its bowl. Raises Refusal last_zone; Stale."""
    bowl = locked_bowl(
        person, zone_id=zone_id, coat_id=coat_id, version=version, attempt=say("remove a zone"), whole=True
    )
    zones = Zone.objects.filter(visit_id=bowl.worktop.visit_id, removed=False)
    if zones.count() < 2:
        raise Refusal("last_zone")
    zone = zones.get(pk=zone_id)
    zone.removed = True
    zone.save(update_fields=["removed"])
    remember(person, bowl.worktop, say("{name} removed", name=zone.name))


@transaction.atomic
def rename_zone(person: Person, *, zone_id: int, coat_id: int | None = None, version: int, name: str) -> None:
    """Give a zone another name. Raises Refusal zone_unnamed, zone_name_taken; Stale."""
    name = one_line(name, NAME_LONGEST)
    bowl = locked_bowl(
        person,
        zone_id=zone_id,
        coat_id=coat_id,
        version=version,
        attempt=say("name a zone {name}", name=name),
        whole=True,
    )
    _check_name(bowl.worktop, name, but=zone_id)
    Zone.objects.filter(pk=zone_id).update(name=name)
    bowl.worktop.version += 1  # a name is not a step of the mixing, and undo leaves it
    bowl.worktop.save(update_fields=["version"])


@transaction.atomic
def own_bowl(
    person: Person, *, zone_id: int, coat_id: int | None = None, version: int, target_lab: FloatArray | None = None
) -> Bowl:
    """Give a zone a bowl of its own with a copy of what it had, and, if wanted, another aim L*a*b* (3,).

    Raises Stale; Bowl.DoesNotExist.
    """
    coat = locked_coat(person, zone_id=zone_id, coat_id=coat_id, version=version, attempt=say("a bowl of its own")).coat
    bowl, zone = coat.bowl, coat.zone
    if bowl is None:
        raise Refusal("coat_plain")
    own = _split_off(bowl, coat) if _served(bowl).count() > 1 else bowl
    if target_lab is not None:
        set_target(own, [Decimal(str(float(part))) for part in target_lab])
        Coat.objects.filter(pk=coat.pk).update(**dict.fromkeys(TARGET_NAMES))
    own.save()
    remember(person, bowl.worktop, say("a bowl of its own for {name}", name=zone.name))
    return own


@transaction.atomic
def bowl_for_each(person: Person, *, zone_id: int, coat_id: int | None = None, version: int) -> Bowl:
    """Give every coat that the bowl in hand serves a bowl of its own with a copy of what is in it: one step to undo.

    Raises Refusal coat_plain; Stale; Bowl.DoesNotExist.
    """
    coat = locked_coat(person, zone_id=zone_id, coat_id=coat_id, version=version, attempt=say("a bowl for each")).coat
    if coat.bowl is None:
        raise Refusal("coat_plain")
    for other in _served(coat.bowl).exclude(pk=coat.pk):
        _split_off(coat.bowl, other)
    remember(person, coat.bowl.worktop, say("a bowl for each zone"))
    return coat.bowl


def _served(bowl: Bowl) -> QuerySet[Coat]:
    """The coats that a bowl serves."""
    return bowl.coats.filter(removed=False, zone__removed=False)


def _split_off(bowl: Bowl, coat: Coat) -> Bowl:
    """A bowl of its own for a coat, with a copy of what it had."""
    own = Bowl.objects.create(worktop=bowl.worktop, line=bowl.line)
    restore_bowl(own, bowl_state(bowl, list(bowl.pours.all())))
    Coat.objects.filter(pk=coat.pk).update(bowl=own)
    return own


@transaction.atomic
def share_bowl(person: Person, *, zone_id: int, coat_id: int | None = None, version: int, with_zone_id: int) -> Bowl:
    """Serve a zone from the bowl of another zone of the visit; its own is one undo away.

    Raises Refusal zone_gone; Stale; Bowl.DoesNotExist.
    """
    coat = locked_coat(person, zone_id=zone_id, coat_id=coat_id, version=version, attempt=say("share a bowl")).coat
    served = _alike(coat, with_zone_id)
    if served is None or coat.bowl is None or served.bowl is None:
        raise Refusal("zone_gone")
    if not coat.may_come_from(served.bowl.line):
        raise Refusal("bowl_of_another_kind", other=served.get_purpose_display(), own=coat.get_purpose_display())
    Coat.objects.filter(pk=coat.pk).update(bowl=served.bowl, **dict.fromkeys(TARGET_NAMES))
    remember(person, coat.bowl.worktop, say("one bowl with {name}", name=served.zone.name))
    return served.bowl


def _alike(coat: Coat, zone_id: int) -> Coat | None:
    """The coat of another zone of the visit that is for the same, else its last that comes from a bowl."""
    others = Coat.objects.filter(
        zone_id=zone_id, zone__removed=False, zone__visit=coat.zone.visit_id, removed=False, bowl__isnull=False
    )
    found = list(others.select_related("bowl__line", "zone"))
    return next((each for each in found if each.purpose == coat.purpose), found[-1] if found else None)


def copy_bowl(person: Person, *, zone_id: int, coat_id: int | None = None, version: int, to_zone_id: int) -> Bowl:
    """Copy what is in a zone's bowl, and its aim, into the bowl of another zone.

    Raises Refusal zone_gone; Stale; Bowl.DoesNotExist.
    """
    words = say("the bowl copied to another zone")
    with transaction.atomic():
        coat = locked_coat(person, zone_id=zone_id, coat_id=coat_id, version=version, attempt=words).coat
        other, bowl = _alike(coat, to_zone_id), coat.bowl
        if other is None or other.bowl is None or bowl is None:
            raise Refusal("zone_gone")
        if not other.may_come_from(bowl.line):
            raise Refusal("bowl_of_another_kind", other=other.get_purpose_display(), own=coat.get_purpose_display())
        if other.bowl_id != bowl.pk:
            restore_bowl(other.bowl, bowl_state(bowl, list(bowl.pours.all())))
            other.bowl.save()
        remember(person, bowl.worktop, words)
    return bowl


def set_blend(person: Person, *, zone_id: int, coat_id: int | None = None, version: int, percent: Decimal) -> Bowl:
    """How wide the seam below a zone is blended, in percent of the length. Raises Refusal out_of_range; Stale."""
    if not 0 <= percent <= BLEND_MOST_PERCENT:
        raise Refusal("out_of_range", "blend", low=0, high=BLEND_MOST_PERCENT, given=percent, unit=" %")
    with changing(
        person,
        zone_id=zone_id,
        coat_id=coat_id,
        version=version,
        words=say("seam blended over {percent:.0f} %", percent=percent),
    ) as bowl:
        Coat.objects.filter(zone_id=zone_id, removed=False).update(blend_percent=int(percent))
    return bowl


def _check_name(worktop: Worktop, name: str, but: int = 0) -> None:
    if not name:
        raise Refusal("zone_unnamed", "name")
    if Zone.objects.filter(visit_id=worktop.visit_id, removed=False, name__iexact=name).exclude(pk=but).exists():
        raise Refusal("zone_name_taken", "name")
