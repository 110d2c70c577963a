"""Hitting a target: closeness, weighable grams, limits, and what kept a match from its aim."""

from itertools import combinations
from unittest import TestCase

import numpy as np
from scipy.optimize import minimize

from engine.arrays import FloatArray
from engine.bowl.goal import ZoneAim
from engine.bowl.match import Limit, match, match_zones
from engine.bowl.mix import Bowl
from engine.bowl.predict import predict
from engine.bowl.ranking import ALIKE, CHANCE, chance_words
from engine.bowl.spread import spread
from engine.bowl.stock import Stock
from engine.bowl.weigh import Scale
from engine.colorimetry.difference import delta_e00, local_metric
from engine.colorimetry.lab import lab_from_lch
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

    def test_a_trace_of_clear_is_left_out_and_not_weighed(self) -> None:
        scale, traces = Scale(total_g=60, step_g=0.1, least_g=0.3), 0
        for depth, hue in ((14, 40), (14, 300), (16, 250), (20, 65)):
            target = lab_from_lch(np.array([depth, 10.0, hue]))
            for recipe in match(Canvas(level=9), SHELF, target, scale=scale).recipes:
                self.assertGreaterEqual(min(recipe.bowl.grams.values()), 0.3 - 1e-9)
                self.assertGreater(recipe.bowl.total_g, 60 - 0.3)
                traces += recipe.bowl.total_g < 60 - 1e-6
        self.assertGreater(traces, 0)

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
        self.assertLess(found.weighed_delta_e00, best + 0.01)
        likeliest = max(recipe.chance for recipe in found.recipes)
        self.assertGreater(found.recipes[0].chance, likeliest - CHANCE)


class Chances(TestCase):
    def test_a_chance_is_told_in_tenths(self) -> None:
        told = {chance: chance_words(chance) for chance in (0.0, 0.04, 0.3, 0.94, 0.97)}
        self.assertEqual(told[0.0], told[0.04])
        self.assertEqual(told[0.3], "3 in 10 likely to be hardly off")
        self.assertEqual(told[0.94], "9 in 10 likely to be hardly off")
        self.assertIn("nearly sure", told[0.97])

    def test_what_comes_nearer_and_wanders_less_is_likelier_hardly_off(self) -> None:
        best = match(Canvas(level=9.5), SHELF, lab(60, 25, -10), scale=Scale()).recipes[0]
        around = spread(Canvas(level=9.5), best.bowl)
        near, far = (around.chance(lab(60, 25, -10) + np.array([off, 0, 0])) for off in (0, 8))
        self.assertGreater(near, far)
        self.assertTrue(0 < near < 1)


class OneBowlForSeveralZones(TestCase):
    def setUp(self) -> None:
        self.roots, self.ends = Canvas(level=9), Canvas(level=10, porosity=1.3)
        self.target = predict(Canvas(level=9.5), bowl(crimson=3, clear=40)).lab

    def both(self, roots: float, ends: float) -> list[ZoneAim]:
        return [
            ZoneAim(canvas=self.roots, target_lab=self.target, weight=roots),
            ZoneAim(canvas=self.ends, target_lab=self.target, weight=ends),
        ]

    def test_one_zone_alone_is_the_plain_match(self) -> None:
        alone = match_zones([ZoneAim(canvas=self.ends, target_lab=self.target)], SHELF, scale=Scale())
        plain = match(self.ends, SHELF, self.target, scale=Scale())
        self.assertEqual(alone.recipes[0].bowl.grams, plain.recipes[0].bowl.grams)

    def test_the_difference_is_the_mean_over_zones_by_weight_and_each_zone_has_its_forecast(self) -> None:
        best = match_zones(self.both(3, 1), SHELF, scale=Scale()).recipes[0]
        again = [predict(hair, best.bowl, target_lab=self.target).aim.delta_e00 for hair in (self.roots, self.ends)]
        self.assertAlmostEqual(best.delta_e00, (3 * again[0] + again[1]) / 4, places=6)
        self.assertEqual([each.canvas for each in best.forecasts], [self.roots, self.ends])

    def test_a_zone_that_counts_more_is_met_more_closely(self) -> None:
        misses = []
        for weight in (0.2, 1, 5):
            best = match_zones(self.both(weight, 1), SHELF, scale=Scale()).recipes[0]
            misses.append(best.forecasts[0].aim.delta_e00)
        self.assertGreater(misses[0], misses[2])
        self.assertGreaterEqual(misses[0] + ALIKE, misses[1])

    def test_one_bowl_for_all_never_beats_a_bowl_for_each(self) -> None:
        shared = match_zones(self.both(1, 1), SHELF, scale=Scale()).weighed_delta_e00
        own = [match(hair, SHELF, self.target, scale=Scale()).weighed_delta_e00 for hair in (self.roots, self.ends)]
        self.assertGreaterEqual(shared, np.mean(own) - 0.05)


