"""Mending a bowl that is already mixed: it can only be added to."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from itertools import combinations, product
from typing import Final

import numpy as np

from engine.arrays import FloatArray, within
from engine.bowl.mix import FULL_TIME_DRY, GRAMS_LIMIT, Bowl, Process
from engine.bowl.predict import Forecast, predict
from engine.bowl.reckon import Reckoning, reckoning_of
from engine.colorimetry.difference import delta_e00
from engine.colorimetry.lights import Light
from engine.dye.shade import CLEAR, Shade, thins_of
from engine.errors import BadInput, EmptyBowl, EmptyShelf
from engine.hair.canvas import Canvas

CLOSE_ENOUGH: Final = 1.0  # delta E00 at which a bowl counts as mended
SHADES_MOST: Final = 2
KEEP_PARTS: Final = (0.75, 0.5, 0.25)
# Grams tried first for each shade and for clear, as shares of the bowl; then a walk refines the best.
FIRST_SHADE: Final = (0.002, 0.006, 0.02, 0.06, 0.2, 0.6)
FIRST_CLEAR: Final = (0.0, 0.1, 0.3, 1.0, 3.0)
WALKED: Final = 16  # sets that are refined
WALK_STEPS: Final = (0.4, 0.2, 0.1, 0.05, 0.02)  # of what is added so far, from coarse to fine
# Of additions that come as close, the smaller: delta E00 that doubling the bowl, or a further shade, must bring.
COST_OF_DOUBLING: Final = 0.5
COST_OF_A_SHADE: Final = 0.3


class Way(StrEnum):
    """What it takes to mend the bowl."""

    NOTHING = "nothing"
    ADD = "add"
    KEEP_PART = "keep_part"
    CANNOT = "cannot"


@dataclass(frozen=True, kw_only=True, eq=False)
class Adjustment:
    """How to mend a bowl, as far as it can be.

    keep_fraction: the part of the bowl that is built on; waste_g: what is thrown away. additions: grams by shade.
    surplus_g: how much more than wanted the mended bowl holds, 0 if the head needs it all.
    """

    way: Way
    keep_fraction: float
    waste_g: float
    additions: Mapping[Shade, float]
    before: Forecast
    after: Forecast
    total_g: float
    surplus_g: float

    @property
    def delta_e00(self) -> float:
        """What is still missing after the additions."""
        return self.after.aim.delta_e00 if self.after.aim else float("inf")


@dataclass(frozen=True, kw_only=True, eq=False)
class _Search:
    """Additions (sets, shades) in grams to a bowl (shades,), with the room left for them in grams.

    thins: grams of plain clear that a gram of each shade stands for, (shades,).
    """

    reckoning: Reckoning
    held: FloatArray
    thins: FloatArray
    coloured: Sequence[int]
    target_lab: FloatArray
    room_g: float
    step_g: float

    def differences(self, additions: FloatArray) -> FloatArray:
        """delta E00 (...) of the bowl with additions (..., shades); infinite where they don't fit."""
        bowls = (self.held + additions) * self.thins
        fractions = bowls[..., self.coloured] / bowls.sum(axis=-1, keepdims=True)
        found = delta_e00(self.target_lab, self.reckoning.lab(fractions))
        return np.where(additions.sum(axis=-1) <= self.room_g + 1e-9, found, np.inf)

    def costs(self, additions: FloatArray) -> FloatArray:
        """What a search minimises (...): the difference that can be seen, and what the additions cost."""
        found = self.differences(additions)
        shades = (additions[..., self.coloured] > 0).sum(axis=-1)
        added = additions.sum(axis=-1) / self.held.sum()
        costs: FloatArray = np.maximum(found, 0.5 * CLOSE_ENOUGH) + COST_OF_A_SHADE * shades + COST_OF_DOUBLING * added
        return costs

    def on_scale(self, additions: FloatArray) -> FloatArray:
        """Additions rounded to the scale's steps."""
        return np.round(np.rint(additions / self.step_g) * self.step_g, 6)


def adjust(
    canvas: Canvas,
    bowl: Bowl,
    shelf: Sequence[Shade],
    target_lab: FloatArray,
    *,
    max_total_g: float,
    wanted_g: float | None = None,
    step_g: float = 0.1,
    process: Process = FULL_TIME_DRY,
    light: Light = Light.DAYLIGHT,
) -> Adjustment:
    """The fewest and smallest additions, at most two shades and clear, that bring a bowl to a target (3,).

    If none does within max_total_g, a part of the bowl is kept and built on; if that fails too, the closest is given.
    wanted_g: what the head needs, the bowl's own total by default. Raises EmptyBowl, EmptyShelf, OutOfRange, and
    BadInput when the bowl is over max_total_g already.
    """
    within("max_total_grams", max_total_g, 1.0, GRAMS_LIMIT, "g")
    within("step_grams", step_g, 0.01, 50.0, "g")
    if bowl.total_g <= 0:
        raise EmptyBowl
    if bowl.total_g > max_total_g + 1e-9:
        raise BadInput(
            "max_total_grams", f"max_total_grams is {max_total_g:g} g: the bowl holds {bowl.total_g:g} g already"
        )
    if not [shade for shade in shelf if not shade.is_clear]:
        raise EmptyShelf
    before = predict(canvas, bowl, process=process, light=light, target_lab=target_lab)
    if before.aim and before.aim.delta_e00 < CLOSE_ENOUGH:
        plan = (Way.NOTHING, 1.0, bowl)
    else:
        plan = _plan(canvas, bowl, shelf, target_lab, max_total_g, step_g, process, light)
    way, kept, mended = plan
    additions = {shade: round(grams - kept * bowl.grams.get(shade, 0.0), 6) for shade, grams in mended.grams.items()}
    total_g = mended.total_g
    return Adjustment(
        way=way,
        keep_fraction=kept,
        waste_g=round((1 - kept) * bowl.total_g, 6),
        additions={shade: grams for shade, grams in additions.items() if grams > 1e-9},
        before=before,
        after=predict(canvas, mended, process=process, light=light, target_lab=target_lab),
        total_g=total_g,
        surplus_g=max(total_g - (wanted_g or bowl.total_g), 0.0),
    )


