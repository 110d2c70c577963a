"""Photos of strands on white paper, made here: a desk, a sheet, strands with texture, light that falls off, grain. That
this is simulation is said in the docs."""

import numpy as np

from engine.arrays import FloatArray
from engine.colorimetry.lab import xyz_from_lab
from engine.colorimetry.photo import PAPER_REFLECTANCE
from engine.colorimetry.screen import RGB_FROM_XYZ, SCREEN_WHITE_XYZ, encode
from tests.engine.made import lab

SIX = [lab(30, 50, -20), lab(48, 45, -12), lab(65, 28, 0), lab(78, 12, 20), lab(86, 2, 18), lab(87, 0, 3)]
SIZE = (320, 520)  # as the studio keeps photos
SHEET = (slice(20, 300), slice(20, 500))
DESK = (0.25, 0.22, 0.2)


def photo_of_strands(
    labs: list[FloatArray],
    *,
    light: tuple[float, float, float] = (1, 1, 1),
    fall: float = 0.25,
    shadow: tuple[slice, slice] | None = None,
    sheets: tuple[tuple[slice, slice], ...] = (SHEET,),
    below: bool = False,
    seed: int = 1,
) -> FloatArray:
    """Encoded sRGB of strands on a sheet. fall: how much darker its right end is. below: strands lie under one another.

    shadow: where a hand's shadow falls.
    """
    luck, (height, width) = np.random.default_rng(seed), SIZE
    y, x = np.mgrid[0 : 1 : height * 1j, 0 : 1 : width * 1j]
    linear = np.zeros((height, width, 3)) + np.array(DESK)
    for sheet in sheets:
        linear[sheet] = PAPER_REFLECTANCE
    for index, each in enumerate(labs):
        colour = np.clip(xyz_from_lab(each, SCREEN_WHITE_XYZ) @ RGB_FROM_XYZ.T, 0, 1)
        half = 12
        centre = int((20 + 280 * (index + 0.5) / len(labs)) if below else (20 + 480 * (index + 0.5) / len(labs)))
        long, wide = slice(60, 260), slice(centre - half, centre + half)
        texture = 1 + 0.15 * np.sin(np.arange(2 * half) * 1.3)[None, :, None] + luck.normal(0, 0.08, (200, 2 * half, 1))
        strand = colour * np.clip(texture, 0.4, 2)
        if below:
            linear[wide, long] = strand.transpose(1, 0, 2)
        else:
            linear[long, wide] = strand
    linear = linear * np.array(light) * (1 - fall * x - 0.1 * y)[..., None]
    if shadow is not None:
        linear[shadow] *= 0.35
    seen = encode(np.clip(linear, 0, 1)) + luck.normal(0, 0.008, linear.shape)
    return np.clip(seen, 0, 1)
