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
from engine.service.lift import MOST_MIN, Strength, Way, lift
from engine.service.past import Past, Work
from engine.service.route import HairCost, RouteKind, StepKind, routes
from engine.service.safety import Facts, Scalp, SensitivityTest, gates

LEVELS = st.floats(1, 11)
POROSITIES = st.floats(0.5, 1.6)
STRENGTHS = st.builds(
    Strength, fragile=st.booleans(), curl_sets_limit=st.booleans(), lifts_before=st.integers(min_value=0, max_value=6)
)
FAMILIES = st.sampled_from(Family)
SHELF = [demo_shelf()[name] for name in ("yellow", "crimson", "magenta", "violet", "blue", "black", "clear")]
TARGETS = st.tuples(st.floats(25, 80), st.floats(5, 35), st.floats(0, 359))
PASTS = st.lists(st.builds(Past, work=st.sampled_from(Work), days_ago=st.integers(0, 900)), max_size=4)
TESTS = st.lists(st.builds(SensitivityTest, hours_ago=st.floats(0, 9000), clear=st.booleans()), max_size=3)
FACTS = st.builds(
    Facts,
    age_years=st.none() | st.integers(5, 90),
    scalp=st.sampled_from(Scalp),
    reacted=st.booleans(),
    past=PASTS,
    tests=TESTS,
    strand_tested=st.booleans(),
    oxidative=st.booleans(),
    lift_levels=st.floats(0, 6),
    lifts_before=st.integers(0, 6),
    days_since_lift=st.none() | st.integers(0, 400),
    porosity=POROSITIES,
    fragile=st.booleans(),
    vol=st.floats(0, 60),
    on_scalp=st.booleans(),
)


class Lifts(unittest.TestCase):
    @given(LEVELS, LEVELS, POROSITIES, STRENGTHS, st.sampled_from(Way), st.booleans(), FAMILIES)
    def test_a_lift_stays_within_what_hair_scalp_and_clock_bear(
        self, level: float, wanted: float, porosity: float, strength: Strength, way: Way, on_scalp: bool, family: Family
    ) -> None:
        canvas = Canvas(level=level, porosity=porosity, family=family)
        plan = lift(canvas, wanted, strength=strength, way=way, on_scalp=on_scalp)
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


class Gates(unittest.TestCase):
    @given(FACTS)
    def test_stops_come_first_and_no_code_twice(self, facts: Facts) -> None:
        raised = gates(facts)
        codes = [gate.code for gate in raised]
        self.assertEqual(len(codes), len(set(codes)))
        stops = [gate.severity is Severity.STOP for gate in raised]
        self.assertEqual(stops, sorted(stops, reverse=True))

    @given(FACTS)
    def test_oxidative_colour_is_never_free_of_a_clear_test(self, facts: Facts) -> None:
        codes = {gate.code for gate in gates(facts)}
        if facts.oxidative and not facts.test_in_force:
            self.assertTrue(codes & {"sensitivity_test", "reacted_before", "test_reacted"})
        if not facts.oxidative:
            self.assertFalse(codes & {"sensitivity_test", "reacted_before", "test_reacted", "under_age"})

    @given(FACTS)
    def test_a_further_lift_never_opens_a_gate(self, facts: Facts) -> None:
        fewer = {gate.code for gate in gates(facts) if gate.stops}
        more = {gate.code for gate in gates(replace(facts, lifts_before=facts.lifts_before + 1)) if gate.stops}
        self.assertLessEqual(fewer, more)


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
