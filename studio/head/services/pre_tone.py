"""Take a recipe with the toner that goes on first: each into the bowl of its own coat."""

from collections.abc import Mapping
from decimal import Decimal

from django.db import transaction

from engine.language import say
from studio.accounts.models import Person
from studio.head.models import Coat
from studio.head.services.coats import add_coat
from studio.head.services.take_recipe import take_recipe
from studio.visits.selectors import Hand


@transaction.atomic
def take_with_pre_tone(
    person: Person,
    *,
    zone_id: int,
    coat_id: int | None = None,
    version: int,
    grams: Mapping[int, Decimal],
    toner: Mapping[int, Decimal],
) -> Hand:
    """Replace the bowl in hand by grams by shade id, and put a toner into the bowl of a pre-tone that goes on before.

    A pre-tone that is there and not on yet takes it; else one is added. What stays in hand. Raises what `take_recipe`
    and `add_coat` raise.
    """
    bowl = take_recipe(person, zone_id=zone_id, coat_id=coat_id, version=version, grams=grams)
    own = Coat.objects.get(zone=zone_id, bowl=bowl, removed=False) if coat_id is None else Coat.objects.get(pk=coat_id)
    before = Coat.objects.filter(zone=zone_id, removed=False, begun=False, purpose=Coat.Purpose.PRE_TONE).first()
    first, at = (before.pk, bowl.worktop.version) if before else (None, bowl.worktop.version)
    if first is None:
        hand = {"zone_id": zone_id, "coat_id": own.pk, "version": at}
        first, at = add_coat(person, **hand, purpose=Coat.Purpose.PRE_TONE).coat_id, at + 1
    words = say("a toner before the colour")
    line = bowl.line_id
    take_recipe(person, zone_id=zone_id, coat_id=first, version=at, grams=toner, line_id=line, words=words)
    return Hand(zone_id=zone_id, coat_id=own.pk)
