"""Facts of the trade that the physics must show by itself. Common practice, no published source."""

from unittest import TestCase

import numpy as np
from scipy.optimize import brentq
from scipy.stats import spearmanr

from engine.arrays import FloatArray
from engine.bowl.mix import FULL_TIME_DRY, Process, added_absorption
from engine.colorimetry.difference import delta_e00
from engine.colorimetry.lab import lab_of, lch_of, xyz_of
from engine.colorimetry.lights import Light, viewing
from engine.dye.shelf import demo_shelf
from engine.hair.canvas import Canvas, fibres_of
from engine.hair.residue import keratin
from tests.engine.made import CLEAN_WHITE, bowl, chroma, dyed, hue, hue_gap, lightness

COLOURS = [name for name in demo_shelf() if name != "clear"]


def daylight_lab(reflectance: FloatArray) -> FloatArray:
    view = viewing(Light.DAYLIGHT)
    return lab_of(xyz_of(reflectance, view.weights), view.white_xyz)


def lab_of_bare(level: float) -> FloatArray:
    return dyed(Canvas(level=level), clear=1.0).lab


class OppositesAndMixtures(TestCase):
    def test_f1_opposites_cancel(self) -> None:
        # The demo's orange leaves a gap towards blue, through which a little green shows: six tenths, not half.
        for one, other in (("violet", "yellow"), ("blue", "orange"), ("red", "green")):
            with self.subTest(pair=(one, other)):
                alone = [dyed(CLEAN_WHITE, **{name: 2.0, "clear": 30}) for name in (one, other)]
                mixed = [
                    dyed(CLEAN_WHITE, **{one: share, other: 4 - share, "clear": 30}) for share in np.arange(0.5, 4, 0.5)
                ]
                self.assertLess(min(map(chroma, mixed)), 0.6 * min(map(chroma, alone)))

    def test_f2_all_three_primaries_together_go_brown_grey(self) -> None:
        alone = [dyed(CLEAN_WHITE, **{name: 12.0, "clear": 20}) for name in ("yellow", "red", "blue")]
        shares = [(red, blue) for red in np.arange(1, 6, 0.5) for blue in np.arange(1, 6, 0.5)]
        together = [dyed(CLEAN_WHITE, yellow=12 - red - blue, red=red, blue=blue, clear=20) for red, blue in shares]
        self.assertLess(min(map(chroma, together)), min(map(chroma, alone)) / 3)

    def test_f3_yellow_and_blue_make_green_and_a_touch_of_black_deepens_it(self) -> None:
        green = dyed(CLEAN_WHITE, yellow=4, blue=2, clear=20)
        self.assertTrue(120 < hue(green) < 200, hue(green))
        deepened = dyed(CLEAN_WHITE, yellow=4, blue=2, black=0.5, clear=20)
        self.assertTrue(120 < hue(deepened) < 200, hue(deepened))
        self.assertLess(lightness(deepened), lightness(green) - 2)

    def test_f4_crimson_and_some_blue_is_wine_and_more_blue_is_cooler_and_deeper(self) -> None:
        bowls = [dyed(CLEAN_WHITE, crimson=10, blue=share, clear=10) for share in (0.5, 1.5, 3)]
        self.assertEqual(sorted(map(lightness, bowls), reverse=True), list(map(lightness, bowls)))
        turned = [(hue(found) + 180) % 360 for found in bowls]
        self.assertEqual(sorted(turned, reverse=True), turned)


class Undertone(TestCase):
    def test_f9_pink_turns_warm_over_pale_yellow_and_stays_cool_over_white(self) -> None:
        over_white, over_yellow = (dyed(canvas, magenta=1, clear=30) for canvas in (CLEAN_WHITE, Canvas(level=9.5)))
        self.assertLess(float(over_white.lab[2]), -5)
        self.assertGreater(float(over_yellow.lab[2]), 5)

    def test_f13_blue_leans_teal_or_green_over_a_yellow_level_9(self) -> None:
        for strength in (2, 5):
            over_white, over_yellow = (
                dyed(canvas, blue=strength, clear=20) for canvas in (CLEAN_WHITE, Canvas(level=9))
            )
            self.assertTrue(225 < hue(over_white) < 280, hue(over_white))
            self.assertTrue(150 < hue(over_yellow) < 215, hue(over_yellow))

    def test_f14_lavender_over_left_over_yellow_dulls_to_beige_grey(self) -> None:
        clean, yellowed = (dyed(canvas, violet=1, clear=40) for canvas in (CLEAN_WHITE, Canvas(level=10)))
        self.assertGreater(chroma(clean), 15)
        self.assertLess(chroma(yellowed), chroma(clean) / 2)

    def test_f20_the_undertone_walks_from_pale_yellow_to_red_as_the_level_falls(self) -> None:
        bare = [lch_of(lab_of_bare(level)) for level in (10, 8, 6, 4)]
        hues = [float(found[2]) for found in bare]
        self.assertEqual(hues, sorted(hues, reverse=True))


