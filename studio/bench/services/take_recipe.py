"""Take a whole recipe into the bowl; the bowl before is one undo away."""

from collections.abc import Mapping
from decimal import Decimal

from studio.accounts.models import Person
from studio.bench.models import POUR_MOST_G, Bowl
from studio.bench.services.changing import changing
from studio.bench.state import refill
from studio.ui.refusal import Refusal


def take_recipe(
    person: Person, *, zone_id: int, version: int, grams: Mapping[int, Decimal], words: str = "a recipe was taken"
) -> Bowl:
    """Replace the bowl by grams by shade id, all of the bowl's line.

    Raises Refusal empty_bowl, negative_grams, too_many_grams, unknown_shade; Stale; Bowl.DoesNotExist.
    """
    if not any(g > 0 for g in grams.values()):
        raise Refusal("empty_bowl", "grams")
    for g in grams.values():
        if g < 0:
            raise Refusal("negative_grams", "grams")
        if g > POUR_MOST_G:
            raise Refusal("too_many_grams", "grams", most=POUR_MOST_G, given=g)
    with changing(person, zone_id=zone_id, version=version, words=words) as bowl:
        if set(grams) - set(bowl.line.shades.values_list("pk", flat=True)):
            raise Refusal("unknown_shade", "shade")
        refill(bowl, {shade: round(g, 2) for shade, g in grams.items()})
    return bowl
