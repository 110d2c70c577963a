"""What a route puts on a zone, described for the gates."""

from engine.service.lift import Lift
from engine.service.route import Route
from engine.service.steps import StepKind
from engine.service.work import WorkKind
from studio.accounts.models import Person
from studio.clocks.models import ZoneClock
from studio.head.coats import bowl_coat
from studio.head.models import Coat
from studio.head.selectors import Bench, ZoneBench
from studio.head.services.coats import Preparation
from studio.route.engine_adapter import fill_of, filling_line
from studio.visits.coats import How, lift_coat
from studio.visits.gates import Asked, GateCoat, heated


def route_coats(
    asked: Asked, bench: Bench, zone: ZoneBench, lift: Lift | None, beneath: frozenset[WorkKind] = frozenset()
) -> tuple[GateCoat, ...]:
    """The coats of a way of one zone: its lift, if it has one, and its bowl. beneath: what is on the zone now."""
    colour = bowl_coat(asked, bench, of=zone)
    if lift is None:
        return (colour,)
    readings = {each.zone.pk: each.reading for each in bench.zones}
    zones = [each.zone for each in bench.zones]
    how = How(heat=heated(asked, WorkKind.LIGHTENER), beneath=beneath)
    lifted = lift_coat(asked, zone.zone, readings, zones, to_level=lift.stop_level, vol=lift.vol, how=how)
    return (lifted, colour)


def ahead_of_colour(bench: Bench, route: Route) -> tuple[Preparation, ...]:
    """What a route puts on a zone before its colour: remover, lightener, equaliser, each step of a fill with its
    recipe.
    """
    found = []
    for step in route.steps:
        if step.kind is StepKind.REMOVE:
            found.append(Preparation(purpose=Coat.Purpose.REMOVE))
        elif step.kind is StepKind.LIFT and route.lift:
            found.append(
                Preparation(purpose=Coat.Purpose.LIFT, to_level=route.lift.stop_level, vol=float(route.lift.vol))
            )
        elif step.kind is StepKind.EQUALISE:
            found.append(Preparation(purpose=Coat.Purpose.EQUALISE))
        elif step.kind is StepKind.FILL:
            found += _fills(bench, route)
    return tuple(found)


def _fills(bench: Bench, route: Route) -> list[Preparation]:
    plan, line_id = fill_of(bench, route), filling_line(bench).line.pk
    return [
        Preparation(
            purpose=Coat.Purpose.FILL,
            target_lab=step.target_lab,
            line_id=line_id,
            grams={int(shade.code): grams for shade, grams in step.bowl.recipes[0].bowl.grams.items()},
        )
        for step in (plan.steps if plan else ())
    ] or [Preparation(purpose=Coat.Purpose.FILL)]


def beneath_of(person: Person, bench: Bench) -> frozenset[WorkKind]:
    """What is on the zone in hand now, by its running clock. One query."""
    running = ZoneClock.objects.visible_to(person).filter(zone=bench.zone, rinsed_at=None).first()
    return frozenset({WorkKind(running.kind)}) if running else frozenset()
