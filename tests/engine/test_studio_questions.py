"""Over-pours, strategies for the undertone, learning from records, and characterising a new shade."""

from dataclasses import replace
from unittest import TestCase

import numpy as np

from engine.bowl.match import match
from engine.bowl.mix import Bowl
from engine.bowl.pour import after_pours
from engine.bowl.predict import predict
from engine.bowl.strategies import TONED_CHROMA, TONED_DEEPER, Strategy, compare
from engine.bowl.weigh import Scale
from engine.colorimetry.difference import delta_e00
from engine.colorimetry.lights import Light
from engine.dye.characterise import StrandTest, characterise
from engine.dye.shade import Shade
from engine.dye.shelf import demo_shelf
from engine.errors import BadInput, OutOfRange
from engine.hair.canvas import Canvas
from engine.hair.reading import canvas_lab
from tests.engine.made import CLEAN_WHITE, bowl, dyed

SHELF = tuple(demo_shelf().values())
TEN = Canvas(level=10)
MAGENTA, YELLOW, CLEAR = (demo_shelf()[name] for name in ("magenta", "yellow", "clear"))


class OverPours(TestCase):
    def setUp(self) -> None:
        self.planned = bowl(magenta=2, yellow=1, clear=57)

    def test_making_more_keeps_the_recipe_and_never_takes_anything_out(self) -> None:
        found = after_pours(TEN, self.planned, {MAGENTA: 2.5})
        self.assertAlmostEqual(found.factor, 1.25)
        self.assertLess(float(delta_e00(found.kept.lab, predict(TEN, self.planned).lab)), 0.5)
        self.assertAlmostEqual(found.total_g, 75, delta=0.2)
        self.assertNotIn(MAGENTA, found.still_to_pour)
        self.assertTrue(all(grams > 0 for grams in found.still_to_pour.values()))

    def test_leaving_it_forecasts_the_bowl_as_it_would_be(self) -> None:
        found = after_pours(TEN, self.planned, {MAGENTA: 2.5})
        np.testing.assert_allclose(found.left.lab, dyed(TEN, magenta=2.5, yellow=1, clear=57).lab, atol=1e-9)

    def test_a_pour_within_its_plan_changes_nothing(self) -> None:
        found = after_pours(TEN, self.planned, {MAGENTA: 1.5})
        self.assertEqual(found.factor, 1)
        self.assertEqual(found.still_to_pour[MAGENTA], 0.5)

    def test_a_shade_that_is_not_in_the_recipe_is_refused(self) -> None:
        with self.assertRaises(BadInput):
            after_pours(TEN, self.planned, {demo_shelf()["red"]: 1})


class Strategies(TestCase):
    def test_on_warm_hair_correcting_beats_keeping_the_warmth_for_a_cool_target(self) -> None:
        target = dyed(Canvas(level=10.2), magenta=1, violet=0.5, clear=40).lab
        found = {each.strategy: each for each in compare(Canvas(level=9.5), SHELF, target, scale=Scale())}
        self.assertEqual(set(found), set(Strategy))
        self.assertLess(found[Strategy.CORRECT_IN_BOWL].delta_e00, found[Strategy.KEEP_WARMTH].delta_e00)
        self.assertIsNotNone(found[Strategy.PRE_TONE].toner)

    def test_on_clean_white_no_pre_tone_is_offered_and_the_ways_agree(self) -> None:
        white = Canvas(level=11)
        found = compare(white, SHELF, dyed(white, magenta=1, clear=30).lab, scale=Scale())
        for each in found:
            self.assertLess(each.delta_e00, 0.5)

    def test_a_toner_of_one_or_two_shades_takes_the_warmth_as_well_as_one_of_three(self) -> None:
        for level, warmth in ((7, 0), (8, 1), (9, 0.5)):
            canvas = Canvas(level=level, warmth=warmth)
            found = compare(canvas, SHELF, dyed(Canvas(level=10.5), magenta=2, clear=40).lab, scale=Scale())
            toner = next(each.toner for each in found if each.strategy is Strategy.PRE_TONE)
            self.assertLessEqual(len(toner.colours), 2)
            bare = canvas_lab(canvas, Light.DAYLIGHT)
            aim = np.array([bare[0] - TONED_DEEPER, *bare[1:] * TONED_CHROMA])
            three = match(canvas, SHELF, aim, scale=Scale(), answers=1).recipes[0].delta_e00
            self.assertLess(float(delta_e00(predict(canvas, toner).lab, aim)), three + 0.5)

    def test_the_outcomes_come_nearest_first(self) -> None:
        found = compare(Canvas(level=8), SHELF, dyed(Canvas(level=9), red=3, clear=40).lab, scale=Scale())
        misses = [each.delta_e00 for each in found]
        self.assertEqual(misses, sorted(misses))


class Characterising(TestCase):
    def strands(self, name: str, shares: tuple[float, ...]) -> list[StrandTest]:
        grams = {share: {name: share, "clear": 1 - share + 1e-12} for share in shares}
        return [
            StrandTest(canvas=CLEAN_WHITE, share=share, lab=dyed(CLEAN_WHITE, **mix).lab, doubt=0.1)
            for share, mix in grams.items()
        ]

    def test_a_shade_is_found_from_strands_and_forecasts_dilutions_that_were_not_tested(self) -> None:
        for name in ("magenta", "blue", "copper"):
            found = characterise("new", self.strands(name, (1.0, 0.2, 0.04)))
            with self.subTest(shade=name):
                self.assertLess(float(found.misses.max()), 0.1)
                self.assertTrue(np.all(found.shade.spectrum >= 0))
                for canvas, parts in ((CLEAN_WHITE, 10.0), (TEN, 30.0)):
                    ours = predict(canvas, Bowl(grams={found.shade: 1.0, CLEAR: parts})).lab
                    true = dyed(canvas, **{name: 1.0, "clear": parts}).lab
                    self.assertLess(float(delta_e00(true, ours)), 0.1)

    def test_readings_that_wander_as_instruments_do_move_the_shade_no_further(self) -> None:
        wander = np.random.default_rng(7)
        strands = [
            replace(strand, lab=strand.lab + wander.normal(0, 0.4, 3))
            for strand in self.strands("blue", (1.0, 0.2, 0.04))
        ]
        found = characterise("new", strands)
        self.assertLess(float(found.misses.max()), 1.5)
        ours = predict(TEN, Bowl(grams={found.shade: 1.0, CLEAR: 30.0})).lab
        self.assertLess(float(delta_e00(dyed(TEN, blue=1.0, clear=30.0).lab, ours)), 1.5)

    def test_one_dilution_is_not_enough(self) -> None:
        with self.assertRaises(BadInput):
            characterise("new", self.strands("magenta", (0.2,)))

    def test_measured_samples_make_a_shade_and_bad_ones_are_refused(self) -> None:
        measured = Shade(name="m", samples=tuple(MAGENTA.spectrum.tolist()), strength=8)
        ours = predict(TEN, Bowl(grams={measured: 1, CLEAR: 30})).lab
        np.testing.assert_allclose(ours, dyed(TEN, magenta=1, clear=30).lab, atol=1e-9)
        for wrong in ((1.0,) * 80, (-1.0,) * 81):
            with self.assertRaises(OutOfRange):
                Shade(name="m", samples=wrong)
