"""Routes: which way a zone goes to a colour. Common practice, no published source, on top of the forecast."""

import unittest

import numpy as np

from engine.bowl.fill import fill
from engine.bowl.weigh import Scale
from engine.colorimetry.lab import lab_from_lch
from engine.dye.shelf import demo_shelf
from engine.errors import EmptyShelf
from engine.hair.canvas import Canvas, OldColour
from engine.hair.residue import Family
from engine.service.lift import Strength
from engine.service.route import RouteKind, routes
from engine.service.steps import HairCost, StepKind

SHELF = list(demo_shelf().values())
DEEP_RED = lab_from_lch(np.array([32.0, 34.0, 20.0]))
PINK = lab_from_lch(np.array([66.0, 28.0, 5.0]))
LAVENDER = lab_from_lch(np.array([74.0, 18.0, 300.0]))


def old(name: str, k_s: float) -> tuple[OldColour, ...]:
    return (OldColour(shade=demo_shelf()[name], k_s=k_s),)


class Routes(unittest.TestCase):
    def test_one_target_on_four_heads_takes_four_routes(self) -> None:
        heads = {
            RouteKind.FILL: Canvas(level=9.5),
            RouteKind.DEPOSIT: Canvas(level=5.75, lean=2),
            RouteKind.LIFT: Canvas(level=2.5, family=Family.NATURAL),
            RouteKind.REMOVE: Canvas(level=7, old=old("blue", 3)),
        }
        for kind, canvas in heads.items():
            with self.subTest(kind=kind):
                found = routes(canvas, DEEP_RED, SHELF)
                self.assertEqual(found.proposed.kind, kind)
                self.assertTrue(found.proposed.reasons)
                self.assertEqual(found.proposed.steps[-1].kind, StepKind.DEPOSIT)

    def test_f21_a_cool_pastel_needs_cleaner_hair_than_level_nine(self) -> None:
        found = routes(Canvas(level=9), LAVENDER, SHELF).proposed
        self.assertEqual(found.kind, RouteKind.LIFT)
        self.assertGreaterEqual(found.lift.wanted_level, 10)

    def test_a_little_short_is_relifted_in_spots(self) -> None:
        near = routes(Canvas(level=10.4), LAVENDER, SHELF).proposed
        self.assertEqual(near.kind, RouteKind.RELIFT)
        self.assertIn("Only the places that lag behind", " ".join(near.reasons))

    def test_last_times_faded_colour_is_refreshed(self) -> None:
        faded = Canvas(level=10, old=old("magenta", 0.05))
        self.assertEqual(routes(faded, PINK, SHELF, last_aim_lab=PINK).proposed.kind, RouteKind.REFRESH)
        self.assertEqual(routes(faded, PINK, SHELF, last_aim_lab=DEEP_RED).proposed.kind, RouteKind.DEPOSIT)

    def test_too_bright_is_toned_down_without_lightener(self) -> None:
        bright = Canvas(level=9.5, old=old("crimson", 1.5))
        muted = lab_from_lch(np.array([36.0, 25.0, 10.0]))
        found = routes(bright, muted, SHELF).proposed
        self.assertEqual(found.kind, RouteKind.TONE_DOWN)
        self.assertFalse(any(step.one_way for step in found.steps))

    def test_no_hair_is_lifted_for_a_difference_that_hardly_shows(self) -> None:
        self.assertEqual(routes(Canvas(level=10), PINK, SHELF).proposed.kind, RouteKind.DEPOSIT)

    def test_a_long_way_on_hair_that_gives_way_takes_several_visits(self) -> None:
        canvas = Canvas(level=5, family=Family.NATURAL)
        found = routes(canvas, LAVENDER, SHELF, strength=Strength(curl_sets_limit=True)).proposed
        self.assertEqual(found.lift.visits, 3)
        self.assertEqual(found.lift.stop_level, 7)
        self.assertFalse(found.reaches)
        self.assertEqual(found.cost, HairCost.MUCH)

    def test_lifting_can_not_be_taken_back_and_a_deposit_costs_no_hair(self) -> None:
        found = routes(Canvas(level=9), LAVENDER, SHELF)
        self.assertEqual([step.one_way for step in found.proposed.steps], [True, False, False])
        deposit = next(route for route in found.others if route.kind is RouteKind.DEPOSIT)
        self.assertEqual(deposit.cost, HairCost.NONE)
        self.assertGreater(deposit.delta_e00, found.proposed.delta_e00)

    def test_minutes_add_up_over_the_steps(self) -> None:
        least, most = routes(Canvas(level=9.5), DEEP_RED, SHELF).proposed.minutes
        self.assertEqual((least, most), (60, 70))  # filled in two steps of at most two levels, 20 each; direct 20 to 30

    def test_a_fill_goes_under_warm_and_natural_depths_only(self) -> None:
        for lch, filled in (
            ((32, 34, 20), True),
            ((30, 10, 250), True),
            ((33, 30, 300), False),
            ((35, 25, 200), False),
        ):
            with self.subTest(lch=lch):
                found = routes(Canvas(level=9), lab_from_lch(np.array(lch, dtype=float)), SHELF)
                kinds = {route.kind for route in (found.proposed, *found.others)}
                self.assertEqual(RouteKind.FILL in kinds, filled)

    def test_hair_is_filled_to_a_level_above_the_colour_and_the_colour_is_made_for_it(self) -> None:
        found = routes(Canvas(level=9.5), DEEP_RED, SHELF).proposed
        self.assertAlmostEqual(found.canvas.level, 6.83, delta=0.02)  # L* 32 stands between levels 3 and 4
        self.assertTrue(found.reaches)

    def test_natural_hair_has_its_warmth_and_needs_no_fill(self) -> None:
        dark = lab_from_lch(np.array([25.0, 10.0, 30.0]))
        found = routes(Canvas(level=7, family=Family.NATURAL), dark, SHELF)
        self.assertNotIn(RouteKind.FILL, {route.kind for route in (found.proposed, *found.others)})

    def test_lifting_is_always_offered_with_how_near_it_comes(self) -> None:
        """On any hair, and for vivid and deep colours too, that no lightening quite reaches."""
        for canvas, aim in (
            (Canvas(level=2, family=Family.NATURAL), (40, 45, 25)),
            (Canvas(level=6), (28, 32, 280)),
            (Canvas(level=6), (60, 45, 200)),
            (Canvas(level=9), (84, 6, 90)),
        ):
            found = routes(canvas, lab_from_lch(np.array(aim, dtype=float)), SHELF)
            every = (found.proposed, *found.others)
            alone = next(route for route in every if route.kind is RouteKind.DEPOSIT)
            lifting = next(route for route in every if route.lift)
            with self.subTest(aim=aim):
                self.assertLess(lifting.delta_e00, alone.delta_e00 - 1)
                self.assertRegex(" ".join(lifting.reasons), "level")

    def test_white_hair_is_not_bleached_for_a_little(self) -> None:
        white = Canvas(level=6, family=Family.NATURAL, grey=0.95)
        found = routes(white, lab_from_lch(np.array([74.0, 26, 5])), SHELF)
        self.assertEqual(found.proposed.kind, RouteKind.DEPOSIT)
        lifting = next(route for route in found.others if route.lift)
        self.assertIn("White hair has little to lift", " ".join(lifting.reasons))
        self.assertLess(found.proposed.delta_e00 - lifting.delta_e00, 5)

    def test_natural_hair_is_not_bleached_for_a_colour_as_deep_as_it_is(self) -> None:
        """Mahogany on a natural 5 from a line that does not hold it: a lift brings a little, and is not proposed."""
        shelf = [demo_shelf()[name] for name in ("violet", "clear")]
        mahogany = lab_from_lch(np.array([33.0, 26, 25]))
        found = routes(Canvas(level=5, family=Family.NATURAL), mahogany, shelf)
        self.assertEqual(found.proposed.kind, RouteKind.DEPOSIT)
        lifting = next(route for route in found.others if route.lift)
        self.assertTrue(1 < found.proposed.delta_e00 - lifting.delta_e00 < 5)
        self.assertIn("no lighter than the hair", " ".join(lifting.reasons))
        lighter = routes(Canvas(level=3, family=Family.NATURAL), mahogany, shelf).proposed
        self.assertNotIn("no lighter than the hair", " ".join(lighter.reasons))

    def test_hair_that_was_lifted_today_is_not_lifted_again_unasked(self) -> None:
        found = routes(Canvas(level=9), LAVENDER, SHELF, strength=Strength(lifted_today=True))
        self.assertIsNone(found.proposed.lift)
        again = next(route for route in found.others if route.lift)
        self.assertIn("lifted today", " ".join(again.reasons))

    def test_neighbouring_aims_are_filled_alike(self) -> None:
        """Every auburn on level 8, and black on clean white: a drop of two levels and more onto light hair."""
        for lightness in range(26, 46, 2):
            auburn = lab_from_lch(np.array([float(lightness), 30, 45]))
            self.assertEqual(routes(Canvas(level=8), auburn, SHELF).proposed.kind, RouteKind.FILL, lightness)
        for aim in ((14, 2, 280), (16, 3, 60), (20, 4, 40)):
            black = lab_from_lch(np.array(aim, dtype=float))
            self.assertEqual(routes(Canvas(level=11), black, SHELF).proposed.kind, RouteKind.FILL, aim)

    def test_a_fill_holds_warm_shades_only(self) -> None:
        for start, end in ((10, 6), (10, 4), (9, 5), (11, 3)):
            for step in fill(Canvas(level=start), end, SHELF, scale=Scale()).steps:
                for recipe in step.bowl.recipes:
                    names = {shade.name for shade in recipe.bowl.colours}
                    self.assertLessEqual(names, {"yellow", "orange", "copper", "red"})
        cool = [demo_shelf()[name] for name in ("blue", "green", "clear")]
        found = fill(Canvas(level=10), 5, cool, scale=Scale())
        self.assertEqual((found.due, found.steps), (True, ()))

    def test_an_empty_shelf_is_refused(self) -> None:
        with self.assertRaises(EmptyShelf):
            routes(Canvas(level=9), PINK, [])
