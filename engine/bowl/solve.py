"""Many small fits at once: the fractions of every candidate set of shades that come nearest to a target.

Each set of k shades is fitted in logits z, with x_i = exp(z_i) / (1 + sum exp(z_j)) and clear as the rest, so that
every fraction is positive and they never add up to more than one. Depth goes roughly with the logarithm
of the fraction, which makes the problem nearly linear in z. Levenberg-Marquardt with the analytic Jacobian,
all sets in one batch. Source: [MAR63].
"""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import combinations, product
from typing import Final

import numpy as np

from engine.arrays import BoolArray, FloatArray, IntArray, frozen
from engine.bowl.goal import FAR_OFF, HIT, LOGIT_LIMIT, Goal

STARTS: Final = (-4.0, -1.0)  # a pastel (about 1:55) and a vivid mix
STEPS: Final = 12
STEPS_GROWN: Final = 6  # a set that starts from the best of its parts is nearly there
STEPS_FOR_ALL: Final = 2  # after these, only the nearer sets go on
GO_ON: Final = 10  # times as many sets as are kept: those that go on
SIZE_FROM_STARTS: Final = 2
CODE_BASE: Final = 1024  # more than any shelf has shades
STEPS_POLISHED: Final = 5
WALKED_FAR: Final = 0.5  # of those that are kept
TRIED_FAR: Final = tuple(np.linspace(-6.0, 1.5, 7).tolist())  # logits, where no fit comes near
WALK_STEPS: Final = frozen([0.5, 0.2, 0.08, 0.03])
WALK_ROUNDS: Final = 6
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
    """Where fits stand: logits (sets, k), squared differences (sets,), and whether each settled (sets,)."""

    logits: FloatArray
    cost: FloatArray
    settled: BoolArray


def fit_all_sets(goal: Goal, largest: int, keep: int) -> list[Fit]:
    """Fit every set of 1 to `largest` shades to a goal, and give the nearest `keep` of each size.

    All are fitted on a quarter of the bands; the nearest are then fitted again on all.

    Sets of one and two are fitted from each start. A larger set grows from the best of the sets that it contains;
    where one of those hits the target already, a further shade could not come nearer, and it is left at nothing.
    """
    coarse, shades = goal.coarse().coarse(), goal.shades
    fits: list[Fit] = []
    sets, run = (
        np.zeros((1, 0), dtype=np.intp),
        _Run(logits=np.zeros((1, 0)), cost=np.ones(1), settled=np.ones(1, bool)),
    )
    for size in range(1, largest + 1):
        smaller, found = sets, run
        sets = np.array(list(combinations(range(shades), size)), dtype=np.intp)
        from_starts = size <= SIZE_FROM_STARTS
        run = _fit_from_starts(coarse, sets) if from_starts else _grow(coarse, sets, smaller, found, keep)
        kept, start = _nearest(coarse, sets, run, keep)
        polished = _fit(goal, sets[kept], start, STEPS_POLISHED).logits
        fits.append(
            Fit(
                sets=sets[kept],
                fractions=_fractions(_walk_far(goal.coarse(), sets[kept], start, polished)),
                tried=len(sets),
                settled=int(run.settled.sum()),
            )
        )
    return fits


def _nearest(goal: Goal, sets: IntArray, run: _Run, keep: int) -> tuple[IntArray, FloatArray]:
    """The rows (keep,) of the nearest sets and their logits (keep, k).

    By the fits' own measure, or, where all end far off, by the true difference: there, the metric that the fits use
    may lead away from what is nearest, and small sets are also tried all over.
    """
    logits, measure = run.logits, run.cost
    if run.cost.min() > FAR_OFF**2:
        starts = [logits]
        if sets.shape[1] <= SIZE_FROM_STARTS:
            starts += [np.broadcast_to(each, logits.shape) for each in product(TRIED_FAR, repeat=sets.shape[1])]
        logits, measure = _nearer(goal, sets, starts)
    rows = np.argsort(measure, kind="stable")[:keep]
    return rows, logits[rows]


