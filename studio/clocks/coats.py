"""What is put on a zone when its clock starts, described for the gates."""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from decimal import Decimal
from typing import Final

from engine.dye.kind import Kind
from engine.service.house import DepositOn
from engine.service.lift import USUAL_VOL, clock_minutes
from engine.service.purposes import PLAIN
from engine.service.timing import CLOCK_OF_DYE, SILENT, ClockKind, Pack, most_min, usual_min
from engine.service.work import Work, WorkKind
from studio.accounts.models import Person
from studio.clocks.models import ZoneClock
from studio.head.coats import zone_coat
from studio.head.models import Bowl
from studio.head.models import Coat as CoatRow
from studio.head.selectors import Bench, ZoneBench, bench_of
from studio.visits.coats import How, lift_coat, plain_coat
from studio.visits.gates import Asked, GateCoat, heated, place_of
from studio.visits.models import Reading, Zone
from studio.visits.selectors import OpenZone

NEEDS_BOWL: Final = frozenset({ClockKind.DEMI, ClockKind.PERMANENT, ClockKind.DIRECT, ClockKind.TONER})
KIND_OF_PURPOSE: Final[Mapping[str, ClockKind]] = {
    CoatRow.Purpose.LIFT: ClockKind.LIGHTENER,
    CoatRow.Purpose.FILL: ClockKind.FILL,
    CoatRow.Purpose.MASK: ClockKind.MASK,
    CoatRow.Purpose.SEAL: ClockKind.SEAL,
    CoatRow.Purpose.REMOVE: ClockKind.REMOVER,
    CoatRow.Purpose.EQUALISE: ClockKind.EQUALISER,
}
PLAIN_KINDS: Final = frozenset(KIND_OF_PURPOSE[purpose] for purpose in PLAIN)
LIFT_LEAST: Final = Decimal(1)  # of a level, where nobody has said how far
LEVEL_MOST: Final = Decimal(11)
# Strength of the developer where the kind of a clock is not that of the bowl: what is usual for it.
USUAL_VOLS: Final[Mapping[ClockKind, float]] = {
    ClockKind.TONER: 10.0,
    ClockKind.DEMI: 10.0,
    ClockKind.PERMANENT: 20.0,
    ClockKind.FILL: 10.0,
}


@dataclass(frozen=True, kw_only=True)
class Start:
    """What goes on a zone and how, for so many minutes; None for as long as is due.

    vol, to_level: of lightener; None for what the route has planned, or the least.
    """

    kind: ClockKind
    planned_min: Decimal | None = None
    batches: int = 1
    damp: bool = False
    heat: bool = False
    vol: Decimal | None = None
    to_level: Decimal | None = None
    in_metal: bool = False
    unguarded: bool = False


def usual_start(asked: Asked, kind: ClockKind, *, planned_min: Decimal | None = None) -> Start:
    """A start as the house does it: on damp or dry hair, with or without heat."""
    damp = DepositOn(asked.studio.deposit_on).is_damp(kind)
    return Start(kind=kind, planned_min=planned_min, damp=damp, heat=heated(asked, WorkKind(kind.value)))


@dataclass(frozen=True, kw_only=True)
class Head:
    """A visit's zones with the bench over them, if there is one."""

    opened: OpenZone
    bench: Bench | None


def head_of(person: Person, opened: OpenZone) -> Head:
    """A visit's head for its clocks; one that was not read yet has no bench. Two queries."""
    try:
        return Head(opened=opened, bench=bench_of(person, opened))
    except (Reading.DoesNotExist, Bowl.DoesNotExist):
        return Head(opened=opened, bench=None)


def rows_of(head: Head, zone: Zone) -> list[CoatRow]:
    """All coats of a zone in their order; none before it has a bowl."""
    return [coat for coat in head.bench.rows if coat.zone_id == zone.pk] if head.bench else []


