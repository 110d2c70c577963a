"""What is to be planned: zones with their coats, and the hands there are."""

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from functools import cached_property
from graphlib import CycleError, TopologicalSorter
from typing import Final

from engine.arrays import within
from engine.errors import BadInput, OutOfRange, Unknown

MINUTES_MOST: Final = 600.0
HANDS_MOST: Final = 3
ZONES_MOST: Final = 24
COATS_MOST: Final = 8
LOOKED_AT_FROM_MIN: Final = 2.0  # a pre-tone or glaze can turn within minutes (F35)


class Purpose(StrEnum):
    """What a coat is for."""

    REMOVE = "remove"
    LIFT = "lift"
    EQUALISE = "equalise"
    FILL = "fill"
    PRE_TONE = "pre_tone"
    COLOUR = "colour"
    OVERLAY = "overlay"
    GLAZE = "glaze"
    MASK = "mask"
    SEAL = "seal"


# The rest goes on damp hair, too (common practice, no published source; the pack decides).
WANTS_DRY: Final = frozenset({Purpose.REMOVE, Purpose.LIFT, Purpose.COLOUR, Purpose.OVERLAY})
QUICK_TO_TURN: Final = frozenset({Purpose.PRE_TONE, Purpose.GLAZE})


@dataclass(frozen=True, kw_only=True)
class PlannedCoat:
    """One application: minutes it takes a pair of hands, and its window. Several pairs share one that is too long.

    least_min, most_min: from its first hair on to the begin of its basin; of one that stays on, to the first hair of
    the coat that goes over it. last_min: that its last hair has it on at the least. wants_dry: whether it goes on dry
    hair only. rinsed: whether it is rinsed before the next. not_before_min: from the begin of the visit to its first
    hair at the least. joins: a zone, and which of its coats, from 0, that must be on already when it goes on, and is
    rinsed with it. wash_more_min: by which its basin is longer than others. Raises OutOfRange, BadInput.
    """

    purpose: Purpose
    apply_min: float
    least_min: float
    most_min: float
    wants_dry: bool
    rinsed: bool = True
    last_min: float = 0.0
    not_before_min: float = 0.0
    joins: tuple[str, int] | None = None
    wash_more_min: float = 0.0

    def __post_init__(self) -> None:
        within("not_before_min", self.not_before_min, 0.0, MINUTES_MOST, "min")
        within("wash_more_min", self.wash_more_min, 0.0, MINUTES_MOST, "min")
        within("last_min", self.last_min, 0.0, MINUTES_MOST, "min")
        within("apply_min", self.apply_min, 0.0, MINUTES_MOST, "min")
        within("window_min.0", self.least_min, 0.0, MINUTES_MOST, "min")
        within("window_min.1", self.most_min, 0.0, MINUTES_MOST, "min")
        if self.most_min < self.least_min:
            raise BadInput("window_min", f"window_min ends at {self.most_min:g} min, before {self.least_min:g} min")

    def stays_min(self, applied_min: float) -> float:
        """Minutes from its first hair on that it stays at the least, if it takes so many to put on."""
        return max(self.least_min, applied_min + self.last_min)

    def hands_of(self, hands: int) -> int:
        """How many of so many pairs of hands put it on: one, unless its last hair would come too late for its first."""
        return hands if self.apply_min + self.last_min > self.most_min else 1

    @property
    def looked_at_min(self) -> float:
        """When it is first looked at, after its first hair on."""
        return min(LOOKED_AT_FROM_MIN, self.most_min) if self.purpose in QUICK_TO_TURN else self.least_min


@dataclass(frozen=True, kw_only=True)
class PlannedZone:
    """A zone and its coats in their order. apart: in foil, clipped away or rinsed at the chair, so that it neither
    shares the head's basin nor gets wet with it. Raises BadInput.
    """

    name: str
    coats: tuple[PlannedCoat, ...]
    apart: bool = False

    def __post_init__(self) -> None:
        if self.coats and not self.coats[-1].rinsed:
            raise BadInput("coats", f"coats of {self.name} end with one that is never rinsed")


