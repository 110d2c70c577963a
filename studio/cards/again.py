"""A formula again on today's hair: the same grams, the same result, what was to be changed, and branches of it."""

import datetime
from dataclasses import dataclass
from typing import Final

import numpy as np
from django.db.models import Q

from engine.arrays import FloatArray
from engine.bowl.branches import Branch, branches
from engine.bowl.match import match
from engine.bowl.mix import Bowl
from engine.bowl.predict import Forecast, predict
from engine.colorimetry.difference import delta_e00
from engine.hair.canvas import Canvas
from engine.language import decimals, later, say
from engine.service.judge import against_forecast
from studio.accounts.models import Person
from studio.cards.models import Formula, Tweak
from studio.cards.selectors import active_tweaks, kept_formulas, visit_on
from studio.cards.since import since_words
from studio.head.engine_adapter import scale_of
from studio.shelf.selectors import StockedLine, stocked_line, usual_process
from studio.ui.locks import Lock, bare_lock, lock_of_colour
from studio.ui.numbers import brief_weight
from studio.visits.engine_adapter import canvas_of
from studio.visits.models import Reading

BRANCH_WORDS: Final = {
    Branch.BRIGHTER: later("Brighter"),
    Branch.SOFTER: later("Softer"),
    Branch.WARMER: later("Warmer"),
    Branch.DEEPER: later("Deeper"),
}


@dataclass(frozen=True, kw_only=True, eq=False)
class Option:
    """One way to go on from a formula: grams by shade row id, the colour, and how it differs from last time."""

    code: str
    title: str
    grams: dict[int, float]
    pours: tuple[tuple[str, str], ...]
    lock: Lock
    aim_lab: tuple[float, ...] | None
    words: str
    off: str


@dataclass(frozen=True, kw_only=True, eq=False)
class AgainPage:
    """The page as its template takes it. is_read: whether today's hair was read, or last time's stands in. since: what
    has changed since then, in words.
    """

    formula: Formula
    then: Lock
    hair: Lock
    is_read: bool
    options: tuple[Option, ...]
    since: tuple[str, ...]
    tweak: Tweak | None


def formula_of(person: Person, formula_id: int) -> Formula:
    """A formula with its pours. Raises Formula.DoesNotExist for another studio's. Two queries."""
    formulas = Formula.objects.visible_to(person).select_related("line", "visit", "client")
    return formulas.prefetch_related("pours").get(pk=formula_id)


def again_page(person: Person, formula_id: int, day: datetime.date) -> AgainPage:
    """Gather the options for a formula on a day's hair."""
    formula = formula_of(person, formula_id)
    canvas, is_read = _hair(person, formula, day)
    stocked, process = stocked_line(formula.line, str(formula.client_id)), usual_process(formula.line)
    tweaks = [each for each in active_tweaks(person, formula.client_id) if each.zone_name == formula.zone_name]
    return AgainPage(
        formula=formula,
        then=lock_of_colour(tuple(last_lab(person, formula).tolist())),
        hair=bare_lock(canvas),
        is_read=is_read,
        options=options_of(person, formula, canvas, tweaks[0] if tweaks else None),
        since=since_words(formula, stocked.dyes, process),
        tweak=tweaks[0] if tweaks else None,
    )


def options_of(person: Person, formula: Formula, canvas: Canvas, tweak: Tweak | None) -> tuple[Option, ...]:
    """All options; a formula whose shades have all left the shelf has none of the same grams."""
    stocked, process = stocked_line(formula.line, str(formula.client_id)), usual_process(formula.line)
    last = last_lab(person, formula)
    shelf = [stocked.dyes[shade.pk] for shade in stocked.shades if shade.stock_g > 0]
    grams = {pour.shade_id: float(pour.grams) for pour in formula.pours.all() if pour.shade_id in stocked.dyes}
    scale = scale_of(max(float(sum(grams.values())), 5.0))

    def option(code: str, title: str, by_dye: Bowl, forecast: Forecast, aim: FloatArray | None) -> Option:
        return _option(code, title, by_dye, forecast, aim, last, stocked)

    def matched(code: str, title: str, aim: FloatArray) -> Option:
        best = match(canvas, shelf, aim, scale=scale, answers=1, process=process).recipes[0]
        return option(code, title, best.bowl, best.forecast, aim)

    found = []
    if grams:
        bowl = Bowl(grams={stocked.dyes[shade]: g for shade, g in grams.items()})
        found.append(option("grams", say("The same amounts"), bowl, predict(canvas, bowl, process=process), None))
    found.append(matched("result", say("The same result"), last))
    if tweak is not None and tweak.target_l is not None:
        aimed = np.array([float(part or 0) for part in (tweak.target_l, tweak.target_a, tweak.target_b)])
        found.append(matched("tweak", say("With the change: {words}", words=tweak.words), aimed))
    for branch in branches(canvas, last, shelf, scale=scale, process=process):
        title = BRANCH_WORDS[branch.branch]
        found.append(
            option(branch.branch.value, title, branch.recipe.bowl, branch.recipe.forecast, np.array(branch.aim_lab))
        )
    return tuple(found)


def last_lab(person: Person, formula: Formula) -> FloatArray:
    """How a formula turned out, L*a*b* (3,): as judged if it was, else as forecast."""
    kept = kept_formulas(person, Q(pk=formula.pk))
    if kept and kept[0].result:
        return np.array(kept[0].result.lab)
    return np.array([float(formula.forecast_l), float(formula.forecast_a), float(formula.forecast_b)])


def _hair(person: Person, formula: Formula, day: datetime.date) -> tuple[Canvas, bool]:
    """The day's reading of the formula's zone, by name or else by part; before there is one, the formula's own hair."""
    visit = visit_on(person, formula.client_id, day)
    if visit is not None:
        readings = Reading.objects.filter(zone__visit=visit, zone__removed=False).select_related("zone")
        newest = list(readings.order_by("zone_id", "-number").distinct("zone_id"))
        by_name = next((each for each in newest if each.zone.name == formula.zone_name), None)
        found = by_name or next((each for each in newest if each.zone.part == formula.zone_part), None)
        if found is not None:
            return canvas_of(found), True
    return canvas_of(formula), False


def _option(
    code: str,
    title: str,
    bowl: Bowl,
    forecast: Forecast,
    aim: FloatArray | None,
    last: FloatArray,
    stocked: StockedLine,
) -> Option:
    ids = {dye: shade for shade, dye in stocked.dyes.items()}
    names = {shade.pk: shade.name for shade in stocked.shades}
    grams = {ids[dye]: g for dye, g in bowl.grams.items() if g > 0}
    return Option(
        code=code,
        title=title,
        grams=grams,
        pours=tuple((names[shade], brief_weight(g)) for shade, g in grams.items()),
        lock=lock_of_colour(tuple(forecast.lab.tolist())),
        aim_lab=None if aim is None else tuple(float(part) for part in aim),
        words=against_forecast(last, forecast.lab, alike=say("as last time")),
        off=decimals(f"{float(delta_e00(last, forecast.lab)):.1f}"),
    )
