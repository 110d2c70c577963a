"""How far a result can wander when level, porosity, weights and time are not quite what was thought."""

from dataclasses import dataclass
from functools import lru_cache
from typing import Final

import numpy as np

from engine.arrays import FloatArray, frozen, within
from engine.bowl.mix import FULL_TIME_DRY, Bowl, Process, gains_of, lifted
from engine.colorimetry.difference import delta_e00
from engine.colorimetry.lab import lab_of, xyz_of
from engine.colorimetry.lights import Light, viewing
from engine.dye.fading import left_after
from engine.dye.shade import spectra_of, thins_of
from engine.dye.uptake import competitive_uptake
from engine.hair.canvas import RANGES, Canvas, coloured, fibres_of
from engine.hair.reflectance import mingled, reflectance
from engine.hair.residue import pigment, pigment_at_levels

SEED: Final = 20
SAMPLES: Final = 256
SHOWN: Final = 7


@dataclass(frozen=True, kw_only=True)
class Doubt:
    """Half-widths of what is not known for sure: level, porosity, grams of each shade, minutes."""

    level: float = 0.5
    porosity: float = 0.2
    grams: float = 0.5
    minutes: float = 3.0

    def __post_init__(self) -> None:
        for name, most in (("level", 5.0), ("porosity", 1.0), ("grams", 50.0), ("minutes", 60.0)):
            within(f"doubt.{name}", getattr(self, name), 0.0, most)


@dataclass(frozen=True, kw_only=True, eq=False)
class Spread:
    """The difference from the forecast that half, and that nine in ten, of the results stay within.

    lab: the forecast (3,). samples: L*a*b* (7, 3) of results from near to far.
    """

    lab: FloatArray
    within_50: float
    within_90: float
    samples: FloatArray


def spread(
    canvas: Canvas,
    bowl: Bowl,
    *,
    doubt: Doubt | None = None,
    process: Process = FULL_TIME_DRY,
    light: Light = Light.DAYLIGHT,
    samples: int = SAMPLES,
    seed: int = SEED,
    washes: float = 0,
) -> Spread:
    """Draw what is in doubt evenly from its range, forecast every draw at once, and sort by difference."""
    doubt = doubt or Doubt()
    labs = _labs(canvas, bowl, doubt, process, light, _draws(seed, samples, 3 + len(bowl.grams)), washes)
    wander = delta_e00(labs[0], labs[1:])
    order = np.argsort(wander)
    shown = order[np.round(np.linspace(0, samples - 1, 2 * SHOWN + 1)[1::2]).astype(int)]
    half, most = np.interp([0.5, 0.9], np.linspace(0, 1, samples), wander[order])
    return Spread(lab=frozen(labs[0]), within_50=float(half), within_90=float(most), samples=frozen(labs[1:][shown]))


@lru_cache(maxsize=64)
def _draws(seed: int, samples: int, columns: int) -> FloatArray:
    """Numbers between -1 and 1, (samples + 1, columns); the first row is the forecast itself."""
    drawn = np.random.default_rng(seed).uniform(-1, 1, size=(samples, columns))
    return frozen(np.vstack([np.zeros(columns), drawn]))


def _labs(
    canvas: Canvas, bowl: Bowl, doubt: Doubt, process: Process, light: Light, draws: FloatArray, washes: float
) -> FloatArray:
    """L*a*b* (draws, 3); columns of draws, each -1 to 1: level, porosity, minutes, then grams of each pour."""
    canvas = lifted(canvas, bowl.colours, process)
    levels = np.clip(canvas.level + doubt.level * draws[:, 0], *RANGES["level"])
    porosity = np.clip(canvas.porosity + doubt.porosity * draws[:, 1], *RANGES["porosity"])
    minutes = None
    if process.minutes is not None:
        minutes = np.maximum(process.minutes + doubt.minutes * draws[:, 2], 0)
    colours = bowl.colours
    pours = sorted(bowl.grams, key=lambda shade: shade.name)  # so that the order of pouring draws no other luck
    grams = np.maximum(np.array([bowl.grams[shade] for shade in pours]) + doubt.grams * draws[:, 3:], 0)
    grams = grams * thins_of(pours)
    fractions = grams / np.maximum(grams.sum(axis=-1, keepdims=True), 1e-9)
    fractions = fractions[:, [pours.index(shade) for shade in colours]]
    strengths = np.array([shade.strength for shade in colours])
    uptakes = competitive_uptake(fractions, strengths) * gains_of(colours, porosity, process, minutes)
    added = (uptakes * left_after(colours, washes, porosity)) @ spectra_of(colours)
    sure = fibres_of(canvas)
    moved = pigment_at_levels(canvas.family, levels, canvas.warmth, canvas.lean) - pigment(
        canvas.family, canvas.level, canvas.warmth, canvas.lean
    )
    moved[0] = 0  # the first draw is exact; the others come from a fine table of amounts
    view = viewing(light)
    pigments = np.repeat(sure.pigment[None], len(moved), axis=0)
    pigments[:, 0] += moved  # white fibres, if any, stay what they are
    absorption = mingled(coloured(sure.bare, pigments, sure.base, added), sure.share)
    return lab_of(xyz_of(reflectance(absorption), view.weights), view.white_xyz)
