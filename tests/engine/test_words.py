"""A difference of colour said as a colourist says it."""

from unittest import TestCase

import numpy as np

from engine.colorimetry.lab import lab_from_lch
from engine.colorimetry.words import colour_word, colour_words, difference_words, hue_word, named_regions, turn_word
from engine.jobs import run
from tests.engine.made import lab


class DifferenceWords(TestCase):
    def test_a_hue_turn_is_told_in_degrees_and_towards_a_colour(self) -> None:
        pink = lab_from_lch(lab(65, 35, 5))
        self.assertIn("10° too red", difference_words(pink, lab_from_lch(lab(65, 35, 15))))
        self.assertIn("20° too magenta", difference_words(pink, lab_from_lch(lab(65, 35, 345))))

    def test_depth_and_strength_have_sizes(self) -> None:
        aim = lab(60, 20, 20)
        self.assertEqual(difference_words(aim, lab(60.3, 20, 20)), "on the aim")
        self.assertEqual(difference_words(aim, lab(61.7, 20, 20)), "a little too light")
        self.assertEqual(difference_words(aim, lab(56, 20, 20)), "too deep")
        self.assertEqual(difference_words(aim, lab(40, 20, 20)), "far too deep")
        self.assertEqual(difference_words(aim, lab(60, 16, 16)), "too muted")

    def test_the_largest_part_comes_first(self) -> None:
        self.assertTrue(difference_words(lab(60, 20, 20), lab(40, 22, 22)).startswith("far too deep"))

    def test_a_grey_target_has_no_hue_to_turn_from(self) -> None:
        self.assertIn("tinged with blue", difference_words(lab(60, 0, 0), lab(60, 0, -9)))
        self.assertNotIn("°", difference_words(lab(60, 0, 0), lab(60, 0, -9)))

    def test_hues_have_names_all_round_and_turns_never_name_the_hue_they_start_from(self) -> None:
        for hue_deg in range(0, 360, 3):
            self.assertTrue(hue_word(hue_deg))
            for turn_deg in (-20, 20):
                self.assertNotEqual(turn_word(hue_deg, turn_deg), "")
        self.assertEqual([turn_word(92, 20), turn_word(92, -20)], ["green", "orange"])

    def test_a_turn_into_another_hue_names_it_instead_of_degrees(self) -> None:
        violet, red = lab_from_lch(lab(45, 40, 310)), lab_from_lch(lab(45, 40, 32))
        self.assertIn("red, not violet", difference_words(violet, red))
        self.assertIn("violet, not red", difference_words(red, violet))
        for hue_deg in range(0, 360, 15):
            for turn_deg in range(61, 300, 13):
                told = difference_words(
                    lab_from_lch(lab(50, 40, hue_deg)), lab_from_lch(lab(50, 40, hue_deg + turn_deg))
                )
                self.assertIn(f"{hue_word((hue_deg + turn_deg) % 360)}, not {hue_word(hue_deg)}", told)
                self.assertNotIn("°", told)


class ColourNames(TestCase):
    """Common practice, no published source."""

    def named(self, level: float, grams: dict[str, float] | None = None, family: str = "lightened") -> str:
        job = {
            "task": "predict",
            "canvas": {"level": level, "family": family},
            "bowl": {"grams": grams or {"clear": 1}},
        }
        return colour_word(np.array(run(job)["lab"]))

    def test_natural_levels_are_black_browns_and_blondes(self) -> None:
        names = [self.named(level, family="natural") for level in range(1, 12)]
        self.assertEqual(names[:2], ["black", "espresso"])
        self.assertTrue(all("brown" in name for name in names[2:5]), names)
        self.assertTrue(all("blonde" in name for name in names[5:7]), names)
        self.assertEqual(names[7:], ["sand", "beige", "beige", "near white"])

    def test_what_the_trade_says_of_its_mixes_is_what_the_forecast_is_called(self) -> None:
        self.assertEqual(self.named(11, {"red": 20, "black": 10}), "burgundy", "F5")
        self.assertEqual(self.named(10, {"crimson": 20, "blue": 4}), "wine", "F4")
        self.assertEqual(self.named(11, {"violet": 1, "clear": 59}), "lavender")
        self.assertEqual(self.named(10, {"violet": 1, "clear": 59}), "beige", "F14: lavender over yellow dulls")
        self.assertEqual(self.named(11, {"turquoise": 2, "clear": 58}), "mint")
        self.assertEqual(self.named(10, {"copper": 20, "clear": 20}), "copper")

    def test_a_dusty_peach_is_a_peach_and_deeper_it_is_a_strawberry(self) -> None:
        self.assertEqual(colour_word(lab_from_lch(lab(70, 26, 50))), "peach")
        self.assertEqual(colour_word(lab_from_lch(lab(62, 30, 50))), "strawberry")

    def test_neutrals_are_no_muted_yellow(self) -> None:
        self.assertEqual([colour_word(lab(lightness, 0, 0)) for lightness in (90, 70, 50, 30, 10)],
                         ["near white", "silver", "smoke", "charcoal", "black"])  # fmt: skip
        self.assertEqual(colour_word(lab(50, 2, 6)), "taupe")

    def test_every_colour_has_a_name_and_no_brown_is_a_muted_orange(self) -> None:
        for lightness in range(2, 100, 4):
            for chroma in range(0, 90, 5):
                for hue_deg in range(0, 360, 8):
                    name = colour_word(lab_from_lch(lab(lightness, chroma, hue_deg)))
                    self.assertTrue(name)
                    if 22 <= lightness < 54 and 45 <= hue_deg <= 100:
                        self.assertNotIn("muted", name, (lightness, chroma, hue_deg))

    def test_names_are_regions_that_can_be_met(self) -> None:
        places = np.stack(np.meshgrid(range(1, 100, 3), range(0, 80, 2), range(0, 360, 3)), axis=-1).reshape(-1, 3)
        met = set(colour_words(lab_from_lch(places.astype(float))))
        self.assertEqual({region.name for region in named_regions()} - met, set())

    def test_what_has_no_name_is_told_by_depth_strength_and_hue(self) -> None:
        self.assertEqual(colour_word(lab(65, 28, 5)), "light pink")
        self.assertEqual(colour_word(lab(30, 45, 25)), "deep vivid red")
