"""What the Plan page shows: lanes of the visit's coats, one thing after the other, and what each bowl has to hold."""

from dataclasses import dataclass
from typing import Final

from engine.language import Later, amid, begun, decimals, later, listed, say
from engine.service.house import BeginAt
from engine.service.schedule.usual import batches_of
from engine.service.schedule.work import HANDS_MOST, Broken, Purpose, Schedule, Slot, SlotKind
from engine.service.sections import SECTIONS_MOST
from studio.accounts.models import Person
from studio.head.models import Coat
from studio.head.selectors import Bench, bench_of
from studio.route.agreed import Agreed, agreed_of
from studio.route.amounts_page import BowlRow, Short, bowl_rows, shorts_of
from studio.route.coats import route_coats
from studio.route.planned import CoatInPlan, HeadPlan, planned_of
from studio.route.times import time_at
from studio.ui.refusal import Refusal
from studio.ui.templatetags.ui import plain
from studio.ui.words import refusal_words
from studio.visits.gates import Asked, asked_of, check_many
from studio.visits.selectors import OpenZone

WIDTH: Final = 1000.0  # drawing units for the whole visit
LANE: Final = 56.0
HEAD: Final = 34.0
TICK_MIN: Final = 15
NAME_FITS: Final = 12  # letters
NAMES: Final = dict(Coat.Purpose.choices)
AT_THE_HEAD: Final = {SlotKind.BASIN: later("Rinse"), SlotKind.DRY: later("Dry"), SlotKind.CHECK: later("Look at")}
LIGHTENER: Final = later("Lightener")


@dataclass(frozen=True, kw_only=True)
class Bar:
    """One coat in a lane: put on by hand, then on by itself; places and widths in drawing units."""

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
    """One zone's coats, and where its name stands; or the basin's. short: the name as it fits there."""

    name: str
    short: str
    y: str
    bars: tuple[Bar, ...]


@dataclass(frozen=True, kw_only=True)
class StepRow:
    """One thing that is done, in the order in which the hands take it up.

    coat, zone_id: of a coat that is put on and has a row, in its first section: its minutes can be set; zone: its name.
    not_before: the time of day, or the minute, that was said for its begin. joins: the coats that it may go on beside:
    their rows, words, and whether it does; joined: the words of that. earlier, later: the turns of the zones, by their
    rows, with this one taken up one earlier or later, where its first coat is put on.
    """

    at: str
    words: str
    where: str
    minutes: str
    zone: str = ""
    zone_id: int = 0
    coat: Coat | None = None
    batches: int = 1
    apply_min: str = ""
    on_min: str = ""
    not_before: str = ""
    joins: tuple[tuple[int, str, bool], ...] = ()
    joined: str = ""
    earlier: str = ""
    later: str = ""
    sections: int = 1
    rinsed_apart: bool = False
    counts: tuple[int, ...] = tuple(range(1, SECTIONS_MOST + 1))


@dataclass(frozen=True, kw_only=True)
class BrokenShown:
    """A window that can't be kept, in words; what can be pressed for it: pairs of hands and sections, 0 for none."""

    words: str
    zone_id: int
    hands: int
    sections: int
    may_be_apart: bool


@dataclass(frozen=True, kw_only=True, eq=False)
class PlanPage:
    """The Plan page as its template takes it. broken: windows that can't be kept, and what can be done."""

    bench: Bench
    lanes: tuple[Lane, ...]
    ticks: tuple[tuple[str, str], ...]
    height: str
    total: str
    hands_busy: str
    hands: int
    side: str
    order: tuple[StepRow, ...]
    begins: str
    ends: str
    has_turns: bool
    error_words: str
    bowls: tuple[BowlRow, ...]
    overlap: str
    assumed: str
    times: str
    shorts: tuple[Short, ...]
    unrouted: tuple[str, ...]
    unjoined: tuple[tuple[str, str], ...]
    broken: tuple[BrokenShown, ...]
    shut: tuple[tuple[str, str, str], ...]
    agreed: Agreed
    price: str
    many: tuple[int, ...] = tuple(range(1, HANDS_MOST + 1))

    @property
    def version(self) -> str:
        """The worktop's, that the page was made of."""
        return str(self.bench.worktop.version)


