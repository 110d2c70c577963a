"""Give the root of a bright look what the house, or who works at the chair, gives it."""

from django.db import transaction

from engine.arrays import FloatArray
from engine.service.root import RootLook, shadow_lab
from studio.accounts.models import Person
from studio.head.services.zones import own_bowl, share_bowl
from studio.ui.refusal import Refusal
from studio.visits.services.place_zone import place_root


@transaction.atomic
def set_root(
    person: Person,
    *,
    zone_id: int,
    coat_id: int | None = None,
    version: int,
    look: str,
    lengths_id: int,
    lengths_lab: FloatArray | None,
) -> None:
    """A root as a shadow of the lengths beneath it with a bowl of its own, coloured as they are, or left natural.

    lengths_lab: their aim L*a*b* (3,), without which there is nothing to be a shadow of.
    Raises Refusal root_look_unknown, root_no_aim, and what own and shared bowls raise; Stale; Bowl.DoesNotExist.
    """
    if look not in {each.value for each in RootLook}:
        raise Refusal("root_look_unknown", "root")
    chosen = RootLook(look)
    if chosen.levels_deeper:
        if lengths_lab is None:
            raise Refusal("root_no_aim", "root")
        target_lab = shadow_lab(lengths_lab, chosen.levels_deeper)
        own_bowl(person, zone_id=zone_id, coat_id=coat_id, version=version, target_lab=target_lab)
    elif chosen is RootLook.SOLID:
        share_bowl(person, zone_id=zone_id, coat_id=coat_id, version=version, with_zone_id=lengths_id)
    place_root(person, zone_id=zone_id, left_alone=chosen is RootLook.NATURAL, to_cm=chosen.to_cm)
