"""The engine's questions: read, steer, spread, adjust, fade, refresh, fill, reach."""

from dataclasses import replace
from itertools import pairwise, product
from unittest import TestCase

import numpy as np

from engine.bowl.adjust import Mend, adjust
from engine.bowl.fade import fade, faded_canvas, refresh
from engine.bowl.fill import Fill, FillFrom, fill
from engine.bowl.match import match, nearest
from engine.bowl.mix import Bowl, Process
from engine.bowl.predict import predict
from engine.bowl.reach import reach, within_reach
from engine.bowl.spread import Doubt, spread
from engine.bowl.steer import steer
from engine.bowl.weigh import Scale
from engine.colorimetry.difference import delta_e00
from engine.colorimetry.lab import lab_from_lch
from engine.colorimetry.lights import Light
from engine.dye.fading import left_after
from engine.dye.known import Known, ShadeDoubt
from engine.dye.shelf import demo_shelf
from engine.errors import BadInput, EmptyShelf, OutOfRange
from engine.hair.canvas import Canvas, OldColour, lightened
from engine.hair.reading import canvas_lab, read_hair
from engine.hair.residue import Family, pigment, pigment_at_levels
from engine.service.steps import fill_level
from tests.engine.made import CLEAN_WHITE, bowl, chroma, dyed, hue, hue_gap, lightness

SHELF = tuple(demo_shelf().values())
COLOURS = SHELF[:-1]
TEN = Canvas(level=10)


class Reading(TestCase):
    def test_a_canvas_is_read_back_from_its_colour_over_the_whole_ladder(self) -> None:
        for level in (1.5, 4, 6.5, 8, 9.3, 10, 10.6):
            for warmth, lean in ((0, 0), (1, 3), (-1, 0.5)):
                lab = canvas_lab(Canvas(level=level, warmth=warmth, lean=lean))
                read = read_hair(lab)
                with self.subTest(level=level, warmth=warmth, lean=lean):
                    self.assertLess(float(delta_e00(lab, canvas_lab(read.canvas))), 0.2)
                    self.assertAlmostEqual(read.canvas.level, level, delta=0.05)
                    self.assertIsNone(read.cast)

    def test_it_reads_under_the_light_in_which_it_was_measured(self) -> None:
        lab = canvas_lab(Canvas(level=8, warmth=1), Light.EVENING)
        self.assertAlmostEqual(read_hair(lab, light=Light.EVENING).canvas.level, 8, delta=0.05)

    def test_what_does_not_fit_is_a_cast_with_a_size_and_is_carried_as_old_colour(self) -> None:
        for name, words in (("violet", {"blue", "violet"}), ("green", {"green", "turquoise"})):
            lab = canvas_lab(Canvas(level=10, old=(OldColour(shade=demo_shelf()[name], k_s=0.15),)))
            read = read_hair(lab, casts=COLOURS)
            with self.subTest(old=name):
                self.assertIn(read.cast.word, words)
                self.assertGreater(read.cast.delta_e00, 1)
                self.assertEqual(len(read.canvas.old), 1)
                self.assertLess(float(delta_e00(lab, canvas_lab(read.canvas))), 0.2)


class NaturalHair(TestCase):
    def test_natural_hair_has_its_levels_lightness_and_is_less_orange_than_lightened(self) -> None:
        for level, expected in ((2, 22), (5, 40), (7, 56.5)):
            natural = predict(Canvas(level=level, family=Family.NATURAL), None)
            lifted = predict(Canvas(level=level), None)
            self.assertAlmostEqual(float(natural.lab[0]), expected, places=6)
            self.assertLess(chroma(natural), chroma(lifted))

    def test_red_pigment_makes_it_redder(self) -> None:
        brown, red = (predict(Canvas(level=6, lean=lean, family=Family.NATURAL), None) for lean in (0, 10))
        self.assertGreater(chroma(red), chroma(brown))

    def test_the_table_of_amounts_agrees_with_the_exact_solution(self) -> None:
        levels = np.linspace(1, 11, 41)
        quick = pigment_at_levels(Family.LIGHTENED, levels, 0.5, 2)
        for level, row in zip(levels, quick, strict=True):
            exact = pigment(Family.LIGHTENED, float(level), 0.5, 2)
            np.testing.assert_allclose(row, exact, rtol=0.01, atol=1e-4)


