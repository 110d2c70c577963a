"""From absorption over scattering (K/S) to the light that hair sends back."""

from typing import Final

import numpy as np

from engine.arrays import FloatArray

SURFACE_OUTSIDE: Final = 0.012  # k1: light turned back by the outside of the cuticle; chosen by the founders
SURFACE_INSIDE: Final = 0.45  # k2: light turned back into the fibre from within; chosen by the founders


def body_reflectance(absorption: FloatArray) -> FloatArray:
    """R_i of a thick layer with K/S (...) >= 0. Source: [KM31], written so that large K/S loses no digits."""
    return 1 / (1 + absorption + np.sqrt(absorption * (absorption + 2)))


def reflectance(absorption: FloatArray) -> FloatArray:
    """Reflectance factor (...) of K/S (...): Kubelka-Munk, then the surface correction. Source: [KM31], [SAU42]."""
    body = body_reflectance(absorption)
    return SURFACE_OUTSIDE + (1 - SURFACE_OUTSIDE) * (1 - SURFACE_INSIDE) * body / (1 - SURFACE_INSIDE * body)


def reflectance_and_slope(absorption: FloatArray) -> tuple[FloatArray, FloatArray]:
    """`reflectance` (...) and d(reflectance)/d(K/S) (...), never positive, from one square root.

    The slope is infinite at K/S = 0, which keratin never lets happen.
    """
    root = np.sqrt(absorption * (absorption + 2))
    body = 1 / (1 + absorption + root)
    passed = 1 - SURFACE_INSIDE * body
    gain = (1 - SURFACE_OUTSIDE) * (1 - SURFACE_INSIDE) * body / passed
    return SURFACE_OUTSIDE + gain, -gain / (passed * root)


def body_from_reflectance(measured: FloatArray) -> FloatArray:
    """R_i (...) from a measured reflectance factor; the inverse of the surface correction. Source: [SAU42]."""
    above = measured - SURFACE_OUTSIDE
    return above / ((1 - SURFACE_OUTSIDE) * (1 - SURFACE_INSIDE) + SURFACE_INSIDE * above)


def absorption_from_body(body: FloatArray) -> FloatArray:
    """K/S (...) of R_i (...) in 0-1. Source: [KM31]."""
    return (1 - body) ** 2 / (2 * body)
