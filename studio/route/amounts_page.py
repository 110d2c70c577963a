"""Amounts and the stock check of a visit: grams, developer, foils, tubes, cost, and what to do when short."""

from collections import defaultdict
from dataclasses import dataclass
from decimal import Decimal

from engine.bowl.match import match
from engine.bowl.stock import Stock
from engine.errors import EngineError
from engine.service.amounts import Density, Length, foils_for, tubes_for
from engine.service.plan import Slot
from engine.service.route import RouteKind
from engine.service.sections import sections
from studio.head.engine_adapter import scale_of, stocked_shelf
from studio.head.selectors import Bench, ZoneBench
from studio.route.models import ChosenRoute
from studio.route.planned import needed_of
from studio.shelf.models import Shade
from studio.ui.numbers import shown_grams
from studio.visits.engine_adapter import canvas_of
from studio.visits.gates import Asked


@dataclass(frozen=True, kw_only=True)
class AmountRow:
    """A zone's grams: what it needs, from least to most, what its bowl holds, and what goes with it.

    tubes: to open when none stands open. sections: how far the last section parts from the first if all is rinsed
    at once, in words.
    """

    zone: str
    route: str
    needs: str
    least: str
    most: str
    holds: str
    is_short: bool
    developer: str
    foils: int
    cost: str
    tubes: str
    sections: str


@dataclass(frozen=True, kw_only=True)
class Short:
    """A shade of which the shelf holds less than the bowls take; instead: a recipe that does without more of it."""

    name: str
    takes: str
    left: str
    instead: str


def amount_row(zone: ZoneBench, asked: Asked, chosen: dict[int, ChosenRoute], colour: Slot | None) -> AmountRow:
    """One zone's row. colour: when it is coloured, if it is in the plan."""
    need, consult = needed_of(zone, asked), asked.consult
    route = chosen.get(zone.zone.pk)
    in_foil = consult.lay == consult.Lay.FOIL and route is not None and route.kind in (RouteKind.LIFT, RouteKind.RELIFT)
    tube_g = zone.stocked.line.tube_g
    cost = sum((shade.tube_price * grams / tube_g for shade, grams in zone.poured), Decimal(0))
    return AmountRow(
        zone=zone.zone.name,
        route=route.get_kind_display() if route else "proposed",
        needs=f"{need.grams:.0f}",
        least=f"{need.least_g:.0f}",
        most=f"{need.most_g:.0f}",
        holds=shown_grams(zone.total_g),
        is_short=0 < float(zone.total_g) < need.least_g,
        developer=f"{zone.developer_g:.0f}" if zone.developer_g else "",
        foils=foils_for(Length(consult.length), Density(consult.density), zone.zone.part) if in_foil else 0,
        cost=f"{cost:.2f}" if cost else "",
        tubes=", ".join(
            f"{tubes_for(float(grams), float(tube_g))} {shade.name}" for shade, grams in zone.poured if grams > tube_g
        ),
        sections=_sections(zone, colour),
    )


def _sections(zone: ZoneBench, colour: Slot | None) -> str:
    bowl = zone.mix
    if bowl is None or colour is None:
        return ""
    found = sections(
        canvas_of(zone.reading),
        bowl,
        apply_min=colour.task.apply_min,
        process_min=colour.task.process_min,
    )
    return "" if found.delta_e00 < 1 else f"rinsed all at once, the last section is {found.delta_e00:.1f} off the first"


def shorts_of(bench: Bench) -> tuple[Short, ...]:
    """Shades of which the bowls of this head take more than the shelf holds, and what can be made instead."""
    takes: dict[int, Decimal] = defaultdict(Decimal)
    held: dict[int, tuple[Shade, ZoneBench]] = {}
    for each in {zone.bowl.pk: zone for zone in bench.zones}.values():
        for shade, grams in each.poured:
            takes[shade.pk] += grams - each.pours[shade.pk].mixed_g
            held.setdefault(shade.pk, (shade, each))
    return tuple(
        Short(
            name=shade.name,
            takes=shown_grams(takes[pk]),
            left=shown_grams(shade.stock_g),
            instead=_instead(zone),
        )
        for pk, (shade, zone) in held.items()
        if takes[pk] > shade.stock_g
    )


def _instead(zone: ZoneBench) -> str:
    """The best recipe for a zone's aim from what the shelf really holds, in words; nothing without an aim."""
    target_lab = zone.target_lab
    if target_lab is None:
        return ""
    dyes = zone.stocked.dyes
    stock = Stock(grams={dyes[shade.pk]: float(shade.stock_g) for shade in zone.stocked.shades})
    scale = scale_of(max(float(zone.total_g), 5.0))
    try:
        shelf = stocked_shelf(zone)
        best = match(canvas_of(zone.reading), shelf, target_lab, scale=scale, stock=stock, answers=1).recipes[0]
    except EngineError:
        return ""
    names = {str(shade.pk): shade.name for shade in zone.stocked.shades}
    pours = ", ".join(f"{grams:g} g {names[dye.name]}" for dye, grams in best.bowl.grams.items() if grams > 0)
    return f"{pours} ({best.delta_e00:.1f} off)"
