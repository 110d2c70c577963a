"""What the Bench asks: quick corrections, several zones, reasons, lights, tresses, measures, photos."""

from dataclasses import replace
from unittest import TestCase

import numpy as np

from engine.bowl.across import partings, zone_labs
from engine.bowl.adjust import Mend, adjust_zones
from engine.bowl.correct import corrections
from engine.bowl.goal import ZoneAim, goal_of
from engine.bowl.match import match
from engine.bowl.mix import FULL_TIME_DRY, Bowl, added_absorption
from engine.bowl.predict import predict
from engine.bowl.weigh import Scale
from engine.bowl.why import Absorber, reason_words, reasons_of
from engine.colorimetry.difference import delta_e00
from engine.colorimetry.lights import Light
from engine.dye.shade import Band, Shade
from engine.dye.shelf import demo_shelf
from engine.errors import OutOfRange
from engine.hair.canvas import Canvas, OldColour, fibres_of
from engine.hair.lock import BODY
from engine.hair.residue import Family
from engine.hair.tress import Stretch, seam_weights, tress_tones
from tests.engine.made import CLEAN_WHITE, bowl, dyed

SHELF = tuple(demo_shelf().values())
TEN = Canvas(level=10)


def aims(*canvases: Canvas, **grams: float) -> list[ZoneAim]:
    """Zones with one aim, the colour that a bowl gives on the first."""
    target = dyed(canvases[0], **grams).lab
    return [ZoneAim(canvas=canvas, target_lab=target) for canvas in canvases]


class QuickCorrections(TestCase):
    def test_each_brings_the_bowl_nearer_by_what_it_says(self) -> None:
        zones, start = aims(TEN, magenta=2, yellow=1, clear=60), bowl(magenta=2, clear=50)
        before = float(delta_e00(zones[0].target_lab, predict(TEN, start).lab))
        found = corrections(zones, start, SHELF, room_g=60)
        self.assertEqual(len(found), 2)
        for each in found:
            grams = dict(start.grams)
            for shade, added in each.additions.items():
                grams[shade] = grams.get(shade, 0) + added
            after = float(delta_e00(zones[0].target_lab, predict(TEN, Bowl(grams=grams)).lab))
            self.assertAlmostEqual(after, each.delta_e00, places=6)
            self.assertLess(after, before - 0.3)
            self.assertLessEqual(sum(each.additions.values()), 60)

    def test_two_corrections_never_use_the_same_shades(self) -> None:
        found = corrections(aims(TEN, red=1, clear=60), bowl(magenta=4, clear=40), SHELF, room_g=80)
        self.assertEqual(len({frozenset(each.additions) for each in found}), len(found))

    def test_too_strong_a_bowl_is_thinned_with_clear(self) -> None:
        found = corrections(aims(TEN, magenta=1, clear=60), bowl(magenta=1, clear=30), SHELF, room_g=60)
        self.assertEqual([shade.name for shade in found[0].additions], ["clear"])

    def test_a_bowl_on_its_aim_needs_none(self) -> None:
        self.assertEqual(corrections(aims(TEN, magenta=1, clear=30), bowl(magenta=1, clear=30), SHELF, room_g=50), ())

    def test_without_room_nothing_is_offered(self) -> None:
        self.assertEqual(corrections(aims(TEN, red=1, clear=60), bowl(magenta=4, clear=40), SHELF, room_g=0), ())


class SeveralZones(TestCase):
    def test_one_bowl_is_adjusted_for_all_its_zones(self) -> None:
        zones = aims(TEN, Canvas(level=9.5), crimson=2, yellow=1, clear=60)
        found = adjust_zones(zones, bowl(crimson=2, clear=40), SHELF, max_total_g=120)
        self.assertIn(found.way, (Mend.ADD, Mend.CANNOT))
        self.assertEqual([each.canvas for each in found.afters], [zone.canvas for zone in zones])
        mean = np.mean([each.aim.delta_e00 for each in found.afters])
        self.assertAlmostEqual(found.delta_e00, float(mean), places=9)
        self.assertLess(found.delta_e00, np.mean([each.aim.delta_e00 for each in found.befores]))

    def test_zones_that_are_alike_are_reckoned_once_and_count_as_often(self) -> None:
        colours = [shade for shade in SHELF if not shade.is_clear]
        one, other = aims(TEN, Canvas(level=8), red=2, clear=30)
        goal = goal_of([one, other, one], colours, FULL_TIME_DRY, Light.DAYLIGHT)
        self.assertEqual(len(goal.sights), 2)
        self.assertAlmostEqual(max(sight.share for sight in goal.sights), 2 / 3)


