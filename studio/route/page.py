"""What the Route page shows: the way from today's hair to the aim, zone by zone."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Final

from engine.arrays import FloatArray
from engine.bowl.fill import Fill
from engine.bowl.filler import Filler, FillWith
from engine.errors import EngineError
from engine.hair.ladder import Ladder
from engine.language import begun, decimals, later, say
from engine.service.base import base_sentence
from engine.service.developer import DeveloperBlend, blend, developer_for, percent_of, vol_of
from engine.service.house import CleanUp
from engine.service.lift import BOWL_BEST_MIN, CHECK_EVERY_MIN, Lift
from engine.service.route import Route
from engine.service.steps import StepKind
from studio.accounts.models import Person
from studio.cards.selectors import last_aims_of
from studio.head.selectors import Bench, ZoneBench, bench_of
from studio.route.by_hand import HandRoute, hand_route
from studio.route.coats import beneath_of, route_coats
from studio.route.engine_adapter import fill_of, filling_line, routes_of, toners_of
from studio.route.models import ChosenRoute
from studio.route.selectors import chosen_by_zone
from studio.shelf.selectors import lines_of, stocked_line
from studio.ui.fields import UNIT
from studio.ui.locks import Lock, bare_lock, lock_of_colour
from studio.ui.numbers import brief_number, typed_number, typed_weight
from studio.ui.refusal import Refusal
from studio.ui.words import engine_refusal, refusal_words
from studio.visits.engine_adapter import canvas_of
from studio.visits.gates import Asked, GateSeen, asked_of, check_many
from studio.visits.selectors import OpenZone

STEP_WORDS: Final = {
    StepKind.REMOVE: later("Take old colour out"),
    StepKind.LIFT: later("Lift"),
    StepKind.CLEAN_UP: later("Rinse, clean, dry, read"),
    StepKind.EQUALISE: later("Even porous hair"),
    StepKind.FILL: later("Fill"),
    StepKind.DEPOSIT: later("Colour"),
}
FILLER_WORDS: Final[Mapping[Filler, str]] = {
    Filler.GOLD_NEUTRAL: later("gold and neutral"),
    Filler.COPPER_RED: later("copper and red"),
    Filler.BROWN: later("brown"),
    Filler.DIRECT_RED: later("direct red"),
}
DEVELOPER_FIELDS: Final = (
    ("colour_grams", later("Colour, {unit}", unit=UNIT)),
    ("parts", later("Parts")),
    ("strong_percent", later("Stronger %")),
    ("weak_percent", later("Weaker %")),
    ("wanted_percent", later("Wanted %")),
)


@dataclass(frozen=True, kw_only=True, eq=False)
class RouteShown:
    """One route, ready to show: its name, steps with minutes, and the hair before and after the colour."""

    route: Route
    title: str
    steps: tuple[tuple[str, str, bool], ...]
    before: Lock | None
    then: Lock
    minutes: str
    cost: str
    base: str
    chosen: bool


@dataclass(frozen=True, kw_only=True, eq=False)
class DeveloperSum:
    """Developer arithmetic: the fields as typed, and the answer or what is wrong."""

    fields: tuple[tuple[str, str, str], ...]
    grams: float | None = None
    parts: DeveloperBlend | None = None
    wrong_field: str = ""
    wrong: str = ""

    @property
    def vol(self) -> str:
        """The strength wanted in volumes."""
        return f"{vol_of(self.parts.percent):.0f}" if self.parts else ""


@dataclass(frozen=True, kw_only=True, eq=False)
class RoutePage:
    """The Route page as its template takes it."""

    bench: Bench
    asked: Asked
    now: Lock
    aim: Lock | None
    proposed: RouteShown | None
    others: tuple[RouteShown, ...]
    chosen: ChosenRoute | None
    gates: list[GateSeen]
    lift: Lift | None
    developer: DeveloperSum
    hand: HandRoute
    in_force: RouteShown | None
    zones: list[tuple[ZoneBench, str]]
    error_words: str
    check_every: float = CHECK_EVERY_MIN
    bowl_best: tuple[float, float] = BOWL_BEST_MIN
    clean_up: tuple[str, ...] = CleanUp.ONCE.steps

    @property
    def extra(self) -> tuple[tuple[str, str], ...]:
        """A way by hand as fields of a form, while it is asked about."""
        return self.hand.fields if self.hand.is_tried else ()

    @property
    def asks_for_developer(self) -> bool:
        """Whether anything here is mixed with developer."""
        return self.lift is not None or bool(self.bench.bowl.parts)

    @property
    def shut(self) -> list[GateSeen]:
        """The gates that stop the work as things stand."""
        return [seen for seen in self.gates if seen.is_shut]


def route_page(
    person: Person, opened: OpenZone, *, sent: Mapping[str, str], refusal: Refusal | None = None
) -> RoutePage:
    """Gather the Route page. sent: what the request brought, for the developer's fields."""
    bench = bench_of(person, opened)
    asked = asked_of(person, opened.visit)
    kinds = chosen_by_zone(person, opened.visit)
    chosen = kinds.get(bench.zone.pk)
    found = routes_of(bench, asked, last_aims_of(person, opened.visit.client_id).get(bench.zone.part))
    target_lab = bench.target_lab
    hand = hand_route(bench, asked, sent, chosen)
    ways = (found.proposed, *found.others, *([hand.route] if hand.route else [])) if found else ()
    ladder = person.studio.ladder
    shown = [_shown(route, chosen, _base(route, target_lab, ladder)) for route in ways]
    in_force = _in_force(shown, hand)
    lift = in_force.route.lift if in_force else None
    return RoutePage(
        bench=bench,
        asked=asked,
        now=bare_lock(canvas_of(bench.now)),
        aim=None if target_lab is None else lock_of_colour(tuple(target_lab.tolist())),
        check_every=float(person.studio.check_min),
        clean_up=CleanUp(person.studio.clean_up).steps,
        proposed=shown[0] if shown else None,
        others=tuple(shown[1:]),
        chosen=chosen,
        gates=check_many(asked, route_coats(asked, bench, bench, lift, beneath_of(person, bench))),
        lift=lift,
        developer=_developer(sent, lift),
        hand=hand,
        in_force=in_force,
        zones=[(each, kinds[each.zone.pk].get_kind_display() if each.zone.pk in kinds else "") for each in bench.zones],
        error_words=refusal_words(refusal) if refusal else "",
    )


