"""Drills in what went wrong: a result that is not the aim, each of causes that the engine forecasts.

Which mistake gives which result is common practice, no published source (see docs/facts.md); what it looks like is
forecast, never drawn.
"""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Final

import numpy as np

from engine.arrays import FloatArray
from engine.bowl.mix import Bowl, Process
from engine.bowl.predict import predict
from engine.colorimetry.difference import delta_e00
from engine.colorimetry.words import AGAINST_AIM, difference_words
from engine.dye.shade import Shade
from engine.dye.shelf import demo_shelf
from engine.hair.canvas import Canvas, OldColour
from engine.hair.reading import canvas_lab
from engine.language import later, say
from engine.practice.drill import Choice, Shown, ToChoose

CAUSES: Final = {
    "no_fill": later("dark colour on light hair without a fill"),
    "too_yellow": later("the hair was too yellow for so cool a colour"),
    "hot_root": later("the root was lifted farther than the lengths, and got the same bowl"),
    "light_toner": later("the toner was lighter than the hair"),
    "opposite": later("too much of an opposite"),
    "short": later("rinsed much too soon"),
    "old_colour": later("old colour was left on the hair"),
    "porous": later("the hair was far more porous than it was read"),
}
OPPOSED: Final = (("magenta", "green"), ("violet", "yellow"), ("orange", "blue"))
OVER_ONE_ANOTHER: Final = (("blue", "red"), ("yellow", "violet"), ("turquoise", "magenta"))
SEEN_FROM: Final = 4.0  # delta E00 from the aim, from which a mistake is one that can be seen
TRIES: Final = 30


@dataclass(frozen=True, kw_only=True, eq=False)
class Case:
    """A head that came out wrong: before, aim and result, each with what it is of, and what was done, in words."""

    cause: str
    before: tuple[Shown, ...]
    aim: FloatArray
    result: FloatArray
    done: str
    why: str


def what_went_wrong(chance: np.random.Generator, difficulty: int) -> ToChoose:
    """Which mistake gave a result. The harder it is, the nearer to the aim it still came."""
    cases = sorted(
        (_seen_case(chance) for _ in range(1 + difficulty)),
        key=lambda case: float(delta_e00(case.aim, case.result)),
    )
    case = cases[0] if difficulty >= 3 else cases[-1]
    others = [cause for cause in CAUSES if cause != case.cause]
    keys = [case.cause, *(str(each) for each in chance.permutation(others)[:3])]
    choices = [
        Choice(key=key, words=str(CAUSES[key]), score=1.0 if key == case.cause else 0.0)
        for key in CAUSES
        if key in keys
    ]
    return ToChoose(
        question=say("{done} What went wrong?", done=case.done),
        shown=(
            *case.before,
            Shown(words=say("aim"), lab=case.aim),
            Shown(words=say("came out"), lab=case.result),
        ),
        choices=tuple(choices),
        why=case.why,
    )


def _seen_case(chance: np.random.Generator) -> Case:
    """A case whose mistake can be seen: the one that is seen best, if of many none is."""
    tried = []
    for _ in range(TRIES):
        case = MAKERS[int(chance.integers(len(MAKERS)))](chance)
        tried.append(case)
        if float(delta_e00(case.aim, case.result)) >= SEEN_FROM:
            return case
    return max(tried, key=lambda case: float(delta_e00(case.aim, case.result)))


def _mix(**grams: float) -> Bowl:
    shelf = demo_shelf()
    return Bowl(grams={shelf[name.replace("_", "-")]: each for name, each in grams.items()})


def _case(cause: str, canvas: Canvas, aim: FloatArray, result: FloatArray, done: str) -> Case:
    return Case(
        cause=cause,
        before=(Shown(words=say("before"), lab=canvas_lab(canvas)),),
        aim=aim,
        result=result,
        done=done,
        why=say(
            "{cause}: it came out {words}.", cause=str(CAUSES[cause]), words=difference_words(aim, result, AGAINST_AIM)
        ),
    )


def _no_fill(chance: np.random.Generator) -> Case:
    canvas = Canvas(level=float(np.round(chance.uniform(8.5, 10), 1)), warmth=0.5)
    clear = float(chance.choice([60, 100, 160]))
    bare = _mix(blue_black=10, clear=clear)
    filled = _mix(blue_black=10, copper=5, orange=3, clear=clear - 8)
    done = say("A soft black went straight onto level {level:g}.", level=canvas.level)
    return _case("no_fill", canvas, predict(canvas, filled).lab, predict(canvas, bare).lab, done)


