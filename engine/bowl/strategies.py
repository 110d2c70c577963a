"""What to do about the warmth under a shade: three ways, side by side."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from typing import Final

import numpy as np

from engine.arrays import FloatArray
from engine.bowl.fade import faded_canvas
from engine.bowl.goal import ZoneAim
from engine.bowl.match import Recipe, match_zones
from engine.bowl.mix import FULL_TIME_DRY, Bowl, Process
from engine.bowl.past import OverTone
from engine.bowl.predict import Forecast, predict
from engine.bowl.stock import PLENTY, Stock
from engine.bowl.weigh import Scale
from engine.colorimetry.lights import Light
from engine.dye.shade import Shade
from engine.hair.canvas import Canvas
from engine.hair.reading import canvas_lab
from engine.hair.residue import LEVEL_CLEAN_WHITE

WARM_FROM: Final = 8.0  # chroma of bare hair below which it counts as clean; keratin alone has 4
TONED_CHROMA: Final = 0.25  # of the bare hair's chroma that a pre-tone leaves; chosen by the founders
TONED_DEEPER: Final = 4.0  # L* that a pre-tone costs at least; chosen by the founders
TONER_SHADES: Final = 2  # one against the warmth, one to turn it (common practice, no published source)


class Strategy(StrEnum):
    """How the undertone is met."""

    KEEP_WARMTH = "keep_warmth"
    CORRECT_IN_BOWL = "correct_in_bowl"
    PRE_TONE = "pre_tone"


class PreTone(StrEnum):
    """A house's school of when warmth is toned away before a pastel."""

    NEARER = "nearer"
    ALWAYS = "always"
    NEVER = "never"


@dataclass(frozen=True, kw_only=True, eq=False)
class Outcome:
    """One strategy: its bowl, the toner that goes before it if any, and the forecast on the real canvas."""

    strategy: Strategy
    bowl: Bowl
    toner: Bowl | None
    forecast: Forecast

    @property
    def delta_e00(self) -> float:
        """How far it ends from the target."""
        return self.forecast.aim.delta_e00 if self.forecast.aim else float("inf")


def compare(
    canvas: Canvas,
    shelf: Sequence[Shade],
    target_lab: FloatArray,
    *,
    scale: Scale,
    max_shades: int = 3,
    process: Process = FULL_TIME_DRY,
    light: Light = Light.DAYLIGHT,
    stock: Stock = PLENTY,
    over_tone: OverTone = OverTone.ON_AIM,
) -> tuple[Outcome, ...]:
    """All three ways on one canvas, from nearest to farthest; a pre-tone is left out where no warmth needs it.

    stock: what is left of each shade: no recipe takes more. over_tone: how far past the aim the colour goes. Raises
    BadInput when the stock can't fill the bowl.

    Keep the warmth: the recipe for clean white hair, put on this hair as it is. Correct in the bowl: the best recipe
    for this hair. Pre-tone: a light toner that takes most of the warmth away, then the best recipe on top of it.
    """

    def best(hair: Canvas, aim: FloatArray, most: int = max_shades, how: OverTone = over_tone) -> Recipe:
        zone = ZoneAim(canvas=hair, target_lab=aim, steer_lab=how.steer_lab(hair, aim))
        found = match_zones(
            [zone], shelf, scale=scale, max_shades=most, process=process, light=light, answers=1, stock=stock
        )
        return found.recipes[0]

    def outcome(strategy: Strategy, hair: Canvas, bowl: Bowl, toner: Bowl | None = None) -> Outcome:
        forecast = predict(hair, bowl, process=process, light=light, target_lab=target_lab)
        return Outcome(strategy=strategy, bowl=bowl, toner=toner, forecast=forecast)

    clean = replace(canvas, level=LEVEL_CLEAN_WHITE, old=())
    outcomes = [
        outcome(Strategy.KEEP_WARMTH, canvas, best(clean, target_lab).bowl),
        outcome(Strategy.CORRECT_IN_BOWL, canvas, best(canvas, target_lab).bowl),
    ]
    bare = canvas_lab(canvas, light)
    if float(np.hypot(bare[1], bare[2])) > WARM_FROM:
        aim = np.array([bare[0] - TONED_DEEPER, bare[1] * TONED_CHROMA, bare[2] * TONED_CHROMA])
        toner = best(canvas, aim, min(max_shades, TONER_SHADES), OverTone.ON_AIM).bowl  # it is covered
        toned = faded_canvas(canvas, toner, 0, process=process)
        outcomes.append(outcome(Strategy.PRE_TONE, toned, best(toned, target_lab).bowl, toner))
    return tuple(sorted(outcomes, key=lambda each: each.delta_e00))


def by_school(found: Sequence[Outcome], school: PreTone) -> tuple[Outcome, ...]:
    """The ways as a house takes them: a pre-tone where it is nearer, first of all where there is one, or never."""
    toned = [each for each in found if each.strategy is Strategy.PRE_TONE]
    others = [each for each in found if each.strategy is not Strategy.PRE_TONE]
    if school is PreTone.NEVER:
        return tuple(others)
    return (*toned, *others) if school is PreTone.ALWAYS else tuple(found)
