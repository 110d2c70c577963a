"""The plan of a visit from its rows: each zone's coats, those that a proposed route would put there, and amounts."""

import datetime
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

from engine.errors import BadInput
from engine.language import later, say
from engine.service.amounts import Needed, as_used
from engine.service.house import CleanUp
from engine.service.route import Route
from engine.service.schedule.search import schedule
from engine.service.schedule.usual import LiftAsked, joined, usual_coat
from engine.service.schedule.work import PlannedCoat, PlannedZone, Purpose, Schedule, Visit
from engine.service.steps import StepKind
from engine.service.stretch import Stretch, amounts
from engine.service.timing import SILENT, ClockKind
from studio.accounts.models import Person, Studio
from studio.cards.selectors import habit_of, last_aims_of
from studio.clocks.coats import kind_of
from studio.head.models import Coat
from studio.head.selectors import Bench, ZoneBench
from studio.route.engine_adapter import routes_of
from studio.route.models import ChosenRoute, VisitPlan
from studio.route.selectors import chosen_by_zone
from studio.visits.gates import Asked
from studio.visits.lies import head_of, stretches_of
from studio.visits.models import Consult

PURPOSE_OF_STEP = {
    StepKind.REMOVE: Purpose.REMOVE,
    StepKind.LIFT: Purpose.LIFT,
    StepKind.EQUALISE: Purpose.EQUALISE,
    StepKind.FILL: Purpose.FILL,
}
KIND_OF_STEP = {
    Purpose.LIFT: ClockKind.LIGHTENER,
    Purpose.EQUALISE: ClockKind.EQUALISER,
    Purpose.FILL: ClockKind.FILL,
}


@dataclass(frozen=True, kw_only=True)
class CoatInPlan:
    """One coat in a plan. coat: its row; none for what a route proposes and nobody has chosen yet."""

    zone: ZoneBench
    coat: Coat | None
    planned: PlannedCoat


Coats = dict[str, tuple[CoatInPlan, ...]]  # of each zone, by its name
Unjoined = tuple[tuple[str, str], ...]  # names of zones, with that of the one which they can't join any more


@dataclass(frozen=True, kw_only=True)
class Needs:
    """What each zone takes for one coat, and where it lies, by its row.

    overlap: why some hair may count twice, in words. times: how many times what is usual this head takes, where its
    bowls were weighed back; None where not. assumed: what nobody asked, and is reckoned as usual.
    """

    by_zone: dict[int, Needed]
    stretches: dict[int, Stretch]
    overlap: str
    times: float | None
    assumed: tuple[str, ...]


@dataclass(frozen=True, kw_only=True)
class HeadPlan:
    """The plan of a head, the coats that it lays out by zone, and zones without an aim, left out by name.

    lanes: the coats again by what the plan calls them, which is each section of a zone that is worked in some.
    turns: the rows of the zones that were said to be taken up in turn.
    walked: the zones that have a route, with the one that was chosen or is proposed. unjoined: the names of zones that
    were to join another and can't any more, with its name.
    """

    made: Schedule
    coats: Coats
    unrouted: tuple[str, ...]
    lanes: dict[str, tuple[CoatInPlan, ...]]
    begins_at: datetime.time | None
    turns: tuple[int, ...]
    hands: int
    walked: tuple[tuple[ZoneBench, Route], ...]
    needs: Needs
    unjoined: Unjoined


def planned_of(person: Person, bench: Bench, asked: Asked) -> HeadPlan:
    """The plan of a visit. A few queries, and the routes, which are reckoned once for each hair and aim."""
    chosen = chosen_by_zone(person, bench.visit)
    kept = VisitPlan.objects.visible_to(person).filter(visit=bench.visit).first()
    needs = needs_of(person, bench, asked.consult)
    zones = [each for each in bench.zones if not each.zone.left_alone]
    aims = last_aims_of(person, bench.visit.client_id)
    walked = [(each, _route(each, asked, chosen, aims.get(each.zone.part))) for each in zones]
    coats = {
        each.zone.name: planned
        for each, route in walked
        if (planned := _coats(bench, each, route, needs.by_zone[each.zone.pk], is_chosen=each.zone.pk in chosen))
    }
    rows = {planned[0].zone.zone.pk: name for name, planned in coats.items()}
    turns = tuple(row for row in (kept.turns if kept else ()) if row in rows)
    hands = kept.hands if kept else 1
    coats, unjoined = _with_joins(coats)
    try:
        made = _schedule_once(_visit(coats, [rows[row] for row in turns], hands))
    except BadInput:  # what joins waits for one another, or leaves no order: none does
        coats, unjoined = _alone(coats, unjoined)
        made = _schedule_once(_visit(coats, [rows[row] for row in turns], hands))
    return HeadPlan(
        made=made,
        coats=coats,
        lanes={lane: planned for name, own in coats.items() for lane, planned in _lanes(name, own)},
        unrouted=tuple(each.zone.name for each in zones if each.zone.name not in coats),
        begins_at=kept.begins_at if kept else None,
        turns=turns,
        hands=hands,
        walked=tuple((each, route) for each, route in walked if route),
        needs=needs,
        unjoined=unjoined,
    )


