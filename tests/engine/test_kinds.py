"""Kinds of colour: direct, mask, demi and permanent; level and tone, developer and its ratio, lift.

F18, F19, F22: common practice, no published source.
"""

from dataclasses import replace
from unittest import TestCase

import numpy as np

from engine.bowl.match import match
from engine.bowl.mix import Bowl, Process, lifted
from engine.bowl.predict import predict
from engine.bowl.spread import spread
from engine.bowl.steer import steer
from engine.bowl.weigh import Scale
from engine.colorimetry.difference import delta_e00
from engine.colorimetry.lab import lch_of
from engine.dye.kind import Kind
from engine.dye.shade import Band, Shade
from engine.dye.shelf import demo_shelf
from engine.errors import BadInput, OutOfRange
from engine.hair.canvas import Canvas, OldColour
from engine.hair.reading import canvas_lab
from engine.hair.residue import Family, level_lightness
from tests.engine.made import CLEAN_WHITE, lightness

CLEAR = Shade(name="clear")
ROSE = (Band(centre_nm=530, sigma_nm=34, weight=0.4),)


def oxidative(level: float, *, kind: Kind = Kind.DEMI, bands: tuple[Band, ...] = (), ratio: float = 2) -> Shade:
    return Shade(name=f"{kind.value} {level}", kind=kind, level=level, bands=bands, strength=1, ratio=ratio)


def alone(shade: Shade) -> Bowl:
    return Bowl(grams={shade: 30})


class LevelAndTone(TestCase):
    def test_a_neutral_base_brings_clean_white_hair_to_its_level(self) -> None:
        for level in (3, 5, 7, 9, 10):
            found = predict(CLEAN_WHITE, alone(oxidative(level)))
            self.assertAlmostEqual(lightness(found), float(level_lightness(level)), places=6)

    def test_the_tone_adds_its_own_bands_to_the_base(self) -> None:
        plain, rose = (predict(CLEAN_WHITE, alone(oxidative(8, bands=bands))) for bands in ((), ROSE))
        self.assertGreater(float(rose.lab[1]), float(plain.lab[1]) + 5)

    def test_f19_a_toner_lighter_than_the_hair_does_nothing_visible_and_a_deeper_one_does(self) -> None:
        """In numbers: the lightest changes less than an eye sees; one a level deeper is seen at a glance."""
        for level in (6, 7, 8, 9):
            hair = Canvas(level=level)
            bare = predict(hair, None).lab
            white, two_up, own, deeper = (
                float(delta_e00(bare, predict(hair, alone(oxidative(toner))).lab))
                for toner in (11, min(level + 2, 11), level, level - 1)
            )
            with self.subTest(level=level):
                self.assertLess(white, 0.1)
                self.assertLess(two_up, own)
                self.assertGreater(own, 2)
                self.assertGreater(deeper, own + 1)

    def test_f19_what_neutralises_level_ten_leaves_most_of_the_warmth_of_deeper_hair(self) -> None:
        violet = demo_shelf()["violet"]
        toner = Bowl(grams={violet: 1.0, CLEAR: 45.0})

        def chroma(level: float, bowl: Bowl | None) -> float:
            return float(lch_of(predict(Canvas(level=level), bowl).lab)[1])

        self.assertLess(chroma(10, toner), chroma(10, None) * 0.4)
        for level in (7, 8):
            with self.subTest(level=level):
                self.assertGreater(chroma(level, toner), chroma(level, None) * 2 / 3)
                self.assertLess(chroma(level, toner), chroma(level, None))

    def test_a_level_on_a_direct_shade_is_refused(self) -> None:
        with self.assertRaises(BadInput):
            Shade(name="no", kind=Kind.DIRECT, level=6)
        with self.assertRaises(OutOfRange):
            oxidative(12)


