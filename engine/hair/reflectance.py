"""From absorption (K) to the light that hair sends back: the law of hair assemblies.

A lock is no paint film: light runs along and between thousands of clear cylinders before it comes back. Path-traced
locks (`engine/tables/rendered_hair`) follow R = s + (1 - s) exp(-q sqrt(K)) within half a unit of L*; the albedo of a
hair volume has the same form in [CHI16]. K keeps the scale of K/S that the spectra were given in.
"""

from typing import Final

import numpy as np

from engine.arrays import FloatArray, falling, five_thirds, sixth_root, three_fifths

MIXED: Final = 0.6  # the power of the mean among fibres that lie among one another
SURFACE: Final = 0.012  # s: what the cuticle sends back before any pigment is met, shine excluded
STEEPNESS: Final = 2.378  # q: so that clean white hair has L* 87.15, as it had before


def reflectance(absorption: FloatArray) -> FloatArray:
    """Reflectance factor (...) of K (...) >= 0. Source: [CHI16] for the form, path-traced hair for the constants."""
    return SURFACE + (1 - SURFACE) * falling(-STEEPNESS * np.sqrt(absorption))


def reflectance_and_slope(absorption: FloatArray) -> tuple[FloatArray, FloatArray]:
    """`reflectance` (...) and d(reflectance)/dK (...), never positive.

    The slope is infinite at K = 0, which keratin never lets happen.
    """
    root = np.sqrt(absorption)
    gain = (1 - SURFACE) * falling(-STEEPNESS * root)
    return SURFACE + gain, -gain * STEEPNESS / (2 * root)


def absorption_from(measured: FloatArray) -> FloatArray:
    """K (...) of a reflectance factor (...) between the surface's and 1; the inverse of `reflectance`."""
    root = np.log((1 - SURFACE) / (measured - SURFACE)) / STEEPNESS
    return root * root


def mingled(absorption: FloatArray, share: FloatArray) -> FloatArray:
    """K (..., bands) of fibres of several kinds that lie among one another, from theirs (..., kinds, bands).

    share: (..., kinds), sum 1. Light that leaves a white fibre meets a dark one: a mean of the power 0.6, which is that
    of path-traced mixtures. It lies between the mean of K and the mean of reflectances, which is what lies side by side
    in patches and is far too light.
    """
    if absorption.shape[-2] == 1:
        return absorption[..., 0, :]
    return five_thirds((share[..., None] * three_fifths(absorption)).sum(axis=-2))


def filled_up(pigment: FloatArray, base: FloatArray) -> FloatArray:
    """K (...) of a hair's pigment with an oxidative shade's neutral base: the base fills up what is missing.

    On white hair it brings the whole of itself, over as much pigment hardly any: an oxidative colour is matched to its
    level, and a neutral of the hair's own level leaves its depth alone. Common practice, no published source; the power
    of the sum, 6, is the founders'.
    """
    there, more = pigment * pigment * pigment, base * base * base
    return sixth_root(there * there + more * more)
