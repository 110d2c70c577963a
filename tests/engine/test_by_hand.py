"""Ways that a colourist lays out by hand. Common practice, no published source, on top of the forecast."""

import unittest

import numpy as np

from engine.colorimetry.lab import lab_from_lch
from engine.dye.shelf import demo_shelf
from engine.errors import BadInput, EmptyShelf, OutOfRange
from engine.hair.canvas import Canvas
from engine.hair.residue import Family
from engine.service.by_hand import ByHand, route_by_hand
from engine.service.lift import Strength
from engine.service.route import RouteKind, routes
from engine.service.steps import HairCost, StepKind

SHELF = list(demo_shelf().values())
LAVENDER = lab_from_lch(np.array([74.0, 18.0, 300.0]))
DEEP_RED = lab_from_lch(np.array([32.0, 34.0, 20.0]))
NATURAL_SIX = Canvas(level=6, family=Family.NATURAL)


class ByHandRoutes(unittest.TestCase):
    def test_a_lift_goes_to_the_level_with_the_strength_that_is_asked_for(self) -> None:
        found = route_by_hand(NATURAL_SIX, LAVENDER, SHELF, ByHand(lift_to=9, vol=30))
        assert found.lift is not None
        self.assertEqual((found.kind, found.lift.stop_level, found.lift.vol, found.lift.visits), ("by_hand", 9, 30, 1))
        self.assertEqual([step.kind for step in found.steps], [StepKind.LIFT, StepKind.CLEAN_UP, StepKind.DEPOSIT])
        self.assertLess(found.lift.expected_min[1], 60)

    def test_it_comes_as_near_as_the_proposed_way_to_the_same_level(self) -> None:
        proposed = routes(NATURAL_SIX, LAVENDER, SHELF).proposed
        assert proposed.lift is not None
        same = route_by_hand(NATURAL_SIX, LAVENDER, SHELF, ByHand(lift_to=proposed.lift.stop_level))
        self.assertAlmostEqual(same.delta_e00, proposed.delta_e00)

    def test_past_what_the_hair_should_bear_is_said_and_not_refused(self) -> None:
        weak = Strength(fragile=True)
        found = route_by_hand(NATURAL_SIX, LAVENDER, SHELF, ByHand(lift_to=10), strength=weak)
        self.assertIn("4 levels in one visit: more than the 2", found.reasons[0])
        self.assertEqual(found.cost, HairCost.MUCH)

    def test_light_hair_is_filled_for_any_colour_and_lifted_hair_after_its_lift(self) -> None:
        found = route_by_hand(Canvas(level=9.5), LAVENDER, SHELF, ByHand(fill=True))
        self.assertIn(StepKind.FILL, [step.kind for step in found.steps])
        both = route_by_hand(NATURAL_SIX, DEEP_RED, SHELF, ByHand(lift_to=8, fill=True))
        self.assertEqual([step.kind for step in both.steps][-2:], [StepKind.FILL, StepKind.DEPOSIT])
        self.assertLess(both.canvas.level, 8)

    def test_with_neither_it_is_colour_alone(self) -> None:
        alone = route_by_hand(Canvas(level=9), LAVENDER, SHELF, ByHand())
        self.assertEqual([step.kind for step in alone.steps], [StepKind.DEPOSIT])
        self.assertEqual((alone.kind, alone.cost), (RouteKind.BY_HAND, HairCost.NONE))

    def test_what_can_not_be_is_refused_by_its_field(self) -> None:
        for wanted, field, wrong in (
            (ByHand(lift_to=6), "lift_to", BadInput),
            (ByHand(lift_to=12), "wanted_level", OutOfRange),
            (ByHand(lift_to=8, vol=0), "vol", OutOfRange),
            (ByHand(fill=True), "fill", BadInput),
        ):
            with self.subTest(wanted=wanted), self.assertRaises(wrong) as caught:
                route_by_hand(NATURAL_SIX, LAVENDER, SHELF, wanted)
            self.assertEqual(caught.exception.field, field)
        with self.assertRaises(EmptyShelf):
            route_by_hand(NATURAL_SIX, LAVENDER, [], ByHand())
