"""How a zone's bowl was worked, as its clock noted it."""

import datetime
from dataclasses import dataclass, replace
from typing import Final

from django.db.models import Q, QuerySet

from engine.bowl.mix import FULL_TIME_DRY, MINUTES_LIMIT, Process
from studio.accounts.models import Person
from studio.accounts.prepared import Prepared
from studio.clocks.models import ZoneClock
from studio.head.models import Bowl
from studio.head.selectors import ZoneBench
from studio.visits.models import Zone


@dataclass(frozen=True, kw_only=True)
class Worked:
    """The clock of a bowl on a zone, if one ran. usual: how the bowl works at full time on dry hair."""

    clock: ZoneClock | None
    usual: Process = FULL_TIME_DRY

    @property
    def process(self) -> Process:
        """How the bowl was worked: as the clock has it once it was rinsed, else at full time on dry hair."""
        if self.clock is None or self.clock.rinsed_at is None:
            return self.usual
        return self.process_at(self.clock.rinsed_at)

    @property
    def is_on(self) -> bool:
        """Whether it is on the hair now."""
        return self.clock is not None and self.clock.rinsed_at is None

    def process_at(self, now: datetime.datetime) -> Process:
        """How the bowl was worked up to a moment, or to the rinse; without a clock at full time on dry hair."""
        if self.clock is None:
            return self.usual
        minutes = ((self.clock.rinsed_at or now) - self.clock.section_applied_at).total_seconds() / 60
        return replace(self.usual, minutes=min(max(minutes, 0.0), MINUTES_LIMIT), damp=self.clock.damp)


def worked_on(person: Person, zone: ZoneBench) -> Worked:
    """How the bowl that serves a zone was worked on it. One query."""
    clocks = clocks_of(person, zone.zone, zone.bowl)
    return Worked(clock=clocks[-1] if clocks else None, usual=zone.process)


def clocks_of(person: Person, zone: Zone, bowl: Bowl) -> list[ZoneClock]:
    """The clocks of a bowl on a zone, in order. One that names no bowl is of whatever stood in it then. One query."""
    return _CLOCKS(studio=person.studio_id, zone=zone.pk, bowl=bowl.pk)


def _of_bowl(studio: int, zone: int, bowl: int) -> QuerySet[ZoneClock]:
    unnamed = Q(bowl=None, batch=None, kind__in=ZoneClock.COLOURS) & ~Q(kind=ZoneClock.Kind.MASK)
    of_it = Q(bowl=bowl) | Q(batch__bowl=bowl) | unnamed
    clocks = ZoneClock.objects.of_studio(studio).filter(of_it, zone=zone)
    return clocks.select_related("batch").order_by("applied_at", "pk")


_CLOCKS: Final = Prepared(_of_bowl, studio=int, zone=int, bowl=int)
