"""Many small fits at once: the fractions of every candidate set of shades that come nearest to a target.

Each set of k shades is fitted in logits z, with x_i = exp(z_i) / (1 + sum exp(z_j)) and clear as the rest, so that
every fraction is positive and they never add up to more than one. Depth goes roughly with the logarithm
of the fraction, which makes the problem nearly linear in z. Levenberg-Marquardt with the analytic Jacobian,
all sets in one batch. Source: [MAR63].
"""

from dataclasses import dataclass
from typing import Final

import numpy as np
from numpy.typing import NDArray

from engine.arrays import BoolArray, FloatArray
from engine.bowl.reckon import Reckoning
from engine.colorimetry.difference import local_metric

IntArray = NDArray[np.intp]

LOGIT_LIMIT: Final = 9.0  # fractions from about 1:8000 to all but one part in 8000
STARTS: Final = (-4.0, -1.0)  # a pastel (about 1:55) and a vivid mix
STEPS: Final = 16
SETTLED: Final = 1e-3  # relative gain in squared difference below which a fit has settled
HIT: Final = 1e-4  # squared difference that is no difference: a hundredth of delta E00


@dataclass(frozen=True, kw_only=True, eq=False)
class Fit:
    """The best fractions found for each set, (sets, k), and whether each fit settled, (sets,)."""

    fractions: FloatArray
    settled: BoolArray


def fit_sets(reckoning: Reckoning, sets: IntArray, target_lab: FloatArray) -> Fit:
    """Fit every set (sets, k) of shade indices to a target (3,), from each start, and keep the nearer result."""
    metric, coarse = local_metric(target_lab), reckoning.coarse()
    runs = [_fit_from(coarse, sets, target_lab, metric, start) for start in STARTS]
    costs = np.stack([cost for _, cost, _ in runs])
    best = costs.argmin(axis=0)
    pick = np.arange(len(sets))
    return Fit(
        fractions=_fractions(np.stack([z for z, _, _ in runs])[best, pick]),
        settled=np.stack([settled for _, _, settled in runs])[best, pick],
    )


def _fractions(logits: FloatArray) -> FloatArray:
    odds: FloatArray = np.exp(logits)
    total: FloatArray = odds.sum(axis=-1, keepdims=True)
    return odds / (1 + total)


def _scatter(sets: IntArray, fractions: FloatArray, shades: int) -> FloatArray:
    """Fractions of a set's shades spread over the whole shelf, (sets, shades)."""
    spread = np.zeros((len(sets), shades))
    np.put_along_axis(spread, sets, fractions, axis=1)
    return spread


def _fit_from(
    reckoning: Reckoning, sets: IntArray, target_lab: FloatArray, metric: FloatArray, start: float
) -> tuple[FloatArray, FloatArray, BoolArray]:
    """One run: logits (sets, k), squared differences (sets,), and whether each settled (sets,)."""
    count, size = sets.shape
    logits = np.full((count, size), start)
    damping = np.full(count, 0.01)
    cost, slope, residual = _linearise(reckoning, sets, logits, target_lab, metric)
    live = np.ones(count, dtype=bool)
    for _ in range(STEPS):
        at = np.flatnonzero(live)
        if not len(at):
            break
        trial = np.clip(logits[at] + _step(slope[at], residual[at], damping[at]), -LOGIT_LIMIT, LOGIT_LIMIT)
        new_cost, new_slope, new_residual = _linearise(reckoning, sets[at], trial, target_lab, metric)
        better = new_cost < cost[at]
        won = at[better]
        gain = (cost[at] - new_cost) / np.maximum(cost[at], HIT)
        logits[won], slope[won], residual[won] = trial[better], new_slope[better], new_residual[better]
        cost[won] = new_cost[better]
        damping[at] = np.where(better, damping[at] * 0.2, damping[at] * 6)
        live[at] = ~(better & (gain < SETTLED)) & (damping[at] < 1e6) & (cost[at] > HIT)
    return logits, cost, ~live


def _linearise(
    reckoning: Reckoning, sets: IntArray, logits: FloatArray, target_lab: FloatArray, metric: FloatArray
) -> tuple[FloatArray, FloatArray, FloatArray]:
    """Squared difference (sets,), slope of the weighted residual (sets, 3, k), and the residual (sets, 3)."""
    fractions = _fractions(logits)
    shelf_fractions = _scatter(sets, fractions, len(reckoning.spectra))
    lab, lab_by_fraction = reckoning.lab_and_slope(shelf_fractions)
    own = np.take_along_axis(lab_by_fraction, sets[:, None, :], axis=2)
    # d x_i / d z_j = x_i (delta_ij - x_j)
    through_all = (own * fractions[:, None, :]).sum(axis=-1, keepdims=True)
    by_logit = (own - through_all) * fractions[:, None, :]
    residual = (lab - target_lab) @ metric.T
    return (residual**2).sum(axis=-1), metric @ by_logit, residual


def _step(slope: FloatArray, residual: FloatArray, damping: FloatArray) -> FloatArray:
    """Damped Gauss-Newton steps (sets, k), scaled by each column's own size."""
    normal = np.swapaxes(slope, -1, -2) @ slope
    size = normal.shape[-1]
    diagonal = np.einsum("sii->si", normal)
    floor = diagonal.max(axis=-1, keepdims=True) * 1e-6 + 1e-12
    damped = normal + np.eye(size) * (damping[:, None] * np.maximum(diagonal, floor) + floor)[:, None, :]
    pull = (np.swapaxes(slope, -1, -2) @ residual[..., None])[..., 0]
    return -np.linalg.solve(damped, pull[..., None])[..., 0]
