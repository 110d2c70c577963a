"""What a coat usually takes, and whole heads planned from it. Common practice, no published source."""

import time
import unittest

from engine.errors import Unknown
from engine.service.schedule.search import schedule
from engine.service.schedule.usual import LiftAsked, batches_of, usual_coat
from engine.service.schedule.work import PlannedZone, Purpose, Schedule, SlotKind, Visit
from engine.service.timing import TIMINGS, ClockKind, Pack

FOUR_LEVELS = LiftAsked(levels=4.0, vol=20.0, porosity=1.0)


def lift(grams: float = 40.0, asked: LiftAsked = FOUR_LEVELS):
    return usual_coat(Purpose.LIFT, ClockKind.LIGHTENER, grams, lift=asked)


def colour(grams: float = 40.0):
    return usual_coat(Purpose.COLOUR, ClockKind.DIRECT, grams)


def stays(made: Schedule, zone: str, coat: int) -> float:
    """Minutes from a coat's first hair on to its basin."""
    on = next(s for s in made.slots if s.kind is SlotKind.APPLY and s.zones == (zone,) and s.coats == (coat,))
    off = next(s for s in made.slots if s.kind is SlotKind.BASIN and (zone, coat) in zip(s.zones, s.coats, strict=True))
    return off.start_min - on.start_min


class Usual(unittest.TestCase):
    def test_a_lightener_is_rinsed_within_its_own_window_and_never_past_the_packs_most(self) -> None:
        for levels in (0.5, 2.0, 4.0, 7.0):
            for vol in (10.0, 20.0, 30.0):
                coat = lift(asked=LiftAsked(levels=levels, vol=vol, porosity=1.0))
                self.assertTrue(5 <= coat.least_min <= coat.most_min < TIMINGS[ClockKind.LIGHTENER].pack_most_min)

    def test_what_stops_by_itself_may_wait_and_what_turns_may_not(self) -> None:
        self.assertEqual((colour().least_min, colour().most_min), (30, 60))
        toner = usual_coat(Purpose.GLAZE, ClockKind.TONER, 30)
        self.assertEqual((toner.least_min, toner.most_min, toner.looked_at_min), (4, 10, 2))
        direct = usual_coat(Purpose.GLAZE, ClockKind.DIRECT, 30)
        self.assertEqual((direct.looked_at_min, direct.most_min), (2, 60))

    def test_minutes_that_are_set_take_their_place(self) -> None:
        self.assertEqual(usual_coat(Purpose.COLOUR, ClockKind.DIRECT, 40, minutes=45).least_min, 45)
        short = usual_coat(Purpose.LIFT, ClockKind.LIGHTENER, 40, lift=FOUR_LEVELS, minutes=12)
        self.assertEqual((short.least_min <= 12, short.most_min), (True, 12))
        self.assertEqual(usual_coat(Purpose.COLOUR, ClockKind.DIRECT, 400, apply_min=9).apply_min, 9)

    def test_what_its_own_pack_says_stands_over_what_is_usual_and_what_is_set(self) -> None:
        pack = Pack(usual_min=8, most_min=12)
        for minutes, window in ((None, (8, 12)), (10, (10, 12)), (40, (12, 12))):
            coat = usual_coat(Purpose.COLOUR, ClockKind.DEMI, 40, minutes=minutes, pack=pack)
            self.assertEqual((coat.least_min, coat.most_min), window)
        glaze = usual_coat(Purpose.GLAZE, ClockKind.DEMI, 30, pack=pack)
        self.assertEqual((glaze.least_min, glaze.most_min), (TIMINGS[ClockKind.TONER].usual_min[0], 12))
        lift = usual_coat(Purpose.LIFT, ClockKind.LIGHTENER, 40, lift=FOUR_LEVELS, pack=Pack(most_min=25))
        self.assertEqual((lift.least_min, lift.most_min), (25, 25))

    def test_a_long_application_of_lightener_takes_fresh_bowls(self) -> None:
        self.assertEqual([batches_of(Purpose.LIFT, minutes) for minutes in (10, 16, 40)], [1, 2, 3])
        self.assertEqual(batches_of(Purpose.COLOUR, 40), 1)


class Heads(unittest.TestCase):
    def test_roots_mids_and_ends_with_a_lift_keep_its_window(self) -> None:
        names = ("roots", "mids", "ends")
        zones = tuple(PlannedZone(name=name, coats=(lift(25), colour(20))) for name in names)
        made = schedule(Visit(zones=zones))
        self.assertTrue(made.possible)
        for name in names:
            self.assertLessEqual(stays(made, name, 0), lift().most_min + 1e-6)
            self.assertLessEqual(stays(made, name, 1), 60 + 1e-6)

    def test_a_panel_in_foil_lifts_while_the_lengths_are_filled_and_coloured(self) -> None:
        fill = usual_coat(Purpose.FILL, ClockKind.FILL, 60)
        toner = usual_coat(Purpose.PRE_TONE, ClockKind.TONER, 10)
        zones = (
            PlannedZone(name="lengths", coats=(fill, colour(60))),
            PlannedZone(name="panel", coats=(lift(15), toner, colour(15)), apart=True),
        )
        made = schedule(Visit(zones=zones))
        self.assertTrue(made.possible)
        self.assertLessEqual(stays(made, "panel", 0), lift().most_min + 1e-6)
        one_by_one = sum(schedule(Visit(zones=(zone,))).total_min for zone in zones)
        self.assertLess(made.total_min, one_by_one)

    def test_what_one_pair_of_hands_can_not_keep_is_said_and_never_overrun_in_silence(self) -> None:
        asked = LiftAsked(levels=1.0, vol=20.0, porosity=1.0)
        made = schedule(Visit(zones=(PlannedZone(name="head", coats=(lift(200, asked),)),)))
        self.assertFalse(made.possible)
        (broken,) = made.broken
        self.assertEqual((broken.zone, broken.purpose), ("head", Purpose.LIFT))
        self.assertTrue(made.hands_needed or broken.sections)

    def test_a_zone_is_taken_up_first_where_that_is_said(self) -> None:
        zones = tuple(PlannedZone(name=name, coats=(colour(40),)) for name in ("roots", "ends"))
        for first in ("roots", "ends"):
            self.assertEqual(schedule(Visit(zones=zones, turns=(first,))).slots[0].zones, (first,))
        with self.assertRaises(Unknown):
            Visit(zones=zones, turns=("beard",))

    def test_six_zones_of_three_coats_are_planned_in_a_fifth_of_a_second(self) -> None:
        glaze = usual_coat(Purpose.GLAZE, ClockKind.TONER, 10)
        zones = tuple(PlannedZone(name=f"zone {n}", coats=(lift(20), colour(20), glaze)) for n in range(6))
        begun = time.process_time()
        made = schedule(Visit(zones=zones))
        self.assertLess(time.process_time() - begun, 2.0)  # ten times what it takes: a slip, not a slow day
        self.assertTrue(made.slots)
