"""A drill from its skill, its difficulty and a number: the same each time it is asked for."""

from collections.abc import Callable, Mapping
from typing import Final

import numpy as np

from engine.arrays import within
from engine.language import kept_by_language
from engine.practice.bowls import AtTheBowl, hit_by_hand, rescue_a_bowl
from engine.practice.drill import HARDEST, Skill, ToChoose, ToReckon
from engine.practice.looking import read_a_lock, which_lock, which_opposite
from engine.practice.routing import which_route
from engine.practice.sums import a_sum
from engine.practice.two_heads import two_heads
from engine.practice.wrong import what_went_wrong

Asked = ToChoose | ToReckon | AtTheBowl
MAKERS: Final[Mapping[Skill, Callable[[np.random.Generator, int], Asked]]] = {
    Skill.READ: read_a_lock,
    Skill.OPPOSITE: which_opposite,
    Skill.WHICH: which_lock,
    Skill.HIT: hit_by_hand,
    Skill.RESCUE: rescue_a_bowl,
    Skill.SUMS: a_sum,
    Skill.ROUTE: which_route,
    Skill.WRONG: what_went_wrong,
    Skill.TWO: two_heads,
}


@kept_by_language(maxsize=64)
def drill_of(skill: Skill, number: int, difficulty: int) -> Asked:
    """One of endless drills. number: which of them, 0 or more. Raises OutOfRange for the difficulty, 1 to 5."""
    within("difficulty", difficulty, 1, HARDEST)
    return MAKERS[skill](np.random.default_rng([number, difficulty]), difficulty)
