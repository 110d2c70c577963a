"""From fractions to grams that a scale can show."""

from dataclasses import dataclass
from itertools import product
from typing import Final

import numpy as np
from numpy.typing import NDArray

from engine.arrays import FloatArray, within
from engine.bowl.reckon import Reckoning
from engine.bowl.solve import IntArray
from engine.colorimetry.difference import delta_e00
from engine.errors import BadInput

IntCounts = NDArray[np.int64]

TOTAL_LIMITS_G: Final = (1.0, 2000.0)
STEP_LIMITS_G: Final = (0.01, 50.0)
WALK_LIMIT: Final = 60  # moves of the search on the scale's steps; far more than a rounding ever needs


@dataclass(frozen=True, kw_only=True)
class Scale:
    """What the bowl should weigh and how finely it can be weighed; all in grams.

    Raises OutOfRange or WrongType, or BadInput when the step or the least pour is more than the total.
    """

    total_g: float = 60.0
    step_g: float = 0.1
    least_g: float | None = None

    def __post_init__(self) -> None:
        within("total_grams", self.total_g, *TOTAL_LIMITS_G, "g")
        within("step_grams", self.step_g, *STEP_LIMITS_G, "g")
        if self.least_g is not None:
            within("least_grams", self.least_g, 0.0, TOTAL_LIMITS_G[1], "g")
        if self.units < 1:
            raise BadInput("step_grams", f"step_grams is {self.step_g:g} g: more than the total of {self.total_g:g} g")
        if self.least_units > self.units:
            raise BadInput(
                "least_grams", f"least_grams is {self.least_g:g} g: more than the total of {self.total_g:g} g"
            )

    @property
    def units(self) -> int:
        """Steps of the scale in the whole bowl."""
        return int(np.floor(self.total_g / self.step_g + 1e-9))

    @property
    def least_units(self) -> int:
        """The fewest steps of a shade worth pouring, at least one."""
        return max(1, int(np.ceil((self.least_g or 0.0) / self.step_g - 1e-9)))

    def grams(self, units: IntCounts) -> FloatArray:
        """Grams of steps, free of binary dust."""
        return np.round(units * self.step_g, 6)


@dataclass(frozen=True, kw_only=True, eq=False)
class Weighed:
    """Whole steps (sets, k) for each set and the true difference (sets,) they give; infinite where none fits."""

    units: IntCounts
    delta_e00: FloatArray


def weigh_sets(
    reckoning: Reckoning, sets: IntArray, fractions: FloatArray, target_lab: FloatArray, scale: Scale
) -> Weighed:
    """Round fractions (sets, k) to the scale, then walk to the neighbouring weights with the least difference."""
    exact = fractions * scale.units
    size = sets.shape[1]
    corners = np.array(list(product((0, 1), repeat=size)))
    options = np.floor(exact).astype(np.int64)[:, None, :] + corners
    units, found = _best_option(reckoning, sets, options, target_lab, scale)
    moves = np.array([move for move in product((-1, 0, 1), repeat=size) if any(move)])
    live = np.isfinite(found)
    for _ in range(WALK_LIMIT):
        at = np.flatnonzero(live)
        if not len(at):
            break
        stepped, reached = _best_option(reckoning, sets[at], units[at][:, None, :] + moves, target_lab, scale)
        better = reached < found[at]
        units[at[better]], found[at[better]] = stepped[better], reached[better]
        live[at] = better
    return Weighed(units=units, delta_e00=found)


def _best_option(
    reckoning: Reckoning, sets: IntArray, options: IntCounts, target_lab: FloatArray, scale: Scale
) -> tuple[IntCounts, FloatArray]:
    """The best of several whole-step options (sets, options, k) for each set, with its difference."""
    options = np.maximum(options, scale.least_units)
    fits = options.sum(axis=-1) <= scale.units
    count, choices, _ = options.shape
    spread = np.zeros((count, choices, len(reckoning.spectra)))
    np.put_along_axis(spread, np.broadcast_to(sets[:, None, :], options.shape), options / scale.units, axis=2)
    found = np.where(fits, delta_e00(target_lab, reckoning.lab(spread)), np.inf)
    best, pick = found.argmin(axis=1), np.arange(count)
    return options[pick, best], found[pick, best]
