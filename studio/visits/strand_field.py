"""A drawn head's strands: where each hangs, from the scalp to its tip, from four sides. Our own drawing.

Rows of roots lie over one another as on a head: what grows at the crown falls over what grows at the nape. A row's
strands come three times: wide ones in shade that close its gaps, those that are looked at, and some that shine.
Coordinates are hundredths of the picture's width; how far hair falls on it is foreshortened below the chin.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache
from typing import Final

import numpy as np

from engine.arrays import FloatArray, frozen
from engine.service.strands import MIDDLE, Strands

PLACES: Final[Mapping[str, int]] = {"straight": 10, "wavy": 14, "curly": 26, "coily": 40}  # points along a strand
EARS_Y: Final = 46.0
FALLS: Final = ((0.0, 0.0), (25.0, 62.0), (45.0, 88.0), (65.0, 112.0), (150.0, 122.0))  # cm of hair, and as drawn
LOWEST_Y: Final = 118.0
WAVES: Final[Mapping[str, tuple[float, float]]] = {  # of each curl: how wide, and how often along a drawn length
    "straight": (0.0, 0.0),
    "wavy": (0.9, 0.05),
    "curly": (1.5, 0.09),
    "coily": (1.3, 0.16),
}
GOLDEN: Final = 0.6180339887  # spreads what looks random evenly, the same each time
FRAME_MOST: Final = 0.34  # of the way from the parting outwards: hair nearest to the face
# Of the strands on top, from the inner to the outer or from the face back, those that grow at the crown.
CROWN: Final = {"front": (0.6, 1.0), "left side": (0.4, 0.8), "right side": (0.4, 0.8), "back": (0.0, 0.5)}
PANEL: Final = (0.34, 0.62)  # of the back's right half


@dataclass(frozen=True, kw_only=True)
class Row:
    """A row of roots as one side shows it.

    half: -1 or 1 for one side of a parting, 0 for all across. top_y, top_x: where roots lie, from the inner strand to
    the outer. out: how far from the middle they hang, likewise. parts: of the scalp that the row is of. is_frame:
    whether its inner strands lie at the face. arc: by how much the roots between the two ends lie higher.
    """

    half: int
    top_y: tuple[float, float]
    top_x: tuple[float, float]
    out: tuple[float, float]
    layer: float
    count: int
    parts: tuple[str, ...] = ()
    is_frame: bool = False
    arc: float = 0.0


# From what lies beneath to what lies on top.
FRONT: Final = tuple(
    row
    for half in (-1, 1)
    for row in (
        Row(half=half, top_y=(40, 34), top_x=(20, 24), out=(18.5, 25), layer=0.7, count=7),
        Row(
            half=half,
            top_y=(21, 9),
            top_x=(0.6, 0.2),
            out=(17.5, 28.5),
            layer=0.1,
            count=15,
            parts=("crown",),
            is_frame=True,
        ),
    )
)
BACK: Final = tuple(
    row
    for half in (-1, 1)
    for row in (
        Row(half=half, top_y=(64, 60), top_x=(0.5, 15), out=(0.5, 17), layer=0.9, count=9, parts=("nape",)),
        Row(half=half, top_y=(47, 43), top_x=(0.5, 24), out=(0.6, 24), layer=0.6, count=12),
        Row(half=half, top_y=(29, 27), top_x=(0.4, 23), out=(0.8, 26.5), layer=0.4, count=14),
        Row(
            half=half,
            top_y=(21, 9),
            top_x=(0.3, 1.2),
            out=(1.0, 28.5),
            layer=0.1,
            count=17,
            parts=("crown",),
        ),
    )
)
SIDE: Final = (
    Row(half=0, top_y=(60, 58), top_x=(64, 79), out=(62, 79), layer=0.9, count=10, parts=("nape",)),
    Row(half=0, top_y=(46, 42), top_x=(50, 84), out=(49, 82), layer=0.6, count=17),
    Row(half=0, top_y=(33, 28), top_x=(42, 84), out=(46, 85), layer=0.4, count=20, arc=4.0),
    Row(
        half=0,
        top_y=(22, 17),
        top_x=(36, 80),
        out=(43, 88),
        layer=0.1,
        count=25,
        parts=("crown",),
        is_frame=True,
        arc=11.0,
    ),
)
VIEWS: Final[Mapping[str, tuple[Row, ...]]] = {"front": FRONT, "left side": SIDE, "right side": SIDE, "back": BACK}
# Of each pass over a row: which tone, how wide a strand is drawn, and how many times the row's count.
PASSES: Final = ((1, 4.4, 0.9), (2, 1.6, 1.1), (3, 1.3, 1.5), (5, 0.7, 0.9))
CLOSED: Final = 0.95  # of their length: beyond it tips are loose
SHINES: Final = 5  # the tone that is seen where light falls, alone
SHINE: Final = (0.12, 0.6)  # of the way over the head: where
NAPE_LAYER, NAPE_BELOW = 0.8, 4.0
SHORT_TO_Y: Final = 72.0
OVER_THE_HEAD: Final = 42.0  # how far hair falls before it hangs


@dataclass(frozen=True, kw_only=True, eq=False)
class Layer:
    """One pass over one row: its strands' points (strands, places, 2), tone, width in the picture, and the strands."""

    points: FloatArray
    tone: int
    width: float
    strands: Strands


@lru_cache(maxsize=64)
def strand_layers(view: str, length_cm: float, curl: str = "straight") -> tuple[Layer, ...]:
    """A side of a head as its passes, what lies beneath first."""
    found = []
    for row in VIEWS[view]:
        for tone, width, times in PASSES:
            found.append(_layer(view, row, tone, width, max(round(row.count * times), 2), length_cm, curl))
    return tuple(found)


