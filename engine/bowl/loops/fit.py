"""Levenberg-Marquardt and a walk on logits. Source: [MAR63]."""

from typing import Final, NamedTuple

import numpy as np

from engine.arrays import BoolArray, FloatArray, IntArray
from engine.bowl.goal import HIT, LOGIT_LIMIT
from engine.bowl.loops.look import Tables, difference, lab_and_slope, write
from engine.bowl.loops.machine import compiled, inlined

SETTLED: Final = 1e-3  # relative gain in squared difference below which a fit has settled
FIRST_DAMPING: Final = 0.05  # a fifth of it for the first step, since the start itself counts as a gain
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


class _Scratch(NamedTuple):
    """What a fit of k shades writes on. seen: what a look needs; fractions, by_logit: (k,), slope: (3, k)."""

    seen: FloatArray
    fractions: FloatArray
    by_logit: FloatArray
    slope: FloatArray


@inlined
def _linearised(
    tables: Tables, members: IntArray, logits: FloatArray, normal: FloatArray, pull: FloatArray, scratch: _Scratch
) -> float:
    """Squared difference, near the mean over zones, in the metric of small differences.

    Fills the normal matrix (k, k) and the pull (k,) of its least squares in logits (k,).
    """
    size, fractions, slope, by_logit = len(members), scratch.fractions, scratch.slope, scratch.by_logit
    _fractions(logits, fractions)
    cost = 0.0
    for one in range(size):
        pull[one] = 0.0
        for other in range(one + 1):
            normal[one, other] = 0.0
    for zone in range(len(tables.zone_share)):
        lightness, a, b = lab_and_slope(tables, zone, members, fractions, slope, scratch.seen)
        deeper, redder, yellower = (
            lightness - tables.targets[zone, 0],
            a - tables.targets[zone, 1],
            b - tables.targets[zone, 2],
        )
        for each in range(3):
            by_l, by_a, by_b = (
                tables.metrics[zone, each, 0],
                tables.metrics[zone, each, 1],
                tables.metrics[zone, each, 2],
            )
            residual = by_l * deeper + by_a * redder + by_b * yellower
            total = 0.0
            for one in range(size):  # d x_i / d z_j = x_i (delta_ij - x_j)
                by_logit[one] = fractions[one] * (by_l * slope[0, one] + by_a * slope[1, one] + by_b * slope[2, one])
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
def fit(tables: Tables, sets: IntArray, start: FloatArray, most_steps: int) -> tuple[FloatArray, FloatArray, BoolArray]:
    """Levenberg-Marquardt on sets (sets, k) from logits (sets, k): logits, squared differences, whether they settled.

    Source: [MAR63].
    """
    (count, size), logits = sets.shape, start.copy()
    costs, settled = np.empty(count), np.zeros(count, dtype=np.bool_)
    normal, pull, step = np.empty((size, size)), np.empty(size), np.empty(size)
    new_normal, new_pull, trial = np.empty((size, size)), np.empty(size), np.empty(size)
    factor = np.empty((size, size))
    scratch = _Scratch(
        seen=np.empty((4, tables.spectra.shape[1])),
        fractions=np.empty(size),
        by_logit=np.empty(size),
        slope=np.empty((3, size)),
    )
    for row in range(count):
        damping, cost = FIRST_DAMPING, np.inf
        write(logits[row], trial)
        for _ in range(1 + most_steps):  # the start is looked at first
            new = _linearised(tables, sets[row], trial, new_normal, new_pull, scratch)
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
