"""Note what has become of an earlier visit's colour."""

from decimal import Decimal

from django.db import transaction

from engine.arrays import FloatArray
from engine.bowl.fade import WASHES_MOST
from studio.accounts.models import Person
from studio.cards.models import LaterLook
from studio.taught.services.ask import ask_to_learn
from studio.ui.numbers import within
from studio.visits.models import Visit, Zone


@transaction.atomic
def note_later(
    person: Person, *, zone_id: int, seen_in: Visit, lab: FloatArray, washes: Decimal, hot_water: bool, source: str
) -> LaterLook:
    """Note the look L*a*b* (3,) of a zone of an earlier visit after so many washes; seen again, it takes the place of
    what was noted on that visit.

    Raises Refusal out_of_range; Zone.DoesNotExist where it is no earlier zone of the client's.
    """
    within(washes, "washes", 0, WASHES_MOST)
    zones = Zone.objects.visible_to(person).filter(visit__client=seen_in.client_id, visit__day__lt=seen_in.day)
    zone = zones.get(pk=zone_id)
    lightness, a, b = (round(Decimal(float(part)), 3) for part in lab)
    noted = {"seen_l": lightness, "seen_a": a, "seen_b": b, "washes": washes, "hot_water": hot_water}
    noted |= {"source": source, "judged_by": person}
    look, _ = LaterLook.objects.update_or_create(zone=zone, seen_in=seen_in, defaults=noted)
    ask_to_learn(person.studio_id)
    return look