class Developer(TestCase):
    def test_a_bowl_thinner_than_its_line_asks_deposits_less_and_a_thicker_one_more(self) -> None:
        shade = oxidative(6, ratio=1)
        thick, own, thin, thinnest = (
            lightness(predict(CLEAN_WHITE, alone(shade), process=Process(ratio=ratio))) for ratio in (0.5, 1, 2, 9)
        )
        self.assertTrue(thick < own < thin)
        self.assertEqual(thin, thinnest)  # never below half

    def test_f22_ten_vol_deposits_and_twenty_and_more_lift_natural_hair(self) -> None:
        hair, shade = Canvas(level=5, family=Family.NATURAL), oxidative(7, kind=Kind.PERMANENT)
        found = [
            lightness(predict(hair, alone(shade), process=Process(developer_vol=vol))) for vol in (None, 10, 20, 30, 40)
        ]
        self.assertEqual(found[0], found[1])
        self.assertTrue(found[1] < found[2] < found[3] < found[4])

    def test_f18_developer_never_lifts_artificial_colour_nor_does_a_demi_lift_at_all(self) -> None:
        """With so little dye that what it adds can't hide a lift: on natural hair the same bowl shows one."""
        strong = Process(developer_vol=40)
        lightened, natural = Canvas(level=5), Canvas(level=5, family=Family.NATURAL)
        coloured = Canvas(level=5, family=Family.NATURAL, old=(OldColour(shade=oxidative(5), k_s=1.0),))

        def gain(hair: Canvas, kind: Kind) -> float:
            faint = replace(oxidative(11, kind=kind), strength=0.05)
            return lightness(predict(hair, alone(faint), process=strong)) - lightness(predict(hair, None))

        self.assertGreater(gain(natural, Kind.PERMANENT), 3)
        for hair, kind in ((lightened, Kind.PERMANENT), (lightened, Kind.DEMI), (natural, Kind.DEMI)):
            self.assertAlmostEqual(gain(hair, kind), 0, delta=0.05)
        self.assertLess(gain(coloured, Kind.PERMANENT), gain(natural, Kind.PERMANENT))

    def test_lift_takes_its_time_and_enough_colour(self) -> None:
        """Common practice, no published source: no lift at once or from a drop of colour in a bowl of clear."""
        hair, strong = Canvas(level=5, family=Family.NATURAL), Process(developer_vol=40)
        shade = oxidative(11, kind=Kind.PERMANENT)

        def level(minutes: float | None, share: float = 1.0) -> float:
            return lifted(hair, [shade], replace(strong, minutes=minutes), share).level

        self.assertEqual(level(0), 5)
        self.assertEqual(level(None), level(45))
        self.assertEqual(level(45), level(90))
        self.assertTrue(5 < level(5) < level(15) < level(30) < level(45))
        self.assertGreater(level(15) - level(0), level(30) - level(15))
        self.assertLess(level(None, share=1 / 60) - 5, 0.1)
        self.assertTrue(level(None, share=0.2) < level(None, share=0.6) < level(None))
        thin, thick = (
            lightness(predict(hair, Bowl(grams={shade: grams, CLEAR: 60 - grams}), process=strong)) for grams in (1, 60)
        )
        self.assertLess(thin, thick - 3)

    def test_what_lift_uncovers_is_warmer_than_hair_that_grew_as_light(self) -> None:
        """F20 for what colour lifts."""
        hair = Canvas(level=5, family=Family.NATURAL, lean=1)
        after = lifted(hair, [oxidative(9, kind=Kind.PERMANENT)], Process(developer_vol=30))
        grew = canvas_lab(replace(hair, level=after.level))
        found = canvas_lab(after)
        self.assertAlmostEqual(found[0], grew[0], delta=0.01)
        self.assertGreater(np.hypot(*found[1:]), np.hypot(*grew[1:]) + 3)

    def test_a_match_on_hair_that_colour_lifts_is_forecast_as_it_will_lift(self) -> None:
        hair, process = Canvas(level=6, family=Family.NATURAL), Process(developer_vol=30)
        shelf = [oxidative(level, kind=Kind.PERMANENT) for level in (6, 8, 10)] + [CLEAR]
        target = predict(hair, Bowl(grams={shelf[1]: 30, CLEAR: 30}), process=process).lab
        best = match(hair, shelf, target, scale=Scale(), process=process, max_shades=2).recipes[0]
        self.assertLess(best.delta_e00, 0.5)
        self.assertLess(float(delta_e00(predict(hair, best.bowl, process=process).lab, target)), 0.5)
        pulls = steer(hair, best.bowl.grams, shelf, process=process)
        np.testing.assert_allclose(pulls.lab, predict(hair, best.bowl, process=process).lab, atol=1e-6)

    def test_strengths_over_forty_vol_are_refused(self) -> None:
        with self.assertRaises(OutOfRange):
            Process(developer_vol=41)

    def test_spread_and_steering_lift_like_the_forecast(self) -> None:
        hair, shade, process = (
            Canvas(level=5, family=Family.NATURAL),
            oxidative(7, kind=Kind.PERMANENT),
            Process(developer_vol=30),
        )
        forecast = predict(hair, alone(shade), process=process).lab
        self.assertLess(float(delta_e00(forecast, spread(hair, alone(shade), process=process).lab)), 1e-6)
        steered = steer(hair, {shade: 30}, [shade], process=process).lab
        self.assertLess(float(delta_e00(forecast, steered)), 1e-6)


class Uses(TestCase):
    def test_damp_hair_takes_less_of_direct_dyes_and_masks_only(self) -> None:
        for kind, less in ((Kind.DIRECT, True), (Kind.MASK, True), (Kind.DEMI, False), (Kind.PERMANENT, False)):
            shade = Shade(name="rose", kind=kind, bands=ROSE, strength=2)
            dry, damp = (
                lightness(predict(CLEAN_WHITE, alone(shade), process=Process(damp=wet))) for wet in (False, True)
            )
            self.assertEqual(damp > dry, less, kind)

    def test_f28_oxidative_colour_outlives_direct_dye(self) -> None:
        lives = [Shade(name="x", kind=kind).life_washes for kind in (Kind.MASK, Kind.DIRECT, Kind.DEMI, Kind.PERMANENT)]
        self.assertEqual(lives, sorted(lives))