class Steering(TestCase):
    def test_every_pull_is_the_forecast_of_the_bowl_with_a_gram_more(self) -> None:
        found = steer(TEN, dict(bowl(magenta=2, clear=40).grams), SHELF)
        self.assertEqual([pull.shade for pull in found.pulls], list(SHELF))
        for pull in found.pulls:
            name = pull.shade.name.replace("-", "_")
            grams = {"magenta": 2.0, "clear": 40.0}
            grams[name] = grams.get(name, 0) + 1
            np.testing.assert_allclose(pull.lab, dyed(TEN, **grams).lab, atol=1e-9)

    def test_an_empty_bowl_starts_from_the_bare_canvas(self) -> None:
        found = steer(TEN, {}, SHELF)
        np.testing.assert_allclose(found.lab, predict(TEN, None).lab, atol=1e-9)
        np.testing.assert_allclose(found.pulls[3].lab, dyed(TEN, red=1).lab, atol=1e-9)

    def test_nothing_to_steer_with_is_refused(self) -> None:
        with self.assertRaises(EmptyShelf):
            steer(TEN, {}, [])
        with self.assertRaises(OutOfRange):
            steer(TEN, {}, SHELF, add_g=-1)


class Spreading(TestCase):
    def test_the_first_sample_is_the_forecast_and_half_lies_within_nine_tenths(self) -> None:
        canvas, mix = Canvas(level=9, grey=0.3), bowl(violet=2, clear=50)
        found = spread(canvas, mix, process=Process(minutes=15))
        np.testing.assert_allclose(found.lab, predict(canvas, mix, process=Process(minutes=15)).lab, atol=1e-9)
        self.assertLess(found.within_50, found.within_90)
        self.assertEqual(found.shown.shape, (7, 3))

    def test_surer_input_spreads_less_and_what_is_left_is_what_is_not_known_of_the_shade(self) -> None:
        exact = replace(demo_shelf()["magenta"], doubt=ShadeDoubt(source=Known.INSTRUMENT, count=9, factors=()))
        mix, sure = bowl(magenta=2, clear=50), Bowl(grams={exact: 2, demo_shelf()["clear"]: 50})
        nothing = Doubt(level=0, porosity=0, grams=0, minutes=0)
        known, unknown = (spread(TEN, each, doubt=nothing).within_90 for each in (sure, mix))
        self.assertLess(known, 0.6 * unknown)
        self.assertLess(known, 2.5)  # the physics of a studio of which no result is known: 1.5 on the whole
        wide, narrow, none = (
            spread(TEN, mix, doubt=Doubt(level=f * 0.5, porosity=f * 0.2, grams=f * 0.5)).within_90 for f in (1, 0.3, 0)
        )
        self.assertTrue(none < narrow < wide)

    def test_the_order_of_pouring_does_not_change_how_far_a_result_may_wander(self) -> None:
        one, other = bowl(red=2, blue=1, clear=30), bowl(clear=30, blue=1, red=2)
        self.assertAlmostEqual(spread(TEN, one).within_90, spread(TEN, other).within_90, places=9)

    def test_the_same_seed_gives_the_same_spread_and_another_a_like_one(self) -> None:
        mix = bowl(magenta=2, clear=50)
        self.assertEqual(spread(TEN, mix).within_90, spread(TEN, mix).within_90)
        self.assertAlmostEqual(spread(TEN, mix, seed=1).within_90, spread(TEN, mix, seed=2).within_90, delta=1)


