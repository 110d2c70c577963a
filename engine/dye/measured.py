"""A shade whose absorption an instrument has measured."""

from typing import Final

import numpy as np

from engine.arrays import FloatArray, within
from engine.colorimetry.grid import WAVELENGTHS_NM
from engine.dye.families import smooth
from engine.dye.kind import Kind
from engine.dye.known import NODES, NODES_NM, Known, doubt_from
from engine.dye.shade import SAMPLE_LIMIT, SMALLEST_KS, Shade
from engine.errors import BadInput
from engine.hair.canvas import Canvas, fibres_of
from engine.hair.reflectance import STEEPNESS, SURFACE, absorption_from

MEASURED_SD: Final = 0.08  # of the logarithm of K all over: how a strand was laid, soaked and rinsed; the founders'
COURSE_SD: Final = 0.06  # and of its course, which an instrument sees well
NOISE: Final = 0.003  # of a reflectance: on a strand that is nearly black it leaves most of K open
UNSEEN_SD: Final = 0.7  # of the logarithm, at most: where a strand takes all light, K is some much
ABOVE_SURFACE: Final = 1e-3  # reflectance over the surface's below which nothing is told of K
LIGHTER_MOST: Final = 0.5  # share of the bands in which a dyed strand may be lighter than its hair
COUNT_SHOWN: Final = 1
COURSE_NM: Final = 60.0


def from_reflectance(name: str, reflectance: FloatArray, canvas: Canvas, *, share: float, kind: Kind) -> Shade:
    """The shade of which a share 0-1 in clear gave a strand's reflectance (bands,) on a canvas.

    K is what the strand absorbs more than its hair, by the law of hair assemblies. Raises BadInput for a strand that is
    lighter than its hair.
    """
    within("share", share, 0.001, 1.0)
    fibres = fibres_of(canvas)
    bare = fibres.dyed(np.zeros_like(fibres.base))
    seen = np.clip(reflectance, SURFACE + ABOVE_SURFACE, 1.0)
    added = absorption_from(seen) - bare
    if float((added < 0).mean()) > LIGHTER_MOST:
        raise BadInput("spectrum", "spectrum is of a strand that is lighter than its hair: is it this level's?")
    # What noise of the reflectance does to K, and K's change to the logarithm of what was added.
    steep = 2 * np.sqrt(absorption_from(seen)) / (STEEPNESS * (seen - SURFACE))
    unsure = np.minimum(NOISE * steep / np.maximum(added, SMALLEST_KS), UNSEEN_SD)
    return _known(name, np.maximum(added, 0) / (share * canvas.porosity), kind, unsure)


def from_absorption(name: str, absorption: FloatArray, *, kind: Kind) -> Shade:
    """The shade that absorbs K (bands,) undiluted on porosity 1. Raises BadInput where it absorbs nothing."""
    return _known(name, absorption, kind, np.zeros_like(absorption))


def _known(name: str, absorption: FloatArray, kind: Kind, unsure: FloatArray) -> Shade:
    """A shade with the doubt of a measurement. unsure: standard deviation (bands,) of the logarithm of K, by noise."""
    if float(absorption.max()) <= SMALLEST_KS:
        raise BadInput("spectrum", "spectrum absorbs nothing: that is clear")
    samples = np.clip(absorption, SMALLEST_KS, SAMPLE_LIMIT)
    noise = np.interp(NODES_NM, WAVELENGTHS_NM, unsure)
    covariance = np.full((NODES, NODES), MEASURED_SD**2) + smooth(COURSE_SD, COURSE_NM) + np.outer(noise, noise)
    return Shade(
        name=name,
        samples=tuple(samples.round(6).tolist()),
        strength=1.0,
        kind=kind,
        doubt=doubt_from(covariance, Known.INSTRUMENT, COUNT_SHOWN),
    )
