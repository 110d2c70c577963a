"""What the Plan page shows: lanes of the visit's steps, amounts for each zone, and what is short on the shelf."""

from collections import defaultdict
from dataclasses import dataclass
from typing import Final

from engine.service.amounts import Density, Length, Needed, needed
from engine.service.plan import Plan, Slot, ZoneWork, plan, task_of
from engine.service.route import Route
from studio.accounts.models import Person
from studio.bench.selectors import Bench, ZoneBench, bench_of
from studio.cards.selectors import last_aim_of
from studio.route.engine_adapter import routes_of
from studio.route.models import ChosenRoute
from studio.route.page import STEP_WORDS
from studio.route.selectors import chosen_by_zone
from studio.ui.numbers import shown_grams
from studio.visits.gates import Asked, asked_of
from studio.visits.selectors import OpenZone

WIDTH: Final = 1000.0  # drawing units for the whole visit
LANE: Final = 64.0
HEAD: Final = 34.0
TICK_MIN: Final = 15


@dataclass(frozen=True, kw_only=True)
class Bar:
    """One step in a lane: applied by hand, then processing; places and widths in drawing units."""

    x: str
    hands: str
    width: str
    y: str
    words: str
    minutes: str
    said: str
    is_wide: bool


@dataclass(frozen=True, kw_only=True)
class Lane:
    """One zone's steps, and where its name stands."""

    name: str
    y: str
    bars: tuple[Bar, ...]


@dataclass(frozen=True, kw_only=True)
class AmountRow:
    """A zone's grams: what it needs, from least to most, and what its bowl holds."""

    zone: str
    route: str
    needs: str
    least: str
    most: str
    holds: str
    is_short: bool


@dataclass(frozen=True, kw_only=True)
class Short:
    """A shade of which the shelf holds less than the bowls take."""

    name: str
    takes: str
    left: str


@dataclass(frozen=True, kw_only=True, eq=False)
class PlanPage:
    """The Plan page as its template takes it."""

    bench: Bench
    lanes: tuple[Lane, ...]
    ticks: tuple[tuple[str, str], ...]
    height: str
    total: str
    hands: str
    side: str
    order: tuple[tuple[str, str, str, int], ...]
    amounts: tuple[AmountRow, ...]
    shorts: tuple[Short, ...]
    unrouted: tuple[str, ...]


def plan_page(person: Person, opened: OpenZone, *, visits_before: int) -> PlanPage:
    """Gather the plan. visits_before: how many visits the client has had, so that the starting side alternates."""
    bench, asked = bench_of(person, opened), asked_of(person, opened.visit)
    chosen = chosen_by_zone(person, opened.visit)
    walked = [(each, _route(person, each, asked, chosen)) for each in bench.zones]
    work = [_work(each, route, asked) for each, route in walked if route]
    made = plan(work)
    scale = WIDTH / max(made.total_min, TICK_MIN)
    return PlanPage(
        bench=bench,
        lanes=tuple(
            Lane(
                name=name,
                y=f"{HEAD + LANE * row + 26:.0f}",
                bars=tuple(_bar(slot, row, scale) for slot in slots),
            )
            for row, (name, slots) in enumerate((each.name, made.lanes[each.name]) for each in work)
        ),
        ticks=tuple(
            (f"{minute * scale:.1f}", f"{minute}") for minute in range(0, int(made.total_min) + 1, _tick(made))
        ),
        height=f"{HEAD + LANE * max(len(made.lanes), 1) + 6:.0f}",
        total=_clock(made.total_min),
        hands=_clock(made.hands_min),
        side="left" if visits_before % 2 == 0 else "right",
        order=tuple(
            (f"{slot.start_min:.0f}", slot.zone, STEP_WORDS[slot.task.kind], slot.task.batches) for slot in made.slots
        ),
        amounts=tuple(_amount(each, asked, chosen) for each in bench.zones),
        shorts=_shorts(bench),
        unrouted=tuple(each.zone.name for each, route in walked if route is None),
    )


def _route(person: Person, zone: ZoneBench, asked: Asked, chosen: dict[int, ChosenRoute]) -> Route | None:
    """The chosen route of a zone, or the proposed one; None before there is an aim."""
    found = routes_of(zone, asked, last_aim_of(person, asked.visit.client_id, zone.zone.part))
    if found is None:
        return None
    kind = chosen[zone.zone.pk].kind if zone.zone.pk in chosen else ""
    return next((route for route in found.others if route.kind.value == kind), found.proposed)


def _work(zone: ZoneBench, route: Route, asked: Asked) -> ZoneWork:
    grams = needed_of(zone, asked).grams
    return ZoneWork(
        name=zone.zone.name,
        tasks=tuple(task_of(step.kind, grams, sum(step.minutes) / 2) for step in route.steps),
    )


def needed_of(zone: ZoneBench, asked: Asked) -> Needed:
    """What a zone takes, by the length and density that the consult noted."""
    return needed(Length(asked.consult.length), Density(asked.consult.density), zone.zone.part)


def _bar(slot: Slot, row: int, scale: float) -> Bar:
    words = STEP_WORDS[slot.task.kind]
    width = (slot.end_min - slot.start_min) * scale
    return Bar(
        x=f"{slot.start_min * scale:.1f}",
        hands=f"{(slot.applied_min - slot.start_min) * scale:.1f}",
        width=f"{width:.1f}",
        y=f"{HEAD + LANE * row + 8:.0f}",
        words=words.partition(",")[0],
        minutes=f"{slot.end_min - slot.start_min:.0f} min",
        said=f"{slot.zone}: {words} from minute {slot.start_min:.0f} to {slot.end_min:.0f}",
        is_wide=width > 90,
    )


def _tick(made: Plan) -> int:
    """Minutes between two marks: wider on a long visit."""
    return TICK_MIN if made.total_min <= 12 * TICK_MIN else 2 * TICK_MIN


def _clock(minutes: float) -> str:
    hours, rest = divmod(round(minutes), 60)
    return f"{hours} h {rest:02d}" if hours else f"{rest} min"


def _amount(zone: ZoneBench, asked: Asked, chosen: dict[int, ChosenRoute]) -> AmountRow:
    need = needed_of(zone, asked)
    holds = float(zone.total_g)
    return AmountRow(
        zone=zone.zone.name,
        route=chosen[zone.zone.pk].get_kind_display() if zone.zone.pk in chosen else "proposed",
        needs=f"{need.grams:.0f}",
        least=f"{need.least_g:.0f}",
        most=f"{need.most_g:.0f}",
        holds=f"{holds:g}",
        is_short=0 < holds < need.least_g,
    )


def _shorts(bench: Bench) -> tuple[Short, ...]:
    """Shades of which the bowls of this head take more than the shelf holds."""
    takes: dict[int, float] = defaultdict(float)
    shades = {}
    for each in {zone.bowl.pk: zone for zone in bench.zones}.values():
        for shade, grams in each.poured:
            takes[shade.pk] += float(grams)
            shades[shade.pk] = shade
    return tuple(
        Short(name=shade.name, takes=f"{takes[pk]:.1f}", left=shown_grams(shade.stock_g))
        for pk, shade in shades.items()
        if takes[pk] > float(shade.stock_g)
    )
