"""Facts of the trade about what happens in the bowl. Common practice, no published source."""

from dataclasses import replace
from unittest import TestCase

from engine.arrays import FloatArray
from engine.bowl.match import match
from engine.bowl.mix import Bowl
from engine.bowl.predict import Forecast, predict
from engine.bowl.weigh import Scale
from engine.colorimetry.difference import delta_e00
from engine.dye.shelf import demo_shelf
from engine.hair.canvas import Canvas, OldColour
from tests.engine.made import CLEAN_WHITE, chroma, dyed, hue, hue_gap, lightness

SHELF = tuple(demo_shelf().values())
CLEAR = demo_shelf()["clear"]
WARM_EIGHT = Canvas(level=8, warmth=0.5)
# A shade of ordinary strength: the demo shelf's own are vivid dyes, eight times as strong.
WARM_RED = replace(demo_shelf()["red"], name="warm red", strength=1.0)


def poured_lab(canvas: Canvas, **grams: float) -> FloatArray:
    return dyed(canvas, **grams).lab


def muted(first: str, share: float) -> Forecast:
    return dyed(CLEAN_WHITE, magenta=2, clear=40, **{first: share})


class Mixtures(TestCase):
    def test_f5_red_and_plenty_of_black_is_burgundy_a_dark_red(self) -> None:
        for canvas in (CLEAN_WHITE, Canvas(level=9)):
            red, burgundy = dyed(canvas, red=20), dyed(canvas, red=20, black=6)
            self.assertLess(lightness(burgundy), 32)
            self.assertLess(hue_gap(hue(burgundy), hue(red)), 20)
            self.assertGreater(chroma(burgundy), 15)

    def test_f6_a_blue_black_over_a_red_fill_can_show_violet_and_a_pure_black_does_not(self) -> None:
        filled = Canvas(level=10, old=(OldColour(shade=demo_shelf()["red"], k_s=0.5),))
        blue_black, black = dyed(filled, blue_black=1, clear=6), dyed(filled, black=1, clear=6)
        self.assertTrue(280 < hue(blue_black) < 330, hue(blue_black))
        self.assertGreater(hue_gap(hue(black), 305), 60)

    def test_f7_a_little_soft_opposite_mutes_pink_and_a_strong_one_overshoots(self) -> None:
        pink, soft, strong = (muted("green", share) for share in (0, 0.4, 4))
        self.assertTrue(0.5 * chroma(pink) < chroma(soft) < 0.8 * chroma(pink))
        self.assertLess(hue_gap(hue(soft), hue(pink)), 10)
        self.assertGreater(hue_gap(hue(strong), hue(pink)), 90)

    def test_f8_a_little_yellow_keeps_a_muted_pink_warm(self) -> None:
        cool, warm = (dyed(CLEAN_WHITE, magenta=2, green=0.4, yellow=share, clear=40) for share in (0, 0.8))
        self.assertGreater(float(warm.lab[2]), float(cool.lab[2]) + 8)
        self.assertGreater(chroma(warm), 10)


class Opposites(TestCase):
    def test_f10_a_strong_warm_red_one_to_two_with_clear_is_a_peachy_rose_on_white(self) -> None:
        found = predict(CLEAN_WHITE, Bowl(grams={WARM_RED: 1, CLEAR: 2}))
        self.assertTrue(10 < hue(found) < 45, hue(found))
        self.assertTrue(60 < lightness(found) < 78)

    def test_f11_on_a_warm_level_eight_the_same_needs_anti_yellow_and_anti_orange(self) -> None:
        rose = Bowl(grams={WARM_RED: 1, CLEAR: 2})
        on_white, on_eight = (predict(canvas, rose) for canvas in (CLEAN_WHITE, WARM_EIGHT))
        self.assertGreater(hue_gap(hue(on_eight), hue(on_white)), 25)
        # As deep as the hair allows, in the hue and strength seen on white.
        aim = on_white.lab.copy()
        aim[0] = lightness(predict(WARM_EIGHT, None)) - 12
        best = match(WARM_EIGHT, SHELF, aim, scale=Scale(total_g=100, step_g=0.01), max_shades=3).recipes[0]
        cool = {"violet", "indigo", "blue", "turquoise", "magenta"}
        self.assertTrue({shade.name for shade in best.bowl.colours} & cool)
        plain = match(
            WARM_EIGHT, [demo_shelf()["red"], demo_shelf()["copper"], CLEAR], aim, scale=Scale(total_g=100, step_g=0.01)
        ).recipes[0]
        self.assertLess(best.delta_e00, plain.delta_e00 - 2)

    def test_f11_on_clean_white_it_needs_none(self) -> None:
        aim = predict(CLEAN_WHITE, Bowl(grams={WARM_RED: 1, CLEAR: 2})).lab
        best = match(CLEAN_WHITE, SHELF, aim, scale=Scale(total_g=100, step_g=0.01)).recipes[0]
        self.assertEqual([shade.name for shade in best.bowl.colours], ["red"])

    def test_f15_ash_pulls_harder_than_violet_on_warm_hair(self) -> None:
        for level in (7, 8, 9):
            canvas = Canvas(level=level)
            bare = predict(canvas, None).lab
            for grams in (0.5, 1, 2):
                ash, violet = (
                    float(delta_e00(bare, poured_lab(canvas, **{name: grams, "clear": 30})))
                    for name in ("blue", "violet")
                )
                self.assertGreater(ash, violet)