def _in_force(shown: Sequence[RouteShown], hand: HandRoute) -> RouteShown | None:
    """What the gates and the rest of the page are about: a way by hand that is tried, else the chosen one, else the
    proposed one.
    """
    if hand.is_tried and hand.route is not None:
        return shown[-1]
    return next((each for each in shown if each.chosen), shown[0] if shown else None)


def _base(route: Route, target_lab: FloatArray | None, ladder: Ladder) -> str:
    """What the hair shows at its level beneath the colour; of a fill its warmth is what is wanted."""
    if target_lab is None or route.fills:
        return ""
    return base_sentence(route.canvas, target_lab, ladder)


def _shown(route: Route, chosen: ChosenRoute | None, base: str) -> RouteShown:
    is_prepared = len(route.steps) > 1
    return RouteShown(
        route=route,
        title=begun(ChosenRoute.Kind(route.kind.value).label),
        steps=tuple((STEP_WORDS[step.kind], _minutes(step.minutes), step.one_way) for step in route.steps),
        before=bare_lock(route.canvas) if is_prepared else None,
        then=lock_of_colour(tuple(route.lab.tolist())),
        minutes=_minutes(route.minutes),
        cost=route.cost.words,
        base=base,
        chosen=chosen is not None and chosen.kind == route.kind.value,
    )


def _minutes(span: tuple[float, float]) -> str:
    least, most = (round(part) for part in span)
    return say("{least} min", least=least) if least == most else say("{least} to {most} min", least=least, most=most)


