"""What a search steers for: the aims of one zone or several, all served by the same bowl."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from engine.arrays import FloatArray
from engine.bowl.mix import Process
from engine.bowl.reckon import IntArray, Reckoning, reckoning_of
from engine.colorimetry.difference import delta_e00, local_metric
from engine.colorimetry.lights import Light
from engine.dye.shade import Shade
from engine.hair.canvas import Canvas


@dataclass(frozen=True, kw_only=True, eq=False)
class Sight:
    """One zone's aim: how its colours are reckoned, the target (3,), its metric (3, 3), and its share of the whole."""

    reckoning: Reckoning
    target_lab: FloatArray
    metric: FloatArray
    share: float


@dataclass(frozen=True, kw_only=True, eq=False)
class Goal:
    """The sights of all zones; their shares add up to 1."""

    sights: tuple[Sight, ...]

    @property
    def shades(self) -> int:
        """How many coloured shades the shelf has."""
        return len(self.sights[0].reckoning.spectra)

    def scatter(self, sets: IntArray, fractions: FloatArray) -> FloatArray:
        """Fractions (..., k) of the shades of sets (..., k), spread over the whole shelf, (..., shades)."""
        spread = np.zeros((*sets.shape[:-1], self.shades))
        np.put_along_axis(spread, sets, fractions, axis=-1)
        return spread

    def difference(self, fractions: FloatArray) -> FloatArray:
        """The true difference delta E00 (...) of fractions (..., shades): the mean over zones by share."""
        found: FloatArray = sum(
            (sight.share * delta_e00(sight.target_lab, sight.reckoning.lab(fractions)) for sight in self.sights),
            np.zeros(fractions.shape[:-1]),
        )
        return found

    def linearise(self, sets: IntArray, fractions: FloatArray) -> tuple[FloatArray, FloatArray]:
        """The weighted residual (sets, 3 zones) and its slope (sets, 3 zones, k) for fractions (sets, k) of sets.

        Its square is near the mean squared difference over zones, in the metric of small differences.
        """
        residuals, slopes = [], []
        for sight in self.sights:
            lab, slope = sight.reckoning.lab_and_slope(sets, fractions)
            weighted = float(np.sqrt(sight.share)) * sight.metric
            residuals.append((lab - sight.target_lab) @ weighted.T)
            slopes.append(weighted @ slope)
        if len(self.sights) == 1:
            return residuals[0], slopes[0]
        return np.concatenate(residuals, axis=-1), np.concatenate(slopes, axis=-2)

    def coarse(self) -> "Goal":
        """The same on every second band."""
        return Goal(sights=tuple(replace(sight, reckoning=sight.reckoning.coarse()) for sight in self.sights))

    def screening(self) -> "Goal":
        """The same on every fourth band and in single precision, to tell which sets are worth a closer look."""
        return Goal(
            sights=tuple(
                replace(
                    sight,
                    reckoning=sight.reckoning.coarse().coarse().single(),
                    target_lab=sight.target_lab.astype(np.float32),
                    metric=sight.metric.astype(np.float32),
                )
                for sight in self.sights
            )
        )


def goal_of(
    canvases: Sequence[Canvas],
    targets_lab: Sequence[FloatArray],
    weights: Sequence[float],
    colours: Sequence[Shade],
    process: Process,
    light: Light,
) -> Goal:
    """The goal of zones with their canvases, targets (3,) and weights, all mixed from the same coloured shades."""
    total = float(sum(weights))
    return Goal(
        sights=tuple(
            Sight(
                reckoning=reckoning_of(canvas, colours, process, light),
                target_lab=target_lab,
                metric=local_metric(target_lab),
                share=weight / total,
            )
            for canvas, target_lab, weight in zip(canvases, targets_lab, weights, strict=True)
        )
    )
