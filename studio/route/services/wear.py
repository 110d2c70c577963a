"""Take a wish to the Bench as it is to be worn: its colour, what the root gets, and where it is put."""

from decimal import Decimal
from typing import Final

from django.db import transaction

from engine.language import say
from engine.service.root import RootLook
from engine.service.wear import WORN, Wear
from studio.accounts.models import Person
from studio.head.models import Worktop
from studio.head.services.aim import aim, showable
from studio.head.services.root import set_root
from studio.head.services.zones import add_to_head, split_head
from studio.visits.models import Zone
from studio.visits.services.place_zone import leave_alone

VEIL_FROM: Final = Zone.Part.CROWN  # whose hair falls over all the rest


@transaction.atomic
def wear_as(
    person: Person,
    *,
    zone_id: int,
    coat_id: int | None = None,
    version: int,
    wear: Wear,
    lightness: Decimal,
    chroma: Decimal,
    hue: Decimal,
) -> Zone:
    """Aim at a colour as a step of daring wears it. Returns the zone that gets it.

    A head of one zone is parted for its root and its place. Of one that is parted already, the root beside what is in
    hand gets its look, and mids above ends in hand are left alone or not; the rest stays as it is.
    Raises Refusal as aiming, parting and roots do; Stale; Bowl.DoesNotExist.
    """
    bowl = aim(
        person,
        zone_id=zone_id,
        coat_id=coat_id,
        version=version,
        lightness=lightness,
        chroma=chroma,
        hue=hue,
        nearest=True,
    )
    worn, worktop = WORN[wear], bowl.worktop
    zones = _standing(worktop)
    if [zone.part for zone in zones] == [Zone.Part.WHOLE]:
        if worn.beneath:
            veil = add_to_head(
                person, zone_id=zone_id, version=_now(worktop), name=say("veil of own hair"), part=VEIL_FROM
            )
            leave_alone(person, zone_id=veil.pk, pattern=Zone.Pattern.VEIL)
            return Zone.objects.get(pk=zone_id)
        if worn.root is RootLook.SOLID:
            return zones[0]
        split_head(person, zone_id=zone_id, version=_now(worktop), into="three" if worn.ends_only else "two")
        zones = _standing(worktop)
    worn_on = next((zone for zone in zones if zone.pk == zone_id), zones[-1])
    lab, _ = showable(lightness, chroma, hue, nearest=True)
    for zone in zones:
        if zone.part == Zone.Part.ROOTS and zone.pk != worn_on.pk:
            set_root(
                person,
                zone_id=zone.pk,
                coat_id=_mixed_last(zone),
                version=_now(worktop),
                look=worn.root.value,
                lengths_id=worn_on.pk,
                lengths_lab=lab,
            )
        elif zone.part == Zone.Part.MIDS and worn_on.part == Zone.Part.ENDS:
            leave_alone(person, zone_id=zone.pk, left=worn.ends_only)
    return worn_on


def _mixed_last(zone: Zone) -> int | None:
    """The last coat of a zone that comes from a bowl."""
    return zone.coats.filter(removed=False, bowl__isnull=False).order_by("order").values_list("pk", flat=True).last()


def _standing(worktop: Worktop) -> list[Zone]:
    return list(Zone.objects.filter(visit=worktop.visit_id, removed=False))


def _now(worktop: Worktop) -> int:
    """The version that the worktop has come to."""
    return int(Worktop.objects.values_list("version", flat=True).get(pk=worktop.pk))
