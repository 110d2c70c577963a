"""Drawn locks of hair: how the engine's tones run along the strands."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

from engine.arrays import FloatArray
from engine.colorimetry.lab import lch_of
from engine.colorimetry.screen import hexes_of, screen_colour
from engine.colorimetry.words import colour_word

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


def lock_from_srgb(tones_srgb: FloatArray, lab: FloatArray) -> Lock:
    """A lock from screen tones (tones, 3) around a colour L*a*b* (3,)."""
    return lock_of(hexes_of(tones_srgb), lab)
