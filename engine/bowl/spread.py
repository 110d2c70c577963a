"""How far a result can wander: shades, physics, hair, weights and time are not quite what was thought."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Final
from zlib import crc32

import numpy as np

from engine.arrays import FloatArray, frozen, within
from engine.bowl.doses import Worked
from engine.bowl.mix import FULL_TIME_DRY, Bowl, Process, gains_of, lifted_under
from engine.bowl.taught import look
from engine.colorimetry.difference import delta_e00
from engine.colorimetry.grid import BANDS
from engine.colorimetry.lab import lab_of, xyz_of
from engine.colorimetry.lights import Light, viewing
from engine.dye.fading import left_after
from engine.dye.shade import Shade, spectra_of, thins_of
from engine.dye.uptake import competitive_uptake
from engine.hair.canvas import RANGES, Canvas, coloured, fibres_of
from engine.hair.reading import canvas_lab
from engine.hair.reflectance import mingled, reflectance
from engine.hair.residue import pigment, pigment_at_levels
from engine.hair.source import POROSITY_SD, Source
from engine.knowledge.knowledge import REMAINDER_PRIOR, Knowledge
from engine.knowledge.remainder import per_axis_of, presence
from engine.knowledge.unknowns import LINE_SD, SHADE_SD

SEED: Final = 20
SAMPLES: Final = 256
SHOWN: Final = 7
HARDLY_OFF: Final = 2.0  # delta E00 within which a result counts as a hit
UNKNOWN_SD: Final = float(np.hypot(SHADE_SD, LINE_SD))  # of the logarithm of a shade's strength
UNLEARNED: Final = np.array(per_axis_of(REMAINDER_PRIOR))  # of L*a*b*: what is not known of a studio's physics
EVEN: Final = 3**0.5  # half-width of an even range over its standard deviation


@dataclass(frozen=True, kw_only=True)
class Doubt:
    """Half-widths of what is not known for sure: level, porosity, grams of each shade, minutes.

    What is read off hair is drawn from a bell of the variance that an even range of that half-width has.
    """

    level: float = EVEN * Source.EYE.level_sd
    porosity: float = 0.15
    grams: float = 0.25
    minutes: float = 3.0

    def __post_init__(self) -> None:
        for name, most in (("level", 5.0), ("porosity", 1.0), ("grams", 50.0), ("minutes", 60.0)):
            within(f"doubt.{name}", getattr(self, name), 0.0, most)


@dataclass(frozen=True, kw_only=True, eq=False)
class Spread:
    """The difference from the forecast that half, and that nine in ten, of the results stay within.

    lab: the forecast (3,). samples: L*a*b* (samples, 3) of results from near to far.
    """

    lab: FloatArray
    within_50: float
    within_90: float
    samples: FloatArray

    @property
    def shown(self) -> FloatArray:
        """A few of the samples (7, 3), from near to far."""
        count = len(self.samples)
        few: FloatArray = self.samples[np.round(np.linspace(0, count - 1, 2 * SHOWN + 1)[1::2]).astype(int)]
        return few

    @property
    def ends(self) -> FloatArray:
        """How it looks where it comes out deeper, and lighter, than all but a tenth: L*a*b* (2, 3)."""
        by_depth = self.samples[np.argsort(self.samples[:, 0], kind="stable")]
        tenth = max(len(by_depth) // 10, 1)
        ends: FloatArray = np.stack([by_depth[:tenth].mean(axis=0), by_depth[-tenth:].mean(axis=0)])
        return ends

    def chance(self, target_lab: FloatArray, most: float = HARDLY_OFF) -> float:
        """The chance 0-1 that a result comes within `most` delta E00 of a target (3,)."""
        return float(np.mean(delta_e00(target_lab, self.samples) <= most))


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
    """Draw what is in doubt, forecast every draw at once, and sort by difference.

    Weights and time are drawn evenly from their ranges; what is read off hair, and how strong shades are, from a bell.
    What a studio's results have left in doubt is drawn from a covariance of L*a*b*, by the slopes of the forecast.
    """
    doubt = doubt or Doubt()
    taught, colours = process.taught, bowl.colours
    unsure = [] if taught else [_unsure(shade, seed, samples) for shade in colours]
    labs = _labs(canvas, bowl, doubt, process, light, _draws(bowl, seed, samples), washes, unsure)
    luck = _unlearned(seed, samples)
    if taught and colours:
        known = look([Worked(canvas=canvas, coats=((bowl, process),), washes=washes)], light, taught)
        labs = labs + (known.lab[0] - labs[0])
        labs[1:] += luck @ _root(known.covariance[0]).T
    elif colours:
        bare = canvas_lab(canvas, light)
        labs[1:] += luck * UNLEARNED * presence(labs[:1], bare[None])
    return _sorted(labs)


def spread_of_coats(
    worked: Worked,
    *,
    level_sd: float = Source.EYE.level_sd,
    taught: Knowledge | None = None,
    light: Light = Light.DAYLIGHT,
    samples: int = SAMPLES,
    seed: int = SEED,
) -> Spread:
    """How far hair under several coats may wander, each coat with its own shades: by the slopes of the forecast.

    level_sd: how surely its level is known beneath them, 0.35 as read by eye.
    """
    known = look([worked], light, taught)
    level, porosity = level_sd * known.told.by_level[0], POROSITY_SD * known.told.by_porosity[0]
    doubt = known.covariance[0] + np.outer(level, level) + np.outer(porosity, porosity)
    labs = np.vstack([known.lab, known.lab + _unlearned(seed, samples) @ _root(doubt).T])
    return _sorted(labs)


def _sorted(labs: FloatArray) -> Spread:
    """A spread from L*a*b* (samples + 1, 3), the forecast first."""
    wander = delta_e00(labs[0], labs[1:])
    order = np.argsort(wander)
    half, most = np.interp([0.5, 0.9], np.linspace(0, 1, len(wander)), wander[order])
    return Spread(lab=frozen(labs[0]), within_50=float(half), within_90=float(most), samples=frozen(labs[1:][order]))


def _unsure(shade: Shade, seed: int, samples: int) -> FloatArray:
    """What a shade's K may be over what it is thought to be, (samples + 1, 1 or bands), the first as it is thought."""
    if shade.doubt is None:
        return _strengths(_lot(shade), seed, samples)
    by_band = shade.doubt.by_band
    ways = [_bell(seed, samples, f"{_lot(shade)} {way}") for way in range(len(by_band))]
    return np.exp(
        sum((np.append(0.0, way)[:, None] * row for way, row in zip(ways, by_band, strict=True)), np.zeros(1))
    )


