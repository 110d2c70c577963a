"""The plan of a visit: what is done to which zone when, by one pair of hands while several zones process.

Applying needs the hands; processing needs only the clock. Minutes of application are the founders' estimates.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from math import ceil
from typing import Final

from engine.arrays import within
from engine.service.lift import BOWL_BEST_MIN
from engine.service.route import StepKind

MINUTES_MOST: Final = 600.0
APPLY_G_PER_MIN: Final = 4.0  # colour worked into thin sections; chosen by the founders
APPLY_LEAST_MIN: Final = 5.0
OXIDATIVE_LIFE_MIN: Final = 45.0  # a mixed oxidative bowl; the pack decides
HANDS_ON: Final = frozenset({StepKind.CLEAN_UP, StepKind.REMOVE})  # rinsing and removing hold the hands throughout


@dataclass(frozen=True, kw_only=True)
class Task:
    """One step of a zone: minutes in which it is applied, and then processes by itself. Raises OutOfRange."""

    kind: StepKind
    apply_min: float
    process_min: float

    def __post_init__(self) -> None:
        within("plan.apply_min", self.apply_min, 0.0, MINUTES_MOST, "min")
        within("plan.process_min", self.process_min, 0.0, MINUTES_MOST, "min")

    @property
    def batches(self) -> int:
        """How many bowls it takes, since a lightener is past its best before a long application ends."""
        life = BOWL_BEST_MIN[1] if self.kind is StepKind.LIFT else OXIDATIVE_LIFE_MIN
        return max(1, ceil(self.apply_min / life - 1e-9))


@dataclass(frozen=True, kw_only=True)
class ZoneWork:
    """A zone and its steps, one after the other."""

    name: str
    tasks: tuple[Task, ...]


@dataclass(frozen=True, kw_only=True)
class Slot:
    """When a step is done: hands on from `start_min` to `applied_min`, processing until `end_min`."""

    zone: str
    task: Task
    start_min: float
    applied_min: float
    end_min: float


@dataclass(frozen=True, kw_only=True)
class Plan:
    """Every step in the order in which the hands take it up."""

    slots: tuple[Slot, ...]

    @property
    def total_min(self) -> float:
        """Minutes in the chair."""
        return max((slot.end_min for slot in self.slots), default=0.0)

    @property
    def hands_min(self) -> float:
        """Minutes in which the hands are busy."""
        return sum(slot.applied_min - slot.start_min for slot in self.slots)

    @property
    def lanes(self) -> dict[str, tuple[Slot, ...]]:
        """The slots of each zone, in order."""
        return {
            name: tuple(slot for slot in self.slots if slot.zone == name)
            for name in dict.fromkeys(slot.zone for slot in self.slots)
        }


def task_of(kind: StepKind, grams: float, minutes: float) -> Task:
    """A step with its minutes of application by the grams that are worked in. Raises OutOfRange."""
    if kind in HANDS_ON:
        return Task(kind=kind, apply_min=minutes, process_min=0.0)
    return Task(kind=kind, apply_min=max(APPLY_LEAST_MIN, grams / APPLY_G_PER_MIN), process_min=minutes)


def plan(work: Sequence[ZoneWork], *, first: str = "") -> Plan:
    """Lay the steps out for one pair of hands.

    Whenever the hands are free, they take up the zone that is ready and has the longest way still to go, so that
    the rest processes meanwhile; when none is ready they wait for the first that will be. No step starts before its
    zone's last one has ended. first: the name of a zone that is taken up before the others whenever it is ready.
    """
    ready = [0.0] * len(work)
    done = [0] * len(work)
    hands, slots = 0.0, []
    while any(done[index] < len(each.tasks) for index, each in enumerate(work)):
        open_ones = [index for index, each in enumerate(work) if done[index] < len(each.tasks)]
        start = max(hands, min(ready[index] for index in open_ones))
        index = min(
            (index for index in open_ones if ready[index] <= start),
            key=lambda i: (work[i].name != first, -_left(work[i], done[i]), i),
        )
        task = work[index].tasks[done[index]]
        applied = start + task.apply_min
        ready[index] = applied + task.process_min
        slots.append(Slot(zone=work[index].name, task=task, start_min=start, applied_min=applied, end_min=ready[index]))
        hands = applied
        done[index] += 1
    return Plan(slots=tuple(slots))


def _left(work: ZoneWork, done: int) -> float:
    return sum(task.apply_min + task.process_min for task in work.tasks[done:])


def clashes(plans: Sequence[tuple[float, Plan]]) -> tuple[tuple[float, float], ...]:
    """Minutes of the day in which one colourist's hands are wanted at two chairs.

    plans: for each chair, the minute of the day at which it begins, and its plan.
    """
    busy = sorted(
        (begin + slot.start_min, begin + slot.applied_min)
        for begin, each in plans
        for slot in each.slots
        if slot.applied_min > slot.start_min
    )
    found: list[tuple[float, float]] = []
    until = float("-inf")
    for start, end in busy:
        if start < until - 1e-9:
            found.append((start, min(end, until)))
        until = max(until, end)
    return tuple(found)
