"""Lights under which hair is judged, and the weights that turn a spectrum into XYZ."""

from dataclasses import dataclass
from enum import StrEnum
from functools import cache

import numpy as np

from engine.arrays import FloatArray, frozen
from engine.colorimetry.grid import WAVELENGTHS_NM
from engine.tables import load_table


class Light(StrEnum):
    """The four lights, by their CIE names."""

    DAYLIGHT = "D65"
    EVENING = "A"
    SALON = "LED-B3"
    SHOP = "FL2"


@dataclass(frozen=True, kw_only=True, eq=False)
class Viewing:
    """A light with the 2-degree observer. weights: (bands, 3), sum of Y weights = 1. white_xyz: (3,)."""

    light: Light
    weights: FloatArray
    white_xyz: FloatArray


@cache
def viewing(light: Light) -> Viewing:
    """Weights for tristimulus summation at 5 nm, normalised so that a perfect white has Y = 1. Source: [CIE15]."""
    observer, lights = load_table("observer"), load_table("lights")
    for table in (observer, lights):
        if not np.array_equal(table.numbers("wavelength_nm"), WAVELENGTHS_NM):
            raise ValueError("a colorimetric table is not on the engine's grid")
    matching = np.stack([observer.numbers(name) for name in ("x_bar", "y_bar", "z_bar")], axis=-1)
    weights = lights.numbers(light.value)[:, None] * matching
    weights /= weights[:, 1].sum()
    return Viewing(light=light, weights=frozen(weights), white_xyz=frozen(weights.sum(axis=0)))
