"""A drill from what came out in the studio: hair, bowl and result, and nothing of whose they were."""

from dataclasses import dataclass
from typing import Final

import numpy as np

from engine.arrays import FloatArray
from engine.colorimetry.difference import delta_e00
from engine.colorimetry.lab import lab_from_lch, lch_of
from engine.colorimetry.words import difference_words
from engine.language import decimals, say
from engine.practice.drill import Choice, Shown, ToChoose

CHOICES: Final = 4
# What others might take it for, by difficulty: how much lighter or deeper, how much of its strength, how far turned.
OFF_L: Final = (16.0, 13.0, 10.0, 8.0, 6.0)
TURNED_DEG: Final = (60.0, 45.0, 32.0, 24.0, 18.0)
STRENGTHS: Final = ((0.35, 1.8), (0.45, 1.6), (0.55, 1.5), (0.6, 1.4), (0.68, 1.32))
APART: Final = 4.0  # delta E00 between any two that are offered


@dataclass(frozen=True, kw_only=True, eq=False)
class Case:
    """A bowl that was mixed, the hair it went on, what was forecast and what came out, L*a*b* (3,) each.

    bowl: in words. level: of the hair.
    """

    level: float
    bowl: str
    before_lab: FloatArray
    forecast_lab: FloatArray
    result_lab: FloatArray


def what_came_out(case: Case, chance: np.random.Generator, difficulty: int) -> ToChoose:
    """Which of four locks came out. The other three are that colour lighter or deeper, softer or louder, or turned."""
    kept = [case.result_lab]
    others = [_other(case.result_lab, int(at), difficulty) for at in chance.permutation(6)]
    cast = TURNED_DEG[difficulty - 1] / 3  # what is nearly grey is not turned: it gets a cast
    others += [case.result_lab + cast * np.array(way) for way in ((-2, 0, 0), (0, 1, 0), (0, 0, 1), (0, -1, 0))]
    for lab in others:
        lab[0] = min(max(float(lab[0]), 5.0), 95.0)
        if len(kept) < CHOICES and all(float(delta_e00(lab, each)) >= APART for each in kept):
            kept.append(lab)
    order = chance.permutation(len(kept)).tolist()
    return ToChoose(
        question=decimals(say("{bowl} went on level {level:g} here. What came out?", bowl=case.bowl, level=case.level)),
        shown=(Shown(words=say("before"), lab=case.before_lab),),
        choices=tuple(
            Choice(key="abcd"[place], words="", score=1.0 if of == 0 else 0.0, lab=kept[of], is_seen=True)
            for place, of in enumerate(order)
        ),
        why=say(
            "Against the forecast it came out {words}.", words=difference_words(case.forecast_lab, case.result_lab)
        ),
    )


def _other(lab: FloatArray, at: int, difficulty: int) -> FloatArray:
    """A colour (3,) moved one of six ways."""
    lightness, chroma, hue = lch_of(lab).tolist()
    off, turned = OFF_L[difficulty - 1], TURNED_DEG[difficulty - 1]
    softer, louder = STRENGTHS[difficulty - 1]
    moved = (
        (lightness + off, chroma, hue),
        (lightness - off, chroma, hue),
        (lightness, chroma * softer, hue),
        (lightness, chroma * louder, hue),
        (lightness, chroma, hue + turned),
        (lightness, chroma, hue - turned),
    )[at]
    return lab_from_lch(np.array([moved[0], max(moved[1], 0.0), moved[2] % 360.0]))
