"""Set what was read of a zone's hair."""

from collections.abc import Mapping
from decimal import Decimal

from django.db import transaction

from engine.hair.canvas import RANGES
from studio.accounts.models import Person
from studio.ui.numbers import within
from studio.ui.refusal import Refusal
from studio.visits.models import Reading, Zone


@transaction.atomic
def read_hair(person: Person, *, zone_id: int, after: int, hair: Mapping[str, Decimal]) -> Reading:
    """Add a reading (level, warmth, lean, porosity, grey) to a zone.

    after: the number of the reading that the person saw, 0 for none. Raises Refusal out_of_range with the field,
    Refusal stale_reading if there is a newer one, Zone.DoesNotExist for another studio's zone.
    """
    zone = Zone.objects.visible_to(person).select_for_update(of=("self",)).get(pk=zone_id)
    for name, number in hair.items():
        within(number, name, *RANGES[name])
    newest = zone.readings.first()
    if (newest.number if newest else 0) != after:
        raise Refusal("stale_reading", attempt=", ".join(f"{name} {number:g}" for name, number in hair.items()))
    rounded = {name: round(number, 2) for name, number in hair.items()}
    if newest and all(getattr(newest, name) == number for name, number in rounded.items()):
        return newest
    return Reading.objects.create(zone=zone, number=after + 1, read_by=person, **rounded)


@transaction.atomic
def take_back_reading(person: Person, *, zone_id: int) -> None:
    """Go back to the reading before. Raises Refusal nothing_to_undo, Zone.DoesNotExist."""
    zone = Zone.objects.visible_to(person).select_for_update(of=("self",)).get(pk=zone_id)
    last_two = list(zone.readings.all()[:2])
    if len(last_two) < 2:
        raise Refusal("nothing_to_undo")
    last_two[0].delete()
