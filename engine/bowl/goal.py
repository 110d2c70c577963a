"""What a search steers for: the aims of one zone or several, all served by the same bowl."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import TYPE_CHECKING, Final

import numpy as np

from engine.arrays import FloatArray, IntArray, within
from engine.bowl.mix import Process
from engine.bowl.reckon import Reckoning, reckoning_of
from engine.colorimetry.difference import local_metric
from engine.colorimetry.lights import Light
from engine.dye.shade import Shade
from engine.dye.uptake import CROWDING
from engine.hair.canvas import Canvas, side_by_side
from engine.hair.reflectance import filled_up

if TYPE_CHECKING:
    from engine.bowl.loops.look import Tables

WEIGHT_LIMITS: Final = (0.01, 1000.0)
HIT: Final = 1e-4  # squared difference that is no difference: a hundredth of delta E00
LOGIT_LIMIT: Final = 9.0  # fractions from about 1:8000 to all but one part in 8000
FAR_OFF: Final = 1.5  # delta E00 from which the metric of small differences is no longer trusted


@dataclass(frozen=True, kw_only=True, eq=False)
class ZoneAim:
    """One zone that the bowl serves: its hair, the colour wanted there (3,), and how much the zone counts.

    steer_lab: the colour (3,) that a search steers for, where that is another; what is found is told by what is wanted.
    """

    canvas: Canvas
    target_lab: FloatArray
    weight: float = 1.0
    steer_lab: FloatArray | None = None

    def __post_init__(self) -> None:
        within("weight", self.weight, *WEIGHT_LIMITS)

    @property
    def sought_lab(self) -> FloatArray:
        """The colour (3,) that a search steers for."""
        return self.target_lab if self.steer_lab is None else self.steer_lab

    @property
    def told(self) -> "ZoneAim":
        """The aim as what is found is told by it: steered for nothing else."""
        return replace(self, steer_lab=None)

    def less(self, beside: FloatArray) -> "ZoneAim":
        """The aim as a search must take it for the forecast to be on it, where that lies so much (3,) beside."""
        steer = None if self.steer_lab is None else self.steer_lab - beside
        return replace(self, target_lab=self.target_lab - beside, steer_lab=steer)


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

    @cached_property
    def tables(self) -> "Tables":
        """All that a reckoning needs, zone by zone, for the compiled loops."""
        return tables_of(
            [sight.reckoning for sight in self.sights],
            targets=[sight.target_lab for sight in self.sights],
            metrics=[np.sqrt(sight.share) * sight.metric for sight in self.sights],
            zone_share=[sight.share for sight in self.sights],
        )

    def difference(self, fractions: FloatArray, sets: IntArray | None = None) -> FloatArray:
        """The true difference delta E00 (...) of fractions (..., k) of shades, the mean over zones by share.

        sets: which shades, (..., k) or what broadcasts to it; all of the shelf by default.
        """
        from engine.bowl.loops import look

        size = fractions.shape[-1]
        members = np.broadcast_to(np.arange(size) if sets is None else sets, fractions.shape)
        rows = np.ascontiguousarray(members.reshape(-1, size)), np.ascontiguousarray(fractions.reshape(-1, size))
        return look.differences(self.tables, *rows).reshape(fractions.shape[:-1])

    def coarse(self) -> "Goal":
        """The same on every second band."""
        return Goal(sights=tuple(replace(sight, reckoning=sight.reckoning.coarse()) for sight in self.sights))


def tables_of(
    reckonings: Sequence[Reckoning],
    targets: Sequence[FloatArray] = (),
    metrics: Sequence[FloatArray] = (),
    zone_share: Sequence[float] = (),
) -> "Tables":
    """What the compiled loops read of reckonings of the same shades, with or without an aim."""
    from engine.bowl.loops.look import Tables

    first = reckonings[0]
    fibres = side_by_side([each.fibres for each in reckonings])
    return Tables(
        hair=fibres.bare + filled_up(fibres.pigment, fibres.base[:, None, :]),
        bare=fibres.bare,
        pigment=fibres.pigment,
        base=fibres.base,
        fibre_share=fibres.share,
        takes=np.array([each.strengths * each.gains * (1 + CROWDING) for each in reckonings]),
        spectra=first.spectra.copy(),
        weights=np.ascontiguousarray((first.view.weights / first.view.white_xyz).T),
        targets=np.array(targets).reshape(-1, 3),
        metrics=np.array(metrics).reshape(-1, 3, 3),
        zone_share=np.array(zone_share),
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
                target_lab=zone.sought_lab,
                metric=local_metric(zone.sought_lab),
                share=float(share),
            )
            for zone, share in zip(zones, shares_of(zones), strict=True)
        )
    )


def _merged(zones: Sequence[ZoneAim]) -> list[ZoneAim]:
    """Zones of the same hair and aim joined into one of their whole weight."""
    weights: dict[tuple[Canvas, tuple[float, ...]], float] = {}
    for zone in zones:
        key = (zone.canvas, tuple(zone.sought_lab.tolist()))
        weights[key] = weights.get(key, 0.0) + zone.weight
    if len(weights) == len(zones):
        return list(zones)
    return [
        ZoneAim(canvas=canvas, target_lab=np.array(target), weight=min(weight, WEIGHT_LIMITS[1]))
        for (canvas, target), weight in weights.items()
    ]
