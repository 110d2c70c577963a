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
from engine.colorimetry.difference import local_metric
from engine.colorimetry.lab import lab_of, lab_slope, xyz_of
from engine.colorimetry.lights import Viewing
from engine.dye.uptake import CROWDING, competitive_uptake
from engine.hair.canvas import Fibres
from engine.hair.reflectance import reflectance, reflectance_slope

IntArray = NDArray[np.intp]

LOGIT_LIMIT: Final = 9.0  # fractions from about 1:8000 to all but one part in 8000
STARTS: Final = (-4.0, -1.0)  # a pastel (about 1:55) and a vivid mix
STEPS: Final = 24
SETTLED: Final = 1e-6  # relative gain in squared difference below which a fit has settled


@dataclass(frozen=True, kw_only=True, eq=False)
class Reckoning:
    """What a forecast of fractions needs. spectra: (shades, bands). strengths, gains: (shades,)."""

    fibres: Fibres
    view: Viewing
    spectra: FloatArray
    strengths: FloatArray
    gains: FloatArray

    def lab(self, fractions: FloatArray) -> FloatArray:
        """L*a*b* (..., 3) of fractions (..., shades)."""
        return lab_of(self._xyz(self._absorption(fractions)), self.view.white_xyz)

    def lab_and_slope(self, fractions: FloatArray) -> tuple[FloatArray, FloatArray]:
        """L*a*b* (sets, 3) and its slope against fractions (sets, 3, shades)."""
        absorption = self._absorption(fractions)
        xyz = self._xyz(absorption)
        share = self.fibres.share[:, None]
        seen_slope = (reflectance_slope(absorption) * share).sum(axis=-2)  # (sets, bands)
        weighted = self.view.weights.T[:, None, :] * self.spectra  # (3, shades, bands)
        xyz_slope = (seen_slope @ weighted.reshape(-1, weighted.shape[-1]).T).reshape(len(fractions), 3, -1)
        uptake_scale = self.strengths * self.gains * (1 + CROWDING)
        crowd = 1 + CROWDING * fractions.sum(axis=-1)[:, None, None]
        # d u_i / d x_j = scale_i (delta_ij / crowd - beta x_i / crowd^2)
        through_crowd = (xyz_slope * (uptake_scale * fractions)[:, None, :]).sum(axis=-1, keepdims=True)
        xyz_slope = xyz_slope * uptake_scale / crowd - CROWDING * through_crowd / crowd**2
        return lab_of(xyz, self.view.white_xyz), lab_slope(xyz, self.view.white_xyz) @ xyz_slope

    def _absorption(self, fractions: FloatArray) -> FloatArray:
        added = (competitive_uptake(fractions, self.strengths) * self.gains) @ self.spectra
        return self.fibres.absorption + added[..., None, :]

    def _xyz(self, absorption: FloatArray) -> FloatArray:
        return xyz_of(self.fibres.share @ reflectance(absorption), self.view.weights)


@dataclass(frozen=True, kw_only=True, eq=False)
class Fit:
    """The best fractions found for each set, (sets, k), and whether each fit settled, (sets,)."""

    fractions: FloatArray
    settled: BoolArray


def fit_sets(reckoning: Reckoning, sets: IntArray, target_lab: FloatArray) -> Fit:
    """Fit every set (sets, k) of shade indices to a target (3,), from each start, and keep the nearer result."""
    metric = local_metric(target_lab)
    runs = [_fit_from(reckoning, sets, target_lab, metric, start) for start in STARTS]
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
        gain = (cost[at] - new_cost) / np.maximum(cost[at], SETTLED)
        logits[won], slope[won], residual[won] = trial[better], new_slope[better], new_residual[better]
        cost[won] = new_cost[better]
        damping[at] = np.where(better, damping[at] * 0.2, damping[at] * 6)
        live[at] = ~(better & (gain < SETTLED)) & (damping[at] < 1e6) & (cost[at] > SETTLED)
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
