"""How surely a shade is known: the course of its absorption, and how near a forecast of it alone comes."""

from functools import lru_cache
from typing import Final, NamedTuple

import numpy as np

from engine.arrays import FloatArray, frozen
from engine.bowl.mix import Bowl
from engine.bowl.spread import Doubt, spread
from engine.dye.shade import CLEAR, Shade
from engine.hair.canvas import Canvas
from engine.knowledge.unknowns import LINE_SD, SHADE_SD

SHOWN_ON: Final = Canvas(level=10)
SHARE: Final = 0.2  # of the shade in clear: neither so strong nor so faint that doubt hardly shows
NOTHING_ELSE: Final = Doubt(level=0, porosity=0, grams=0, minutes=0)
TWO_SIDED_90: Final = 1.645  # standard deviations that hold nine tenths of a normal law


class Curve(NamedTuple):
    """K (bands,) of an undiluted shade, and between which two it lies in nine cases of ten."""

    low: FloatArray
    middle: FloatArray
    high: FloatArray


def curve(shade: Shade) -> Curve:
    """The absorption of a shade at strength 1 of its own, with what is in doubt of it.

    One that its line describes is in doubt by its strength alone, as any shade is of which no result has told yet.
    """
    middle = shade.strength * shade.spectrum
    logs = np.hypot(SHADE_SD, LINE_SD)
    if shade.doubt:
        logs = np.sqrt((shade.doubt.by_band**2).sum(axis=0))
    return Curve(
        low=frozen(middle * np.exp(-TWO_SIDED_90 * logs)),
        middle=frozen(middle),
        high=frozen(middle * np.exp(TWO_SIDED_90 * logs)),
    )


@lru_cache(maxsize=4096)
def within_of(shade: Shade) -> float:
    """Delta E00 within which nine in ten results of the shade alone, 1 in 5 on a clean level 10, lie of its forecast.

    Nothing but the shade and the physics is in doubt. 0 for a carrier.
    """
    if shade.is_clear:
        return 0.0
    bowl = Bowl(grams={shade: SHARE, Shade(name=CLEAR): 1 - SHARE})
    return spread(SHOWN_ON, bowl, doubt=NOTHING_ELSE).within_90
