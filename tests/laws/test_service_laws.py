"""Laws of the work before the bowl, for any head: lifts, gates, routes and readings. Our own, no published source."""

import unittest
from dataclasses import replace

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from engine.bowl.cautions import Severity
from engine.colorimetry.difference import delta_e00
from engine.colorimetry.lab import lab_from_lch
from engine.dye.shelf import demo_shelf
from engine.hair.canvas import Canvas, OldColour
from engine.hair.instrument import OUTLIER_FROM, average_readings
from engine.hair.reading import canvas_lab, level_doubt
from engine.hair.residue import Family
from engine.service.known import House, Known, Scalp, SensitivityTest
from engine.service.lift import MOST_MIN, Lay, Strength, lift
from engine.service.past import Earlier, Past
from engine.service.route import RouteKind, routes
from engine.service.safety import check, still_covers
from engine.service.steps import HairCost, StepKind
from engine.service.work import Place, Work, WorkKind

LEVELS = st.floats(1, 11)
POROSITIES = st.floats(0.5, 1.6)
STRENGTHS = st.builds(
    Strength, fragile=st.booleans(), curl_sets_limit=st.booleans(), lifts_before=st.integers(min_value=0, max_value=6)
)
FAMILIES = st.sampled_from(Family)
SHELF = [demo_shelf()[name] for name in ("yellow", "crimson", "magenta", "violet", "blue", "black", "clear")]
TARGETS = st.tuples(st.floats(25, 80), st.floats(5, 35), st.floats(0, 359))
PASTS = st.lists(st.builds(Past, work=st.sampled_from(Earlier), days_ago=st.integers(0, 900)), max_size=4)
PARTS = st.sampled_from(("whole", "roots", "mids", "ends", "frame"))
LINES = st.sampled_from(("", "Tidemark", "Ropewalk"))
TESTS = st.lists(st.builds(SensitivityTest, hours_ago=st.floats(0, 9000), clear=st.booleans(), line=LINES), max_size=3)
PLACES = st.builds(Place, part=PARTS, porosity=POROSITIES, is_natural=st.booleans(), overlaps_light=st.booleans())
WORKS = st.builds(
    Work,
    kind=st.sampled_from(WorkKind),
    place=PLACES,
    line=LINES,
    asks_test=st.booleans(),
    vol=st.sampled_from((0.0, 7.0, 20.0, 30.0, 40.0, 45.0)),
    lift_levels=st.floats(0, 6),
    heat=st.booleans(),
    unguarded=st.booleans(),
)
KNOWNS = st.builds(
    Known,
    age_years=st.none() | st.integers(5, 90),
    scalp=st.sampled_from(Scalp),
    reacted=st.booleans(),
    past=PASTS,
    tests=TESTS,
    lifted_today=st.floats(0, 3),
    is_virgin=st.booleans(),
    is_fragile=st.booleans(),
    is_curly=st.booleans(),
    stretch_failed=st.booleans(),
    stung_today=st.booleans(),
    pregnant=st.booleans(),
    house=st.builds(House, health_stops=st.booleans(), minors_stop=st.booleans()),
)


class Lifts(unittest.TestCase):
    @given(LEVELS, LEVELS, POROSITIES, STRENGTHS, st.sampled_from(Lay), st.booleans(), FAMILIES)
    def test_a_lift_stays_within_what_hair_scalp_and_clock_bear(
        self, level: float, wanted: float, porosity: float, strength: Strength, lay: Lay, on_scalp: bool, family: Family
    ) -> None:
        canvas = Canvas(level=level, porosity=porosity, family=family)
        plan = lift(canvas, wanted, strength=strength, lay=lay, on_scalp=on_scalp)
        if wanted <= level:
            self.assertIsNone(plan)
            return
        self.assertLessEqual(plan.levels, 2 if strength.gives_way else 4)
        self.assertLessEqual(plan.stop_level, wanted)
        self.assertLessEqual(plan.vol, 20 if on_scalp else 30)
        self.assertTrue(0 < plan.expected_min[0] <= plan.expected_min[1] <= MOST_MIN * plan.applications)
        self.assertEqual(plan.after.family, Family.LIGHTENED)
        self.assertGreaterEqual(plan.visits * (2 if strength.gives_way else 4) + 1e-6, wanted - level)

    @given(LEVELS, st.floats(0, 1), POROSITIES)
    def test_a_lighter_wish_never_takes_fewer_visits(self, level: float, more: float, porosity: float) -> None:
        canvas, wanted = Canvas(level=level, porosity=porosity), min(level + 1.5, 11.0)
        near, far = lift(canvas, wanted), lift(canvas, min(wanted + more, 11.0))
        if near is None:
            return
        self.assertLessEqual(near.visits, far.visits)
        self.assertLessEqual(near.stop_level, far.stop_level)


def stops(work: Work, known: Known) -> set[str]:
    return {gate.code for gate in check(work, known) if gate.stops}


