"""What a house's schools change, on heads that every colourist knows: said and shown before a rule is kept.

Which school is right is the house's own: the trade is of several minds about each (common practice, no published
source).
"""

from collections.abc import Iterable, Mapping
from typing import Final

from engine.bowl.fill import FillFrom, fill
from engine.bowl.filler import filled_with
from engine.bowl.weigh import Scale
from engine.dye.shelf import demo_shelf
from engine.hair.canvas import Canvas
from engine.hair.ladder import School, school_ladder
from engine.hair.reading import canvas_lab
from engine.hair.residue import Family
from engine.language import listed, say
from engine.service.house import Effect
from engine.service.known import STRONG_HAIR_LEVELS
from engine.service.lift import Lay, Strength, lift
from engine.service.schools_of_work import effects_of_work
from engine.service.timing import Call, ClockKind, Watch, prompts, usual_min
from engine.service.work import LIFT_MOST_LEVELS

SHOWN_LEVEL: Final = 8.0  # where the two ladders part
STRONG_FROM_TO: Final = (4.0, 9.0)
DOWN_FROM_TO: Final = (9.0, 7.0)  # two levels, on which the two schools of filling part
WATCHED: Final = (ClockKind.TONER, ClockKind.DEMI, ClockKind.PERMANENT)


def effects() -> Mapping[str, tuple[Effect, ...]]:
    """Of each rule by its name, what each of its choices does."""
    return {
        "school": tuple(_undertone(school) for school in School),
        "watch": tuple(_watched(watch) for watch in Watch),
        "strong_lift": (_lifted("steps", STRONG_HAIR_LEVELS), _lifted("two", LIFT_MOST_LEVELS)),
        "fill_from": tuple(_filled(school) for school in (FillFrom.TWO_LEVELS, FillFrom.MORE_THAN_TWO)),
        "lay": tuple(_laid(lay) for lay in Lay),
        **effects_of_work(),
    }


def _undertone(school: School) -> Effect:
    ladder = school_ladder(school)
    lab = canvas_lab(ladder.canvas(SHOWN_LEVEL))
    words = say(
        "level {level:g} is read as {undertone}, and level {above:g} as {lighter}",
        level=SHOWN_LEVEL,
        undertone=ladder.undertone(SHOWN_LEVEL),
        above=SHOWN_LEVEL + 1,
        lighter=ladder.undertone(SHOWN_LEVEL + 1),
    )
    return Effect(choice=school.value, words=words, lab=lab)


def _watched(watch: Watch) -> Effect:
    return Effect(choice=watch.value, words=listed(_looks(watch), "; "))


def _looks(watch: Watch) -> Iterable[str]:
    for kind in WATCHED:
        minutes = usual_min(kind)
        looks = [each.at_min for each in prompts(kind, minutes, watch=watch, joins=False) if each.call is Call.CHECK]
        name = say(kind.value)
        if looks:
            yield say(
                "{kind}: first looked at after {minutes:g} min of {usual:g}", kind=name, minutes=looks[0], usual=minutes
            )
        else:
            yield say("{kind}: {usual:g} min without a look", kind=name, usual=minutes)


def _lifted(choice: str, levels: float) -> Effect:
    start, wanted = STRONG_FROM_TO
    plan = lift(Canvas(level=start, family=Family.NATURAL), wanted, strength=Strength(most_levels=levels))
    assert plan is not None  # noqa: S101 - five levels are to be lifted
    words = say(
        "strong hair from level {start:g} to {wanted:g}: today to {stop:g}, {visits} visits in all",
        start=start,
        wanted=wanted,
        stop=plan.stop_level,
        visits=plan.visits,
    )
    return Effect(choice=choice, words=words, lab=canvas_lab(plan.after))


def _filled(school: FillFrom) -> Effect:
    start, down_to = DOWN_FROM_TO
    canvas, shelf = Canvas(level=start), tuple(demo_shelf().values())
    found = fill(canvas, down_to, shelf, scale=Scale(total_g=60.0, step_g=0.1), fill_from=school, answers=1)
    if not found.due:
        words = say("from level {start:g} to {down_to:g}: coloured at once, over this", start=start, down_to=down_to)
        return Effect(choice=school.value, words=words, lab=canvas_lab(canvas))
    words = say("from level {start:g} to {down_to:g}: filled first, to this", start=start, down_to=down_to)
    return Effect(choice=school.value, words=words, lab=canvas_lab(filled_with(canvas, found.missing, "warm pigment")))


def _laid(lay: Lay) -> Effect:
    plan = lift(Canvas(level=6.0, family=Family.NATURAL), 9.0, lay=lay)
    assert plan is not None  # noqa: S101 - three levels are to be lifted
    words = say("1 part of lightener to {parts:g} of developer", parts=plan.parts)
    return Effect(choice=lay.value, words=words)