def _plan(
    canvas: Canvas,
    bowl: Bowl,
    shelf: Sequence[Shade],
    target_lab: FloatArray,
    max_total_g: float,
    step_g: float,
    process: Process,
    light: Light,
) -> tuple[Way, float, Bowl]:
    """Additions to the whole bowl, else to a part of it; else the closest of all."""
    clear = next((shade for shade in [*shelf, *bowl.grams] if shade.is_clear), Shade(name=CLEAR))
    shades = list(dict.fromkeys([*shelf, *bowl.grams, clear]))
    coloured = [index for index, shade in enumerate(shades) if not shade.is_clear]
    usable = [index for index in coloured if shades[index] in set(shelf)]
    held = np.array([bowl.grams.get(shade, 0.0) for shade in shades])
    thins = thins_of(shades)
    reckoning = reckoning_of(canvas, [shades[index] for index in coloured], process, light)
    tries: list[tuple[float, float, FloatArray]] = []
    for kept in (1.0, *KEEP_PARTS):
        search = _Search(
            reckoning=reckoning,
            held=kept * held,
            thins=thins,
            coloured=coloured,
            target_lab=target_lab,
            room_g=max_total_g - kept * bowl.total_g,
            step_g=step_g,
        )
        additions = _best_additions(search, usable, shades.index(clear))
        tries.append((float(search.differences(additions)), kept, kept * held + additions))
        if tries[-1][0] < CLOSE_ENOUGH:
            break
    difference, kept, grams = tries[-1] if tries[-1][0] < CLOSE_ENOUGH else min(tries, key=lambda t: (t[0], -t[1]))
    way = Way.CANNOT if difference >= CLOSE_ENOUGH else Way.ADD if kept == 1 else Way.KEEP_PART
    return way, kept, Bowl(grams={shade: float(g) for shade, g in zip(shades, grams, strict=True) if g > 0})


def _best_additions(search: _Search, usable: Sequence[int], clear: int) -> FloatArray:
    """The additions (shades,) of least cost, over every set of up to two shades and clear, none included."""
    starts = _starts(search, usable, clear)
    costs = search.costs(starts)
    best = starts[np.argsort(costs, kind="stable")[:WALKED]]
    walked = _walk(search, best)
    candidates = np.vstack([np.zeros((1, starts.shape[1])), best, walked])
    best_of_all: FloatArray = candidates[int(np.argmin(search.costs(candidates)))]
    return best_of_all


def _starts(search: _Search, usable: Sequence[int], clear: int) -> FloatArray:
    """The best first try of each set of shades with clear, (sets, shades), on the scale."""
    total = search.held.sum()
    width = len(search.held)
    best = []
    for size in range(SHADES_MOST + 1):
        grid = np.array(list(product(*[FIRST_SHADE] * size, FIRST_CLEAR))) * total
        chosen = list(combinations(usable, size))
        sets = np.array(chosen, dtype=int).reshape(len(chosen), size)
        tries = np.zeros((len(sets), len(grid), width))
        tries[:, :, clear] = grid[:, -1]
        for column in range(size):
            np.put_along_axis(
                tries,
                np.broadcast_to(sets[:, None, [column]], (len(sets), len(grid), 1)),
                grid[None, :, [column]],
                axis=2,
            )
        tries = search.on_scale(tries)
        costs = search.costs(tries)
        best.append(tries[np.arange(len(sets)), costs.argmin(axis=1)])
    return np.vstack(best)


def _walk(search: _Search, additions: FloatArray) -> FloatArray:
    """Move each start (sets, shades) to the neighbour of least cost until none is better, in ever finer steps."""
    additions = additions.copy()
    costs = search.costs(additions)
    for share in WALK_STEPS:
        for _ in range(12):
            size = np.maximum(share * additions, search.step_g) * (additions > 0)
            moves = _moves(additions, size)
            tried = search.on_scale(np.maximum(additions[:, None, :] + moves, 0))
            found = search.costs(tried)
            pick = found.argmin(axis=1)
            rows = np.arange(len(additions))
            better = found[rows, pick] < costs - 1e-12
            if not better.any():
                break
            additions[better], costs[better] = tried[rows, pick][better], found[rows, pick][better]
    return additions


def _moves(additions: FloatArray, size: FloatArray) -> FloatArray:
    """Up and down along each of the (at most three) additions and along pairs of them, (sets, moves, shades)."""
    width = additions.shape[1]
    moves = np.zeros((len(additions), 27, width))
    for row, held in enumerate(additions > 0):
        columns = np.flatnonzero(held)[:3]
        signs = np.array(list(product((-1, 0, 1), repeat=len(columns))))
        moves[row, : len(signs), columns] = (signs * size[row, columns]).T
    return moves
