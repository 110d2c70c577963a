"""Which of many candidates are worth showing, and in what order."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

JUST_VISIBLE: Final = 1.0  # delta E00 of a pair that side by side is just told apart
ALIKE: Final = 0.5  # differences in closeness smaller than this are no reason to prefer a recipe


@dataclass(frozen=True, kw_only=True, eq=False)
class Candidate:
    """Steps of a set of shades, and how near they come before and after rounding."""

    shades: tuple[int, ...]
    units: tuple[int, ...]
    delta_e00: float
    exact_delta_e00: float


def closeness(candidate: Candidate) -> tuple[float, int, float, tuple[int, ...]]:
    """What orders candidates before their spread and cost are known."""
    return (candidate.delta_e00 // ALIKE, len(candidate.shades), candidate.delta_e00, candidate.shades)


def distinct(found: Sequence[tuple[Candidate, float, float]], answers: int) -> list[int]:
    """Where the best few stand among candidates with their spread and cost, best first.

    By closeness in steps that matter, then fewer shades, then steadiness in steps that matter, then cost. A longer
    recipe must earn its extra shade: a candidate is passed over when a chosen recipe uses a part of its shades and
    is as close, give or take ALIKE.
    """

    def rank(index: int) -> tuple[object, ...]:
        candidate, wander, cost = found[index]
        close, size, *rest = closeness(candidate)
        return (close, size, wander // JUST_VISIBLE, cost, *rest)

    chosen: list[int] = []
    for index in sorted(range(len(found)), key=rank):
        candidate = found[index][0]
        earned = all(
            not set(found[other][0].shades) <= set(candidate.shades)
            or candidate.delta_e00 < found[other][0].delta_e00 - ALIKE
            for other in chosen
        )
        if earned:
            chosen.append(index)
        if len(chosen) == answers:
            break
    return chosen
