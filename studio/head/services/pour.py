"""Pour one shade: to a typed amount, or by a step."""

from decimal import Decimal
from typing import NamedTuple

from engine.errors import BadInput, OutOfRange
from engine.language import say
from engine.service.measures import PLAIN_WORDS, Amount, read_amount
from engine.weights import stepped_g, typed_measure
from studio.accounts.models import Person
from studio.head.models import POUR_MOST_G, Bowl, Portion, WorktopRows
from studio.head.services.changing import changing_pours
from studio.head.services.pot import check_pot
from studio.shelf.selectors import stocked_line
from studio.ui.numbers import brief_weight
from studio.ui.refusal import Refusal


class Poured(NamedTuple):
    """A bowl that was poured into, and all rows of its worktop as that left them, so that nobody reads them twice."""

    bowl: Bowl
    rows: WorktopRows


def pour(
    person: Person,
    *,
    zone_id: int,
    coat_id: int | None = None,
    version: int,
    shade_id: int,
    typed: str | None = None,
    by: Decimal | None = None,
) -> Poured:
    """Set a shade to a typed amount (grams, drops, ounces ...), or change its grams by a step, which stops at nothing.

    What is mixed in already can't come out. Raises Refusal not_a_number, unknown_unit, negative_grams, too_many_grams,
    already_mixed, pot_full, unknown_shade; Stale; Bowl.DoesNotExist.
    """
    if typed is not None:
        typed_amount(typed, tube_g=60)  # refused before anything is locked
    asked = brief_weight(by, sign="+") if by is not None else (typed or "").strip()

    def words(bowl: Bowl) -> str:
        unit = "" if by is not None or asked[-1:].isalpha() else f" {typed_measure()}"
        what = stocked_line(bowl.line).shade(shade_id) or say("of an unknown shade")
        return f"{asked}{unit} {what}"

    with changing_pours(person, zone_id=zone_id, coat_id=coat_id, version=version, words=words) as held:
        bowl, pours = held.bowl, held.pours
        shade = stocked_line(bowl.line).shade(shade_id)
        if shade is None:
            raise Refusal("unknown_shade", "shade")
        poured = pours.setdefault(shade.pk, Portion(bowl=bowl, shade=shade, grams=Decimal(0)))
        if by is not None:
            poured.grams = round(Decimal(stepped_g(float(poured.grams), float(by))), 2)
        else:
            amount = typed_amount(typed or "", tube_g=float(bowl.line.tube_g))
            poured.grams = round(Decimal(amount.grams), 2)
            poured.doubt_g = round(Decimal(amount.doubt_g), 2)
        check_pot(sum((each.grams for each in pours.values()), Decimal(0)))
        _keep(poured)
    return Poured(bowl, held.rows)


def _keep(poured: Portion) -> None:
    """Save a pour at its new grams, or take it out."""
    if poured.grams > POUR_MOST_G:
        raise Refusal("too_many_grams", "grams", most=POUR_MOST_G, given=poured.grams)
    if poured.grams < poured.mixed_g:
        raise Refusal("already_mixed", "grams", mixed=poured.mixed_g)
    if poured.grams > 0:
        poured.save()
    elif poured.pk:
        poured.delete()


def typed_amount(typed: str, *, tube_g: float) -> Amount:
    """An amount as it was typed, in grams, drops, squeezes or tubes. Raises Refusal in the form's words."""
    try:
        return read_amount(typed, tube_g=tube_g)
    except OutOfRange as error:
        if error.given < 0:
            raise Refusal("negative_grams", "grams") from None
        raise Refusal("too_many_grams", "grams", most=POUR_MOST_G, given=error.given) from None
    except BadInput:
        known = typed.strip()[:1].isdigit() and typed.strip()[-1:].isalpha()
        plain = say(PLAIN_WORDS[typed_measure()])
        raise Refusal("unknown_unit" if known else "not_a_number", "grams", example="2.5", unit=plain) from None