def _too_yellow(chance: np.random.Generator) -> Case:
    canvas = Canvas(level=float(np.round(chance.uniform(7.8, 9.2), 1)), warmth=1.0)
    name = str(chance.choice(["blue", "indigo", "violet", "turquoise"]))
    bowl = Bowl(grams={demo_shelf()[name]: float(chance.choice([2, 4, 8])), demo_shelf()["clear"]: 50.0})
    done = say("{name} in clear, for a clean pastel.", name=say(name))
    return _case("too_yellow", canvas, predict(Canvas(level=10.8), bowl).lab, predict(canvas, bowl).lab, done)


def _hot_root(chance: np.random.Generator) -> Case:
    level = float(np.round(chance.uniform(6.0, 7.5), 1))
    lengths, root = Canvas(level=level), Canvas(level=level + 2.2, warmth=1.0)
    name = str(chance.choice(["red", "crimson", "copper"]))
    bowl = Bowl(grams={demo_shelf()[name]: 10.0, demo_shelf()["clear"]: 20.0})
    case = _case(
        "hot_root",
        lengths,
        predict(lengths, bowl).lab,
        predict(root, bowl).lab,
        say("One bowl of {name} over root and lengths: this is the root.", name=say(name)),
    )
    seen = (
        Shown(words=say("lengths before"), lab=canvas_lab(lengths)),
        Shown(words=say("root before"), lab=canvas_lab(root)),
    )
    return Case(cause=case.cause, before=seen, aim=case.aim, result=case.result, done=case.done, why=case.why)


def _light_toner(chance: np.random.Generator) -> Case:
    level = float(np.round(chance.uniform(6.5, 7.8), 1))
    bowl = _mix(violet=0.4, blue=0.2, clear=60)
    done = say("A pearl toner for level 10 went onto level {level:g}.", level=level)
    canvas = Canvas(level=level)
    return _case("light_toner", canvas, predict(Canvas(level=10), bowl).lab, predict(canvas, bowl).lab, done)


def _opposite(chance: np.random.Generator) -> Case:
    canvas = Canvas(level=float(np.round(chance.uniform(9.5, 10.8), 1)))
    name, other = OPPOSED[int(chance.integers(len(OPPOSED)))]
    shelf = demo_shelf()
    soft: dict[Shade, float] = {shelf[name]: 4.0, shelf[other]: 0.2, shelf["clear"]: 50.0}
    much = soft | {shelf[other]: 4.0}
    done = say("{name} was to be muted with {other}.", name=say(name), other=say(other))
    return _case("opposite", canvas, predict(canvas, Bowl(grams=soft)).lab, predict(canvas, Bowl(grams=much)).lab, done)


def _short(chance: np.random.Generator) -> Case:
    canvas = Canvas(level=float(np.round(chance.uniform(9, 10.5), 1)), porosity=0.8)
    name = str(chance.choice(["red", "blue", "magenta", "violet"]))
    bowl = Bowl(grams={demo_shelf()[name]: 8.0, demo_shelf()["clear"]: 30.0})
    minutes = float(chance.choice([1, 2]))
    seen = predict(canvas, bowl, process=Process(minutes=minutes)).lab
    done = say("{name} in clear, worked in evenly.", name=say(name))
    return _case("short", canvas, predict(canvas, bowl).lab, seen, done)


def _old_colour(chance: np.random.Generator) -> Case:
    level = float(np.round(chance.uniform(8.5, 10), 1))
    name, old = OVER_ONE_ANOTHER[int(chance.integers(len(OVER_ONE_ANOTHER)))]
    layer = OldColour(shade=demo_shelf()[old], k_s=float(np.round(chance.uniform(0.15, 0.5), 2)))
    clean, stained = Canvas(level=level), Canvas(level=level, old=(layer,))
    bowl = Bowl(grams={demo_shelf()[name]: 3.0, demo_shelf()["clear"]: 50.0})
    done = say("{name} in clear, over hair that had been coloured before.", name=say(name))
    return _case("old_colour", stained, predict(clean, bowl).lab, predict(stained, bowl).lab, done)


def _porous(chance: np.random.Generator) -> Case:
    level = float(np.round(chance.uniform(9, 10.5), 1))
    name = str(chance.choice(["blue", "violet", "magenta", "crimson"]))
    bowl = Bowl(grams={demo_shelf()[name]: float(chance.choice([1.0, 2.0, 4.0])), demo_shelf()["clear"]: 60.0})
    even, open_ends = Canvas(level=level, porosity=0.9), Canvas(level=level, porosity=1.6)
    done = say("A pastel {name} on the ends.", name=say(name))
    return _case("porous", open_ends, predict(even, bowl).lab, predict(open_ends, bowl).lab, done)


MAKERS: Final[tuple[Callable[[np.random.Generator], Case], ...]] = (
    _no_fill,
    _too_yellow,
    _hot_root,
    _light_toner,
    _opposite,
    _short,
    _old_colour,
    _porous,
)
