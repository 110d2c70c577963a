"""From fractions to grams that a scale can show."""

from collections.abc import Hashable, Mapping
from dataclasses import dataclass
from itertools import product
from typing import Final, TypeVar

import numpy as np
from numpy.typing import NDArray

from engine.arrays import FloatArray, within
from engine.bowl.goal import FAR_OFF, Goal
from engine.bowl.reckon import IntArray
from engine.errors import BadInput, EmptyBowl

Key = TypeVar("Key", bound=Hashable)
IntCounts = NDArray[np.int64]

TOTAL_LIMITS_G: Final = (1.0, 2000.0)
STEP_LIMITS_G: Final = (0.01, 50.0)
STRIDES: Final = (2, 5, 10)  # wider steps that are tried for the nearest sets
STRIDDEN: Final = 6
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
class Pot:
    """What a recipe is weighed into: the scale, the clear, and what there is of everything.

    thins: grams of plain clear that a gram of the clear stands for. most_units: steps of each shade in stock,
    (shades,). most_clear_units: steps of clear in stock.
    """

    scale: Scale
    thins: float
    most_units: IntCounts
    most_clear_units: int

    def fractions(self, units: IntCounts | FloatArray) -> FloatArray:
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

    def holds(self, sets: IntArray, units: FloatArray) -> FloatArray:
        """Steps (sets, k) brought within what is in stock: less of a shade that runs short, more if clear does."""
        coloured = np.maximum(units.sum(axis=-1, keepdims=True), 1e-9)
        least = self.scale.units - self.most_clear_units
        held: FloatArray = np.minimum(units * np.maximum(1.0, least / coloured), self.most_units[sets])
        return held


@dataclass(frozen=True, kw_only=True, eq=False)
class Weighed:
    """Whole steps (sets, k) for each set and the true difference (sets,) they give; infinite where none fits."""

    units: IntCounts
    delta_e00: FloatArray


def weigh_sets(goal: Goal, sets: IntArray, fractions: FloatArray, pot: Pot) -> Weighed:
    """Round fractions (sets, k) to the scale, then walk to the neighbouring weights with the least difference.

    The nearest few are also walked in wider strides first, so that none of them ends in a dip of the finest steps.
    """
    near = goal.coarse()
    exact = pot.holds(sets, pot.exact_units(fractions))
    before = near.difference(goal.scatter(sets, fractions))
    # Far from the target the difference is full of dips, and the nearest before rounding need not be so after it.
    few = np.argsort(before, kind="stable")[: STRIDDEN if before.min() < FAR_OFF else len(sets)]
    rows = np.concatenate([np.arange(len(sets)), *[few] * len(STRIDES)])
    strides = np.repeat([1, *STRIDES], [len(sets), *[len(few)] * len(STRIDES)])[:, None]
    ones = np.ones_like(strides)
    units, _ = _rounded_and_walked(near.coarse(), sets[rows], exact[rows], pot, strides)
    units, found = _walk(near, sets[rows], *_best_option(near, sets[rows], units[:, None], pot), pot, ones)
    order = np.lexsort((found, rows))
    best = order[np.searchsorted(rows[order], np.arange(len(sets)))]
    plainly_rounded = np.floor(exact).astype(np.int64)[:, None, :] + _corners(sets)
    options = np.concatenate([units[best][:, None, :], plainly_rounded], axis=1)
    units, found = _best_option(goal, sets, options, pot)
    return Weighed(units=units, delta_e00=found)


def _corners(sets: IntArray) -> IntCounts:
    """All ways of rounding k numbers down or up, (2**k, k)."""
    return np.array(list(product((0, 1), repeat=sets.shape[1])))


def _rounded_and_walked(
    goal: Goal, sets: IntArray, exact: FloatArray, pot: Pot, strides: IntCounts
) -> tuple[IntCounts, FloatArray]:
    """The best corner round exact steps (sets, k) in each set's stride (sets, 1), walked on in the same stride."""
    options = strides[:, None] * (np.floor(exact / strides).astype(np.int64)[:, None, :] + _corners(sets))
    units, found = _best_option(goal, sets, options, pot)
    return _walk(goal, sets, units, found, pot, strides)


def _walk(
    goal: Goal, sets: IntArray, units: IntCounts, found: FloatArray, pot: Pot, strides: IntCounts
) -> tuple[IntCounts, FloatArray]:
    """Move each set to its best neighbour, a stride (sets, 1) away, until none is better."""
    moves = np.array([move for move in product((-1, 0, 1), repeat=sets.shape[1]) if any(move)])
    units, found = units.copy(), found.copy()
    live = np.isfinite(found)
    for _ in range(WALK_LIMIT):
        at = np.flatnonzero(live)
        if not len(at):
            break
        around = units[at][:, None, :] + strides[at][:, None] * moves
        stepped, reached = _best_option(goal, sets[at], around, pot)
        better = reached < found[at]
        units[at[better]], found[at[better]] = stepped[better], reached[better]
        live[at] = better
    return units, found


def _best_option(goal: Goal, sets: IntArray, options: IntCounts, pot: Pot) -> tuple[IntCounts, FloatArray]:
    """The best of several whole-step options (sets, options, k) for each set, with its difference."""
    options = np.minimum(np.maximum(options, pot.scale.least_units), pot.most_units[sets][:, None, :])
    clear = pot.scale.units - options.sum(axis=-1)
    fits = (clear >= 0) & (clear <= pot.most_clear_units) & np.all(options >= pot.scale.least_units, axis=-1)
    spread = goal.scatter(np.broadcast_to(sets[:, None, :], options.shape), pot.fractions(options))
    found = np.where(fits, goal.difference(spread), np.inf)
    best, pick = found.argmin(axis=1), np.arange(len(sets))
    return options[pick, best], found[pick, best]


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
