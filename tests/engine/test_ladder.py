"""The undertone ladder as data, both schools at level 8, and fillers. Common practice, no published source."""

from unittest import TestCase

import numpy as np

from engine.bowl.fill import fill
from engine.bowl.filler import Filler
from engine.bowl.weigh import Scale
from engine.colorimetry.lab import lch_of
from engine.dye.kind import Kind
from engine.dye.shelf import demo_shelf
from engine.errors import BadInput, OutOfRange
from engine.hair.canvas import Canvas
from engine.hair.ladder import CLEAN_WHITE, Ladder, Rung, School, school_ladder
from engine.hair.reading import canvas_lab
from engine.hair.residue import level_lightness, level_of_lightness
from tests.engine.made import bowl

SHELF = tuple(demo_shelf().values())
DARK, LIGHT = Rung(level=1, undertone="dark"), Rung(level=9, undertone="straw", warmth=1.0, lean=4.0)


def bare_hue(school: School, level: float) -> float:
    return float(lch_of(canvas_lab(school_ladder(school).canvas(level)))[2])


class Schools(TestCase):
    def test_f20_the_default_school_has_the_trades_words(self) -> None:
        words = [school_ladder().undertone(level) for level in range(1, 12)]
        self.assertEqual(words[0], "dark red-brown")
        self.assertEqual(words[3:9], ["red-orange", "orange", "orange-gold", "gold", "yellow-gold", "yellow"])
        self.assertEqual(words[9:], ["palest yellow", CLEAN_WHITE])

    def test_schools_differ_at_level_eight_and_agree_at_ten(self) -> None:
        yellow, orange = (bare_hue(school, 8) for school in (School.YELLOW_GOLD_AT_8, School.ORANGE_AT_8))
        self.assertGreater(yellow, 75)
        self.assertLess(orange, 66)
        self.assertAlmostEqual(*(bare_hue(school, 10) for school in School))

    def test_every_school_walks_from_red_to_yellow_as_the_level_rises(self) -> None:
        for school in School:
            hues = [bare_hue(school, level) for level in np.arange(4, 10.5, 0.5)]
            self.assertEqual(hues, sorted(hues), school)

    def test_a_level_keeps_its_lightness_in_every_school(self) -> None:
        for school in School:
            found = canvas_lab(school_ladder(school).canvas(7.5))[0]
            self.assertAlmostEqual(float(found), float(level_lightness(7.5)), places=6)
            self.assertAlmostEqual(float(level_of_lightness(found)), 7.5, places=6)


class OwnLadders(TestCase):
    def test_between_rungs_the_undertone_runs_straight_and_the_nearer_word_holds(self) -> None:
        own = Ladder(rungs=(DARK, LIGHT))
        self.assertEqual(own.undertone_at(5), (0.5, 2.0))
        self.assertEqual([own.undertone(level) for level in (4.9, 5.0)], ["dark", "straw"])

    def test_ladders_that_make_no_sense_are_refused_by_field(self) -> None:
        for rungs, field in (
            ((DARK,), "ladder (entries)"),
            ((LIGHT, DARK), "ladder.1.level"),
            ((DARK, Rung(level=1, undertone="twice")), "ladder.1.level"),
            ((DARK, Rung(level=5, undertone="  ")), "ladder.1.undertone"),
            ((DARK, Rung(level=5, undertone="x", lean=11)), "ladder.1.lean"),
            ((DARK, Rung(level=12, undertone="x")), "ladder.1.level"),
        ):
            with self.subTest(field=field), self.assertRaises(BadInput) as caught:
                Ladder(rungs=rungs)
            self.assertEqual(caught.exception.field, field)

    def test_a_level_off_the_ladder_is_refused(self) -> None:
        with self.assertRaises(OutOfRange):
            school_ladder().canvas(11.5)


class Fillers(TestCase):
    def test_all_four_fillers_bring_the_hair_down_to_the_level(self) -> None:
        found = fill(Canvas(level=9.5), 6, SHELF, scale=Scale(), final=bowl(black=5, clear=25))
        self.assertEqual({each.filler for each in found.fillers}, set(Filler))
        for each in found.fillers:
            self.assertAlmostEqual(float(each.filled_lab[0]), float(level_lightness(6)), places=4)

    def test_they_come_best_first_and_the_cast_of_each_is_told(self) -> None:
        found = fill(Canvas(level=9.5), 6, SHELF, scale=Scale(), final=bowl(black=5, clear=25))
        misses = [each.delta_e00 for each in found.fillers]
        self.assertEqual(misses, sorted(misses))
        casts = {each.filler: each.cast for each in found.fillers}
        self.assertIn("too red", casts[Filler.DIRECT_RED])
        self.assertNotIn("too red", casts[Filler.BROWN])

    def test_without_a_final_bowl_the_filled_hair_itself_is_judged(self) -> None:
        found = fill(Canvas(level=10), 6, SHELF, scale=Scale())
        self.assertEqual(found.fillers[0].filler, Filler.GOLD_NEUTRAL)
        self.assertTrue(all(each.final_lab is None and each.cast == "" for each in found.fillers))

    def test_where_no_fill_is_due_no_filler_is_offered(self) -> None:
        self.assertEqual(fill(Canvas(level=10), 9, SHELF, scale=Scale()).fillers, ())


class Habits(TestCase):
    def test_every_kind_nearly_finishes_within_its_usual_minutes(self) -> None:
        for kind in Kind:
            reached = 1 - np.exp(-kind.habits.usual_min[1] / kind.habits.time_constant_min)
            self.assertGreater(reached, 0.9, kind)
