"""The pastel ladder."""

from unittest import TestCase

from engine.bowl.dilute import dilutions, nearest_rung
from engine.bowl.mix import Bowl
from engine.bowl.weigh import Scale
from engine.dye.shade import Shade
from engine.dye.shelf import demo_shelf
from engine.hair.canvas import Canvas
from tests.engine.made import bowl, hue_gap

WHITE = Canvas(level=11)
CLEAR = demo_shelf()["clear"]


class PastelLadder(TestCase):
    def test_f23_each_rung_is_softer_and_of_the_same_hue(self) -> None:
        """More clear is softer, not another hue: common practice, no published source. On clean white hair, since
        what shows of yellow hair turns any pastel warm."""
        for name in ("magenta", "violet", "turquoise", "yellow"):
            rungs = dilutions(WHITE, bowl(**{name: 5.0, "clear": 5.0}), CLEAR, Scale(total_g=60))
            strengths = [float(rung.forecast.lch[1]) for rung in rungs]
            with self.subTest(name=name):
                self.assertEqual(strengths[1:], sorted(strengths[1:], reverse=True))
                hues = [float(rung.forecast.lch[2]) for rung in rungs[2:]]
                self.assertLess(max(hue_gap(one, hues[0]) for one in hues), 25)
                lights = [float(rung.forecast.lab[0]) for rung in rungs]
                self.assertEqual(lights, sorted(lights))

    def test_parts_are_by_weight_and_colours_keep_their_shares(self) -> None:
        for rung in dilutions(WHITE, bowl(magenta=3.0, violet=1.0, clear=2.0), CLEAR, Scale(total_g=66)):
            grams = {shade.name: each for shade, each in rung.bowl.grams.items()}
            coloured = grams["magenta"] + grams["violet"]
            with self.subTest(parts=rung.parts):
                self.assertAlmostEqual(sum(grams.values()), 66.0)
                self.assertAlmostEqual(grams["clear"] / coloured, rung.parts, delta=0.06 * rung.parts)
                self.assertAlmostEqual(grams["magenta"] / grams["violet"], 3.0, delta=0.4)

    def test_a_rung_is_too_fine_when_a_shade_of_it_is_less_than_the_scale_tells(self) -> None:
        rungs = dilutions(WHITE, bowl(magenta=9.0, violet=1.0), CLEAR, Scale(total_g=60, least_g=0.3))
        self.assertEqual([rung.too_fine for rung in rungs], [False, False, False, False, False, True])

    def test_the_nearest_rung_is_the_one_of_the_aim(self) -> None:
        aim = dilutions(WHITE, bowl(magenta=1.0), CLEAR, Scale(total_g=60))[3].forecast.lab
        rungs = dilutions(WHITE, bowl(magenta=1.0), CLEAR, Scale(total_g=60), target_lab=aim)
        self.assertEqual(nearest_rung(rungs), 3)
        self.assertIsNone(nearest_rung(dilutions(WHITE, bowl(magenta=1.0), CLEAR, Scale(total_g=60))))

    def test_another_carrier_thins_more_gram_for_gram(self) -> None:
        heavy = Shade(name="conditioner", strength=0, thins=1.4)
        plain, thinned = (
            dilutions(WHITE, bowl(magenta=1.0, clear=4.0), carrier, Scale(total_g=60)) for carrier in (CLEAR, heavy)
        )
        for one, other in zip(plain[2:], thinned[2:], strict=True):
            self.assertGreater(float(one.forecast.lch[1]), float(other.forecast.lch[1]))

    def test_a_bowl_of_clear_has_no_ladder(self) -> None:
        self.assertEqual(dilutions(WHITE, Bowl(grams={CLEAR: 30.0}), CLEAR, Scale(total_g=60)), ())
