"""The plan of a visit from its rows: routes and amounts, with what the colourist has changed."""

import datetime
from dataclasses import dataclass

from engine.service.amounts import Density, Length, Needed, needed
from engine.service.plan import Plan, Task, ZoneWork, plan, task_of
from engine.service.route import Route, StepKind
from studio.accounts.models import Person
from studio.cards.selectors import last_aim_of
from studio.head.selectors import Bench, ZoneBench
from studio.route.engine_adapter import routes_of
from studio.route.models import ChosenRoute, PlannedStep, VisitPlan
from studio.route.selectors import chosen_by_zone
from studio.visits.gates import Asked

Edits = dict[tuple[int, str], PlannedStep]


@dataclass(frozen=True, kw_only=True)
class Planned:
    """A plan with the work that it lays out, zones without an aim left out by name, its begin, and who goes first.

    walked: the zones that have a route, with the one that was chosen or is proposed.
    """

    plan: Plan
    work: tuple[ZoneWork, ...]
    unrouted: tuple[str, ...]
    begins_at: datetime.time | None
    first: str
    walked: tuple[tuple[ZoneBench, Route], ...]


def planned_of(person: Person, bench: Bench, asked: Asked) -> Planned:
    """The plan of a visit. A few queries, and the routes, which are reckoned once for each hair and aim."""
    chosen = chosen_by_zone(person, bench.visit)
    kept = VisitPlan.objects.visible_to(person).filter(visit=bench.visit).select_related("first_zone").first()
    steps = PlannedStep.objects.visible_to(person).filter(zone__visit=bench.visit)
    edits = {(step.zone_id, step.kind): step for step in steps}
    walked = [(each, _route(person, each, asked, chosen)) for each in bench.zones]
    work = tuple(_work(each, route, asked, edits) for each, route in walked if route)
    first = kept.first_zone.name if kept and kept.first_zone else ""
    return Planned(
        plan=plan(work, first=first),
        work=work,
        unrouted=tuple(each.zone.name for each, route in walked if route is None),
        begins_at=kept.begins_at if kept else None,
        first=first,
        walked=tuple((each, route) for each, route in walked if route),
    )


def needed_of(zone: ZoneBench, asked: Asked) -> Needed:
    """What a zone takes, by the length and density that the consult noted."""
    return needed(Length(asked.consult.length), Density(asked.consult.density), zone.zone.part)


def _route(person: Person, zone: ZoneBench, asked: Asked, chosen: dict[int, ChosenRoute]) -> Route | None:
    """The chosen route of a zone, or the proposed one; None before there is an aim."""
    found = routes_of(zone, asked, last_aim_of(person, asked.visit.client_id, zone.zone.part))
    if found is None:
        return None
    kind = chosen[zone.zone.pk].kind if zone.zone.pk in chosen else ""
    return next((route for route in found.others if route.kind.value == kind), found.proposed)


def _work(zone: ZoneBench, route: Route, asked: Asked, edits: Edits) -> ZoneWork:
    grams = needed_of(zone, asked).grams

    def task(kind: StepKind, minutes: float) -> Task:
        edit = edits.get((zone.zone.pk, kind.value))
        if edit is None:
            return task_of(kind, grams, minutes)
        return Task(kind=kind, apply_min=float(edit.apply_min), process_min=float(edit.process_min))

    return ZoneWork(
        name=zone.zone.name,
        tasks=tuple(task(step.kind, sum(step.minutes) / 2) for step in route.steps),
    )
