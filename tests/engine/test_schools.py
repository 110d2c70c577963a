"""What the schools of a house change, told before a rule is kept.

Which is right: common practice, no published source.
"""

import unittest

import numpy as np

from engine.arrays import FloatArray
from engine.bowl.fill import FillFrom
from engine.bowl.mix import Bowl
from engine.bowl.predict import predict
from engine.bowl.strategies import PreTone, Strategy, by_school, compare
from engine.bowl.weigh import Scale
from engine.colorimetry.difference import delta_e00
from engine.dye.shade import CLEAR, Shade
from engine.dye.shelf import demo_shelf
from engine.hair.canvas import Canvas
from engine.hair.residue import Family, level_of_lightness
from engine.service.by_hand import ByHand, route_by_hand
from engine.service.house import CleanUp, Heat, HowLight, TonerLevel
from engine.service.lift import Strength
from engine.service.route import Route, RouteKind, routes
from engine.service.schedule.search import schedule
from engine.service.schedule.usual import LiftAsked, usual_coat
from engine.service.schedule.work import PlannedZone, Purpose, Visit
from engine.service.schools import effects
from engine.service.steps import Manner
from engine.service.timing import ClockKind
from engine.service.work import WorkKind

HAIR = Canvas(level=8.5)
SCHOOLS = (FillFrom.TWO_LEVELS, FillFrom.MORE_THAN_TWO)


