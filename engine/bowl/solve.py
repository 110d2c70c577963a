"""Many small fits at once: the fractions of every candidate set of shades that come nearest to a target.

Each set of k shades is fitted in logits z, with x_i = exp(z_i) / (1 + sum exp(z_j)) and clear as the rest, so that
every fraction is positive and they never add up to more than one. Depth goes roughly with the logarithm
of the fraction, which makes the problem nearly linear in z. Levenberg-Marquardt with the analytic Jacobian,
all sets in one batch. Source: [MAR63].
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import product
from math import comb
from typing import Final

import numpy as np

from engine.arrays import BoolArray, FloatArray, IntArray, frozen
from engine.bowl.goal import FAR_OFF, HIT, LOGIT_LIMIT, Goal
from engine.bowl.grow import Grown, every_set, from_best_part, with_one_more, with_one_other

STARTS: Final = (-4.0, -1.0)  # a pastel (about 1:55) and a vivid mix
STEPS: Final = 12
STEPS_GROWN: Final = 6  # a set that starts from the best of its parts is nearly there
STEPS_FOR_ALL: Final = 2  # after these, only the nearer sets go on
GO_ON: Final = 10  # times as many sets as are kept: those that go on
SIZE_FROM_STARTS: Final = 2
STEPS_POLISHED: Final = 5
STEPS_FAR: Final = 6
TRIED_FAR: Final = tuple(np.linspace(-6.0, 1.5, 7).tolist())  # logits, where no fit comes near
TRIED_FIRST: Final = TRIED_FAR[1::2]
TRIED_MOST: Final = 1500  # sets that are tried all over
PAIRS_MOST: Final = 1000  # that are all fitted to the end; of more, these are that one step promises most
SETS_MOST: Final = 12_000  # of one size, from three shades on, that are all fitted
GROWN_MOST: Final = 4000  # of them that are fitted where there are more
DOSES: Final = frozen(np.linspace(-7.0, 3.0, 24))  # logits at which a shade alone is looked at for the depth of an aim
SWAP_ROUNDS: Final = 3
SWAP_GAIN: Final = 0.01  # of the squared difference below which swapping one shade more is not worth it
GROWN_BY: Final = 1.5  # how far in logits a further shade starts below the least of the others


@dataclass(frozen=True, kw_only=True, eq=False)
class Fit:
    """Sets of one size: shade indices (sets, k), and the best fractions (sets, k) of the nearest of them.

    tried, settled: how many sets there were, and how many of their fits settled.
    """

    sets: IntArray
    fractions: FloatArray
    tried: int
    settled: int


@dataclass(frozen=True, kw_only=True, eq=False)
class _Run:
    """Where fits of sets (sets, k) stand: logits (sets, k), squared differences (sets,), and which settled (sets,).

    exact: whether those are of delta E00 itself, or in the metric of small differences.
    """

    sets: IntArray
    logits: FloatArray
    cost: FloatArray
    settled: BoolArray
    exact: bool = False

    @property
    def is_far(self) -> bool:
        """Whether all end far off, where the metric of small differences is no longer trusted."""
        return bool(self.cost.min() > FAR_OFF**2)

    @property
    def ranked(self) -> IntArray:
        """The rows (sets,) from the nearest to the farthest."""
        return np.argsort(self.cost, kind="stable")

    def rows(self, rows: IntArray) -> "_Run":
        """Those of some rows (rows,)."""
        return replace(
            self,
            sets=self.sets[rows],
            logits=self.logits[rows],
            cost=self.cost[rows],
            settled=self.settled[rows],
        )


def _nothing() -> _Run:
    """The one set of no shade."""
    none = np.zeros((1, 0))
    return _Run(sets=none.astype(np.intp), logits=none, cost=np.ones(1), settled=np.ones(1, dtype=bool))


def fit_sets(goal: Goal, largest: int, keep: int) -> list[Fit]:
    """Fit sets of 1 to `largest` shades to a goal, and give the nearest `keep` of each size.

    All are fitted on a quarter of the bands; the nearest are then fitted again on all.
    """
    coarse = goal.coarse().coarse()
    fits: list[Fit] = []
    screened = _nothing()
    for size in range(1, largest + 1):
        screened = _screened(coarse, size, screened, keep)
        near = screened.rows(screened.ranked[:keep])
        polished = _fit(goal, near.sets, near.logits, STEPS_POLISHED, exact=near.exact)
        fits.append(
            Fit(
                sets=polished.sets,
                fractions=_fractions(polished.logits),
                tried=len(screened.sets),
                settled=int(screened.settled.sum()),
            )
        )
    return fits


def refit(goal: Goal, fits: Sequence[Fit]) -> list[Fit]:
    """The same sets fitted to a goal that has moved a little, each from where it was."""
    again = []
    for each in fits:
        left = np.maximum(1 - each.fractions.sum(axis=-1, keepdims=True), np.exp(-LOGIT_LIMIT))
        logits = np.clip(np.log(np.maximum(each.fractions, np.exp(-LOGIT_LIMIT)) / left), -LOGIT_LIMIT, LOGIT_LIMIT)
        run = _fit(goal, each.sets, logits, STEPS_POLISHED, exact=True)
        again.append(replace(each, sets=run.sets, fractions=_fractions(run.logits)))
    return again


def _screened(coarse: Goal, size: int, smaller: _Run, keep: int) -> _Run:
    """The fits of sets of a size, on a few bands.

    Every set of one and two is fitted, from each start; of more than PAIRS_MOST pairs those that are nearest after a
    step. A larger set grows from the best of the sets that it contains; where one of those hits the target already, a
    further shade could not come nearer, and it is left at nothing. Of a shelf with more sets of a size than SETS_MOST,
    those are fitted that hold one of the best sets of one shade fewer, and then those that differ from the best of them
    in one shade.
    """
    shades = coarse.shades
    if size <= SIZE_FROM_STARTS:
        sets = every_set(shades, size)
        run = _fit_nearer(coarse, sets) if len(sets) > PAIRS_MOST else _fit_from_starts(coarse, sets)
        return _fit_far(coarse, run) if run.is_far else run
    if comb(shades, size) <= SETS_MOST:
        return _grow(coarse, from_best_part(every_set(shades, size), smaller.sets, smaller.cost), smaller, keep)
    grown = with_one_more(smaller.sets, smaller.ranked[: GROWN_MOST // shades], shades)
    return _swapped(coarse, _grow(coarse, grown, smaller, keep), keep)


def _fit_far(goal: Goal, run: _Run) -> _Run:
    """Fits of sets of which none comes near, again by delta E00 itself.

    The metric of small differences may have led away from what is nearest: each starts from the nearest of where it led
    and a few places all over, and the nearest of them again from there and many.
    """
    logits, rows = run.logits.copy(), np.arange(len(run.sets))
    cost, settled = run.cost.copy(), run.settled.copy()
    for steps, most in ((TRIED_FIRST, len(rows)), (TRIED_FAR, TRIED_MOST)):
        rows = rows[np.argsort(cost[rows], kind="stable")[:most]]
        sets = run.sets[rows]
        grid = [np.broadcast_to(each, sets.shape) for each in product(steps, repeat=sets.shape[1])]
        found = _fit(goal, sets, _nearest(goal, sets, [logits[rows], *grid]), STEPS_FAR, exact=True)
        logits[rows], cost[rows], settled[rows] = found.logits, found.cost, found.settled
    return _Run(sets=run.sets, logits=logits, cost=cost, settled=settled, exact=True)


def _nearest(goal: Goal, sets: IntArray, starts: Sequence[FloatArray]) -> FloatArray:
    """Of several logits (sets, k) for each set those with the least true difference."""
    tried = np.stack(starts)
    best = goal.difference(_fractions(tried), sets).argmin(axis=0)
    found: FloatArray = tried[best, np.arange(len(sets))]
    return found


def _fit_from_starts(goal: Goal, sets: IntArray) -> _Run:
    """Fit sets (sets, k) from every start, all in one batch; for each set the run that came nearer."""
    starts = np.repeat(STARTS, len(sets))[:, None] * np.ones((1, sets.shape[1]))
    run = _fit(goal, np.tile(sets, (len(STARTS), 1)), starts)
    return run.rows(run.cost.reshape(len(STARTS), -1).argmin(axis=0) * len(sets) + np.arange(len(sets)))


def _fit_nearer(goal: Goal, sets: IntArray) -> _Run:
    """Fit those of many sets (sets, k) that are nearest after one step on half the bands.

    Each starts from an even mix of doses that are by themselves as deep as the aim: from there one step tells nearly as
    much as all.
    """
    few = goal.coarse()
    doses = _fractions(_doses_of_depth(few)[:, None])[:, 0][sets] / sets.shape[1]
    start = np.log(doses / (1 - doses.sum(axis=1, keepdims=True)))
    stepped = _fit(few, sets, np.clip(start, -LOGIT_LIMIT, LOGIT_LIMIT), 1)
    order = np.argsort(few.difference(_fractions(stepped.logits), sets)) if stepped.is_far else stepped.ranked
    near = stepped.rows(order[:PAIRS_MOST])
    return _fit(goal, near.sets, near.logits)


def _doses_of_depth(goal: Goal) -> FloatArray:
    """The logit (shades,) at which each shade alone comes nearest to the depth of the first zone's aim."""
    from engine.bowl.loops.look import labs

    alone = np.repeat(every_set(goal.shades, 1), len(DOSES), axis=0)
    seen = labs(goal.tables, alone, _fractions(np.tile(DOSES, goal.shades)[:, None]))
    off = np.abs(seen[:, 0] - goal.sights[0].target_lab[0]).reshape(goal.shades, len(DOSES))
    deep: FloatArray = DOSES[off.argmin(axis=1)]
    return deep


