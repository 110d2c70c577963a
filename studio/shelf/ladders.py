"""Shades as ladders of dilution on a hair."""

from functools import lru_cache
from typing import Final

import numpy as np

from engine.bowl.mix import FULL_TIME_DRY, Bowl, added_absorption
from engine.colorimetry.screen import screen_colour
from engine.dye.shade import Shade
from engine.hair.canvas import Canvas, fibres_of
from engine.hair.lock import BODY, lock_tones

Ladder = tuple[tuple[str, str, str], ...]
DILUTIONS: Final = (1.0, 0.2, 0.04)  # undiluted, 1:4, 1:24


@lru_cache(maxsize=256)
def ladders_of(canvas: Canvas, shades: tuple[Shade, ...], dilutions: tuple[float, ...] = DILUTIONS) -> list[Ladder]:
    """Shadow, body and shine of each shade at each dilution: they change with hair and line, never with a pour."""
    if not shades:
        return []
    clear = Shade(name="clear")
    added = [
        added_absorption(Bowl(grams={shade: share, clear: 1 - share}), canvas.porosity, FULL_TIME_DRY)
        for shade in shades
        for share in dilutions
    ]
    whole = max(len(each) for each in added)  # what has a base brings it behind its tone
    together = np.stack([np.pad(each, (0, whole - len(each))) for each in added])
    hexes = np.array(screen_colour(lock_tones(fibres_of(canvas), together)).hexes)
    tones = hexes.reshape(len(shades), len(dilutions), -1)[:, :, [BODY - 2, BODY, BODY + 2]]
    return [tuple((str(deep), str(body), str(shine)) for deep, body, shine in shade) for shade in tones]