class Schools(unittest.TestCase):
    def setUp(self) -> None:
        self.told = {name: {each.choice: each for each in found} for name, found in effects().items()}

    def test_each_choice_of_a_rule_does_something_else(self) -> None:
        for name, found in self.told.items():
            with self.subTest(rule=name):
                self.assertGreater(len(found), 1)
                self.assertGreater(len({each.words for each in found.values()}), 1)

    def test_the_two_ladders_are_told_apart_by_eye(self) -> None:
        yellow, orange = self.told["school"].values()
        self.assertIn("yellow-gold", yellow.words)
        self.assertGreater(float(delta_e00(yellow.lab, orange.lab)), 5)
        self.assertGreater(orange.lab[1], yellow.lab[1])  # redder

    def test_two_levels_a_visit_take_more_visits(self) -> None:
        self.assertIn("2 visits", self.told["strong_lift"]["steps"].words)
        self.assertIn("3 visits", self.told["strong_lift"]["two"].words)

    def test_hair_that_is_filled_first_is_warmer_and_deeper(self) -> None:
        filled, bare = self.told["fill_from"].values()
        self.assertLess(filled.lab[0], bare.lab[0])
        self.assertGreater(filled.lab[1], bare.lab[1])

    def test_open_work_is_mixed_thicker(self) -> None:
        self.assertIn("to 1 of", self.told["lay"]["open"].words)
        self.assertIn("to 2 of", self.told["lay"]["foil"].words)

    def test_damp_hair_takes_less_of_direct_dye_and_evens_what_is_porous(self) -> None:
        dry, damp = self.told["deposit_on"]["dry"], self.told["deposit_on"]["damp"]
        self.assertGreater(damp.lab[0], dry.lab[0])
        self.assertIn("15% less", damp.words)  # engine.dye.uptake
        self.assertEqual(self.told["deposit_on"]["by_kind"].words, "direct dry, demi damp, permanent dry")

    def test_a_house_that_lifts_as_light_as_it_goes_lifts_further_than_the_colour_needs(self) -> None:
        needed, lightest = self.told["how_light"].values()
        self.assertGreater(lightest.lab[0], needed.lab[0])
        self.assertLess(lightest.lab[2], needed.lab[2])  # paler
        target = brown(6.5)
        natural = Canvas(level=4.0, family=Family.NATURAL)
        weak = Strength(most_levels=2.0)
        for hair, strength in ((natural, Strength()), (natural, weak)):
            found = routes(hair, target, tuple(demo_shelf().values()), strength=strength, how_light=HowLight.LIGHTEST)
            lifts = [each.lift for each in (found.proposed, *found.others) if each.lift]
            with self.subTest(strength=strength):
                self.assertTrue(lifts)
                for plan in lifts:
                    self.assertLessEqual(plan.stop_level - hair.level, strength.levels + 1e-9)  # no more in one visit
                    self.assertLessEqual(plan.stop_level, 10)

    def test_pre_tone_is_first_never_or_where_it_is_nearer(self) -> None:
        target = predict(Canvas(level=9.8), Bowl(grams={demo_shelf()["red"]: 3, Shade(name=CLEAR): 57})).lab
        found = compare(Canvas(level=9.0), tuple(demo_shelf().values()), target, scale=Scale(total_g=60, step_g=0.1))
        self.assertIn(Strategy.PRE_TONE, [each.strategy for each in found])
        self.assertEqual(by_school(found, PreTone.NEARER), found)
        self.assertEqual(by_school(found, PreTone.ALWAYS)[0].strategy, Strategy.PRE_TONE)
        self.assertEqual(len(by_school(found, PreTone.ALWAYS)), len(found))
        self.assertNotIn(Strategy.PRE_TONE, [each.strategy for each in by_school(found, PreTone.NEVER)])

    def test_toners_washing_heat_and_carrier_do_what_they_say(self) -> None:
        self.assertEqual((TonerLevel.OWN.steps, TonerLevel.TWO_DARKER.steps), ((1.0, 0.0), (1.0, 0.0, -1.0, -2.0)))
        self.assertLess(self.told["toner_level"]["two_darker"].lab[0], self.told["toner_level"]["own"].lab[0])
        self.assertIn("15 to 20 min", self.told["clean_up"]["twice"].words)
        self.assertEqual([kind for kind in WorkKind if Heat.LIGHTENER.is_on(kind)], [WorkKind.LIGHTENER])
        self.assertFalse(any(Heat.NONE.is_on(kind) for kind in WorkKind))
        self.assertIn("Heat with lightener on fragile hair", self.told["heat"]["lightener"].words)
        thick, thin = self.told["carrier"]["conditioner"].lab, self.told["carrier"]["clear"].lab
        self.assertGreater(thick[0], thin[0])  # conditioner thins more: the same grams of red are paler in it
        self.assertGreater(
            *(float(self.told["water"][name].words.split(": ")[1].split()[0]) for name in ("as_liked", "cool"))
        )

    def test_ways_are_reckoned_on_the_hair_that_the_colour_meets(self) -> None:
        """As the Bench forecasts: on porous hair damp and dry part."""
        hair, shelf = Canvas(level=9.0, porosity=1.6), tuple(demo_shelf().values())
        target = predict(hair, Bowl(grams={demo_shelf()["red"]: 60})).lab  # as strong as it gets on dry hair

        def deposit_alone(*, damp: bool) -> Route:
            found = routes(hair, target, shelf, manner=Manner(damp=damp))
            return next(each for each in (found.proposed, *found.others) if each.kind is RouteKind.DEPOSIT)

        for make in (
            deposit_alone,
            lambda damp: route_by_hand(hair, target, shelf, ByHand(), manner=Manner(damp=damp)),
        ):
            with self.subTest(make=make):
                self.assertGreater(make(damp=True).delta_e00, make(damp=False).delta_e00 + 0.3)

    def test_a_house_on_damp_hair_dries_none_before_and_a_second_wash_takes_its_time(self) -> None:
        for damp in (False, True):
            coat = usual_coat(Purpose.COLOUR, ClockKind.DEMI, 60, damp=damp)
            self.assertEqual(coat.wants_dry, not damp)
        ends = []
        for how in CleanUp:
            lifted = usual_coat(
                Purpose.LIFT, ClockKind.LIGHTENER, 60, lift=LiftAsked(levels=2, vol=20, porosity=1), clean_up=how
            )
            colour = usual_coat(Purpose.COLOUR, ClockKind.DIRECT, 60, clean_up=how)
            ends.append(schedule(Visit(zones=(PlannedZone(name="whole", coats=(lifted, colour)),))).total_min)
        self.assertEqual(ends[1] - ends[0], 5)  # after the lift, and not after the colour
        self.assertIn("twice", CleanUp.TWICE.steps[1])

    def test_a_second_wash_makes_the_way_longer(self) -> None:
        hair, shelf = Canvas(level=5.0, family=Family.NATURAL), tuple(demo_shelf().values())
        target = predict(Canvas(level=9.0), Bowl(grams={demo_shelf()["copper"]: 6, Shade(name=CLEAR): 54})).lab
        times = []
        for how in CleanUp:
            found = routes(hair, target, shelf, manner=Manner(clean_up=how))
            times.append(next(each.minutes for each in (found.proposed, *found.others) if each.lift))
        self.assertEqual(times[1][0] - times[0][0], 5)

    def test_exactly_two_levels_down_part_the_schools_of_filling(self) -> None:
        shelf = tuple(demo_shelf().values())
        for down, is_filled in ((2.0, [True, False]), (3.0, [True, True])):
            found = [routes(HAIR, brown(HAIR.level - down), shelf, fill_from=school) for school in SCHOOLS]
            kinds = [{each.kind for each in (ways.proposed, *ways.others)} for ways in found]
            self.assertEqual([RouteKind.FILL in each for each in kinds], is_filled)


def brown(level: float) -> FloatArray:
    """A warm brown, L*a*b* (3,), as deep as a level."""
    low, high = 5.0, 95.0
    for _ in range(60):
        middle = (low + high) / 2
        low, high = (middle, high) if level_of_lightness(middle) < level else (low, middle)
    return np.array([(low + high) / 2, 10.0, 22.0])
