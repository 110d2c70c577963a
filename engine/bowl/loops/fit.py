"""Levenberg-Marquardt and a walk on logits. Source: [MAR63]."""

from typing import Final

import numpy as np

from engine.arrays import BoolArray, FloatArray, IntArray
from engine.bowl.goal import HIT, LOGIT_LIMIT
from engine.bowl.loops.look import Tables, difference, lab_and_slope, write
from engine.bowl.loops.machine import compiled

SETTLED: Final = 1e-3  # relative gain in squared difference below which a fit has settled
FIRST_DAMPING: Final = 0.01
DAMPING_MOST: Final = 1e6  # a fit that needs more has settled where it is
DAMPING_FLOOR: Final = 1e-6  # of the largest column, for those that hardly move
TINY: Final = 1e-12
WALK_GAIN: Final = 1e-9  # delta E00 below which a step is no gain


@compiled
def _fractions(logits: FloatArray, fractions: FloatArray) -> None:
    """Fills the fractions (k,) of logits (k,), the rest of the bowl being clear."""
    total = 1.0
    for each in range(len(logits)):
        fractions[each] = np.exp(logits[each])
        total += fractions[each]
    for each in range(len(logits)):
        fractions[each] /= total


@compiled
def _linearised(tables: Tables, members: IntArray, logits: FloatArray, normal: FloatArray, pull: FloatArray) -> float:
    """Squared difference, near the mean over zones, in the metric of small differences.

    Fills the normal matrix (k, k) and the pull (k,) of its least squares in logits (k,).
    """
    size = len(members)
    fractions, slope, by_logit = np.empty(size), np.empty((3, size)), np.empty(size)
    _fractions(logits, fractions)
    cost = 0.0
    for one in range(size):
        pull[one] = 0.0
        for other in range(one + 1):
            normal[one, other] = 0.0
    for zone in range(len(tables.zone_share)):
        lightness, a, b = lab_and_slope(tables, zone, members, fractions, slope)
        off = (lightness - tables.targets[zone, 0], a - tables.targets[zone, 1], b - tables.targets[zone, 2])
        for each in range(3):
            metric = tables.metrics[zone, each]
            residual = metric[0] * off[0] + metric[1] * off[1] + metric[2] * off[2]
            total = 0.0
            for one in range(size):  # d x_i / d z_j = x_i (delta_ij - x_j)
                by_logit[one] = fractions[one] * (
                    metric[0] * slope[0, one] + metric[1] * slope[1, one] + metric[2] * slope[2, one]
                )
                total += by_logit[one]
            for one in range(size):
                by_logit[one] -= total * fractions[one]
            cost += residual * residual
            for one in range(size):
                pull[one] += by_logit[one] * residual
                for other in range(one + 1):
                    normal[one, other] += by_logit[one] * by_logit[other]
    return cost


@compiled
def _solve(normal: FloatArray, pull: FloatArray, damping: float, step: FloatArray) -> None:
    """Fills the damped Gauss-Newton step (k,), scaled by each column's own size, by Cholesky's factors.

    normal: (k, k), its lower triangle.
    """
    size = len(pull)
    factor = np.empty((size, size))
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
def fit(tables: Tables, sets: IntArray, start: FloatArray, most_steps: int) -> tuple[FloatArray, FloatArray, BoolArray]:
    """Levenberg-Marquardt on sets (sets, k) from logits (sets, k): logits, squared differences, whether they settled.

    Source: [MAR63].
    """
    (count, size), logits = sets.shape, start.copy()
    costs, settled = np.empty(count), np.zeros(count, dtype=np.bool_)
    normal, pull, step = np.empty((size, size)), np.empty(size), np.empty(size)
    new_normal, new_pull, trial = np.empty((size, size)), np.empty(size), np.empty(size)
    for row in range(count):
        damping, cost = FIRST_DAMPING, _linearised(tables, sets[row], logits[row], normal, pull)
        settled[row] = cost <= HIT
        for _ in range(most_steps):
            if settled[row]:
                break
            _solve(normal, pull, damping, step)
            for each in range(size):
                trial[each] = min(max(logits[row, each] + step[each], -LOGIT_LIMIT), LOGIT_LIMIT)
            new = _linearised(tables, sets[row], trial, new_normal, new_pull)
            if new < cost:
                settled[row] = cost - new < SETTLED * max(cost, HIT) or new <= HIT
                write(trial, logits[row])
                normal, new_normal, pull, new_pull, cost = new_normal, normal, new_pull, pull, new
                damping *= 0.2
            else:
                damping *= 6
                settled[row] = damping >= DAMPING_MOST
        costs[row] = cost
    return logits, costs, settled


@compiled
def walk_logits(tables: Tables, sets: IntArray, start: FloatArray, sizes: FloatArray, most_rounds: int) -> FloatArray:
    """Logits (sets, k) walked in ever finer steps of `sizes` to where the true difference is least."""
    logits, size = start.copy(), sets.shape[1]
    tried, nearest, fractions = np.empty(size), np.empty(size), np.empty(size)
    added = np.empty(tables.spectra.shape[1])
    for row in range(len(sets)):
        _fractions(logits[row], fractions)
        now = difference(tables, sets[row], fractions, added)
        for step in sizes:
            for _ in range(most_rounds):
                least = now
                for move in range(3**size):
                    digits = move
                    for each in range(size):
                        moved = logits[row, each] + step * (digits % 3 - 1)
                        tried[each] = min(max(moved, -LOGIT_LIMIT), LOGIT_LIMIT)
                        digits //= 3
                    _fractions(tried, fractions)
                    found = difference(tables, sets[row], fractions, added)
                    if found < least:
                        least = found
                        write(tried, nearest)
                if least >= now - WALK_GAIN:
                    break
                now = least
                write(nearest, logits[row])
    return logits
