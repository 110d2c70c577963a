"""From a measured colour of hair to its canvas: level, undertone, and what does not fit as a cast."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Final

import numpy as np

from engine.arrays import FloatArray, frozen
from engine.colorimetry.difference import delta_e00, local_metric
from engine.colorimetry.lab import lab_of, lch_of, xyz_of
from engine.colorimetry.lights import Light, viewing
from engine.colorimetry.words import GREY_CHROMA, hue_word
from engine.fitting import bounded_fit
from engine.hair.canvas import RANGES, Absorber, Canvas, OldColour, fibres_of
from engine.hair.reflectance import mingled, reflectance
from engine.hair.residue import level_of_lightness
from engine.language import say

CAST_FROM: Final = 1.0  # delta E00 from which what does not fit is called a cast
CAST_MOST: Final = 12.0  # K/S of old colour that a reading may explain
# Among all explanations of a reading, the plainest: pulls in delta E00 for each unit of warmth, lean and old colour.
PLAINNESS: Final = frozen([0.02, 0.01, 0.02])
LEVEL_FIRST: Final = frozen([1.0, -2.0, 0.0])
LEVEL_LAST: Final = frozen([11.0, 2.0, 10.0])
LEVEL_DOUBT_LEAST: Final = 0.1
STARTS: Final = ((0.0, 0.0), (0.0, 4.0), (-1.0, 1.0), (1.0, 1.0))


@dataclass(frozen=True, kw_only=True, eq=False)
class Cast:
    """What a bare canvas can't explain: its hue in a word, and its size."""

    word: str
    delta_e00: float


@dataclass(frozen=True, kw_only=True, eq=False)
class HairReading:
    """A canvas read from a colour, with old colour if a dye explains its cast, and the miss that is left.

    bare_lab: L*a*b* (3,) of the best canvas without old colour.
    """

    canvas: Canvas
    cast: Cast | None
    bare_lab: FloatArray
    miss_delta_e00: float


def read_hair(
    lab: FloatArray, *, light: Light = Light.DAYLIGHT, casts: Sequence[Absorber] = (), porosity: float = 1.0
) -> HairReading:
    """Read L*a*b* (3,), measured in `light`, as lightened hair.

    casts: dyes that may explain what level, warmth and lean can't; without them a cast is only named.
    """
    metric = local_metric(lab)
    bare = _best_bare(lab, metric, light, porosity)
    bare_lab = canvas_lab(bare, light)
    miss = float(delta_e00(lab, bare_lab))
    if miss < CAST_FROM:
        return HairReading(canvas=bare, cast=None, bare_lab=frozen(bare_lab), miss_delta_e00=miss)
    cast = Cast(word=cast_word(lab, bare_lab), delta_e00=miss)
    explained = [_with_old(lab, metric, light, bare, dye) for dye in casts]
    canvases = [bare, *explained]
    misses = [float(delta_e00(lab, canvas_lab(canvas, light))) for canvas in canvases]
    best = int(np.argmin(misses))
    return HairReading(canvas=canvases[best], cast=cast, bare_lab=frozen(bare_lab), miss_delta_e00=misses[best])


@lru_cache(maxsize=1024)
def canvas_lab(canvas: Canvas, light: Light = Light.DAYLIGHT) -> FloatArray:
    """L*a*b* (3,) of a bare canvas in a light, read-only."""
    fibres, view = fibres_of(canvas), viewing(light)
    seen = reflectance(mingled(fibres.absorption, fibres.share))
    return frozen(lab_of(xyz_of(seen, view.weights), view.white_xyz))


def level_doubt(lightness: float, stray: float) -> float:
    """How many levels a colour of L* may be off when it strays by so many units; never less than a tenth."""
    low, high = (float(level_of_lightness(lightness + away)) for away in (-stray, stray))
    return max((high - low) / 2, LEVEL_DOUBT_LEAST)


def cast_word(lab: FloatArray, bare_lab: FloatArray) -> str:
    """The hue of what a reading has over the bare canvas; 'dark' or 'pale' when it is no hue."""
    over = lab - bare_lab
    if np.hypot(over[1], over[2]) < GREY_CHROMA / 2:
        return say("dark") if over[0] < 0 else say("pale")
    return hue_word(float(lch_of(over)[2]))


def _best_bare(lab: FloatArray, metric: FloatArray, light: Light, porosity: float) -> Canvas:
    def canvas(unknowns: FloatArray) -> Canvas:
        level, warmth, lean = (float(u) for u in unknowns)
        return Canvas(level=level, warmth=warmth, lean=lean, porosity=porosity)

    def residual(unknowns: FloatArray) -> FloatArray:
        return np.concatenate([metric @ (canvas_lab(canvas(unknowns), light) - lab), PLAINNESS[:2] * unknowns[1:]])

    guess = float(np.clip(1 + 10 * (float(lab[0]) - 18) / 69, *RANGES["level"]))
    fits = [bounded_fit(residual, np.array([guess, *start]), LEVEL_FIRST, LEVEL_LAST) for start in STARTS]
    return canvas(min(fits, key=lambda fit: fit.cost).unknowns)


def _with_old(lab: FloatArray, metric: FloatArray, light: Light, bare: Canvas, dye: Absorber) -> Canvas:
    """The canvas of which one dye is the old colour that explains the reading best."""

    def canvas(unknowns: FloatArray) -> Canvas:
        level, warmth, lean, k_s = (float(u) for u in unknowns)
        old = (OldColour(shade=dye, k_s=k_s),)
        return Canvas(level=level, warmth=warmth, lean=lean, porosity=bare.porosity, old=old)

    def residual(unknowns: FloatArray) -> FloatArray:
        return np.concatenate([metric @ (canvas_lab(canvas(unknowns), light) - lab), PLAINNESS * unknowns[1:]])

    start = np.array([min(bare.level + 1, 11.0), bare.warmth / 2, bare.lean / 2, 0.2])
    low, high = np.array([*LEVEL_FIRST, 0.0]), np.array([*LEVEL_LAST, CAST_MOST])
    return canvas(bounded_fit(residual, start, low, high).unknowns)
