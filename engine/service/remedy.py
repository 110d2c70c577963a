"""Corrections of a head that turned out wrong: ways to a better colour, ranked, with what each costs the hair.

The forecasts are the engine's; which ways are walked and what is warned of are common practice, no published source.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from typing import Final

import numpy as np

from engine.arrays import FloatArray, frozen
from engine.bowl.match import nearest
from engine.colorimetry.difference import delta_e00
from engine.colorimetry.lab import lab_from_lch, lch_of
from engine.colorimetry.words import difference_words
from engine.dye.fading import left_after
from engine.dye.shade import Shade
from engine.hair.canvas import Canvas, OldColour
from engine.hair.reading import canvas_lab
from engine.service.lift import Strength
from engine.service.route import CLOSE_ENOUGH, RouteKind, routes
from engine.service.steps import HairCost

WASHES: Final = (2, 4, 8)  # washes before a colour is put over, or on their own; chosen by the founders
SOFTER: Final = 0.55  # of its chroma is left of a colour that is toned down; chosen by the founders
STEP_L: Final = 9.0  # L* by which too dark or too light is put right


class Trouble(StrEnum):
    """What is wrong with a head."""

    TOO_BRIGHT = "too_bright"
    TOO_DARK = "too_dark"
    TOO_WARM = "too_warm"
    GREEN = "green"
    UNEVEN = "uneven"
    PALE_ROOT = "pale_root"
    TONE_DOWN = "tone_down"


ADD_ONLY: Final = frozenset({Trouble.UNEVEN, Trouble.PALE_ROOT})  # what lacks colour gains nothing by washing


DONT: Final[Mapping[Trouble, str]] = {
    Trouble.TOO_BRIGHT: "Don't put the full opposite over it: a strong opposite turns a bright colour grey-brown.",
    Trouble.TOO_DARK: "Don't colour over it to lighten it: colour does not lift colour.",
    Trouble.TOO_WARM: "Don't add ash at once and at full strength: blue pulls hard, and goes green on yellow.",
    Trouble.GREEN: "Don't put ash, blue or a blue-based brown on it: put warmth in first.",
    Trouble.UNEVEN: "Don't put one bowl all over again: porous ends take more, and it stays uneven.",
    Trouble.PALE_ROOT: "Don't drag colour through lengths that are done: only the root lacks it.",
    Trouble.TONE_DOWN: "Don't reach for lightener: wash some of it out, then lay a deeper or softer mix over it.",
}


class Way(StrEnum):
    """How it is put right."""

    WASH = "wash"
    COLOUR = "colour"
    WASH_THEN_COLOUR = "wash_then_colour"
    REMOVE = "remove"
    LIFT = "lift"
    FILL = "fill"


WAY_OF_ROUTE: Final = {
    RouteKind.DEPOSIT: Way.COLOUR,
    RouteKind.REFRESH: Way.COLOUR,
    RouteKind.TONE_DOWN: Way.COLOUR,
    RouteKind.FILL: Way.FILL,
    RouteKind.REMOVE: Way.REMOVE,
    RouteKind.LIFT: Way.LIFT,
    RouteKind.RELIFT: Way.LIFT,
}


@dataclass(frozen=True, kw_only=True, eq=False)
class Remedy:
    """One way: the colour (3,) it leads to, how far that is from what is wanted, and what it costs hair and clock.

    washes: before anything else. minutes: in the chair, from and to. canvas: the hair that the colour then meets.
    """

    way: Way
    lab: FloatArray
    delta_e00: float
    words: str
    cost: HairCost
    minutes: tuple[float, float]
    canvas: Canvas
    washes: int = 0

    @property
    def reaches(self) -> bool:
        """Whether it comes near enough to leave the hair in peace."""
        return self.delta_e00 < CLOSE_ENOUGH


@dataclass(frozen=True, kw_only=True, eq=False)
class Remedies:
    """The hair as it is, what is wanted, and the ways there, best first; and what not to do."""

    now_lab: FloatArray
    wanted_lab: FloatArray
    ways: tuple[Remedy, ...]
    dont: str


def remedies(
    trouble: Trouble,
    canvas: Canvas,
    shelf: Sequence[Shade],
    *,
    wanted_lab: FloatArray | None = None,
    strength: Strength | None = None,
) -> Remedies:
    """Ways to put a head right, ranked: what reaches at the least cost to the hair first, then what gets nearest.

    canvas: the hair with what is on it as old colour. wanted_lab: (3,), by the trouble's own rule unless given.
    Raises EmptyShelf.
    """
    now = canvas_lab(canvas)
    wanted = frozen(wanted_of(trouble, now) if wanted_lab is None else wanted_lab)
    washes = () if trouble in ADD_ONLY else WASHES
    found = [*_washed_out(canvas, wanted, washes), *_coloured(canvas, wanted, shelf, washes)]
    walked = routes(canvas, wanted, shelf, strength=strength)
    for route in (walked.proposed, *walked.others):
        way = WAY_OF_ROUTE[route.kind]
        found.append(_remedy(way, route.lab, wanted, route.cost, route.minutes, route.canvas))
    better = [each for each in found if each.delta_e00 < float(delta_e00(now, wanted)) - 0.5]
    ranked = sorted(better, key=_rank)
    return Remedies(now_lab=frozen(now), wanted_lab=wanted, ways=tuple(_fewest(ranked)), dont=DONT[trouble])


def wanted_of(trouble: Trouble, now_lab: FloatArray) -> FloatArray:
    """What is wanted instead of a colour (3,) that is wrong, where the client has not said."""
    lightness, chroma, hue = (float(part) for part in lch_of(now_lab))
    match trouble:
        case Trouble.TOO_BRIGHT | Trouble.TONE_DOWN:
            deeper = lightness - STEP_L / 2 if trouble is Trouble.TONE_DOWN else lightness
            return lab_from_lch(np.array([deeper, chroma * SOFTER, hue]))
        case Trouble.TOO_DARK:
            return lab_from_lch(np.array([lightness + STEP_L, chroma, hue]))
        case Trouble.TOO_WARM:
            return lab_from_lch(np.array([lightness - 2.0, chroma * SOFTER, hue]))
        case Trouble.GREEN:
            return lab_from_lch(np.array([lightness - 4.0, chroma, 70.0]))
        case Trouble.UNEVEN | Trouble.PALE_ROOT:
            return lab_from_lch(np.array([lightness - STEP_L, chroma * 1.2, hue]))


def washed(canvas: Canvas, washes: float) -> Canvas:
    """The canvas after washes: each old dye leaves at its own pace; what is not a shade stays."""
    left = tuple(
        OldColour(
            shade=layer.shade,
            k_s=layer.k_s * float(left_after([layer.shade], washes, canvas.porosity)[0]),
        )
        if isinstance(layer.shade, Shade)
        else layer
        for layer in canvas.old
    )
    return replace(canvas, old=left)


def _washed_out(canvas: Canvas, wanted: FloatArray, washes: Sequence[int]) -> list[Remedy]:
    """Waiting, and washing it out."""
    hair = [(count, washed(canvas, count)) for count in washes if canvas.old]
    return [
        _remedy(Way.WASH, canvas_lab(each), wanted, HairCost.NONE, (0.0, 0.0), each, washes=count)
        for count, each in hair
    ]


def _coloured(canvas: Canvas, wanted: FloatArray, shelf: Sequence[Shade], washes: Sequence[int]) -> list[Remedy]:
    """Colour over what washes leave."""
    usual = [shade.kind.habits.usual_min for shade in shelf if not shade.is_clear]
    minutes = (min(least for least, _ in usual), max(most for _, most in usual)) if usual else (20.0, 30.0)
    found = []
    for count in washes if canvas.old else ():
        hair = washed(canvas, count)
        lab, _ = nearest(hair, shelf, wanted)
        found.append(_remedy(Way.WASH_THEN_COLOUR, lab, wanted, HairCost.NONE, minutes, hair, washes=count))
    return found


def _remedy(
    way: Way,
    lab: FloatArray,
    wanted: FloatArray,
    cost: HairCost,
    minutes: tuple[float, float],
    canvas: Canvas,
    *,
    washes: int = 0,
) -> Remedy:
    return Remedy(
        way=way,
        lab=frozen(lab),
        delta_e00=float(delta_e00(wanted, lab)),
        words=difference_words(wanted, lab),
        cost=cost,
        minutes=minutes,
        canvas=canvas,
        washes=washes,
    )


def _rank(way: Remedy) -> tuple[bool, int, float, int]:
    return not way.reaches, way.cost if way.reaches else 0, round(way.delta_e00, 1), way.washes


def _fewest(ranked: Sequence[Remedy]) -> list[Remedy]:
    """Of each way the best-ranked alone: eight washes are no other way than four."""
    kept: dict[Way, Remedy] = {}
    for each in ranked:
        kept.setdefault(each.way, each)
    return list(kept.values())
