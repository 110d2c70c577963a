"""The parts of a match: goals, coarse grids, pots and stock."""

from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from engine.bowl.goal import ZoneAim, goal_of
from engine.bowl.match import match, nearest
from engine.bowl.mix import FULL_TIME_DRY
from engine.bowl.ranking import Candidate, earned, shortlist
from engine.bowl.solve import fit_all_sets
from engine.bowl.stock import Stock
from engine.bowl.weigh import Pot, Scale
from engine.colorimetry.lights import Light
from engine.dye.shelf import demo_shelf
from engine.errors import EmptyShelf
from engine.hair.canvas import Canvas
from tests.engine.made import dyed, lab

SHELF = tuple(demo_shelf().values())
COLOURS = [shade for shade in SHELF if not shade.is_clear]
TEN = Canvas(level=10)


def candidate(shades: tuple[int, ...], delta_e00: float) -> Candidate:
    return Candidate(shades=shades, units=(1,) * len(shades), delta_e00=delta_e00, exact_delta_e00=delta_e00)


class Goals(TestCase):
    def setUp(self) -> None:
        zones = [ZoneAim(canvas=canvas, target_lab=lab(60, 25, 5)) for canvas in (TEN, Canvas(level=8, grey=0.3))]
        self.goal = goal_of(zones, COLOURS, FULL_TIME_DRY, Light.DAYLIGHT)
        self.fractions = np.random.default_rng(7).dirichlet(np.full(len(COLOURS) + 1, 0.3), size=60)[:, :-1]

    def test_coarser_grids_and_single_precision_tell_nearly_the_same(self) -> None:
        exact = self.goal.difference(self.fractions)
        for goal, off in ((self.goal.coarse(), 0.3), (self.goal.screening(), 1.5)):
            self.assertLess(float(np.abs(goal.difference(self.fractions) - exact).max()), off)

    def test_the_slope_is_the_slope(self) -> None:
        sets, fractions = np.array([[3, 6, 9]]), np.array([[0.03, 0.01, 0.05]])
        residual, slope = self.goal.linearise(sets, fractions)
        for column in range(3):
            moved = fractions.copy()
            moved[0, column] += 1e-6
            numeric = (self.goal.linearise(sets, moved)[0] - residual) / 1e-6
            np.testing.assert_allclose(slope[0, :, column], numeric[0], rtol=2e-3, atol=1e-2)

    def test_for_small_differences_the_quick_measure_is_the_difference(self) -> None:
        target = dyed(TEN, magenta=1, clear=30).lab
        goal = goal_of([ZoneAim(canvas=TEN, target_lab=target)], COLOURS, FULL_TIME_DRY, Light.DAYLIGHT)
        near = np.zeros(len(COLOURS))
        near[COLOURS.index(demo_shelf()["magenta"])] = 1.03 / 31
        self.assertAlmostEqual(float(goal.near_difference(near)), float(goal.difference(near)), delta=0.03)

    def test_every_set_is_counted_and_the_nearest_are_kept(self) -> None:
        fits = fit_all_sets(self.goal, 3, 10)
        self.assertEqual([fit.tried for fit in fits], [13, 78, 286])
        for fit in fits:
            self.assertTrue(np.all((fit.fractions > 0) & (fit.fractions.sum(axis=1, keepdims=True) < 1)))

    def test_the_nearest_colour_is_no_farther_than_any_recipe(self) -> None:
        for canvas, target in ((TEN, lab(60, 25, 5)), (Canvas(level=8), lab(70, 10, -20))):
            found, difference = nearest(canvas, SHELF, target)
            recipe = match(canvas, SHELF, target, scale=Scale(total_g=500, step_g=0.05), max_shades=2)
            self.assertLessEqual(difference, recipe.weighed_delta_e00 + 0.1)
            self.assertEqual(found.shape, (3,))
        with self.assertRaises(EmptyShelf):
            nearest(TEN, [demo_shelf()["clear"]], lab(60, 0, 0))


class Pots(TestCase):
    @given(st.floats(0.2, 5), st.lists(st.floats(0.001, 0.3), min_size=1, max_size=3))
    def test_steps_and_fractions_are_one_anothers_inverse_whatever_the_clear(
        self, thins: float, fractions: list[float]
    ) -> None:
        pot = Pot(scale=Scale(), thins=thins, most_units=np.full(13, 600), most_clear_units=600)
        wanted = np.array(fractions)
        np.testing.assert_allclose(pot.fractions(pot.exact_units(wanted)), wanted, rtol=1e-9)

    def test_stock_is_counted_in_whole_steps_and_no_more_than_the_bowl(self) -> None:
        red, blue = demo_shelf()["red"], demo_shelf()["blue"]
        stock = Stock(grams={red: 1.27, blue: 900.0})
        self.assertEqual([stock.units(shade, Scale(step_g=0.5)) for shade in (red, blue, COLOURS[0])], [2, 120, 120])


class Earning(TestCase):
    def test_a_longer_recipe_must_earn_its_extra_shade(self) -> None:
        short = candidate((1,), 2.0)
        self.assertFalse(earned(candidate((1, 2), 1.8), [short]))
        self.assertTrue(earned(candidate((1, 2), 1.2), [short]))
        self.assertTrue(earned(candidate((2, 3), 3.0), [short]))

    def test_the_shortlist_is_closest_first_and_as_long_as_asked(self) -> None:
        found = [candidate((1,), 3.0), candidate((2,), 1.0), candidate((2, 3), 1.05), candidate((4,), 2.0)]
        self.assertEqual([each.shades for each in shortlist(found, 2)], [(2,), (4,)])
