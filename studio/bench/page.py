"""Everything that the Bench shows, gathered once for page and fragment."""

from collections import Counter
from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import partial

from engine.bowl.spread import Spread
from engine.colorimetry.words import ON_AIM
from engine.language import decimals, say
from engine.weights import handy_g, weigh_powder
from studio.accounts.house import House
from studio.accounts.models import Person
from studio.bench import plane
from studio.bench.answers import STEPS_G, Limits, limits_of
from studio.bench.coat_row import PURPOSES, CoatStep, bare_hex, coat_steps
from studio.bench.instead import shorts_in
from studio.bench.lifting import LiftMiddle, lift_middle
from studio.bench.looks import woven_lock
from studio.bench.middle import AimMiddle, GuessMiddle, SteerMiddle, aim_middle, guess_middle, steer_middle
from studio.bench.panels import UNTOLD_PANELS, Panel, panel_of, place_of_refusal
from studio.bench.poured import Layer, RailRow, cost_of, layers_of, measures_of, parts_of, rail_rows_of
from studio.bench.quick_fixes import Corrections, quick_fixes_of
from studio.bench.said import guessed_words, notices_of, words_of
from studio.bench.zone_tabs import SeamLabel, ZoneTab, tress_labels, zone_tabs
from studio.guesses.selectors import last_shown, open_guess
from studio.head.engine_adapter import (
    BenchForecast,
    forecast_of,
    spread_of,
    why_of,
)
from studio.head.models import WorktopRows
from studio.head.selectors import Bench, bench_of
from studio.head.services.coats import lines_for
from studio.head.sight import LIGHTS, Sight, sight_of
from studio.shelf.models import ShadeLine
from studio.ui.locks import Lock, lock_of_colour
from studio.ui.numbers import brief_number, brief_weight, shown_weight
from studio.ui.refusal import Refusal
from studio.ui.words import refusal_words
from studio.visits.models import Zone
from studio.visits.selectors import OpenZone


@dataclass(frozen=True, kw_only=True)
class DepthMarks:
    """Where hair, bowl and aim stand on the depth ladder."""

    now_y: str
    now_hex: str
    then_y: str
    then_hex: str
    aim_y: str


