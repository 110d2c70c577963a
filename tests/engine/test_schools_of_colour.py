"""Schools of filling, of porous hair, of aiming past and of a bright look's root, where they change a forecast.

Which is right: common practice, no published source.
"""

import unittest

import numpy as np

from engine.bowl.adjust import Mend, adjust_zones
from engine.bowl.correct import corrections
from engine.bowl.fill import fill, is_neutral, is_warm
from engine.bowl.filler import Filler, FillWith, filled_by
from engine.bowl.goal import ZoneAim
from engine.bowl.match import Match, match_zones
from engine.bowl.mix import Bowl
from engine.bowl.past import OverTone, past
from engine.bowl.predict import predict
from engine.bowl.strategies import Strategy, compare
from engine.bowl.weigh import Scale
from engine.colorimetry.difference import delta_e00
from engine.colorimetry.lab import lab_from_lch, lch_of
from engine.dye.shade import CLEAR, Shade
from engine.dye.shelf import demo_shelf
from engine.hair.canvas import Canvas
from engine.hair.reading import canvas_lab
from engine.hair.residue import LEVEL_DARKEST, Family, level_lightness, level_of_lightness
from engine.service.aftercare import Habits, keeping
from engine.service.chain import ChainedCoat, hair_after
from engine.service.house import Condition
from engine.service.root import RootLook, shadow_lab
from engine.service.route import Route, RouteKind, routes
from engine.service.schedule.search import schedule
from engine.service.schedule.usual import usual_coat
from engine.service.schedule.work import PlannedZone, Purpose, Visit
from engine.service.steps import EQUALISED_FROM, Manner, StepKind
from engine.service.timing import ClockKind

SHELF = tuple(demo_shelf().values())
SCALE = Scale(total_g=60.0, step_g=0.1)
LIGHT = Canvas(level=9.5)
BROWN = lab_from_lch(np.array([32.0, 18.0, 55.0]))


def hue(lab: np.ndarray) -> float:
    return float(lch_of(lab)[2])


def all_of(target: np.ndarray, hair: Canvas, manner: Manner) -> dict[RouteKind, Route]:
    found = routes(hair, target, SHELF, manner=manner)
    return {each.kind: each for each in (found.proposed, *found.others)}


class Filling(unittest.TestCase):
    def found(self, fill_with: FillWith) -> tuple[np.ndarray, Bowl]:
        steps = fill(LIGHT, 7.0, SHELF, scale=SCALE, fill_with=fill_with, answers=1).steps
        return steps[-1].target_lab, steps[-1].bowl.recipes[0].bowl

    def test_a_house_fills_to_the_colour_of_its_kind(self) -> None:
        labs = {school: self.found(school)[0] for school in FillWith}
        gold, copper, red = (
            hue(labs[school]) for school in (FillWith.GOLD_NEUTRAL, FillWith.COPPER_RED, FillWith.DIRECT_RED)
        )
        self.assertGreater(gold, copper + 10)
        self.assertGreater(copper, red + 10)
        self.assertLess(lch_of(labs[FillWith.BROWN])[1], lch_of(labs[FillWith.GOLD_NEUTRAL])[1])
        for lab in labs.values():  # all go as deep
            self.assertAlmostEqual(float(lab[0]), float(level_lightness(7.0)), delta=2.0)

    def test_its_bowls_hold_nothing_cool_and_neutral_only_where_that_belongs(self) -> None:
        for school in FillWith:
            _, bowl = self.found(school)
            with self.subTest(school=school):
                self.assertTrue(bowl.colours)
                for shade in bowl.colours:
                    self.assertTrue(is_warm(shade) or (school.has_neutral and is_neutral(shade)), shade.name)

    def test_a_way_is_forecast_on_hair_that_is_filled_so(self) -> None:
        plain = all_of(BROWN, LIGHT, Manner())[RouteKind.FILL]
        red = all_of(BROWN, LIGHT, Manner(fill_with=FillWith.DIRECT_RED))[RouteKind.FILL]
        self.assertGreater(float(delta_e00(canvas_lab(plain.canvas), canvas_lab(red.canvas))), 5)
        self.assertEqual(plain.minutes, red.minutes)
        level = plain.canvas.level
        self.assertEqual(
            canvas_lab(red.canvas).tolist(), canvas_lab(filled_by(LIGHT, level, Filler.DIRECT_RED)).tolist()
        )


