"""A bowl and what it adds to a canvas."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from types import MappingProxyType
from typing import Final

import numpy as np

from engine.arrays import FloatArray, within
from engine.dye.shade import Kind, Shade, spectra_of
from engine.dye.uptake import competitive_uptake, uptake_gain
from engine.errors import EmptyBowl

GRAMS_LIMIT: Final = 5000.0
MINUTES_LIMIT: Final = 240.0


@dataclass(frozen=True, kw_only=True)
class Process:
    """How a bowl is worked: minutes on the hair (None = full time), and on damp or dry hair."""

    minutes: float | None = None
    damp: bool = False

    def __post_init__(self) -> None:
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

    @property
    def total_g(self) -> float:
        """Grams of all shades and clear; developer does not count."""
        return float(sum(self.grams.values()))

    @property
    def colours(self) -> tuple[Shade, ...]:
        """The shades that have been poured and are not clear, in the bowl's order."""
        return tuple(shade for shade, grams in self.grams.items() if grams > 0 and not shade.is_clear)

    def fractions(self, shades: Iterable[Shade]) -> FloatArray:
        """Grams of each shade over the total, (shades,)."""
        return np.array([self.grams.get(shade, 0.0) for shade in shades]) / self.total_g


def gains_of(
    shades: Sequence[Shade],
    porosity: FloatArray | float,
    process: Process,
    minutes: FloatArray | None = None,
) -> FloatArray:
    """`uptake_gain` of shade objects, (..., shades), for porosity (...); minutes (...) override the process."""
    if minutes is None and process.minutes is not None:
        minutes = np.asarray(process.minutes)
    return uptake_gain(
        np.asarray(porosity),
        np.array([shade.time_constant_min for shade in shades]),
        np.array([float(shade.kind is Kind.DIRECT) for shade in shades]),
        minutes=minutes,
        damp=process.damp,
    )


def uptakes_of(bowl: Bowl, porosity: float, process: Process) -> FloatArray:
    """K/S units (shades,) that hair takes of each of a bowl's colours."""
    shades = bowl.colours
    strengths = np.array([shade.strength for shade in shades])
    return competitive_uptake(bowl.fractions(shades), strengths) * gains_of(shades, porosity, process)


def added_absorption(bowl: Bowl, porosity: float, process: Process) -> FloatArray:
    """K/S (bands,) that a bowl adds to hair. Dye only adds absorption, so colour never lightens."""
    return uptakes_of(bowl, porosity, process) @ spectra_of(bowl.colours)
