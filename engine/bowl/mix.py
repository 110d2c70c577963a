"""A bowl and what it adds to a canvas."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from types import MappingProxyType
from typing import Final

import numpy as np

from engine.arrays import FloatArray, within
from engine.dye.kind import Kind
from engine.dye.shade import RATIO_LIMITS, Shade, spectra_of
from engine.dye.uptake import competitive_uptake, uptake_gain
from engine.errors import EmptyBowl
from engine.hair.canvas import RANGES, Canvas
from engine.hair.residue import Family
from engine.knowledge.knowledge import Knowledge
from engine.language import decimals
from engine.weights import weight_of

GRAMS_LIMIT: Final = 5000.0
MINUTES_LIMIT: Final = 240.0
DEVELOPER_MOST_VOL: Final = 40.0
THIN_OR_THICK: Final = (0.5, 1.25)  # how far a thinner or thicker bowl changes what hair takes
LIFT_FROM_VOL: Final = 20.0  # F22: from here up a permanent shade lifts natural hair; common practice
LEVELS_PER_VOL: Final = 0.1  # one level at 20 vol, two at 30, three at 40; chosen by the founders
NO_LIFT_VOL: Final = 10.0
LIFT_PACE_MIN: Final = 15.0  # minutes to 63 % of what lift there is; chosen by the founders
LIFT_FULL_MIN: Final = 45.0  # minutes after which packs have colour rinsed, and lift has ended
UNCOVERED: Final = 3.0  # lean a level: how much redder what colour uncovers is (F20); chosen by the founders
LIFTED_MOST: Final = 9.0  # colour alone lifts no natural hair beyond this level


@dataclass(frozen=True, kw_only=True)
class Process:
    """How a bowl is worked: minutes on the hair (None = full time), on damp or dry hair, and with what developer.

    developer_vol: its strength in volumes of oxygen. ratio: parts of it to one of colour, the line's own by default.
    taught: what the studio's own results say of how bowls work there; the engine's own physics by default.
    """

    minutes: float | None = None
    damp: bool = False
    developer_vol: float | None = None
    ratio: float | None = None
    taught: Knowledge | None = None

    def __post_init__(self) -> None:
        if self.developer_vol is not None:
            within("bowl.developer_vol", self.developer_vol, 0.0, DEVELOPER_MOST_VOL, "vol")
        if self.ratio is not None:
            within("bowl.ratio", self.ratio, *RATIO_LIMITS, "parts of developer")
        if self.minutes is not None:
            within("bowl.minutes", self.minutes, 0.0, MINUTES_LIMIT, "min")


FULL_TIME_DRY: Final = Process()


@dataclass(frozen=True, kw_only=True)
class Bowl:
    """Grams of each shade and clear, by shade. Raises OutOfRange, WrongType, or EmptyBowl if all are zero."""

    grams: Mapping[Shade, float]

    def __post_init__(self) -> None:
        for shade, grams in self.grams.items():
            within(f"bowl.grams.{shade.name}", grams, 0.0, GRAMS_LIMIT, "g")
        if self.total_g <= 0:
            raise EmptyBowl
        object.__setattr__(self, "grams", MappingProxyType(dict(self.grams)))

    def __hash__(self) -> int:
        """Bowls of the same grams are one key."""
        return hash(frozenset(self.grams.items()))

    @cached_property
    def total_g(self) -> float:
        """Grams of all shades and clear; developer does not count."""
        return float(sum(self.grams.values()))

    @property
    def words(self) -> str:
        """What is in it as a colourist writes it down: "12.5 g Madder, 47.5 g Clear"."""
        return ", ".join(
            f"{decimals(weight_of(grams))} {shade.name}" for shade, grams in self.grams.items() if grams > 0
        )

    @cached_property
    def permanent_share(self) -> float:
        """Share 0-1 of the bowl that is permanent colour."""
        return float(sum(grams for shade, grams in self.grams.items() if shade.kind is Kind.PERMANENT) / self.total_g)

    @cached_property
    def colours(self) -> tuple[Shade, ...]:
        """The shades that have been poured and are not clear, in the bowl's order."""
        return tuple(shade for shade, grams in self.grams.items() if grams > 0 and not shade.is_clear)

    def fractions(self, shades: Iterable[Shade]) -> FloatArray:
        """Grams of each shade over the total, (shades,); a conditioner counts for as much clear as it stands for."""
        total = sum(shade.thins * grams for shade, grams in self.grams.items())
        return np.array([shade.thins * self.grams.get(shade, 0.0) for shade in shades]) / total


