"""Grams as the house measures them: in grams, in ounces, or in millilitres of cream.

All is reckoned and kept in grams; a unit is how they are shown and typed. Ounces are avoirdupois, 28.349523125 g
(International Yard and Pound agreement, 1959). A cream is taken as heavy as water, so that its millilitres are its
grams: common practice, no published source. Powder has no millilitres: it is weighed.
"""

from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from decimal import Decimal
from enum import StrEnum
from math import floor, log10
from typing import Final, SupportsFloat

GRAMS_PER_OUNCE: Final = 28.349523125
GRAMS_PER_ML: Final = 1.0
SMALL_OZ: Final = 1.0  # below it ounces are told in thousandths, 0.03 g
NEARLY: Final = 1e-9
SPEC: Final = "weight"  # of a place in a text: `{grams:weight}`, `{more:+weight}`


class Measure(StrEnum):
    """What a house weighs in; the value stands beside the number."""

    GRAM = "g"
    OUNCE = "oz"
    MILLILITRE = "ml"


_measure: Final[ContextVar[Measure]] = ContextVar("what is measured in", default=Measure.GRAM)


_typed: Final[ContextVar[Measure | None]] = ContextVar("what a form is typed in", default=None)


@contextmanager
def measuring(measure: Measure) -> Iterator[None]:
    """All weights are shown and read in a unit, in this thread or task."""
    token = _measure.set(measure)
    try:
        yield
    finally:
        _measure.reset(token)


@contextmanager
def typing(measure: Measure | None) -> Iterator[None]:
    """Plain numbers are read in a unit: that of the page that they were typed on; None for the unit of now."""
    token = _typed.set(measure)
    try:
        yield
    finally:
        _typed.reset(token)


def typed_measure() -> Measure:
    """The unit of a plain number."""
    return _typed.get() or _measure.get()


def weigh_powder() -> None:
    """Until `measuring` ends, all weights are of powder."""
    _measure.set(measure_of(powder=True))


def measure_of(*, powder: bool = False) -> Measure:
    """The unit of now, for what is or isn't powder."""
    measure = _measure.get()
    return Measure.GRAM if powder and measure is Measure.MILLILITRE else measure


def grams_of(number: float, measure: Measure | None = None) -> float:
    """Grams of a number that was typed in a unit; without one in that of its page."""
    return number * _size_g(measure or typed_measure())


def handy_g(grams: float) -> float:
    """Grams of the next 1, 2 or 5 of the unit of now, or of its tenths or hundredths: a step that hands can count."""
    size_g = _size_g(measure_of())
    number = grams / size_g
    decade = 10.0 ** floor(log10(number) + NEARLY)
    return next(each for each in (1.0, 2.0, 5.0, 10.0) if each * decade > number * (1 - NEARLY)) * decade * size_g


def stepped_g(grams: float, by_g: float) -> float:
    """Grams after a step, never less than nothing; in ounces their thousandths are kept, so that steps don't drift."""
    size_g = _size_g(measure_of())
    number = (grams + by_g) / size_g
    return max(round(number, 3) if measure_of() is Measure.OUNCE else number, 0.0) * size_g


def number_of(grams: SupportsFloat, *, sign: str = "", powder: bool = False) -> str:
    """Grams as a number of the unit of now, with a decimal point: in tenths of a gram.

    What was weighed or typed, a Decimal, has its hundredths where there are any; what is reckoned, a float, only below
    a gram. sign: "+" to have it before what is not less than nothing.
    """
    measure = measure_of(powder=powder)
    number = float(grams) / _size_g(measure)
    if measure is Measure.OUNCE:
        places = 3 if 0 < abs(number) < SMALL_OZ else 2
    else:
        is_fine = isinstance(grams, Decimal) or abs(number) < 1
        places = 2 if is_fine and abs(number * 10 - round(number * 10)) > 0.05 else 1
    return f"{number:{sign}.{places}f}"


def brief_of(grams: SupportsFloat, *, sign: str = "", powder: bool = False) -> str:
    """`number_of` without zeros at its end: 80, 12.5."""
    told = number_of(grams, sign=sign, powder=powder)
    return told.rstrip("0").rstrip(".") if "." in told else told


def weight_of(grams: SupportsFloat, spec: str = SPEC, *, powder: bool = False) -> str:
    """Grams in the unit of now, as `{grams:weight}` in a text asks for them; `+weight` with plus or minus."""
    number = brief_of(grams, sign="+" if spec.startswith("+") else "", powder=powder)
    return f"{number} {measure_of(powder=powder)}"


def _size_g(measure: Measure) -> float:
    return GRAMS_PER_OUNCE if measure is Measure.OUNCE else GRAMS_PER_ML
