"""One aim from several lines.

That permanent colour keeps longest and direct dye costs the hair nothing: common practice, no published source.
"""

import unittest
from dataclasses import replace

import numpy as np

from engine.bowl.fade import VISIBLY_OFF, fade
from engine.bowl.match import match
from engine.bowl.pot import POT_MOST_G, most_mended_g, pots_for, room_for_more_g
from engine.bowl.ranking import CHANCE
from engine.bowl.weigh import Scale
from engine.colorimetry.difference import delta_e00
from engine.colorimetry.lab import lab_from_lch
from engine.dye.kind import Kind
from engine.dye.shelf import demo_shelf
from engine.errors import EmptyShelf
from engine.hair.canvas import Canvas
from engine.service.lines import Shine, line_way, ranked_across
from engine.service.steps import HairCost

DIRECT = [shade for shade in demo_shelf().values() if shade.is_clear or shade.kind is Kind.DIRECT]
HAIR, COPPER = Canvas(level=9), lab_from_lch(np.array([58.0, 40.0, 55.0]))
SCALE = Scale(total_g=60.0)


def as_kind(kind: Kind):
    return [shade if shade.is_clear else replace(shade, kind=kind) for shade in DIRECT]


class Lines(unittest.TestCase):
    def test_what_is_gentler_keeps_shorter(self) -> None:
        ways = [line_way(HAIR, COPPER, as_kind(kind), scale=SCALE) for kind in (Kind.DIRECT, Kind.DEMI, Kind.PERMANENT)]
        keeps = [way.keeps_washes or 99 for way in ways]
        self.assertEqual(keeps, sorted(keeps))
        self.assertEqual(len(set(keeps)), 3)
        self.assertEqual([way.cost for way in ways], [HairCost.NONE, HairCost.LITTLE, HairCost.SOME])
        self.assertEqual([way.shine for way in ways], [Shine.MORE, Shine.MORE, Shine.OWN])

    def test_the_recipe_is_the_nearest_and_its_life_is_that_of_its_fade(self) -> None:
        way = line_way(HAIR, COPPER, DIRECT, scale=SCALE)
        self.assertAlmostEqual(float(delta_e00(way.recipe.forecast.lab, COPPER)), way.recipe.delta_e00, places=6)
        path = fade(HAIR, way.recipe.bowl, washes=60)
        self.assertGreater(path.delta_e00[way.keeps_washes], VISIBLY_OFF)
        self.assertLessEqual(path.delta_e00[way.keeps_washes - 1], VISIBLY_OFF)

    def test_a_mixed_line_is_judged_by_its_strongest_kind(self) -> None:
        mixed = [*as_kind(Kind.DEMI)[:-1], *as_kind(Kind.PERMANENT)]
        way = line_way(HAIR, COPPER, mixed, scale=SCALE)
        used = {shade.kind for shade in way.recipe.bowl.colours}
        self.assertEqual(way.cost, HairCost.SOME if Kind.PERMANENT in used else HairCost.LITTLE)

    def test_a_line_without_colour_is_refused(self) -> None:
        with self.assertRaises(EmptyShelf):
            line_way(HAIR, COPPER, [shade for shade in DIRECT if shade.is_clear], scale=SCALE)


class Across(unittest.TestCase):
    """Recipes of several lines in one order."""

    def setUp(self) -> None:
        reds = [shade for shade in DIRECT if shade.is_clear or shade.name in ("red", "copper", "yellow")]
        blues = [shade for shade in DIRECT if shade.is_clear or shade.name in ("blue", "violet")]
        self.found = [
            match(HAIR, line, COPPER, scale=SCALE, answers=4).recipes for line in (blues, reds, as_kind(Kind.DEMI))
        ]

    def test_the_best_of_each_line_comes_before_a_second_of_any(self) -> None:
        ranked = ranked_across(self.found, 3)
        self.assertEqual({line for line, _ in ranked}, {0, 1, 2})
        for line, recipe in ranked:
            self.assertIs(recipe, self.found[line][0])

    def test_what_is_farther_off_comes_later_and_places_that_are_left_go_to_the_next_best(self) -> None:
        ranked = ranked_across(self.found, 5)
        self.assertEqual(len(ranked), 5)
        self.assertEqual(ranked[-1][0], 0)  # no blue comes near a copper
        chances = [round(recipe.chance / CHANCE) for _, recipe in ranked]
        self.assertEqual(chances, sorted(chances, reverse=True))

    def test_of_more_lines_than_answers_the_farthest_are_left_out(self) -> None:
        ranked = ranked_across(self.found, 2)
        self.assertEqual([line for line, _ in ranked if line == 0], [])


class Pots(unittest.TestCase):
    """What a mixing pot takes."""

    def test_so_many_batches_that_none_overflows(self) -> None:
        for grams, pots in ((0.5, 1), (POT_MOST_G, 1), (POT_MOST_G + 0.1, 2), (3.2 * POT_MOST_G, 4)):
            with self.subTest(grams=grams):
                self.assertEqual(pots_for(grams), pots)
                self.assertLessEqual(grams / pots, POT_MOST_G)

    def test_a_bowl_grows_by_what_is_wanted_and_never_past_the_pot(self) -> None:
        self.assertEqual(most_mended_g(20, 60), 120)
        self.assertEqual(most_mended_g(1400, 60), POT_MOST_G)
        self.assertEqual(most_mended_g(1600, 60), 1600)  # what is in it stays in it
        self.assertAlmostEqual(room_for_more_g(60, 60), 36)
        self.assertAlmostEqual(room_for_more_g(1490, 60), 10)
        self.assertLess(room_for_more_g(1600, 60), 0)