def thickness_of(shades: Sequence[Shade], process: Process) -> FloatArray:
    """What a bowl that is thinner or thicker than its lines ask for changes of what hair takes, (shades,)."""
    ratios = [shade.ratio for shade in shades]
    thinned = np.array([1.0 if ratio is None or process.ratio is None else ratio / process.ratio for ratio in ratios])
    thick: FloatArray = np.clip(thinned, *THIN_OR_THICK)
    return thick


def gains_of(
    shades: Sequence[Shade],
    porosity: FloatArray | float,
    process: Process,
    minutes: FloatArray | None = None,
) -> FloatArray:
    """`uptake_gain` of shade objects, (..., shades), for porosity (...); minutes (...) override the process."""
    if minutes is None and process.minutes is not None:
        minutes = np.asarray(process.minutes)
    return thickness_of(shades, process) * uptake_gain(
        np.asarray(porosity),
        np.array([shade.uptake_min for shade in shades]),
        np.array([float(not shade.kind.is_oxidative) for shade in shades]),
        minutes=minutes,
        damp=process.damp,
        power=1 + process.taught.physics.porosity if process.taught else 1.0,
    )


def lifts(canvas: Canvas, shades: Iterable[Shade], process: Process) -> bool:
    """Whether colour lifts this hair: natural pigment under a permanent shade with strong enough developer."""
    strong = (process.developer_vol or 0.0) >= LIFT_FROM_VOL
    return strong and canvas.family is Family.NATURAL and any(shade.kind is Kind.PERMANENT for shade in shades)


def lifted(canvas: Canvas, shades: Iterable[Shade], process: Process, share: float = 1.0) -> Canvas:
    """The canvas as a permanent shade's developer leaves it: natural pigment gives way, artificial colour never.

    share: 0-1 of the bowl that is permanent colour. Lift grows with it, with the developer, and with the minutes,
    quick at first. Dark pigment goes before red, so that what is uncovered is warmer than hair that grew as light.
    """
    if not lifts(canvas, shades, process):
        return canvas
    reached = 1.0
    if process.minutes is not None:
        reached = float(np.expm1(-process.minutes / LIFT_PACE_MIN) / np.expm1(-LIFT_FULL_MIN / LIFT_PACE_MIN))
    most = LEVELS_PER_VOL * ((process.developer_vol or 0.0) - NO_LIFT_VOL)
    levels = min(most * share * min(reached, 1.0), max(LIFTED_MOST - canvas.level, 0.0))
    lean = min(canvas.lean + UNCOVERED * levels, RANGES["lean"][1])
    return replace(canvas, level=canvas.level + levels, lean=lean)


def lifted_under(canvas: Canvas, bowl: Bowl, process: Process) -> Canvas:
    """The canvas as one bowl leaves it."""
    return lifted(canvas, bowl.colours, process, bowl.permanent_share)


def uptakes_of(bowl: Bowl, porosity: FloatArray | float, process: Process) -> FloatArray:
    """K/S units (..., shades) that hair of porosity (...) takes of each of a bowl's colours."""
    shades = bowl.colours
    strengths = np.array([shade.strength for shade in shades])
    return competitive_uptake(bowl.fractions(shades), strengths) * gains_of(shades, porosity, process)


def added_absorption(bowl: Bowl, porosity: FloatArray | float, process: Process) -> FloatArray:
    """K/S (..., bands) that a bowl adds to hair of porosity (...).

    Dye only adds absorption, so colour never lightens.
    """
    return uptakes_of(bowl, porosity, process) @ spectra_of(bowl.colours)
