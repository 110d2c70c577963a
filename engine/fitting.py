"""A small bounded least-squares fit, for problems of a few unknowns."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Final

import numpy as np

from engine.arrays import FloatArray

STEP: Final = 1e-4  # of each unknown's range, for the slope
SETTLED: Final = 1e-10
ROUNDS: Final = 60


@dataclass(frozen=True, kw_only=True, eq=False)
class Fitted:
    """Where a fit ended, its squared residual, and whether it settled before the rounds ran out."""

    unknowns: FloatArray
    cost: float
    settled: bool


def bounded_fit(
    residual: Callable[[FloatArray], FloatArray], start: FloatArray, low: FloatArray, high: FloatArray
) -> Fitted:
    """Least squares of residual(unknowns) inside low..high, all (n,), by Levenberg-Marquardt.

    n may be 0. Slopes are numeric; an unknown that lies on a bound and is pushed outwards is held. Source: [MAR63].
    """
    unknowns, damping = np.clip(start, low, high), 1e-3
    reach = high - low
    now = residual(unknowns)
    cost = float(now @ now)
    if not len(unknowns):
        return Fitted(unknowns=unknowns, cost=cost, settled=True)
    for _ in range(ROUNDS):
        slope = _slope(residual, unknowns, now, low, high)
        pull = -slope.T @ now
        free = ~(((unknowns <= low) & (pull < 0)) | ((unknowns >= high) & (pull > 0)))
        if not free.any():
            return Fitted(unknowns=unknowns, cost=cost, settled=True)
        normal = (slope.T @ slope)[np.ix_(free, free)]
        step = np.zeros_like(unknowns)
        scale = np.diag(np.maximum(np.diag(normal), 1e-12) * damping + 1e-12 / reach[free] ** 2)
        step[free] = np.linalg.solve(normal + scale, pull[free])
        trial = np.clip(unknowns + step, low, high)
        then = residual(trial)
        trial_cost = float(then @ then)
        if trial_cost < cost:
            gain = cost - trial_cost
            unknowns, now, cost, damping = trial, then, trial_cost, damping * 0.3
            if gain <= SETTLED * (1 + cost):
                return Fitted(unknowns=unknowns, cost=cost, settled=True)
        else:
            damping *= 5
            if damping > 1e8:
                return Fitted(unknowns=unknowns, cost=cost, settled=True)
    return Fitted(unknowns=unknowns, cost=cost, settled=False)


def _slope(
    residual: Callable[[FloatArray], FloatArray], at: FloatArray, now: FloatArray, low: FloatArray, high: FloatArray
) -> FloatArray:
    """Numeric slope (residuals, unknowns), stepping away from the nearer bound."""
    columns = []
    for index, reach in enumerate(high - low):
        step = STEP * reach if at[index] + STEP * reach <= high[index] else -STEP * reach
        moved = at.copy()
        moved[index] += step
        columns.append((residual(moved) - now) / step)
    return np.stack(columns, axis=-1)
