"""What the schools of a house change, told before a rule is kept.

Which is right: common practice, no published source.
"""

import unittest

import numpy as np

from engine.arrays import FloatArray
from engine.bowl.fill import FillFrom
from engine.colorimetry.difference import delta_e00
from engine.dye.shelf import demo_shelf
from engine.hair.canvas import Canvas
from engine.hair.residue import level_of_lightness
from engine.service.route import RouteKind, routes
from engine.service.schools import effects

HAIR = Canvas(level=8.5)
SCHOOLS = (FillFrom.TWO_LEVELS, FillFrom.MORE_THAN_TWO)


class Schools(unittest.TestCase):
    def setUp(self) -> None:
        self.told = {name: {each.choice: each for each in found} for name, found in effects().items()}

    def test_each_choice_of_a_rule_does_something_else(self) -> None:
        for name, found in self.told.items():
            with self.subTest(rule=name):
                self.assertGreater(len(found), 1)
                self.assertGreater(len({each.words for each in found.values()}), 1)

    def test_the_two_ladders_are_told_apart_by_eye(self) -> None:
        yellow, orange = self.told["school"].values()
        self.assertIn("yellow-gold", yellow.words)
        self.assertGreater(float(delta_e00(yellow.lab, orange.lab)), 5)
        self.assertGreater(orange.lab[1], yellow.lab[1])  # redder

    def test_two_levels_a_visit_take_more_visits(self) -> None:
        self.assertIn("2 visits", self.told["strong_lift"]["steps"].words)
        self.assertIn("3 visits", self.told["strong_lift"]["two"].words)

    def test_hair_that_is_filled_first_is_warmer_and_deeper(self) -> None:
        filled, bare = self.told["fill_from"].values()
        self.assertLess(filled.lab[0], bare.lab[0])
        self.assertGreater(filled.lab[1], bare.lab[1])

    def test_open_work_is_mixed_thicker(self) -> None:
        self.assertIn("to 1 of", self.told["lay"]["open"].words)
        self.assertIn("to 2 of", self.told["lay"]["foil"].words)

    def test_exactly_two_levels_down_part_the_schools_of_filling(self) -> None:
        shelf = tuple(demo_shelf().values())
        for down, is_filled in ((2.0, [True, False]), (3.0, [True, True])):
            found = [routes(HAIR, brown(HAIR.level - down), shelf, fill_from=school) for school in SCHOOLS]
            kinds = [{each.kind for each in (ways.proposed, *ways.others)} for ways in found]
            self.assertEqual([RouteKind.FILL in each for each in kinds], is_filled)


def brown(level: float) -> FloatArray:
    """A warm brown, L*a*b* (3,), as deep as a level."""
    low, high = 5.0, 95.0
    for _ in range(60):
        middle = (low + high) / 2
        low, high = (middle, high) if level_of_lightness(middle) < level else (low, middle)
    return np.array([(low + high) / 2, 10.0, 22.0])
