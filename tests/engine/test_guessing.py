"""How well somebody foresees a colour, told from guesses of which the answer is known."""

import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from engine.colorimetry.difference import delta_e00
from engine.colorimetry.lab import lab_from_lch
from engine.practice.guessing import BEST_FROM, LEAN_GUESSES, LEVELS, Guess, by_hue, by_level, how_read, nearest

FORECASTS = [(35.0, 40.0, 30.0), (60.0, 30.0, 350.0), (75.0, 25.0, 310.0), (50.0, 50.0, 60.0), (82.0, 12.0, 90.0)]


def guess(lch: tuple[float, float, float], *, level: float = 9.0, lighter: float = 0.0, seen: bool = False) -> Guess:
    """A guess that is off by so much lightness; the forecast itself is off by one, if it was seen."""
    forecast = lab_from_lch(np.array(lch))
    up = np.array([1.0, 0.0, 0.0])
    return Guess(
        level=level,
        expected_lab=forecast + lighter * up,
        forecast_lab=forecast,
        seen_lab=forecast + up if seen else None,
    )


class Guesses(unittest.TestCase):
    def test_nobody_who_guessed_nothing_is_told_anything(self) -> None:
        self.assertIsNone(how_read([]))
        self.assertEqual(by_hue([]), ())

    def test_the_mean_is_of_the_standard_difference(self) -> None:
        guesses = [guess(lch, lighter=off) for lch, off in zip(FORECASTS, (1.0, -2.0, 3.0, 0.0, 5.0), strict=True)]
        expected = np.mean([delta_e00(each.forecast_lab, each.expected_lab) for each in guesses])
        read = how_read(guesses)
        assert read is not None
        self.assertAlmostEqual(read.off, float(expected))
        self.assertEqual((read.count, read.seen, read.seen_off, read.forecast_off), (5, 0, None, None))

    def test_what_was_seen_judges_guess_and_forecast_alike(self) -> None:
        guesses = [guess(FORECASTS[0], lighter=1.0, seen=True), guess(FORECASTS[1], lighter=9.0)]
        read = how_read(guesses)
        assert read is not None and read.seen_off is not None and read.forecast_off is not None
        self.assertEqual(read.seen, 1)
        self.assertAlmostEqual(read.seen_off, 0.0)
        self.assertGreater(read.forecast_off, 0.5)

    def test_a_lean_is_told_where_it_stands_out(self) -> None:
        always = how_read([guess(lch, lighter=4.0) for lch in FORECASTS])
        assert always is not None
        self.assertEqual(always.lean, "lighter")
        darker = how_read([guess(lch, lighter=-5.0) for lch in FORECASTS])
        assert darker is not None
        self.assertEqual(darker.lean, "deeper")

    def test_no_lean_is_told_of_few_or_of_such_as_point_both_ways(self) -> None:
        few = how_read([guess(lch, lighter=8.0) for lch in FORECASTS[: LEAN_GUESSES - 1]])
        both = how_read([guess(lch, lighter=off) for lch, off in zip(FORECASTS, (9, -9, 8, -8, 9), strict=True)])
        near = how_read([guess(lch, lighter=0.6) for lch in FORECASTS])
        for read in (few, both, near):
            assert read is not None
            self.assertEqual(read.lean, "")

    def test_they_are_sorted_by_hue_and_by_level(self) -> None:
        reds = [guess((40.0, 40.0, 30.0), level=5.0) for _ in range(3)]
        greys = [guess((60.0, 1.0, 200.0), level=10.0)]
        self.assertEqual([(each.words, each.count) for each in by_hue(greys + reds)], [("red", 3), ("grey", 1)])
        levels = [(each.words, each.count) for each in by_level(greys + reds)]
        self.assertEqual(levels, [(str(LEVELS[0][1]), 3), (str(LEVELS[2][1]), 1)])

    def test_the_nearest_is_named_among_those_who_guessed_enough(self) -> None:
        near, far = (how_read([guess(FORECASTS[1], lighter=off)] * BEST_FROM) for off in (1.0, 4.0))
        hasty = how_read([guess(FORECASTS[1])])
        self.assertEqual(nearest([far, hasty, near, None]), 2)
        self.assertIsNone(nearest([near, hasty]))
        self.assertIsNone(nearest([]))

    @settings(max_examples=40)
    @given(
        st.lists(st.tuples(st.sampled_from(FORECASTS), st.floats(1, 12), st.floats(-15, 15)), min_size=1, max_size=12)
    )
    def test_the_parts_make_the_whole(self, made: list[tuple[tuple[float, float, float], float, float]]) -> None:
        """Every guess is of one hue and one level, and the groups' means weigh up to the mean of all."""
        guesses = [guess(lch, level=level, lighter=off) for lch, level, off in made]
        whole = how_read(guesses)
        assert whole is not None
        for split in (by_hue, by_level):
            groups = split(guesses)
            self.assertEqual(sum(each.count for each in groups), len(guesses))
            self.assertAlmostEqual(sum(each.off * each.count for each in groups) / len(guesses), whole.off)
