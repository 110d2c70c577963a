"""The steps of a route, with their minutes and what they take out of the hair, and the colour that ends it."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import IntEnum, StrEnum
from typing import Final

from engine.arrays import FloatArray, frozen
from engine.bowl.fill import STEP_MOST
from engine.bowl.filler import FillWith, filled_as
from engine.bowl.match import nearest
from engine.bowl.mix import Process
from engine.dye.shade import Shade
from engine.hair.canvas import Canvas
from engine.hair.residue import LEVEL_DARKEST, level_of_lightness
from engine.knowledge.knowledge import Knowledge
from engine.language import say
from engine.service.house import CleanUp, Condition
from engine.service.timing import TIMINGS, ClockKind

FILL_SHORT_LEVELS: Final = 3.0  # a fill stops this much above the colour, which brings its own depth; the founders'
FILL_LEAST_LEVELS: Final = 1.0  # a fill that is due goes down so far at the least: less puts next to nothing back
MINUTES: Final = {"remove": (15.0, 30.0), "fill": (20.0, 20.0)}
EQUALISED: Final = 0.5  # how far an equaliser brings porosity towards 1; the founders' estimate
EQUALISED_FROM: Final = 1.3  # porosity from which a house that evens hair does; chosen by the founders


class StepKind(StrEnum):
    """One thing that is done to a zone."""

    REMOVE = "remove"
    LIFT = "lift"
    CLEAN_UP = "clean_up"
    EQUALISE = "equalise"
    FILL = "fill"
    DEPOSIT = "deposit"


ONE_WAY: Final = frozenset({StepKind.LIFT, StepKind.REMOVE})


class HairCost(IntEnum):
    """What a route takes out of the hair."""

    NONE = 0
    LITTLE = 1
    SOME = 2
    MUCH = 3

    @property
    def words(self) -> str:
        """As a sentence about a way ends."""
        how_much = {
            HairCost.NONE: say("nothing"),
            HairCost.LITTLE: say("little"),
            HairCost.SOME: say("something"),
            HairCost.MUCH: say("much"),
        }
        return say("costs the hair {how_much}", how_much=how_much[self])


@dataclass(frozen=True, kw_only=True)
class Step:
    """One step with its minutes, from and to. one_way: it can't be undone, only coloured over."""

    kind: StepKind
    minutes: tuple[float, float]

    @property
    def one_way(self) -> bool:
        """Whether there is no way back from it."""
        return self.kind in ONE_WAY


@dataclass(frozen=True, kw_only=True)
class Manner:
    """How a house works colour, whatever the hair: on damp hair or dry, what it fills with, how it evens and washes."""

    damp: bool = False
    fill_with: FillWith = FillWith.MISSING
    condition: Condition = Condition.CLEAN
    clean_up: CleanUp = CleanUp.ONCE


USUAL: Final = Manner()


@dataclass(frozen=True, kw_only=True, eq=False)
class Finish:
    """How every route ends: the hair made ready, and on it the bowl that comes nearest to the target."""

    target_lab: FloatArray
    shelf: tuple[Shade, ...]
    max_shades: int
    process: Process
    manner: Manner = USUAL

    def on(self, canvas: Canvas) -> tuple[FloatArray, float]:
        """The nearest colour L*a*b* (3,) on a canvas that is ready, and how far off it is, delta E00."""
        return nearest(canvas, self.shelf, self.target_lab, max_shades=self.max_shades, process=self.process)

    def readied(self, canvas: Canvas) -> tuple[Canvas, tuple[Step, ...]]:
        """The hair as the house readies it for colour, and the steps of that."""
        if self.manner.condition is Condition.CLEAN or canvas.porosity < EQUALISED_FROM:
            return canvas, ()
        timing = TIMINGS[ClockKind.EQUALISER]
        return equalised(canvas), (Step(kind=StepKind.EQUALISE, minutes=timing.usual_min),)

    @property
    def step(self) -> Step:
        """The colour as a step, with the minutes that its shades take."""
        usual = [shade.kind.habits.usual_min for shade in self.shelf if not shade.is_clear]
        return Step(kind=StepKind.DEPOSIT, minutes=(min(least for least, _ in usual), max(most for _, most in usual)))

    @property
    def clean_up(self) -> Step:
        """What comes between lightener or remover and the next coat."""
        return Step(kind=StepKind.CLEAN_UP, minutes=self.manner.clean_up.minutes)

    @property
    def level(self) -> float:
        """The level that is as deep as the target."""
        return float(level_of_lightness(self.target_lab[0]))


def finish_of(
    target_lab: FloatArray, shelf: Sequence[Shade], *, max_shades: int, taught: Knowledge | None, manner: Manner
) -> Finish:
    """How ways towards a target (3,) with a shelf end, as the house works and as results teach."""
    process = Process(taught=taught, damp=manner.damp)
    return Finish(
        target_lab=frozen(target_lab), shelf=tuple(shelf), max_shades=max_shades, process=process, manner=manner
    )


def equalised(canvas: Canvas) -> Canvas:
    """Hair that an equaliser has made more even."""
    return replace(canvas, porosity=canvas.porosity + (1 - canvas.porosity) * EQUALISED)


def with_fill(canvas: Canvas, finish: Finish) -> tuple[Canvas, Step]:
    """Hair that is filled for a colour, and the step that fills it."""
    level = fill_level(canvas, finish.target_lab)
    filled = filled_as(canvas, level, finish.manner.fill_with)
    fills = max(1, math.ceil((canvas.level - level) / STEP_MOST - 1e-9))
    least, most = MINUTES["fill"]
    return filled, Step(kind=StepKind.FILL, minutes=(fills * least, fills * most))


def fill_level(canvas: Canvas, target_lab: FloatArray) -> float:
    """The level down to which hair is filled before a colour (3,): above the colour's own depth, below its own."""
    above = float(level_of_lightness(target_lab[0])) + FILL_SHORT_LEVELS
    return max(min(canvas.level - FILL_LEAST_LEVELS, above), LEVEL_DARKEST)
