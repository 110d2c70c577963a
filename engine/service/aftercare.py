"""After the visit: how the colour fades with this client's habits, when to come again, and what goes home.

How much habits take is the founders' estimate; their order (heat, sun and pools hurt) is common practice, no
published source.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

from engine.arrays import FloatArray, frozen, within
from engine.bowl.fade import VISIBLY_OFF, WASHES_MOST, fade, refresh
from engine.bowl.match import Recipe
from engine.bowl.mix import FULL_TIME_DRY, Bowl, Process
from engine.bowl.predict import predict
from engine.bowl.weigh import Scale
from engine.colorimetry.difference import delta_e00
from engine.colorimetry.words import colour_words
from engine.dye.shade import Shade
from engine.errors import BadInput
from engine.hair.canvas import Canvas
from engine.language import later

WASHES_A_WEEK: Final = (0.5, 14.0)
POOL: Final = 1.5  # a swimmer's week counts for so many times its washes
SUN: Final = 1.2
BARELY_SEEN: Final = 1.0  # delta E00 below which two colours are taken for one
TAKES_FROM_MIN: Final = 0.5  # on the hair, from when a colour counts as one; chosen by the founders
WEEKS_MOST: Final = 12
MASK_TOTAL_G: Final = 150.0
MASK_STEP_G: Final = 0.1
MASK_LEAST_G: Final = 20.0
MASK_A_TIME: Final = 0.5  # of what a bowl for that hair weighs: a mask is worked through, not painted on; the founders'
MASK_BRINGS_BACK: Final = 0.8  # of what the washes since the last one took; the founders' estimate
GOOD_FOR_WEEKS: Final = 8  # a mask of direct dye in conditioner, closed and cool

STAINS: Final = (
    later("Direct dye stains: dark towels, an old pillow case, and care with pale clothes for the first washes."),
    later(
        "Keep it out of pools: it bleeds, and the pool takes the colour with it. Blue and green are the hardest to "
        "remove."
    ),
)
KEEPS_COOL: Final = later("Cool water, few washes, little heat and sun keep it longest.")
KEEPS: Final = later("Few washes, little heat and sun keep it longest; hot water takes it faster.")


class MixedWithDeveloper(BadInput):
    """What was mixed with developer is never kept and never goes home."""

    code = "mixed_with_developer"

    def __init__(self) -> None:
        super().__init__("mask", "mask: a shade that needs developer never goes home; only direct dye does")


@dataclass(frozen=True, kw_only=True)
class Habits:
    """How a client treats their hair. weekly_mask: a coloured mask at home once a week. Raises OutOfRange."""

    washes_a_week: float = 3.0
    hot_water: bool = False
    pool: bool = False
    sun: bool = False
    weekly_mask: bool = False

    def __post_init__(self) -> None:
        within("washes_a_week", self.washes_a_week, *WASHES_A_WEEK)

    @property
    def wear_a_week(self) -> float:
        """Washes that a week counts for."""
        return self.washes_a_week * (POOL if self.pool else 1.0) * (SUN if self.sun else 1.0)

    def washes_after(self, week: int) -> float:
        """Washes that the colour is worn by at the end of a week, before that week's mask if there is one."""
        if not self.weekly_mask:
            return week * self.wear_a_week
        kept = 1 - MASK_BRINGS_BACK
        return self.wear_a_week * (1 - kept**week) / (1 - kept)


@dataclass(frozen=True, kw_only=True, eq=False)
class Keeping:
    """How a colour keeps: L*a*b* (weeks + 1, 3) at the end of each week, with its difference from the first day.

    off_after_weeks: the first week in which it is visibly off, None within the weeks. come_again_weeks: when to come.
    """

    lab: FloatArray
    delta_e00: FloatArray
    off_after_weeks: int | None
    come_again_weeks: int
    through: tuple[str, ...]


def keeping(canvas: Canvas, bowl: Bowl, habits: Habits, *, process: Process = FULL_TIME_DRY) -> Keeping:
    """The weeks after a visit. Whoever comes again does so at the week in which the colour is visibly off, but not
    before the second and not after the eighth: regrowth shows by then."""
    path = fade(canvas, bowl, washes=WASHES_MOST, hot_water=habits.hot_water, process=process)
    weeks = [min(round(habits.washes_after(week)), WASHES_MOST) for week in range(WEEKS_MOST + 1)]
    lab = path.lab[weeks]
    off_by = delta_e00(lab[0], lab)
    off = next((week for week, by in enumerate(off_by) if by > VISIBLY_OFF), None)
    return Keeping(
        lab=frozen(lab),
        delta_e00=frozen(off_by),
        off_after_weeks=off,
        come_again_weeks=min(max(off or 8, 2), 8),
        through=tuple(dict.fromkeys(colour_words(lab))),
    )


def has_taken(canvas: Canvas, bowl: Bowl, process: Process) -> bool:
    """Whether a bowl that was worked so has left anything that can be seen.

    Rinsed at once it has not: a stain of a few seconds lies on the fibre, and the first wash takes it.
    """
    if process.minutes is not None and process.minutes < TAKES_FROM_MIN:
        return False
    bare, dyed = predict(canvas, None), predict(canvas, bowl, process=process)
    return bool(delta_e00(bare.lab, dyed.lab) >= BARELY_SEEN)


def jar_g(need_g: float) -> float:
    """Grams of a mask for home: eight weeks' worth for hair that takes so much of a bowl, a jar at most."""
    return float(min(max(round(MASK_A_TIME * need_g * GOOD_FOR_WEEKS), MASK_LEAST_G), MASK_TOTAL_G))


def weekly_mask(
    canvas: Canvas, bowl: Bowl, shelf: Sequence[Shade], habits: Habits, *, total_g: float = MASK_TOTAL_G
) -> Recipe:
    """The direct dye in conditioner that makes up for a week's washes: the best recipe of `refresh`.

    Raises MixedWithDeveloper when only shades with developer could do it, OutOfRange.
    """
    direct = [shade for shade in shelf if not shade.kind.is_oxidative]
    if not any(not shade.is_clear for shade in direct):
        raise MixedWithDeveloper
    washes = max(1, min(round(habits.wear_a_week), WASHES_MOST))
    scale = Scale(total_g=total_g, step_g=MASK_STEP_G)
    found = refresh(canvas, bowl, direct, washes=washes, scale=scale, hot_water=habits.hot_water, answers=1)
    return found.recipes[0]
