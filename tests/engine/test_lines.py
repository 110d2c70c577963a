"""One aim from several lines.

That permanent colour keeps longest and direct dye costs the hair nothing: common practice, no published source.
"""

import unittest
from dataclasses import replace

import numpy as np

from engine.bowl.fade import VISIBLY_OFF, fade
from engine.bowl.weigh import Scale
from engine.colorimetry.difference import delta_e00
from engine.colorimetry.lab import lab_from_lch
from engine.dye.kind import Kind
from engine.dye.shelf import demo_shelf
from engine.errors import EmptyShelf
from engine.hair.canvas import Canvas
from engine.service.lines import Shine, line_way
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
