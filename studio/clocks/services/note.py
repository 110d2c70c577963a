"""Note what a check saw, that it stings, and moments of a clock that were noted wrongly."""

import datetime
from decimal import Decimal
from typing import Final

from django.db import transaction

from studio.accounts.models import Person
from studio.clocks.models import ClockCheck, ClockCorrection, ZoneClock
from studio.clocks.services.run import forget_lift, locked_clock, running_clock, tell_coat
from studio.clocks.steady import on_for
from studio.ui.refusal import Refusal
from studio.visits.models import Incident

MINUTE_MOST: Final = Decimal(9999)
BACK_MOST: Final = datetime.timedelta(hours=24)


@transaction.atomic
def note_check(person: Person, *, clock_id: int, depth: str, is_going: bool, now: datetime.datetime) -> ClockCheck:
    """Note what was seen, with its minute; the calls up to then are answered. Stretch or curl that goes ends the lift.

    depth: under, on or over what is wanted. Raises Refusal check_unknown, clock_stopped; ZoneClock.DoesNotExist.
    """
    clock = running_clock(person, clock_id)
    if depth and depth not in ClockCheck.Depth.values:
        raise Refusal("check_unknown")
    minute = _minute(clock, now, since_min=clock.section_begin_min)
    clock.answered_to_min = max(clock.answered_to_min, minute)
    clock.save(update_fields=["answered_to_min"])
    if is_going:
        _note(person, clock, Incident.Kind.GOING, now)
    return ClockCheck.objects.create(
        clock=clock, minute=minute, depth=depth, is_going=is_going, seen_by=person, seen_at=now
    )


@transaction.atomic
def it_stings(person: Person, *, clock_id: int, now: datetime.datetime) -> Incident:
    """It stings, itches or burns: the clock ends at once, and that is on record. Said twice, the first counts.

    Raises ZoneClock.DoesNotExist.
    """
    clock = locked_clock(person, clock_id)
    if clock.rinsed_at is None:
        clock.rinsed_at = clock.applied_at + on_for(clock, now)
        clock.save(update_fields=["rinsed_at"])
        tell_coat(clock)
    found = Incident.objects.filter(zone=clock.zone, kind=Incident.Kind.STUNG, noted_at__gte=clock.applied_at).first()
    return found or _note(person, clock, Incident.Kind.STUNG, now)


@transaction.atomic
def take_rinse_back(person: Person, *, clock_id: int) -> ZoneClock:
    """It is on the hair still: "rinsed" was a mistake. What it was stays on record.

    Raises Refusal clock_not_rinsed, clock_running when something else is on the zone by now; ZoneClock.DoesNotExist.
    """
    clock = locked_clock(person, clock_id)
    if clock.rinsed_at is None:
        raise Refusal("clock_not_rinsed")
    other = ZoneClock.objects.filter(zone=clock.zone, rinsed_at=None).first()
    if other:
        raise Refusal("clock_running", what=other.get_kind_display(), zone=clock.zone.name)
    _correct(person, clock, ClockCorrection.Moment.RINSED, None)
    if clock.kind == ZoneClock.Kind.LIGHTENER:
        forget_lift(clock)
    return clock


@transaction.atomic
def set_moment(
    person: Person, *, clock_id: int, moment: str, at: datetime.datetime, now: datetime.datetime
) -> ZoneClock:
    """Set right when something was put on or rinsed. What was noted first stays on record.

    Raises Refusal moment_unknown, clock_not_rinsed, moment_ahead, moment_crossed; ZoneClock.DoesNotExist.
    """
    clock = locked_clock(person, clock_id)
    if moment not in ClockCorrection.Moment.values:
        raise Refusal("moment_unknown")
    if not now - BACK_MOST <= at <= now:
        raise Refusal("moment_ahead", "at")
    rinsed = moment == ClockCorrection.Moment.RINSED
    if rinsed and clock.rinsed_at is None:
        raise Refusal("clock_not_rinsed")
    applied_at, rinsed_at = (clock.applied_at, at) if rinsed else (at, clock.rinsed_at)
    if rinsed_at is not None and rinsed_at < applied_at:
        raise Refusal("moment_crossed", "at")
    _correct(person, clock, moment, at)
    return clock


def _correct(person: Person, clock: ZoneClock, moment: str, at: datetime.datetime | None) -> None:
    ClockCorrection.objects.create(
        clock=clock, moment=moment, was=getattr(clock, moment), became=at, corrected_by=person
    )
    if moment == ClockCorrection.Moment.APPLIED and at is not None:
        later_s = (at - clock.applied_at).total_seconds()
        clock.boot_s = None if clock.boot_s is None else clock.boot_s + later_s
        clock.sections_on = [max(begun_min - later_s / 60, 0.0) for begun_min in clock.sections_on]
    setattr(clock, moment, at)
    clock.save(update_fields=[moment, "boot_s", "sections_on"])
    tell_coat(clock)


def _note(person: Person, clock: ZoneClock, kind: str, now: datetime.datetime) -> Incident:
    return Incident.objects.create(
        visit=clock.zone.visit,
        zone=clock.zone,
        kind=kind,
        what=clock.get_kind_display(),
        minute=_minute(clock, now),
        noted_by=person,
        noted_at=now,
    )


def _minute(clock: ZoneClock, now: datetime.datetime, *, since_min: float = 0.0) -> Decimal:
    """Minutes since application, to a tenth. since_min: when the section that is looked at was begun."""
    minutes = max(on_for(clock, now).total_seconds() / 60 - since_min, 0.0)
    return min(round(Decimal(minutes), 1), MINUTE_MOST)
