"""Counting a tube by weight, and ordering it. Both are common practice, no published source."""

from unittest import TestCase

from engine.errors import BadInput, OutOfRange
from engine.service.stocktaking import counted_g, deliveries_here, tubes_to_order


class Stocktaking(TestCase):
    def test_the_empty_tube_comes_off_the_open_one_alone(self) -> None:
        self.assertEqual(counted_g(full_tubes=2, tube_g=60, open_g=31, empty_g=8), 143)
        self.assertEqual(counted_g(full_tubes=2, tube_g=60, empty_g=8), 120)
        self.assertEqual(counted_g(full_tubes=0, tube_g=60, open_g=8, empty_g=8), 0)
        with self.assertRaisesRegex(BadInput, "open_g"):
            counted_g(full_tubes=0, tube_g=60, open_g=5, empty_g=8)
        for wrong in ({"full_tubes": -1}, {"tube_g": 0}, {"open_g": -8}):
            with self.assertRaises(OutOfRange):
                counted_g(**({"full_tubes": 1, "tube_g": 60} | wrong))

    def test_what_runs_out_is_filled_up_in_whole_tubes_and_what_does_not_is_not(self) -> None:
        for left, tubes in ((31, 0), (30, 2), (20, 2), (0, 2)):
            self.assertEqual(tubes_to_order(left_g=left, ordered_at_g=30, tube_g=60), tubes)
        self.assertEqual(tubes_to_order(left_g=0, ordered_at_g=0, tube_g=60), 1)
        self.assertEqual(tubes_to_order(left_g=10, ordered_at_g=40, tube_g=50), 3)
        with self.assertRaises(OutOfRange):
            tubes_to_order(left_g=-1, ordered_at_g=30, tube_g=60)

    def test_of_deliveries_only_the_newest_that_make_up_what_is_left_are_still_there(self) -> None:
        """First in, first out: common practice, no published source."""
        for left, here in ((0, 0), (1, 1), (60, 1), (61, 2), (180, 3), (500, 3)):
            self.assertEqual(deliveries_here([60, 60, 60], left), here, left)
        self.assertEqual(deliveries_here([], 20), 0)
