"""Drills for the eye: the level of a lock, the opposite of a cast, the lock that a bowl gives."""

from collections.abc import Sequence
from typing import Final

import numpy as np

from engine.arrays import FloatArray
from engine.bowl.mix import Bowl
from engine.bowl.predict import predict
from engine.colorimetry.difference import delta_e00
from engine.colorimetry.lab import lch_of
from engine.dye.shade import Shade
from engine.dye.shelf import demo_shelf
from engine.hair.canvas import Canvas
from engine.hair.reading import canvas_lab
from engine.language import amid, begun, later, listed, say
from engine.practice.drill import Choice, Shown, ToChoose

WARMTHS: Final = ((-1.4, later("ashy")), (0.0, later("as usual")), (1.4, later("brassy")))
# How many levels the wrong answers lie off, by difficulty.
LEVELS_OFF: Final = ((3.0, 2.0), (2.0, 3.0), (2.0, 1.0), (1.0, 2.0), (1.0, 0.5))
LEVEL_COSTS: Final = 0.5  # of a score, for each level that an answer is off
TONE_COSTS: Final = 0.4
OPPOSITES: Final = ("violet", "blue", "green", "red", "yellow", "turquoise", "magenta", "orange")
SHARES: Final = tuple(np.geomspace(0.0015, 0.12, 22).tolist())  # of a shade in its bowl, to tone with
APART: Final = (18.0, 13.0, 9.0, 7.0, 5.0)  # delta E00 between locks to choose from, by difficulty
FASHION: Final = ("yellow", "orange", "copper", "red", "crimson", "magenta", "violet", "indigo", "blue", "turquoise")
TRIES: Final = 40
HARD_FROM: Final = 3  # from here on wrong answers are the next best ones


def read_a_lock(chance: np.random.Generator, difficulty: int) -> ToChoose:
    """Name the level and the undertone of a lock."""
    finest = 0.5 if difficulty >= 4 else 1.0
    level = float(np.round(chance.uniform(3.0, 10.0) / finest) * finest)
    at = int(chance.integers(len(WARMTHS)))
    first, second = LEVELS_OFF[difficulty - 1]
    lighter = int(chance.integers(3))  # of three that lie off, how many are lighter: the right one is no middle
    steps = [first, second][:lighter] if lighter < 2 else [first, first + second]
    deeper = [-first, -first - second][: 3 - lighter] if lighter else [-first, -second, -first - second]
    kinds = {(level, at), (level, (at + 1 + int(chance.integers(2))) % len(WARMTHS))}
    kinds |= {(level + off, at) for off in (*steps, *deeper) if 1.0 <= level + off <= 11.0}
    labs = {kind: canvas_lab(Canvas(level=kind[0], warmth=WARMTHS[kind[1]][0])) for kind in kinds}
    own = labs[level, at]
    choices = [
        Choice(
            key=f"{each:g}-{tone}",
            words=say("level {level:g}, {tone}", level=each, tone=WARMTHS[tone][1]),
            score=max(1.0 - LEVEL_COSTS * abs(each - level) - TONE_COSTS * (tone != at), 0.0),
            lab=labs[each, tone],
        )
        for each, tone in sorted(kinds)
    ]
    below, above = (canvas_lab(Canvas(level=each))[0] for each in (max(level - 1, 1.0), min(level + 1, 11.0)))
    why = say(
        "Level {level:g}, {tone}: its depth is {depth:.0f}. A level less would be {below:.0f}, one more {above:.0f}.",
        level=level,
        tone=WARMTHS[at][1],
        depth=float(own[0]),
        below=float(below),
        above=float(above),
    )
    return ToChoose(
        question=say("Which level is this, and how warm for its level?"),
        shown=(Shown(words="", lab=own),),
        choices=tuple(choices),
        why=why,
    )


def which_opposite(chance: np.random.Generator, difficulty: int) -> ToChoose:
    """Which shade takes the warmth out of a canvas."""
    canvas = Canvas(
        level=float(np.round(chance.uniform(6.0, 10.2), 1)), warmth=float(np.round(chance.uniform(-1, 1.5), 1))
    )
    shelf = demo_shelf()
    left = {name: _toned(canvas, shelf[name]) for name in OPPOSITES}
    order = sorted(left, key=lambda name: float(lch_of(left[name])[1]))
    among = order[-4:] if difficulty < HARD_FROM else order[1:5]
    wrong = [str(name) for name in chance.permutation(among)[:3]]
    best = float(lch_of(left[order[0]])[1])
    names = sorted([order[0], *wrong])
    bare = canvas_lab(canvas)
    choices = [
        Choice(
            key=name,
            words=begun(say(name)),
            score=max(1.0 - max(float(lch_of(left[name])[1]) - best, 0.0) / 6.0, 0.0) if name != order[0] else 1.0,
            because=say(
                "{name}: strength {chroma:.0f} is left at its best.",
                name=begun(say(name)),
                chroma=float(lch_of(left[name])[1]),
            ),
            lab=left[name],
        )
        for name in names
    ]
    return ToChoose(
        question=say("Level {level:g} is to become neutral. Which shade, a little of it in clear?", level=canvas.level),
        shown=(Shown(words="", lab=bare),),
        choices=tuple(choices),
        why=say(
            "{name}: it lies across from hue {hue:.0f}°, and brings strength {before:.0f} down to {after:.0f}.",
            name=begun(say(order[0])),
            hue=float(lch_of(bare)[2]),
            before=float(lch_of(bare)[1]),
            after=best,
        ),
    )