def plan_page(
    person: Person, opened: OpenZone, *, visits_before: int, refusal: Refusal | None = None, price: str = ""
) -> PlanPage:
    """Gather the plan. visits_before: how many visits the client has had, so that the starting side alternates.

    price: as it was typed in a refused agreement; by default the one that was agreed last.
    """
    bench, asked = bench_of(person, opened), asked_of(person, opened.visit)
    plan = planned_of(person, bench, asked)
    made, begins_at = plan.made, plan.begins_at
    agreed = agreed_of(person, bench, plan)
    scale = WIDTH / max(made.total_min, TICK_MIN)
    lanes = _lanes(plan, scale)
    return PlanPage(
        bench=bench,
        lanes=lanes,
        ticks=tuple(
            (f"{minute * scale:.1f}", f"{minute}") for minute in range(0, int(made.total_min) + 1, _tick(made))
        ),
        height=f"{HEAD + LANE * max(len(lanes), 1) + 6:.0f}",
        total=_clock(made.total_min),
        hands_busy=_clock(sum(slot.end_min - slot.start_min for slot in made.slots if slot.hand == 1)),
        hands=plan.hands,
        side=_begins(BeginAt(asked.studio.begin_at), left=visits_before % 2 == 0),
        order=tuple(_step(plan, slot) for slot in _told_once(made)),
        begins=f"{begins_at:%H:%M}" if begins_at else "",
        ends=time_at(begins_at, made.total_min),
        has_turns=bool(plan.turns),
        error_words=refusal_words(refusal) if refusal else "",
        bowls=bowl_rows(bench, asked, plan),
        overlap=plan.needs.overlap,
        assumed=listed((say(each) for each in plan.needs.assumed), say(" and ")),
        times="" if plan.needs.times is None else decimals(f"{plan.needs.times:.1f}"),
        shorts=shorts_of(bench),
        unrouted=plan.unrouted,
        unjoined=plan.unjoined,
        broken=tuple(_broken(each, plan) for each in made.broken),
        shut=_shut(bench, asked, plan),
        agreed=agreed,
        price=price or plain(agreed.last.price if agreed.last else None),
    )


def _begins(at: BeginAt, *, left: bool) -> str:
    """Where the application begins, as the house has it; the side changes from visit to visit."""
    side = say("left side") if left else say("right side")
    return {
        BeginAt.NAPE: say("{side}, from the nape up", side=side),
        BeginAt.HAIRLINE: say("{side}, at the hairline", side=side),
        BeginAt.SIDE: say("{side}, over to the other", side=side),
    }[at]


def _told_once(made: Schedule) -> list[Slot]:
    """What is done, in order; what several pairs of hands do together is told once."""
    return list({(each.kind, each.zones, each.coats, each.start_min): each for each in reversed(made.slots)}.values())[
        ::-1
    ]


def _shut(bench: Bench, asked: Asked, plan: HeadPlan) -> tuple[tuple[str, str, str], ...]:
    """What stops the plan: each stop that nobody has signed, with its zone, its sentence and its name."""
    stops = [
        (zone.zone.name, seen.gate.sentence, seen.name)
        for zone, route in plan.walked
        for seen in check_many(asked, route_coats(asked, bench, zone, route.lift))
        if seen.is_shut
    ]
    return tuple(dict.fromkeys(stops))


