"""XYZ, L*a*b* and LCh. Source: [CIE15]."""

from typing import Final

import numpy as np

from engine.arrays import FloatArray, either

EPSILON: Final = (6 / 29) ** 3  # below this, the cube root gives way to a straight line
JOINED: Final = 6 / 29  # the response there, where both have the same slope
SLOPE: Final = (29 / 6) ** 2 / 3
OFFSET: Final = 4 / 29


def triple(first: FloatArray, second: FloatArray, third: FloatArray) -> FloatArray:
    """Three arrays (...) side by side, (..., 3); for single colours several times as fast as `numpy.stack`."""
    joined = np.empty((*np.shape(first), 3), dtype=np.result_type(first, second, third))
    joined[..., 0], joined[..., 1], joined[..., 2] = first, second, third
    return joined


def xyz_of(reflectance: FloatArray, weights: FloatArray) -> FloatArray:
    """XYZ (..., 3), white Y = 1, of reflectance factors (..., bands) seen with weights (bands, 3)."""
    return reflectance @ weights


def lab_of(xyz: FloatArray, white_xyz: FloatArray) -> FloatArray:
    """L*a*b* (..., 3) of XYZ (..., 3) relative to a white (3,)."""
    f = response(xyz / white_xyz)
    return triple(*coordinates_of(f[..., 0], f[..., 1], f[..., 2]))


def coordinates_of(x: FloatArray, y: FloatArray, z: FloatArray) -> tuple[FloatArray, FloatArray, FloatArray]:
    """L*, a* and b* (...) of three responses (...), element by element."""
    return 116 * y - 16, 500 * (x - y), 200 * (y - z)


def coordinate_slopes(x: FloatArray, y: FloatArray, z: FloatArray) -> tuple[FloatArray, FloatArray, FloatArray]:
    """How L*, a* and b* (...) move as three responses move by x, y and z (...), element by element."""
    return 116 * y, 500 * (x - y), 200 * (y - z)


def response(ratio: FloatArray) -> FloatArray:
    """The paper's f (...) of tristimulus values over the white's (...), element by element."""
    # The clip keeps the unused branch of `either` from raising a power of a negative number.
    return either(ratio > EPSILON, np.cbrt(np.maximum(ratio, EPSILON)), SLOPE * ratio + OFFSET)


def response_slope(responded: FloatArray) -> FloatArray:
    """The slope (...) of `response` where it has a value (...), element by element."""
    root = np.maximum(responded, JOINED)
    return 1 / (3 * root * root)


def xyz_from_lab(lab: FloatArray, white_xyz: FloatArray) -> FloatArray:
    """XYZ (..., 3) of L*a*b* (..., 3); the inverse of `lab_of`."""
    fy = (lab[..., 0] + 16) / 116
    f = triple(fy + lab[..., 1] / 500, fy, fy - lab[..., 2] / 200)
    return np.where(f > 6 / 29, f * f * f, (f - OFFSET) / SLOPE) * white_xyz


def lch_of(lab: FloatArray) -> FloatArray:
    """Lightness, chroma and hue in degrees 0-360 (..., 3) of L*a*b* (..., 3)."""
    hue_deg = np.degrees(np.arctan2(lab[..., 2], lab[..., 1])) % 360.0
    return triple(lab[..., 0], np.hypot(lab[..., 1], lab[..., 2]), hue_deg)


def lab_from_lch(lch: FloatArray) -> FloatArray:
    """L*a*b* (..., 3) of lightness, chroma and hue in degrees (..., 3)."""
    hue = np.radians(lch[..., 2])
    return triple(lch[..., 0], lch[..., 1] * np.cos(hue), lch[..., 1] * np.sin(hue))
