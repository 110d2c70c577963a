"""Canvases, levels and the step from absorption to reflectance."""

from unittest import TestCase

import numpy as np

from engine.bowl.mix import Process
from engine.bowl.predict import predict, predict_zones
from engine.dye.shelf import demo_shelf
from engine.errors import OutOfRange, WrongType
from engine.hair.canvas import RANGES, Canvas, OldColour, fibres_of
from engine.hair.lock import BODY, lock_tones
from engine.hair.reflectance import (
    absorption_from,
    filled_up,
    mingled,
    reflectance,
    reflectance_and_slope,
)
from engine.hair.residue import level_lightness
from tests.engine.made import bowl


class Levels(TestCase):
    def test_bare_hair_has_the_lightness_of_its_level_whatever_its_undertone(self) -> None:
        printed = {1: 18, 2: 22, 3: 27, 4: 33, 5: 40, 6: 48, 7: 56.5, 8: 65, 9: 73, 10: 80, 8.5: 69}
        for level, expected in printed.items():
            for warmth, lean in ((0, 0), (-2, 10), (2, 0), (2, 10)):
                with self.subTest(level=level, warmth=warmth, lean=lean):
                    bare = predict(Canvas(level=level, warmth=warmth, lean=lean), None)
                    self.assertAlmostEqual(float(bare.lab[0]), expected, places=6)

    def test_levels_between_the_last_two_steps_run_up_to_clean_white(self) -> None:
        found = [level_lightness(level) for level in (10, 10.25, 10.5, 10.75, 11)]
        np.testing.assert_allclose(np.diff(found), (found[-1] - 80) / 4)

    def test_warmth_makes_hair_brassier_and_lean_makes_it_redder(self) -> None:
        ashy, plain, brassy = (predict(Canvas(level=8, warmth=w), None).lch for w in (-2, 0, 2))
        self.assertTrue(ashy[1] < plain[1] < brassy[1])
        yellow, leaning = (predict(Canvas(level=8, lean=lean), None).lch for lean in (0, 5))
        self.assertLess(leaning[2], yellow[2] - 5)

    def test_numbers_outside_their_range_name_field_and_range(self) -> None:
        for name, (low, high) in RANGES.items():
            for wrong in (low - 0.01, high + 0.01):
                with self.subTest(field=name, given=wrong), self.assertRaises(OutOfRange) as caught:
                    Canvas(**{"level": 5.0, name: wrong})
                self.assertEqual(
                    (caught.exception.field, caught.exception.low, caught.exception.high), (f"canvas.{name}", low, high)
                )
        for wrong in (float("nan"), float("inf"), "8", True):
            with self.subTest(given=wrong), self.assertRaises(WrongType):
                Canvas(level=wrong)


class Fibres(TestCase):
    def test_grey_hair_is_averaged_by_area_and_old_colour_sits_on_both_fibres(self) -> None:
        old = OldColour(shade=demo_shelf()["violet"], k_s=0.5)
        mixed = fibres_of(Canvas(level=5, grey=0.3, old=(old,)))
        np.testing.assert_allclose(mixed.share, [0.7, 0.3])
        bare = fibres_of(Canvas(level=5, grey=0.3))
        np.testing.assert_allclose(mixed.absorption - bare.absorption, [0.5 * old.shade.tone] * 2)


class Zones(TestCase):
    def test_zones_reckoned_together_are_as_reckoned_alone(self) -> None:
        old = OldColour(shade=demo_shelf()["violet"], k_s=0.3)
        canvases = [Canvas(level=6, grey=0.4), Canvas(level=10, porosity=1.4), Canvas(level=9, lean=1, old=(old,))]
        targets = [None, np.array([50.0, 20, 10]), None]
        process = Process(minutes=9, damp=True)
        together = predict_zones(canvases, bowl(magenta=2, clear=20), process=process, targets_lab=targets)
        for canvas, target, found in zip(canvases, targets, together, strict=True):
            alone = predict(canvas, bowl(magenta=2, clear=20), process=process, target_lab=target)
            np.testing.assert_allclose(found.lab, alone.lab, atol=1e-9)
            self.assertEqual(
                (found.hex, found.warnings, found.aim is None), (alone.hex, alone.warnings, target is None)
            )


class Reflectance(TestCase):
    def test_the_law_has_its_worked_values_both_ways(self) -> None:
        # 0.012 + 0.988 exp(-2.378 sqrt(K)), worked by hand.
        for absorption, seen in ((0.0, 1.0), (0.01, 0.790900), (0.25, 0.312872), (1.0, 0.103623), (4.0, 0.020497)):
            self.assertAlmostEqual(float(reflectance(np.array(absorption))), seen, places=5)
            self.assertAlmostEqual(float(absorption_from(np.array(seen))), absorption, places=3)

    def test_the_law_inverts(self) -> None:
        absorption = np.geomspace(1e-4, 20, 50)
        np.testing.assert_allclose(absorption_from(reflectance(absorption)), absorption, rtol=1e-6)

    def test_fibres_that_lie_among_one_another_are_nearer_to_the_dark_ones(self) -> None:
        dark, white = np.array([[4.0], [0.1]])
        half = mingled(np.stack([dark, white]), np.array([0.5, 0.5]))
        patches = (reflectance(dark) + reflectance(white)) / 2
        self.assertLess(float(reflectance(half)[0]), 0.75 * float(patches[0]))
        self.assertGreater(float(reflectance(half)[0]), float(reflectance((dark + white) / 2)[0]))
        np.testing.assert_allclose(mingled(np.stack([dark, dark]), np.array([0.3, 0.7])), dark)

    def test_a_base_fills_up_what_is_missing(self) -> None:
        pigment = np.array([0.0, 1.0, 1.0, 3.0])
        base = np.array([1.0, 0.0, 1.0, 1.0])
        np.testing.assert_allclose(filled_up(pigment, base), [1.0, 1.0, 2 ** (1 / 6), 730 ** (1 / 6)])

    def test_the_slope_is_the_slope(self) -> None:
        absorption = np.geomspace(0.02, 50, 30)
        step = 1e-6 * absorption
        numeric = (reflectance(absorption + step) - reflectance(absorption - step)) / (2 * step)
        seen, slope = reflectance_and_slope(absorption)
        np.testing.assert_allclose(slope, numeric, rtol=1e-6)
        np.testing.assert_allclose(seen, reflectance(absorption), rtol=1e-14)


class Locks(TestCase):
    def test_a_drawn_lock_runs_from_shadow_to_shine_through_the_forecast(self) -> None:
        canvas = Canvas(level=9, grey=0.2)
        fibres = fibres_of(canvas)
        tones = lock_tones(fibres, np.zeros(81))
        self.assertTrue(np.all(np.diff(tones[:, 0]) > 0))
        np.testing.assert_allclose(tones[BODY], predict(canvas, None).lab, atol=1e-9)

    def test_the_shine_of_dark_hair_is_no_grey_film_and_pale_hair_keeps_its_shade(self) -> None:
        for level, most in ((1, 16), (2, 18), (3, 20), (6, 24), (11, 24)):
            deep, body, shine = lock_tones(fibres_of(Canvas(level=level)), np.zeros(81))[[0, BODY, -1], 0]
            with self.subTest(level=level):
                self.assertLess(shine - body, most)
        self.assertGreater(body - deep, 14)  # of the palest, the shade
