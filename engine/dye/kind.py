"""Kinds of colour, and what each does by default: how fast it takes, how long it lasts, how long it is left on."""

from dataclasses import dataclass
from enum import StrEnum
from functools import cache

from engine.tables import load_table


class Kind(StrEnum):
    """How a colour works. A booster is a concentrated tint for clear or a weak shade."""

    DIRECT = "direct"
    BOOSTER = "booster"
    MASK = "mask"
    DEMI = "demi"
    PERMANENT = "permanent"

    @property
    def is_oxidative(self) -> bool:
        """Whether it needs developer."""
        return self in (Kind.DEMI, Kind.PERMANENT)

    @property
    def habits(self) -> "Habits":
        """What this kind does unless its line says otherwise."""
        return _habits()[self]


@dataclass(frozen=True, kw_only=True)
class Habits:
    """time_constant_min: minutes to 63 % of the full uptake. life_washes: washes after which a quarter is left.

    usual_min: the least and most minutes that packs usually ask for.
    """

    time_constant_min: float
    life_washes: float
    usual_min: tuple[float, float]


@cache
def _habits() -> dict[Kind, Habits]:
    table = load_table("kinds")
    numbers = (
        table.numbers(column) for column in ("time_constant_min", "life_washes", "usual_least_min", "usual_most_min")
    )
    return {
        Kind(name): Habits(
            time_constant_min=float(constant), life_washes=float(washes), usual_min=(float(least), float(most))
        )
        for name, constant, washes, least, most in zip(table.texts("kind"), *numbers, strict=True)
    }
