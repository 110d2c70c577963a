"""Shades known by their name alone. What words for tones mean is common practice, no published source."""

from itertools import pairwise
from unittest import TestCase

import numpy as np

from engine.bowl.mix import Bowl
from engine.bowl.predict import predict
from engine.bowl.spread import spread
from engine.bowl.sureness import curve, within_of
from engine.colorimetry.difference import delta_e00
from engine.colorimetry.lab import lch_of
from engine.dye.characterise import StrandTest, characterise, prior_of, strands_to_make
from engine.dye.guess import guessed, tone_words, tones_in
from engine.dye.kind import Kind
from engine.dye.known import Known
from engine.dye.shade import Band, Shade
from engine.dye.shelf import demo_shelf
from engine.errors import BadInput, OutOfRange, Unknown
from engine.hair.canvas import Canvas

CLEAR = Shade(name="clear")
TEN = Canvas(level=10)


def hue_of(shade: Shade, grams: float = 10) -> float:
    return float(lch_of(predict(TEN, Bowl(grams={shade: grams, CLEAR: 50})).lab)[2])


class Guesses(TestCase):
    def test_a_guess_by_a_familys_name_looks_like_that_family(self) -> None:
        for name, known in demo_shelf().items():
            if known.is_clear:
                continue
            with self.subTest(name=name):
                mine = predict(TEN, Bowl(grams={guessed(name, kind=Kind.DIRECT, tones=[name]): 10, CLEAR: 50})).lab
                theirs = predict(TEN, Bowl(grams={known: 10, CLEAR: 50})).lab
                self.assertLess(float(delta_e00(mine, theirs)), 0.1)

    def test_it_is_less_sure_than_one_that_its_line_describes_and_one_without_a_tone_least_of_all(self) -> None:
        known = demo_shelf()["magenta"]
        wide = [
            spread(TEN, Bowl(grams={shade: 8, CLEAR: 52})).within_90
            for shade in (
                known,
                guessed("Sea Lark", kind=Kind.DIRECT, tones=["magenta"]),
                guessed("Sea Lark", kind=Kind.DIRECT, tones=[]),
            )
        ]
        self.assertLess(wide[0] * 1.2, wide[1])
        self.assertLess(wide[1] * 1.2, wide[2])

    def test_every_word_stands_for_a_colour_of_its_hue(self) -> None:
        """Regions of hue that nobody would dispute: common practice, no published source."""
        for word, (low, high) in {
            "gold": (70, 100),
            "copper": (35, 75),
            "red": (10, 50),
            "pink": (-20, 50),
            "violet": (280, 345),
            "blue": (210, 290),
            "teal": (170, 240),
            "green": (120, 180),
        }.items():
            with self.subTest(word=word):
                hue = hue_of(guessed(word, kind=Kind.DIRECT, tones=[word]))
                self.assertTrue(low <= hue <= high or low <= hue - 360 <= high, hue)
        for word in tone_words():
            self.assertIsNotNone(guessed(word, kind=Kind.DIRECT, tones=[word]).doubt)

    def test_the_first_tone_leads(self) -> None:
        red_gold = guessed("a", kind=Kind.DIRECT, tones=["red", "gold"])
        gold_red = guessed("b", kind=Kind.DIRECT, tones=["gold", "red"])
        self.assertLess(hue_of(red_gold), hue_of(gold_red))

    def test_a_level_is_a_base_and_a_natural_is_nothing_else(self) -> None:
        seven = guessed("7", kind=Kind.PERMANENT, tones=["natural"], level=7)
        five = guessed("5", kind=Kind.PERMANENT, tones=["natural"], level=5)
        white = Canvas(level=11)
        light, deep = (predict(white, Bowl(grams={shade: 60})).lab[0] for shade in (seven, five))
        self.assertGreater(light, deep + 8)
        self.assertIsNone(seven.doubt)
        self.assertEqual(guessed("7c", kind=Kind.DEMI, tones=["copper"], level=7).doubt.source, Known.NAMED)

    def test_names_are_searched_for_tones_and_the_last_leads(self) -> None:
        for name, tones in {
            "Smoke rose gold": ("gold", "rose", "smoke"),
            "Blue-Black": ("blue-black",),
            "Copper-red 7": ("red", "copper"),
            "Sea Lark": (),
            "Goldfinch": (),
        }.items():
            self.assertEqual(tones_in(name), tones)

    def test_what_is_no_tone_is_told(self) -> None:
        with self.assertRaisesRegex(Unknown, "tone"):
            guessed("a", kind=Kind.DIRECT, tones=["loud"])
        with self.assertRaisesRegex(BadInput, "level"):
            guessed("a", kind=Kind.DIRECT, tones=["red"], level=7)
        self.assertTrue(np.isfinite(guessed("a", kind=Kind.DIRECT, tones=list(tone_words())).spectrum).all())


