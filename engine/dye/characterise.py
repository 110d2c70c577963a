"""A new shade's absorption from strand tests: the smoothest non-negative spectrum that gives those colours."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np

from engine.arrays import FloatArray, frozen, within
from engine.colorimetry.difference import delta_e00, local_metric
from engine.colorimetry.grid import BANDS, WAVELENGTHS_NM
from engine.colorimetry.lab import lab_of, xyz_of
from engine.colorimetry.lights import Light, viewing
from engine.dye.kind import Kind
from engine.dye.shade import SAMPLE_LIMIT, Shade
from engine.dye.uptake import competitive_uptake
from engine.errors import BadInput
from engine.fitting import bounded_fit
from engine.hair.canvas import Canvas, fibres_of
from engine.hair.reflectance import reflectance

NODES_NM: Final = frozen(np.arange(380, 781, 20))
ROUGHNESS: Final = 0.03  # delta E00 that a unit of second difference of the logarithm weighs; chosen by trial
SMALLEST_KS: Final = 1e-3
READINGS_LEAST: Final = 2


@dataclass(frozen=True, kw_only=True, eq=False)
class StrandTest:
    """The colour (3,) that a share 0-1 of the shade in clear gave on a canvas at full time, dry, in `light`."""

    canvas: Canvas
    share: float
    lab: FloatArray
    light: Light = Light.DAYLIGHT

    def __post_init__(self) -> None:
        within("share", self.share, 0.001, 1.0)


@dataclass(frozen=True, kw_only=True, eq=False)
class Characterised:
    """The shade that was found, and how far it misses each strand test, delta E00 (tests,)."""

    shade: Shade
    misses: FloatArray
    settled: bool


def characterise(name: str, tests: Sequence[StrandTest], *, kind: Kind = Kind.DIRECT) -> Characterised:
    """The shade whose absorption, at strength 1, explains the strand tests.

    The unknowns are logarithms of K/S every 20 nm, joined by straight lines, which keeps them positive and of even
    weight from strong to weak. Raises BadInput for fewer than two tests or tests of one dilution only.
    """
    if len(tests) < READINGS_LEAST or len({test.share for test in tests}) < READINGS_LEAST:
        raise BadInput("strand_tests", "strand_tests need two or more readings at two or more dilutions")
    metrics = [local_metric(test.lab) for test in tests]

    def residual(logs: FloatArray) -> FloatArray:
        absorption = _absorption(logs)
        misses = [
            metric @ (strand_lab(test, absorption) - test.lab) for metric, test in zip(metrics, tests, strict=True)
        ]
        return np.concatenate([*misses, ROUGHNESS * np.diff(logs, 2)])

    low, high = np.log(SMALLEST_KS), np.log(SAMPLE_LIMIT)
    count = len(NODES_NM)
    fitted = bounded_fit(residual, np.zeros(count), np.full(count, low), np.full(count, high))
    absorption = np.clip(_absorption(fitted.unknowns), 0, SAMPLE_LIMIT)
    shade = Shade(name=name, samples=tuple(absorption.tolist()), strength=1.0, kind=kind)
    misses = [float(delta_e00(test.lab, strand_lab(test, absorption))) for test in tests]
    return Characterised(shade=shade, misses=frozen(misses), settled=fitted.settled)


def strand_lab(test: StrandTest, absorption: FloatArray) -> FloatArray:
    """L*a*b* (3,) that an undiluted absorption (bands,) gives in a strand test."""
    uptake = competitive_uptake(np.array([test.share]), np.ones(1))[0] * test.canvas.porosity
    fibres, view = fibres_of(test.canvas), viewing(test.light)
    seen = reflectance(fibres.dyed(uptake * absorption))
    return lab_of(xyz_of(seen, view.weights), view.white_xyz)


def _absorption(logs: FloatArray) -> FloatArray:
    """K/S (bands,) of the logarithms at the nodes."""
    return np.exp(np.interp(WAVELENGTHS_NM, NODES_NM, logs)).reshape(BANDS)