class LevelAndDeposit(TestCase):
    def test_f18_colour_does_not_lift_colour(self) -> None:
        for level in (2, 5, 8, 10, 11):
            bare = lab_of_bare(level)[0]
            for name in COLOURS:
                with self.subTest(level=level, shade=name):
                    self.assertLessEqual(lightness(dyed(Canvas(level=level), **{name: 1.0, "clear": 30})), bare)

    def test_f18_clear_alone_changes_nothing(self) -> None:
        for level in (3, 7, 10):
            found = dyed(Canvas(level=level, warmth=0.7, lean=2), clear=10)
            self.assertAlmostEqual(lightness(found), float(lab_of_bare(level)[0]), places=6)

    def test_f23_more_clear_is_softer_and_half_clear_costs_little(self) -> None:
        ladder = [dyed(CLEAN_WHITE, magenta=1, clear=parts) for parts in (0, 1, 4, 10, 20, 60, 200)]
        rising = list(map(lightness, ladder))
        self.assertEqual(rising, sorted(rising))
        whole, half = ladder[0], ladder[1]
        bare_lightness = float(lab_of_bare(11)[0])
        self.assertLess(lightness(half) - lightness(whole), 0.15 * (bare_lightness - lightness(whole)))

    def test_f23_a_pastel_takes_twenty_to_sixty_parts_of_clear(self) -> None:
        self.assertLess(lightness(dyed(CLEAN_WHITE, magenta=1, clear=5)), 60)
        for parts in (20, 60):
            self.assertTrue(62 < lightness(dyed(CLEAN_WHITE, magenta=1, clear=parts)) < 82)


class SecondHairRelation(TestCase):
    """The albedo of a hair assembly falls as exp(-q sqrt(absorption)): [CHI16]. Another road to the same hues.

    q is fitted so that both relations start from the same clean white.
    """

    def test_it_orders_lightness_alike_and_keeps_hue_within_a_few_degrees(self) -> None:
        white = float(lab_of_bare(11)[0])
        sharpness = brentq(lambda q: float(daylight_lab(np.exp(-q * np.sqrt(keratin())))[0]) - white, 0.1, 10)
        recipes = [{name: share, "clear": 30.0} for name in COLOURS for share in (1.0, 4.0)]
        ours, theirs = [], []
        for grams in recipes:
            absorption = fibres_of(CLEAN_WHITE).absorption[0] + added_absorption(bowl(**grams), 1.0, FULL_TIME_DRY)
            ours.append(dyed(CLEAN_WHITE, **grams).lch)
            theirs.append(lch_of(daylight_lab(np.exp(-sharpness * np.sqrt(absorption)))))
        ranks = spearmanr([found[0] for found in ours], [found[0] for found in theirs]).statistic
        self.assertGreater(ranks, 0.99)
        gaps = [hue_gap(one[2], other[2]) for one, other in zip(ours, theirs, strict=True)]
        self.assertLess(float(np.median(gaps)), 3)
        self.assertLess(max(gaps), 10)


class Uptake(TestCase):
    def test_f26_damp_hair_takes_less_of_a_direct_dye(self) -> None:
        dry, damp = (dyed(CLEAN_WHITE, process=Process(damp=wet), crimson=1, clear=10) for wet in (False, True))
        self.assertGreater(lightness(damp), lightness(dry))

    def test_f27_porous_ends_take_faster_and_darker(self) -> None:
        for minutes in (5, None):
            shown = [
                dyed(Canvas(level=10, porosity=p), process=Process(minutes=minutes), crimson=1, clear=10)
                for p in (0.6, 1.0, 1.5)
            ]
            self.assertEqual(sorted(map(lightness, shown), reverse=True), list(map(lightness, shown)))

    def test_f25_grey_shows_a_bright_shade_apart_on_white_and_pigmented_fibres(self) -> None:
        none, half, all_white = (dyed(Canvas(level=6, grey=share), crimson=2, clear=8) for share in (0, 0.5, 1))
        self.assertLess(lightness(none), lightness(half))
        self.assertLess(lightness(half), lightness(all_white))
        on_lightened = dyed(CLEAN_WHITE, crimson=2, clear=8)
        self.assertLess(lightness(all_white), lightness(on_lightened), "hair that grew white is no clean white")
        self.assertLess(float(delta_e00(all_white.lab, on_lightened.lab)), 3)
