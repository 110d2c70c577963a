"""Amounts, and chairs that want the same hands. Common practice, no published source."""

import unittest

from engine.errors import Unknown
from engine.service.amounts import SHARES, Density, Length, needed
from engine.service.schedule.clash import busy_of, clashes
from engine.service.schedule.search import schedule
from engine.service.schedule.work import PlannedCoat, PlannedZone, Purpose, Visit


class Amounts(unittest.TestCase):
    def test_the_trades_table(self) -> None:
        # HANDBOOK, "Numbers": 30 short, 60 medium, 120 long, 150 to 180 long and very thick.
        for length, density, least, most in (
            (Length.SHORT, Density.MEDIUM, 30, 30),
            (Length.MEDIUM, Density.MEDIUM, 60, 60),
            (Length.LONG, Density.MEDIUM, 120, 120),
            (Length.VERY_LONG, Density.THICK, 150, 180),
        ):
            with self.subTest(length=length):
                self.assertTrue(least <= needed(length, density).grams <= most)

    def test_f42_long_thick_hair_takes_two_to_three_times_a_medium_head(self) -> None:
        times = needed(Length.LONG, Density.THICK).grams / needed(Length.MEDIUM, Density.MEDIUM).grams
        self.assertTrue(2 <= times <= 3)

    def test_roots_mids_and_ends_make_a_head_and_no_part_takes_more(self) -> None:
        self.assertAlmostEqual(sum(SHARES[part] for part in ("roots", "mids", "ends")), 1)
        whole = needed(Length.MEDIUM, Density.THIN).grams
        for part in SHARES:
            found = needed(Length.MEDIUM, Density.THIN, part)
            self.assertLessEqual(found.grams, whole)
            self.assertTrue(found.least_g < found.grams < found.most_g)

    def test_an_unknown_part_is_refused(self) -> None:
        with self.assertRaises(Unknown):
            needed(Length.SHORT, Density.THIN, "beard")


class Clashes(unittest.TestCase):
    def test_two_chairs_that_want_the_hands_at_once_are_told(self) -> None:
        coat = PlannedCoat(purpose=Purpose.COLOUR, apply_min=10, least_min=25, most_min=45, wants_dry=True)
        made = schedule(Visit(zones=(PlannedZone(name="all", coats=(coat,)),)))
        self.assertEqual(busy_of(made)[0], (0, 10))
        self.assertEqual(clashes([(600, made), (605, made)]), ((605, 610), (630, 633)))
        self.assertEqual(clashes([(600, made), (610, made)]), ())
        self.assertEqual(clashes([(0, made)]), ())