def _developer(sent: Mapping[str, str], lift: Lift | None) -> DeveloperSum:
    """The developer for what is typed, to begin with what the lift asks for from 6 % and water, or from 12 %."""
    percent = percent_of(lift.vol) if lift else 3.0
    start = {
        "colour_grams": brief_number(30),
        "parts": decimals(f"{lift.parts:g}") if lift else "2",
        "strong_percent": "12" if percent > 6 else "6",
        "weak_percent": "6" if percent > 6 else "0",
        "wanted_percent": decimals(f"{percent:g}"),
    }
    typed = {name: sent.get(name, "") or start[name] for name, _ in DEVELOPER_FIELDS}
    fields = tuple((name, label, typed[name]) for name, label in DEVELOPER_FIELDS)
    try:
        colour_g = float(typed_weight(typed.pop("colour_grams"), "colour_grams", example="30"))
        numbers = {name: float(typed_number(text, name, example="6")) for name, text in typed.items()}
        grams = developer_for(colour_g, numbers["parts"])
        made = blend(numbers["strong_percent"], numbers["weak_percent"], numbers["wanted_percent"], grams)
    except Refusal as refusal:
        return DeveloperSum(fields=fields, wrong_field=refusal.field, wrong=refusal_words(refusal))
    except EngineError as error:
        refused = engine_refusal(error)
        return DeveloperSum(fields=fields, wrong_field=refused.field, wrong=refusal_words(refused))
    return DeveloperSum(fields=fields, grams=grams, parts=made)


@dataclass(frozen=True, kw_only=True, eq=False)
class FillPage:
    """The fill of a zone: why, its steps, and what each kind of filler leaves.

    line: whose shades it is mixed from, where that is not the colour's own. fillers: each with what it leaves, and
    whether it is the house's.
    """

    plan: Fill | None
    line: str
    steps: tuple[tuple[str, Lock, str], ...]
    without: Lock | None
    filled: Lock | None
    fillers: tuple[tuple[str, str, bool], ...]


def _over_fill(plan: Fill, house: Filler | None) -> FloatArray | None:
    """The colour (3,) over hair that is filled as the house does it."""
    return next((each.final_lab for each in plan.fillers if each.filler is house), plan.with_lab)


def fill_page(page: RoutePage) -> FillPage:
    """The fill of the way in force, else of the first that has one, reckoned when it is asked for: it takes a match for
    each step.
    """
    bench, ways = page.bench, [each.route for each in (page.in_force, page.proposed, *page.others) if each]
    filled = next((way for way in ways if way.fills), None)
    plan = fill_of(bench, filled) if filled else None

    line, house = filling_line(bench).line, FillWith(bench.stocked.line.studio.fill_with).kind

    def lock(lab: FloatArray | None) -> Lock | None:
        return None if lab is None else lock_of_colour(tuple(lab.tolist()))

    return FillPage(
        plan=plan,
        line="" if line.pk == bench.bowl.line_id else line.name,
        steps=tuple(
            (
                decimals(f"{step.level:.1f}"),
                lock_of_colour(tuple(step.target_lab.tolist())),
                step.bowl.recipes[0].bowl.words,
            )
            for step in (plan.steps if plan else ())
        ),
        without=lock(plan.without_lab) if plan else None,
        filled=lock(_over_fill(plan, house)) if plan else None,
        fillers=tuple(
            (FILLER_WORDS[each.filler], each.cast or say("clean"), each.filler is house)
            for each in (plan.fillers if plan else ())
        ),
    )


@dataclass(frozen=True, kw_only=True, eq=False)
class TonerPage:
    """A toner's levels on the hair that the colour will meet."""

    name: str
    rows: tuple[tuple[str, Lock, str, bool], ...]


def toner_page(person: Person, bench: Bench, route: Route | None) -> TonerPage:
    """What toning would do at several levels."""
    canvas = route.canvas if route else canvas_of(bench.reading)
    name, found = toners_of(canvas, [stocked_line(line) for line in lines_of(person)], person.studio)
    rows = tuple(
        (
            decimals(f"{each.level:g}"),
            lock_of_colour(tuple(each.lab.tolist())),
            decimals(f"{each.delta_e00:.1f}"),
            each.is_too_light,
        )
        for each in found
    )
    return TonerPage(name=name, rows=rows)
