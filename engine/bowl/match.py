"""Which mix of the shelf's shades hits a target on a canvas."""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

import numpy as np

from engine.arrays import FloatArray
from engine.bowl.cautions import Severity, Warning
from engine.bowl.goal import Goal, ZoneAim, goal_of, shares_of
from engine.bowl.mix import FULL_TIME_DRY, Bowl, Process, lifted
from engine.bowl.predict import Forecast, predict
from engine.bowl.ranking import JUST_VISIBLE, Candidate, Ranked, distinct, shortlist
from engine.bowl.seek import REAIMED, Seek
from engine.bowl.solve import Fit, fit_sets, refit
from engine.bowl.spread import spread
from engine.bowl.stock import PLENTY, Stock
from engine.bowl.taught import aimed_beside, is_beside
from engine.bowl.weigh import Pot, Scale
from engine.colorimetry.lights import Light
from engine.dye.shade import CLEAR, Shade
from engine.errors import BadInput, EmptyShelf
from engine.hair.canvas import Canvas
from engine.hair.reading import canvas_lab
from engine.language import later

ANSWERS: Final = 3
SHADES_LIMIT: Final = 4
KEPT_PER_SIZE: Final = 16  # sets of each size that go on to the scale
KEPT_FOR_ONE: Final = 8  # where a single answer is wanted, which need not differ from others
RANKED_BY_SAMPLES: Final = 96  # enough to tell a steady recipe from a wandering one
ANSWERED_FROM: Final = 3  # candidates weighed up for each answer


class Limit(StrEnum):
    """What kept a match from its target."""

    NOTHING = "nothing"
    SCALE = "scale"
    CANVAS = "canvas"
    SHELF = "shelf"


LIMIT_WARNINGS: Final = {
    Limit.SCALE: Warning(
        code="scale_too_coarse",
        severity=Severity.CAUTION,
        sentence=later("The scale is too coarse for this bowl: mix more, or weigh in finer steps."),
    ),
    Limit.CANVAS: Warning(
        code="aim_lighter_than_hair",
        severity=Severity.CAUTION,
        sentence=later("The aim is lighter than this hair, and colour never lightens: lift first, or aim deeper."),
    ),
    Limit.SHELF: Warning(
        code="shelf_cannot_reach",
        severity=Severity.CAUTION,
        sentence=later("No mix of these shades reaches the aim on this hair; the nearest are shown."),
    ),
}

ONE_BOWL_WARNING: Final = Warning(
    code="one_bowl_cannot_reach",
    severity=Severity.CAUTION,
    sentence=later(
        "No one bowl of these shades reaches the aim on all of these zones; the nearest are shown. A bowl for each "
        "may come nearer."
    ),
)


@dataclass(frozen=True, kw_only=True, eq=False)
class Recipe:
    """One answer: grams by shade with clear, and the forecast of each zone.

    delta_e00: difference of the weighable recipe to the target, the mean over zones by weight; exact_delta_e00: the
    same before rounding to the scale. chance: that a result is hardly off. within_50, within_90: how far results may
    wander. All are means over zones by weight.
    """

    bowl: Bowl
    forecasts: tuple[Forecast, ...]
    delta_e00: float
    exact_delta_e00: float
    chance: float
    within_50: float
    within_90: float
    cost: float

    @property
    def forecast(self) -> Forecast:
        """The forecast of the first zone."""
        return self.forecasts[0]

    @property
    def farthest(self) -> int:
        """Which zone, from 0, misses its target by most."""
        return max(range(len(self.forecasts)), key=lambda zone: aim_of(self.forecasts[zone]))

    @property
    def shade_count(self) -> int:
        """Coloured shades in the recipe."""
        return len(self.bowl.colours)


@dataclass(frozen=True, kw_only=True, eq=False)
class Match:
    """Recipes from best to worst, what limited the best one, how many sets were tried and how many settled.

    nearest_delta_e00: the least difference of any set, were the scale endlessly fine. weighed_delta_e00: the least
    that can be weighed, which the first recipe may miss by ALIKE for the sake of fewer shades.
    """

    recipes: tuple[Recipe, ...]
    nearest_delta_e00: float
    weighed_delta_e00: float
    limited_by: Limit
    sets_tried: int
    sets_settled: int
    warnings: tuple[Warning, ...]