class PorousHair(unittest.TestCase):
    HOUSE = Manner(condition=Condition.EQUALISE)
    RED = predict(LIGHT, Bowl(grams={demo_shelf()["red"]: 6, Shade(name=CLEAR): 54})).lab

    def test_porous_hair_is_evened_and_other_hair_is_not(self) -> None:
        for porosity, is_evened in ((1.6, True), (EQUALISED_FROM, True), (1.2, False), (0.8, False)):
            for manner in (Manner(), self.HOUSE):
                way = all_of(self.RED, Canvas(level=9.5, porosity=porosity), manner)[RouteKind.DEPOSIT]
                kinds = [step.kind for step in way.steps]
                wanted = [StepKind.EQUALISE] if is_evened and manner is self.HOUSE else []
                with self.subTest(porosity=porosity, manner=manner.condition):
                    self.assertEqual(kinds, [*wanted, StepKind.DEPOSIT])

    def test_after_a_lift_it_is_what_the_lift_has_left_that_is_evened(self) -> None:
        hair = Canvas(level=5.0, porosity=1.4, family=Family.NATURAL)
        pink = lab_from_lch(np.array([72.0, 24.0, 5.0]))
        way = all_of(pink, hair, self.HOUSE)[RouteKind.LIFT]
        kinds = [step.kind for step in way.steps]
        self.assertEqual(kinds, [StepKind.LIFT, StepKind.CLEAN_UP, StepKind.EQUALISE, StepKind.DEPOSIT])
        self.assertLess(way.canvas.porosity, way.lift.after.porosity)

    def test_it_is_sprayed_on_and_off_in_time_on_any_head(self) -> None:
        for grams in (20.0, 120.0, 400.0):
            coat = usual_coat(Purpose.EQUALISE, ClockKind.EQUALISER, grams)
            plan = schedule(Visit(zones=(PlannedZone(name="whole", coats=(coat,)),)))
            with self.subTest(grams=grams):
                self.assertEqual(coat.apply_min, 5)
                self.assertEqual(plan.broken, ())

    def test_a_visit_forecasts_the_hair_as_the_way_does(self) -> None:
        hair = Canvas(level=9.5, porosity=1.6)
        way = all_of(self.RED, hair, self.HOUSE)[RouteKind.DEPOSIT]
        after = hair_after(hair, [ChainedCoat(purpose=Purpose.EQUALISE)])
        self.assertEqual(after.porosity, way.canvas.porosity)


