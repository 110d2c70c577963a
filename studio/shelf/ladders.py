"""Shades as ladders of dilution on a hair."""

from functools import lru_cache
from typing import Final

import numpy as np

from engine.bowl.mix import FULL_TIME_DRY, gains_of
from engine.colorimetry.screen import screen_colour
from engine.dye.shade import Shade, spectra_of
from engine.dye.uptake import competitive_uptake
from engine.hair.canvas import Canvas, fibres_of
from engine.hair.lock import BODY, lock_tones

Ladder = tuple[tuple[str, str, str], ...]
DILUTIONS: Final = (1.0, 0.2, 0.04)  # undiluted, 1:4, 1:24


@lru_cache(maxsize=256)
def ladders_of(canvas: Canvas, shades: tuple[Shade, ...], dilutions: tuple[float, ...] = DILUTIONS) -> list[Ladder]:
    """Shadow, body and shine of each shade at each dilution: they change with hair and line, never with a pour."""
    if not shades:
        return []
    thinned = np.array(dilutions)[:, None, None] * np.eye(len(shades)) * [not shade.is_clear for shade in shades]
    strengths = np.array([shade.strength for shade in shades])
    uptakes = competitive_uptake(thinned, strengths) * gains_of(shades, canvas.porosity, FULL_TIME_DRY)
    added = (uptakes @ spectra_of(shades)).swapaxes(0, 1).reshape(len(shades) * len(dilutions), -1)
    hexes = np.array(screen_colour(lock_tones(fibres_of(canvas), added)).hexes)
    tones = hexes.reshape(len(shades), len(dilutions), -1)[:, :, [BODY - 2, BODY, BODY + 2]]
    return [tuple((str(deep), str(body), str(shine)) for deep, body, shine in shade) for shade in tones]
