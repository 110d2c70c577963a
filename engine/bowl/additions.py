"""The search for additions to a bowl that is already mixed: fewest and smallest first."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from itertools import combinations, product
from typing import TYPE_CHECKING, Final

import numpy as np

from engine.arrays import FloatArray, IntArray, frozen, within
from engine.bowl.goal import Goal, ZoneAim, goal_of
from engine.bowl.mix import Bowl, Process
from engine.colorimetry.lights import Light
from engine.dye.shade import CLEAR, Shade, thins_of

if TYPE_CHECKING:
    from engine.bowl.loops.add import Held
    from engine.bowl.loops.look import Tables

CLOSE_ENOUGH: Final = 1.0  # delta E00 at which a bowl counts as mended
SHADES_MOST: Final = 2
# Grams tried first for each shade and for clear, as shares of the bowl; then a walk refines the best.
FIRST_SHADE: Final = (0.002, 0.006, 0.02, 0.06, 0.2, 0.6)
FIRST_CLEAR: Final = (0.0, 0.1, 0.3, 1.0, 3.0)
# What pairs of a large shelf are screened with, how many of them are then tried in full, and numbers held at once.
SCREENED_SHADE: Final = (0.01, 0.1)
SCREENED_CLEAR: Final = (0.0, 0.5)
LEADING: Final = 32
TRIED_IN_FULL: Final = 400
TRIED_AT_ONCE: Final = 500_000
WALKED: Final = 16  # sets that are refined
WALK_STEPS: Final = frozen([0.4, 0.2, 0.1, 0.05, 0.02])  # of what is added so far, from coarse to fine
WALK_ROUNDS: Final = 12
# Of additions that come as close, the smaller: delta E00 that doubling the bowl, or a further shade, must bring.
COST_OF_DOUBLING: Final = 0.5
COST_OF_A_SHADE: Final = 0.3


@dataclass(frozen=True, kw_only=True, eq=False)
class Search:
    """Additions (..., shades) in grams to a bowl held (shades,), with the room left for them in grams.

    thins: grams of plain clear that a gram of each shade stands for, (shades,). coloured: where in shades the goal's
    coloured ones stand. usable: those of them that may be added. clear: where clear stands.
    """

    goal: Goal
    shades: tuple[Shade, ...]
    held: FloatArray
    thins: FloatArray
    coloured: tuple[int, ...]
    usable: tuple[int, ...]
    clear: int
    room_g: float
    step_g: float

    def differences(self, additions: FloatArray) -> FloatArray:
        """delta E00 (...) of the bowl with additions (..., shades); infinite where they don't fit."""
        from engine.bowl.loops import add

        return self._of_rows(add.differences, additions)

    def costs(self, additions: FloatArray) -> FloatArray:
        """What a search minimises (...): the difference that can be seen, and what the additions cost."""
        from engine.bowl.loops import add

        return self._of_rows(add.costs, additions)

    def walk(self, additions: FloatArray, steps: FloatArray, rounds: int) -> FloatArray:
        """Each start (sets, shades), at most three grams of it, moved to the neighbour of least cost until none is
        better, in ever finer steps."""
        from engine.bowl.loops import add

        return self.on_scale(add.walk(self.goal.tables, self._in_hand, additions, steps, rounds))

    def _of_rows(self, loop: "Callable[[Tables, Held, FloatArray], FloatArray]", additions: FloatArray) -> FloatArray:
        rows = np.ascontiguousarray(additions.reshape(-1, len(self.held)))
        return loop(self.goal.tables, self._in_hand, rows).reshape(additions.shape[:-1])

    @property
    def _in_hand(self) -> "Held":
        from engine.bowl.loops.add import Held

        return Held(
            held=self.held,
            thins=self.thins,
            coloured=np.array(self.coloured, dtype=np.intp),
            members=np.arange(len(self.coloured)),
            room_g=self.room_g,
            step_g=self.step_g,
            good=0.5 * CLOSE_ENOUGH,
            a_shade=COST_OF_A_SHADE,
            doubling=COST_OF_DOUBLING,
        )

    def on_scale(self, additions: FloatArray) -> FloatArray:
        """Additions rounded to the scale's steps."""
        return np.round(np.rint(additions / self.step_g) * self.step_g, 6)


