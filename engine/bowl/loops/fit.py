"""Levenberg-Marquardt on logits. Source: [MAR63]."""

from typing import Final, NamedTuple

import numpy as np

from engine.arrays import BoolArray, FloatArray, IntArray
from engine.bowl.goal import HIT, LOGIT_LIMIT
from engine.bowl.loops.look import Tables, lab_and_slope, write
from engine.bowl.loops.machine import compiled, inlined, lent, residual_of

SETTLED: Final = 1e-3  # relative gain in squared difference below which a fit has settled
FIRST_DAMPING: Final = 0.05  # a fifth of it for the first step, since the start itself counts as a gain
DAMPING_MOST: Final = 1e6  # a fit that needs more has settled where it is
DAMPING_FLOOR: Final = 1e-6  # of the largest column, for those that hardly move
TINY: Final = 1e-12
ASIDE: Final = 1e-4  # of L*, a* and b*, for a slope by differences


@compiled
def _fractions(logits: FloatArray, fractions: FloatArray) -> None:
    """Fills the fractions (k,) of logits (k,), the rest of the bowl being clear."""
    total = 1.0
    for each in range(len(logits)):
        fractions[each] = np.exp(logits[each])
        total += fractions[each]
    for each in range(len(logits)):
        fractions[each] /= total


class _Scratch(NamedTuple):
    """What a fit of k shades writes on. seen: what a look needs; fractions, by_logit: (k,), slope: (3, k).

    misses: of a zone in three directions (3, 4), their slopes by L*, a* and b* first.
    """

    seen: FloatArray
    fractions: FloatArray
    by_logit: FloatArray
    slope: FloatArray
    misses: FloatArray


@compiled
def _near_misses(target: FloatArray, metric: FloatArray, seen: tuple[float, float, float], misses: FloatArray) -> None:
    """Fills misses (3, 4), their slopes first, in the metric of small differences (3, 3) at a target (3,)."""
    for each in range(3):
        misses[each, 3] = 0.0
        for axis in range(3):
            misses[each, axis] = metric[each, axis]
            misses[each, 3] += metric[each, axis] * (seen[axis] - target[axis])


@compiled
def _exact_misses(target: FloatArray, share: float, seen: tuple[float, float, float], misses: FloatArray) -> None:
    """Fills misses (3, 4) whose squares are those of delta E00, weighed by a zone's share; slopes by differences."""
    weight = np.sqrt(share)
    for place in range(4):
        axis = (place + 3) % 4  # what is seen itself comes first, as the other columns need it
        L = seen[0] + ASIDE * (axis == 0)
        a = seen[1] + ASIDE * (axis == 1)
        b = seen[2] + ASIDE * (axis == 2)
        lightness, chroma, hue = residual_of(target[0], target[1], target[2], L, a, b)
        misses[0, axis], misses[1, axis], misses[2, axis] = weight * lightness, weight * chroma, weight * hue
    for each in range(3):
        for axis in range(3):
            misses[each, axis] = (misses[each, axis] - misses[each, 3]) / ASIDE


@inlined
def _linearised(
    tables: Tables,
    members: IntArray,
    logits: FloatArray,
    normal: FloatArray,
    pull: FloatArray,
    scratch: _Scratch,
    exact: bool,
) -> float:
    """Squared difference, near the mean over zones: in the metric of small differences, or exactly.

    Fills the normal matrix (k, k) and the pull (k,) of its least squares in logits (k,).
    """
    size, fractions, slope, by_logit = len(members), scratch.fractions, scratch.slope, scratch.by_logit
    misses = scratch.misses
    _fractions(logits, fractions)
    cost = 0.0
    for one in range(size):
        pull[one] = 0.0
        for other in range(one + 1):
            normal[one, other] = 0.0
    for zone in range(len(tables.zone_share)):
        lightness, a, b = lab_and_slope(tables, zone, members, fractions, slope, scratch.seen)
        seen = (lightness, a, b)
        if exact:
            _exact_misses(tables.targets[zone], tables.zone_share[zone], seen, misses)
        else:
            _near_misses(tables.targets[zone], tables.metrics[zone], seen, misses)
        for each in range(3):
            by_l, by_a, by_b, miss = misses[each, 0], misses[each, 1], misses[each, 2], misses[each, 3]
            total = 0.0
            for one in range(size):  # d x_i / d z_j = x_i (delta_ij - x_j)
                by_logit[one] = fractions[one] * (by_l * slope[0, one] + by_a * slope[1, one] + by_b * slope[2, one])
                total += by_logit[one]
            for one in range(size):
                by_logit[one] -= total * fractions[one]
            cost += miss * miss
            for one in range(size):
                pull[one] += by_logit[one] * miss
                for other in range(one + 1):
                    normal[one, other] += by_logit[one] * by_logit[other]
    return cost