def drawn(cm: float) -> float:
    """How far so many cm of hair fall in the picture."""
    known, falls = zip(*FALLS, strict=True)
    return float(np.interp(cm, known, falls))


def _layer(view: str, row: Row, tone: int, width: float, count: int, length_cm: float, curl: str) -> Layer:
    at = (np.arange(count) + 0.5) / count
    luck = np.mod(np.arange(count) * GOLDEN + 0.37 * tone, 1.0)
    at = np.clip(at + (luck - 0.5) * 0.5 / count, 0.0, 1.0)
    top: FloatArray = np.stack([_between(row.top_x, at), _between(row.top_y, at)], axis=-1)
    out = _between(row.out, at)
    top[:, 1] -= row.arc * 4 * at * (1 - at)
    if row.half:
        top[:, 0], out = MIDDLE + row.half * top[:, 0], MIDDLE + row.half * out
    path, travelled, hung = _paths(top, out)
    falls = _falls(drawn(length_cm), hung, top[:, 1], row.layer) * (0.95 + 0.05 * luck)
    share = np.linspace(0.0, 1.0, PLACES[curl])[None] * np.ones((count, 1))
    if tone == 1:
        share = share * CLOSED
    elif tone == SHINES:
        over = np.minimum(falls, OVER_THE_HEAD) / falls
        share = over[:, None] * (SHINE[0] * luck[:, None] + (SHINE[1] - SHINE[0]) * share * (0.5 + 0.5 * luck[:, None]))
    wanted = share * falls[:, None]
    points = np.stack(
        [[np.interp(wanted[n], travelled[n], path[n, :, axis]) for axis in (0, 1)] for n in range(count)]
    ).transpose(0, 2, 1)
    points[..., 0] += _wave(wanted, luck, curl)
    along_cm = length_cm * wanted / falls[:, None]
    return Layer(
        points=frozen(np.minimum(points, [100.0, LOWEST_Y])),
        tone=tone,
        width=width,
        strands=Strands(
            across=frozen(out),
            layer=frozen(np.full(count, row.layer)),
            along_cm=frozen(along_cm),
            roots=_roots(view, row, at, out),
        ),
    )


def _falls(fallen: float, hung: FloatArray, top_y: FloatArray, layer: float) -> FloatArray:
    """How far a row's strands fall: long hair is cut to one line, below which only the nape's is seen.

    hung: how far each has come where it hangs. Short hair is as long everywhere, but leaves the neck free.
    """
    if fallen < OVER_THE_HEAD:
        return np.minimum(fallen, np.maximum(SHORT_TO_Y - top_y, 6.0))
    tips_y = EARS_Y + fallen - OVER_THE_HEAD + (NAPE_BELOW if layer > NAPE_LAYER else -3 * layer)
    falls: FloatArray = np.maximum(hung + tips_y - np.maximum(EARS_Y, top_y + 6), 6.0)
    return falls


def _between(ends: tuple[float, float], at: FloatArray) -> FloatArray:
    return ends[0] + (ends[1] - ends[0]) * at


def _paths(top: FloatArray, out: FloatArray) -> tuple[FloatArray, FloatArray, FloatArray]:
    """Fine points of each strand (strands, 40, 2), how far along it each lies (strands, 40), and where it hangs.

    From its root a strand goes out over the head, down to where it hangs at the ears, and straight on.
    """
    step = np.linspace(0.0, 1.0, 24)[None, :, None]
    hangs_y = np.maximum(EARS_Y, top[:, 1] + 6)
    end = np.stack([out, hangs_y], axis=-1)
    bend = np.stack([top[:, 0] + 0.95 * (out - top[:, 0]), top[:, 1] + 0.04 * (hangs_y - top[:, 1])], axis=-1)
    over = (1 - step) ** 2 * top[:, None] + 2 * step * (1 - step) * bend[:, None] + step**2 * end[:, None]
    below = np.linspace(0.0, 1.0, 17)[None, 1:, None]
    tip = np.stack([MIDDLE + (out - MIDDLE) * 0.96, np.full(len(out), 2 * LOWEST_Y)], axis=-1)
    path = np.concatenate([over, end[:, None] + below * (tip - end)[:, None]], axis=1)
    gone = np.linalg.norm(np.diff(path, axis=1), axis=-1)
    travelled: FloatArray = np.concatenate([np.zeros((len(top), 1)), np.cumsum(gone, axis=1)], axis=1)
    return path, travelled, travelled[:, 23]


def _wave(wanted: FloatArray, luck: FloatArray, curl: str) -> FloatArray:
    wide, often = WAVES[curl]
    grown = np.clip(wanted / 20.0, 0.0, 1.0)
    wave: FloatArray = wide * grown * np.sin(2 * np.pi * (often * wanted + luck[:, None]))
    return wave


def _roots(view: str, row: Row, at: FloatArray, out: FloatArray) -> dict[str, FloatArray]:
    """Which parts of the scalp a row's strands grow on."""
    left = {"front": row.half > 0, "back": row.half < 0}.get(view, view == "left side")
    everywhere = np.ones(len(at))
    found = dict.fromkeys(row.parts, everywhere)
    if "crown" in found:  # of what lies on top, what grows at the crown: the rest is seen beside it
        low, high = CROWN[view]
        found["crown"] = ((at >= low) & (at <= high)).astype(float)
    found["left" if left else "right"] = everywhere
    if row.is_frame:
        found["frame"] = (at < (FRAME_MOST if row.half else FRAME_MOST / 2)).astype(float)
    if view == "back" and row.half > 0:
        share = (out - MIDDLE) / (BACK[-1].out[1])
        found["panel"] = ((share >= PANEL[0]) & (share <= PANEL[1])).astype(float)
    return found
