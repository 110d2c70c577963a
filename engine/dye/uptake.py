"""How much of each shade in a bowl ends up on the hair."""

from typing import Final

import numpy as np

from engine.arrays import FloatArray

CROWDING: Final = 0.0  # beta: how soon dyes compete for room in the fibre; nothing that is known bears it out yet
DAMP_LOSS: Final = 0.15  # share of a direct dye that damp hair does not take
DAMP_EVENS: Final = 0.5  # how far water moves porosity towards 1


def competitive_uptake(fractions: FloatArray, strengths: FloatArray) -> FloatArray:
    """K/S units (..., shades) at full time on porosity 1, competitive Langmuir. Source: [LAN18], chosen form.

    fractions: (..., shades), grams of each shade over grams of all shades and clear. strengths: (shades,) in K/S.
    """
    crowd: FloatArray = fractions.sum(axis=-1, keepdims=True)
    return strengths * fractions * (1 + CROWDING) / (1 + CROWDING * crowd)


def effective_porosity(porosity: FloatArray, *, damp: bool) -> FloatArray:
    """Porosity (...) as the dye meets it: on damp hair half way towards 1."""
    return porosity + (1 - porosity) * DAMP_EVENS if damp else porosity


def wetness(is_direct: FloatArray, *, damp: bool) -> FloatArray:
    """What damp hair takes over what dry hair does, (shades,), for shades that are direct (1) or not (0)."""
    return 1 - DAMP_LOSS * is_direct if damp else np.ones_like(is_direct)


def uptake_gain(
    porosity: FloatArray,
    time_constants_min: FloatArray,
    is_direct: FloatArray,
    *,
    minutes: FloatArray | None,
    damp: bool,
    power: float = 1.0,
) -> FloatArray:
    """What porosity, time and damp hair make of the full uptake, (..., shades), from 0 up.

    porosity: (...). time_constants_min and is_direct (1 or 0): (shades,). minutes: (...); None means full time.
    power: with which porosity counts.
    """
    met: FloatArray = effective_porosity(porosity, damp=damp)[..., None]
    if power != 1:
        met = met**power
    wet = wetness(is_direct, damp=damp)
    if minutes is None:
        return met * wet
    reached: FloatArray = 1 - np.exp(-minutes[..., None] * met / time_constants_min)
    return met * wet * reached