def _broken(broken: Broken, plan: HeadPlan) -> BrokenShown:
    """A window that can't be kept, and what would keep it."""
    zone = plan.lanes[broken.zone][0].zone.zone
    what = LIGHTENER if broken.purpose is Purpose.LIFT else begun(NAMES[broken.purpose.value])
    ways, parted = [], 0
    if plan.made.hands_needed:
        ways.append(say("{hands_needed} pairs of hands keep it", hands_needed=plan.made.hands_needed))
    sections = (broken.sections or SECTIONS_MOST) * zone.sections
    if broken.sections == 1:
        ways.append(say("begin it later, when the rest is done"))
    elif sections <= SECTIONS_MOST and broken.sections:
        ways.append(say("part it into {sections} sections, each rinsed in its turn", sections=sections))
        parted = sections
    else:
        ways.append(say("work less of it at a time"))
    is_apart = zone.rinsed_apart or zone.sections > 1
    if broken.sections == 1 and not is_apart:
        ways.append(say("rinse it at the chair, by itself"))
    return BrokenShown(
        words=say(
            "{what} on {zone} would stay on {by_min:.0f} min too long: {ways}.",
            what=what,
            zone=broken.zone,
            by_min=broken.by_min,
            ways=", or ".join(ways),
        ),
        zone_id=zone.pk,
        hands=plan.made.hands_needed or 0,
        sections=parted,
        may_be_apart=broken.sections == 1 and not is_apart,
    )


def _lanes(plan: HeadPlan, scale: float) -> tuple[Lane, ...]:
    rows: list[tuple[str, list[tuple[str, float, float, float]]]] = []
    for name, coats in plan.lanes.items():
        rows.append((name, [_stay(plan.made, name, index, each) for index, each in enumerate(coats)]))
    basins = [
        (AT_THE_HEAD[slot.kind], slot.start_min, slot.end_min, slot.end_min)
        for slot in plan.made.slots
        if slot.kind in (SlotKind.BASIN, SlotKind.DRY)
    ]
    if basins:
        rows.append((say("basin"), basins))
    return tuple(
        Lane(
            name=name,
            short=_short(name),
            y=f"{HEAD + LANE * row + 22:.0f}",
            bars=tuple(_bar(name, each, row, scale) for each in bars),
        )
        for row, (name, bars) in enumerate(rows)
    )


def _short(name: str) -> str:
    """A lane's name as it fits before it; of a section its number is what tells."""
    parts = name.parts if isinstance(name, Later) else {}
    zone, number = str(parts.get("name", name)), str(parts.get("number", ""))
    room = NAME_FITS - len(number) - bool(number)
    fits = zone if len(zone) <= room else f"{zone[: room - 1].rstrip()}…"
    return f"{fits} {number}".strip()


def _stay(made: Schedule, zone: str, index: int, each: CoatInPlan) -> tuple[str, float, float, float]:
    """A coat's words, its first hair on, when the last is on, and when it is rinsed or the next goes over it."""
    on = [slot for slot in made.slots if slot.kind is SlotKind.APPLY and slot.zones == (zone,)]
    own = [slot for slot in on if slot.coats == (index,)]
    start, applied = min(slot.start_min for slot in own), max(slot.end_min for slot in own)
    off = [
        slot.start_min
        for slot in made.slots
        if slot.kind is SlotKind.BASIN and (zone, index) in zip(slot.zones, slot.coats, strict=True)
    ]
    over = [slot.start_min for slot in on if slot.coats == (index + 1,)]
    return _words(each), start, applied, min([*off, *over], default=applied)


def _bar(zone: str, stay: tuple[str, float, float, float], row: int, scale: float) -> Bar:
    words, start, applied, end = stay
    width = (end - start) * scale
    return Bar(
        x=f"{start * scale:.1f}",
        hands=f"{(min(applied, end) - start) * scale:.1f}",
        width=f"{width:.1f}",
        y=f"{HEAD + LANE * row + 7:.0f}",
        words=words,
        minutes=say("{end:.0f} min", end=end - start),
        said=say("{zone}: {words} from minute {start:.0f} to {end:.0f}", zone=zone, words=words, start=start, end=end),
        is_wide=width > 90,
    )