class Adjusting(TestCase):
    def test_a_bowl_that_lacks_a_shade_is_mended_by_adding_it(self) -> None:
        target = dyed(TEN, crimson=2, yellow=1, clear=60).lab
        found = adjust(TEN, bowl(crimson=2, clear=40), SHELF, target, max_total_g=120)
        self.assertIs(found.way, Mend.ADD)
        self.assertLess(found.delta_e00, 1)
        self.assertEqual(found.waste_g, 0)
        self.assertAlmostEqual(found.after.bowl.total_g, 42 + sum(found.additions.values()), places=6)

    def test_nothing_is_ever_taken_out_without_saying_so(self) -> None:
        start = bowl(magenta=6, clear=20)
        for most in (30, 60, 200, 600):
            found = adjust(TEN, start, SHELF, dyed(TEN, magenta=1, clear=60).lab, max_total_g=most)
            self.assertLessEqual(found.total_g, most + 1e-6)
            for shade, grams in start.grams.items():
                self.assertGreaterEqual(found.after.bowl.grams.get(shade, 0), found.keep_fraction * grams - 1e-6)

    def test_too_strong_a_bowl_for_its_pot_keeps_a_part_and_names_the_waste(self) -> None:
        found = adjust(TEN, bowl(magenta=4, clear=20), SHELF, dyed(TEN, magenta=1, clear=60).lab, max_total_g=130)
        self.assertIs(found.way, Mend.KEEP_PART)
        self.assertAlmostEqual(found.waste_g, (1 - found.keep_fraction) * 24)
        self.assertLess(found.delta_e00, 1)

    def test_what_can_not_be_mended_says_so_and_gives_the_closest(self) -> None:
        found = adjust(TEN, bowl(black=10, clear=10), SHELF, dyed(TEN, yellow=1, clear=60).lab, max_total_g=40)
        self.assertIs(found.way, Mend.CANNOT)
        self.assertLess(found.delta_e00, found.before.aim.delta_e00)

    def test_where_nothing_mends_a_bowl_no_colour_is_thrown_away_for_hardly_more(self) -> None:
        target = dyed(CLEAN_WHITE, magenta=2, clear=60).lab  # cooler than level 10 ever gets
        found = adjust(TEN, bowl(magenta=3, crimson=1, clear=60), SHELF, target, max_total_g=130)
        self.assertIs(found.way, Mend.CANNOT)
        self.assertEqual(found.waste_g, 0)

    def test_a_bowl_on_its_aim_needs_nothing(self) -> None:
        found = adjust(TEN, bowl(magenta=1, clear=30), SHELF, dyed(TEN, magenta=1, clear=30).lab, max_total_g=60)
        self.assertIs(found.way, Mend.NOTHING)
        self.assertEqual(dict(found.additions), {})

    def test_adjusting_never_beats_a_fresh_match(self) -> None:
        target = dyed(TEN, red=3, violet=1, clear=50).lab
        fresh = match(TEN, SHELF, target, scale=Scale(total_g=100, step_g=0.01))
        found = adjust(TEN, bowl(red=3, clear=30), SHELF, target, max_total_g=100)
        self.assertGreaterEqual(found.delta_e00, fresh.recipes[0].delta_e00 - 0.05)

    def test_a_pot_smaller_than_the_bowl_is_refused(self) -> None:
        with self.assertRaises(BadInput):
            adjust(TEN, bowl(red=30), SHELF, dyed(TEN, red=3).lab, max_total_g=20)


class Fading(TestCase):
    """F28, F29, F32: common practice, no published source."""

    def test_a_quarter_is_left_at_the_end_of_a_dyes_life(self) -> None:
        life = COLOURS[0].life_washes
        np.testing.assert_allclose(left_after(COLOURS[:1], np.array([0.0, life]), 1.0)[:, 0], [1, 0.25])

    def test_f32_a_direct_red_fades_through_pink_to_pale(self) -> None:
        path = fade(CLEAN_WHITE, bowl(crimson=8, clear=8), washes=25)
        self.assertIn("light pink", path.through)
        self.assertTrue(path.through[-1].startswith(("pale", "near white")))

    def test_fading_goes_steadily_towards_the_bare_canvas(self) -> None:
        for canvas in (TEN, Canvas(level=8, porosity=1.4, grey=0.3)):
            path = fade(canvas, bowl(violet=4, red=3, clear=10), washes=40)
            self.assertTrue(np.all(np.diff(path.lab[:, 0]) >= -1e-9))
            self.assertLess(
                float(delta_e00(path.lab[-1], predict(canvas, None).lab)),
                float(delta_e00(path.lab[0], predict(canvas, None).lab)),
            )

    def test_porous_hair_and_hot_water_lose_colour_sooner(self) -> None:
        mix = bowl(magenta=3, clear=30)
        for faster in (
            fade(Canvas(level=10, porosity=1.5), mix, washes=10),
            fade(TEN, mix, washes=10, hot_water=True),
        ):
            self.assertLessEqual(faster.off_after, fade(TEN, mix, washes=10).off_after)

    def test_a_worn_canvas_is_the_path_at_that_wash(self) -> None:
        mix = bowl(magenta=3, blue=1, clear=30)
        worn = predict(faded_canvas(TEN, mix, 6), None)
        np.testing.assert_allclose(worn.lab, fade(TEN, mix, washes=6).lab[6], atol=1e-9)

    def test_a_refresh_brings_the_first_day_back(self) -> None:
        mix = bowl(magenta=3, clear=30)
        found = refresh(TEN, mix, SHELF, washes=5, scale=Scale(total_g=60))
        self.assertLess(found.recipes[0].delta_e00, 0.5)


