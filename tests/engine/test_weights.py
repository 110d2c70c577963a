"""Grams in the units of a house. The ounce: exactly 28.349523125 g (International Yard and Pound agreement, 1959)."""

from decimal import Decimal
from unittest import TestCase

from engine.language import later, say
from engine.service.measures import Unit, read_amount
from engine.weights import (
    GRAMS_PER_OUNCE,
    Measure,
    brief_of,
    handy_g,
    measure_of,
    measuring,
    number_of,
    stepped_g,
    weigh_powder,
    weight_of,
)

POUND_G = 453.59237  # the pound of the same agreement; sixteen ounces


class Shown(TestCase):
    def test_sixteen_ounces_are_a_pound(self) -> None:
        self.assertAlmostEqual(16 * GRAMS_PER_OUNCE, POUND_G, places=9)
        with measuring(Measure.OUNCE):
            self.assertEqual(weight_of(POUND_G), "16 oz")

    def test_grams_are_told_as_a_scale_has_them(self) -> None:
        told = [number_of(grams) for grams in (0, 2, 2.5, Decimal("0.25"), 0.25, Decimal("12.34"), 12.34, 80, -0.5)]
        self.assertEqual(told, ["0.0", "2.0", "2.5", "0.25", "0.25", "12.34", "12.3", "80.0", "-0.5"])
        self.assertEqual([brief_of(grams) for grams in (0, 2, 2.5, 80, 100)], ["0", "2", "2.5", "80", "100"])
        self.assertEqual(weight_of(2, "+weight"), "+2 g")

    def test_ounces_are_as_fine_as_what_is_weighed(self) -> None:
        """A tenth of a gram is still seen, and is less than half of itself off."""
        with measuring(Measure.OUNCE):
            for tenths in range(1, 280):
                with self.subTest(tenths=tenths):
                    self.assertLess(abs(float(number_of(tenths / 10)) * GRAMS_PER_OUNCE - tenths / 10), 0.05)
            self.assertEqual([number_of(grams) for grams in (0.1, 12, 80)], ["0.004", "0.423", "2.82"])

    def test_powder_has_no_millilitres(self) -> None:
        with measuring(Measure.MILLILITRE):
            self.assertEqual(weight_of(30), "30 ml")
            self.assertEqual(weight_of(30, powder=True), "30 g")
            weigh_powder()
            self.assertEqual(weight_of(30), "30 g")
        self.assertIs(measure_of(), Measure.GRAM)
        with measuring(Measure.OUNCE):
            self.assertIs(measure_of(powder=True), Measure.OUNCE)

    def test_texts_take_weights(self) -> None:
        with measuring(Measure.OUNCE):
            self.assertEqual(say("{grams:weight} left", grams=Decimal(40)), "1.41 oz left")
            self.assertEqual(str(later("{more:+weight}", more=-5)), "-0.176 oz")
            kept = later("{grams:weight} left", grams=40)
            self.assertEqual(str.__str__(kept), "40 g left")  # what is kept and compared is one, wherever it was said
            self.assertEqual(f"{kept}", "1.41 oz left")


class Typed(TestCase):
    def test_a_plain_number_is_in_the_unit_of_the_house_and_another_unit_says_so(self) -> None:
        for measure, unit, grams in (
            (Measure.GRAM, Unit.GRAM, 0.5),
            (Measure.OUNCE, Unit.OUNCE, 0.5 * GRAMS_PER_OUNCE),
            (Measure.MILLILITRE, Unit.MILLILITRE, 0.5),
        ):
            with self.subTest(measure=measure), measuring(measure):
                found = read_amount("0.5")
                self.assertEqual((found.unit, round(found.grams, 6)), (unit, round(grams, 6)))
                self.assertEqual(read_amount("0.5 g").grams, 0.5)

    def test_steps_are_ones_that_hands_count_and_do_not_drift(self) -> None:
        self.assertEqual([handy_g(grams) for grams in (0.1, 0.5, 1.0, 10.0)], [0.1, 0.5, 1.0, 10.0])
        with measuring(Measure.OUNCE):
            self.assertEqual(
                [brief_of(handy_g(grams)) for grams in (0.1, 0.5, 1.0, 10.0)], ["0.005", "0.02", "0.05", "0.5"]
            )
            grams = 0.0
            for _ in range(40):
                grams = round(stepped_g(grams, round(handy_g(0.1), 2)), 2)  # as a bowl keeps it: hundredths
            self.assertEqual(brief_of(grams), "0.2")
            self.assertEqual(stepped_g(0.1, -5), 0)
        self.assertAlmostEqual(stepped_g(0.3, 0.1), 0.4)