def kind_of(coat: CoatRow) -> ClockKind | None:
    """The clock of a coat; None for what is not timed here."""
    if coat.purpose in KIND_OF_PURPOSE:
        return KIND_OF_PURPOSE[coat.purpose]
    if coat.bowl is None:
        return None
    kind = CLOCK_OF_DYE[Kind(coat.bowl.line.kind)]
    turns = coat.purpose in (CoatRow.Purpose.PRE_TONE, CoatRow.Purpose.GLAZE)
    return ClockKind.TONER if turns and kind is ClockKind.DEMI else kind


def due_coat(head: Head, zone: Zone) -> CoatRow | None:
    """The next coat of a zone that has a clock: the first behind what is on already; what was passed over stays so."""
    rows = rows_of(head, zone)
    worked = max((place for place, coat in enumerate(rows) if coat.begun), default=-1)
    return next((coat for coat in rows[worked + 1 :] if kind_of(coat)), None)


def is_waiting(head: Head, zone: Zone) -> bool:
    """Whether a zone has a coat to come that something is mixed for, or that needs nothing mixed."""
    due = due_coat(head, zone)
    if due is None or head.bench is None:
        return False
    return due.bowl is None or any(each.coat.pk == due.pk and each.pours for each in head.bench.coats)


def coat_for(head: Head, zone: Zone, kind: ClockKind) -> ZoneBench | None:
    """The coat that a clock of a kind puts on a zone: the first of that kind that is not on yet, else the last of it.

    What colours by another name than its bowl is for goes for the next that colours, as a toner does for a demi bowl.
    """
    own = [each for each in head.bench.coats if each.zone.pk == zone.pk] if head.bench else []
    alike = [each for each in own if kind_of(each.coat) is kind]
    if not alike and kind in NEEDS_BOWL:
        alike = [each for each in own if each.colours]
    return next((each for each in alike if not each.coat.begun), alike[-1] if alike else None)


def plain_of(head: Head, zone: Zone, kind: ClockKind) -> CoatRow | None:
    """The coat of a zone that nothing is mixed for and that a clock of a kind puts on: the first that is not on yet."""
    return next((each for each in rows_of(head, zone) if not each.begun and kind_of(each) is kind), None)


def clock_most_min(kind: ClockKind, coat: ZoneBench | None) -> float:
    """The most minutes that packs allow a clock, by what its coat is mixed from."""
    return most_min(kind, *_mixed_from(coat))


def _mixed_from(coat: ZoneBench | None) -> tuple[Kind | None, Pack]:
    """What a coat is mixed from, and what the pack of that says."""
    if coat is None:
        return None, SILENT
    return None if coat.coat.lifts else Kind(coat.bowl.line.kind), coat.bowl.line.pack


def planned_lift(head: Head, zone: Zone) -> ZoneBench | None:
    """The coat of lightener that a zone has, if any."""
    return coat_for(head, zone, ClockKind.LIGHTENER)


def planned_level(head: Head, zone: Zone) -> Decimal:
    """The level at which a zone's lift is to stop: its coat's, else the least above what was read."""
    coat = planned_lift(head, zone)
    if coat and coat.coat.to_level is not None:
        return coat.coat.to_level
    reading = head.opened.by_zone.get(zone.pk)
    return min((reading.level if reading else Decimal(9)) + LIFT_LEAST, LEVEL_MOST)


def planned_vol(head: Head, zone: Zone) -> Decimal:
    """The strength of developer for a zone's lift: its bowl's, else the usual one."""
    coat = planned_lift(head, zone)
    return coat.bowl.vol if coat else Decimal(str(USUAL_VOL))


def usual_clock(head: Head, zone: Zone) -> ClockKind:
    """The clock that a zone's last bowl of colour asks for."""
    found = [kind for coat in rows_of(head, zone) if not coat.lifts and coat.bowl and (kind := kind_of(coat))]
    return found[-1] if found else ClockKind.DIRECT


def due_kind(head: Head, zone: Zone) -> ClockKind:
    """What goes on a zone next: the first of its coats that is not on yet, else what it is coloured from."""
    due = due_coat(head, zone)
    return (kind_of(due) if due else None) or usual_clock(head, zone)