def _grow(goal: Goal, grown: Grown, found: _Run, keep: int) -> _Run:
    """Fit sets, each from where its part of one shade fewer ended.

    Where `keep` of them hit the target by that alone, none could come nearer, and none is fitted.
    """
    logits = np.empty(grown.sets.shape)
    rows = np.arange(len(logits))
    logits[grown.kept] = found.logits[grown.origin].reshape(-1)
    logits[rows, grown.column] = np.maximum(found.logits[grown.origin].min(axis=1) - GROWN_BY, -LOGIT_LIMIT)
    cost = found.cost[grown.origin].copy()
    hit = cost <= HIT
    logits[rows[hit], grown.column[hit]] = -LOGIT_LIMIT
    start = _Run(sets=grown.sets, logits=logits, cost=cost, settled=np.ones(len(logits), dtype=bool), exact=found.exact)
    return _fit_on(goal, start, np.flatnonzero(~hit), keep) if hit.sum() < keep else start


def _swapped(goal: Goal, run: _Run, keep: int) -> _Run:
    """Fits with those of sets that differ from the nearest in one shade, as long as it helps."""
    for _ in range(SWAP_ROUNDS):
        if (run.cost <= HIT).sum() >= keep:
            break
        other = with_one_other(run.sets, run.ranked[:keep], goal.shades)
        before = run.sets[other.origin]
        removed = ~(before[:, :, None] == other.sets[:, None, :]).any(axis=2)
        logits = np.empty(other.sets.shape)
        logits[other.kept], logits[~other.kept] = run.logits[other.origin][~removed], run.logits[other.origin][removed]
        count = len(logits)
        start = _Run(
            sets=other.sets,
            logits=logits,
            cost=np.full(count, np.inf),
            settled=np.zeros(count, dtype=bool),
            exact=run.exact,
        )
        then, least = _fit_on(goal, start, np.arange(count), keep), run.cost.min()
        run = _merged(run, then)
        if least - then.cost.min() <= SWAP_GAIN * least:
            break
    return run


