"""Amounts and the stock check of a visit: grams, developer, foils, tubes, cost, and what to do when short."""

from collections import defaultdict
from dataclasses import dataclass
from decimal import Decimal
from math import ceil
from typing import Final

from engine.bowl.match import match_zones
from engine.bowl.stock import Stock
from engine.bowl.substitute import substitutes
from engine.errors import EngineError
from engine.language import decimals, listed, say
from engine.service.amounts import Density, Length, foils_for, tubes_for
from engine.service.sections import sections
from studio.head.engine_adapter import scale_of, stocked_shelf, zone_aim
from studio.head.models import WANTED_LEAST_G, WANTED_MOST_G
from studio.head.selectors import Bench, ZoneBench
from studio.route.planned import HeadPlan
from studio.shelf.models import Shade
from studio.ui.numbers import brief_number, brief_weight, shown_weight
from studio.visits.engine_adapter import canvas_of
from studio.visits.gates import Asked

OVER_MIX: Final = 1.1  # a little more than is needed, which nobody mixes twice for (common practice)


@dataclass(frozen=True, kw_only=True)
class BowlRow:
    """What one bowl is for, what all its hair needs, from least to most, what it holds, and what goes with it.

    shared: what each zone of it takes, where there are several. asked_g, asked: what would fill the need with a little
    over, where it holds or is set to something else: in grams, and as shown. tubes: to open when none stands open.
    sections: how far the last section parts from the first if all is rinsed at once, in words.
    """

    coat: ZoneBench
    purpose: str
    zones: str
    shared: str
    needs: str
    least: str
    most: str
    holds: str
    is_short: bool
    asked_g: str
    asked: str
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


def bowl_rows(bench: Bench, asked: Asked, plan: HeadPlan) -> tuple[BowlRow, ...]:
    """Every bowl of the head once, in the order of the coats that it is for; none that serves hair left alone only."""
    served: dict[int, list[ZoneBench]] = {}
    for each in sorted(bench.coats, key=lambda coat: coat.coat.order):
        if not each.zone.left_alone:
            served.setdefault(each.bowl.pk, []).append(each)
    return tuple(_bowl_row(coats, asked, plan) for coats in served.values())


def _bowl_row(coats: list[ZoneBench], asked: Asked, plan: HeadPlan) -> BowlRow:
    bowl, needs = coats[0], [plan.needs.by_zone[each.zone.pk] for each in coats]
    grams = sum(need.grams for need in needs)
    total, wanted = float(bowl.total_g), float(bowl.bowl.wanted_g)
    full = min(max(ceil(grams * OVER_MIX / 5) * 5, float(WANTED_LEAST_G)), float(WANTED_MOST_G))
    tube_g = bowl.stocked.line.tube_g
    cost = sum((shade.tube_price * poured / tube_g for shade, poured in bowl.poured), Decimal(0))
    powder = bowl.coat.lifts
    names = list(dict.fromkeys(each.zone.name for each in coats))
    return BowlRow(
        coat=bowl,
        purpose=bowl.coat.get_purpose_display(),
        zones=listed(names),
        shared=", ".join(
            f"{each.zone.name} {_whole(need.grams, powder=powder)}" for each, need in zip(coats, needs, strict=True)
        )
        if len(names) > 1
        else "",
        needs=_whole(grams, powder=powder),
        least=brief_number(round(sum(need.least_g for need in needs))),
        most=brief_number(round(sum(need.most_g for need in needs))),
        holds=shown_weight(bowl.total_g, powder=powder),
        is_short=0 < total < sum(need.least_g for need in needs),
        asked_g="" if wanted == full and total in (0.0, full) else f"{full:.0f}",
        asked=brief_weight(full, powder=powder),
        developer=_whole(float(bowl.developer_g), powder=False) if bowl.developer_g else "",
        foils=sum(_foils(each, asked, plan) for each in coats) if bowl.coat.lifts else 0,
        cost=decimals(f"{cost:.2f}") if cost else "",
        tubes=", ".join(
            f"{tubes_for(float(poured), float(tube_g))} {shade.name}"
            for shade, poured in bowl.poured
            if poured > tube_g
        ),
        sections="" if bowl.coat.lifts else _sections(bowl, plan),
    )


def _whole(grams: float, *, powder: bool) -> str:
    """What a head needs: no finer than it can be known."""
    return brief_weight(round(grams), powder=powder)


def _foils(zone: ZoneBench, asked: Asked, plan: HeadPlan) -> int:
    """Foils for a zone's lightener: of the strands that are taken, where lightener lies in foil."""
    consult = asked.consult
    if consult.lay != consult.Lay.FOIL:
        return 0
    lies = plan.needs.stretches[zone.zone.pk]
    return foils_for(
        Length(consult.length),
        Density(consult.density),
        area_share=lies.area_share,
        strand_share=lies.strand_share,
    )


def _sections(zone: ZoneBench, plan: HeadPlan) -> str:
    planned = next((each.planned for each in plan.coats.get(zone.zone.name, ()) if each.coat == zone.coat), None)
    bowl = zone.mix
    if bowl is None or planned is None:
        return ""
    last_min = planned.stays_min(planned.apply_min) - planned.apply_min
    found = sections(canvas_of(zone.reading), bowl, apply_min=planned.apply_min, process_min=last_min)
    return (
        ""
        if found.delta_e00 < 1
        else say("rinsed all at once, the last section is {delta_e00:.1f} off the first", delta_e00=found.delta_e00)
    )


def shorts_of(bench: Bench) -> tuple[Short, ...]:
    """Shades of which the bowls of this head take more than the shelf holds, and what can be made instead."""
    takes: dict[int, Decimal] = defaultdict(Decimal)
    held: dict[int, tuple[Shade, ZoneBench]] = {}
    for each in {coat.bowl.pk: coat for coat in bench.coats}.values():
        for shade, grams in each.poured:
            takes[shade.pk] += grams - each.pours[shade.pk].mixed_g
            held.setdefault(shade.pk, (shade, each))
    return tuple(
        Short(
            name=shade.name,
            takes=shown_weight(takes[pk]),
            left=shown_weight(shade.stock_g),
            instead=_instead(zone),
        )
        for pk, (shade, zone) in held.items()
        if takes[pk] > shade.stock_g
    )


def _instead(zone: ZoneBench) -> str:
    """The best recipe from what the shelf really holds, in words: for the zone's aim, else for the bowl's own look."""
    dyes, canvas, bowl = zone.stocked.dyes, canvas_of(zone.reading), zone.mix
    stock = Stock(grams={dyes[shade.pk]: float(shade.stock_g) for shade in zone.stocked.shades})
    scale, process = scale_of(max(float(zone.total_g), 5.0)), zone.process
    try:
        shelf, aim = stocked_shelf(zone), zone_aim(zone)
        if aim is not None:
            found = match_zones([aim], shelf, scale=scale, stock=stock, process=process, answers=1).recipes
        elif bowl is not None:
            found = substitutes(canvas, bowl, shelf, scale=scale, stock=stock, process=process, answers=1).recipes
        else:
            return ""
    except EngineError:
        return ""
    return say(
        "{words} ({delta_e00:.1f} off{told})",
        words=found[0].bowl.words,
        delta_e00=found[0].delta_e00,
        told="" if aim is not None else say(" what it was to be"),
    )
