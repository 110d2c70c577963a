"""What the Plan page shows: lanes of the visit's steps, amounts for each zone, and what is short on the shelf."""

import datetime
from dataclasses import dataclass
from typing import Final

from engine.service.plan import Plan, Slot
from engine.service.route import StepKind
from studio.accounts.models import Person
from studio.head.selectors import Bench, bench_of
from studio.route.amounts_page import AmountRow, Short, amount_row, shorts_of
from studio.route.coats import route_coats
from studio.route.page import STEP_WORDS
from studio.route.planned import Planned, planned_of
from studio.route.selectors import chosen_by_zone
from studio.ui.refusal import Refusal
from studio.ui.words import refusal_words
from studio.visits.gates import Asked, asked_of, check_many
from studio.visits.selectors import OpenZone

WIDTH: Final = 1000.0  # drawing units for the whole visit
LANE: Final = 64.0
HEAD: Final = 34.0
TICK_MIN: Final = 15
BAR_WORDS: Final = {StepKind.CLEAN_UP: "Rinse"}  # what a bar has room for, where the step says more


@dataclass(frozen=True, kw_only=True)
class Bar:
    """One step in a lane: applied by hand, then processing; places and widths in drawing units."""

    x: str
    hands: str
    width: str
    y: str
    words: str
    minutes: str
    said: str
    is_wide: bool


@dataclass(frozen=True, kw_only=True)
class Lane:
    """One zone's steps, and where its name stands."""

    name: str
    y: str
    bars: tuple[Bar, ...]


@dataclass(frozen=True, kw_only=True)
class StepRow:
    """One step in the order in which the hands take it up, with its minutes as a form has them."""

    at: str
    zone: str
    zone_id: int
    kind: str
    words: str
    batches: int
    apply_min: str
    process_min: str


@dataclass(frozen=True, kw_only=True, eq=False)
class PlanPage:
    """The Plan page as its template takes it."""

    bench: Bench
    lanes: tuple[Lane, ...]
    ticks: tuple[tuple[str, str], ...]
    height: str
    total: str
    hands: str
    side: str
    order: tuple[StepRow, ...]
    begins: str
    ends: str
    first: str
    error_words: str
    amounts: tuple[AmountRow, ...]
    shorts: tuple[Short, ...]
    unrouted: tuple[str, ...]
    shut: tuple[tuple[str, str], ...]


def plan_page(person: Person, opened: OpenZone, *, visits_before: int, refusal: Refusal | None = None) -> PlanPage:
    """Gather the plan. visits_before: how many visits the client has had, so that the starting side alternates."""
    bench, asked = bench_of(person, opened), asked_of(person, opened.visit)
    planned = planned_of(person, bench, asked)
    made, work, begins_at = planned.plan, planned.work, planned.begins_at
    chosen = chosen_by_zone(person, opened.visit)
    ids = {each.zone.name: each.zone.pk for each in bench.zones}
    scale = WIDTH / max(made.total_min, TICK_MIN)
    return PlanPage(
        bench=bench,
        lanes=tuple(
            Lane(
                name=name,
                y=f"{HEAD + LANE * row + 26:.0f}",
                bars=tuple(_bar(slot, row, scale) for slot in slots),
            )
            for row, (name, slots) in enumerate((each.name, made.lanes[each.name]) for each in work)
        ),
        ticks=tuple(
            (f"{minute * scale:.1f}", f"{minute}") for minute in range(0, int(made.total_min) + 1, _tick(made))
        ),
        height=f"{HEAD + LANE * max(len(made.lanes), 1) + 6:.0f}",
        total=_clock(made.total_min),
        hands=_clock(made.hands_min),
        side="left" if visits_before % 2 == 0 else "right",
        order=tuple(_step(slot, begins_at, ids[slot.zone]) for slot in made.slots),
        begins=f"{begins_at:%H:%M}" if begins_at else "",
        ends=_at(begins_at, made.total_min),
        first=planned.first,
        error_words=refusal_words(refusal) if refusal else "",
        amounts=tuple(amount_row(each, asked, chosen, _colour_of(made, each.zone.name)) for each in bench.zones),
        shorts=shorts_of(bench),
        unrouted=planned.unrouted,
        shut=_shut(bench, asked, planned),
    )


def _shut(bench: Bench, asked: Asked, planned: Planned) -> tuple[tuple[str, str], ...]:
    """What stops the plan: each stop that nobody has signed, with its zone."""
    stops = [
        (zone.zone.name, seen.gate.sentence)
        for zone, route in planned.walked
        for seen in check_many(asked, route_coats(asked, bench, zone, route.lift))
        if seen.is_shut
    ]
    return tuple(dict.fromkeys(stops))


def _bar(slot: Slot, row: int, scale: float) -> Bar:
    words = STEP_WORDS[slot.task.kind]
    width = (slot.end_min - slot.start_min) * scale
    return Bar(
        x=f"{slot.start_min * scale:.1f}",
        hands=f"{(slot.applied_min - slot.start_min) * scale:.1f}",
        width=f"{width:.1f}",
        y=f"{HEAD + LANE * row + 8:.0f}",
        words=BAR_WORDS.get(slot.task.kind, words),
        minutes=f"{slot.end_min - slot.start_min:.0f} min",
        said=f"{slot.zone}: {words} from minute {slot.start_min:.0f} to {slot.end_min:.0f}",
        is_wide=width > 90,
    )


def _tick(made: Plan) -> int:
    """Minutes between two marks: wider on a long visit."""
    return TICK_MIN if made.total_min <= 12 * TICK_MIN else 2 * TICK_MIN


def _clock(minutes: float) -> str:
    hours, rest = divmod(round(minutes), 60)
    return f"{hours} h {rest:02d}" if hours else f"{rest} min"


def _step(slot: Slot, begins_at: datetime.time | None, zone_id: int) -> StepRow:
    return StepRow(
        at=_at(begins_at, slot.start_min) or f"{slot.start_min:.0f}",
        zone=slot.zone,
        zone_id=zone_id,
        kind=slot.task.kind.value,
        words=STEP_WORDS[slot.task.kind],
        batches=slot.task.batches,
        apply_min=f"{slot.task.apply_min:.0f}",
        process_min=f"{slot.task.process_min:.0f}",
    )


def _at(begins_at: datetime.time | None, minutes: float) -> str:
    """The time of day so many minutes into the visit; nothing before it has a begin."""
    if begins_at is None:
        return ""
    moment = datetime.datetime.combine(datetime.date.min, begins_at) + datetime.timedelta(minutes=round(minutes))
    return f"{moment:%H:%M}"


def _colour_of(made: Plan, zone: str) -> Slot | None:
    """When a zone is coloured."""
    return next((slot for slot in made.slots if slot.zone == zone and slot.task.kind is StepKind.DEPOSIT), None)
