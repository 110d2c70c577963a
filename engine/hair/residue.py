"""The pigment of hair, natural or left by lightening, and how much of it a level holds."""

from enum import StrEnum
from functools import cache, lru_cache
from typing import Final

import numpy as np

from engine.arrays import FloatArray, frozen
from engine.colorimetry.bands import band
from engine.colorimetry.grid import WAVELENGTHS_NM
from engine.colorimetry.lab import lab_of, response, response_slope, xyz_of
from engine.colorimetry.lights import Light, viewing
from engine.hair.reflectance import reflectance, reflectance_and_slope
from engine.tables import load_table

LEVEL_DARKEST: Final = 1.0
LEVEL_CLEAN_WHITE: Final = 11.0
LEAN_CENTRE_NM: Final = 500.0
LEAN_SIGMA_NM: Final = 45.0
EUMELANIN_EXPONENT: Final = 3.33  # [DJ06], from memory
PHEOMELANIN_EXPONENT: Final = 4.75  # [DJ06], from memory
SMALLEST_AMOUNT: Final = 0.02  # residue below this scale hardly shows; it sets where the solver turns logarithmic
LARGEST_AMOUNT: Final = 1e6
LIGHTNESS_TOLERANCE: Final = 1e-9


class Family(StrEnum):
    """What the pigment of a canvas is."""

    LIGHTENED = "lightened"
    NATURAL = "natural"


@cache
def keratin() -> FloatArray:
    """K/S (bands,) of clean, near-white hair; constants chosen by the founders."""
    return frozen(0.02 + 0.05 * np.exp(-(WAVELENGTHS_NM - 380) / 55))


def residue_shape(warmth: float, lean: float) -> FloatArray:
    """K (bands,) of one unit of left-over pigment: warmth steepens it, lean adds a red-orange band."""
    return (WAVELENGTHS_NM / 550) ** -(7 + 1.2 * warmth) + lean * band(LEAN_CENTRE_NM, LEAN_SIGMA_NM)


def natural_shape(lean: float) -> FloatArray:
    """K/S (bands,) of one unit of natural pigment: eumelanin, and pheomelanin by lean / 10. Source: [DJ06]."""
    red_share = lean / 10
    scaled = WAVELENGTHS_NM / 550
    return (1 - red_share) * scaled**-EUMELANIN_EXPONENT + red_share * scaled**-PHEOMELANIN_EXPONENT


def bare_lightness(absorption: FloatArray) -> FloatArray:
    """L* (...) in daylight of K/S (..., bands)."""
    daylight = viewing(Light.DAYLIGHT)
    return lab_of(xyz_of(reflectance(absorption), daylight.weights), daylight.white_xyz)[..., 0]


def level_lightness(level: FloatArray | float) -> FloatArray:
    """L* (...) of bare hair at levels (...): straight lines between the ladder's steps, clean keratin at level 11."""
    levels, lightness = _ladder()
    return np.asarray(np.interp(level, levels, lightness))


def level_of_lightness(lightness: FloatArray | float) -> FloatArray:
    """The level (...) of bare hair with lightness L* (...); the inverse of `level_lightness`, 1 to 11."""
    levels, known = _ladder()
    return np.asarray(np.interp(lightness, known, levels))


@cache
def _ladder() -> tuple[FloatArray, FloatArray]:
    ladder = load_table("level_ladder")
    levels = [*ladder.numbers("level"), LEVEL_CLEAN_WHITE]
    return frozen(levels), frozen([*ladder.numbers("lightness"), float(bare_lightness(keratin()))])


@lru_cache(maxsize=2048)
def pigment(family: Family, level: float, warmth: float, lean: float) -> FloatArray:
    """K/S (bands,) of a family's pigment at a level, in such an amount that bare hair has the level's lightness."""
    shape = natural_shape(lean) if family is Family.NATURAL else residue_shape(warmth, lean)
    if level >= LEVEL_CLEAN_WHITE:
        return frozen(np.zeros_like(shape))
    return amount_for_lightness(shape, float(level_lightness(level)))


def pigment_at_levels(family: Family, levels: FloatArray, warmth: float, lean: float) -> FloatArray:
    """`pigment` at many levels, (levels, bands), from a fine table: lightness within 0.02 of the exact solution."""
    shape = natural_shape(lean) if family is Family.NATURAL else residue_shape(warmth, lean)
    lightness, scaled = _amounts(family, warmth, lean)
    wanted = level_lightness(levels)
    amounts = SMALLEST_AMOUNT * np.expm1(np.interp(-wanted, -lightness, scaled))
    return amounts[:, None] * shape


@lru_cache(maxsize=256)
def _amounts(family: Family, warmth: float, lean: float) -> tuple[FloatArray, FloatArray]:
    """Lightness, falling, over an even grid of scaled amounts; both (nodes,)."""
    shape = natural_shape(lean) if family is Family.NATURAL else residue_shape(warmth, lean)
    scaled = np.linspace(0, np.log1p(LARGEST_AMOUNT / SMALLEST_AMOUNT), 1024)
    absorption = keratin() + SMALLEST_AMOUNT * np.expm1(scaled)[:, None] * shape
    return frozen(bare_lightness(absorption)), frozen(scaled)


def amount_for_lightness(shape: FloatArray, wanted: float, hair: FloatArray | None = None) -> FloatArray:
    """The multiple of an absorption shape (bands,) that gives hair the lightness L* `wanted`, (bands,).

    hair: its K/S (bands,), clean white by default; hair that is darker than wanted gets nothing.

    Lightness falls steadily as the amount grows, so the amount is bracketed and found by Newton's steps inside the
    bracket, on a scale that is logarithmic for large amounts; a step that would leave it is halved.
    """
    under, daylight = keratin() if hair is None else hair, viewing(Light.DAYLIGHT)
    weights, white = daylight.weights[:, 1], float(daylight.white_xyz[1])

    def excess(scaled: float) -> tuple[float, float]:
        """How much too light, and its slope."""
        seen, slope = reflectance_and_slope(under + SMALLEST_AMOUNT * np.expm1(scaled) * shape)
        responded = response(np.asarray(seen @ weights / white))
        steep = float((slope * shape) @ weights) / white * SMALLEST_AMOUNT * float(np.exp(scaled))
        return float(116 * responded - 16) - wanted, 116 * float(response_slope(responded)) * steep

    low, high = 0.0, float(np.log1p(LARGEST_AMOUNT / SMALLEST_AMOUNT))
    at, (found, steep) = low, excess(low)
    if found <= 0:
        return frozen(np.zeros_like(shape))
    while abs(found) >= LIGHTNESS_TOLERANCE and high - low >= LIGHTNESS_TOLERANCE:
        at = at - found / steep if steep < 0 else high
        if not low < at < high:
            at = (low + high) / 2
        found, steep = excess(at)
        low, high = (at, high) if found > 0 else (low, at)
    return frozen(SMALLEST_AMOUNT * np.expm1(at) * shape)