def _nearer(goal: Goal, sets: IntArray, starts: Sequence[FloatArray]) -> tuple[FloatArray, FloatArray]:
    """Of several logits (sets, k) for each set those with the least true difference, and that difference (sets,)."""
    tried = np.stack(starts)
    found = goal.difference(_fractions(tried), sets)
    best, rows = found.argmin(axis=0), np.arange(len(sets))
    return tried[best, rows], found[best, rows]


def _walk_far(goal: Goal, sets: IntArray, *starts: FloatArray) -> FloatArray:
    """The nearest of some logits (sets, k), moved on by the true difference where they end far off.

    The metric that the fits use is that of small differences; of two colours that are both far from the target
    it need not name the nearer. The nearest few are therefore walked, in ever finer steps, to where the true
    difference is least.
    """
    from engine.bowl.loops.fit import walk_logits

    logits, now = _nearer(goal, sets, starts)
    rows = np.argsort(now, kind="stable")[: max(1, round(WALKED_FAR * len(now)))]
    rows = rows[now[rows] > FAR_OFF]
    logits[rows] = walk_logits(goal.tables, sets[rows], logits[rows], WALK_STEPS, WALK_ROUNDS)
    return logits


def _fit_from_starts(goal: Goal, sets: IntArray) -> _Run:
    """Fit sets (sets, k) from every start, all in one batch; for each set the run that came nearer."""
    starts = np.repeat(STARTS, len(sets))[:, None] * np.ones((1, sets.shape[1]))
    run = _fit(goal, np.tile(sets, (len(STARTS), 1)), starts)
    best = run.cost.reshape(len(STARTS), -1).argmin(axis=0) * len(sets) + np.arange(len(sets))
    return _Run(logits=run.logits[best], cost=run.cost[best], settled=run.settled[best])


def _grow(goal: Goal, sets: IntArray, smaller: IntArray, found: _Run, keep: int) -> _Run:
    """Fit sets (sets, k), each from the best of the k sets of one shade fewer that it contains.

    Where `keep` of them hit the target by that alone, none could come nearer, and none is fitted.
    """
    count, size = sets.shape
    codes = _codes(smaller)
    parents = np.stack([np.searchsorted(codes, _codes(np.delete(sets, drop, axis=1))) for drop in range(size)], axis=1)
    dropped = found.cost[parents].argmin(axis=1)
    rows = np.arange(count)
    parent = parents[rows, dropped]
    logits = np.empty((count, size))
    kept = np.arange(size) != dropped[:, None]
    logits[kept] = found.logits[parent].reshape(-1)
    logits[rows, dropped] = np.maximum(found.logits[parent].min(axis=1) - GROWN_BY, -LOGIT_LIMIT)
    hit = found.cost[parent] <= HIT
    logits[rows[hit], dropped[hit]] = -LOGIT_LIMIT
    cost, settled = found.cost[parent].copy(), np.ones(count, dtype=bool)
    open_rows = np.flatnonzero(~hit) if hit.sum() < keep else np.zeros(0, dtype=np.intp)
    for steps in (STEPS_FOR_ALL, STEPS_GROWN - STEPS_FOR_ALL):
        if len(open_rows):
            run = _fit(goal, sets[open_rows], logits[open_rows], steps)
            logits[open_rows], cost[open_rows], settled[open_rows] = run.logits, run.cost, run.settled
            nearer = np.argsort(run.cost, kind="stable")[: GO_ON * keep]
            open_rows = open_rows[nearer[~run.settled[nearer]]]
    return _Run(logits=logits, cost=cost, settled=settled)


def _codes(sets: IntArray) -> IntArray:
    """A number for each set of ascending indices (sets, k), ascending in the order of `combinations`."""
    codes: IntArray = sets @ (CODE_BASE ** np.arange(sets.shape[1] - 1, -1, -1, dtype=np.intp))
    return codes


def _fractions(logits: FloatArray) -> FloatArray:
    odds: FloatArray = np.exp(logits)
    total: FloatArray = odds.sum(axis=-1, keepdims=True)
    return odds / (1 + total)


def _fit(goal: Goal, sets: IntArray, start: FloatArray, steps: int = STEPS) -> _Run:
    """Levenberg-Marquardt on every set (sets, k) from logits (sets, k)."""
    from engine.bowl.loops.fit import fit

    logits, cost, settled = fit(goal.tables, sets, start, steps)
    return _Run(logits=logits, cost=cost, settled=settled)
