"""Where somebody stands in a skill: how hard the next drill is, and when it is due.

Harder after two right answers in a row, easier after a plain failure; what was right is asked again after longer and
longer, what was wrong tomorrow: practice that is spaced over days holds better than as much in one [CEP06].
"""

import datetime
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Final

from engine.practice.drill import HARDEST, RIGHT_FROM

FAILED_BELOW: Final = 0.4  # of a score
RIGHT_TO_RISE: Final = 2  # right answers in a row
READY_FROM: Final = 3  # difficulty from which a skill can be signed off; chosen by the founders
READY_ANSWERS: Final = 5
DAYS: Final = (0, 1, 2, 4, 8, 16, 32)  # until it is due again, by how many days in a row went well


@dataclass(frozen=True, kw_only=True)
class Answered:
    """One answer: when, how hard its drill was, and its score 0-1."""

    on: datetime.date
    difficulty: int
    score: float


@dataclass(frozen=True, kw_only=True)
class Standing:
    """difficulty: of the next drill, 1 to 5. step: days in a row that went well. due_on: None before any answer."""

    difficulty: int = 1
    step: int = 0
    due_on: datetime.date | None = None
    count: int = 0

    @property
    def is_ready(self) -> bool:
        """Whether enough was answered, and hard enough, for a mentor to sign the skill off."""
        return self.count >= READY_ANSWERS and self.difficulty >= READY_FROM

    def is_due(self, today: datetime.date) -> bool:
        """Whether it should be practised today."""
        return self.due_on is None or self.due_on <= today


def standing_after(answers: Iterable[Answered]) -> Standing:
    """Where one stands after answers, in their order."""
    difficulty, in_a_row, step, count = 1, 0, 0, 0
    due: datetime.date | None = None
    stepped_on: datetime.date | None = None
    for each in answers:
        count += 1
        is_right = each.score >= RIGHT_FROM
        in_a_row = in_a_row + 1 if is_right else 0
        if in_a_row >= RIGHT_TO_RISE:
            difficulty, in_a_row = min(each.difficulty + 1, HARDEST), 0
        elif each.score < FAILED_BELOW:
            difficulty = max(each.difficulty - 1, 1)
        if not is_right:
            step, stepped_on = 0, None
            due = each.on + datetime.timedelta(days=1)
        elif stepped_on != each.on:
            step, stepped_on = min(step + 1, len(DAYS) - 1), each.on
            due = each.on + datetime.timedelta(days=DAYS[step])
    return Standing(difficulty=difficulty, step=step, due_on=due, count=count)
