"""The hue and chroma plane and the depth ladder: from L*a*b* to places in the drawing."""

from dataclasses import dataclass
from functools import lru_cache
from typing import Final

import numpy as np

from engine.arrays import FloatArray
from engine.colorimetry.difference import ring
from engine.colorimetry.lab import lab_from_lch, lch_of
from engine.colorimetry.screen import fits_screen, screen_colour
from engine.colorimetry.words import HUE_LANDMARKS
from engine.language import decimals

SIZE: Final = 500  # the drawing is SIZE by SIZE units
CENTRE: Final = SIZE / 2
UNITS_PER_CHROMA: Final = 2.8
RIM_CHROMA: Final = 74.0
WORD_CHROMA: Final = 83.0  # where the hue names stand, outside the rim
DOT_SPACING: Final = 7.0  # of chroma, between neighbouring dots
LADDER_TOP: Final = 100.0  # L* at the top and bottom of the depth ladder
LADDER_BOTTOM: Final = 10.0
LADDER_LENGTH: Final = 440.0
LADDER_MARGIN: Final = 20.0
DEFAULT_DEPTH: Final = 60
NEAR_RING: Final = 2.0  # delta E00 of the rings round the aim
FAR_RING: Final = 5.0


@dataclass(frozen=True, kw_only=True)
class Place:
    """A point of the drawing as SVG writes it, with an optional colour and words."""

    x: str
    y: str
    hex: str = ""
    words: str = ""


def place_of(lab: FloatArray, hex_code: str = "", words: str = "", rim: float = RIM_CHROMA) -> Place:
    """Where a colour (3,) lies on the plane; beyond the rim it is drawn on the rim."""
    a, b = float(lab[1]), float(lab[2])
    chroma = np.hypot(a, b)
    inside = min(1.0, rim / chroma) if chroma else 1.0
    return Place(
        x=f"{CENTRE + UNITS_PER_CHROMA * a * inside:.1f}",
        y=f"{CENTRE - UNITS_PER_CHROMA * b * inside:.1f}",
        hex=hex_code,
        words=words,
    )


def polygon(labs: FloatArray) -> str:
    """A closed line through colours (points, 3) as SVG writes it; empty for fewer than three."""
    if len(labs) < 3:
        return ""
    return " ".join(
        f"{CENTRE + UNITS_PER_CHROMA * float(a):.1f},{CENTRE - UNITS_PER_CHROMA * float(b):.1f}" for _, a, b in labs
    )


def coloured(labs: FloatArray) -> tuple[Place, ...]:
    """Colours (points, 3) at their own places, each filled with itself."""
    if not len(labs):
        return ()
    return tuple(place_of(lab, code) for lab, code in zip(labs, screen_colour(labs).hexes, strict=True))


def ladder_y(lightness: float) -> str:
    """How far down the depth ladder a lightness L* stands."""
    share = (LADDER_TOP - min(max(lightness, LADDER_BOTTOM), LADDER_TOP)) / (LADDER_TOP - LADDER_BOTTOM)
    return f"{LADDER_MARGIN + share * LADDER_LENGTH:.1f}"


@lru_cache(maxsize=256)
def ring_points(lab: tuple[float, ...], delta_e00: float) -> str:
    """An SVG polygon of the colours that differ from the aim by about delta_e00."""
    return " ".join(
        f"{CENTRE + UNITS_PER_CHROMA * a:.1f},{CENTRE - UNITS_PER_CHROMA * b:.1f}"
        for a, b in ring(np.array(lab), delta_e00)
    )


@lru_cache(maxsize=101)
def dots_at(depth: int) -> tuple[Place, ...]:
    """A honeycomb of the colours that a screen shows at a lightness L*, each filled with itself."""
    rows = np.arange(-RIM_CHROMA, RIM_CHROMA + 1, DOT_SPACING * np.sqrt(3) / 2)
    points = [
        (a + (DOT_SPACING / 2 if index % 2 else 0), b)
        for index, b in enumerate(rows)
        for a in np.arange(-RIM_CHROMA, RIM_CHROMA + 1, DOT_SPACING)
    ]
    labs = np.array([(depth, a, b) for a, b in points if np.hypot(a, b) <= RIM_CHROMA - DOT_SPACING / 2])
    shown = labs[fits_screen(labs)]
    return tuple(place_of(lab, code) for lab, code in zip(shown, screen_colour(shown).hexes, strict=True))


def rim_words() -> tuple[Place, ...]:
    """The hue names round the rim, each at its own angle."""
    return tuple(
        place_of(lab_from_lch(np.array([50.0, WORD_CHROMA, hue_deg])), words=word, rim=WORD_CHROMA)
        for hue_deg, word in HUE_LANDMARKS
    )


def aim_numbers(lab: FloatArray | None) -> dict[str, str]:
    """Depth, strength and hue as the aim's form shows them; empty before there is an aim."""
    if lab is None:
        return {"lightness": "", "chroma": "", "hue": ""}
    lightness, chroma, hue_deg = (float(part) for part in lch_of(lab))
    numbers = {"lightness": lightness, "chroma": chroma, "hue": hue_deg % 360}
    return {name: decimals(f"{number:.1f}") for name, number in numbers.items()}
