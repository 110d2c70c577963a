"""Numbers, days and times as people type them and forms send them: each is read in one place."""

import datetime
from collections.abc import Mapping, Sequence
from decimal import Decimal, InvalidOperation
from typing import Final, SupportsFloat

from engine.errors import BadInput, OutOfRange
from engine.language import decimals
from engine.service.measures import read_amount
from engine.weights import SPEC, brief_of, grams_of, measure_of, number_of, weight_of
from studio.ui.refusal import Refusal

WHOLE_LONGEST: Final = 18  # digits: what a row's number can have
FAR_TOO_MUCH_G: Final = 10.0**6
NO_VERSION: Final = -1  # no row ever stands at it


def typed_number(text: str, field: str, *, example: str = "8.5") -> Decimal:
    """A typed number, with a comma or a point, less than nothing with a hyphen or a minus sign.

    Raises Refusal not_a_number for anything else, infinity included.
    """
    try:
        number = Decimal(text.strip().replace(",", ".").replace("\N{MINUS SIGN}", "-").removesuffix("g").strip())
    except InvalidOperation:
        raise Refusal("not_a_number", field, example=example) from None
    if not number.is_finite() or abs(number) > 10**9:
        raise Refusal("not_a_number", field, example=example)
    return number


def within(number: Decimal, field: str, low: float, high: float, unit: str = "") -> Decimal:
    """The number, if it lies in low..high. Raises Refusal out_of_range."""
    if not low <= number <= high:
        raise Refusal("out_of_range", field, low=low, high=high, given=number, unit=unit)
    return number


def written_grams(grams: Decimal) -> str:
    """A weight as files hold it: tenths, and hundredths only where it has them."""
    return f"{grams:.2f}" if grams != round(grams, 1) else f"{grams:.1f}"


def shown_grams(grams: SupportsFloat, *, sign: str = "") -> str:
    """A weight as a scale shows it: the number alone, in the house's unit, its decimals as the reader has them."""
    return decimals(number_of(grams, sign=sign))


def shown_weight(grams: SupportsFloat, *, sign: str = "", powder: bool = False) -> str:
    """A weight as a scale shows it, with the house's unit."""
    return f"{decimals(number_of(grams, sign=sign, powder=powder))} {measure_of(powder=powder)}"


def brief_weight(grams: SupportsFloat, *, sign: str = "", powder: bool = False) -> str:
    """A weight without needless zeros, with the house's unit."""
    return decimals(weight_of(grams, f"{sign}{SPEC}", powder=powder))


def brief_number(grams: SupportsFloat) -> str:
    """A weight as it stands in a field: the number alone, in the house's unit, without needless zeros."""
    return decimals(brief_of(grams))


def typed_weight(text: str, field: str, *, example: str = "60") -> Decimal:
    """Grams of a typed weight: in the house's unit, unless another stands behind the number; a step may be negative.

    Raises Refusal not_a_number.
    """
    plain = text.strip().replace("\N{MINUS SIGN}", "-")
    sign = -1 if plain.startswith("-") else 1
    try:
        return sign * round(Decimal(read_amount(plain.removeprefix("-")).grams), 2)
    except OutOfRange as error:  # more than any amount: whoever asked says how much is taken
        return sign * Decimal(min(grams_of(error.given), FAR_TOO_MUCH_G))
    except BadInput:
        raise Refusal("not_a_number", field, example=example) from None


def whole_number(text: str, field: str) -> int:
    """A row's number or a place from a form. Raises Refusal unknown_shade or not_a_number for anything else."""
    if not text.isascii() or not text.isdigit() or len(text) > WHOLE_LONGEST:
        raise Refusal("unknown_shade" if field in {"shade", "line"} else "not_a_number", field, example="12")
    return int(text)


def version_in(form: Mapping[str, str], *names: str) -> int:
    """The version that a form was made from, by the first of the names that it has; -1 for what is none."""
    text = next((form[name] for name in names if name in form), "")
    try:
        return whole_number(text, "version")
    except Refusal:
        return NO_VERSION


def weights_in(ids: Sequence[str], weights: Sequence[str]) -> dict[int, Decimal]:
    """Grams by row id from a form's pairs. Raises Refusal."""
    pairs = zip(ids, weights, strict=False)
    return {whole_number(shade_id, "shade"): typed_number(weight, "grams") for shade_id, weight in pairs}


def typed_day(text: str, field: str) -> datetime.date | None:
    """A day from a date field, None for an empty one. Raises Refusal not_a_day."""
    try:
        return datetime.date.fromisoformat(text.strip()) if text.strip() else None
    except ValueError:
        raise Refusal("not_a_day", field) from None


def typed_time(text: str, field: str) -> datetime.time | None:
    """A time of day from a time field, None for an empty one. Raises Refusal not_a_time."""
    try:
        return datetime.time.fromisoformat(text.strip()).replace(tzinfo=None) if text.strip() else None
    except ValueError:
        raise Refusal("not_a_time", field) from None
