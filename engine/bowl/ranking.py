"""Which of many candidates are worth showing, and in what order."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

from engine.language import say

JUST_VISIBLE: Final = 1.0  # delta E00 of a pair that side by side is just told apart
CHANCE: Final = 0.05  # chances of a hit that differ by less are no reason to prefer a recipe
ALIKE: Final = 0.5  # differences in closeness smaller than this are no reason to prefer a recipe


@dataclass(frozen=True, kw_only=True, eq=False)
class Candidate:
    """Steps of a set of shades, and how near they come before and after rounding."""

    shades: tuple[int, ...]
    units: tuple[int, ...]
    delta_e00: float
    exact_delta_e00: float


def chance_words(chance: float) -> str:
    """A chance 0-1 of a hit as a colourist would put it."""
    tenths = round(10 * chance)
    if tenths == 0:
        return say("most likely seen to be off")
    return (
        say("nearly sure to be hardly off")
        if tenths == 10
        else say("{tenths} in 10 likely to be hardly off", tenths=tenths)
    )


def closeness(candidate: Candidate) -> tuple[float, int, float, tuple[int, ...]]:
    """What orders candidates before their spread and cost are known."""
    return (candidate.delta_e00 // ALIKE, len(candidate.shades), candidate.delta_e00, candidate.shades)


def earned(candidate: Candidate, chosen: Sequence[Candidate]) -> bool:
    """Whether a candidate is worth showing beside those chosen: each that uses a part of its shades is further off.

    Give or take ALIKE: a longer recipe must earn its extra shade.
    """
    return all(
        not set(other.shades) <= set(candidate.shades) or candidate.delta_e00 < other.delta_e00 - ALIKE
        for other in chosen
    )


def shortlist(found: Sequence[Candidate], most: int) -> list[Candidate]:
    """The closest few that have earned their shades, before their spread and cost are known."""
    chosen: list[Candidate] = []
    for candidate in sorted(found, key=closeness):
        if earned(candidate, chosen):
            chosen.append(candidate)
        if len(chosen) == most:
            break
    return chosen


@dataclass(frozen=True, kw_only=True, eq=False)
class Ranked:
    """A candidate with what else speaks for it: the chance of a hit, how far results wander, its cost."""

    candidate: Candidate
    chance: float
    within_90: float
    cost: float


def distinct(found: Sequence[Ranked], answers: int) -> list[int]:
    """Where the best few stand among candidates, best first.

    By the chance of a hit in steps of CHANCE, closeness in steps that matter, then fewer shades, steadiness in steps
    that matter, cost; one that has not `earned` its shades is passed over.
    """

    def rank(index: int) -> tuple[object, ...]:
        each = found[index]
        close, size, *rest = closeness(each.candidate)
        return (-round(each.chance / CHANCE), close, size, each.within_90 // JUST_VISIBLE, each.cost, *rest)

    chosen: list[int] = []
    for index in sorted(range(len(found)), key=rank):
        if earned(found[index].candidate, [found[other].candidate for other in chosen]):
            chosen.append(index)
        if len(chosen) == answers:
            break
    return chosen