@dataclass(frozen=True, kw_only=True, eq=False)
class BenchPage:
    """The Bench as its template takes it."""

    person: Person
    bench: Bench
    sight: Sight
    now: Lock
    then: Lock
    aim_lock: Lock | None
    tabs: list[ZoneTab]
    labels: list[SeamLabel]
    rail: list[RailRow]
    layers: list[Layer]
    coats: tuple[CoatStep, ...]
    bare_hex: str
    middle: SteerMiddle | AimMiddle | LiftMiddle | GuessMiddle
    depth: DepthMarks
    words: str
    why: str
    delta_e00: str
    is_on_aim: bool
    wander: str
    shorts: tuple[str, ...]
    guessed_lately: str
    notices: list[str]
    corrections: Corrections | None
    total: str
    version: str
    parts: str
    cost: str
    measures: str
    wanted: str
    typed_grams: str
    note: str
    panel: Panel
    picking: str
    shown: str
    wish: str
    error_field: str
    error_words: str
    status: int | None
    refused: Mapping[str, str]
    parts_of_head: list[tuple[str, str]] = field(default_factory=lambda: list(Zone.Part.choices))

    @property
    def roots(self) -> list[tuple[str, str, bool]]:
        """What a root may get, in words, and whether the house gives it that; nothing where no root is in hand."""
        if self.bench.zone.part != Zone.Part.ROOTS or self.bench.below is None:
            return []
        house = self.bench.stocked.line.studio.root_look
        return [(value, words, value == house) for value, words in House.RootChoice.choices]

    @property
    def lines(self) -> list[tuple[ShadeLine, str]]:
        """The lines that the coat in hand may be mixed from, read only where they are shown, each by its kind or, where
        several are of that kind, by its name.
        """
        found = lines_for(self.person, self.bench.coat.purpose)
        kinds = Counter(line.kind for line in found)
        return [(line, line.get_kind_display() if kinds[line.kind] == 1 else line.name) for line in found]

    @property
    def guessed(self) -> list[str]:
        """The shades in the bowl that are known by their name alone."""
        return [shade.name for shade, grams in self.bench.poured if shade.is_guessed and grams]

    @property
    def lights(self) -> list[tuple[str, str, bool]]:
        """The lights to choose from, and which is on."""
        return [(light.value, words, light is self.sight.light) for light, words in LIGHTS]

    @property
    def touched_rows(self) -> list[RailRow]:
        """The rows of the rail that a pour can have changed: what is in the bowl, and the shade in hand."""
        return [row for row in self.rail if row.grams or row.chosen]

    @property
    def chosen(self) -> RailRow:
        """The shade that the stepper pours."""
        return next((row for row in self.rail if row.chosen), self.rail[0])

    @property
    def modes(self) -> tuple[tuple[str, str], ...]:
        """What the middle can show; lightener is set to a level, and neither steers nor aims."""
        return (
            (("lift", say("Lift")),)
            if self.bench.coat.lifts
            else (("steer", say("Wheel")), ("list", say("List")), ("aim", say("Aim")), ("guess", say("Guess")))
        )

    @property
    def other_ways(self) -> tuple[tuple[str, str], ...]:
        """Panels that are opened from the middle."""
        if self.mode in ("lift", "guess"):
            return ()
        looks = (("pastels", say("Pastels")), ("meanwhile", say("Meanwhile"))) if self.bench.pours else ()
        return (*((("photo", say("Photo")),) if self.mode == "aim" else ()), *looks, ("warmth", say("Warmth")))

    @property
    def pickings(self) -> tuple[tuple[str, str], ...]:
        """What a tap on the photo may mean."""
        return (("paper", say("White paper")), ("hair", say("Hair")))

    @property
    def chips(self) -> list[tuple[str, str, list[tuple[str, str, bool]]]]:
        """The limits of the recipes as groups of choices."""
        limits = self.panel.answers.limits if self.panel.answers else Limits()
        groups = [
            ("max_shades", say("Most shades"), [(f"{n}", f"≤ {n}", n == limits.max_shades) for n in (1, 2, 3, 4)]),
            (
                "step",
                say("Weighed in"),
                [(key, brief_weight(handy_g(step)), handy_g(step) == limits.step_g) for key, step in STEPS_G.items()],
            ),
            (
                "stock",
                say("Stock"),
                [("in", say("in stock"), limits.in_stock), ("any", say("any"), not limits.in_stock)],
            ),
            (
                "lines",
                say("Lines"),
                [("one", say("this line"), limits.one_line), ("any", say("any line"), not limits.one_line)],
            ),
        ]
        if len(self.bench.aimed) > 1:
            zone = self.bench.zone.name
            one = say("one bowl, {aimed} zones", aimed=len(self.bench.aimed))
            groups.append(
                (
                    "bowls",
                    say("Zones"),
                    [("one", one, limits.one_bowl), ("own", say("{zone} only", zone=zone), not limits.one_bowl)],
                )
            )
        return groups

    @property
    def mode(self) -> str:
        """Whether the middle steers, by the wheel or by a list, aims, sets a lift, or takes a guess."""
        if isinstance(self.middle, LiftMiddle):
            return "lift"
        if isinstance(self.middle, GuessMiddle):
            return "guess"
        return self.middle.shown_as if isinstance(self.middle, SteerMiddle) else "aim"

    @property
    def here(self) -> str:
        """Which step of the visit it is: aiming comes before the route, the rest after it."""
        return "aim" if self.sight.mode == "aim" and not self.bench.pours else "bench"

    @property
    def next_step(self) -> str:
        """What comes next: pour, once there is something to; else hit the aim or find its route, or aim first. To see
        the forecast while it is covered.
        """
        if self.mode == "guess":
            return "guess"
        if self.bench.pours or self.bench.coat.lifts:
            return "pour"
        if self.aim_lock is None:
            return "aim"
        return "route" if self.here == "aim" else "hit"

    @property
    def purposes(self) -> tuple[tuple[str, str, str], ...]:
        """What a further coat may be for."""
        return PURPOSES

    @property
    def typed(self) -> dict[str, str]:
        """How the coat in hand is worked, as its form has it; what a refused form held stays in it."""
        coat, bowl = self.bench.coat, self.bench.bowl
        kept = {"minutes": coat.minutes, "vol": bowl.vol or None, "parts": bowl.parts or None}
        shown = {name: "" if number is None else decimals(f"{float(number):g}") for name, number in kept.items()}
        return shown | {name: given for name, given in self.refused.items() if name in shown}


