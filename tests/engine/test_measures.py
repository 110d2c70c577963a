"""Amounts as people type them. Ounces: exact trade definitions; squeezes and drops: common practice."""

from unittest import TestCase

from engine.errors import BadInput
from engine.service.measures import Unit, read_amount, shown_amount


class Typed(TestCase):
    def test_every_unit_is_understood_in_its_usual_spellings(self) -> None:
        for text, grams in (
            ("2.5", 2.5),
            ("2,5 g", 2.5),
            (" .5 grams ", 0.5),
            ("1 oz", 28.349523125),
            ("2 Ounces", 56.69904625),
            ("1 fl oz", 29.5735295625),
            ("5ml", 5.0),
            ("3 drops", 0.15),
            ("2 squeezes", 3.0),
            ("1 squeeze", 1.5),
            ("0.5 tube", 30.0),
            ("2 tubes", 120.0),
        ):
            with self.subTest(text=text):
                self.assertAlmostEqual(read_amount(text).grams, grams)

    def test_a_tube_is_as_large_as_its_line_says(self) -> None:
        self.assertAlmostEqual(read_amount("1 tube", tube_g=100).grams, 100)

    def test_what_was_weighed_has_no_error_and_what_was_squeezed_has(self) -> None:
        self.assertEqual(read_amount("2 g").doubt_g, 0)
        one, four = read_amount("1 squeeze").doubt_g, read_amount("4 squeezes").doubt_g
        self.assertGreater(one, 0.3)
        self.assertAlmostEqual(four, 2 * one)  # independent errors grow with the root of their number

    def test_what_is_no_amount_is_refused(self) -> None:
        for text in ("", "lots", "g", "NaN", "1e400", "-3", "3 buckets", "1 2", "9999999", "2 g 3"):
            with self.subTest(text=text), self.assertRaises(BadInput) as caught:
                read_amount(text)
            self.assertEqual(caught.exception.field, "grams")

    def test_grams_are_shown_in_other_units(self) -> None:
        self.assertEqual(shown_amount(56.7, Unit.OUNCE), "2.00 oz")
        self.assertEqual(shown_amount(30, Unit.TUBE, tube_g=60), "0.50 tube")
        self.assertEqual(shown_amount(12.34, Unit.GRAM), "12.3 g")