def coloured_g(found: Fill) -> float:
    """Grams of colour in all steps of a fill."""
    bowls = [step.bowl.recipes[0].bowl for step in found.steps]
    return sum(bowl.grams[shade] for bowl in bowls for shade in bowl.colours)


class Filling(TestCase):
    """F12, F31: common practice, no published source."""

    def test_both_schools_of_when_a_fill_is_due(self) -> None:
        for level, school, due in (
            (8, FillFrom.TWO_LEVELS, True),
            (8, FillFrom.MORE_THAN_TWO, False),
            (8.5, FillFrom.TWO_LEVELS, False),
            (7, FillFrom.MORE_THAN_TWO, True),
            (9.5, FillFrom.ASKED, True),
            (10, FillFrom.ASKED, False),
        ):
            self.assertEqual(fill(TEN, level, SHELF, scale=Scale(), fill_from=school).due, due)

    def test_steps_go_down_two_levels_at_most_and_reach_their_warm_colour(self) -> None:
        found = fill(TEN, 5, SHELF, scale=Scale())
        levels = [10, *(step.level for step in found.steps)]
        self.assertEqual(levels[-1], 5)
        self.assertTrue(all(0 < one - other <= 2 for one, other in pairwise(levels)))
        hair = TEN
        for step in found.steps:  # by red, orange and gold alone, which are all that a fill holds
            best = step.bowl.recipes[0]
            before = float(delta_e00(canvas_lab(hair), step.target_lab))
            self.assertLess(best.delta_e00, before)
            self.assertAlmostEqual(float(best.forecast.lab[0]), float(step.target_lab[0]), delta=5)
            self.assertTrue(20 < float(best.forecast.lch[2]) < 100)
            hair = faded_canvas(hair, best.bowl, 0)
            np.testing.assert_allclose(canvas_lab(hair), best.forecast.lab, atol=1e-6)  # the next is made for it

    def test_what_follows_a_fill_comes_out_over_it(self) -> None:
        """A fill that is too strong shows through the colour: common practice, no published source."""
        thinner = 0
        for start, lch in product((11, 8), ((14, 3, 60), (22, 10, 60), (24, 22, 25), (30, 18, 65))):
            hair, target = Canvas(level=start), lab_from_lch(np.array(lch, dtype=float))
            level = fill_level(hair, target)
            found = fill(hair, level, SHELF, scale=Scale(), target_lab=target, fill_from=FillFrom.ASKED)
            whole = fill(hair, level, SHELF, scale=Scale(), fill_from=FillFrom.ASKED)
            for step in found.steps:
                hair = faded_canvas(hair, step.bowl.recipes[0].bowl, 0)
            with self.subTest(start=start, lch=lch):
                self.assertLess(nearest(hair, SHELF, target)[1], 1.0)
                thinner += coloured_g(found) < 0.9 * coloured_g(whole)
        self.assertGreater(thinner, 1)

    def test_f31_without_a_fill_a_dark_brown_on_light_hair_goes_hollow(self) -> None:
        found = fill(TEN, 5, SHELF, scale=Scale(), final=bowl(black=5, clear=25))
        self.assertIn("hollow", found.cast)
        self.assertGreater(found.with_lab[2], found.without_lab[2])

    def test_f31_a_cool_black_thins_to_green_on_light_hair_and_a_plain_one_never_does(self) -> None:
        for level in (8, 9):
            cool, plain = (
                [dyed(Canvas(level=level), **{name: 1, "clear": clear}).lab for clear in (3, 8, 20)]
                for name in ("blue_black", "black")
            )
            with self.subTest(level=level):
                self.assertTrue(cool[-1][1] < 0 < cool[-1][2], cool)  # greenish: neither red nor blue
                self.assertTrue(all(lab[1] > 2 for lab in plain), plain)

    def test_f12_a_blue_black_on_yellow_hair_reads_green_unless_warm_pigment_goes_in_first(self) -> None:
        found = fill(Canvas(level=9), 6, SHELF, scale=Scale(), final=bowl(blue_black=1, clear=30))
        self.assertLess(float(found.without_lab[1]), 0)
        self.assertGreater(float(found.with_lab[1]), float(found.without_lab[1]))

    def test_a_small_step_needs_no_fill(self) -> None:
        found = fill(TEN, 9, SHELF, scale=Scale(), final=bowl(copper=5, clear=20))
        self.assertEqual((found.due, found.steps, found.cast), (False, (), ""))


