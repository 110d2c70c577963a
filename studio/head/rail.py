"""The rail: every shade of a line at three dilutions on the hair in hand."""

from functools import lru_cache
from typing import Final

import numpy as np

from engine.bowl.mix import FULL_TIME_DRY, Bowl, added_absorption
from engine.colorimetry.screen import screen_colour
from engine.dye.shade import Shade
from engine.hair.canvas import Canvas, fibres_of
from engine.hair.lock import BODY, lock_tones
from studio.head.selectors import ZoneBench
from studio.visits.engine_adapter import canvas_of

Ladder = tuple[tuple[str, str, str], ...]
RAIL_DILUTIONS: Final = (1.0, 0.2, 0.04)  # undiluted, 1:4, 1:24


def rail_of(bench: ZoneBench) -> dict[int, Ladder]:
    """For each shade of the line by row id: shadow, body and shine at three dilutions on this hair."""
    shades = tuple(bench.stocked.dyes.values())
    return dict(zip(bench.stocked.dyes, _rail(canvas_of(bench.reading), shades), strict=True))


@lru_cache(maxsize=256)
def _rail(canvas: Canvas, shades: tuple[Shade, ...]) -> list[Ladder]:
    """The rail changes only with the hair and the line, never with a pour."""
    clear = Shade(name="clear")
    added = np.stack(
        [
            added_absorption(Bowl(grams={shade: share, clear: 1 - share}), canvas.porosity, FULL_TIME_DRY)
            for shade in shades
            for share in RAIL_DILUTIONS
        ]
    )
    hexes = np.array(screen_colour(lock_tones(fibres_of(canvas), added)).hexes)
    tones = hexes.reshape(len(shades), len(RAIL_DILUTIONS), -1)[:, :, [BODY - 2, BODY, BODY + 2]]
    return [tuple((str(deep), str(body), str(shine)) for deep, body, shine in shade) for shade in tones]
