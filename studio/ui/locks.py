"""Drawn locks of hair: how the engine's tones run along the strands."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Final

import numpy as np

from engine.arrays import FloatArray
from engine.colorimetry.grid import BANDS
from engine.colorimetry.lab import lab_from_lch, lch_of
from engine.colorimetry.screen import hexes_of, screen_colour
from engine.colorimetry.words import colour_word
from engine.hair.canvas import Canvas, fibres_of
from engine.hair.lock import lock_tones, tones_of_colour

# Where along a lock light falls: share of the length, and how many tones lighter or darker than the strand's own.
LIGHT_ALONG: Final = ((0.0, -2), (0.07, -1), (0.2, 1), (0.28, 1), (0.45, 0), (0.72, 0), (0.85, 1), (1.0, -1))


@dataclass(frozen=True, kw_only=True)
class Stop:
    """A gradient stop: offset in percent and a colour."""

    offset: str
    hex: str


@dataclass(frozen=True, kw_only=True)
class Lock:
    """A lock ready to draw: one gradient for each tone of strand, and words for those who can't see it."""

    gradients: tuple[tuple[Stop, ...], ...]
    hexes: tuple[str, ...]
    hex: str
    words: str
    lightness: float
    chroma: float
    hue_deg: float

    @property
    def depth(self) -> str:
        """The lightness as shown."""
        return f"{self.lightness:.0f}"

    @property
    def lab(self) -> FloatArray:
        """The colour in L*a*b* (3,)."""
        return lab_from_lch(np.array([self.lightness, self.chroma, self.hue_deg]))

    @property
    def said(self) -> str:
        """The colour in words and numbers."""
        return f"{self.words}, depth {self.lightness:.0f}, strength {self.chroma:.0f}, hue {self.hue_deg:.0f}°"


def lock_of(hexes: Sequence[str], lab: FloatArray) -> Lock:
    """A lock from its tones, shadow to shine, and the colour L*a*b* (3,) that they surround."""
    last = len(hexes) - 1
    gradients = tuple(
        tuple(Stop(offset=f"{share:.0%}", hex=hexes[min(max(tone + change, 0), last)]) for share, change in LIGHT_ALONG)
        for tone in range(len(hexes))
    )
    lightness, chroma, hue_deg = (float(part) for part in lch_of(lab))
    return Lock(
        gradients=gradients,
        hexes=tuple(hexes),
        hex=hexes[len(hexes) // 2],
        words=colour_word(lab),
        lightness=lightness,
        chroma=chroma,
        hue_deg=hue_deg,
    )


def lock_from_tones(tones_lab: FloatArray) -> Lock:
    """A lock from the engine's tones (tones, 3) in L*a*b* under daylight."""
    return lock_of(screen_colour(tones_lab).hexes, tones_lab[len(tones_lab) // 2])


@lru_cache(maxsize=512)
def bare_lock(canvas: Canvas) -> Lock:
    """Bare hair as a lock."""
    fibres = fibres_of(canvas)
    return lock_from_tones(lock_tones(fibres, np.zeros(BANDS)))


@lru_cache(maxsize=512)
def lock_of_colour(lab: tuple[float, float, float]) -> Lock:
    """A lock of which only the colour L*a*b* is known."""
    colour = np.array(lab)
    return lock_of(hexes_of(tones_of_colour(colour)), colour)
