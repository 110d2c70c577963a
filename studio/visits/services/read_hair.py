"""Set what was read of a zone's hair."""

from collections.abc import Mapping
from decimal import Decimal

from django.db import transaction

from engine.dye.shelf import demo_shelf
from engine.hair.canvas import RANGES
from engine.hair.residue import Family
from studio.accounts.models import Person
from studio.ui.numbers import within
from studio.ui.refusal import Refusal
from studio.visits.models import OLD_MOST, Reading, Zone

LIMITS = {**RANGES, "old_k_s": (0, OLD_MOST)}


@transaction.atomic
def read_hair(
    person: Person,
    *,
    zone_id: int,
    after: int,
    hair: Mapping[str, Decimal],
    family: str = Family.LIGHTENED.value,
    old_shade: str = "",
    source: str = Reading.Source.EYE,
    after_lift: bool = False,
) -> Reading:
    """Add a reading (level, warmth, lean, porosity, grey, and old_k_s of an old colour) to a zone.

    after: the number of the reading that the person saw, 0 for none. after_lift: it takes the place of a lift's
    forecast. Raises Refusal out_of_range with the field,
    Refusal stale_reading if there is a newer one, old_unknown, Zone.DoesNotExist for another studio's zone.
    """
    zone = Zone.objects.visible_to(person).select_for_update(of=("self",)).get(pk=zone_id)
    for name, number in hair.items():
        within(number, name, *LIMITS[name])
    if old_shade not in {"", *demo_shelf()} or family not in set(Family):
        raise Refusal("old_unknown", "old_shade")
    newest = zone.readings.first()
    if (newest.number if newest else 0) != after:
        raise Refusal("stale_reading", attempt=", ".join(f"{name} {number:g}" for name, number in hair.items()))
    found = {
        **{name: round(number, 2) for name, number in hair.items()},
        "family": family,
        "old_shade": old_shade,
        "source": source if source in Reading.Source.values else Reading.Source.EYE,
        "after_lift": after_lift or bool(newest and newest.after_lift),
    }
    if newest and all(getattr(newest, name) == given for name, given in found.items()):
        return newest
    return Reading.objects.create(zone=zone, number=after + 1, read_by=person, **found)


@transaction.atomic
def take_back_reading(person: Person, *, zone_id: int) -> None:
    """Go back to the reading before. Raises Refusal nothing_to_undo, Zone.DoesNotExist."""
    zone = Zone.objects.visible_to(person).select_for_update(of=("self",)).get(pk=zone_id)
    last_two = list(zone.readings.all()[:2])
    if len(last_two) < 2:
        raise Refusal("nothing_to_undo")
    last_two[0].delete()