@compiled
def _solve(normal: FloatArray, pull: FloatArray, damping: float, step: FloatArray, factor: FloatArray) -> None:
    """Fills the damped Gauss-Newton step (k,), scaled by each column's own size, by Cholesky's factors.

    normal: (k, k), its lower triangle. factor: scratch (k, k).
    """
    size = len(pull)
    largest = 0.0
    for one in range(size):
        largest = max(largest, normal[one, one])
    floor = largest * DAMPING_FLOOR + TINY
    for one in range(size):
        for other in range(one + 1):
            total = normal[one, other]
            if one == other:
                total += damping * max(total, floor) + floor
            for each in range(other):
                total -= factor[one, each] * factor[other, each]
            factor[one, other] = np.sqrt(max(total, TINY)) if one == other else total / factor[other, other]
    for one in range(size):
        total = -pull[one]
        for each in range(one):
            total -= factor[one, each] * step[each]
        step[one] = total / factor[one, one]
    for one in range(size - 1, -1, -1):
        total = step[one]
        for each in range(one + 1, size):
            total -= factor[each, one] * step[each]
        step[one] = total / factor[one, one]


@compiled
def fit(
    tables: Tables, sets: IntArray, start: FloatArray, most_steps: int, exact: bool
) -> tuple[FloatArray, FloatArray, BoolArray]:
    """Levenberg-Marquardt on sets (sets, k) from logits (sets, k): logits, squared differences, whether they settled.

    exact: whether differences are delta E00 itself, for aims far off, or in the metric of small ones, which is quicker.

    Source: [MAR63].
    """
    (count, size), logits = sets.shape, start.copy()
    costs, settled = np.empty(count), np.zeros(count, dtype=np.bool_)
    room = _Room(squares=np.empty((3, size, size)), rows=np.empty((4, size)))
    scratch = _Scratch(
        seen=np.empty((4, tables.spectra.shape[1])),
        fractions=np.empty(size),
        by_logit=np.empty(size),
        slope=np.empty((3, size)),
        misses=np.empty((3, 4)),
    )
    _fit(tables, sets, logits, most_steps, exact, room, scratch, costs, settled)
    return logits, costs, settled


class _Room(NamedTuple):
    """What a fit's steps are worked out on: squares (3, k, k), and rows (4, k)."""

    squares: FloatArray
    rows: FloatArray


@lent
def _fit(
    tables: Tables,
    sets: IntArray,
    logits: FloatArray,
    most_steps: int,
    exact: bool,
    room: _Room,
    scratch: _Scratch,
    costs: FloatArray,
    settled: BoolArray,
) -> None:
    """Moves logits (sets, k) to where `fit` leads, and fills the rest of what it finds (sets,)."""
    size = logits.shape[1]
    normal, new_normal, factor = room.squares[0], room.squares[1], room.squares[2]
    pull, new_pull, step, trial = room.rows[0], room.rows[1], room.rows[2], room.rows[3]
    for row in range(len(sets)):
        damping, cost = FIRST_DAMPING, np.inf
        write(logits[row], trial)
        for _ in range(1 + most_steps):  # the start is looked at first
            new = _linearised(tables, sets[row], trial, new_normal, new_pull, scratch, exact)
            if new < cost:
                settled[row] = cost - new < SETTLED * max(cost, HIT) or new <= HIT
                write(trial, logits[row])
                normal, new_normal, pull, new_pull, cost = new_normal, normal, new_pull, pull, new
                damping *= 0.2
            else:
                damping *= 6
                settled[row] = damping >= DAMPING_MOST
            if settled[row]:
                break
            _solve(normal, pull, damping, step, factor)
            for each in range(size):
                trial[each] = min(max(logits[row, each] + step[each], -LOGIT_LIMIT), LOGIT_LIMIT)
        costs[row] = cost