class Sureness(TestCase):
    def test_a_guess_has_the_wider_band_and_the_wider_miss(self) -> None:
        known, guess = demo_shelf()["crimson"], guessed("crimson", kind=Kind.DIRECT, tones=["crimson"])
        wide = [curve(shade).high / curve(shade).low for shade in (known, guess)]
        self.assertTrue((wide[1] > wide[0]).all())
        for low, middle, high in (curve(known), curve(guess)):
            self.assertTrue((low <= middle).all() and (middle <= high).all())
        self.assertLess(within_of(known), within_of(guess))
        self.assertEqual(within_of(CLEAR), 0)

    def test_nine_in_ten_strengths_lie_in_the_band_of_a_described_shade(self) -> None:
        """Against numpy's own normal law."""
        found = curve(demo_shelf()["blue"])
        logs = np.random.default_rng(3).normal(0, np.hypot(0.25, 0.15), 20_000)
        drawn = found.middle[30] * np.exp(logs)
        self.assertAlmostEqual(float(((drawn > found.low[30]) & (drawn < found.high[30])).mean()), 0.9, delta=0.01)


class StrandsToMake(TestCase):
    def test_the_plan_has_two_dilutions_at_least_no_strand_twice_and_leaves_less_doubt_each_time(self) -> None:
        for shade in (
            guessed("a", kind=Kind.DIRECT, tones=["pink"]),
            guessed("b", kind=Kind.DIRECT, tones=[]),
            guessed("c", kind=Kind.DEMI, tones=["ash"], level=8),
            demo_shelf()["blue"],
        ):
            with self.subTest(shade=shade.name):
                plan = strands_to_make(prior_of(shade), 4)
                made = [(each.level, each.share) for each in plan]
                self.assertEqual(len(set(made)), 4)
                self.assertGreater(len({share for _, share in made}), 1)
                for before, after in pairwise(plan):
                    self.assertAlmostEqual(before.doubt_after, after.doubt)
                    self.assertLess(after.doubt_after, before.doubt_after)
                self.assertLess(plan[-1].doubt_after, plan[0].doubt / 2)

    def test_reading_the_plan_brings_forecasts_of_other_mixes_near(self) -> None:
        """Against a truth that is none of the families: a band of another width at another place."""
        truth = Shade(name="t", bands=(Band(centre_nm=548, sigma_nm=41, weight=1),), strength=5)
        guess = guessed("t", kind=Kind.DIRECT, tones=["red"])
        tests = [
            StrandTest(
                canvas=Canvas(level=each.level),
                share=each.share,
                lab=predict(Canvas(level=each.level), Bowl(grams={truth: each.share, CLEAR: 1 - each.share})).lab
                if each.share < 1
                else predict(Canvas(level=each.level), Bowl(grams={truth: 1.0})).lab,
            )
            for each in strands_to_make(prior_of(guess), 6)
        ]
        found = characterise("t", tests).shade
        for level, grams in ((10, 4), (9, 12), (10.5, 1.5), (8.5, 25)):
            mixes = [Bowl(grams={shade: grams, CLEAR: 60 - grams}) for shade in (truth, found, guess)]
            real, told, thought = (predict(Canvas(level=level), mix).lab for mix in mixes)
            self.assertLess(float(delta_e00(real, told)), 2)
            self.assertLess(float(delta_e00(real, told)), float(delta_e00(real, thought)))

    def test_how_many_and_how_they_are_read_must_make_sense(self) -> None:
        believed = prior_of(demo_shelf()["blue"])
        for more in ({"count": 0}, {"count": 7}, {"doubt": 0.0}):
            with self.assertRaises(OutOfRange):
                strands_to_make(believed, **more)
