"""Corrections of a head that turned out wrong: ways to a better colour, ranked, with what each costs the hair.

The forecasts are the engine's; which ways are walked and what is warned of are common practice, no published source.
"""

from collections.abc import Sequence
from contextlib import suppress
from dataclasses import dataclass, replace
from enum import StrEnum
from typing import Final

from engine.arrays import FloatArray, frozen
from engine.bowl.match import match, nearest
from engine.bowl.mix import Bowl
from engine.bowl.stock import PLENTY, Stock
from engine.bowl.weigh import Scale
from engine.colorimetry.difference import delta_e00
from engine.colorimetry.words import difference_words
from engine.dye.fading import left_after
from engine.dye.shade import Shade
from engine.errors import BadInput
from engine.hair.canvas import Canvas, OldColour, lightened
from engine.hair.reading import canvas_lab
from engine.hair.residue import LEVEL_CLEAN_WHITE
from engine.service.lift import Strength
from engine.service.route import CLOSE_ENOUGH, RouteKind, routes
from engine.service.steps import HairCost
from engine.service.trouble import ADD_ONLY, DONT, SPARED, Trouble, wanted_of

WASHES: Final = (2, 4, 8)  # washes before a colour is put over, or on their own; chosen by the founders
BLEACHED: Final = 0.45  # share of what lay on the hair that a bleach wash leaves; the founders' estimate
BLEACH_LEVELS: Final = 0.5  # that a bleach wash lifts beneath it; the founders' estimate
BLEACH_PARTS: Final = 4.0  # of shampoo and water to one of lightener; common practice, no published source
BLEACH_MIN: Final = (5.0, 15.0)  # watched all along; common practice, no published source


class Way(StrEnum):
    """How it is put right."""

    WASH = "wash"
    COLOUR = "colour"
    WASH_THEN_COLOUR = "wash_then_colour"
    BLEACH_WASH = "bleach_wash"
    REMOVE = "remove"
    LIFT = "lift"
    FILL = "fill"


TAKES_AWAY: Final = (Way.LIFT, Way.REMOVE, Way.BLEACH_WASH)
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
    recipe: that colour, weighed; None where nothing is coloured, or nothing that is in stock comes nearer.
    """

    way: Way
    lab: FloatArray
    delta_e00: float
    words: str
    cost: HairCost
    minutes: tuple[float, float]
    canvas: Canvas
    washes: int = 0
    recipe: Bowl | None = None

    @property
    def is_lift(self) -> bool:
        """Whether lightener touches the hair, so that it counts among its lifts."""
        return self.way in (Way.LIFT, Way.BLEACH_WASH)

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
    scale: Scale | None = None,
    stock: Stock = PLENTY,
) -> Remedies:
    """Ways to put a head right, ranked: what reaches at the least cost to the hair first, then what gets nearest.

    canvas: the hair with what is on it as old colour. wanted_lab: (3,), by the trouble's own rule unless given.
    scale, stock: how each way's colour is weighed, and what there is of it. Raises EmptyShelf.
    """
    now = canvas_lab(canvas)
    wanted = frozen(wanted_of(trouble, now) if wanted_lab is None else wanted_lab)
    washes = () if trouble in ADD_ONLY else WASHES
    found = [*_washed_out(canvas, wanted, washes), *_coloured(canvas, wanted, shelf, washes)]
    if canvas.old:
        found.append(_bleach_washed(canvas, wanted, shelf))
    walked = routes(canvas, wanted, shelf, strength=strength)
    for route in (walked.proposed, *walked.others):
        way = WAY_OF_ROUTE[route.kind]
        found.append(_remedy(way, route.lab, wanted, route.cost, route.minutes, route.canvas))
    offered = [each for each in found if trouble not in SPARED or each.way not in TAKES_AWAY]
    better = [each for each in offered if each.delta_e00 < float(delta_e00(now, wanted)) - 0.5]
    ranked = sorted(better, key=_rank)
    ways = tuple(_weighed(each, wanted, shelf, scale or Scale(), stock) for each in _fewest(ranked))
    return Remedies(now_lab=frozen(now), wanted_lab=wanted, ways=ways, dont=DONT[trouble])


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


def bleach_washed(canvas: Canvas) -> Canvas:
    """The canvas after a bleach wash: much of what lay on it is gone, and it has lifted a little."""
    left = tuple(replace(layer, k_s=BLEACHED * layer.k_s) for layer in canvas.old)
    lifted = lightened(canvas, min(canvas.level + BLEACH_LEVELS, LEVEL_CLEAN_WHITE))
    return replace(lifted, old=left)


def _bleach_washed(canvas: Canvas, wanted: FloatArray, shelf: Sequence[Shade]) -> Remedy:
    """A little lightener in a wash, watched, then colour over what is left."""
    hair = bleach_washed(canvas)
    lab, _ = nearest(hair, shelf, wanted)
    least, most = _usual_min(shelf)
    minutes = (BLEACH_MIN[0] + least, BLEACH_MIN[1] + most)
    return _remedy(Way.BLEACH_WASH, lab, wanted, HairCost.LITTLE, minutes, hair)


def _weighed(way: Remedy, wanted: FloatArray, shelf: Sequence[Shade], scale: Scale, stock: Stock) -> Remedy:
    """A way with its colour in grams. One that nothing in stock can colour is told without."""
    if way.way is Way.WASH:
        return way
    with suppress(BadInput):
        found = match(way.canvas, shelf, wanted, scale=scale, max_shades=2, answers=1, stock=stock)
        return replace(way, recipe=found.recipes[0].bowl)
    return way


def _washed_out(canvas: Canvas, wanted: FloatArray, washes: Sequence[int]) -> list[Remedy]:
    """Waiting, and washing it out."""
    hair = [(count, washed(canvas, count)) for count in washes if canvas.old]
    return [
        _remedy(Way.WASH, canvas_lab(each), wanted, HairCost.NONE, (0.0, 0.0), each, washes=count)
        for count, each in hair
    ]


def _coloured(canvas: Canvas, wanted: FloatArray, shelf: Sequence[Shade], washes: Sequence[int]) -> list[Remedy]:
    """Colour over what washes leave."""
    minutes = _usual_min(shelf)
    found = []
    for count in washes if canvas.old else ():
        hair = washed(canvas, count)
        lab, _ = nearest(hair, shelf, wanted)
        found.append(_remedy(Way.WASH_THEN_COLOUR, lab, wanted, HairCost.NONE, minutes, hair, washes=count))
    return found


def _usual_min(shelf: Sequence[Shade]) -> tuple[float, float]:
    """How long the shelf's colours are usually left on, from and to."""
    usual = [shade.kind.habits.usual_min for shade in shelf if not shade.is_clear]
    return (min(least for least, _ in usual), max(most for _, most in usual)) if usual else (20.0, 30.0)


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