def _with_joins(coats: Coats) -> tuple[Coats, Unjoined]:
    """The coats of each zone, with what they join; names of zones that can't join another any more, with its name."""
    every = [each for own in coats.values() for each in own if each.coat]
    places = {each.coat.pk: (name, index) for name, own in coats.items() for index, each in enumerate(own) if each.coat}
    rows = {each.coat.pk: each.coat for each in every if each.coat}
    unjoined: list[tuple[str, str]] = []

    def joining(each: CoatInPlan) -> CoatInPlan:
        if each.coat is None or each.coat.joins_id is None:
            return each
        there = rows.get(each.coat.joins_id)
        if there is None or there.zone.lies_apart or each.zone.zone.lies_apart or there.joins_id in rows:
            unjoined.append((each.zone.zone.name, there.zone.name if there else say("the coat that is gone")))
            return each
        minutes = None if each.coat.minutes is None else float(each.coat.minutes)
        return replace(each, planned=joined(each.planned, places[there.pk], minutes))

    return {name: tuple(map(joining, own)) for name, own in coats.items()}, tuple(unjoined)


def _alone(coats: Coats, unjoined: Unjoined) -> tuple[Coats, Unjoined]:
    """The coats without what they join, and with that told as not joined."""
    joins = [(name, each.planned.joins[0]) for name, own in coats.items() for each in own if each.planned.joins]
    alone = {
        name: tuple(replace(each, planned=replace(each.planned, joins=None)) for each in own)
        for name, own in coats.items()
    }
    return alone, (*unjoined, *joins)


def _visit(coats: Coats, turns: Sequence[str], hands: int) -> Visit:
    """The head as the engine plans it. turns: zones by name. Raises BadInput where what joins waits for one another."""
    zones = tuple(
        PlannedZone(name=lane, coats=tuple(each.planned for each in planned), apart=planned[0].zone.zone.lies_apart)
        for name, own in coats.items()
        for lane, planned in _lanes(name, own)
    )
    in_turn = tuple(lane for name in turns for lane, _ in _lanes(name, coats[name]))
    return Visit(zones=zones, hands=hands, turns=in_turn)


def _lanes(name: str, coats: tuple[CoatInPlan, ...]) -> Iterator[tuple[str, tuple[CoatInPlan, ...]]]:
    """The coats of a zone; of one that is worked in sections, those of each, which share its minutes of hands."""
    count = coats[0].zone.zone.sections
    if count == 1:
        yield name, coats
        return
    shared = tuple(
        replace(each, planned=replace(each.planned, apply_min=each.planned.apply_min / count)) for each in coats
    )
    for number in range(1, count + 1):
        yield later("{name}, section {number}", name=name, number=number), shared


@lru_cache(maxsize=256)
def _schedule_once(visit: Visit) -> Schedule:
    """A head is planned anew only when something of its plan has changed."""
    return schedule(visit)


def needs_of(person: Person, bench: Bench, consult: Consult) -> Needs:
    """What each zone takes for one coat, by what this head took when its bowls were last weighed back. One query."""
    lies = _lies(bench, consult)
    usual, overlap = _usual(bench, consult, lies)
    times = habit_of(person, bench.visit)
    by_zone = usual if times is None else {row: as_used(need, times) for row, need in usual.items()}
    measured = {"length"} if consult.length_cm else set()
    assumed = tuple(name for name in consult.unasked if name in {"length", "density"} - measured)
    return Needs(by_zone=by_zone, stretches=lies, overlap=overlap, times=times, assumed=assumed)


def _lies(bench: Bench, consult: Consult) -> dict[int, Stretch]:
    """Where each zone lies, by its row."""
    zones = [each.zone for each in bench.zones]
    return {zone.pk: stretch for zone, stretch in zip(zones, stretches_of(zones, consult), strict=True)}


