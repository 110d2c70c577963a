"""Which base holds the warmth that a level shows: the sentence of the opposite.

Opposites cancel: violet and yellow, blue and orange, green and red (common practice, no published source).
"""

from typing import Final

import numpy as np

from engine.arrays import FloatArray
from engine.colorimetry.lab import lch_of
from engine.hair.canvas import Canvas
from engine.hair.ladder import Ladder
from engine.hair.reading import canvas_lab
from engine.hair.residue import Family
from engine.language import later, say

# By the words that a ladder has for an undertone: the first of which all parts stand in it.
OPPOSITES: Final = (
    (("red", "orange"), later("blue-green")),
    (("orange",), later("blue")),
    (("red",), later("green")),
    (("yellow",), later("violet")),
    (("gold",), later("blue-violet")),
)
HELD_FROM_CHROMA: Final = 8.0  # less warmth than this needs no holding; the founders'
TAKEN_IN_WITHIN_DEG: Final = 35.0  # an aim of about that hue wants the warmth; the founders'
TAKEN_IN_SHARE: Final = 0.6  # of the undertone's strength, from which an aim takes it in; the founders'


def opposite_of(undertone: str) -> str | None:
    """The colour that cancels an undertone, by its word; None for one without a colour."""
    words = undertone.lower()
    return next((base for parts, base in OPPOSITES if all(part in words for part in parts)), None)


def base_sentence(canvas: Canvas, target_lab: FloatArray, ladder: Ladder) -> str:
    """What hair shows at its level beneath a colour L*a*b* (3,), and what holds it; nothing for natural hair, or where
    there is hardly any warmth.

    ladder: what the studio calls it.
    """
    undertone = ladder.undertone(canvas.level)
    base = opposite_of(undertone)
    _, chroma, hue = (float(part) for part in lch_of(canvas_lab(canvas)))
    if canvas.family is Family.NATURAL or base is None or chroma < HELD_FROM_CHROMA:
        return ""
    shows = say("Level {level:g} will show {undertone}", level=canvas.level, undertone=undertone)
    _, wanted_chroma, wanted_hue = (float(part) for part in lch_of(np.asarray(target_lab)))
    apart_deg = abs((wanted_hue - hue + 180) % 360 - 180)
    if apart_deg <= TAKEN_IN_WITHIN_DEG and wanted_chroma >= TAKEN_IN_SHARE * chroma:
        return say("{shows}, which this colour takes in.", shows=shows)
    return say("{shows}: a {base} base holds it.", shows=shows, base=base)
