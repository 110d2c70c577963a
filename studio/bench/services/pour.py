"""Pour one shade: to a typed weight, or by a step."""

from decimal import Decimal

from studio.accounts.models import Person
from studio.bench.models import POUR_MOST_G, Pour
from studio.bench.services.changing import changing
from studio.shelf.models import Shade
from studio.ui.refusal import Refusal


def pour(
    person: Person,
    *,
    zone_id: int,
    version: int,
    shade_id: int,
    grams: Decimal | None = None,
    by: Decimal | None = None,
) -> None:
    """Set a shade's grams, or change them by a step, which stops at nothing.

    Raises Refusal negative_grams, too_many_grams, unknown_shade; Stale; Bowl.DoesNotExist.
    """
    shade = Shade.objects.visible_to(person).filter(pk=shade_id).first()
    if shade is None:
        raise Refusal("unknown_shade", "shade")
    if grams is not None and grams < 0:
        raise Refusal("negative_grams", "grams")
    attempt = f"{by:+g} g {shade}" if by is not None else f"{grams:g} g {shade}"
    with changing(person, zone_id=zone_id, version=version, words=attempt) as bowl:
        if shade.line_id != bowl.line_id:
            raise Refusal("unknown_shade", "shade")
        poured = bowl.pours.filter(shade=shade).first()
        before = poured.grams if poured else Decimal(0)
        after = round(grams if grams is not None else max(before + (by or 0), Decimal(0)), 2)
        if after > POUR_MOST_G:
            raise Refusal("too_many_grams", "grams", most=POUR_MOST_G, given=after)
        if after > 0:
            Pour.objects.update_or_create(bowl=bowl, shade=shade, defaults={"grams": after})
        elif poured:
            poured.delete()
