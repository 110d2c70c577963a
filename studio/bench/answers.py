"""Answers that a colourist asks for: recipes, a plan to mend the bowl, ways to meet the warmth."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from decimal import Decimal
from functools import lru_cache
from typing import Final

import numpy as np

from engine.bowl.adjust import Adjustment, Mend, adjust_zones
from engine.bowl.goal import ZoneAim
from engine.bowl.match import Match, Recipe, aim_of, match_zones
from engine.bowl.mix import Bowl, Process
from engine.bowl.past import OverTone
from engine.bowl.pot import most_mended_g
from engine.bowl.ranking import JUST_VISIBLE, chance_words
from engine.bowl.reach import Within, within_reach
from engine.bowl.strategies import PreTone, Strategy, by_school, compare
from engine.dye.shade import Shade
from engine.errors import BadInput
from engine.hair.canvas import Canvas
from engine.hair.residue import level_of_lightness
from engine.language import later, say
from engine.service.lines import ranked_across
from engine.service.route import CLOSE_ENOUGH, spared_words
from engine.weights import handy_g
from studio.head.engine_adapter import (
    SCALE_STEP_G,
    aims_of,
    lock_of_bowl,
    over_tone_of,
    reckoned_shelf,
    scale_of,
    stocked_shelf,
)
from studio.head.selectors import Bench, ZoneBench
from studio.head.stock import stock_of
from studio.shelf.models import ShadeLine
from studio.shelf.selectors import StockedLine, usual_process
from studio.ui.locks import Lock, lock_of_colour
from studio.ui.numbers import shown_weight
from studio.ui.refusal import Refusal
from studio.visits.engine_adapter import canvas_of

ANSWERS_MOST: Final = 5
STRATEGY_WORDS: Final = {
    Strategy.KEEP_WARMTH: (later("Keep the warmth"), later("the recipe for white hair, put on this hair as it is")),
    Strategy.CORRECT_IN_BOWL: (later("Correct in the bowl"), later("the recipe made for this hair")),
    Strategy.PRE_TONE: (later("Tone first"), later("a light toner takes most of the warmth, then the bowl")),
}


@dataclass(frozen=True, kw_only=True)
class Limits:
    """What a recipe may be: how many shades, how finely weighed, from what is in stock, this line or any."""

    max_shades: int = 3
    step_g: float = SCALE_STEP_G
    in_stock: bool = True
    one_line: bool = True
    one_bowl: bool = True


STEPS_G: Final = {"0.1": 0.1, "0.5": 0.5, "1": 1.0}


def limits_of(sent: Mapping[str, str]) -> Limits:
    """The limits that a request names; what is odd counts as the default."""
    shades = sent.get("max_shades", "")
    return Limits(
        max_shades=int(shades) if shades in {"1", "2", "3", "4"} else Limits.max_shades,
        step_g=handy_g(STEPS_G.get(sent.get("step", ""), SCALE_STEP_G)),
        in_stock=sent.get("stock", "in") != "any",
        one_line=sent.get("lines", "one") != "any",
        one_bowl=sent.get("bowls", "one") != "own",
    )


@dataclass(frozen=True, kw_only=True, eq=False)
class Answer:
    """One recipe of a match, ready to show and to take: locks and differences of the zones that it serves."""

    locks: tuple[tuple[str, Lock, float], ...]
    pours: tuple[tuple[int, str, Decimal], ...]
    line: ShadeLine
    delta_e00: float
    chance: float
    within_90: float
    cost: float
    words: str

    @property
    def chance_words(self) -> str:
        """How likely it is that the result is hardly off."""
        return chance_words(self.chance)


@dataclass(frozen=True, kw_only=True, eq=False)
class Answers:
    """The recipes of a match, best first, and what kept them from the aim."""

    recipes: tuple[Answer, ...]
    sentences: tuple[str, ...]
    limits: Limits
    served: tuple[str, ...]

    @property
    def is_off(self) -> bool:
        """Whether the best of them misses the aim by what an eye sees."""
        return bool(self.recipes) and min(each.delta_e00 for each in self.recipes) > JUST_VISIBLE


def answers_of(bench: Bench, limits: Limits, lines: tuple[StockedLine, ...] = ()) -> Answers:
    """Up to five recipes for the aim. lines: the lines to look in, the bowl's own by default. Raises Refusal no_aim."""
    aims = aims_of(bench)
    if not aims:
        raise Refusal("no_aim", "aim")
    served = bench.aimed if limits.one_bowl else bench.aimed[:1]
    aims = aims[: len(served)]
    found: list[tuple[StockedLine, tuple[Recipe, ...]]] = []
    sentences: list[str] = []
    for stocked in lines if lines and not limits.one_line else (bench.stocked,):
        try:
            matched = _match(bench, stocked, aims, limits)
        except _NothingLeft:
            sentences.append(say("{line}: too little is left on the shelf for this bowl.", line=stocked.line))
            continue
        found.append((stocked, matched.recipes))
        sentences += [warning.sentence for warning in matched.warnings]
    if found and over_tone_of(bench) is OverTone.PAST:
        sentences.append(say("Mixed slightly past the aim, as the house does: it fades onto it."))
    ranked = ranked_across([recipes for _, recipes in found], ANSWERS_MOST)
    return Answers(
        recipes=tuple(_answer(served, aims, found[line][0], recipe) for line, recipe in ranked),
        sentences=tuple(dict.fromkeys(sentences)),
        limits=limits,
        served=tuple(each.zone.name for each in served),
    )


