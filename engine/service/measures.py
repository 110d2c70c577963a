"""How colourists measure: grams, ounces, millilitres, tubes, squeezes and drops, each with its error.

Fluid ounces are those of the United States, 29.5735295625 ml (NIST Handbook 44, appendix C; from memory). Squeezes and
drops are what a hand does: common practice, no published source; sizes and errors chosen by the founders.
"""

import re
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from engine.arrays import within
from engine.errors import BadInput
from engine.language import decimals, later, say
from engine.weights import GRAMS_PER_ML, GRAMS_PER_OUNCE, Measure, typed_measure

ML_PER_FLUID_OUNCE: Final = 29.5735295625
AMOUNT_MOST: Final = 5000.0
TYPED: Final = re.compile(r"^\s*([+-]?\d*[.,]?\d+)\s*(\S[^\d]*)?$")


class Unit(StrEnum):
    """What an amount may be typed in."""

    GRAM = "g"
    OUNCE = "oz"
    FLUID_OUNCE = "fl oz"
    MILLILITRE = "ml"
    SQUEEZE = "squeeze"
    DROP = "drop"
    TUBE = "tube"


# The rest are signs, the same everywhere.
SPOKEN_UNITS: Final = {
    later("squeeze"): "squeeze",
    later("squeezes"): "squeeze",
    later("drop"): "drop",
    later("drops"): "drop",
    later("tube"): "tube",
    later("tubes"): "tube",
}
# What a plain number is.
PLAIN_WORDS: Final = {
    Measure.GRAM: later("grams"),
    Measure.OUNCE: later("ounces"),
    Measure.MILLILITRE: later("millilitres"),
}
# Grams of one, and the share of it that it may be off.
SIZES: Final = {
    Unit.GRAM: (1.0, 0.0),
    Unit.OUNCE: (GRAMS_PER_OUNCE, 0.0),
    Unit.FLUID_OUNCE: (ML_PER_FLUID_OUNCE * GRAMS_PER_ML, 0.05),
    Unit.MILLILITRE: (GRAMS_PER_ML, 0.05),
    Unit.SQUEEZE: (1.5, 0.4),
    Unit.DROP: (0.05, 0.4),
}
SPELLINGS: Final = {
    "gram": Unit.GRAM,
    "gr": Unit.GRAM,
    "ounce": Unit.OUNCE,
    "floz": Unit.FLUID_OUNCE,
    "millilitre": Unit.MILLILITRE,
}


@dataclass(frozen=True, kw_only=True)
class Amount:
    """Grams, how many grams they may be off either way, and the unit that was typed."""

    grams: float
    doubt_g: float
    unit: Unit


def read_amount(text: str, *, tube_g: float = 60.0) -> Amount:
    """An amount as people type it: `2.5`, `2,5 g`, `3 drops`, `0.1 oz`; a plain number in the unit of now.

    tube_g: what a tube of this shade holds. Raises BadInput for anything else, OutOfRange for what is no amount.
    """
    found = TYPED.match(text)
    if not found:
        raise BadInput("grams", "grams needs a number, with a unit if it is not grams")
    number = within("grams", float(found.group(1).replace(",", ".")), 0.0, AMOUNT_MOST)
    unit = _unit(found.group(2) or typed_measure())
    if unit is Unit.TUBE:
        return Amount(grams=number * tube_g, doubt_g=0.02 * number * tube_g, unit=unit)
    size_g, off = SIZES[unit]
    # Independent squeezes err both ways, so that their errors grow with the root of their number.
    doubt_g = off * size_g * (number**0.5 if unit in (Unit.SQUEEZE, Unit.DROP) else number)
    return Amount(grams=number * size_g, doubt_g=doubt_g, unit=unit)


def _unit(text: str) -> Unit:
    plain = text.strip().lower().rstrip(".")
    for spelt in (plain, plain.removesuffix("s"), plain.replace(" ", "")):
        if spelt in SPELLINGS:
            return SPELLINGS[spelt]
        if spelt in set(Unit):
            return Unit(spelt)
    for spoken, unit in (*SPOKEN_UNITS.items(), *((word, measure.value) for measure, word in PLAIN_WORDS.items())):
        if plain == say(spoken).lower():
            return Unit(unit)
    raise BadInput("grams", f"grams can be typed in {', '.join(Unit)}; not in {text.strip()[:20]!r}")


def shown_amount(grams: float, unit: Unit, *, tube_g: float = 60.0) -> str:
    """Grams in a unit as people read it."""
    size_g = tube_g if unit is Unit.TUBE else SIZES[unit][0]
    return decimals(f"{grams / size_g:.{1 if unit in (Unit.GRAM, Unit.MILLILITRE) else 2}f} {say(unit.value)}")