def _toned(canvas: Canvas, shade: Shade) -> FloatArray:
    """The most neutral that a shade makes a canvas, L*a*b* (3,)."""
    clear = demo_shelf()["clear"]
    labs = [predict(canvas, Bowl(grams={shade: 100 * share, clear: 100 * (1 - share)})).lab for share in SHARES]
    return min(labs, key=lambda lab: float(lch_of(lab)[1]))


def which_lock(chance: np.random.Generator, difficulty: int) -> ToChoose:
    """Which of four locks a bowl gives."""
    apart = APART[difficulty - 1]
    found = None
    for _ in range(TRIES):
        canvas, grams = a_bowl(chance, difficulty)
        locks = _other_locks(canvas, grams, chance)
        kept = [locks[0]]
        for each in locks[1:]:
            if all(float(delta_e00(each[1], other)) >= apart for _, other in kept):
                kept.append(each)
        found = (canvas, grams, kept)
        if len(kept) >= 4:
            break
    canvas, grams, kept = found if found else (canvas, grams, kept)
    order = chance.permutation(min(len(kept), 4)).tolist()
    choices = [
        Choice(
            key="abcd"[place],
            words="",
            score=1.0 if of == 0 else 0.0,
            because="" if of == 0 else kept[of][0],
            lab=kept[of][1],
            is_seen=True,
        )
        for place, of in enumerate(order)
    ]
    return ToChoose(
        question=say("{bowl} on level {level:g}. Which lock does it give?", bowl=bowl_words(grams), level=canvas.level),
        shown=(Shown(words=say("before"), lab=canvas_lab(canvas)),),
        choices=tuple(choices),
        why=say(
            "The one of depth {depth:.0f}, strength {chroma:.0f} and hue {hue:.0f}°.",
            **dict(zip(("depth", "chroma", "hue"), lch_of(kept[0][1]).tolist(), strict=True)),
        ),
    )


def a_bowl(chance: np.random.Generator, difficulty: int, *, total_g: float = 40.0) -> tuple[Canvas, dict[str, float]]:
    """A canvas and a bowl of grams by name: more shades, and warmer hair, the harder it is."""
    canvas = Canvas(level=float(np.round(chance.uniform(10.4 - 0.4 * difficulty, 10.8), 1)))
    count = 1 if difficulty == 1 else 2 if difficulty <= 3 else 3
    names = [str(name) for name in chance.choice(FASHION, size=count, replace=False)]
    strong = float(chance.choice([0.05, 0.1, 0.2, 0.4]))
    parts = chance.dirichlet(np.full(count, 2.0)) * strong * total_g
    grams = {name: max(float(np.round(part, 1)), 0.3) for name, part in zip(names, parts, strict=True)}
    return canvas, grams | {"clear": round(total_g - sum(grams.values()), 1)}


def bowl_of(grams: dict[str, float]) -> Bowl:
    """A bowl of the engine's own shelf."""
    shelf = demo_shelf()
    return Bowl(grams={shelf[name]: each for name, each in grams.items() if each > 0})


def bowl_words(grams: dict[str, float]) -> str:
    """A bowl's grams in words."""
    return listed(
        say("{grams:weight} {name}", grams=each, name=shade_word(name)) for name, each in grams.items() if each
    )


def shade_word(name: str) -> str:
    """What a shade of the engine's own shelf is called."""
    return amid(say("Clear")) if name == "clear" else say(name)


def _other_locks(
    canvas: Canvas, grams: dict[str, float], chance: np.random.Generator
) -> Sequence[tuple[str, FloatArray]]:
    """What a bowl gives, and what others that one might take it for give: each with what it would have been."""
    colours = {name: each for name, each in grams.items() if name != "clear"}
    strongest = max(colours, key=lambda name: colours[name])
    lower = max(canvas.level - 2.5, 5.0)
    thin = colours | {"clear": grams["clear"] + 5 * sum(grams.values())}
    full = {name: 4 * each for name, each in colours.items()} | {"clear": grams["clear"] / 4}
    found = [
        ("", predict(canvas, bowl_of(grams)).lab),
        (
            say("The same bowl on level {level:g}.", level=lower),
            predict(Canvas(level=lower, warmth=1.0), bowl_of(grams)).lab,
        ),
        (say("The same with six times as much clear."), predict(canvas, bowl_of(thin)).lab),
        (say("The same four times as strong."), predict(canvas, bowl_of(full)).lab),
    ]
    for name in chance.permutation(FASHION):
        if str(name) not in colours:
            swapped = {str(name) if each == strongest else each: part for each, part in grams.items()}
            words = say("With {other} in place of {name}.", other=say(str(name)), name=say(strongest))
            found.append((words, predict(canvas, bowl_of(swapped)).lab))
    return [found[0], *(found[1 + int(at)] for at in chance.permutation(len(found) - 1))]
