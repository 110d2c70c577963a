"""The most likely unknowns, how surely they are known, and how well a model of them bears out what was seen."""

from dataclasses import dataclass
from math import lgamma
from typing import Final

import numpy as np

from engine.arrays import FloatArray
from engine.hair.source import POROSITY_SD
from engine.knowledge.told import Told, told
from engine.knowledge.unknowns import Layout
from engine.learning.study import Study

TAILS: Final = 4.0  # degrees of freedom of Student's t: a record that is far out counts little [LAN89]
T_PEAK: Final = lgamma((TAILS + 3) / 2) - lgamma(TAILS / 2) - 1.5 * float(np.log(TAILS * np.pi))
GROSS_SHARE: Final = 0.03  # of records name another shade or level than was there; the founders' estimate
GROSS_SD: Final = 12.0  # delta E00 by which such a one lies off
ROUNDS: Final = 12
SETTLED: Final = 0.02  # of a standard deviation before any record: far less than is ever known
NEAR: Final = 0.5  # standard deviations within which slopes by level are kept
LEAP_MOST: Final = 2.5  # standard deviations, before any record, that one round may move an unknown
NOISE_TRUST: Final = 6.0  # in how many records' worth of faith the noise is what the sources say
NOISE_LIMITS: Final = (0.3, 4.0)


@dataclass(frozen=True, kw_only=True, eq=False)
class Model:
    """Which unknowns are let in, the remainder's standard deviation in L*, a* and b*, and its centres (waves, 4)."""

    name: str
    layout: Layout
    centres: FloatArray
    remainder: tuple[float, float, float] = (0.0, 0.0, 0.0)

    def spreads(self, study: Study) -> FloatArray:
        """Standard deviations (size,) before any record."""
        return self.layout.spreads(self.remainder, study.shade_sd)


@dataclass(frozen=True, kw_only=True, eq=False)
class Fitted:
    """unknowns (size,), root (size, size) whose square is their covariance, and the noise over what sources say.

    evidence: the logarithm of how likely the records are under the model, by Laplace [MAC92]. weights (n,): how much
    each record counts, 1 as it stands. left_out: the miss of a fit without that record, (n, 3), in units of delta E00.
    far: squared distance (n,) of each record from the fit without it, in standard deviations.
    frames: roots (n, 3, 3) of what is in doubt of each record beside the unknowns, in delta E00.
    """

    model: Model
    unknowns: FloatArray
    root: FloatArray
    noise: float
    evidence: float
    weights: FloatArray
    left_out: FloatArray
    far: FloatArray
    frames: FloatArray


def fit(study: Study, model: Model, start: FloatArray, noise: float = 1.0, rounds: int = ROUNDS) -> Fitted:
    """Gauss and Newton's steps with Student's weights, from a start (size,), up to some rounds."""
    spread = model.spreads(study)
    unknowns, now = start, told(study.subject, model.layout, start, model.centres)
    for _ in range(rounds):
        step = _Step(study, now, unknowns, spread, noise)
        wanted = step.solution - unknowns
        leap = float(np.max(np.abs(wanted) / spread, initial=0.0))
        unknowns = unknowns + wanted * min(1.0, LEAP_MOST / max(leap, 1e-12))
        now = told(study.subject, model.layout, unknowns, model.centres, now.by_level if leap < NEAR else None)
        noise, before = step.noise, noise
        if leap < SETTLED and abs(noise / before - 1) < 0.03:
            break
    last = _Step(study, now, unknowns, spread, noise)
    return Fitted(
        model=model,
        unknowns=unknowns,
        root=last.root * spread[:, None],
        noise=noise,
        evidence=last.evidence,
        weights=last.weights,
        left_out=last.left_out,
        far=last.far,
        frames=last.frames,
    )


