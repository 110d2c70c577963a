"""Say what a coat is that nothing is mixed for: remover, equaliser, seal."""

from decimal import Decimal
from typing import Final

from django.db import transaction

from engine.language import say
from studio.accounts.models import Person
from studio.head.models import PRODUCT_LONGEST
from studio.head.services.changing import locked_coat, remember
from studio.head.services.coats import MINUTES_LIMITS, in_hand_after
from studio.ui.numbers import within
from studio.ui.refusal import Refusal
from studio.ui.texts import one_line
from studio.visits.selectors import Hand

GRAMS_LIMITS: Final = (0.1, 1000)
PEROXIDE_LIMITS_VOL: Final = (1, 40)


@transaction.atomic
def name_plain(
    person: Person,
    *,
    zone_id: int,
    coat_id: int | None = None,
    version: int,
    product: str,
    plain_grams: Decimal | None,
    vol: Decimal | None,
    minutes: Decimal | None,
) -> Hand:
    """Its product, grams, peroxide in vol, and minutes on the hair; None for what is not said, or as usual.

    Raises Refusal out_of_range with the field, coat_begun, not_plain; Stale; Bowl.DoesNotExist.
    """
    for number, name, limits, unit in (
        (plain_grams, "plain_grams", GRAMS_LIMITS, " g"),
        (vol, "vol", PEROXIDE_LIMITS_VOL, " vol"),
        (minutes, "minutes", MINUTES_LIMITS, " min"),
    ):
        if number is not None:
            within(number, name, limits[0], limits[1], unit)
    held = locked_coat(person, zone_id=zone_id, coat_id=coat_id, version=version, attempt=say("what a coat is"))
    coat = held.coat
    if coat.begun:
        raise Refusal("coat_begun")
    if not coat.is_plain:
        raise Refusal("not_plain", "product")
    coat.product = one_line(product, PRODUCT_LONGEST)
    coat.grams, coat.own_vol, coat.minutes = (
        None if number is None else round(number, 1) for number in (plain_grams, vol, minutes)
    )
    coat.save(update_fields=["product", "grams", "own_vol", "minutes"])
    remember(person, held.worktop, say("what goes on to {purpose}", purpose=coat.get_purpose_display()))
    return Hand(zone_id=zone_id, coat_id=in_hand_after(held))
