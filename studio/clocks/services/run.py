"""Start a zone's clock, answer its calls, give it more time, rinse, by sections too, or take a start back."""

import datetime
from decimal import Decimal
from typing import Final

from django.db import transaction

from engine.service.timing import ClockKind, most_min
from engine.service.work import VOL_MOST, WorkKind
from studio.accounts.models import Person
from studio.clients.models import PastWork
from studio.clocks.coats import (
    Start,
    clock_most_min,
    coat_for,
    due_zones,
    head_of,
    minutes_of,
    plain_of,
    planned_level,
    planned_vol,
    start_coat,
    usual_start,
)
from studio.clocks.models import BATCHES_MOST, ZoneClock
from studio.clocks.steady import boot_id, on_for, steady_at
from studio.head.models import Coat
from studio.pour.models import Batch
from studio.ui.numbers import within
from studio.ui.refusal import Refusal
from studio.visits.gates import asked_of, refuse_shut
from studio.visits.models import Zone
from studio.visits.selectors import open_zone

TIMED_HERE: Final = "timed here"  # what the note of a lift begins with, by which it is found again: in no language
WORKED_MOST_MIN: Final = Decimal(9999)


@transaction.atomic
def start_clock(person: Person, *, zone_id: int, start: Start, now: datetime.datetime) -> ZoneClock:
    """Start the clock of a zone at its application. The same start sent twice starts one clock.

    Raises Refusal gate_shut for a stop of this coat that nobody has signed, clock_running when something else is on the
    zone, out_of_range; Zone.DoesNotExist for another studio's zone, or one that was removed.
    """
    kind = start.kind
    check_start(start)
    zone = Zone.objects.visible_to(person).select_for_update(of=("self",)).get(pk=zone_id, removed=False)
    running = zone.clocks.filter(rinsed_at=None).first()
    if running and running.kind == kind:
        return running
    head, asked = head_of(person, open_zone(person, zone.visit_id, zone_id)), asked_of(person, zone.visit, now)
    beneath = frozenset({WorkKind(running.kind)}) if running else frozenset()
    served = coat_for(head, zone, kind)
    planned_min = minutes_of(start, head, zone)
    _check_minutes(planned_min, clock_most_min(kind, served))
    refuse_shut(asked, start_coat(asked, head, zone, start, beneath=beneath))
    if running:
        raise Refusal("clock_running", what=running.get_kind_display(), zone=zone.name)
    lifts = kind is ClockKind.LIGHTENER
    plain = plain_of(head, zone, kind)
    batches = Batch.objects.visible_to(person).filter(bowl=served.bowl if served else None, mixed_at__isnull=False)
    batch = batches.order_by("pk").last()
    coat = served.coat if served else plain
    clock = ZoneClock.objects.create(
        zone=zone,
        coat=coat,
        batch=batch,
        bowl=served.bowl if served else None,
        kind=kind,
        planned_min=planned_min,
        batches=start.batches,
        sections=zone.sections,
        damp=start.damp,
        heat=start.heat,
        vol=(start.vol or planned_vol(head, zone)) if lifts else None,
        to_level=(start.to_level or planned_level(head, zone)) if lifts else None,
        in_metal=start.in_metal,
        unguarded=start.unguarded,
        applied_at=now,
        boot_id=boot_id(),
        boot_s=steady_at(now),
        started_by=person,
    )
    if lifts and coat is not None and coat.to_level != clock.to_level:
        Coat.objects.filter(pk=coat.pk).update(to_level=clock.to_level)
    tell_coat(clock)
    return clock


@transaction.atomic
def start_all(person: Person, *, visit_id: int, kind: str, now: datetime.datetime) -> list[ZoneClock]:
    """Start the clock of every zone that is due for one kind of work, each for as long as its coat takes.

    All or none: raises Refusal gate_shut for the first stop that nobody has signed, nothing_to_start; Zone.DoesNotExist
    for another studio's visit.
    """
    opened = open_zone(person, visit_id)
    head, asked = head_of(person, opened), asked_of(person, opened.visit, now)
    due = due_zones(person, head).get(ClockKind(kind), ()) if kind in set(ClockKind) else ()
    if not due:
        raise Refusal("nothing_to_start")
    start = usual_start(asked, ClockKind(kind))
    return [start_clock(person, zone_id=zone.pk, start=start, now=now) for zone in due]


@transaction.atomic
def rinse_all(person: Person, *, visit_id: int, now: datetime.datetime) -> list[ZoneClock]:
    """Everything is off the head. Raises Refusal clock_stopped when nothing was on."""
    running = ZoneClock.objects.visible_to(person).filter(zone__visit=visit_id, rinsed_at=None)
    ids = list(running.order_by("pk").values_list("pk", flat=True))
    if not ids:
        raise Refusal("clock_stopped")
    return [rinse(person, clock_id=pk, now=now) for pk in ids]


def note_lift(clock: ZoneClock) -> None:
    """A lift that is off is part of the client's history, once for a part of the head on its day."""
    client, visit = clock.zone.visit.client, clock.zone.visit
    lift = {"work": PastWork.Kind.LIFT, "part": clock.zone.part, "done_on": visit.day}
    if not client.past.filter(**lift).exists():
        client.past.create(
            **lift,
            note=TIMED_HERE if clock.to_level is None else f"{TIMED_HERE}, to level {float(clock.to_level):g}",
        )