class Gates(unittest.TestCase):
    @given(WORKS, KNOWNS)
    def test_stops_come_first_and_no_code_twice(self, work: Work, known: Known) -> None:
        raised = check(work, known)
        codes = [gate.code for gate in raised]
        self.assertEqual(len(codes), len(set(codes)))
        order = [(Severity.STOP, Severity.CAUTION, Severity.NOTE).index(gate.severity) for gate in raised]
        self.assertEqual(order, sorted(order))

    @given(WORKS, KNOWNS)
    def test_peroxide_never_goes_on_without_a_test_of_its_line_that_counts(self, work: Work, known: Known) -> None:
        counts = any(test.clear and test.line == work.line and 48 <= test.hours_ago <= 24 * 183 for test in known.tests)
        barred = {"sensitivity_test", "reacted_before", "test_reacted", "mixed_kept"}
        if work.has_peroxide and not counts:
            self.assertTrue(stops(work, known) & barred)
        if not work.has_peroxide and not work.asks_test:
            self.assertFalse(stops(work, known) & (barred | {"under_age", "unknown_chemistry"}))

    @given(WORKS, KNOWNS, st.sampled_from(("lift", "vol", "past", "scalp", "sting", "fragile")))
    def test_no_fact_that_gets_worse_opens_a_stop(self, work: Work, known: Known, worse: str) -> None:
        lifted = Past(work=Earlier.LIFT, days_ago=3)
        after, knew = {
            "lift": (replace(work, lift_levels=min(work.lift_levels + 1, 10)), known),
            "vol": (replace(work, vol=work.vol + 10), known),
            "past": (work, replace(known, past=[*known.past, lifted])),
            "scalp": (work, replace(known, scalp=Scalp.BROKEN)),
            "sting": (work, replace(known, stung_today=True)),
            "fragile": (work, replace(known, is_fragile=True)),
        }[worse]
        shut = stops(work, known) - {"scalp_not_sound", "too_strong_for_scalp"}  # taken over by a graver one
        self.assertLessEqual(shut, stops(after, knew))
        self.assertGreaterEqual(len(stops(after, knew)), len(stops(work, known)))

    @given(WORKS, KNOWNS)
    def test_a_signature_covers_the_gate_that_it_was_given_for(self, work: Work, known: Known) -> None:
        for gate in check(work, known):
            if gate.may_be_signed:
                self.assertTrue(still_covers(gate.given, gate))
                self.assertFalse(still_covers({name: number - 1 for name, number in gate.given.items()}, gate))


class Routes(unittest.TestCase):
    @settings(max_examples=25, deadline=None)
    @given(LEVELS, FAMILIES, TARGETS, STRENGTHS, st.none() | st.sampled_from(("blue", "magenta")))
    def test_every_route_ends_with_colour_says_why_and_tells_its_true_distance(
        self,
        level: float,
        family: Family,
        target: tuple[float, float, float],
        strength: Strength,
        old: str | None,
    ) -> None:
        layers = (OldColour(shade=demo_shelf()[old], k_s=0.5),) if old else ()
        canvas, lab = Canvas(level=level, family=family, old=layers), lab_from_lch(np.array(target))
        found = routes(canvas, lab, SHELF, strength=strength)
        for route in (found.proposed, *found.others):
            self.assertEqual(route.steps[-1].kind, StepKind.DEPOSIT)
            self.assertTrue(route.reasons and all(route.reasons))
            self.assertAlmostEqual(route.delta_e00, float(delta_e00(lab, route.lab)), delta=0.05)
            self.assertLessEqual(route.minutes[0], route.minutes[1])
            lifts = any(step.kind is StepKind.LIFT for step in route.steps)
            self.assertEqual(lifts, route.lift is not None)
            self.assertEqual(lifts, route.cost >= HairCost.SOME)
        kinds = [route.kind for route in (found.proposed, *found.others)]
        self.assertEqual(len(kinds), len(set(kinds)))
        deposit = next(r for r in (found.proposed, *found.others) if r.steps == r.steps[-1:])
        if deposit.reaches:  # hair that can be coloured as it is keeps its level
            self.assertNotIn(found.proposed.kind, {RouteKind.LIFT, RouteKind.RELIFT})


class Readings(unittest.TestCase):
    @given(st.integers(0, 10_000), st.integers(3, 12), LEVELS)
    def test_steady_readings_average_near_the_truth_and_refuse_only_outliers(
        self, seed: int, count: int, level: float
    ) -> None:
        truth = canvas_lab(Canvas(level=level))
        chance = np.random.default_rng(seed)
        labs = truth + chance.normal(0, 0.1, (count, 3))
        found = average_readings(labs.tolist())
        self.assertEqual(found.kept + len(found.refused), count)
        self.assertLess(float(np.linalg.norm(found.lab - truth)), 0.5)
        labs[0] += [30, 0, 0] if truth[0] < 60 else [-30, 0, 0]
        if count > OUTLIER_FROM:
            self.assertEqual(average_readings(labs.tolist()).refused, (0,))

    @given(st.floats(20, 85), st.floats(0, 5), st.floats(0, 5))
    def test_more_stray_is_never_surer(self, lightness: float, stray: float, more: float) -> None:
        self.assertLessEqual(level_doubt(lightness, stray), level_doubt(lightness, stray + more) + 1e-9)