def _merged(one: _Run, other: _Run) -> _Run:
    """Two lists of fits as one, each set once, the nearer fit of both."""
    both = _Run(
        sets=np.concatenate([one.sets, other.sets]),
        logits=np.concatenate([one.logits, other.logits]),
        cost=np.concatenate([one.cost, other.cost]),
        settled=np.concatenate([one.settled, other.settled]),
        exact=one.exact,
    )
    order = both.ranked
    _, first = np.unique(both.sets[order], axis=0, return_index=True)
    return both.rows(order[first])


def _fit_on(goal: Goal, start: _Run, rows: IntArray, keep: int) -> _Run:
    """Fit rows of a start from where they stand: a few steps for all, then more for those that are nearest."""
    logits, cost, settled = start.logits.copy(), start.cost.copy(), start.settled.copy()
    for steps in (STEPS_FOR_ALL, STEPS_GROWN - STEPS_FOR_ALL):
        if len(rows):
            run = _fit(goal, start.sets[rows], logits[rows], steps, exact=start.exact)
            logits[rows], cost[rows], settled[rows] = run.logits, run.cost, run.settled
            nearer = np.argsort(run.cost, kind="stable")[: GO_ON * keep]
            rows = rows[nearer[~run.settled[nearer]]]
    return replace(start, logits=logits, cost=cost, settled=settled)


def _fractions(logits: FloatArray) -> FloatArray:
    odds: FloatArray = np.exp(logits)
    total: FloatArray = odds.sum(axis=-1, keepdims=True)
    return odds / (1 + total)


def _fit(goal: Goal, sets: IntArray, start: FloatArray, steps: int = STEPS, *, exact: bool = False) -> _Run:
    """Levenberg-Marquardt on every set (sets, k) from logits (sets, k)."""
    from engine.bowl.loops.fit import fit

    logits, cost, settled = fit(goal.tables, sets, start, steps, exact)
    return _Run(sets=sets, logits=logits, cost=cost, settled=settled, exact=exact)
