"""Routes of a zone, from its rows to the engine and back."""

from dataclasses import replace
from typing import NamedTuple

import numpy as np

from engine.arrays import FloatArray
from engine.bowl.fill import Fill, FillFrom, fill
from engine.bowl.filler import FillWith
from engine.bowl.match import match
from engine.bowl.mix import Process
from engine.bowl.stock import PLENTY, Stock
from engine.bowl.weigh import Scale
from engine.dye.shade import Shade
from engine.errors import BadInput, EmptyShelf
from engine.hair.canvas import Canvas
from engine.knowledge.knowledge import Knowledge
from engine.language import kept_by_language
from engine.service.by_hand import ByHand, route_by_hand
from engine.service.house import CleanUp, Condition, DepositOn, HowLight, TonerLevel
from engine.service.lift import Lay, Strength
from engine.service.purposes import MIXED_FROM
from engine.service.route import Route, Routes, routes
from engine.service.schedule.work import Purpose
from engine.service.steps import Manner, StepKind, equalised, fill_level
from engine.service.timing import ClockKind
from engine.service.toner import TonerAt, toner_for, toner_levels, toner_sentence
from studio.accounts.models import Studio
from studio.head.engine_adapter import reckoned_shelf, scale_of
from studio.head.selectors import ZoneBench
from studio.head.stock import stock_of
from studio.shelf.models import ShadeLine
from studio.shelf.selectors import StockedLine, stocked_line, usual_process
from studio.visits.engine_adapter import canvas_of
from studio.visits.gates import Asked, lay_of, place_of, strength_of

Lab = tuple[float, ...]


def routes_of(bench: ZoneBench, asked: Asked, last_aim: Lab | None) -> Routes | None:
    """The routes of a zone to its bowl's aim with its bowl's line; None before there is an aim."""
    target_lab = bench.target_lab
    return None if target_lab is None else routes_to(bench, asked, target_lab, bench, last_aim)


class _House(NamedTuple):
    """The house's schools, as far as ways hang on them."""

    fill_from: FillFrom
    how_light: HowLight


def _house(asked: Asked) -> _House:
    return _House(FillFrom(asked.studio.fill_from), HowLight(asked.studio.how_light))


def _manner(studio: Studio, *, damp: bool) -> Manner:
    """How the house works, whatever the hair."""
    return Manner(
        damp=damp,
        fill_with=FillWith(studio.fill_with),
        condition=Condition(studio.condition),
        clean_up=CleanUp(studio.clean_up),
    )


@kept_by_language(maxsize=128)
def _routes_once(
    canvas: Canvas,
    target: Lab,
    shelf: tuple[Shade, ...],
    strength: Strength,
    lay: Lay,
    on_scalp: bool,
    last_aim: Lab | None,
    house: _House,
    taught: Knowledge | None,
    manner: Manner,
) -> Routes:
    return routes(
        canvas,
        np.array(target),
        shelf,
        strength=strength,
        lay=lay,
        on_scalp=on_scalp,
        last_aim_lab=None if last_aim is None else np.array(last_aim),
        fill_from=house.fill_from,
        how_light=house.how_light,
        taught=taught,
        manner=manner,
    )


def routes_to(
    hair: ZoneBench, asked: Asked, target_lab: FloatArray, shelf_of: ZoneBench, last_aim: Lab | None = None
) -> Routes:
    """The routes of a zone to a colour (3,) that may be another head's, with the shelf of another bowl."""
    return _routes_once(
        canvas_of(hair.now),
        tuple(target_lab.tolist()),
        tuple(reckoned_shelf(shelf_of)),
        strength_of(asked, hair.zone, hair.now),
        lay_of(asked.consult),
        place_of(hair.zone, hair.now).touches_scalp,
        last_aim,
        _house(asked),
        shelf_of.stocked.taught,
        _manner(asked.studio, damp=shelf_of.process.damp),
    )


def hand_route_of(bench: ZoneBench, asked: Asked, wanted: ByHand) -> Route | None:
    """The way that is laid out by hand to a zone's aim; None before there is an aim. Raises EngineError."""
    target_lab = bench.target_lab
    if target_lab is None:
        return None
    return route_by_hand(
        canvas_of(bench.now),
        target_lab,
        reckoned_shelf(bench),
        wanted,
        strength=strength_of(asked, bench.zone, bench.now),
        lay=lay_of(asked.consult),
        on_scalp=place_of(bench.zone, bench.now).touches_scalp,
        taught=bench.stocked.taught,
        manner=_manner(asked.studio, damp=bench.process.damp),
    )