class Why(TestCase):
    def said(self, canvas: Canvas, mix: Bowl, **more: object) -> str:
        return reason_words(reasons_of(canvas, mix), **more)

    def test_yellow_that_turns_blue_to_turquoise_is_named_with_its_level(self) -> None:
        said = self.said(Canvas(level=9), bowl(blue=3, clear=20))
        self.assertEqual(said, "the yellow left at level 9 turns this blue turquoise")

    def test_old_colour_is_named_as_what_is_still_in_it(self) -> None:
        toned = Canvas(level=11, old=(OldColour(shade=demo_shelf()["violet"], k_s=0.6),))
        self.assertIn("the violet still in it", self.said(toned, bowl(copper=1, clear=60)))

    def test_clean_white_hair_has_nothing_to_say(self) -> None:
        self.assertEqual(self.said(CLEAN_WHITE, bowl(magenta=3, clear=30)), "")

    def test_the_shade_that_carries_most_of_the_difference_is_named_as_people_call_it(self) -> None:
        target = dyed(CLEAN_WHITE, magenta=2, clear=60).lab
        orchil, smalt = replace(demo_shelf()["magenta"], name="Orchil"), replace(demo_shelf()["blue"], name="Smalt")
        mix = Bowl(grams={orchil: 2, smalt: 1, demo_shelf()["clear"]: 60})
        said = self.said(CLEAN_WHITE, mix, target_lab=target)
        self.assertEqual(said, "most of the difference comes from Smalt")

    def test_the_parts_are_forecasts_with_one_absorber_left_out(self) -> None:
        canvas = Canvas(level=8, family=Family.NATURAL)
        found = reasons_of(canvas, bowl(red=2, clear=10))
        by_kind = {part.kind: part for part in found.parts}
        self.assertEqual(set(by_kind), {Absorber.UNDERTONE, Absorber.SHADE})
        np.testing.assert_allclose(by_kind[Absorber.SHADE].without_lab, predict(canvas, None).lab, atol=1e-9)
        np.testing.assert_allclose(found.lab, dyed(canvas, red=2, clear=10).lab, atol=1e-9)


class Lights(TestCase):
    def test_zone_colours_in_every_light_are_their_forecasts(self) -> None:
        work = [(TEN, bowl(red=1, clear=20)), (Canvas(level=8, grey=0.3), None)]
        labs = zone_labs(work)
        for row, light in enumerate(Light):
            for column, (canvas, mix) in enumerate(work):
                np.testing.assert_allclose(labs[row, column], predict(canvas, mix, light=light).lab, atol=1e-9)

    def test_two_zones_that_part_in_another_light_are_found(self) -> None:
        labs = np.array([[[60, 20, 0], [60, 21, 0]], [[60, 20, 0], [60, 20, 9]]], dtype=float)
        found = partings(labs, (Light.DAYLIGHT, Light.EVENING))
        self.assertEqual([(each.match_in, each.part_in) for each in found], [(Light.DAYLIGHT, Light.EVENING)])

    def test_a_pair_made_of_other_dyes_really_parts(self) -> None:
        """A metameric pair: the same daylight colour from bands elsewhere in the spectrum."""
        narrow = Shade(name="narrow", bands=(Band(centre_nm=575, sigma_nm=8, weight=1),), strength=4)
        target = predict(CLEAN_WHITE, Bowl(grams={narrow: 1, demo_shelf()["clear"]: 3})).lab
        other = match(CLEAN_WHITE, SHELF, target, scale=Scale(total_g=200, step_g=0.01), max_shades=3).recipes[0].bowl
        labs = zone_labs([(CLEAN_WHITE, Bowl(grams={narrow: 1, demo_shelf()["clear"]: 3})), (CLEAN_WHITE, other)])
        apart = delta_e00(labs[:, 0], labs[:, 1])
        self.assertLess(float(apart[0]), 1.5)
        self.assertGreater(float(apart.max()), 2 * float(apart[0]))

    def test_zones_that_match_everywhere_are_left_in_peace(self) -> None:
        self.assertEqual(partings(zone_labs([(TEN, None), (TEN, None)])), ())


class Tresses(TestCase):
    def stretch(self, level: float, length: float, blend: float = 0.2) -> Stretch:
        return Stretch(fibres=fibres_of(Canvas(level=level)), added=np.zeros(81), length=length, blend=blend)

    def test_seams_blend_in_a_straight_line_as_wide_as_they_say(self) -> None:
        along = np.linspace(0, 1, 101)
        weights = seam_weights([self.stretch(6, 1), self.stretch(10, 1)], along)
        np.testing.assert_allclose(weights.sum(axis=1), 1)
        self.assertEqual(weights[39, 0], 1.0)
        self.assertAlmostEqual(float(weights[50, 0]), 0.5)
        self.assertEqual(weights[61, 0], 0.0)

    def test_each_zone_shows_its_own_forecast_away_from_the_seams(self) -> None:
        mix = bowl(crimson=3, clear=20)
        stretches = [
            Stretch(fibres=fibres_of(hair), added=added_absorption(mix, 1.0, FULL_TIME_DRY), length=length, blend=0.1)
            for hair, length in ((Canvas(level=7), 1.0), (TEN, 3.0))
        ]
        tones = tress_tones(stretches, np.array([0.0, 1.0]))
        np.testing.assert_allclose(tones[0, BODY], predict(Canvas(level=7), mix).lab, atol=1e-9)
        np.testing.assert_allclose(tones[1, BODY], predict(TEN, mix).lab, atol=1e-9)

    def test_a_single_zone_is_the_same_all_along(self) -> None:
        tones = tress_tones([self.stretch(9, 1)], np.array([0, 0.3, 1.0]), Light.EVENING)
        np.testing.assert_allclose(tones[0], tones[2])
        np.testing.assert_allclose(tones[0, BODY], predict(Canvas(level=9), None, light=Light.EVENING).lab, atol=1e-9)

    def test_seams_wider_than_half_the_hair_are_refused(self) -> None:
        with self.assertRaises(OutOfRange):
            self.stretch(9, 1, blend=0.6)