def _answer(served: Sequence[ZoneBench], aims: list[ZoneAim], stocked: StockedLine, recipe: Recipe) -> Answer:
    return Answer(
        locks=tuple(
            (each.zone.name, lock_of_bowl(aim.canvas, recipe.bowl, served[0].process), aim_of(forecast))
            for each, aim, forecast in zip(served, aims, recipe.forecasts, strict=True)
        ),
        pours=pours_of(recipe.bowl, stocked),
        line=stocked.line,
        delta_e00=recipe.delta_e00,
        chance=recipe.chance,
        within_90=recipe.within_90,
        cost=recipe.cost,
        words=_recipe_words(recipe, [each.zone.name for each in served]),
    )


class _NothingLeft(Exception):
    """A line that has too little of everything."""


def _match(bench: Bench, stocked: StockedLine, aims: list[ZoneAim], limits: Limits) -> Match:
    stock = stock_of(stocked, limited=limits.in_stock)
    try:
        return match_zones(
            aims,
            stocked_shelf(bench, in_stock=False) if stocked is bench.stocked else list(stocked.dyes.values()),
            scale=scale_of(float(bench.bowl.wanted_g), limits.step_g),
            max_shades=limits.max_shades,
            answers=ANSWERS_MOST,
            stock=stock,
            process=bench.process,
        )
    except BadInput as error:
        raise _NothingLeft from error


def pours_of(bowl: Bowl, stocked: StockedLine) -> tuple[tuple[int, str, Decimal], ...]:
    """Row id, name and grams of each shade in shelf order."""
    grams = {int(shade.code): round(Decimal(g), 2) for shade, g in bowl.grams.items()}
    return tuple((shade.pk, shade.name, grams[shade.pk]) for shade in stocked.shades if shade.pk in grams)


def _recipe_words(recipe: Recipe, zones: Sequence[str]) -> str:
    """How a recipe misses its aim; of several zones, how the one does that is farthest off, by its name."""
    aim = recipe.forecasts[recipe.farthest].aim
    words = aim.words if aim else ""
    return f"{zones[recipe.farthest]}: {words}" if len(zones) > 1 and words else words


def lift_words(bench: Bench) -> list[str]:
    """What it would take to reach the aim: the level to lift to, or that this shelf never does.

    Nothing of lightening over what today's coats lay on: it would take out again what they are for.
    """
    target_lab = bench.target_lab
    if target_lab is None or bench.is_over_colour:
        return []
    canvas = canvas_of(bench.reading)
    found = _within(canvas, tuple(reckoned_shelf(bench)), tuple(target_lab.tolist()), usual_process(bench.stocked.line))
    if found.reachable:
        return []
    if found.lowest_level is None:
        where = (
            say("as the hair is")
            if found.best_level == bench.reading.level
            else say("on level {best_level:g}", best_level=found.best_level)
        )
        off = say("{best_delta_e00:.1f} off", best_delta_e00=found.best_delta_e00)
        return [
            say(
                "No lightening brings {line} to this aim: {where} it comes nearest, {off}.",
                line=bench.stocked.line,
                where=where,
                off=off,
            )
        ]
    if spared := spared_words(canvas, float(level_of_lightness(target_lab[0])), found.delta_e00 - found.best_delta_e00):
        return [spared]
    return [say("Lift to level {lowest_level:g} first, and this aim is within reach.", lowest_level=found.lowest_level)]


