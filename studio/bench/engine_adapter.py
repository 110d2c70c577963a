"""From the bench's rows to the engine and back to what the page shows."""

from dataclasses import dataclass
from decimal import Decimal
from functools import lru_cache
from typing import Final

import numpy as np

from engine.bowl.match import Match, match
from engine.bowl.mix import FULL_TIME_DRY, Bowl, added_absorption
from engine.bowl.predict import Forecast, predict
from engine.bowl.weigh import Scale
from engine.colorimetry.screen import screen_colour
from engine.dye.shade import Shade
from engine.hair.canvas import Canvas, fibres_of
from engine.hair.lock import BODY, lock_tones
from studio.bench.selectors import Bench
from studio.ui.locks import Lock, bare_lock, lock_from_tones, lock_of_colour
from studio.ui.refusal import Refusal
from studio.visits.engine_adapter import canvas_of

SCALE_STEP_G: Final = 0.1
Ladder = tuple[tuple[str, str, str], ...]
RAIL_DILUTIONS: Final = (1.0, 0.2, 0.04)  # undiluted, 1:4, 1:24


@dataclass(frozen=True, kw_only=True, eq=False)
class BenchForecast:
    """The engine's view of the bench: its forecast, and the locks of hair now, then, and as aimed at."""

    forecast: Forecast
    now: Lock
    then: Lock
    aim: Lock | None


@dataclass(frozen=True, kw_only=True, eq=False)
class Answer:
    """One recipe of a match, ready to show and to take."""

    lock: Lock
    grams: dict[int, Decimal]
    delta_e00: float
    words: str


@dataclass(frozen=True, kw_only=True, eq=False)
class Answers:
    """The recipes of a match, best first, and what kept them from the aim."""

    recipes: tuple[Answer, ...]
    sentences: tuple[str, ...]


def engine_bowl(bench: Bench) -> Bowl | None:
    """The bowl for the engine, or None when nothing has been poured."""
    if not bench.grams:
        return None
    return Bowl(grams={bench.stocked.dyes[shade.pk]: float(grams) for shade, grams in bench.poured})


def forecast_of(bench: Bench) -> BenchForecast:
    """Forecast the bench in daylight, dry, at full time."""
    canvas, target_lab = canvas_of(bench.reading), bench.target_lab
    bowl = engine_bowl(bench)
    now = bare_lock(canvas)
    return BenchForecast(
        forecast=predict(canvas, bowl, target_lab=target_lab),
        now=now,
        then=_lock(canvas, bowl) if bowl else now,
        aim=None if target_lab is None else lock_of_colour(tuple(target_lab.tolist())),
    )


def answers_of(bench: Bench) -> Answers:
    """Up to three recipes for the aim. Raises Refusal no_aim."""
    if bench.target_lab is None:
        raise Refusal("no_aim", "aim")
    canvas = canvas_of(bench.reading)
    found: Match = match(
        canvas,
        list(bench.stocked.dyes.values()),
        bench.target_lab,
        scale=Scale(total_g=float(bench.bowl.wanted_g), step_g=SCALE_STEP_G),
    )
    return Answers(
        recipes=tuple(
            Answer(
                lock=_lock(canvas, recipe.bowl),
                grams={int(shade.name): round(Decimal(grams), 2) for shade, grams in recipe.bowl.grams.items()},
                delta_e00=recipe.delta_e00,
                words=recipe.forecast.aim.words if recipe.forecast.aim else "",
            )
            for recipe in found.recipes
        ),
        sentences=tuple(warning.sentence for warning in found.warnings),
    )


def _lock(canvas: Canvas, bowl: Bowl) -> Lock:
    added = added_absorption(bowl, canvas.porosity, FULL_TIME_DRY)
    return lock_from_tones(lock_tones(fibres_of(canvas), added))


def rail_of(bench: Bench) -> dict[int, Ladder]:
    """For each shade of the line by row id: shadow, body and shine at three dilutions on this hair."""
    shades = tuple(bench.stocked.dyes.values())
    return dict(zip(bench.stocked.dyes, _rail(canvas_of(bench.reading), shades), strict=True))


@lru_cache(maxsize=256)
def _rail(canvas: Canvas, shades: tuple[Shade, ...]) -> list[Ladder]:
    """The rail changes only with the hair and the line, never with a pour."""
    clear = Shade(name="clear")
    added = np.stack(
        [
            added_absorption(Bowl(grams={shade: share, clear: 1 - share}), canvas.porosity, FULL_TIME_DRY)
            for shade in shades
            for share in RAIL_DILUTIONS
        ]
    )
    hexes = np.array(screen_colour(lock_tones(fibres_of(canvas), added)).hexes)
    tones = hexes.reshape(len(shades), len(RAIL_DILUTIONS), -1)[:, :, [BODY - 2, BODY, BODY + 2]]
    return [tuple((str(deep), str(body), str(shine)) for deep, body, shine in shade) for shade in tones]