def due_zones(person: Person, head: Head) -> dict[ClockKind, tuple[Zone, ...]]:
    """The zones that have a coat to come and nothing on, by its kind; none that is left alone. One query."""
    on = set(
        ZoneClock.objects.visible_to(person)
        .filter(zone__visit=head.opened.visit, rinsed_at=None)
        .values_list("zone", flat=True)
    )
    found: dict[ClockKind, list[Zone]] = {}
    for zone in head.opened.zones:
        due = None if zone.pk in on or zone.left_alone else due_coat(head, zone)
        kind = kind_of(due) if due else None
        if kind is not None:
            found.setdefault(kind, []).append(zone)
    return {kind: tuple(zones) for kind, zones in found.items()}


def due_minutes(head: Head, zone: Zone, kind: ClockKind) -> Decimal:
    """How long it is left on: as its coat has it, a lift as long as it may on this hair, else as packs usually ask."""
    coat = coat_for(head, zone, kind)
    if coat and coat.coat.minutes is not None and kind_of(coat.coat) is kind:
        return min(coat.coat.minutes, Decimal(str(clock_most_min(kind, coat))))
    plain = plain_of(head, zone, kind)
    if plain and plain.minutes is not None:
        return min(plain.minutes, Decimal(str(clock_most_min(kind, None))))
    if coat and coat.coat.to_level is not None and coat.coat.to_level > coat.reading.level:
        levels = float(coat.coat.to_level - coat.reading.level)
        lifts_for = clock_minutes(levels, float(coat.bowl.vol), float(coat.reading.porosity))
        return Decimal(str(min(lifts_for, clock_most_min(kind, coat))))
    return Decimal(str(usual_min(kind, *_mixed_from(coat))))


def minutes_of(start: Start, head: Head, zone: Zone) -> Decimal:
    """How long a start leaves it on a zone."""
    return due_minutes(head, zone, start.kind) if start.planned_min is None else start.planned_min


def start_coat(
    asked: Asked, head: Head, zone: Zone, start: Start, *, beneath: frozenset[WorkKind] = frozenset()
) -> GateCoat:
    """The coat that a start puts on a zone. beneath: what is on it already."""
    served = coat_for(head, zone, start.kind)
    how = How(
        heat=start.heat,
        in_metal=start.in_metal,
        unguarded=start.unguarded,
        beneath=beneath,
        minutes=float(minutes_of(start, head, zone)),
        pack_most_min=clock_most_min(start.kind, served),
    )
    opened, reading = head.opened, head.opened.by_zone.get(zone.pk)
    if start.kind is ClockKind.LIGHTENER:
        to_level, vol = start.to_level or planned_level(head, zone), start.vol or planned_vol(head, zone)
        return lift_coat(asked, zone, opened.by_zone, opened.zones, to_level=float(to_level), vol=float(vol), how=how)
    if served is None and start.kind is ClockKind.FILL:
        served = coat_for(head, zone, usual_clock(head, zone))
    if start.kind in PLAIN_KINDS or (start.kind is ClockKind.MASK and served is None):
        coat = plain_of(head, zone, start.kind)
        peroxide_vol = float(coat.own_vol) if coat and coat.own_vol else 0.0
        return plain_coat(WorkKind(start.kind.value), zone, reading, how, vol=peroxide_vol)
    if head.bench and served and start.kind is ClockKind.FILL:
        return zone_coat(asked, head.bench, served, replace(how, kind=WorkKind.FILL))
    if head.bench and served and _is_of(start.kind, served.bowl.line.kind):
        return zone_coat(asked, head.bench, served, how)
    work = Work(
        kind=WorkKind(start.kind.value),
        place=place_of(zone, reading, beneath=beneath),
        vol=USUAL_VOLS.get(start.kind, 0.0),
        heat=how.heat,
        has_metal_bowl=how.in_metal,
        minutes=how.minutes,
        pack_most_min=how.pack_most_min,
    )
    return GateCoat(zones=(zone,), works=(work,))


def _is_of(kind: ClockKind, line_kind: str) -> bool:
    """Whether a clock's kind is what a line's bowl is put on for."""
    usual = next(clock for dye, clock in CLOCK_OF_DYE.items() if dye.value == line_kind)
    return kind is usual or (kind is ClockKind.TONER and usual is ClockKind.DEMI)
