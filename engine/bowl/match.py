"""Which mix of the shelf's shades hits a target on a canvas."""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

import numpy as np

from engine.arrays import FloatArray
from engine.bowl.mix import FULL_TIME_DRY, Bowl, Process
from engine.bowl.predict import Forecast, Severity, Warning, predict
from engine.bowl.reckon import Reckoning, reckoning_of
from engine.bowl.solve import Fit, fit_all_sets
from engine.bowl.weigh import Scale, weigh_sets
from engine.colorimetry.difference import delta_e00
from engine.colorimetry.lights import Light
from engine.dye.shade import CLEAR, Shade
from engine.errors import EmptyShelf
from engine.hair.canvas import Canvas

ANSWERS: Final = 3
SHADES_LIMIT: Final = 4
KEPT_PER_SIZE: Final = 24  # sets of each size that go on to the scale
JUST_VISIBLE: Final = 1.0  # delta E00 of a pair that side by side is just told apart
ALIKE: Final = 0.5  # differences in closeness smaller than this are no reason to prefer a recipe


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
        sentence="The scale is too coarse for this bowl: mix more, or weigh in finer steps.",
    ),
    Limit.CANVAS: Warning(
        code="aim_lighter_than_hair",
        severity=Severity.CAUTION,
        sentence="The aim is lighter than this hair, and colour never lightens: lift first, or aim deeper.",
    ),
    Limit.SHELF: Warning(
        code="shelf_cannot_reach",
        severity=Severity.CAUTION,
        sentence="No mix of these shades reaches the aim on this hair; the nearest are shown.",
    ),
}


@dataclass(frozen=True, kw_only=True, eq=False)
class Recipe:
    """One answer: grams by shade with clear, its forecast, and the difference before rounding to the scale."""

    bowl: Bowl
    forecast: Forecast
    exact_delta_e00: float

    @property
    def delta_e00(self) -> float:
        """Difference of the weighable recipe to the target."""
        return aim_of(self.forecast)

    @property
    def shade_count(self) -> int:
        """Coloured shades in the recipe."""
        return len(self.bowl.colours)


@dataclass(frozen=True, kw_only=True, eq=False)
class Match:
    """Recipes from best to worst, what limited the best one, how many sets were tried and how many settled.

    nearest_delta_e00: the least difference of any set, were the scale endlessly fine.
    """

    recipes: tuple[Recipe, ...]
    nearest_delta_e00: float
    limited_by: Limit
    sets_tried: int
    sets_settled: int
    warnings: tuple[Warning, ...]


@dataclass(frozen=True, kw_only=True, eq=False)
class _Candidate:
    shades: tuple[int, ...]
    units: tuple[int, ...]
    delta_e00: float
    exact_delta_e00: float


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
) -> Match:
    """The best weighable recipes of up to max_shades shades and clear for a target (3,) in `light`.

    Every set of shades is fitted, the nearest of each size are rounded to the scale and searched
    around, and distinct ones are kept. Raises EmptyShelf when no shade has colour.
    """
    colours = [shade for shade in shelf if not shade.is_clear]
    if not colours:
        raise EmptyShelf
    clear = next((shade for shade in shelf if shade.is_clear), Shade(name=CLEAR))
    reckoning = reckoning_of(canvas, colours, process, light)
    found: list[_Candidate] = []
    tried = settled = 0
    largest = min(max_shades, len(colours), scale.units // scale.least_units)
    for fit in fit_all_sets(reckoning, largest, target_lab, KEPT_PER_SIZE):
        found += _candidates(reckoning, fit, target_lab, scale)
        tried += fit.tried
        settled += fit.settled
    recipes = []
    for chosen in distinct(found, answers):
        bowl = _bowl(chosen, colours, clear, scale)
        forecast = predict(canvas, bowl, process=process, light=light, target_lab=target_lab)
        recipes.append(Recipe(bowl=bowl, forecast=forecast, exact_delta_e00=chosen.exact_delta_e00))
    bare_lightness = float(reckoning.lab(np.zeros(len(colours)))[0])
    nearest = min(candidate.exact_delta_e00 for candidate in found)
    limit = limit_of(
        recipes[0].delta_e00,
        nearest,
        darker_canvas=bare_lightness < float(target_lab[0]),
    )
    warnings = (LIMIT_WARNINGS[limit],) if limit in LIMIT_WARNINGS else ()
    return Match(
        recipes=tuple(recipes),
        nearest_delta_e00=nearest,
        limited_by=limit,
        sets_tried=tried,
        sets_settled=settled,
        warnings=warnings,
    )


def _candidates(reckoning: Reckoning, fit: Fit, target_lab: FloatArray, scale: Scale) -> list[_Candidate]:
    """Weighable candidates among all sets of one size."""
    sets, shades = fit.sets, len(reckoning.spectra)
    spread = np.zeros((len(sets), shades))
    np.put_along_axis(spread, sets, fit.fractions, axis=1)
    exact = delta_e00(target_lab, reckoning.lab(spread))
    weighed = weigh_sets(reckoning, sets, fit.fractions, target_lab, scale)
    return [
        _Candidate(
            shades=tuple(int(i) for i in members),
            units=tuple(int(n) for n in units),
            delta_e00=float(difference),
            exact_delta_e00=float(before),
        )
        for members, units, difference, before in zip(sets, weighed.units, weighed.delta_e00, exact, strict=True)
        if np.isfinite(difference)
    ]


def distinct(found: Sequence[_Candidate], answers: int) -> list[_Candidate]:
    """The best few: by closeness in steps that matter, then fewer shades; a longer recipe must earn its extra shade.

    A candidate is passed over when a chosen recipe uses a part of its shades and is as close, give or take ALIKE.
    """
    ranked = sorted(found, key=lambda c: (c.delta_e00 // ALIKE, len(c.shades), c.delta_e00, c.shades))
    chosen: list[_Candidate] = []
    for candidate in ranked:
        earned = all(
            not set(other.shades) <= set(candidate.shades) or candidate.delta_e00 < other.delta_e00 - ALIKE
            for other in chosen
        )
        if earned:
            chosen.append(candidate)
        if len(chosen) == answers:
            break
    return chosen


def _bowl(candidate: _Candidate, colours: Sequence[Shade], clear: Shade, scale: Scale) -> Bowl:
    grams = scale.grams(np.array([*candidate.units, scale.units - sum(candidate.units)]))
    shades = [*(colours[i] for i in candidate.shades), clear]
    return Bowl(grams={shade: float(g) for shade, g in zip(shades, grams, strict=True) if g > 0})


def limit_of(weighed_delta_e00: float, exact_delta_e00: float, *, darker_canvas: bool) -> Limit:
    """What keeps the best recipe from its target: the scale if only rounding does, else the hair or the shelf."""
    if weighed_delta_e00 < JUST_VISIBLE:
        return Limit.NOTHING
    if exact_delta_e00 < JUST_VISIBLE:
        return Limit.SCALE
    return Limit.CANVAS if darker_canvas else Limit.SHELF
