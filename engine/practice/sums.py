"""Drills in ratios and developer: what hands reckon beside the bowl, against the clock."""

from typing import Final

import numpy as np

from engine.language import decimals, say
from engine.practice.drill import ToReckon
from engine.service.developer import blend, developer_for, percent_of

ALLOWED_S: Final = (60, 45, 35, 25, 20)  # by difficulty
RATIOS: Final = ((1.0, 2.0), (1.0, 1.5, 2.0), (1.0, 1.5, 2.0, 3.0), (1.0, 1.5, 2.0, 2.5, 3.0), (1.25, 1.5, 1.75, 2.5))
GRAMS: Final = ((20, 30, 40, 60), (25, 30, 45, 60), (25, 35, 45, 55), (18, 27, 35, 52), (17, 23, 38, 54))
PARTS: Final = ((1, 3), (2, 3, 5), (3, 5, 9), (4, 7, 11), (7, 15, 29))
STRENGTHS: Final = (3.0, 6.0, 9.0, 12.0)
OFF: Final = 0.02  # of the number that it may be off
OFF_LEAST: Final = 0.15


def a_sum(chance: np.random.Generator, difficulty: int) -> ToReckon:
    """One of five kinds of sum, harder numbers and less time the harder it is."""
    kinds = (_developer, _whole_bowl, _clear, _percent, _blend)
    kind = kinds[int(chance.integers(len(kinds) if difficulty > 1 else 4))]
    question, right, unit, why = kind(chance, difficulty - 1)
    return ToReckon(
        question=question,
        right=right,
        unit=unit,
        within=max(OFF * right, OFF_LEAST),
        allowed_s=ALLOWED_S[difficulty - 1],
        why=decimals(why),
    )


Made = tuple[str, float, str, str]


def _developer(chance: np.random.Generator, step: int) -> Made:
    colour_g, parts = float(chance.choice(GRAMS[step])), float(chance.choice(RATIOS[step]))
    right = developer_for(colour_g, parts)
    return (
        decimals(say("{grams:g} g of colour at 1 : {parts:g}. How much developer?", grams=colour_g, parts=parts)),
        right,
        "g",
        say("{grams:g} × {parts:g} = {right:g} g.", grams=colour_g, parts=parts, right=right),
    )


def _whole_bowl(chance: np.random.Generator, step: int) -> Made:
    colour_g, parts = float(chance.choice(GRAMS[step])), float(chance.choice(RATIOS[step]))
    right = colour_g + developer_for(colour_g, parts)
    return (
        decimals(
            say("{grams:g} g of colour at 1 : {parts:g}. What does the whole bowl weigh?", grams=colour_g, parts=parts)
        ),
        right,
        "g",
        say(
            "{grams:g} + {grams:g} × {parts:g} = {right:g} g.",
            grams=colour_g,
            parts=parts,
            right=right,
        ),
    )


def _clear(chance: np.random.Generator, step: int) -> Made:
    parts, share = int(chance.choice(PARTS[step])), float(chance.choice(GRAMS[step]))
    total = 2 * share
    right = total / (1 + parts)
    return (
        decimals(say("{total:g} g, 1 part colour to {parts} of clear. How much colour?", total=total, parts=parts)),
        right,
        "g",
        say("{total:g} ÷ (1 + {parts}) = {right:.1f} g.", total=total, parts=parts, right=right),
    )


def _percent(chance: np.random.Generator, step: int) -> Made:
    vol = float(chance.choice([10, 20, 30, 40] if step < 2 else [6, 7, 9, 13]))
    return (
        say("{vol:g} vol: how many percent?", vol=vol),
        percent_of(vol),
        "%",
        say("{vol:g} × 0.3 = {percent:g} %.", vol=vol, percent=percent_of(vol)),
    )


def _blend(chance: np.random.Generator, step: int) -> Made:
    weak, wanted, strong = (float(each) for each in sorted(chance.choice([0.0, *STRENGTHS], size=3, replace=False)))
    total = 2 * float(chance.choice(GRAMS[step]))
    right = blend(strong, weak, wanted, total).strong_g
    with_what = say("water") if weak == 0 else say("{weak:g} %", weak=weak)
    return (
        say(
            "{total:g} g of {wanted:g} % from {strong:g} % and {weak}. How much of the {strong:g} %?",
            total=total,
            wanted=wanted,
            strong=strong,
            weak=with_what,
        ),
        right,
        "g",
        say(
            "{total:g} × ({wanted:g} − {weak:g}) ÷ ({strong:g} − {weak:g}) = {right:.1f} g.",
            total=total,
            wanted=wanted,
            weak=weak,
            strong=strong,
            right=right,
        ),
    )
