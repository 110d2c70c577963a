"""How much of a dye is left after washes."""

from collections.abc import Sequence
from typing import Final

import numpy as np

from engine.arrays import FloatArray
from engine.dye.shade import Shade

LEFT_AT_END: Final = 0.25  # what is left of a dye at the end of its life in washes; chosen by the founders
HOT_WATER: Final = 1.5  # how much faster a dye leaves in hot water; chosen by the founders


def left_after(
    shades: Sequence[Shade], washes: FloatArray | float, porosity: FloatArray | float, *, hot_water: bool = False
) -> FloatArray:
    """What is left of each dye, (..., shades), 0-1: exp(-k n), faster on porous hair and in hot water.

    washes and porosity: (...), broadcast against one another.
    """
    life = np.array([shade.life_washes for shade in shades])
    worn = np.asarray(washes, dtype=float) * np.asarray(porosity) * (HOT_WATER if hot_water else 1.0)
    left: FloatArray = np.exp(np.log(LEFT_AT_END) / life * worn[..., None])
    return left
