"""A drill in order: two heads, one pair of hands, and lightener that may not stay on.

How long each kind takes to put on, works, and may wait to be rinsed is common practice, no published source; each drill
says its own numbers.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np

from engine.language import later, listed, say
from engine.practice.drill import Choice, ToChoose

CHAIRS: Final = (0, 1)
# On and off of each chair, in every order that hands can do them in.
ORDERS: Final = (
    ((0, True), (0, False), (1, True), (1, False)),
    ((1, True), (1, False), (0, True), (0, False)),
    ((0, True), (1, True), (0, False), (1, False)),
    ((0, True), (1, True), (1, False), (0, False)),
    ((1, True), (0, True), (1, False), (0, False)),
    ((1, True), (0, True), (0, False), (1, False)),
)
RINSE_MIN: Final = 10.0
LATE_COSTS: Final = 1000.0  # minutes that a minute too long counts as: no hour saved is worth it
CLEARLY: Final = 4.0  # minutes by which the best order must be the shortest
TRIES: Final = 60


@dataclass(frozen=True, kw_only=True)
class Kind:
    """A kind of work. apply, works: minutes, from and to. may_wait: how much later it may be rinsed."""

    words: str
    apply: tuple[int, int]
    works: tuple[int, int]
    may_wait: int


LIGHTENER: Final = Kind(words=later("lightener"), apply=(10, 25), works=(20, 35), may_wait=3)
OTHERS: Final = (
    Kind(words=later("permanent colour"), apply=(15, 25), works=(30, 35), may_wait=10),
    Kind(words=later("a toner"), apply=(5, 8), works=(8, 15), may_wait=2),
    Kind(words=later("direct dye"), apply=(15, 30), works=(20, 30), may_wait=40),
)


@dataclass(frozen=True, kw_only=True)
class Head:
    """One head's work: its kind, minutes to put it on, that it works, and that it may wait."""

    kind: Kind
    apply_min: float
    works_min: float

    @property
    def words(self) -> str:
        """As it is told."""
        return say(
            "{kind}, {apply:.0f} min to put on, rinsed {works:.0f} min later, {wait:.0f} min after that at most",
            kind=str(self.kind.words),
            apply=self.apply_min,
            works=self.works_min,
            wait=self.kind.may_wait,
        )


@dataclass(frozen=True, kw_only=True)
class Went:
    """How an order goes: when all is done, and by how much each chair was rinsed too late, in minutes."""

    total_min: float
    late_min: tuple[float, float]

    @property
    def cost(self) -> float:
        """What orders are ranked by."""
        return self.total_min + LATE_COSTS * sum(self.late_min)


def went(heads: Sequence[Head], order: Sequence[tuple[int, bool]]) -> Went:
    """One pair of hands walks through an order; it waits where nothing is ready to be rinsed."""
    now, on_at, late = 0.0, [0.0, 0.0], [0.0, 0.0]
    for chair, puts_on in order:
        head = heads[chair]
        if puts_on:
            now += head.apply_min
            on_at[chair] = now
        else:
            ready = on_at[chair] + head.works_min
            now = max(now, ready)
            late[chair] = max(now - ready - head.kind.may_wait, 0.0)
            now += RINSE_MIN
    return Went(total_min=now, late_min=(late[0], late[1]))


def two_heads(chance: np.random.Generator, difficulty: int) -> ToChoose:
    """In which order two heads are worked. From 3 on the next best orders are offered; from 4 on both are lightened."""
    heads, ranked = _case(chance, difficulty)
    right = ranked[0]
    wrong = ranked[1:4] if difficulty >= 3 else tuple(ranked[int(at)] for at in sorted(chance.permutation(5)[:3] + 1))
    choices = [
        Choice(
            key=str(ORDERS.index(order)),
            words=_order_words(order),
            score=1.0 if order == right else 0.0,
            because=_told(order, went(heads, order)),
        )
        for order in sorted((right, *wrong), key=ORDERS.index)
    ]
    return ToChoose(
        question=say(
            "One pair of hands. Chair 1: {one}. Chair 2: {two}. A rinse takes {rinse:.0f} min. In which order?",
            one=heads[0].words,
            two=heads[1].words,
            rinse=RINSE_MIN,
        ),
        shown=(),
        choices=tuple(choices),
        why=_told(right, went(heads, right)),
    )


Order = tuple[tuple[int, bool], ...]


def _case(chance: np.random.Generator, difficulty: int) -> tuple[tuple[Head, Head], tuple[Order, ...]]:
    """Two heads of which one order is clearly the best, and all orders from best to worst."""
    for _ in range(TRIES):
        other = LIGHTENER if difficulty >= 4 else OTHERS[int(chance.integers(len(OTHERS)))]
        kinds = [LIGHTENER, other]
        if chance.integers(2):
            kinds.reverse()
        heads = (_head(kinds[0], chance), _head(kinds[1], chance))
        ranked = tuple(sorted(ORDERS, key=lambda order: went(heads, order).cost))
        best, second = (went(heads, order) for order in ranked[:2])
        if not sum(best.late_min) and second.cost - best.cost >= CLEARLY:
            break
    return heads, ranked


def _head(kind: Kind, chance: np.random.Generator) -> Head:
    apply, works = (float(5 * chance.integers(low // 5, high // 5 + 1)) for low, high in (kind.apply, kind.works))
    return Head(kind=kind, apply_min=max(apply, 5.0), works_min=max(works, 10.0))


def _order_words(order: Order) -> str:
    return listed(
        (
            say("chair {number} on", number=chair + 1) if puts_on else say("chair {number} off", number=chair + 1)
            for chair, puts_on in order
        ),
        ", ",
    )


def _told(order: Order, how: Went) -> str:
    late = [
        say("chair {number} is {late:.0f} min too long on", number=chair + 1, late=how.late_min[chair])
        for chair in CHAIRS
        if how.late_min[chair]
    ]
    told = say("{order}: done after {total:.0f} min", order=_order_words(order), total=how.total_min)
    return listed([told, *late], "; ") + "."
