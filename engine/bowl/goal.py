"""What a search steers for: the aims of one zone or several, all served by the same bowl."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Final

import numpy as np

from engine.arrays import FloatArray, within
from engine.bowl.mix import Process
from engine.bowl.reckon import IntArray, Reckoning, reckoning_of
from engine.colorimetry.difference import delta_e00, local_metric
from engine.colorimetry.lights import Light
from engine.dye.shade import Shade
from engine.hair.canvas import Canvas

WEIGHT_LIMITS: Final = (0.01, 1000.0)
FAR_OFF: Final = 1.5  # delta E00 from which the metric of small differences is no longer trusted


@dataclass(frozen=True, kw_only=True, eq=False)
class ZoneAim:
    """One zone that the bowl serves: its hair, the colour wanted there (3,), and how much the zone counts."""

    canvas: Canvas
    target_lab: FloatArray
    weight: float = 1.0

    def __post_init__(self) -> None:
        within("weight", self.weight, *WEIGHT_LIMITS)


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

    def near_difference(self, fractions: FloatArray) -> FloatArray:
        """The difference (...) in the metric of small differences: a fifth of the work, for a first look only."""
        found: FloatArray = sum(
            (
                sight.share
                * np.linalg.norm((sight.reckoning.lab(fractions) - sight.target_lab) @ sight.metric.T, axis=-1)
                for sight in self.sights
            ),
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


def shares_of(zones: Sequence[ZoneAim]) -> FloatArray:
    """Each zone's share of the whole, (zones,)."""
    weights = np.array([zone.weight for zone in zones])
    shares: FloatArray = weights / weights.sum()
    return shares


def goal_of(zones: Sequence[ZoneAim], colours: Sequence[Shade], process: Process, light: Light) -> Goal:
    """The goal of zones that are all mixed for from the same coloured shades; zones that are alike count as one."""
    zones = _merged(zones)
    return Goal(
        sights=tuple(
            Sight(
                reckoning=reckoning_of(zone.canvas, colours, process, light),
                target_lab=zone.target_lab,
                metric=local_metric(zone.target_lab),
                share=float(share),
            )
            for zone, share in zip(zones, shares_of(zones), strict=True)
        )
    )


def _merged(zones: Sequence[ZoneAim]) -> list[ZoneAim]:
    """Zones of the same hair and aim joined into one of their whole weight."""
    weights: dict[tuple[Canvas, tuple[float, ...]], float] = {}
    for zone in zones:
        key = (zone.canvas, tuple(zone.target_lab.tolist()))
        weights[key] = weights.get(key, 0.0) + zone.weight
    if len(weights) == len(zones):
        return list(zones)
    return [
        ZoneAim(canvas=canvas, target_lab=np.array(target), weight=min(weight, WEIGHT_LIMITS[1]))
        for (canvas, target), weight in weights.items()
    ]
