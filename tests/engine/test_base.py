"""The sentence of the opposite base. Common practice, no published source."""

import unittest

import numpy as np

from engine.colorimetry.lab import lab_from_lch
from engine.hair.canvas import Canvas
from engine.hair.ladder import School, school_ladder
from engine.hair.residue import Family
from engine.service.base import base_sentence, opposite_of

LADDER = school_ladder(School.YELLOW_GOLD_AT_8)
PEARL = lab_from_lch(np.array([80.0, 5.0, 300.0]))
COPPER = lab_from_lch(np.array([50.0, 45.0, 60.0]))


class Bases(unittest.TestCase):
    def test_violet_yellow_blue_orange_green_red(self) -> None:
        for undertone, base in (
            ("palest yellow", "violet"),
            ("yellow", "violet"),
            ("yellow-gold", "violet"),
            ("gold", "blue-violet"),
            ("orange-gold", "blue"),
            ("orange", "blue"),
            ("red-orange", "blue-green"),
            ("red", "green"),
            ("dark red-brown", "green"),
            ("clean white", None),
        ):
            self.assertEqual(opposite_of(undertone), base, undertone)

    def test_level_six_shows_orange_gold_and_a_blue_base_holds_it(self) -> None:
        said = base_sentence(LADDER.canvas(6), PEARL, LADDER)
        self.assertEqual(said, "Level 6 will show orange-gold: a blue base holds it.")
        self.assertIn("a violet base", base_sentence(LADDER.canvas(9), PEARL, LADDER))

    def test_a_colour_of_the_same_warmth_takes_it_in(self) -> None:
        self.assertIn("which this colour takes in", base_sentence(LADDER.canvas(7), COPPER, LADDER))

    def test_nothing_is_said_of_white_and_of_natural_hair(self) -> None:
        self.assertEqual(base_sentence(Canvas(level=11), PEARL, LADDER), "")
        self.assertEqual(base_sentence(Canvas(level=6, family=Family.NATURAL), PEARL, LADDER), "")

    def test_every_level_that_shows_warmth_has_its_sentence_in_both_schools(self) -> None:
        for school in School:
            ladder = school_ladder(school)
            for level in range(2, 11):
                self.assertIn("base holds it", base_sentence(ladder.canvas(level), PEARL, ladder), (school, level))