def search_for(
    zones: Sequence[ZoneAim], bowl: Bowl, shelf: Sequence[Shade], step_g: float, process: Process, light: Light
) -> Search:
    """The search for what a bowl lacks, with no room yet. Raises OutOfRange for the step."""
    within("step_grams", step_g, 0.01, 50.0, "g")
    clear = next((shade for shade in [*shelf, *bowl.grams] if shade.is_clear), Shade(name=CLEAR))
    shades = tuple(dict.fromkeys([*shelf, *bowl.grams, clear]))
    coloured = tuple(index for index, shade in enumerate(shades) if not shade.is_clear)
    on_shelf = set(shelf)
    return Search(
        goal=goal_of(zones, [shades[index] for index in coloured], process, light),
        shades=shades,
        held=np.array([bowl.grams.get(shade, 0.0) for shade in shades]),
        thins=thins_of(shades),
        coloured=coloured,
        usable=tuple(index for index in coloured if shades[index] in on_shelf),
        clear=shades.index(clear),
        room_g=0.0,
        step_g=step_g,
    )


def best_additions(search: Search) -> FloatArray:
    """The additions (shades,) of least cost, over every set of up to two shades and clear, none included."""
    starts = _starts(replace(search, goal=search.goal.coarse().coarse()))
    costs = search.costs(starts)
    best = starts[np.argsort(costs, kind="stable")[:WALKED]]
    walked = replace(search, goal=search.goal.coarse()).walk(best, WALK_STEPS, WALK_ROUNDS)
    candidates = np.vstack([np.zeros((1, starts.shape[1])), best, walked])
    best_of_all: FloatArray = candidates[int(np.argmin(search.costs(candidates)))]
    return best_of_all


def _starts(search: Search) -> FloatArray:
    """The best first try of each set of shades with clear, (sets, shades), on the scale.

    Of a large shelf's pairs, those count that hold one of the shades that help most alone, and of them only those that
    come nearest on a few tries are tried in full.
    """
    best, leading = [], frozenset(search.usable)
    for size in range(SHADES_MOST + 1):
        chosen = [each for each in combinations(search.usable, size) if not size or not leading.isdisjoint(each)]
        sets = np.array(chosen, dtype=int).reshape(len(chosen), size)
        if len(sets) > TRIED_IN_FULL:
            _, costs = _best_tries(search, sets, SCREENED_SHADE, SCREENED_CLEAR)
            sets = sets[np.argsort(costs, kind="stable")[:TRIED_IN_FULL]]
        tries, costs = _best_tries(search, sets, FIRST_SHADE, FIRST_CLEAR)
        best.append(tries)
        if size == 1:
            leading = frozenset(sets[np.argsort(costs, kind="stable")[:LEADING], 0].tolist())
    return np.vstack(best)


def _best_tries(
    search: Search, sets: IntArray, shade_shares: Sequence[float], clear_shares: Sequence[float]
) -> tuple[FloatArray, FloatArray]:
    """Of amounts as shares of the bowl the best for each of sets (sets, k): additions (sets, shades), costs (sets,)."""
    width, size = len(search.held), sets.shape[1]
    grid = search.on_scale(np.array(list(product(*[shade_shares] * size, clear_shares))) * search.held.sum())
    best, costs = np.zeros((len(sets), width)), np.zeros(len(sets))
    at_once = max(1, TRIED_AT_ONCE // (len(grid) * width))
    for start in range(0, len(sets), at_once):
        few = sets[start : start + at_once]
        tries = np.zeros((len(few), len(grid), width))
        tries[:, :, search.clear] = grid[:, -1]
        for column in range(size):
            shades = np.broadcast_to(few[:, None, [column]], (len(few), len(grid), 1))
            np.put_along_axis(tries, shades, grid[None, :, [column]], axis=2)
        found = search.costs(tries)
        rows, least = np.arange(len(few)), found.argmin(axis=1)
        best[start : start + at_once], costs[start : start + at_once] = tries[rows, least], found[rows, least]
    return best, costs
