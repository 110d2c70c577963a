"""Colours for the screen: sRGB, with colours it can't show pulled in at constant hue and lightness."""

from dataclasses import dataclass
from functools import lru_cache
from typing import Final

import numpy as np

from engine.arrays import BoolArray, FloatArray, frozen
from engine.colorimetry.lab import lab_from_lch, lab_of, lch_of, triple, xyz_from_lab

# IEC 61966-2-1: linear sRGB from XYZ relative to D65, and the white those numbers imply.
RGB_FROM_XYZ: Final = frozen(
    [[3.2406, -1.5372, -0.4986], [-0.9689, 1.8758, 0.0415], [0.0557, -0.2040, 1.0570]],
)
SCREEN_WHITE_XYZ: Final = frozen([0.9505, 1.0, 1.0890])
BRADFORD: Final = frozen([[0.8951, 0.2664, -0.1614], [-0.7502, 1.7135, 0.0367], [0.0389, -0.0685, 1.0296]])
GAMUT_TOLERANCE: Final = 0.002  # of linear light: the rounding of the published matrix, and well under one code value


@dataclass(frozen=True, kw_only=True, eq=False)
class ScreenColour:
    """Encoded sRGB (..., 3) in 0-1, and whether the colour was inside the screen's gamut (...)."""

    srgb: FloatArray
    in_gamut: BoolArray

    @property
    def hexes(self) -> list[str]:
        """Each colour as `#rrggbb`, in flat order."""
        return hexes_of(self.srgb)


def hexes_of(srgb: FloatArray) -> list[str]:
    """Encoded sRGB (..., 3) in 0-1 as `#rrggbb`, in flat order."""
    codes = np.rint(srgb.reshape(-1, 3) * 255).astype(np.uint8).tobytes().hex()
    return [f"#{codes[at : at + 6]}" for at in range(0, len(codes), 6)]


def encode(linear: FloatArray) -> FloatArray:
    """sRGB's transfer curve on linear light 0-1. Source: [IEC61966]."""
    return np.where(linear <= 0.0031308, 12.92 * linear, 1.055 * np.maximum(linear, 0.0031308) ** (1 / 2.4) - 0.055)


def decode(encoded: FloatArray) -> FloatArray:
    """Linear light 0-1 of encoded sRGB 0-1. Source: [IEC61966]."""
    return np.where(encoded <= 0.04045, encoded / 12.92, ((np.maximum(encoded, 0.04045) + 0.055) / 1.055) ** 2.4)


def adapt_to_screen(lab: FloatArray, white_xyz: FloatArray) -> FloatArray:
    """L*a*b* (..., 3) of the screen's D65 for an eye adapted to the white (3,) of another light. Source: [LAM85]."""
    adaptation = _adaptation(tuple(white_xyz.tolist()))
    return lab_of(xyz_from_lab(lab, white_xyz) @ adaptation.T, SCREEN_WHITE_XYZ)


@lru_cache(maxsize=16)
def _adaptation(white_xyz: tuple[float, ...]) -> FloatArray:
    """The matrix (3, 3) that takes XYZ seen under a white to XYZ seen on the screen."""
    gain = (BRADFORD @ SCREEN_WHITE_XYZ) / (BRADFORD @ np.array(white_xyz))
    return frozen(np.linalg.solve(BRADFORD, gain[:, None] * BRADFORD))


def linear_from_lab(lab: FloatArray) -> FloatArray:
    """Linear sRGB (..., 3), unclipped, of L*a*b* relative to the screen's white."""
    return xyz_from_lab(lab, SCREEN_WHITE_XYZ) @ RGB_FROM_XYZ.T


def fits_screen(lab: FloatArray) -> BoolArray:
    """Whether each L*a*b* (..., 3) lies inside sRGB."""
    return _inside(linear_from_lab(lab))


def _inside(linear: FloatArray) -> BoolArray:
    inside: BoolArray = np.all((linear >= -GAMUT_TOLERANCE) & (linear <= 1 + GAMUT_TOLERANCE), axis=-1)
    return inside


def largest_chroma(lab: FloatArray) -> FloatArray:
    """The largest chroma (...) that the screen shows at each colour's lightness and hue, up to its own chroma."""
    lch = lch_of(lab).reshape(-1, 3)
    chroma = lch[:, 1].copy()
    outside = np.flatnonzero(~fits_screen(lab).reshape(-1))
    low, high = np.zeros(len(outside)), chroma[outside]
    for _ in range(20 if len(outside) else 0):
        middle = (low + high) / 2
        fits = fits_screen(lab_from_lch(np.stack([lch[outside, 0], middle, lch[outside, 2]], axis=-1)))
        low, high = np.where(fits, middle, low), np.where(fits, high, middle)
    chroma[outside] = low
    return chroma.reshape(lab.shape[:-1])


def screen_colour(lab: FloatArray, white_xyz: FloatArray = SCREEN_WHITE_XYZ) -> ScreenColour:
    """The nearest showable colour of L*a*b* (..., 3), relative to a light's white, at the same hue and lightness."""
    adapted = adapt_to_screen(lab, white_xyz)
    linear = linear_from_lab(adapted)
    inside = _inside(linear)
    if not inside.all():
        lch = lch_of(adapted)
        linear = linear_from_lab(lab_from_lch(triple(lch[..., 0], largest_chroma(adapted), lch[..., 2])))
    return ScreenColour(srgb=frozen(encode(np.clip(linear, 0, 1))), in_gamut=inside)