class SlightlyPast(unittest.TestCase):
    HEADS = ((Canvas(level=10.0), (60, 32, 8)), (Canvas(level=9.0), (42, 50, 25)), (Canvas(level=9.5), (50, 40, 330)))

    def found(self, hair: Canvas, target: np.ndarray, school: OverTone) -> Match:
        zone = ZoneAim(canvas=hair, target_lab=target, steer_lab=school.steer_lab(hair, target))
        return match_zones([zone], SHELF, scale=SCALE)

    def test_a_bowl_goes_past_its_aim_and_is_nearer_to_it_after_a_week(self) -> None:
        for hair, lch in self.HEADS:
            target = lab_from_lch(np.array(lch, dtype=float))
            on, over = (self.found(hair, target, school).recipes[0] for school in OverTone)
            later = [
                float(delta_e00(target, keeping(hair, each.bowl, Habits(washes_a_week=2)).lab[1]))
                for each in (on, over)
            ]
            with self.subTest(hair=hair.level, lch=lch):
                self.assertLess(later[1], later[0])
                self.assertLess(over.delta_e00, on.delta_e00 + 3)  # slightly
                told = float(delta_e00(target, over.forecasts[0].lab))
                self.assertAlmostEqual(over.delta_e00, told, places=6)  # how far off is told of what is wanted

    def test_what_is_past_on_purpose_is_neither_warned_of_nor_mended(self) -> None:
        hair, target = Canvas(level=9.0), lab_from_lch(np.array([42.0, 50, 25]))
        found = self.found(hair, target, OverTone.PAST)
        self.assertEqual([each.code for each in found.warnings], [])
        zone = ZoneAim(canvas=hair, target_lab=target, steer_lab=past(hair, target))
        plan = adjust_zones([zone], found.recipes[0].bowl, SHELF, max_total_g=90)
        self.assertEqual((plan.way, dict(plan.additions)), (Mend.NOTHING, {}))
        same = adjust_zones([ZoneAim(canvas=hair, target_lab=target)], found.recipes[0].bowl, SHELF, max_total_g=90)
        self.assertNotEqual(same.way, Mend.NOTHING)  # a house that aims at the aim would mend it

    def test_a_correction_is_told_by_what_is_wanted(self) -> None:
        hair, target = Canvas(level=10.0), lab_from_lch(np.array([60.0, 32, 8]))
        zone = ZoneAim(canvas=hair, target_lab=target, steer_lab=past(hair, target))
        bowl = Bowl(grams={demo_shelf()["crimson"]: 1.0, Shade(name=CLEAR): 59.0})  # too pale
        for found in corrections([zone], bowl, SHELF, room_g=60.0):
            grams = dict(bowl.grams)
            for shade, more in found.additions.items():
                grams[shade] = grams.get(shade, 0.0) + more
            told = float(delta_e00(target, predict(hair, Bowl(grams=grams)).lab))
            self.assertAlmostEqual(found.delta_e00, told, places=3)

    def test_the_ways_to_meet_warmth_go_past_too(self) -> None:
        hair, target = Canvas(level=9.0), lab_from_lch(np.array([55.0, 40, 25]))
        on, over = (
            {each.strategy: each for each in compare(hair, SHELF, target, scale=SCALE, over_tone=school)}
            for school in OverTone
        )
        mixed = on[Strategy.CORRECT_IN_BOWL], over[Strategy.CORRECT_IN_BOWL]
        self.assertLess(float(mixed[1].forecast.lab[0]), float(mixed[0].forecast.lab[0]))
        self.assertEqual(on[Strategy.PRE_TONE].toner.grams, over[Strategy.PRE_TONE].toner.grams)

    def test_zones_alike_but_for_where_they_steer_are_two(self) -> None:
        hair, target = Canvas(level=10.0), lab_from_lch(np.array([60.0, 32, 8]))
        on = ZoneAim(canvas=hair, target_lab=target)
        over = ZoneAim(canvas=hair, target_lab=target, steer_lab=past(hair, target))
        between = match_zones([on, over], SHELF, scale=SCALE).recipes[0].delta_e00
        alone = match_zones([over], SHELF, scale=SCALE).recipes[0].delta_e00
        self.assertLess(between, alone)


class Roots(unittest.TestCase):
    def test_a_shadow_is_deeper_of_the_same_hue(self) -> None:
        for lch in ((62.0, 40, 10), (50.0, 60, 320), (80.0, 20, 90)):
            lengths = lab_from_lch(np.array(lch))
            for look in (RootLook.SHADOW, RootLook.TAP):
                shadow = shadow_lab(lengths, look.levels_deeper)
                with self.subTest(lch=lch, look=look):
                    deeper = float(level_of_lightness(lengths[0])) - float(level_of_lightness(shadow[0]))
                    self.assertAlmostEqual(deeper, look.levels_deeper, places=3)
                    self.assertAlmostEqual(hue(shadow), lch[2], places=3)
                    self.assertLess(lch_of(shadow)[1], lch[1])

    def test_black_has_no_shadow_and_solid_is_the_lengths_own(self) -> None:
        black = np.array([float(level_lightness(LEVEL_DARKEST)), 1.0, 1.0])
        self.assertLessEqual(shadow_lab(black, 2.0)[0], black[0])
        self.assertEqual(shadow_lab(np.array([0.0, 0.0, 0.0]), 2.0).tolist(), [0.0, 0.0, 0.0])
        lengths = lab_from_lch(np.array([62.0, 40, 10]))
        self.assertTrue(np.allclose(shadow_lab(lengths, RootLook.SOLID.levels_deeper), lengths, atol=1e-6))
        self.assertEqual([look.to_cm for look in RootLook], [None, None, None, 2.0])