@dataclass(frozen=True, kw_only=True, eq=False)
class _WeighedUp:
    candidate: Candidate
    bowl: Bowl
    chance: float
    within_50: float
    within_90: float


def aim_of(forecast: Forecast) -> float:
    """The difference of a forecast that was made with a target."""
    if forecast.aim is None:
        raise ValueError("the forecast was made without a target")
    return forecast.aim.delta_e00


def match(
    canvas: Canvas,
    shelf: Sequence[Shade],
    target_lab: FloatArray,
    *,
    scale: Scale,
    max_shades: int = 3,
    process: Process = FULL_TIME_DRY,
    light: Light = Light.DAYLIGHT,
    answers: int = ANSWERS,
    stock: Stock = PLENTY,
) -> Match:
    """`match_zones` for one zone: the best weighable recipes for a target (3,) in `light`."""
    return match_zones(
        [ZoneAim(canvas=canvas, target_lab=target_lab)],
        shelf,
        scale=scale,
        max_shades=max_shades,
        process=process,
        light=light,
        answers=answers,
        stock=stock,
    )


def match_zones(
    zones: Sequence[ZoneAim],
    shelf: Sequence[Shade],
    *,
    scale: Scale,
    max_shades: int = 3,
    process: Process = FULL_TIME_DRY,
    light: Light = Light.DAYLIGHT,
    answers: int = ANSWERS,
    stock: Stock = PLENTY,
) -> Match:
    """The best weighable recipes of up to max_shades shades and clear, one bowl for all zones.

    Every set of shades is fitted, the nearest of each size are rounded to the scale and searched
    around, and distinct ones are kept. Raises EmptyShelf when no shade has colour, or BadInput when what is in
    stock can't fill the bowl.
    """
    # In an order of its own, so that the order of the shelf decides no tie and no rounding.
    colours = sorted((shade for shade in shelf if not shade.is_clear), key=lambda shade: shade.key)
    if not colours:
        raise EmptyShelf
    colours = [shade for shade in colours if stock.units(shade, scale) >= scale.least_units]
    if not colours:
        raise BadInput("stock", "stock holds no shade of which the least pour could be weighed")
    clear = next((shade for shade in shelf if shade.is_clear), Shade(name=CLEAR))
    pot = Pot(
        scale=scale,
        thins=clear.thins,
        most_units=np.array([stock.units(shade, scale) for shade in colours]),
        most_clear_units=stock.units(clear, scale),
    )
    seek = Seek(
        zones=zones,
        colours=colours,
        clear=clear,
        pot=pot,
        process=process,
        light=light,
        largest=min(max_shades, len(colours), scale.units // scale.least_units),
        keep=KEPT_PER_SIZE if answers > 1 else KEPT_FOR_ONE,
    )
    found, fits = seek.found(ANSWERED_FROM * answers)
    if not found:
        raise BadInput("stock", f"stock is too small for a bowl of {scale.total_g:g} g: mix less, or allow more shades")
    few = [
        _weigh_up(each, zones, seek.bowl_of(each), process, light) for each in shortlist(found, ANSWERED_FROM * answers)
    ]
    ranked = [
        Ranked(candidate=each.candidate, chance=each.chance, within_90=each.within_90, cost=stock.cost(each.bowl.grams))
        for each in few
    ]
    recipes = [_recipe(few[index], zones, stock, process, light) for index in distinct(ranked, answers)]
    nearest, weighed = min(each.exact_delta_e00 for each in found), min(each.delta_e00 for each in found)
    is_steered = any(zone.steer_lab is not None for zone in zones)  # past what is wanted, which limits nothing
    limit = limit_of(
        weighed if is_steered else recipes[0].delta_e00,
        nearest,
        darker_canvas=any(_is_darker(zone, colours, process, light) for zone in zones),
    )
    return Match(
        recipes=tuple(recipes),
        nearest_delta_e00=nearest,
        weighed_delta_e00=weighed,
        limited_by=limit,
        sets_tried=sum(fit.tried for fit in fits),
        sets_settled=sum(fit.settled for fit in fits),
        warnings=_warned(limit, len(zones)),
    )


def nearest(
    canvas: Canvas,
    shelf: Sequence[Shade],
    target_lab: FloatArray,
    *,
    max_shades: int = 2,
    process: Process = FULL_TIME_DRY,
    light: Light = Light.DAYLIGHT,
) -> tuple[FloatArray, float]:
    """The nearest colour L*a*b* (3,) to a target (3,) that a shelf reaches on a canvas, were the scale endlessly fine.

    And its difference. A match without weighing, ranking and forecasts. Raises EmptyShelf.
    """
    colours = [shade for shade in shelf if not shade.is_clear]
    if not colours:
        raise EmptyShelf
    zone = ZoneAim(canvas=canvas, target_lab=target_lab)
    goal = goal_of([zone], colours, process, light)
    fits = fit_sets(goal, min(max_shades, len(colours)), KEPT_PER_SIZE)

    def best_of(goal: Goal, fits: Sequence[Fit]) -> FloatArray:
        fractions = np.concatenate([goal.scatter(fit.sets, fit.fractions) for fit in fits])
        fractions = np.vstack([np.zeros(len(colours)), fractions])
        found: FloatArray = fractions[goal.difference(fractions).argmin()]
        return found

    best = best_of(goal, fits)
    if not best.any() or not is_beside(canvas, colours, process):
        return goal.sights[0].reckoning.lab(best), float(goal.difference(best))
    for _ in range(REAIMED):
        bowl = _bowl_of(best, colours)
        goal = goal_of(aimed_beside([zone], bowl, process, light, colours), colours, process, light)
        fits = refit(goal, fits)
        best = best_of(goal, fits)
    bowl = _bowl_of(best, colours)
    found = predict(canvas, bowl, process=process, light=light, target_lab=target_lab)
    return found.lab, aim_of(found)


def _bowl_of(fractions: FloatArray, colours: Sequence[Shade]) -> Bowl:
    """Fractions (shades,) of coloured shades as a bowl of 100 g, the rest plain clear."""
    grams = {shade: 100 * float(each) for shade, each in zip(colours, fractions, strict=True)}
    return Bowl(grams={**grams, Shade(name=CLEAR): 100 * float(max(1 - fractions.sum(), 0.0))})


def _warned(limit: Limit, zones: int) -> tuple[Warning, ...]:
    if limit is Limit.SHELF and zones > 1:
        return (ONE_BOWL_WARNING,)
    return (LIMIT_WARNINGS[limit],) if limit in LIMIT_WARNINGS else ()


def _is_darker(zone: ZoneAim, colours: Sequence[Shade], process: Process, light: Light) -> bool:
    """Whether hair is deeper than its target before any dye is on it, at its lightest if colour lifts it."""
    hair = lifted(zone.canvas, colours, process)
    return float(canvas_lab(hair, light)[0]) < float(zone.target_lab[0])


def _weigh_up(candidate: Candidate, zones: Sequence[ZoneAim], bowl: Bowl, process: Process, light: Light) -> _WeighedUp:
    """A candidate's bowl, and how far its results may wander."""
    wander = [spread(zone.canvas, bowl, process=process, light=light, samples=RANKED_BY_SAMPLES) for zone in zones]
    shares = shares_of(zones)
    return _WeighedUp(
        candidate=candidate,
        bowl=bowl,
        chance=float(shares @ [each.chance(zone.target_lab) for each, zone in zip(wander, zones, strict=True)]),
        within_50=float(shares @ [each.within_50 for each in wander]),
        within_90=float(shares @ [each.within_90 for each in wander]),
    )


def _recipe(found: _WeighedUp, zones: Sequence[ZoneAim], stock: Stock, process: Process, light: Light) -> Recipe:
    """A candidate with its forecasts."""
    forecasts = tuple(
        predict(zone.canvas, found.bowl, process=process, light=light, target_lab=zone.target_lab) for zone in zones
    )
    return Recipe(
        bowl=found.bowl,
        forecasts=forecasts,
        delta_e00=float(shares_of(zones) @ [aim_of(forecast) for forecast in forecasts]),
        exact_delta_e00=found.candidate.exact_delta_e00,
        chance=found.chance,
        within_50=found.within_50,
        within_90=found.within_90,
        cost=stock.cost(found.bowl.grams),
    )


def limit_of(weighed_delta_e00: float, exact_delta_e00: float, *, darker_canvas: bool) -> Limit:
    """What keeps the best recipe from its target: the scale if only rounding does, else the hair or the shelf."""
    if weighed_delta_e00 < JUST_VISIBLE:
        return Limit.NOTHING
    if exact_delta_e00 < JUST_VISIBLE:
        return Limit.SCALE
    return Limit.CANVAS if darker_canvas else Limit.SHELF