def _words(each: CoatInPlan) -> str:
    return begun(NAMES[each.planned.purpose.value])


def _tick(made: Schedule) -> int:
    """Minutes between two marks: wider on a long visit."""
    return TICK_MIN if made.total_min <= 12 * TICK_MIN else 2 * TICK_MIN


def _clock(minutes: float) -> str:
    hours, rest = divmod(round(minutes), 60)
    return f"{hours} h {rest:02d}" if hours else say("{rest} min", rest=rest)


def _step(plan: HeadPlan, slot: Slot) -> StepRow:
    at = time_at(plan.begins_at, slot.start_min) or f"{slot.start_min:.0f}"
    where, minutes = listed(slot.zones), say("{end_min:.0f} min", end_min=slot.end_min - slot.start_min)
    if slot.kind is not SlotKind.APPLY:
        is_look = slot.kind is SlotKind.CHECK
        return StepRow(at=at, words=AT_THE_HEAD[slot.kind], where=where, minutes="" if is_look else minutes)
    zone, index = slot.zones[0], slot.coats[0]
    each = plan.lanes[zone][index]
    row = each.zone.zone
    is_later_section = zone != next(lane for lane, own in plan.lanes.items() if own[0].zone.zone == row)
    is_set_here = each.coat is not None and not each.coat.begun and not is_later_section
    joins = _joins(plan, each) if is_set_here else ()
    _, start, _, end = _stay(plan.made, zone, index, each)
    return StepRow(
        at=at,
        words=_words(each),
        where=where if each.coat else say("{where}, as its route proposes", where=where),
        minutes=minutes,
        zone=row.name,
        zone_id=row.pk,
        coat=each.coat if is_set_here else None,
        batches=batches_of(each.planned.purpose, each.planned.apply_min),
        apply_min=f"{each.planned.apply_min:.0f}",
        on_min=f"{end - start:.0f}",
        not_before=_not_before(plan, each),
        joins=joins,
        joined=next((words for _, words, is_chosen in joins if is_chosen), ""),
        earlier=_turned(plan, row.pk, -1) if index == 0 else "",
        later=_turned(plan, row.pk, 1) if index == 0 else "",
        sections=row.sections,
        rinsed_apart=row.rinsed_apart,
    )


def _not_before(plan: HeadPlan, each: CoatInPlan) -> str:
    minutes = each.coat.not_before_min if each.coat else None
    return "" if minutes is None else time_at(plan.begins_at, float(minutes)) or plain(minutes)


def _joins(plan: HeadPlan, mine: CoatInPlan) -> tuple[tuple[int, str, bool], ...]:
    """The coats of other zones that one may go on beside, to be rinsed with them."""
    every = [each for own in plan.coats.values() for each in own if each.coat]
    own = mine.coat
    if own is None or mine.zone.zone.lies_apart or any(each.coat and each.coat.joins_id == own.pk for each in every):
        return ()
    return tuple(
        (
            each.coat.pk,
            say("{words} on {name}", words=amid(_words(each)), name=each.zone.zone.name),
            each.coat.pk == own.joins_id,
        )
        for each in every
        if each.coat and each.zone.zone.pk != mine.zone.zone.pk
        if not each.zone.zone.lies_apart and each.coat.joins_id is None
    )


def _turned(plan: HeadPlan, row: int, by: int) -> str:
    """The zones' rows as they are taken up, with one moved; nothing where it is at that end already."""
    on = (slot for slot in plan.made.slots if slot.kind is SlotKind.APPLY and slot.coats == (0,))
    turns = list(dict.fromkeys(plan.lanes[slot.zones[0]][0].zone.zone.pk for slot in on))
    at = turns.index(row)
    if not 0 <= at + by < len(turns):
        return ""
    turns[at], turns[at + by] = turns[at + by], turns[at]
    return ",".join(str(each) for each in turns)
