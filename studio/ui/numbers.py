"""Numbers as people type them."""

from decimal import Decimal, InvalidOperation

from studio.ui.refusal import Refusal


def typed_number(text: str, field: str, *, example: str = "8.5") -> Decimal:
    """A typed number, with a comma or a point. Raises Refusal not_a_number for anything else, infinity included."""
    try:
        number = Decimal(text.strip().replace(",", ".").removesuffix("g").strip())
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


def shown_grams(grams: Decimal) -> str:
    """A weight as a scale shows it: tenths, and hundredths only where it has them."""
    return f"{grams:.2f}" if grams != round(grams, 1) else f"{grams:.1f}"


def whole_number(text: str, field: str) -> int:
    """A row's number or a place from a form. Raises Refusal unknown_shade for anything else."""
    if not text.isascii() or not text.isdigit() or len(text) > 18:
        raise Refusal("unknown_shade" if field in {"shade", "line"} else "not_a_number", field, example="12")
    return int(text)
