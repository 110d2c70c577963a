"""Filling: putting warm pigment back before light hair goes darker."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from functools import lru_cache
from typing import Final, NamedTuple

import numpy as np

from engine.arrays import FloatArray, frozen, within
from engine.bowl.fade import faded_canvas
from engine.bowl.filler import FillerOutcome, FillWith, fault_words, filled_as, filled_with, filler_outcomes, over
from engine.bowl.match import ANSWERS, Match, match, nearest
from engine.bowl.mix import FULL_TIME_DRY, Bowl, Process
from engine.bowl.predict import seen_lab
from engine.bowl.ranking import JUST_VISIBLE
from engine.bowl.stock import PLENTY, Stock
from engine.bowl.weigh import Scale
from engine.colorimetry.lab import lch_of
from engine.colorimetry.lights import Light
from engine.dye.shade import CLEAR, SMALLEST_KS, Shade
from engine.hair.canvas import RANGES, Canvas, fibres_of
from engine.hair.reading import canvas_lab
from engine.hair.residue import LEVEL_CLEAN_WHITE

DUST: Final = 1e-9
STEP_MOST: Final = 2.0  # levels that one step of filling goes down
SEEN_THIN: Final = 0.3  # K at the peak of a shade whose tone is looked at
WARM_HUES_DEG: Final = (8.0, 110.0)  # from red to gold
SHARES: Final = (1.0, 0.8, 0.6, 0.45, 0.35, 0.25)  # of what is missing, that a fill may put back; the founders'
WARM_CHROMA: Final = 10.0  # below it a shade is hardly any colour


class FillFrom(StrEnum):
    """Two schools of when a fill is due; or somebody has decided on one, however short the way down is."""

    TWO_LEVELS = "two_levels"
    MORE_THAN_TWO = "more_than_two"
    ASKED = "asked"

    def is_due(self, down: float) -> bool:
        """Whether hair that goes so many levels darker is filled."""
        least = {FillFrom.TWO_LEVELS: STEP_MOST - DUST, FillFrom.MORE_THAN_TWO: STEP_MOST + DUST, FillFrom.ASKED: DUST}
        return down >= least[self]


@dataclass(frozen=True, kw_only=True, eq=False)
class FillStep:
    """One step: the level that it goes down to, the warm colour (3,) to reach, and its bowl."""

    level: float
    target_lab: FloatArray
    bowl: Match


@dataclass(frozen=True, kw_only=True, eq=False)
class Fill:
    """Whether a fill is due, the warm pigment that is missing as K/S (bands,), and the steps that put it back.

    fillers: what four kinds of filler would do, from best to worst; none when nothing is due.
    without_lab, with_lab (3,): the final bowl on the hair as it is and on filled hair, when a bowl was given.
    """

    due: bool
    levels_down: float
    missing: FloatArray
    steps: tuple[FillStep, ...]
    fillers: tuple[FillerOutcome, ...]
    without_lab: FloatArray | None
    with_lab: FloatArray | None

    @property
    def cast(self) -> str:
        """What the final colour leans to without the fill, in words; empty without a bowl or when nothing is due."""
        if not self.due or self.without_lab is None or self.with_lab is None:
            return ""
        return fault_words(self.with_lab, self.without_lab)


def fill(
    canvas: Canvas,
    level: float,
    shelf: Sequence[Shade],
    *,
    scale: Scale,
    final: Bowl | None = None,
    target_lab: FloatArray | None = None,
    follows: Sequence[Shade] = (),
    fill_from: FillFrom = FillFrom.TWO_LEVELS,
    fill_with: FillWith = FillWith.MISSING,
    process: Process = FULL_TIME_DRY,
    light: Light = Light.DAYLIGHT,
    answers: int = ANSWERS,
    stock: Stock = PLENTY,
) -> Fill:
    """What is missing when a canvas goes darker to a level, and how to put it back in steps of at most two levels.

    Each step is made for the hair as the ones before leave it, so that steps over one another add up to the last; and
    all are as thin as it takes for the colour that follows to come out over them.
    target_lab: that colour (3,), by default what the final bowl does on truly filled hair; without either all that is
    missing is put back. follows: the shelf that it is mixed from, the fill's own by default. final: the bowl that
    follows the fill; fill_with: to what colour the house fills; process: how it is worked; answers: recipes for each
    step; stock: what is left of each shade.
    Raises OutOfRange for the level, EmptyShelf, BadInput when the stock can't fill a bowl.
    """
    within("level", level, *RANGES["level"])
    down = canvas.level - level
    due = fill_from.is_due(down)
    clean = replace(canvas, grey=0.0, old=())
    missing = np.maximum(fibres_of(replace(clean, level=level)).absorption[0] - fibres_of(clean).absorption[0], 0)
    warm = warm_of(shelf, neutral=fill_with.has_neutral)
    truly = filled_with(canvas, missing, "warm pigment")
    wanted = target_lab if target_lab is not None or final is None else over(truly, final, process, light)
    steps: tuple[FillStep, ...] = ()
    if due and warm:
        steps = _steps_beneath(
            canvas, level, warm, follows or shelf, wanted, _Worked(fill_with, scale, process, light, answers, stock)
        )
    return Fill(
        due=due,
        levels_down=down,
        missing=frozen(missing),
        steps=steps,
        fillers=filler_outcomes(canvas, level, truly, final, process, light) if due else (),
        without_lab=frozen(over(canvas, final, process, light)) if final else None,
        with_lab=frozen(over(truly, final, process, light)) if final else None,
    )


class _Worked(NamedTuple):
    """How the steps are mixed and worked."""

    fill_with: FillWith
    scale: Scale
    process: Process
    light: Light
    answers: int
    stock: Stock


def _steps_beneath(
    canvas: Canvas,
    level: float,
    warm: Sequence[Shade],
    shelf: Sequence[Shade],
    wanted: FloatArray | None,
    worked: _Worked,
) -> tuple[FillStep, ...]:
    """The steps, the strongest of SHARES over which the wanted colour (3,) comes out as near as on the bare hair, or
    hardly off; the thinnest where it never does.

    A fill that is stronger than the colour that follows shows through it, and nothing takes it out again.
    """
    process, light = worked.process, worked.light
    near = 0.0 if wanted is None else max(JUST_VISIBLE, nearest(canvas, shelf, wanted, process=process, light=light)[1])
    steps: tuple[FillStep, ...] = ()
    for share in SHARES:
        steps, hair = _steps(canvas, level, warm, share, worked)
        if wanted is None or nearest(hair, shelf, wanted, process=process, light=light)[1] <= near + DUST:
            break
    return steps


def _steps(
    canvas: Canvas, level: float, warm: Sequence[Shade], share: float, worked: _Worked
) -> tuple[tuple[FillStep, ...], Canvas]:
    """Steps that put a share of what is missing back, and the hair after them."""
    fill_with, scale, process, light, answers, stock = worked
    alone = Process(taught=process.taught)
    found, hair = [], canvas
    for next_level in _levels_down(canvas.level, level):
        target = canvas_lab(filled_as(canvas, next_level, fill_with), light)
        bowl = match(hair, warm, target, scale=scale, light=light, answers=answers, process=alone, stock=stock)
        if share < 1:
            target = canvas_lab(faded_canvas(hair, _thinned(bowl.recipes[0].bowl, share), 0, process=process), light)
            bowl = match(hair, warm, target, scale=scale, light=light, answers=answers, process=alone, stock=stock)
        found.append(FillStep(level=next_level, target_lab=frozen(target), bowl=bowl))
        hair = faded_canvas(hair, bowl.recipes[0].bowl, 0, process=process)
    return tuple(found), hair


def _thinned(bowl: Bowl, share: float) -> Bowl:
    """As much of it with a share of its colours, the rest clear."""
    grams = {shade: share * bowl.grams[shade] for shade in bowl.colours}
    return Bowl(grams={**grams, Shade(name=CLEAR): bowl.total_g - sum(grams.values())})


def warm_of(shelf: Sequence[Shade], *, neutral: bool = False) -> list[Shade]:
    """The shades that a fill may hold: those whose tone is warm, with clear; none if no shade is.

    A fill puts back what lightening took, which was red, orange and gold: green or blue in it is a mistake (common
    practice, no published source). neutral: shades without a tone may be in it too.
    """
    warm = [shade for shade in shelf if not shade.is_clear and is_warm(shade)]
    if not warm:
        return []
    plain = [shade for shade in shelf if neutral and not shade.is_clear and is_neutral(shade)]
    return [*warm, *plain, *(shade for shade in shelf if shade.is_clear)]


def is_warm(shade: Shade) -> bool:
    """Whether a shade by itself, thin on clean white hair, is red, orange or gold."""
    chroma, hue = _thin(shade)
    return chroma > WARM_CHROMA and WARM_HUES_DEG[0] < hue < WARM_HUES_DEG[1]


def is_neutral(shade: Shade) -> bool:
    """Whether it is hardly any colour so."""
    return _thin(shade)[0] <= WARM_CHROMA


@lru_cache(maxsize=4096)
def _thin(shade: Shade) -> tuple[float, float]:
    """Chroma and hue of a shade by itself, thin on clean white hair."""
    thin = SEEN_THIN * shade.spectrum / max(float(shade.spectrum.max()), SMALLEST_KS)
    seen = seen_lab(fibres_of(Canvas(level=LEVEL_CLEAN_WHITE)), thin, Light.DAYLIGHT)
    _, chroma, hue = (float(part) for part in lch_of(seen))
    return chroma, hue


def _levels_down(start: float, end: float) -> list[float]:
    """The levels of even steps of at most two levels from start to end."""
    count = int(np.ceil((start - end) / STEP_MOST - 1e-9))
    return [float(level) for level in np.linspace(start, end, count + 1)[1:]]
