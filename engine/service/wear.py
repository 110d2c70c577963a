"""How daring a colour is worn: from one that shows in the sun alone to one for the stage.

A wish is a colour; how much of it is seen is three other things: how thin it is mixed, how deep the root stays, and
where it is put. Which of them goes with which occasion, and how long regrowth stays unseen under each root, is common
practice, no published source; the numbers are the founders'.
"""

from dataclasses import dataclass
from enum import IntEnum
from typing import Final

import numpy as np

from engine.arrays import FloatArray, frozen
from engine.bowl.match import match
from engine.bowl.mix import FULL_TIME_DRY, Bowl, Process
from engine.bowl.predict import predict
from engine.bowl.weigh import Scale
from engine.dye.shade import Shade
from engine.hair.canvas import Canvas, lightened
from engine.language import later
from engine.service.aftercare import Habits, Keeping, keeping
from engine.service.root import RootLook, shadow_lab

WEEKS_A_YEAR: Final = 52
TOTAL_G: Final = 60.0
STEP_G: Final = 0.1


class Wear(IntEnum):
    """How daring, from the quietest on."""

    SUN = 0
    WORK = 1
    DAILY = 2
    EVENING = 3
    STAGE = 4


# The step that goes with where a colour is to be seen.
OF_SETTING: Final = {"work": Wear.WORK, "everyday": Wear.DAILY, "event": Wear.EVENING, "stage": Wear.STAGE}


@dataclass(frozen=True, kw_only=True)
class Worn:
    """What a step of daring does. thinner: times as much bowl of the same colour. root: what it gets. beneath: whether
    a veil of the hair as it is lies over it. ends_only: whether only the ends have it.
    """

    words: str
    thinner: float
    root: RootLook
    beneath: bool = False
    ends_only: bool = False

    @property
    def regrowth_weeks(self) -> int:
        """Weeks until regrowth is seen."""
        return REGROWTH_WEEKS[RootLook.NATURAL if self.ends_only or self.beneath else self.root]


REGROWTH_WEEKS: Final = {RootLook.SOLID: 4, RootLook.TAP: 6, RootLook.SHADOW: 8, RootLook.NATURAL: 16}
WORN: Final = {
    Wear.SUN: Worn(words=later("only in the sun"), thinner=8.0, root=RootLook.NATURAL, beneath=True),
    Wear.WORK: Worn(words=later("at work"), thinner=4.0, root=RootLook.NATURAL, ends_only=True),
    Wear.DAILY: Worn(words=later("every day"), thinner=2.0, root=RootLook.SHADOW),
    Wear.EVENING: Worn(words=later("in the evening"), thinner=1.0, root=RootLook.TAP),
    Wear.STAGE: Worn(words=later("on stage"), thinner=1.0, root=RootLook.SOLID),
}


@dataclass(frozen=True, kw_only=True, eq=False)
class Wearing:
    """A wish as it is worn: L*a*b* (3,) of lengths and root, the bowl, and how it keeps with a client's habits.

    parts: of clear to one of colour. root_lab: the hair as it is where it is left.
    """

    worn: Worn
    lengths_lab: FloatArray
    root_lab: FloatArray
    bowl: Bowl
    keeps: Keeping

    @property
    def parts(self) -> float:
        """Parts of clear to one part of colour."""
        colour_g = sum(self.bowl.grams[shade] for shade in self.bowl.colours)
        return (self.bowl.total_g - colour_g) / colour_g

    @property
    def weeks(self) -> int:
        """Weeks until it wants to be done again: by its fading, or by what grows out."""
        return min(self.keeps.come_again_weeks, self.worn.regrowth_weeks)

    @property
    def visits_a_year(self) -> int:
        """Visits that a year of it takes."""
        return -(-WEEKS_A_YEAR // self.weeks)


def bowl_for(canvas: Canvas, target_lab: FloatArray, shelf: list[Shade], process: Process = FULL_TIME_DRY) -> Bowl:
    """The bowl that comes nearest to a wish (3,). Raises EmptyShelf."""
    scale = Scale(total_g=TOTAL_G, step_g=STEP_G)
    return match(canvas, shelf, target_lab, scale=scale, max_shades=2, answers=1, process=process).recipes[0].bowl


def wearing(
    ready: Canvas,
    bowl: Bowl,
    clear: Shade,
    wear: Wear,
    habits: Habits,
    *,
    left: Canvas | None = None,
    process: Process = FULL_TIME_DRY,
) -> Wearing:
    """A wish's bowl as it is worn: thinned with clear, with the root and the place that go with it.

    ready: the hair that gets it, lifted where that comes first. left: what stays as it is, the same unless told.
    """
    worn = WORN[wear]
    more_g = (worn.thinner - 1.0) * bowl.total_g
    thin = Bowl(grams={**bowl.grams, clear: bowl.grams.get(clear, 0.0) + more_g}) if more_g else bowl
    seen = predict(ready, thin, process=process).lab
    bare = predict(left or ready, None, process=process).lab
    root = bare if worn.root is RootLook.NATURAL else shadow_lab(seen, worn.root.levels_deeper)
    return Wearing(
        worn=worn,
        lengths_lab=frozen(seen),
        root_lab=frozen(np.array(root)),
        bowl=thin,
        keeps=keeping(ready, thin, habits, process=process),
    )


def after_visits(
    canvas: Canvas, level: float, target_lab: FloatArray, shelf: list[Shade], process: Process
) -> FloatArray:
    """How near a wish (3,) is had once the hair has been brought to a level, over as many visits as that takes."""
    lifted = lightened(canvas, level)
    return predict(lifted, bowl_for(lifted, target_lab, shelf, process), process=process).lab
