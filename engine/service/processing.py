"""What is seen while colour works, which is not what will be there: wet, oxidising, in a few minutes, at full time.

Wet hair is seen darker and richer: water fills the air between fibres, and light enters them more easily. A bowl on the
hair is seen itself, wet, over what hair has taken. Oxidative colour begins pale and goes darker than it ends, since
dye that is not yet inside lies on the hair. All of it is common practice, no published source; its sizes are the
founders' estimates, and words say what they mean.
"""

from dataclasses import dataclass, replace
from enum import StrEnum
from typing import Final

from engine.arrays import FloatArray, frozen
from engine.bowl.mix import FULL_TIME_DRY, Bowl, Process, added_absorption, lifted_under
from engine.colorimetry.difference import delta_e00
from engine.colorimetry.lab import lab_of, xyz_of
from engine.colorimetry.lights import Light, viewing
from engine.colorimetry.words import colour_word
from engine.hair.canvas import Canvas, fibres_of
from engine.hair.reflectance import reflectance
from engine.language import say

WET: Final = 1.6  # how much more wet hair absorbs, as it is seen
ON_TOP: Final = 0.35  # of what a bowl gives in full, seen as what lies on the hair
FIRST_LOOK_MIN: Final = 5.0
SAME: Final = 3.0  # delta E00 below which a look is not told from the dry result


class Moment(StrEnum):
    """When hair is looked at."""

    WORKING = "working"
    FULL_TIME = "full_time"
    WET = "wet"


@dataclass(frozen=True, kw_only=True, eq=False)
class ProcessingLook:
    """What is seen at a moment, L*a*b* (3,), minutes after the first hair, and words for who is in the chair."""

    moment: Moment
    minutes: float | None
    lab: FloatArray
    words: str


def processing(
    canvas: Canvas, bowl: Bowl, dry_lab: FloatArray, *, process: Process = FULL_TIME_DRY, light: Light = Light.DAYLIGHT
) -> tuple[ProcessingLook, ...]:
    """Looks while a bowl works: after five minutes, at full time with the colour still on, and rinsed but wet.

    dry_lab: what it will be, (3,). A bowl of five minutes or less has no first look.
    """
    if not bowl.colours:
        return ()
    found: list[tuple[Moment, float | None, FloatArray]] = []
    usual = max(shade.kind.habits.usual_min[1] for shade in bowl.colours)
    full = usual if process.minutes is None else process.minutes
    if full > FIRST_LOOK_MIN:
        early = replace(process, minutes=FIRST_LOOK_MIN)
        found.append((Moment.WORKING, FIRST_LOOK_MIN, _seen(canvas, bowl, early, light, on_top=ON_TOP)))
    found.append((Moment.FULL_TIME, full, _seen(canvas, bowl, process, light, on_top=ON_TOP)))
    found.append((Moment.WET, None, _seen(canvas, bowl, process, light, on_top=0.0)))
    return tuple(
        ProcessingLook(moment=moment, minutes=minutes, lab=frozen(lab), words=_words(moment, lab, dry_lab, bowl))
        for moment, minutes, lab in found
    )


def _seen(canvas: Canvas, bowl: Bowl, process: Process, light: Light, *, on_top: float) -> FloatArray:
    """L*a*b* (3,) of wet hair with what it has taken, and with a share of the bowl on top of it."""
    hair = lifted_under(canvas, bowl, process)
    taken = added_absorption(bowl, canvas.porosity, process)
    lies = on_top * added_absorption(bowl, 1.0, replace(process, minutes=None))
    view = viewing(light)
    seen = reflectance(WET * fibres_of(hair).dyed(taken + lies))
    return lab_of(xyz_of(seen, view.weights), view.white_xyz)


def _words(moment: Moment, lab: FloatArray, dry_lab: FloatArray, bowl: Bowl) -> str:
    """What the look means."""
    now, then = colour_word(lab), colour_word(dry_lab)
    if float(delta_e00(dry_lab, lab)) < SAME:
        return say("It looks much as it will: {then}.", then=then)
    deeper = say("darker") if lab[0] < dry_lab[0] else say("lighter")
    named = say("It looks {now} now", now=now) if now != then else say("It looks {deeper} now", deeper=deeper)
    if moment is Moment.WET:
        return say("{named}, because it is wet. Dry it will be {then}.", named=named, then=then)
    oxidises = any(shade.kind.is_oxidative for shade in bowl.colours)
    why = say("the colour is still developing") if oxidises else say("the colour still lies on the hair")
    return say("{named}: {why}. Rinsed and dry it will be {then}.", named=named, why=why, then=then)