def filling_line(bench: ZoneBench) -> StockedLine:
    """The line that a fill of a zone is mixed from: that of its colour, if it may be, else the shelf's first that may.

    A query for a colour that no fill is mixed from.
    """
    own, kinds = bench.stocked.line, MIXED_FROM[Purpose.FILL]
    if own.kind in kinds:
        return bench.stocked
    first = ShadeLine.objects.filter(studio=own.studio_id, kind__in=kinds).order_by("position", "pk").first()
    return stocked_line(first, bench.stocked.client) if first else bench.stocked


def fill_of(bench: ZoneBench, way: Route) -> Fill | None:
    """The fill of a way of a zone, as the house fills, with the final bowl made for filled hair; None without an aim.

    Whether one is due, the way has said, by the colour's own depth.
    """
    target_lab = bench.target_lab
    if target_lab is None:
        return None
    line = filling_line(bench)
    asked = _FillAsked(
        canvas=_before_fill(bench, way),
        target=tuple(target_lab.tolist()),
        shelf=tuple(reckoned_shelf(bench) if line is bench.stocked else _in_stock(line)),
        follows=tuple(reckoned_shelf(bench)),
        scale=scale_of(float(bench.bowl.wanted_g)),
        process=usual_process(bench.stocked.line),
        fill_with=FillWith(bench.stocked.line.studio.fill_with),
    )
    try:
        return _fill_once(asked, tuple(stock_of(line).grams.items()))
    except BadInput:  # too little of everything: what is short, the Plan tells
        return _fill_once(asked, ())


def _before_fill(bench: ZoneBench, way: Route) -> Canvas:
    """The hair as a way has it by the time that it fills: lifted and evened, where it does that."""
    canvas = way.lift.after if way.lift else canvas_of(bench.now)
    return equalised(canvas) if any(step.kind is StepKind.EQUALISE for step in way.steps) else canvas


def _in_stock(stocked: StockedLine) -> list[Shade]:
    """The colours of a line that are there, and its first carrier that is."""
    here = [stocked.dyes[shade.pk] for shade in stocked.shades if shade.stock_g > 0 and not shade.off_shelf]
    carrier = next((dye for dye in here if dye.is_clear), None)
    return [dye for dye in here if dye is carrier or not dye.is_clear]


class _FillAsked(NamedTuple):
    """What a fill hangs on. shelf: of the fill; follows: of the colour; fill_with: as the house fills."""

    canvas: Canvas
    target: Lab
    shelf: tuple[Shade, ...]
    follows: tuple[Shade, ...]
    scale: Scale
    process: Process
    fill_with: FillWith


@kept_by_language(maxsize=64)
def _fill_once(asked: _FillAsked, left: tuple[tuple[Shade, float], ...]) -> Fill:
    """left: what the shelf holds of each shade, none for plenty."""
    target, stock = np.array(asked.target), Stock(grams=dict(left)) if left else PLENTY
    level = fill_level(asked.canvas, target)
    filled = replace(asked.canvas, level=level)
    matched = match(filled, asked.follows, target, scale=asked.scale, max_shades=2, process=asked.process)
    return fill(
        asked.canvas,
        level,
        asked.shelf,
        scale=asked.scale,
        final=matched.recipes[0].bowl,
        target_lab=target,
        follows=asked.follows,
        fill_from=FillFrom.ASKED,
        fill_with=asked.fill_with,
        answers=1,
        stock=stock,
        process=asked.process,
    )


def toners_of(canvas: Canvas, lines: list[StockedLine], studio: Studio) -> tuple[str, tuple[TonerAt, ...]]:
    """The shelf's opposite of a canvas's warmth, by name and why, as the house tones; nothing without one."""
    try:
        tone = toner_for(canvas, [dye for line in lines for dye in line.dyes.values()])
    except EmptyShelf:
        return "", ()
    damp = DepositOn(studio.deposit_on).is_damp(ClockKind.TONER)
    return f"{tone.name}: {toner_sentence(canvas, tone)}", toner_levels(
        canvas, tone, TonerLevel(studio.toner_level).steps, damp=damp
    )