@dataclass(frozen=True, kw_only=True)
class Visit:
    """All zones of a head, the pairs of hands at it, and what its basin and drying take.

    turns: zones that are taken up in this order, and before any other, where that is said. Raises OutOfRange, Unknown.
    """

    zones: tuple[PlannedZone, ...]
    hands: int = 1
    basin_min: float = 8.0
    dry_min: float = 6.0
    turns: tuple[str, ...] = ()

    def __post_init__(self) -> None:
        if not 1 <= self.hands <= HANDS_MOST:
            raise OutOfRange("hands", self.hands, 1, HANDS_MOST)
        within("basin_min", self.basin_min, 0.0, MINUTES_MOST, "min")
        within("dry_min", self.dry_min, 0.0, MINUTES_MOST, "min")
        names = [zone.name for zone in self.zones]
        for place, name in enumerate(self.turns):
            if name not in names:
                raise Unknown(f"turns.{place}", name, names)
        if len(set(self.turns)) != len(self.turns):
            raise BadInput("turns", "turns name a zone twice")
        for zone in self.zones:
            for coat in zone.coats:
                self._check_joined(zone, coat)
        if self.joiners:
            self._check_waits()

    def _check_joined(self, zone: PlannedZone, coat: PlannedCoat) -> None:
        """What joins and what it joins lie in the open, are rinsed, and neither waits for a third."""
        if coat.joins is None:
            return
        name, index = coat.joins
        other = next((each for each in self.zones if each.name == name and each is not zone), None)
        if other is None or not 0 <= index < len(other.coats):
            raise BadInput("joins", f"joins: {zone.name} can't join coat {index} of {name}, which there is not")
        joined = other.coats[index]
        if zone.apart or other.apart or not coat.rinsed or not joined.rinsed:
            raise BadInput("joins", f"joins: {zone.name} and {name} are not rinsed together")
        if joined.joins is not None:
            raise BadInput("joins", f"joins: {name} joins another zone itself")

    def _check_waits(self) -> None:
        """No coat waits for one that waits for it: by what joins what, what is rinsed before that, and the turns."""
        waits: TopologicalSorter[tuple[int, int]] = TopologicalSorter()
        for zone, planned in enumerate(self.zones):
            for index in range(1, len(planned.coats)):
                waits.add((zone, index), (zone, index - 1))
            if planned.coats:
                waits.add((zone, 0), *((other, 0) for other in self.ahead_of(zone)))
        for (zone, index), joiners in self.joiners.items():
            for other, place in joiners:
                waits.add((other, place), (zone, index))
                if index + 1 < len(self.zones[zone].coats):
                    waits.add((zone, index + 1), (other, place))
                if place and self.zones[other].coats[place - 1].rinsed:
                    waits.add((zone, index), (other, place - 1))
        try:
            waits.prepare()
        except CycleError as error:
            names = dict.fromkeys(self.zones[zone].name for zone, _ in error.args[1])
            raise BadInput("joins", f"joins: {' and '.join(names)} wait for one another") from None

    def ahead_of(self, zone: int) -> tuple[int, ...]:
        """The zones, by index, of which the first coat is on before that of one: by their turns.

        What joins another with its first coat has the other's turn where that is later; with a later coat where that is
        sooner, since what is rinsed before comes before both.
        """
        turns = [self._turn(each) for each in range(len(self.zones))]
        return tuple(each for each, turn in enumerate(turns) if turn < turns[zone] and self.zones[each].coats)

    def _turn(self, zone: int) -> int:
        turn = self.turn_of(zone)
        for (there, _), joiners in self.joiners.items():
            for other, place in joiners:
                if other == zone:
                    turn = min(turn, self.turn_of(there)) if place else max(turn, self.turn_of(there))
        return turn

    @cached_property
    def joiners(self) -> Mapping[tuple[int, int], tuple[tuple[int, int], ...]]:
        """What joins each coat that is joined, both by zone index and place."""
        places = {zone.name: index for index, zone in enumerate(self.zones)}
        found: dict[tuple[int, int], tuple[tuple[int, int], ...]] = {}
        for zone, planned in enumerate(self.zones):
            for index, coat in enumerate(planned.coats):
                if coat.joins:
                    there = (places[coat.joins[0]], coat.joins[1])
                    found[there] = (*found.get(there, ()), (zone, index))
        return found

    def turn_of(self, zone: int) -> int:
        """How many zones are taken up before one, by its index, as it was said."""
        name = self.zones[zone].name
        return self.turns.index(name) if name in self.turns else len(self.turns)

    @property
    def coats(self) -> int:
        """How many coats there are in all."""
        return sum(len(zone.coats) for zone in self.zones)


class SlotKind(StrEnum):
    """What is done."""

    APPLY = "apply"
    CHECK = "check"
    BASIN = "basin"
    DRY = "dry"


@dataclass(frozen=True, kw_only=True)
class Slot:
    """One thing done: to which zones and which coat of each, from 0, from when to when, by which pair of hands, from 1.

    A check is a moment and binds no hands (0). What several pairs do together has a slot for each.
    """

    kind: SlotKind
    zones: tuple[str, ...]
    coats: tuple[int, ...]
    start_min: float
    end_min: float
    hand: int


@dataclass(frozen=True, kw_only=True)
class Broken:
    """A coat that stays on past its window, and by how many minutes.

    sections: into how many its zone must be parted, each applied and rinsed by itself, for one pair of hands: 1 where
    it overruns only because of another coat, None where no parting helps.
    """

    zone: str
    coat: int
    purpose: Purpose
    by_min: float
    sections: int | None


@dataclass(frozen=True, kw_only=True)
class Schedule:
    """A plan: every slot in order of time.

    broken: windows that can't be kept; none in a plan that may be worked. hands_needed: how many pairs of hands would
    keep all of them, if three at most do.
    is_exact: whether every order was weighed, so that none is shorter; else it is the best of those tried.
    """

    slots: tuple[Slot, ...]
    broken: tuple[Broken, ...]
    hands_needed: int | None
    is_exact: bool

    @property
    def possible(self) -> bool:
        """Whether every window is kept."""
        return not self.broken

    @property
    def total_min(self) -> float:
        """From the first hair on to the end of the last basin."""
        return max((slot.end_min for slot in self.slots), default=0.0)
