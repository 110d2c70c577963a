"""One aim from each of the studio's lines, side by side: how near, how long it keeps, its shine, what it costs."""

from dataclasses import dataclass
from typing import Final

import numpy as np

from engine.bowl.mix import Process
from engine.bowl.stock import Stock
from engine.bowl.weigh import Scale
from engine.dye.shade import Shade
from engine.errors import BadInput, EmptyShelf
from engine.hair.canvas import Canvas
from engine.language import decimals, kept_by_language, later, say
from engine.service.lines import LineWay, line_way
from studio.accounts.models import Person
from studio.head.engine_adapter import scale_of, stocked_shelf
from studio.head.selectors import ZoneBench
from studio.head.services.coats import lines_for
from studio.head.stock import stock_of
from studio.shelf.models import ShadeLine
from studio.shelf.selectors import StockedLine, stocked_line, usual_process
from studio.ui.locks import Lock, lock_of_colour
from studio.ui.templatetags.ui import plain

Lab = tuple[float, ...]
NOTHING_LEFT: Final = later("Too little of it is left on the shelf to mix from.")


@dataclass(frozen=True, kw_only=True, eq=False)
class LineShown:
    """A line with what it would do, ready to show; wrong: why it can't be mixed from, in words."""

    line: ShadeLine
    is_in_hand: bool
    lock: Lock | None = None
    off: float = 0.0
    pours: str = ""
    keeps: str = ""
    minutes: str = ""
    cost: str = ""
    shine: str = ""
    developer: str = ""
    price: str = ""
    wrong: str = ""


def lines_shown(person: Person, bench: ZoneBench, canvas: Canvas) -> tuple[LineShown, ...]:
    """Each line that the coat in hand may be mixed from, on hair as the colour meets it; none before there is an aim.

    The nearest first, those that can't be mixed from last.
    """
    target_lab = bench.target_lab
    if target_lab is None:
        return ()
    lines = [stocked_line(line, bench.stocked.client) for line in lines_for(person, bench.coat.purpose)]
    shown = [_shown(bench, line, canvas, tuple(target_lab.tolist())) for line in lines]
    return tuple(sorted(shown, key=lambda each: (bool(each.wrong), each.off)))


def _shown(bench: ZoneBench, stocked: StockedLine, canvas: Canvas, target: Lab) -> LineShown:
    line, is_in_hand = stocked.line, stocked.line.pk == bench.bowl.line_id
    shelf = tuple(stocked_shelf(bench, in_stock=False) if is_in_hand else stocked.dyes.values())
    left, scale = stock_of(stocked), scale_of(float(bench.bowl.wanted_g))
    try:
        way = _way_once(canvas, target, shelf, scale, tuple(left.grams.items()), usual_process(line))
    except (BadInput, EmptyShelf):
        return LineShown(line=line, is_in_hand=is_in_hand, wrong=NOTHING_LEFT)
    least, most = way.minutes
    price = left.cost(way.recipe.bowl.grams)
    return LineShown(
        line=line,
        is_in_hand=is_in_hand,
        lock=lock_of_colour(tuple(way.recipe.forecast.lab.tolist())),
        off=way.recipe.delta_e00,
        pours=way.recipe.bowl.words,
        keeps=say("shows a change after {keeps_washes} washes", keeps_washes=way.keeps_washes)
        if way.keeps_washes
        else say("keeps until it is cut"),
        minutes=say("{least:g} to {most:g} min", least=least, most=most),
        cost=way.cost.words,
        shine=say(way.shine.value),
        developer=say(
            "{developer_vol} vol, 1 to {developer_parts}",
            developer_vol=plain(line.developer_vol),
            developer_parts=plain(line.developer_parts),
        )
        if line.developer_parts
        else "",
        price=decimals(f"{price:.2f}") if price else "",
    )


@kept_by_language(maxsize=64)
def _way_once(
    canvas: Canvas,
    target: Lab,
    shelf: tuple[Shade, ...],
    scale: Scale,
    left: tuple[tuple[Shade, float], ...],
    process: Process,
) -> LineWay:
    """left: what the shelf holds of each shade."""
    return line_way(canvas, np.array(target), shelf, scale=scale, stock=Stock(grams=dict(left)), process=process)