class Reaching(TestCase):
    """F13, F21: common practice, no published source."""

    def test_f21_cool_pastels_are_out_of_reach_on_yellow_hair_and_within_it_on_white(self) -> None:
        def strongest_blue(level: float) -> float:
            found = reach(Canvas(level=level), SHELF, 65)
            return float(found.chroma[(found.hues_deg > 230) & (found.hues_deg < 290)].max())

        self.assertGreater(strongest_blue(11), 25)
        self.assertLess(strongest_blue(9), 5)

    def test_the_edge_is_made_of_colours_that_lie_at_that_depth_and_hue(self) -> None:
        found = reach(TEN, SHELF, 60)
        there = found.chroma > 0
        self.assertTrue(np.all(np.abs(found.richest[there, 0] - 60) <= 2))
        self.assertGreater(int(there.sum()), 20)

    def test_nothing_lies_above_the_hair(self) -> None:
        self.assertEqual(float(reach(Canvas(level=6), SHELF, 70).chroma.max()), 0)

    def test_a_pastel_out_of_reach_is_told_the_level_that_it_needs(self) -> None:
        target = dyed(Canvas(level=10.5), violet=1, clear=50).lab
        found = within_reach(Canvas(level=8), SHELF, target)
        self.assertFalse(found.reachable)
        self.assertTrue(9.5 <= found.lowest_level <= 10.5, found.lowest_level)

    def test_a_target_within_reach_needs_no_lift(self) -> None:
        found = within_reach(TEN, SHELF, dyed(TEN, red=4, clear=30).lab)
        self.assertTrue(found.reachable)
        self.assertEqual(found.lowest_level, 10)

    def test_a_shelf_that_can_never_do_it_says_where_it_comes_nearest(self) -> None:
        reds = [demo_shelf()["red"], demo_shelf()["clear"]]
        found = within_reach(TEN, reds, dyed(CLEAN_WHITE, blue=2, clear=30).lab)
        self.assertIsNone(found.lowest_level)
        self.assertEqual(found.best_level, 11)
        self.assertGreater(found.best_delta_e00, 1)

    def test_lightener_leaves_lightened_hair_and_white_is_not_always_the_nearest(self) -> None:
        deep = dyed(Canvas(level=9), blue=60, black=2).lab
        off = {level: within_reach(Canvas(level=level), SHELF, deep).delta_e00 for level in (9, 11)}
        self.assertLess(off[9], 1)
        virgin = within_reach(Canvas(level=2, family=Family.NATURAL), SHELF, deep)
        self.assertTrue(8 <= virgin.lowest_level <= 9, virgin.lowest_level)
        self.assertLess(virgin.best_delta_e00, 1)
        there = lightened(Canvas(level=2, family=Family.NATURAL, lean=3), virgin.lowest_level)
        self.assertAlmostEqual(within_reach(there, SHELF, deep).delta_e00, virgin.best_delta_e00)


class GreyAndHue(TestCase):
    def test_a_shade_keeps_its_hue_over_grey_more_than_over_pigment(self) -> None:
        on_white = dyed(CLEAN_WHITE, violet=2, clear=20)
        greyed, none = (dyed(Canvas(level=8, grey=share), violet=2, clear=20) for share in (0.8, 0))
        self.assertLess(hue_gap(hue(greyed), hue(on_white)), hue_gap(hue(none), hue(on_white)))
        self.assertGreater(lightness(greyed), lightness(none))