def bench_page(
    person: Person,
    opened: OpenZone,
    *,
    sent: Mapping[str, str],
    panel: str = "",
    refusal: Refusal | None = None,
    fixes_later: bool = False,
    rows: WorktopRows | None = None,
    by_list: bool = False,
) -> BenchPage:
    """Gather the Bench. sent: what the request brought, so that a refused field keeps what was typed in it.

    panel: what is asked to lie over the middle, one of PANELS. fixes_later: leave the corrections to a later request.
    rows: what stands on the worktop, if a change has just read it. by_list: see `Sight`.
    """
    bench, sight = bench_of(person, opened, rows), sight_of(sent, by_list=by_list)
    if bench.coat.lifts:
        weigh_powder()
    seen = forecast_of(bench, sight)
    covers = sight.mode == "guess" and not bench.coat.lifts
    panel = panel if not covers or panel in UNTOLD_PANELS else ""
    status = None
    over = Panel()
    try:
        over = panel_of(person, bench, panel, limits_of(sent), sight=sight, dry=partial(_own_lock, seen))
    except Refusal as no_answer:
        refusal, status = no_answer, 422
    typed = sent if refusal else {}
    aim, steering = seen.forecast.aim, is_steering(bench, sight)
    wander = None if covers else spread_of(bench)
    target = bench.target_lab
    return BenchPage(
        person=person,
        bench=bench,
        sight=sight,
        now=seen.now,
        then=woven_lock(bench, seen),
        aim_lock=seen.aim,
        tabs=zone_tabs(bench, seen),
        labels=tress_labels(bench, seen),
        rail=rail_rows_of(bench, sent.get("shade", "")),
        layers=layers_of(bench),
        coats=coat_steps(bench, seen, typed),
        bare_hex=bare_hex(bench),
        middle=guess_middle(bench, seen, open_guess(person, bench.zone.pk), typed)
        if covers
        else _middle(bench, seen, sight, wander, typed),
        depth=DepthMarks(
            now_y=plane.ladder_y(seen.now.lightness),
            now_hex=seen.now.hex,
            then_y=plane.ladder_y(float(seen.forecast.lab[0])),
            then_hex=seen.then.hex,
            aim_y="" if target is None else plane.ladder_y(float(target[0])),
        ),
        words=words_of(bench, seen, aim, sight),
        why=why_of(bench),
        delta_e00=decimals(f"{aim.delta_e00:.1f}") if aim and bench.pours else "",
        is_on_aim=bool(aim and bench.pours and aim.delta_e00 < ON_AIM),
        wander=decimals(f"{wander.within_90:.1f}") if wander else "",
        shorts=tuple(each.words for each in shorts_in(bench)),
        guessed_lately="" if covers or fixes_later else _guessed_lately(person, bench, seen),
        notices=notices_of(bench, seen),
        corrections=None if fixes_later and bench.pours and target is not None else quick_fixes_of(bench),
        total=shown_weight(bench.total_g),
        version=str(bench.worktop.version),
        parts=parts_of(bench),
        cost=cost_of(bench),
        measures=measures_of(bench),
        wanted=typed.get("total_grams", brief_number(bench.bowl.wanted_g)),
        typed_grams=typed.get("grams", "") if not typed.get("by") else "",
        note=sent.get("note", ""),
        panel=over,
        shown=sent.get("shown", ""),
        wish=getattr(getattr(opened.visit, "consult", None), "wish", ""),
        picking="hair" if sent.get("picking") == "hair" else "paper",
        error_field=place_of_refusal(refusal, over, steering=steering) if refusal else "",
        error_words=refusal_words(refusal) if refusal else "",
        status=status,
        refused=typed,
    )


def _own_lock(seen: BenchForecast) -> Lock:
    """The zone in hand alone as it will be, dry, without the zones above and below it."""
    return lock_of_colour(tuple(seen.forecast.lab.tolist()))


def _guessed_lately(person: Person, bench: Bench, seen: BenchForecast) -> str:
    """How near a guess came that this forecast was shown for; at most one query."""
    guess = last_shown(person, bench.zone.pk, seen.forecast.lab) if bench.pours else None
    return guessed_words(guess) if guess else ""


def _middle(
    bench: Bench, seen: BenchForecast, sight: Sight, wander: Spread | None, typed: Mapping[str, str]
) -> SteerMiddle | AimMiddle | LiftMiddle:
    if bench.coat.lifts:
        return lift_middle(bench)
    return steer_middle(bench, seen, sight, wander) if is_steering(bench, sight) else aim_middle(bench, seen, typed)


def is_steering(bench: Bench, sight: Sight) -> bool:
    """Whether the middle steers: as it is asked for, else once there is something in the bowl."""
    return sight.mode in ("steer", "list") or (sight.mode not in ("aim", "guess") and bool(bench.pours))
