"""What the Clock page shows: a clock for each zone, mixed bowls, and the order in which to rinse."""

import datetime
from dataclasses import dataclass, replace
from decimal import Decimal
from typing import Final
from urllib.parse import urlencode

from engine.bowl.cautions import Severity
from engine.language import decimals
from engine.service.timing import ClockKind
from engine.service.work import WorkKind
from studio.accounts.models import Person
from studio.clocks.coats import (
    Head,
    Start,
    due_kind,
    due_minutes,
    due_zones,
    head_of,
    is_waiting,
    planned_level,
    planned_vol,
    start_coat,
    usual_start,
)
from studio.clocks.models import ZoneClock
from studio.clocks.seen import BowlSeen, ClockSeen
from studio.clocks.selectors import done_clocks, mixed_bowls, running_clocks
from studio.ui.refusal import Refusal
from studio.ui.words import refusal_words
from studio.visits.gates import Asked, GateSeen, asked_of, check
from studio.visits.models import Incident, Visit, Zone
from studio.visits.selectors import OpenZone

WHILE_ON: Final = frozenset({"past_pack_time", "going"})  # gates that say to take something off


@dataclass(frozen=True, kw_only=True)
class ZoneTimed:
    """A zone with its running clock, or with what to start; order: which to rinse first, 0 while none runs.

    start: what the form puts on, as it was tried or as it is usual; gates: those that it raises, notes left out; extra:
    the same as fields of a form; minutes: those that were tried, empty for as long as is due. kinds: what may be put
    on, its words, and the minutes that it is due.
    """

    zone: Zone
    running: ClockSeen | None
    order: int
    start: Start
    gates: list[GateSeen]
    extra: tuple[tuple[str, str], ...]
    minutes: str
    vol: str
    to_level: str
    kinds: tuple[tuple[str, str, str], ...]

    @property
    def stop(self) -> GateSeen | None:
        """The gate that keeps it from being started as things stand."""
        return next((seen for seen in self.gates if seen.is_shut), None)

    @property
    def lift_min(self) -> str:
        """How long a lift is on, as the form shows it."""
        return next(minutes for kind, _, minutes in self.kinds if kind == ClockKind.LIGHTENER)

    @property
    def kind(self) -> str:
        """The kind that the form proposes."""
        return self.start.kind.value


@dataclass(frozen=True, kw_only=True)
class ClockPage:
    """The Clock page as its template takes it.

    is_read: whether the zone that was rinsed last has been read since. waits: whether a coat is to come on any zone.
    is_tried: whether the form of the zone in hand stands as it was tried, and not as is usual.
    """

    visit: Visit
    zone: Zone
    zones: tuple[ZoneTimed, ...]
    done: list[ZoneClock]
    bowls: list[BowlSeen]
    stung: list[Incident]
    now_ms: int
    error_words: str
    is_read: bool
    waits: bool
    together: tuple[tuple[str, str, int], ...]
    is_tried: bool

    @property
    def query(self) -> str:
        """How its address asks for the page again: what was tried stays until it is on."""
        timed = next((each for each in self.zones if each.zone.pk == self.zone.pk), None)
        tried = timed.extra if timed and self.is_tried and not timed.running else ()
        return urlencode([("zone", self.zone.pk), *tried])

    @property
    def running(self) -> int:
        """How many clocks run."""
        return sum(each.running is not None for each in self.zones)

    @property
    def is_calling(self) -> bool:
        """Whether any clock calls now."""
        return any(each.running and each.running.is_calling for each in self.zones)

    @property
    def is_alarm(self) -> bool:
        """Whether any clock is at its stop."""
        return any(each.running and each.running.is_alarm for each in self.zones)

    @property
    def is_all_rinsed(self) -> bool:
        """Whether a colour has been on and nothing is on any more."""
        return self._is_still and any(each.kind in ZoneClock.COLOURS for each in self.done)

    @property
    def judges_next(self) -> bool:
        """Whether the result is what comes next: all is rinsed, and no coat is to come."""
        return self.is_all_rinsed and not self.waits

    @property
    def starts_next(self) -> bool:
        """Whether the next step is to put something on: nothing calls, and nothing is to be read or judged."""
        return not (self.is_calling or self.is_lifted or self.judges_next)

    @property
    def is_lifted(self) -> bool:
        """Whether lightener was the last thing on, and the hair is to be read again."""
        return self._is_still and self.done[0].kind == ZoneClock.Kind.LIGHTENER and not self.is_read

    @property
    def _is_still(self) -> bool:
        return bool(self.done) and not any(each.running for each in self.zones)


