"""A difference of colour said as a colourist says it."""

from unittest import TestCase

from engine.colorimetry.lab import lab_from_lch
from engine.colorimetry.words import colour_word, difference_words, hue_word, turn_word
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

    def test_a_colour_is_named_by_depth_strength_and_hue(self) -> None:
        self.assertEqual(colour_word(lab(65, 28, 5)), "light pink")
        self.assertEqual(colour_word(lab(30, 45, 25)), "deep vivid red")
        self.assertEqual(colour_word(lab(90, 0, 2)), "near white")
        self.assertEqual(colour_word(lab(15, 1, 1)), "very deep grey")
