"""Hitting a target: closeness, weighable grams, limits, and what kept a match from its aim."""

from itertools import combinations
from unittest import TestCase

import numpy as np
from scipy.optimize import minimize

from engine.arrays import FloatArray
from engine.bowl.match import Limit, match
from engine.bowl.mix import Bowl
from engine.bowl.predict import predict
from engine.bowl.weigh import Scale
from engine.colorimetry.difference import delta_e00, local_metric
from engine.dye.shade import Band, Shade
from engine.dye.shelf import demo_shelf
from engine.errors import BadInput, EmptyShelf, OutOfRange
from engine.hair.canvas import Canvas
from tests.engine.made import bowl, lab

SHELF = tuple(demo_shelf().values())


class Hits(TestCase):
    def test_a_colour_mixed_by_hand_is_found_again_within_a_just_visible_difference(self) -> None:
        for canvas, grams in (
            (Canvas(level=10), {"magenta": 2.0, "yellow": 1.0, "clear": 57.0}),
            (Canvas(level=9, warmth=1), {"crimson": 8.0, "blue": 1.0, "clear": 21.0}),
            (Canvas(level=7, grey=0.4), {"red": 20.0, "black": 2.0, "clear": 8.0}),
        ):
            target = predict(canvas, bowl(**grams)).lab
            with self.subTest(grams=grams):
                found = match(canvas, SHELF, target, scale=Scale(total_g=60, step_g=0.1))
                self.assertLess(found.recipes[0].delta_e00, 0.5)
                self.assertIs(found.limited_by, Limit.NOTHING)

    def test_recipes_add_up_and_weigh_in_whole_steps(self) -> None:
        for step, total, least in ((0.1, 60, None), (0.5, 45, 1.0), (1, 80, 2)):
            scale = Scale(total_g=total, step_g=step, least_g=least)
            found = match(Canvas(level=10), SHELF, lab(60, 25, 20), scale=scale)
            self.assertGreaterEqual(len(found.recipes), 2)
            for recipe in found.recipes:
                grams = np.array(list(recipe.bowl.grams.values()))
                self.assertAlmostEqual(float(grams.sum()), total, places=6)
                np.testing.assert_allclose(grams / step, np.rint(grams / step), atol=1e-6)
                poured = [g for shade, g in recipe.bowl.grams.items() if not shade.is_clear]
                self.assertGreaterEqual(min(poured), least or step)

    def test_each_answer_uses_other_shades_and_the_order_is_by_closeness_that_matters(self) -> None:
        found = match(Canvas(level=10), SHELF, lab(55, 30, 25), scale=Scale())
        sets = [frozenset(recipe.bowl.colours) for recipe in found.recipes]
        self.assertEqual(len(set(sets)), len(sets))
        steps = [recipe.delta_e00 // 0.5 for recipe in found.recipes]
        self.assertEqual(steps, sorted(steps))

    def test_every_forecast_in_an_answer_is_the_forecast_of_its_own_grams(self) -> None:
        target = lab(60, 25, -10)
        for recipe in match(Canvas(level=9.5), SHELF, target, scale=Scale()).recipes:
            again = predict(Canvas(level=9.5), Bowl(grams=recipe.bowl.grams), target_lab=target)
            np.testing.assert_array_equal(again.lab, recipe.forecast.lab)

    def test_no_set_of_two_is_fitted_worse_than_by_a_general_solver(self) -> None:
        """scipy's SLSQP on the true difference, one set at a time from two starts, as the judge."""
        canvas, target = Canvas(level=9.5), lab(58, 28, 12)
        shades = [demo_shelf()[name] for name in ("yellow", "copper", "crimson", "magenta", "violet", "blue")]
        best = min(slsqp(canvas, list(pair), target) for pair in combinations(shades, 2))
        found = match(canvas, shades, target, scale=Scale(total_g=2000, step_g=0.01), max_shades=2)
        self.assertLess(found.recipes[0].delta_e00, best + 0.01)


class Limits(TestCase):
    def test_a_target_lighter_than_the_hair_is_limited_by_the_canvas(self) -> None:
        found = match(Canvas(level=6), SHELF, lab(75, 30, 0), scale=Scale())
        self.assertIs(found.limited_by, Limit.CANVAS)
        self.assertEqual([w.code for w in found.warnings], ["aim_lighter_than_hair"])

    def test_a_hue_that_the_shelf_lacks_is_limited_by_the_shelf(self) -> None:
        reds = [demo_shelf()[name] for name in ("red", "copper", "clear")]
        found = match(Canvas(level=10), reds, lab(45, 0, -40), scale=Scale())
        self.assertIs(found.limited_by, Limit.SHELF)

    def test_a_coarse_scale_is_named_as_the_limit(self) -> None:
        target = predict(Canvas(level=10), bowl(magenta=0.3, clear=29.7)).lab
        found = match(Canvas(level=10), SHELF, target, scale=Scale(total_g=10, step_g=1))
        self.assertIs(found.limited_by, Limit.SCALE)

    def test_a_shelf_of_clear_is_empty(self) -> None:
        with self.assertRaises(EmptyShelf):
            match(Canvas(level=10), [demo_shelf()["clear"]], lab(60, 10, 10), scale=Scale())

    def test_a_shelf_without_clear_and_a_single_shade_still_answers(self) -> None:
        only = Shade(name="weld", bands=(Band(centre_nm=420, sigma_nm=26, weight=1),))
        found = match(Canvas(level=10), [only], lab(75, 0, 60), scale=Scale())
        self.assertEqual(len(found.recipes), 1)

    def test_impossible_scales_are_refused(self) -> None:
        for wrong, field in (
            ({"total_g": 0.5}, "total_grams"),
            ({"step_g": 0}, "step_grams"),
            ({"total_g": 2, "step_g": 5}, "step_grams"),
            ({"total_g": 20, "least_g": 30}, "least_grams"),
        ):
            with self.subTest(wrong=wrong), self.assertRaises(BadInput) as caught:
                Scale(**wrong)
            self.assertEqual(caught.exception.field, field)

    def test_a_bowl_refuses_negative_and_absurd_grams(self) -> None:
        for wrong in (-0.1, 5001.0):
            with self.assertRaises(OutOfRange):
                Bowl(grams={demo_shelf()["red"]: wrong})


class Metric(TestCase):
    def test_the_local_metric_is_the_difference_near_a_colour(self) -> None:
        rng = np.random.default_rng(4)
        for centre in rng.uniform((20, -50, -50), (90, 50, 50), size=(20, 3)):
            for way in rng.normal(size=(5, 3)):
                step = 0.1 * way / np.linalg.norm(way)
                near = float(delta_e00(centre - step / 2, centre + step / 2))
                self.assertAlmostEqual(float(np.linalg.norm(local_metric(centre) @ step)), near, delta=0.02 * near)


def slsqp(canvas: Canvas, shades: list[Shade], target_lab: FloatArray) -> float:
    """The least difference that SLSQP finds for one set of shades, fractions in 0-1 with clear as the rest."""
    clear = demo_shelf()["clear"]

    def miss(fractions: FloatArray) -> float:
        parts = np.clip(fractions, 0, 1)
        grams = {**dict(zip(shades, parts.tolist(), strict=True)), clear: max(1 - parts.sum(), 0) + 1e-9}
        return float(delta_e00(target_lab, predict(canvas, Bowl(grams=grams)).lab))

    room = {"type": "ineq", "fun": lambda fractions: 1 - fractions.sum()}
    runs = (
        minimize(miss, np.full(len(shades), start), bounds=[(0, 1)] * len(shades), constraints=[room])
        for start in (0.02, 0.2)
    )
    return min(float(run.fun) for run in runs)