class StockAndCost(TestCase):
    def setUp(self) -> None:
        self.canvas, self.target = Canvas(level=10), predict(Canvas(level=10), bowl(crimson=6, clear=54)).lab

    def test_no_recipe_takes_more_than_is_in_stock(self) -> None:
        crimson, clear = demo_shelf()["crimson"], demo_shelf()["clear"]
        for stock in (Stock(grams={crimson: 2.5}), Stock(grams={clear: 30.0}), Stock(grams={crimson: 0.0})):
            for recipe in match(self.canvas, SHELF, self.target, scale=Scale(), stock=stock).recipes:
                for shade, grams in recipe.bowl.grams.items():
                    self.assertLessEqual(grams, stock.grams.get(shade, 60) + 1e-9)

    def test_too_little_for_any_bowl_is_refused(self) -> None:
        scale, only = Scale(total_g=60), [demo_shelf()["crimson"], demo_shelf()["clear"]]
        for grams in ({only[0]: 1.0, only[1]: 10.0}, {only[0]: 0.0}):
            with self.assertRaises(BadInput) as caught:
                match(self.canvas, only, self.target, scale=scale, stock=Stock(grams=grams))
            self.assertEqual(caught.exception.field, "stock")

    def test_of_recipes_as_close_short_and_steady_the_cheaper_comes_first(self) -> None:
        dear, cheap = (Shade(name=name, bands=demo_shelf()["crimson"].bands) for name in ("dear", "cheap"))
        prices = Stock(prices={dear: 2.0, cheap: 0.5})
        best = match(self.canvas, [dear, cheap, demo_shelf()["clear"]], self.target, scale=Scale(), stock=prices)
        self.assertIn(cheap, best.recipes[0].bowl.grams)
        self.assertAlmostEqual(best.recipes[0].cost, 0.5 * best.recipes[0].bowl.grams[cheap])

    def test_a_recipe_says_how_far_its_result_may_wander(self) -> None:
        best = match(self.canvas, SHELF, self.target, scale=Scale()).recipes[0]
        own = spread(self.canvas, best.bowl)
        self.assertAlmostEqual(best.within_90, own.within_90, delta=0.2 * own.within_90)

    def test_negative_stock_and_absurd_weights_are_refused(self) -> None:
        with self.assertRaises(OutOfRange):
            Stock(grams={demo_shelf()["red"]: -1.0})
        with self.assertRaises(OutOfRange):
            ZoneAim(canvas=self.canvas, target_lab=self.target, weight=0)


class Conditioner(TestCase):
    def test_a_conditioner_dilutes_by_its_own_strength(self) -> None:
        mask = Shade(name="conditioner", thins=2.0)
        magenta = demo_shelf()["magenta"]
        thick = predict(Canvas(level=10), Bowl(grams={magenta: 1, mask: 15})).lab
        plain = predict(Canvas(level=10), bowl(magenta=1, clear=30)).lab
        np.testing.assert_allclose(thick, plain, atol=1e-9)

    def test_a_match_with_conditioner_is_forecast_as_it_is_weighed(self) -> None:
        mask, target = Shade(name="conditioner", thins=0.5), lab(65, 25, 0)
        shelf = [*(shade for shade in SHELF if not shade.is_clear), mask]
        best = match(Canvas(level=10), shelf, target, scale=Scale()).recipes[0]
        self.assertAlmostEqual(float(sum(best.bowl.grams.values())), 60, places=6)
        self.assertLess(best.delta_e00, 1)

    def test_only_what_has_no_colour_may_thin(self) -> None:
        with self.assertRaises(BadInput):
            Shade(name="red", bands=demo_shelf()["red"].bands, thins=2.0)


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
