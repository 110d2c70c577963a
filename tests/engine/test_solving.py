"""The parts of a match: goals, coarse grids, pots and stock."""

from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from engine.arrays import FloatArray, IntArray
from engine.bowl.goal import Goal, ZoneAim, goal_of
from engine.bowl.grow import every_set
from engine.bowl.loops import look
from engine.bowl.match import match, nearest
from engine.bowl.mix import FULL_TIME_DRY
from engine.bowl.ranking import Candidate, earned, shortlist
from engine.bowl.solve import fit_sets
from engine.bowl.stock import Stock
from engine.bowl.weigh import Pot, Scale
from engine.colorimetry.difference import delta_e00, difference
from engine.colorimetry.lab import lch_of
from engine.colorimetry.lights import Light
from engine.dye.kind import Kind
from engine.dye.shade import Shade
from engine.dye.shelf import demo_shelf
from engine.errors import EmptyShelf
from engine.hair.canvas import Canvas, OldColour
from engine.hair.residue import Family
from tests.engine.made import lab

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

    def test_the_compiled_loops_tell_what_the_plain_laws_tell(self) -> None:
        plain = sum(
            sight.share * delta_e00(sight.target_lab, sight.reckoning.lab(self.fractions)) for sight in self.goal.sights
        )
        np.testing.assert_allclose(self.goal.difference(self.fractions), plain, atol=1e-9)
        seen = self.goal.sights[0].reckoning.lab(self.fractions)
        np.testing.assert_allclose(
            look.labs(self.goal.tables, np.tile(np.arange(len(COLOURS)), (60, 1)), self.fractions), seen, atol=1e-9
        )

    def test_of_hues_that_lie_opposite_the_plain_law_decides(self) -> None:
        bare = self.goal.sights[0].reckoning.lab(np.zeros(len(COLOURS)))
        opposite = np.array([bare[0], -bare[1], -bare[2]])
        goal = goal_of([ZoneAim(canvas=TEN, target_lab=opposite)], COLOURS, FULL_TIME_DRY, Light.DAYLIGHT)
        off = float(goal.difference(np.zeros(len(COLOURS))))
        either_way = [float(difference(opposite, bare + nudge).delta_e00) for nudge in (1e-9, -1e-9)]
        self.assertGreater(abs(either_way[0] - either_way[1]), 1)
        self.assertLess(min(abs(off - each) for each in either_way), 1e-6)

    def test_shades_with_a_base_are_told_and_sloped_by_the_plain_law_too(self) -> None:
        shades = [
            Shade(name=str(index), kind=Kind.DEMI, level=level, strength=1.5, bands=COLOURS[index].bands)
            for index, level in enumerate((4.0, 7.0, 9.5))
        ]
        hair = Canvas(level=6, family=Family.NATURAL, grey=0.3, old=(OldColour(shade=shades[1], k_s=0.5),))
        zones = [ZoneAim(canvas=canvas, target_lab=lab(40, 15, 20)) for canvas in (hair, Canvas(level=8))]
        goal = goal_of(zones, [*shades, COLOURS[5]], FULL_TIME_DRY, Light.DAYLIGHT)
        fractions = np.random.default_rng(7).dirichlet(np.full(5, 0.5), size=40)[:, :-1]
        plain = sum(sight.share * delta_e00(sight.target_lab, sight.reckoning.lab(fractions)) for sight in goal.sights)
        np.testing.assert_allclose(goal.difference(fractions), plain, atol=1e-6)
        self.assertLess(float(np.abs(goal.coarse().difference(fractions) - plain).max()), 0.3)
        self.assert_slopes(goal, np.arange(4), fractions[0])

    def assert_slopes(self, goal: Goal, members: IntArray, fractions: FloatArray) -> None:
        """The slope that is told is that of two looks close by."""

        def look_of(zone: int, fractions: FloatArray) -> tuple[FloatArray, FloatArray]:
            slope, scratch = np.empty((3, len(members))), np.empty((4, goal.tables.spectra.shape[1]))
            lab = look.lab_and_slope(goal.tables, zone, members, fractions, slope, scratch)
            return np.array(lab), slope

        for zone in range(len(goal.sights)):
            _, slope = look_of(zone, fractions)
            for column, aside in enumerate(1e-6 * np.eye(len(members))):
                up, down = (look_of(zone, fractions + sign * aside)[0] for sign in (1, -1))
                np.testing.assert_allclose(slope[:, column], (up - down) / 2e-6, rtol=1e-4, atol=1e-3)

    def test_coarser_grids_tell_nearly_the_same(self) -> None:
        exact = self.goal.difference(self.fractions)
        for goal, off in ((self.goal.coarse(), 0.3), (self.goal.coarse().coarse(), 1.5)):
            self.assertLess(float(np.abs(goal.difference(self.fractions) - exact).max()), off)

    def test_the_slope_is_the_slope(self) -> None:
        self.assert_slopes(self.goal, np.array([3, 6, 9]), np.array([0.03, 0.01, 0.05]))

    def test_the_richest_of_a_hue_and_depth_is_that_of_every_bowl_seen_one_by_one(self) -> None:
        with_base = Shade(name="based", kind=Kind.DEMI, level=7, strength=1.5, bands=COLOURS[3].bands)
        zone = ZoneAim(canvas=Canvas(level=8, grey=0.4), target_lab=lab(60, 25, 5))
        sets, (depths, hues) = every_set(4, 2), (40, 12)
        mixes, dilutions = np.array([(0.2, 0.8), (0.5, 0.5), (1.0, 0.0)]), np.array([0.01, 0.1, 0.6])
        every = [(row, mix, each) for row in range(len(sets)) for mix in range(3) for each in range(3)]
        for shades in (COLOURS[:4], [*COLOURS[:3], with_base]):
            tables = goal_of([zone], shades, FULL_TIME_DRY, Light.DAYLIGHT).tables
            found = look.richest(tables, sets, mixes, dilutions, depths, hues)
            rows = np.array([sets[row] for row, _, _ in every])
            fractions = np.array([mixes[mix] * dilutions[each] for _, mix, each in every])
            lch = lch_of(look.labs(tables, rows, fractions))
            best: dict[tuple[int, int], int] = {}
            for bowl, (lightness, chroma, hue) in enumerate(lch):
                cell = int(lightness / 100 * depths), int(hue / 360 * hues)
                if cell not in best or chroma > lch[best[cell], 1]:
                    best[cell] = bowl
            self.assertGreater(len(best), 10)
            self.assertEqual({(int(d), int(h)) for d, h in zip(*np.nonzero(found[0] >= 0), strict=True)}, set(best))
            for cell, bowl in best.items():
                self.assertAlmostEqual(found[0][cell], lch[bowl, 1])
                self.assertEqual(tuple(int(of[cell]) for of in found[1:]), every[bowl])

    def test_every_set_is_counted_and_the_nearest_are_kept(self) -> None:
        fits = fit_sets(self.goal, 3, 10)
        self.assertEqual([fit.tried for fit in fits], [13, 78, 286])
        for fit in fits:
            self.assertTrue(np.all((fit.fractions > 0) & (fit.fractions.sum(axis=1, keepdims=True) < 1)))

    def test_the_nearest_colour_is_no_farther_than_any_recipe(self) -> None:
        for canvas, target in ((TEN, lab(60, 25, 5)), (Canvas(level=8), lab(70, 10, -20))):
            found, difference = nearest(canvas, SHELF, target)
            recipe = match(canvas, SHELF, target, scale=Scale(total_g=500, step_g=0.05), max_shades=2)
            self.assertLessEqual(difference, recipe.weighed_delta_e00 + 0.1)
            self.assertEqual(found.shape, (3,))
        # Its best lies in a dip of its own, across the grey axis from where the fits end.
        self.assertLess(nearest(Canvas(level=8), SHELF, lab(63, 0, -23))[1], 26)
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