@lru_cache(maxsize=256)
def _strengths(lot: str, seed: int, samples: int) -> FloatArray:
    return frozen(np.exp(UNKNOWN_SD * np.append(0.0, _bell(seed, samples, lot)))[:, None])


@lru_cache(maxsize=4096)
def _lot(shade: Shade) -> str:
    """What draws a shade's luck: what it does. Bowls that share a shade share its luck, whatever else is in them."""
    return f"{shade.tone.argmax()} {shade.strength * shade.tone.sum():.6g} {shade.is_clear}"


def _draws(bowl: Bowl, seed: int, samples: int) -> FloatArray:
    """Luck (samples + 1, 3 + pours) of the variance of an even range from -1 to 1; the first row is the forecast.

    Level and porosity are normal, minutes and pours, in the bowl's order, even.
    """
    return _drawn(tuple(map(_lot, bowl.grams)), seed, samples)


@lru_cache(maxsize=256)
def _drawn(pours: tuple[str, ...], seed: int, samples: int) -> FloatArray:
    read = [_bell(seed, samples, name) / EVEN for name in ("level", "porosity")]
    weighed = [_even(seed, samples, lot) for lot in ("minutes", *pours)]
    return np.vstack([np.zeros(len(read) + len(weighed)), np.stack([*read, *weighed], axis=-1)])


@lru_cache(maxsize=64)
def _unlearned(seed: int, samples: int) -> FloatArray:
    """Normal luck (samples, 3) of what is not known of physics."""
    return frozen(np.stack([_bell(seed, samples, axis) for axis in ("L", "a", "b")], axis=-1))


@lru_cache(maxsize=1024)
def _even(seed: int, samples: int, lot: str) -> FloatArray:
    """Numbers (samples,) from -1 to 1, always the same for a lot."""
    return frozen(_luck(seed, f"even {lot}").uniform(-1, 1, size=samples))


@lru_cache(maxsize=1024)
def _bell(seed: int, samples: int, lot: str) -> FloatArray:
    """Normal numbers (samples,), always the same for a lot."""
    return frozen(_luck(seed, f"bell {lot}").normal(size=samples))


def _luck(seed: int, lot: str) -> np.random.Generator:
    return np.random.default_rng([seed, crc32(lot.encode())])


def _root(covariance: FloatArray) -> FloatArray:
    """A root of a covariance (3, 3), which may lack a direction."""
    values, vectors = np.linalg.eigh(covariance)
    root: FloatArray = vectors * np.sqrt(np.maximum(values, 0))
    return root


def _labs(
    canvas: Canvas,
    bowl: Bowl,
    doubt: Doubt,
    process: Process,
    light: Light,
    draws: FloatArray,
    washes: float,
    unsure: Sequence[FloatArray],
) -> FloatArray:
    """L*a*b* (draws, 3); columns of draws: level, porosity, minutes, then grams of each pour, in half-widths.

    unsure: what the K of each shade may be over what it is thought to be, (draws, 1 or bands).
    """
    canvas = lifted_under(canvas, bowl, process)
    levels = np.clip(canvas.level + doubt.level * draws[:, 0], *RANGES["level"])
    porosity = np.clip(canvas.porosity + doubt.porosity * draws[:, 1], *RANGES["porosity"])
    minutes = None
    if process.minutes is not None:
        minutes = np.maximum(process.minutes + doubt.minutes * draws[:, 2], 0)
    colours = bowl.colours
    pours = list(bowl.grams)
    grams = np.maximum(np.array([bowl.grams[shade] for shade in pours]) + doubt.grams * draws[:, 3:], 0)
    grams = grams * thins_of(pours)
    fractions = grams / np.maximum(grams.sum(axis=-1, keepdims=True), 1e-9)
    fractions = fractions[:, [pours.index(shade) for shade in colours]]
    strengths = np.array([shade.strength for shade in colours])
    uptakes = competitive_uptake(fractions, strengths) * gains_of(colours, porosity, process, minutes)
    taken, spectra = uptakes * left_after(colours, washes, porosity), spectra_of(colours)
    if all(each.shape[-1] == 1 for each in unsure):
        taken = taken * np.hstack(unsure) if unsure else taken
        added = taken @ spectra
    else:
        tones = zip(taken.T, spectra[:, :BANDS], unsure, strict=True)
        added = sum((each[:, None] * tone * may for each, tone, may in tones), np.zeros((len(taken), BANDS)))
        if spectra.shape[-1] > BANDS:
            added = np.hstack([added, taken @ spectra[:, BANDS:]])
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
