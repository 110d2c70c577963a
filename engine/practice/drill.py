"""What a drill asks, and how an answer to it is graded: scores run from 0 to 1, and every one says why."""

from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from engine.arrays import FloatArray

HARDEST: Final = 5  # difficulties run from 1
RIGHT_FROM: Final = 0.8  # of a score: from here on an answer counts as right


class Skill(StrEnum):
    """What is practised."""

    READ = "read"
    OPPOSITE = "opposite"
    WHICH = "which"
    HIT = "hit"
    RESCUE = "rescue"
    SUMS = "sums"
    ROUTE = "route"
    WRONG = "wrong"
    TWO = "two"


@dataclass(frozen=True, kw_only=True, eq=False)
class Shown:
    """A lock to look at, L*a*b* (3,), with its caption."""

    words: str
    lab: FloatArray


@dataclass(frozen=True, kw_only=True, eq=False)
class Choice:
    """One of the answers that can be chosen.

    words: what it says; empty for a lock that speaks for itself. lab: its lock (3,), seen with the question where
    `is_seen`, else with the answer. score: what it is worth. because: what it would have been, in a sentence.
    """

    key: str
    words: str
    score: float
    because: str = ""
    lab: FloatArray | None = None
    is_seen: bool = False


@dataclass(frozen=True, kw_only=True, eq=False)
class ToChoose:
    """A question with answers to choose from. why: the sums behind the right one."""

    question: str
    shown: tuple[Shown, ...]
    choices: tuple[Choice, ...]
    why: str

    @property
    def best(self) -> Choice:
        """The right answer."""
        return max(self.choices, key=lambda choice: choice.score)


@dataclass(frozen=True, kw_only=True)
class ToReckon:
    """A sum against the clock. unit: of the number asked for. within: how far off still counts. allowed_s: seconds."""

    question: str
    right: float
    unit: str
    within: float
    allowed_s: int
    why: str


@dataclass(frozen=True, kw_only=True, eq=False)
class Graded:
    """An answer's score, the sentence that says why, and what would have come next."""

    score: float
    words: str
    notes: tuple[str, ...] = ()

    @property
    def is_right(self) -> bool:
        """Whether it counts as right."""
        return self.score >= RIGHT_FROM


def chosen(asked: ToChoose, key: str) -> Graded | None:
    """The grade of a choice; None for a key that is none of the choices."""
    given = next((choice for choice in asked.choices if choice.key == key), None)
    if given is None:
        return None
    return Graded(score=given.score, words=asked.why)


def reckoned(asked: ToReckon, number: float, seconds: float) -> Graded:
    """The grade of a sum: half of it for one that came late."""
    is_close = abs(number - asked.right) <= asked.within
    in_time = seconds <= asked.allowed_s
    return Graded(score=(1.0 if in_time else 0.5) if is_close else 0.0, words=asked.why)
