"""What a route puts on a zone, described for the gates."""

from engine.service.lift import Lift
from engine.service.work import WorkKind
from studio.accounts.models import Person
from studio.clocks.models import ZoneClock
from studio.head.coats import bowl_coat
from studio.head.selectors import Bench, ZoneBench
from studio.visits.coats import How, lift_coat
from studio.visits.gates import Asked, GateCoat


def route_coats(
    asked: Asked, bench: Bench, zone: ZoneBench, lift: Lift | None, beneath: frozenset[WorkKind] = frozenset()
) -> tuple[GateCoat, ...]:
    """The coats of a way of one zone: its lift, if it has one, and its bowl. beneath: what is on the zone now."""
    colour = bowl_coat(bench, of=zone)
    if lift is None:
        return (colour,)
    readings = {each.zone.pk: each.reading for each in bench.zones}
    zones = [each.zone for each in bench.zones]
    how = How(heat=asked.consult.heat, beneath=beneath)
    lifted = lift_coat(asked, zone.zone, readings, zones, to_level=lift.stop_level, vol=lift.vol, how=how)
    return (lifted, colour)


def beneath_of(person: Person, bench: Bench) -> frozenset[WorkKind]:
    """What is on the zone in hand now, by its running clock. One query."""
    running = ZoneClock.objects.visible_to(person).filter(zone=bench.zone, rinsed_at=None).first()
    return frozenset({WorkKind(running.kind)}) if running else frozenset()
