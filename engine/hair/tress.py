"""A tress from root to end: the tones of several zones, blended at their seams."""

from collections.abc import Sequence
from dataclasses import dataclass, field
from itertools import pairwise
from typing import Final

import numpy as np

from engine.arrays import FloatArray, frozen, within
from engine.colorimetry.lab import lab_of, xyz_of
from engine.colorimetry.lights import Light, viewing
from engine.hair.canvas import Fibres
from engine.hair.lock import TONES, lit_up
from engine.hair.reflectance import reflectance

NOTHING_OFF: Final = frozen(np.zeros(3))
BLEND_MOST: Final = 0.5  # of the tress; a wider seam is no seam


@dataclass(frozen=True, kw_only=True, eq=False)
class Seam:
    """A stretch of a tress as far as its shape goes: its share of the length, and the seam after it.

    blend: the width of the seam to the next stretch as a share of the whole tress, 0 for a hard line.
    """

    length: float = 1.0
    blend: float = 0.1

    def __post_init__(self) -> None:
        within("length", self.length, 0.01, 100.0)
        within("blend", self.blend, 0.0, BLEND_MOST)


@dataclass(frozen=True, kw_only=True, eq=False)
class Stretch(Seam):
    """One zone's stretch of a tress: its fibres, and K/S added to them (bands,).

    off: how far a studio's forecast of it lies from the engine's own, L*a*b* (3,).
    """

    fibres: Fibres
    added: FloatArray
    off: FloatArray = field(default_factory=lambda: NOTHING_OFF)


def seam_weights(stretches: Sequence[Seam], along: FloatArray) -> FloatArray:
    """How much of each stretch shows at places 0-1 along the tress, (places, stretches); rows sum to 1.

    Across a seam the stretch above gives way to the one below in a straight line, as wide as its blend.
    """
    lengths = np.array([stretch.length for stretch in stretches])
    seams = np.cumsum(lengths)[:-1] / lengths.sum()
    below = np.ones((len(along), len(stretches)))
    for index, (seam, stretch) in enumerate(zip(seams, stretches, strict=False)):
        width = max(stretch.blend, 1e-6)
        below[:, index + 1] = np.clip((along - seam) / width + 0.5, 0, 1)
    above = np.ones_like(below)
    for index, (_, following) in enumerate(pairwise(range(len(stretches)))):
        above[:, index] = 1 - below[:, following]
    weights = np.cumprod(below, axis=1) * above
    shares: FloatArray = weights / weights.sum(axis=1, keepdims=True)
    return shares


def tress_tones(stretches: Sequence[Stretch], along: FloatArray, light: Light = Light.DAYLIGHT) -> FloatArray:
    """L*a*b* (places, tones, 3) along a tress: where two stretches meet, their fibres lie side by side."""
    path = TONES[:, 0, None]
    seen = np.stack([reflectance(path * stretch.fibres.dyed(stretch.added)) for stretch in stretches])
    weights = seam_weights(stretches, along)
    mixed = np.tensordot(weights, seen, axes=1)
    view = viewing(light)
    labs = lab_of(xyz_of(lit_up(mixed), view.weights), view.white_xyz)
    off = weights @ np.stack([stretch.off for stretch in stretches])
    if off.any():
        labs = labs + off[:, None, :]
        labs[..., 0] = np.clip(labs[..., 0], 0, 100)
    return labs