class _Step:
    """The records seen from one place: all in units of their own doubt, and unknowns in units of theirs."""

    def __init__(self, study: Study, now: Told, unknowns: FloatArray, spread: FloatArray, noise: float) -> None:
        self.missed = np.einsum("nxy,ny->nx", study.metrics, study.actual_lab - now.lab)
        self.frames = _frames(study, now, noise)
        inverse = np.linalg.inv(self.frames)
        self.seen = np.einsum("nxy,ny->nx", inverse, self.missed)
        slopes = np.einsum("nxy,nyu->nxu", inverse @ study.metrics, now.slopes) * spread
        far = (self.seen**2).sum(axis=-1)
        sound, logs = _soundness(far, self.missed, self.frames)
        self.weights = sound * (TAILS + 3) / (TAILS + far)
        scaled = unknowns / spread
        heavy = np.sqrt(self.weights)[:, None, None] * slopes
        flat = heavy.reshape(-1, heavy.shape[-1])
        self.precision = flat.T @ flat + np.eye(len(spread))
        lower = np.linalg.cholesky(self.precision)
        pull = np.einsum("nxu,nx->u", slopes * self.weights[:, None, None], self.seen) - scaled
        self.solution = (scaled + np.linalg.solve(lower.T, np.linalg.solve(lower, pull))) * spread
        self.root = np.linalg.inv(lower).T
        reach = heavy @ self.root
        hats = reach @ reach.transpose(0, 2, 1)  # (n, 3, 3)
        certain = np.clip(np.trace(hats, axis1=1, axis2=2), 0, 2.9)
        self.noise = _noise_of(noise, self.weights, far, certain)
        freed = np.linalg.solve(np.eye(3) * 1.0001 - hats, self.seen[..., None])[..., 0]
        self.left_out = np.einsum("nxy,ny->nx", self.frames, freed)
        # How far out a record lies of what all the others say of it, their own doubt included.
        self.far = (freed * self.seen).sum(axis=-1)
        self.evidence = float(logs.sum() - 0.5 * scaled @ scaled - np.log(np.diag(lower)).sum())


def _soundness(far: FloatArray, missed: FloatArray, frames: FloatArray) -> tuple[FloatArray, FloatArray]:
    """How likely each record is sound (n,), and the logarithm (n,) of how likely it is at all.

    A sound one lies about the forecast by Student's t; one in GROSS_SHARE was noted wrongly and lies anywhere near.
    """
    scale = np.log(np.abs(np.linalg.det(frames)))
    t = T_PEAK - 0.5 * (TAILS + 3) * np.log1p(far / TAILS) - scale + np.log(1 - GROSS_SHARE)
    gross = np.log(GROSS_SHARE) - 1.5 * np.log(2 * np.pi * GROSS_SD**2) - 0.5 * (missed**2).sum(axis=-1) / GROSS_SD**2
    whole = np.logaddexp(t, gross)
    return np.exp(t - whole), whole


def _frames(study: Study, now: Told, noise: float) -> FloatArray:
    """Roots (n, 3, 3) of what is in doubt of each record but the unknowns, in delta E00: the eye, level, porosity."""
    by_level = np.einsum("nxy,ny->nx", study.metrics, now.by_level) * study.level_sd[:, None]
    by_porosity = np.einsum("nxy,ny->nx", study.metrics, now.by_porosity) * POROSITY_SD
    whole = np.eye(3) * (noise * study.judged_sd[:, None, None]) ** 2
    whole = whole + by_level[:, :, None] * by_level[:, None, :] + by_porosity[:, :, None] * by_porosity[:, None, :]
    return np.linalg.cholesky(whole)


def _noise_of(noise: float, weights: FloatArray, far: FloatArray, certain: FloatArray) -> float:
    """The noise that would make records lie as far out as they do, drawn towards what their sources say."""
    lie, expect = float((weights * far + certain).sum()), 3.0 * len(far)
    ratio = (lie + 3 * NOISE_TRUST) / (expect + 3 * NOISE_TRUST)
    return float(np.clip(noise * np.sqrt(ratio), *NOISE_LIMITS))
