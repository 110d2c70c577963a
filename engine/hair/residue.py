"""The warm pigment that lightening leaves, and how much of it a level holds."""

from functools import cache, lru_cache
from typing import Final

import numpy as np

from engine.arrays import FloatArray, frozen
from engine.colorimetry.grid import WAVELENGTHS_NM
from engine.colorimetry.lab import lab_of, xyz_of
from engine.colorimetry.lights import Light, viewing
from engine.dye.bands import band
from engine.hair.reflectance import reflectance
from engine.tables import load_table

LEVEL_DARKEST: Final = 1.0
LEVEL_CLEAN_WHITE: Final = 11.0
LEAN_CENTRE_NM: Final = 500.0
LEAN_SIGMA_NM: Final = 45.0
SMALLEST_AMOUNT: Final = 0.02  # residue below this scale hardly shows; it sets where the solver turns logarithmic
LARGEST_AMOUNT: Final = 1e6
LIGHTNESS_TOLERANCE: Final = 1e-9


@cache
def keratin() -> FloatArray:
    """K/S (bands,) of clean, near-white hair; constants chosen by the founders."""
    return frozen(0.02 + 0.05 * np.exp(-(WAVELENGTHS_NM - 380) / 55))


def residue_shape(warmth: float, lean: float) -> FloatArray:
    """K/S (bands,) of one unit of left-over pigment: warmth steepens it, lean adds a red-orange band."""
    return (WAVELENGTHS_NM / 550) ** -(9 + 1.5 * warmth) + lean * band(LEAN_CENTRE_NM, LEAN_SIGMA_NM)


def bare_lightness(absorption: FloatArray) -> FloatArray:
    """L* (...) in daylight of K/S (..., bands)."""
    daylight = viewing(Light.DAYLIGHT)
    return lab_of(xyz_of(reflectance(absorption), daylight.weights), daylight.white_xyz)[..., 0]


def level_lightness(level: float) -> float:
    """L* of bare hair at a level: straight lines between the ladder's steps, clean keratin at level 11."""
    ladder = load_table("level_ladder")
    levels = [*ladder.numbers("level"), LEVEL_CLEAN_WHITE]
    lightness = [*ladder.numbers("lightness"), float(bare_lightness(keratin()))]
    return float(np.interp(level, levels, lightness))


@lru_cache(maxsize=1024)
def residue(level: float, warmth: float, lean: float) -> FloatArray:
    """K/S (bands,) of the pigment left at a level, in such an amount that bare hair has the level's lightness.

    Lightness falls steadily as the amount grows, so the amount is bracketed and found by the secant inside
    the bracket (Illinois form), on a scale that is logarithmic for large amounts.
    """
    shape = residue_shape(warmth, lean)
    if level >= LEVEL_CLEAN_WHITE:
        return frozen(np.zeros_like(shape))
    wanted = level_lightness(level)

    def excess(scaled: float) -> float:
        return float(bare_lightness(keratin() + SMALLEST_AMOUNT * np.expm1(scaled) * shape)) - wanted

    low, high = 0.0, float(np.log1p(LARGEST_AMOUNT / SMALLEST_AMOUNT))
    above, below = excess(low), excess(high)
    while True:
        middle = (low * below - high * above) / (below - above)
        found = excess(middle)
        if abs(found) < LIGHTNESS_TOLERANCE or high - low < LIGHTNESS_TOLERANCE:
            return frozen(SMALLEST_AMOUNT * np.expm1(middle) * shape)
        if found > 0:
            low, above, below = middle, found, below / 2
        else:
            high, below, above = middle, found, above / 2