def clock_page(
    person: Person,
    opened: OpenZone,
    *,
    now: datetime.datetime,
    refusal: Refusal | None = None,
    tried: Start | None = None,
    ticked_for: str = "",
) -> ClockPage:
    """Gather the Clock page. tried: what was tried to be put on the zone in hand, whose gates are shown.

    ticked_for: the kind for which damp and heat were ticked; of another one they are as the house does it.
    """
    running, done = running_clocks(person, [opened.visit.pk], now), done_clocks(person, opened.visit.pk)
    by_zone = {each.clock.zone_id: (place, each) for place, each in enumerate(running, start=1)}
    removed = [each.clock.zone for each in running if each.clock.zone.removed]  # what is on the hair still counts
    asked, head = asked_of(person, opened.visit, now), head_of(person, opened)
    if tried and ticked_for and ticked_for != tried.kind:
        usual = usual_start(asked, tried.kind)
        tried = replace(tried, damp=usual.damp, heat=usual.heat)
    return ClockPage(
        visit=opened.visit,
        zone=opened.zone,
        zones=tuple(
            _timed(
                asked,
                head,
                zone,
                by_zone.get(zone.pk),
                tried if zone.pk == opened.zone.pk else None,
            )
            for zone in (*opened.zones, *removed)
            if zone.pk in by_zone or not zone.left_alone
        ),
        done=done,
        bowls=mixed_bowls(person, [opened.visit.pk], now),
        stung=[each for each in asked.incidents if each.kind == Incident.Kind.STUNG],
        now_ms=int(now.timestamp() * 1000),
        together=tuple(
            (kind.value, ZoneClock.Kind(kind).label, len(zones))
            for kind, zones in due_zones(person, head).items()
            if len(zones) > 1
        ),
        error_words=refusal_words(refusal) if refusal else "",
        is_tried=tried is not None,
        is_read=bool(done) and _is_read(opened, done[0]),
        waits=any(is_waiting(head, zone) for zone in opened.zones if zone.pk not in by_zone and not zone.left_alone),
    )


def _is_read(opened: OpenZone, clock: ZoneClock) -> bool:
    """Whether a zone was read as having on what has been rinsed from it, or as lifted hair since then."""
    reading = opened.by_zone.get(clock.zone_id)
    if reading is None or clock.rinsed_at is None:
        return False
    if clock.coat is not None:
        return reading.after_coats > clock.coat.order
    return reading.after_lift and reading.read_at > clock.rinsed_at


def _timed(
    asked: Asked,
    head: Head,
    zone: Zone,
    running: tuple[int, ClockSeen] | None,
    tried: Start | None,
) -> ZoneTimed:
    kind = ClockKind(running[1].clock.kind) if running else due_kind(head, zone)
    start = tried or usual_start(asked, kind, planned_min=due_minutes(head, zone, kind))
    return ZoneTimed(
        zone=zone,
        running=running[1] if running else None,
        order=running[0] if running else 0,
        start=start,
        gates=_gates(asked, head, zone, start, running[1] if running else None, is_tried=tried is not None),
        extra=_fields(start),
        minutes="" if tried is None else _asked_minutes(tried, due_minutes(head, zone, tried.kind)),
        vol=decimals(f"{start.vol or planned_vol(head, zone):g}"),
        to_level=decimals(f"{start.to_level or planned_level(head, zone):g}"),
        kinds=tuple(
            (kind, label, decimals(f"{float(due_minutes(head, zone, ClockKind(kind))):g}"))
            for kind, label in ZoneClock.Kind.choices
        ),
    )


def _gates(
    asked: Asked, head: Head, zone: Zone, start: Start, running: ClockSeen | None, *, is_tried: bool
) -> list[GateSeen]:
    """The gates of what is to be put on, or of what is on: past the pack's most it has to come off."""
    beneath = frozenset({WorkKind(running.clock.kind)}) if running and is_tried else frozenset()
    if running and not is_tried:
        start = replace(start, planned_min=Decimal(str(round(running.minutes, 1))))
    found = check(asked, start_coat(asked, head, zone, start, beneath=beneath))
    if running and not is_tried:
        return [seen for seen in found if seen.gate.code in WHILE_ON]
    return [seen for seen in found if seen.gate.severity is not Severity.NOTE]


def _asked_minutes(tried: Start, due: Decimal) -> str:
    """The minutes as they were typed, empty where they are what is due."""
    return "" if tried.planned_min in (None, due) else decimals(f"{tried.planned_min:g}")


def _fields(start: Start) -> tuple[tuple[str, str], ...]:
    """A start as a form's fields, to be tried again after its gates were answered."""
    numbers = {"vol": start.vol, "to_level": start.to_level, "minutes": start.planned_min}
    ticked = {"damp": start.damp, "heat": start.heat, "in_metal": start.in_metal, "guard_asked": start.unguarded}
    return (
        ("kind", start.kind.value),
        *([("batches", str(start.batches))] if start.batches > 1 else []),
        *((name, f"{number:g}") for name, number in numbers.items() if number is not None),
        *((name, "1") for name, is_on in ticked.items() if is_on),
    )
