"""Start a zone's clock, answer its calls, give it more time, rinse, or take a start back."""

import datetime
from decimal import Decimal

from django.db import transaction

from engine.service.lift import lift
from engine.service.timing import CLOCK_OF_DYE, TIMINGS, ClockKind
from studio.accounts.models import Person
from studio.bench.models import Serving
from studio.clocks.models import BATCHES_MOST, ZoneClock
from studio.pour.models import Batch
from studio.shelf.selectors import stocked_line
from studio.ui.numbers import within
from studio.ui.refusal import Refusal
from studio.visits.engine_adapter import canvas_of
from studio.visits.gates import Planned, asked_of, gates_of, strength_of
from studio.visits.models import Zone

PEROXIDE = frozenset({ClockKind.TONER, ClockKind.DEMI, ClockKind.PERMANENT})
NEEDS_BOWL = frozenset({ClockKind.DEMI, ClockKind.PERMANENT, ClockKind.DIRECT})


@transaction.atomic
def start_clock(
    person: Person,
    *,
    zone_id: int,
    kind: str,
    planned_min: Decimal,
    now: datetime.datetime,
    batches: int = 1,
    damp: bool = False,
    heat: bool = False,
) -> ZoneClock:
    """Start the clock of a zone at its application. The same start sent twice starts one clock.

    Raises Refusal clock_kind_unknown, clock_running when something else is on the zone, gate_shut, out_of_range;
    Zone.DoesNotExist for another studio's zone, or one that was removed.
    """
    if kind not in ZoneClock.Kind.values:
        raise Refusal("clock_kind_unknown")
    _check_minutes(kind, planned_min)
    within(Decimal(batches), "batches", 1, BATCHES_MOST)
    zone = Zone.objects.visible_to(person).select_for_update(of=("self",)).get(pk=zone_id, removed=False)
    running = zone.clocks.filter(rinsed_at=None).first()
    if running:
        if running.kind == kind:
            return running
        raise Refusal("clock_running", what=running.get_kind_display(), zone=zone.name)
    _check_gates(person, zone, ClockKind(kind))
    batch = Batch.objects.visible_to(person).filter(bowl__servings__zone=zone, mixed_at__isnull=False).last()
    return ZoneClock.objects.create(
        zone=zone,
        batch=batch if ClockKind(kind) in NEEDS_BOWL else None,
        kind=kind,
        planned_min=planned_min,
        batches=batches,
        damp=damp,
        heat=heat,
        applied_at=now,
        started_by=person,
    )


@transaction.atomic
def answer_call(person: Person, *, clock_id: int, to_min: Decimal) -> ZoneClock:
    """Say that the calls up to a minute were heard; an answer never goes back. Raises ZoneClock.DoesNotExist."""
    clock = _locked(person, clock_id)
    clock.answered_to_min = max(clock.answered_to_min, min(to_min, Decimal(9999)))
    clock.save(update_fields=["answered_to_min"])
    return clock


@transaction.atomic
def give_time(person: Person, *, clock_id: int, minutes: Decimal) -> ZoneClock:
    """More minutes, or fewer, but never more than the pack's most. Raises Refusal out_of_range, clock_stopped."""
    clock = _running(person, clock_id)
    planned = clock.planned_min + minutes
    _check_minutes(clock.kind, planned)
    clock.planned_min = planned
    clock.save(update_fields=["planned_min"])
    return clock


@transaction.atomic
def rinse(person: Person, *, clock_id: int, now: datetime.datetime) -> ZoneClock:
    """It is off the hair; said twice, the first moment stands. Raises ZoneClock.DoesNotExist."""
    clock = _locked(person, clock_id)
    if clock.rinsed_at is None:
        clock.rinsed_at = max(now, clock.applied_at)
        clock.save(update_fields=["rinsed_at"])
    return clock


@transaction.atomic
def forget_start(person: Person, *, clock_id: int) -> None:
    """Take back a clock that was started by mistake. Raises Refusal clock_stopped; ZoneClock.DoesNotExist."""
    _running(person, clock_id).delete()


def usual_clock(zone: Zone) -> ClockKind:
    """The clock that a zone's bowl asks for."""
    serving = Serving.objects.filter(zone=zone).select_related("bowl__line").first()
    dyes = stocked_line(serving.bowl.line).dyes.values() if serving else ()
    return next((CLOCK_OF_DYE[dye.kind] for dye in dyes if not dye.is_clear), ClockKind.DIRECT)


def _check_minutes(kind: str, planned_min: Decimal) -> None:
    within(planned_min, "minutes", 0.5, TIMINGS[ClockKind(kind)].pack_most_min, " min")


def _locked(person: Person, clock_id: int) -> ZoneClock:
    return ZoneClock.objects.visible_to(person).select_for_update(of=("self",)).get(pk=clock_id)


def _running(person: Person, clock_id: int) -> ZoneClock:
    clock = _locked(person, clock_id)
    if clock.rinsed_at is not None:
        raise Refusal("clock_stopped")
    return clock


def _check_gates(person: Person, zone: Zone, kind: ClockKind) -> None:
    """Raises Refusal gate_shut for the first stop that nobody has signed."""
    asked = asked_of(person, zone.visit)
    reading = zone.readings.first()
    lifts = None
    if kind is ClockKind.LIGHTENER and reading:
        canvas = canvas_of(reading)
        lifts = lift(
            canvas,
            min(canvas.level + 1.0, 11.0),
            strength=strength_of(asked, zone.part),
            on_scalp=asked.consult.on_scalp,
        )
    planned = Planned(lift=lifts, oxidative=kind in PEROXIDE, direct=kind is ClockKind.DIRECT, part=zone.part)
    shut = next((each for each in gates_of(asked, planned) if each.is_shut), None)
    if shut:
        raise Refusal("gate_shut", sentence=shut.gate.sentence)
