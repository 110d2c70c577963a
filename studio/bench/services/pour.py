"""Pour one shade: to a typed weight, or by a step."""

from decimal import Decimal

from studio.accounts.models import Person
from studio.bench.models import POUR_MOST_G, Bowl, Pour
from studio.bench.services.changing import changing
from studio.shelf.selectors import stocked_line
from studio.ui.refusal import Refusal


def pour(
    person: Person,
    *,
    zone_id: int,
    version: int,
    shade_id: int,
    grams: Decimal | None = None,
    by: Decimal | None = None,
) -> Bowl:
    """Set a shade's grams, or change them by a step, which stops at nothing.

    Raises Refusal negative_grams, too_many_grams, unknown_shade; Stale; Bowl.DoesNotExist.
    """
    if grams is not None and grams < 0:
        raise Refusal("negative_grams", "grams")
    asked = f"{by:+g} g" if by is not None else f"{grams:g} g"

    def words(bowl: Bowl) -> str:
        return f"{asked} {stocked_line(bowl.line).shade(shade_id) or 'of an unknown shade'}"

    with changing(person, zone_id=zone_id, version=version, words=words) as bowl:
        shade = stocked_line(bowl.line).shade(shade_id)
        if shade is None:
            raise Refusal("unknown_shade", "shade")
        poured = bowl.pours.filter(shade=shade).first()
        before = poured.grams if poured else Decimal(0)
        after = round(grams if grams is not None else max(before + (by or 0), Decimal(0)), 2)
        if after > POUR_MOST_G:
            raise Refusal("too_many_grams", "grams", most=POUR_MOST_G, given=after)
        if poured and after > 0:
            poured.grams = after
            poured.save(update_fields=["grams"])
        elif poured:
            poured.delete()
        elif after > 0:
            Pour.objects.create(bowl=bowl, shade=shade, grams=after)
    return bowl