def forget_lift(clock: ZoneClock) -> None:
    """A lift that is on still, after all, is no history yet."""
    others = ZoneClock.objects.filter(zone__visit=clock.zone.visit_id, zone__part=clock.zone.part, kind=clock.kind)
    if not others.filter(rinsed_at__isnull=False).exclude(pk=clock.pk).exists():
        past = clock.zone.visit.client.past.filter(work=PastWork.Kind.LIFT, note__startswith=TIMED_HERE)
        past.filter(part=clock.zone.part, done_on=clock.zone.visit.day).delete()


def tell_coat(clock: ZoneClock, *, forgotten: bool = False) -> None:
    """Tell a clock's coat whether it has been put on, and for how long once it is off, so that the next meets it so."""
    if clock.coat_id is None:
        return
    others = ZoneClock.objects.filter(coat=clock.coat_id).exclude(pk=clock.pk).order_by("applied_at", "pk")
    told = list(others) if forgotten else [*others, clock]
    off = [each for each in told if each.rinsed_at is not None]
    on_min = sum((each.rinsed_at - each.section_applied_at).total_seconds() for each in off if each.rinsed_at) / 60
    all_off = bool(told) and len(off) == len(told)
    Coat.objects.filter(pk=clock.coat_id).update(
        begun=bool(told),
        worked_min=min(round(Decimal(on_min), 1), WORKED_MOST_MIN) if all_off else None,
        damp=all_off and told[-1].damp,
    )


@transaction.atomic
def answer_call(person: Person, *, clock_id: int, to_min: Decimal) -> ZoneClock:
    """Say that the calls up to a minute were heard; an answer never goes back. Raises ZoneClock.DoesNotExist."""
    clock = locked_clock(person, clock_id)
    clock.answered_to_min = max(clock.answered_to_min, min(to_min, Decimal(9999)))
    clock.save(update_fields=["answered_to_min"])
    return clock


@transaction.atomic
def give_time(person: Person, *, clock_id: int, minutes: Decimal) -> ZoneClock:
    """More minutes, or fewer, but never more than the pack's most. Raises Refusal out_of_range, clock_stopped."""
    clock = running_clock(person, clock_id)
    planned = clock.planned_min + minutes
    _check_minutes(planned, most_min(ClockKind(clock.kind), clock.dye, clock.pack))
    clock.planned_min = planned
    clock.save(update_fields=["planned_min"])
    return clock


@transaction.atomic
def rinse(person: Person, *, clock_id: int, now: datetime.datetime) -> ZoneClock:
    """It is off the hair; said twice, the first moment stands. Raises ZoneClock.DoesNotExist."""
    clock = locked_clock(person, clock_id)
    if clock.rinsed_at is None:
        clock.rinsed_at = clock.applied_at + on_for(clock, now)
        clock.save(update_fields=["rinsed_at"])
        tell_coat(clock)
        if clock.kind == ClockKind.LIGHTENER:
            note_lift(clock)
    return clock


@transaction.atomic
def begin_section(person: Person, *, clock_id: int, now: datetime.datetime) -> ZoneClock:
    """The next section is put on. Raises Refusal sections_all_on, clock_stopped; ZoneClock.DoesNotExist."""
    clock = running_clock(person, clock_id)
    if len(clock.sections_on) + 1 >= clock.sections:
        raise Refusal("sections_all_on")
    clock.sections_on = [*clock.sections_on, round(on_for(clock, now).total_seconds() / 60, 1)]
    clock.save(update_fields=["sections_on"])
    return clock


@transaction.atomic
def rinse_section(person: Person, *, clock_id: int) -> ZoneClock:
    """The section that was first on is off; the clock counts for the next, whose calls are all to come.

    Raises Refusal section_last, clock_stopped; ZoneClock.DoesNotExist.
    """
    clock = running_clock(person, clock_id)
    if clock.sections_off + 1 >= clock.sections:
        raise Refusal("section_last")
    before = clock.section_begin_min
    clock.sections_off += 1
    if clock.section_begin_min > before:
        clock.answered_to_min = Decimal(-1)
    clock.save(update_fields=["sections_off", "answered_to_min"])
    return clock


@transaction.atomic
def forget_start(person: Person, *, clock_id: int) -> None:
    """Take back a clock that was started by mistake. Raises Refusal clock_stopped; ZoneClock.DoesNotExist."""
    clock = running_clock(person, clock_id)
    tell_coat(clock, forgotten=True)
    clock.delete()


def check_start(start: Start) -> None:
    """Raises Refusal out_of_range for minutes, batches, strength or level that can't be."""
    within(Decimal(start.batches), "batches", 1, BATCHES_MOST)
    if start.vol is not None:
        within(start.vol, "vol", 1, VOL_MOST, " vol")
    if start.to_level is not None:
        within(start.to_level, "to_level", 1, 11)


def _check_minutes(planned_min: Decimal, most: float) -> None:
    within(planned_min, "minutes", 0.5, most, " min")


def locked_clock(person: Person, clock_id: int) -> ZoneClock:
    """A clock, locked until the transaction ends. Raises ZoneClock.DoesNotExist for another studio's."""
    return ZoneClock.objects.visible_to(person).select_for_update(of=("self",)).get(pk=clock_id)


def running_clock(person: Person, clock_id: int) -> ZoneClock:
    """A clock that runs, locked. Raises Refusal clock_stopped; ZoneClock.DoesNotExist."""
    clock = locked_clock(person, clock_id)
    if clock.rinsed_at is not None:
        raise Refusal("clock_stopped")
    return clock
