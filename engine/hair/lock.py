"""The tones of a lock of hair: how one colour looks in shadow, in the body of the lock, and in its shine."""

from typing import Final

import numpy as np

from engine.arrays import FloatArray, frozen
from engine.colorimetry.lab import lab_of, xyz_of
from engine.colorimetry.lights import Light, viewing
from engine.colorimetry.screen import decode, encode, screen_colour
from engine.hair.canvas import Fibres
from engine.hair.reflectance import (
    SURFACE,
    absorption_from,
    reflectance,
)

# From the deepest gap between strands to the shine, body in the middle: how much longer the light's path through
# pigment is, how much light falls there, and how much the cuticle mirrors. Chosen by the founders by eye.
TONES: Final = frozen(
    [
        [2.20, 0.42, 0.000],
        [1.60, 0.62, 0.000],
        [1.25, 0.82, 0.000],
        [1.00, 1.00, 0.000],
        [0.88, 1.08, 0.008],
        [0.75, 1.15, 0.030],
        [0.62, 1.20, 0.075],
    ]
)
BODY: Final = 3
FULL_SHINE_FROM: Final = 0.09  # of the light that the body gives back, in its middle band: darker hair mirrors less


def lock_tones(fibres: Fibres, added: FloatArray, light: Light = Light.DAYLIGHT) -> FloatArray:
    """L*a*b* (..., tones, 3) of a lock with K/S (..., bands) added to its fibres; the body tone is the forecast."""
    path = TONES[:, 0, None]
    seen = reflectance(path * fibres.dyed(added)[..., None, :])
    view = viewing(light)
    return lab_of(xyz_of(lit_up(seen), view.weights), view.white_xyz)


def lit_up(seen: FloatArray) -> FloatArray:
    """What comes back from each tone, reflectance (..., tones, bands), with the light that falls there and its shine.

    seen: what the strands give back by themselves, in the same shape. Dark hair mirrors less than would make it grey.
    """
    lit, shine = TONES[:, 1, None], TONES[:, 2, None]
    full = np.minimum(np.median(seen[..., BODY, :], axis=-1) / FULL_SHINE_FROM, 1.0)[..., None, None]
    up: FloatArray = np.clip(lit * seen + shine * full, 0.0, 1.0)
    return up


def tones_of_colour(lab: FloatArray) -> FloatArray:
    """Screen tones (..., tones, 3), encoded sRGB, of a lock of which only the colour L*a*b* (..., 3) is known.

    The screen's three primaries stand for a spectrum of three bands, and go the way of `lock_tones`.
    """
    primaries = np.clip(decode(screen_colour(lab).srgb), SURFACE + 1e-4, 1 - 1e-6)
    absorption = absorption_from(primaries)[..., None, :]
    return encode(lit_up(reflectance(TONES[:, 0, None] * absorption)))