def _usual(bench: Bench, consult: Consult, lies: dict[int, Stretch]) -> tuple[dict[int, Needed], str]:
    """What each zone of a head like this usually takes for one coat, and why some hair may count twice, in words.

    A zone that is left alone takes nothing, and its hair is left by the others all the same.
    """
    zones = [each.zone for each in bench.zones]
    head, stretches = head_of(consult), list(lies.values())
    overlap = ""
    try:
        found = amounts(head, stretches)
    except BadInput as twice:
        found = tuple(amounts(head, [each])[0] for each in stretches)
        overlap = str(twice).partition(": ")[2] or str(twice)
    nothing = Needed(grams=0.0, least_g=0.0, most_g=0.0)
    return {zone.pk: nothing if zone.left_alone else need for zone, need in zip(zones, found, strict=True)}, overlap


def usual_need_of_bowl(bench: Bench, asked: Asked, bowl_id: int) -> float:
    """Grams that the coats of one bowl usually take, each once, without developer."""
    needs, _ = _usual(bench, asked.consult, _lies(bench, asked.consult))
    return sum(needs[each.zone.pk].grams for each in bench.coats if each.bowl.pk == bowl_id)


def needed_of(person: Person, bench: Bench, zone: ZoneBench, asked: Asked) -> Needed:
    """What one coat takes on a zone, by what the consult and Read noted of the hair."""
    return needs_of(person, bench, asked.consult).by_zone[zone.zone.pk]


def _route(
    zone: ZoneBench, asked: Asked, chosen: dict[int, ChosenRoute], last_aim: tuple[float, float, float] | None
) -> Route | None:
    """The chosen route of a zone, or the proposed one; None before there is an aim."""
    found = routes_of(zone, asked, last_aim)
    if found is None:
        return None
    kind = chosen[zone.zone.pk].kind if zone.zone.pk in chosen else ""
    return next((route for route in found.others if route.kind.value == kind), found.proposed)


def _coats(
    bench: Bench, zone: ZoneBench, route: Route | None, need: Needed, *, is_chosen: bool
) -> tuple[CoatInPlan, ...]:
    """What goes on a zone; nothing before something of it is aimed at, mixed, or needs neither.

    Before a route is chosen, what the proposed one puts ahead of the colour is laid out with it.
    """
    rows = [row for row in bench.rows if row.zone_id == zone.zone.pk]
    own = {each.coat.pk: each for each in bench.coats if each.zone.pk == zone.zone.pk}
    is_asked = any(row.is_plain or row.lifts for row in rows) or any(
        each.target_lab is not None or each.pours for each in own.values()
    )
    if not is_asked:
        return ()
    house = bench.stocked.line.studio
    planned = [_planned(row, own.get(row.pk), need, house) for row in rows]
    coats = [CoatInPlan(zone=zone, coat=row, planned=each) for row, each in zip(rows, planned, strict=True)]
    purposes = {row.purpose for row in rows}
    if route and not is_chosen:
        ahead = [each for each in _proposed(zone, route, need, house) if each.purpose.value not in purposes]
        coats = [*(CoatInPlan(zone=zone, coat=None, planned=each) for each in ahead), *coats]
    return tuple(coats)


def _planned(coat: Coat, mixed: ZoneBench | None, need: Needed, house: Studio) -> PlannedCoat:
    lift = None
    if mixed and coat.to_level is not None:
        levels = max(float(coat.to_level - mixed.reading.level), 0.1)
        lift = LiftAsked(levels=levels, vol=float(mixed.bowl.vol) or 1.0, porosity=float(mixed.reading.porosity))
    planned = usual_coat(
        Purpose(coat.purpose),
        kind_of(coat),
        need.grams,
        lift=lift,
        minutes=None if coat.minutes is None else float(coat.minutes),
        apply_min=None if coat.apply_min is None else float(coat.apply_min),
        pack=mixed.bowl.line.pack if mixed else SILENT,
        bowl_min=float(house.bowl_min),
        damp=mixed.process.damp if mixed else False,
        clean_up=CleanUp(house.clean_up),
    )
    return replace(planned, not_before_min=float(coat.not_before_min or 0))


def _proposed(zone: ZoneBench, route: Route, need: Needed, house: Studio) -> list[PlannedCoat]:
    """What a route that nobody has chosen would put ahead of the colour."""
    found = []
    for step in route.steps:
        purpose = PURPOSE_OF_STEP.get(step.kind)
        if purpose is None:
            continue
        asked = None
        if purpose is Purpose.LIFT and route.lift:
            porosity = float(zone.now.porosity)
            asked = LiftAsked(levels=route.lift.levels, vol=float(route.lift.vol), porosity=porosity)
        kind = KIND_OF_STEP.get(purpose)
        hands, clean_up = float(house.bowl_min), CleanUp(house.clean_up)
        found.append(usual_coat(purpose, kind, need.grams, lift=asked, bowl_min=hands, clean_up=clean_up))
    return found
