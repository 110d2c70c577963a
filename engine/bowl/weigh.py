"""From fractions to grams that a scale can show."""

from collections.abc import Hashable, Mapping
from dataclasses import dataclass
from itertools import product
from typing import TYPE_CHECKING, Final, TypeVar

import numpy as np

from engine.arrays import FloatArray, IntArray, within
from engine.bowl.goal import Goal
from engine.errors import BadInput, EmptyBowl

if TYPE_CHECKING:
    from engine.bowl.loops.weigh import Steps

Key = TypeVar("Key", bound=Hashable)

TOTAL_LIMITS_G: Final = (1.0, 2000.0)
STEP_LIMITS_G: Final = (0.01, 50.0)
STRIDES: Final = (2, 5, 10)  # wider steps that are tried for the nearest sets
STRIDDEN: Final = 0.5  # of all sets: the nearest
MOVES_FIRST: Final = 8  # of a walk in each stride: where one goes far, a wider stride goes farther
MOVES_LAST: Final = 12


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

    def grams(self, units: IntArray) -> FloatArray:
        """Grams of steps, free of binary dust."""
        return np.round(units * self.step_g, 6)


@dataclass(frozen=True, kw_only=True, eq=False)
class Pot:
    """What a recipe is weighed into: the scale, the clear, and what there is of everything.

    thins: grams of plain clear that a gram of the clear stands for. most_units: steps of each shade in stock,
    (shades,). most_clear_units: steps of clear in stock.
    """

    scale: Scale
    thins: float
    most_units: IntArray
    most_clear_units: int

    def fractions(self, units: IntArray | FloatArray) -> FloatArray:
        """Fractions (..., k) of steps (..., k), the rest of the bowl being clear."""
        coloured = units.sum(axis=-1, keepdims=True)
        whole = coloured + self.thins * (self.scale.units - coloured)
        fractions: FloatArray = units / np.maximum(whole, 1e-9)
        return fractions

    def exact_units(self, fractions: FloatArray) -> FloatArray:
        """Steps (..., k), not rounded, that give fractions (..., k); the inverse of `fractions`."""
        coloured = fractions.sum(axis=-1, keepdims=True)
        units: FloatArray = self.scale.units * fractions / (coloured + (1 - coloured) / self.thins)
        return units

    def steps(self) -> "Steps":
        """The same for the compiled loops."""
        from engine.bowl.loops.weigh import Steps

        return Steps(
            least=self.scale.least_units,
            whole=self.scale.units,
            most=self.most_units.astype(np.intp),
            most_clear=self.most_clear_units,
            thins=self.thins,
        )

    def holds(self, sets: IntArray, units: FloatArray) -> FloatArray:
        """Steps (sets, k) brought within what is in stock: less of a shade that runs short, more if clear does."""
        coloured = np.maximum(units.sum(axis=-1, keepdims=True), 1e-9)
        least = self.scale.units - self.most_clear_units
        held: FloatArray = np.minimum(units * np.maximum(1.0, least / coloured), self.most_units[sets])
        return held


@dataclass(frozen=True, kw_only=True, eq=False)
class Weighed:
    """Whole steps (sets, k) for each set and the true difference (sets,) they give; infinite where none fits."""

    units: IntArray
    delta_e00: FloatArray


def weigh_sets(goal: Goal, sets: IntArray, fractions: FloatArray, pot: Pot) -> Weighed:
    """Round fractions (sets, k) to the scale, then walk to the neighbouring weights with the least difference.

    The nearest few are also walked in wider strides first, so that none of them ends in a dip of the finest steps.
    """
    from engine.bowl.loops.weigh import best_options, walk

    steps, near = pot.steps(), goal.coarse().tables
    exact = pot.holds(sets, pot.exact_units(fractions))
    before = goal.coarse().difference(fractions, sets)
    few = np.argsort(before, kind="stable")[: max(1, round(STRIDDEN * len(sets)))]
    rows = np.concatenate([np.arange(len(sets)), *[few] * len(STRIDES)])
    strides = np.repeat([1, *STRIDES], [len(sets), *[len(few)] * len(STRIDES)])
    units = _corners(exact[rows], strides)
    units, found = best_options(goal.coarse().coarse().tables, steps, sets[rows], units)
    units, _ = walk(goal.coarse().coarse().tables, steps, sets[rows], units, found, strides, MOVES_FIRST)
    units, found = best_options(near, steps, sets[rows], units[:, None])
    order = np.lexsort((found, rows))
    best = order[np.searchsorted(rows[order], np.arange(len(sets)))]
    ones = np.ones(len(sets), dtype=np.intp)
    units, _ = walk(near, steps, sets, units[best], found[best], ones, MOVES_LAST)
    options = np.concatenate([units[:, None], _corners(exact, ones)], axis=1)
    units, found = best_options(goal.tables, steps, sets, options)
    return Weighed(units=units, delta_e00=found)


def _corners(exact: FloatArray, strides: IntArray) -> IntArray:
    """Exact steps (sets, k) rounded down and up to strides (sets,), in all ways, (sets, 2**k, k)."""
    corners = np.array(list(product((0, 1), repeat=exact.shape[1])))
    stride = strides[:, None, None]
    rounded: IntArray = stride * (np.floor(exact[:, None, :] / stride).astype(np.intp) + corners)
    return rounded


def scaled_to(grams: Mapping[Key, float], total_g: float, *, step_g: float) -> dict[Key, float]:
    """Grams in their proportions, scaled to a total in steps of the scale: largest remainders first, so that the total
    is met. What is in the bowl stays in it: at least one step each. Raises OutOfRange, EmptyBowl.
    """
    within("step_grams", step_g, *STEP_LIMITS_G, "g")
    within("total_grams", total_g, *TOTAL_LIMITS_G, "g")
    before = sum(grams.values())
    if before <= 0:
        raise EmptyBowl
    exact = {key: weight / before * total_g / step_g for key, weight in grams.items()}
    steps = {key: max(1, int(np.floor(share + 1e-9))) for key, share in exact.items()}
    left = round(total_g / step_g) - sum(steps.values())
    for key in sorted(exact, key=lambda key: steps[key] - exact[key])[: max(left, 0)]:
        steps[key] += 1
    return {key: round(count * step_g, 6) for key, count in steps.items()}
