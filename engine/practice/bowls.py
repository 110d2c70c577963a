"""Drills at the bowl: hit a colour by hand, and rescue a bowl to which one can only add."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Final

import numpy as np

from engine.arrays import FloatArray, within
from engine.bowl.correct import corrections
from engine.bowl.goal import ZoneAim
from engine.bowl.predict import predict
from engine.colorimetry.difference import delta_e00
from engine.colorimetry.words import difference_words
from engine.dye.shelf import demo_shelf
from engine.errors import BadInput, Unknown
from engine.hair.canvas import Canvas
from engine.hair.reading import canvas_lab
from engine.language import decimals, say
from engine.practice.drill import Graded
from engine.practice.looking import FASHION, a_bowl, bowl_of, bowl_words

WANTED_G: Final = 40.0
POURS: Final = {"hit": 10, "rescue": 5}
STEPS_G: Final = (0.3, 1.0, 5.0, 20.0)
ROOM: Final = 3.0  # times what is wanted, that a bowl may grow to
HIT_WITHIN: Final = 2.0  # delta E00 that counts as hit in full
SPOILT_FROM: Final = 2 * HIT_WITHIN  # that too much of a shade makes, before there is anything to rescue
BOWLS_TRIED: Final = 20  # of which three in four are spoilt that far
LOST_FROM: Final = 14.0  # and from which nothing is left of the score
POUR_COSTS: Final = 0.01  # of a score
WASTE_COSTS: Final = 0.003  # for each gram beyond what is wanted
OVER: Final = (
    1.6,
    1.9,
    2.2,
    2.5,
    2.8,
)  # times that a shade was over-poured, by difficulty: the bowl holds what mends it
OFFERED: Final = (4, 4, 5, 6, 7)  # shades to choose from, by difficulty


@dataclass(frozen=True, kw_only=True, eq=False)
class AtTheBowl:
    """A colour to mix by hand: its hair, the aim (3,), what may be poured, what is in the bowl, and pours allowed."""

    canvas: Canvas
    target_lab: FloatArray
    offered: tuple[str, ...]
    held: Mapping[str, float]
    hidden: Mapping[str, float]
    pours_most: int
    question: str

    def holds(self, poured: Mapping[str, float]) -> dict[str, float]:
        """Grams in the bowl after pours, by name. Raises Unknown for what is not offered, OutOfRange for the grams."""
        grams = dict(self.held)
        for name, each in poured.items():
            if name not in self.offered:
                raise Unknown("shade", name, self.offered)
            grams[name] = grams.get(name, 0.0) + within("grams", each, 0.0, ROOM * WANTED_G, "g")
        if sum(grams.values()) > ROOM * WANTED_G:
            raise BadInput("grams", f"the bowl holds {ROOM * WANTED_G:g} g at most")
        return grams

    def lab(self, grams: Mapping[str, float]) -> FloatArray:
        """How a bowl looks on the hair, L*a*b* (3,)."""
        if not any(each > 0 and name != "clear" for name, each in grams.items()):
            return canvas_lab(self.canvas)
        return predict(self.canvas, bowl_of(dict(grams))).lab


def hit_by_hand(chance: np.random.Generator, difficulty: int) -> AtTheBowl:
    """A colour that a bowl of the shelf gives, to be found by hand."""
    canvas, hidden = a_bowl(chance, difficulty, total_g=WANTED_G)
    target = predict(canvas, bowl_of(hidden)).lab
    return AtTheBowl(
        canvas=canvas,
        target_lab=target,
        offered=_offered(chance, hidden, difficulty),
        held={},
        hidden=hidden,
        pours_most=POURS["hit"],
        question=decimals(
            say(
                "Mix this colour on level {level:g}, {grams:weight} of it, in {pours} pours at most.",
                level=canvas.level,
                grams=WANTED_G,
                pours=POURS["hit"],
            )
        ),
    )


@dataclass(frozen=True, kw_only=True, eq=False)
class _Spoilt:
    """A bowl that got too much of one shade. off: how far that took it from the aim, delta E00."""

    canvas: Canvas
    target_lab: FloatArray
    hidden: Mapping[str, float]
    held: dict[str, float]
    over: str
    off: float


def _spoilt(chance: np.random.Generator, difficulty: int) -> _Spoilt:
    canvas, hidden = a_bowl(chance, max(difficulty, 2), total_g=WANTED_G)
    over = str(chance.choice([name for name in hidden if name != "clear"]))
    held = hidden | {over: round(hidden[over] * OVER[difficulty - 1], 1)}
    aim, came = (predict(canvas, bowl_of(grams)).lab for grams in (hidden, held))
    off = float(delta_e00(aim, came))
    return _Spoilt(canvas=canvas, target_lab=aim, hidden=hidden, held=held, over=over, off=off)


def rescue_a_bowl(chance: np.random.Generator, difficulty: int) -> AtTheBowl:
    """A bowl that got too much of one shade, and shows it, to be brought back by adding alone."""
    spoilt = _spoilt(chance, difficulty)
    for _ in range(BOWLS_TRIED - 1):
        if spoilt.off >= SPOILT_FROM:
            break
        spoilt = max(spoilt, _spoilt(chance, difficulty), key=lambda each: each.off)
    canvas, hidden, held, over = spoilt.canvas, spoilt.hidden, spoilt.held, spoilt.over
    return AtTheBowl(
        canvas=canvas,
        target_lab=spoilt.target_lab,
        offered=_offered(chance, hidden, difficulty),
        held=held,
        hidden=hidden,
        pours_most=POURS["rescue"],
        question=decimals(
            say(
                "{bowl} are in the bowl: too much {name}. Bring it back to the aim, in {pours} pours at most.",
                bowl=bowl_words(held),
                name=say(over),
                pours=POURS["rescue"],
            )
        ),
    )


def poured(asked: AtTheBowl, pours: Mapping[str, float], count: int) -> Graded:
    """The grade of a bowl: by how near it came, then by pours and by grams beyond what is wanted."""
    grams = asked.holds(pours)
    lab = asked.lab(grams)
    off = float(delta_e00(asked.target_lab, lab))
    near = float(np.clip(1.0 - (off - HIT_WITHIN) / (LOST_FROM - HIT_WITHIN), 0.0, 1.0))
    usual_g = max(WANTED_G, sum(asked.held.values()))
    wasted = max(sum(grams.values()) - usual_g, 0.0)
    score = max(near - POUR_COSTS * max(count - len(asked.hidden), 0) - WASTE_COSTS * wasted, 0.0)
    return Graded(
        score=score,
        words=say(
            "{off:.1f} off: {words}. The aim was made from {bowl}.",
            off=off,
            words=difference_words(asked.target_lab, lab),
            bowl=bowl_words(dict(asked.hidden)),
        ),
        notes=_next(asked, grams),
    )


def _next(asked: AtTheBowl, grams: dict[str, float]) -> tuple[str, ...]:
    """What would have brought it nearer from there, as the Bench would say."""
    if not any(each > 0 and name != "clear" for name, each in grams.items()):
        return ()
    aim = ZoneAim(canvas=asked.canvas, target_lab=asked.target_lab)
    shelf = [demo_shelf()[name] for name in asked.offered]
    room = max(ROOM * WANTED_G - sum(grams.values()), 0.0)
    found = corrections([aim], bowl_of(grams), shelf, room_g=room, step_g=0.1)
    return tuple(
        say(
            "From there: {additions}, then {off:.1f} off.",
            additions=bowl_words({str(shade.name): each for shade, each in correction.additions.items()}),
            off=correction.delta_e00,
        )
        for correction in found[:1]
    )


def _offered(chance: np.random.Generator, hidden: Mapping[str, float], difficulty: int) -> tuple[str, ...]:
    """What may be poured: what it takes, and others, in the order of the shelf."""
    others = [name for name in FASHION if name not in hidden]
    more = OFFERED[difficulty - 1] - (len(hidden) - 1)
    names = {*hidden, *(str(each) for each in chance.permutation(others)[: max(more, 1)])}
    return (*(name for name in FASHION if name in names), "clear")
