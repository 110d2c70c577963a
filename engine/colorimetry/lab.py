"""XYZ, L*a*b* and LCh. Source: [CIE15]."""

from typing import Final

import numpy as np

from engine.arrays import FloatArray

EPSILON: Final = (6 / 29) ** 3  # below this, the cube root gives way to a straight line
SLOPE: Final = (29 / 6) ** 2 / 3
OFFSET: Final = 4 / 29


def xyz_of(reflectance: FloatArray, weights: FloatArray) -> FloatArray:
    """XYZ (..., 3), white Y = 1, of reflectance factors (..., bands) seen with weights (bands, 3)."""
    return reflectance @ weights


def lab_of(xyz: FloatArray, white_xyz: FloatArray) -> FloatArray:
    """L*a*b* (..., 3) of XYZ (..., 3) relative to a white (3,)."""
    ratio = xyz / white_xyz
    # The clip keeps the unused branch of `where` from raising a power of a negative number.
    f = np.where(ratio > EPSILON, np.cbrt(np.maximum(ratio, EPSILON)), SLOPE * ratio + OFFSET)
    return np.stack(
        [116 * f[..., 1] - 16, 500 * (f[..., 0] - f[..., 1]), 200 * (f[..., 1] - f[..., 2])],
        axis=-1,
    )


def lab_slope(xyz: FloatArray, white_xyz: FloatArray) -> FloatArray:
    """d(L*a*b*)/d(XYZ), (..., 3, 3): rows are L*, a*, b*, columns X, Y, Z."""
    ratio = xyz / white_xyz
    root = np.cbrt(np.maximum(ratio, EPSILON))
    f_slope = np.where(ratio > EPSILON, 1 / (3 * root * root), SLOPE) / white_xyz
    slope = np.zeros((*xyz.shape, 3))
    slope[..., 0, 1] = 116 * f_slope[..., 1]
    slope[..., 1, 0], slope[..., 1, 1] = 500 * f_slope[..., 0], -500 * f_slope[..., 1]
    slope[..., 2, 1], slope[..., 2, 2] = 200 * f_slope[..., 1], -200 * f_slope[..., 2]
    return slope


def xyz_from_lab(lab: FloatArray, white_xyz: FloatArray) -> FloatArray:
    """XYZ (..., 3) of L*a*b* (..., 3); the inverse of `lab_of`."""
    fy = (lab[..., 0] + 16) / 116
    f = np.stack([fy + lab[..., 1] / 500, fy, fy - lab[..., 2] / 200], axis=-1)
    return np.where(f > 6 / 29, f**3, (f - OFFSET) / SLOPE) * white_xyz


def lch_of(lab: FloatArray) -> FloatArray:
    """Lightness, chroma and hue in degrees 0-360 (..., 3) of L*a*b* (..., 3)."""
    hue_deg = np.degrees(np.arctan2(lab[..., 2], lab[..., 1])) % 360.0
    return np.stack([lab[..., 0], np.hypot(lab[..., 1], lab[..., 2]), hue_deg], axis=-1)


def lab_from_lch(lch: FloatArray) -> FloatArray:
    """L*a*b* (..., 3) of lightness, chroma and hue in degrees (..., 3)."""
    hue = np.radians(lch[..., 2])
    return np.stack([lch[..., 0], lch[..., 1] * np.cos(hue), lch[..., 1] * np.sin(hue)], axis=-1)
