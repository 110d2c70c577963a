"""What the Clock page shows: a clock for each zone, mixed bowls, and the order in which to rinse."""

import datetime
from dataclasses import dataclass

from engine.service.timing import TIMINGS, ClockKind
from studio.accounts.models import Person
from studio.clocks.models import ZoneClock
from studio.clocks.selectors import BowlSeen, ClockSeen, done_clocks, mixed_bowls, running_clocks
from studio.clocks.services.run import usual_clock
from studio.ui.refusal import Refusal
from studio.ui.words import refusal_words
from studio.visits.models import Visit, Zone
from studio.visits.selectors import OpenZone


@dataclass(frozen=True, kw_only=True)
class ZoneTimed:
    """A zone with its running clock, or with what to start; order: which to rinse first, 0 while none runs."""

    zone: Zone
    running: ClockSeen | None
    order: int
    kind: str


@dataclass(frozen=True, kw_only=True)
class ClockPage:
    """The Clock page as its template takes it."""

    visit: Visit
    zone: Zone
    zones: tuple[ZoneTimed, ...]
    done: list[ZoneClock]
    bowls: list[BowlSeen]
    kinds: tuple[tuple[str, str, str], ...]
    now_ms: int
    error_words: str

    @property
    def is_calling(self) -> bool:
        """Whether any clock calls now."""
        return any(each.running and each.running.standing.called for each in self.zones)

    @property
    def is_alarm(self) -> bool:
        """Whether any clock is at its stop."""
        return any(each.running and each.running.standing.is_alarm for each in self.zones)

    @property
    def is_all_rinsed(self) -> bool:
        """Whether a colour has been on and nothing is on any more."""
        return self._is_still and any(each.kind in ZoneClock.COLOURS for each in self.done)

    @property
    def is_lifted(self) -> bool:
        """Whether lightener was the last thing on: the hair is to be read again."""
        return self._is_still and self.done[0].kind == ZoneClock.Kind.LIGHTENER

    @property
    def _is_still(self) -> bool:
        return bool(self.done) and not any(each.running for each in self.zones)


def clock_page(
    person: Person, opened: OpenZone, *, now: datetime.datetime, refusal: Refusal | None = None
) -> ClockPage:
    """Gather the Clock page."""
    running = running_clocks(person, [opened.visit.pk], now)
    by_zone = {each.clock.zone_id: (place, each) for place, each in enumerate(running, start=1)}
    removed = [each.clock.zone for each in running if each.clock.zone.removed]  # what is on the hair still counts
    return ClockPage(
        visit=opened.visit,
        zone=opened.zone,
        zones=tuple(_timed(zone, by_zone.get(zone.pk)) for zone in (*opened.zones, *removed)),
        done=done_clocks(person, opened.visit.pk),
        bowls=mixed_bowls(person, [opened.visit.pk], now),
        kinds=tuple(
            (kind, label, f"{TIMINGS[ClockKind(kind)].planned_min:g}") for kind, label in ZoneClock.Kind.choices
        ),
        now_ms=int(now.timestamp() * 1000),
        error_words=refusal_words(refusal) if refusal else "",
    )


def _timed(zone: Zone, running: tuple[int, ClockSeen] | None) -> ZoneTimed:
    kind = ClockKind(running[1].clock.kind) if running else usual_clock(zone)
    return ZoneTimed(
        zone=zone,
        running=running[1] if running else None,
        order=running[0] if running else 0,
        kind=kind.value,
    )
