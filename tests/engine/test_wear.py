"""A wish as it is worn. Which step goes with which occasion is common practice, no published source."""

import unittest

import numpy as np

from engine.bowl.mix import FULL_TIME_DRY
from engine.bowl.predict import predict
from engine.colorimetry.difference import delta_e00
from engine.dye.shelf import demo_shelf
from engine.hair.canvas import Canvas
from engine.service.aftercare import Habits
from engine.service.taste import Eyes, Skin, taste_of
from engine.service.wear import WEEKS_A_YEAR, WORN, Wear, Wearing, after_visits, bowl_for, wearing

CANVAS = Canvas(level=10)
VIOLET = np.array([55.0, 22.0, -20.0])
SHELF = list(demo_shelf().values())


def worn(wear: Wear, **habits: float) -> Wearing:
    bowl = bowl_for(CANVAS, VIOLET, SHELF)
    return wearing(CANVAS, bowl, demo_shelf()["clear"], wear, Habits(**habits))


class Worn(unittest.TestCase):
    def test_the_less_daring_the_nearer_to_the_hair_as_it_is(self) -> None:
        bare = predict(CANVAS, None).lab
        off = [float(delta_e00(bare, worn(step).lengths_lab)) for step in Wear]
        self.assertEqual(off, sorted(off))
        self.assertGreater(off[-1], 2 * off[0])
        parts = [worn(step).parts for step in Wear]
        self.assertEqual(parts, sorted(parts, reverse=True))

    def test_on_stage_it_is_the_wish_from_the_root_on(self) -> None:
        stage = worn(Wear.STAGE)
        self.assertLess(float(delta_e00(VIOLET, stage.lengths_lab)), 2.0)
        np.testing.assert_allclose(stage.root_lab, stage.lengths_lab, atol=1e-6)

    def test_a_root_in_shadow_is_deeper_and_one_that_is_left_is_the_hair(self) -> None:
        self.assertLess(worn(Wear.DAILY).root_lab[0], worn(Wear.DAILY).lengths_lab[0] - 5)
        np.testing.assert_allclose(worn(Wear.WORK).root_lab, predict(CANVAS, None).lab)

    def test_who_wears_it_boldly_comes_again_sooner(self) -> None:
        weeks = [worn(step, washes_a_week=0.5).worn.regrowth_weeks for step in Wear]
        self.assertEqual(weeks, sorted(weeks, reverse=True))
        for step in Wear:
            each = worn(step)
            self.assertEqual(each.weeks, min(each.keeps.come_again_weeks, WORN[step].regrowth_weeks))
            self.assertGreaterEqual(each.visits_a_year * each.weeks, WEEKS_A_YEAR)

    def test_over_several_visits_a_pastel_is_had_that_is_not_had_today(self) -> None:
        dark = Canvas(level=6)
        pastel = np.array([78.0, 12.0, -10.0])
        today = predict(dark, bowl_for(dark, pastel, SHELF)).lab
        later = after_visits(dark, 10.5, pastel, SHELF, FULL_TIME_DRY)
        self.assertLess(float(delta_e00(pastel, later)), float(delta_e00(pastel, today)) - 5)


class Taste(unittest.TestCase):
    def test_nothing_is_said_before_skin_or_eyes_are_told(self) -> None:
        self.assertEqual(taste_of(VIOLET, None, None), ())

    def test_every_skin_and_eyes_have_a_sentence_and_a_strong_colour_one_more(self) -> None:
        for lab in (VIOLET, np.array([60.0, 40.0, 40.0])):
            for skin in Skin:
                for eyes in Eyes:
                    with self.subTest(skin=skin, eyes=eyes):
                        self.assertGreaterEqual(len(taste_of(lab, skin, eyes)), 2)
        self.assertEqual(len(taste_of(np.array([60.0, 50.0, 40.0]), Skin.WARM, None)), 2)
