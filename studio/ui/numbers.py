"""Numbers, days and times as people type them and forms send them: each is read in one place."""

import datetime
from collections.abc import Mapping, Sequence
from decimal import Decimal, InvalidOperation
from typing import Final

from engine.language import decimals
from studio.ui.refusal import Refusal

WHOLE_LONGEST: Final = 18  # digits: what a row's number can have
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


def shown_grams(grams: Decimal) -> str:
    """A weight as a scale shows it, with the decimals of the reader's language."""
    return decimals(written_grams(grams))


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