@lru_cache(maxsize=256)
def _within(canvas: Canvas, shelf: tuple[Shade, ...], target: tuple[float, ...], process: Process) -> Within:
    """Asked again with every look at the aim, and answered once for a hair, a line and an aim: as the Route reckons."""
    return within_reach(canvas, shelf, np.array(target), near=CLOSE_ENOUGH, process=process)


@dataclass(frozen=True, kw_only=True, eq=False)
class Mending:
    """How to mend the bowl in hand, ready to show and to take.

    fresh: the grams that a fresh bowl would throw away, when additions alone do not reach the aim.
    """

    plan: Adjustment
    before: Lock
    after: Lock
    additions: tuple[tuple[int, str, Decimal], ...]
    keep: str
    words: str
    fresh_waste: str

    @property
    def can(self) -> bool:
        """Whether there is anything to add."""
        return bool(self.additions)


def mending_of(bench: Bench) -> Mending:
    """Additions to the bowl; else a part to keep; else that it can't be done. Raises Refusal no_aim, empty_bowl."""
    aims, bowl = aims_of(bench), bench.mix
    if not aims:
        raise Refusal("no_aim", "aim")
    if bowl is None:
        raise Refusal("empty_bowl", "grams")
    plan = adjust_zones(
        aims,
        bowl,
        stocked_shelf(bench, in_stock=False),
        max_total_g=most_mended_g(bowl.total_g, float(bench.bowl.wanted_g)),
        wanted_g=float(bench.bowl.wanted_g),
        step_g=SCALE_STEP_G,
        process=bench.process,
    )
    canvas = aims[0].canvas
    mended = plan.after.bowl or bowl
    additions = pours_of(Bowl(grams=plan.additions), bench.stocked) if plan.additions else ()
    return Mending(
        plan=plan,
        before=lock_of_bowl(canvas, bowl, bench.process),
        after=lock_of_bowl(canvas, mended, bench.process),
        additions=additions,
        keep=f"{plan.keep_fraction:g}",
        words=_mending_words(plan),
        fresh_waste=shown_weight(bowl.total_g) if plan.way in (Mend.KEEP_PART, Mend.CANNOT) else "",
    )


def _mending_words(plan: Adjustment) -> str:
    off = say("{delta_e00:.1f} off", delta_e00=plan.delta_e00)
    if plan.way is Mend.NOTHING:
        return say("The bowl is on its aim: nothing needs to go in.")
    if plan.way is Mend.ADD:
        return say("Add this, and the bowl is {off}.", off=off)
    if plan.way is Mend.KEEP_PART:
        return say(
            "Additions alone would not fit: keep {keep_fraction:.0%}, throw {waste_g:weight} away, {off}.",
            keep_fraction=plan.keep_fraction,
            waste_g=plan.waste_g,
            off=off,
        )
    return say("No addition brings this bowl to the aim; the closest is {off}. A fresh bowl may be better.", off=off)


@dataclass(frozen=True, kw_only=True, eq=False)
class WarmthWay:
    """One way to meet the warmth under the aim, ready to show and to take."""

    title: str
    words: str
    lock: Lock
    toner: tuple[tuple[int, str, Decimal], ...]
    pours: tuple[tuple[int, str, Decimal], ...]
    delta_e00: float
    said: str


def warmth_ways(bench: Bench) -> tuple[WarmthWay, ...]:
    """Keep the warmth, correct it in the bowl, or tone first: each with its forecast, of what the shelf holds.

    Raises Refusal no_aim, stock_short.
    """
    target_lab = bench.target_lab
    if target_lab is None:
        raise Refusal("no_aim", "aim")
    canvas, shelf = canvas_of(bench.reading), stocked_shelf(bench, in_stock=False)
    scale = scale_of(float(bench.bowl.wanted_g))
    try:
        found = compare(
            canvas,
            shelf,
            target_lab,
            scale=scale,
            process=bench.process,
            stock=stock_of(bench.stocked),
            over_tone=over_tone_of(bench),
        )
    except BadInput:
        raise Refusal("stock_short", "aim", line=bench.stocked.line) from None
    return tuple(
        WarmthWay(
            title=STRATEGY_WORDS[each.strategy][0],
            words=STRATEGY_WORDS[each.strategy][1],
            lock=lock_of_colour(tuple(each.forecast.lab.tolist())),
            toner=pours_of(each.toner, bench.stocked) if each.toner else (),
            pours=pours_of(each.bowl, bench.stocked),
            delta_e00=each.delta_e00,
            said=each.forecast.aim.words if each.forecast.aim else "",
        )
        for each in by_school(found, PreTone(bench.stocked.line.studio.pre_tone))
    )
