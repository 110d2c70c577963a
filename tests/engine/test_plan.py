"""Amounts and the plan of a visit. Common practice, no published source."""

import itertools
import unittest

from hypothesis import given
from hypothesis import strategies as st

from engine.errors import OutOfRange, Unknown
from engine.service.amounts import SHARES, Density, Length, needed
from engine.service.plan import Plan, Task, ZoneWork, clashes, plan, task_of
from engine.service.route import StepKind


def task(kind: StepKind, apply_min: float, process_min: float) -> Task:
    return Task(kind=kind, apply_min=apply_min, process_min=process_min)


LIFT_30, FILL_20 = task(StepKind.LIFT, 15, 30), task(StepKind.FILL, 5, 20)
CLEAN, COLOUR = task(StepKind.CLEAN_UP, 10, 0), task(StepKind.DEPOSIT, 10, 25)
TASKS = st.builds(Task, kind=st.sampled_from(StepKind), apply_min=st.floats(0.5, 40), process_min=st.floats(0, 50))
WORK = st.lists(st.lists(TASKS, min_size=1, max_size=4), min_size=1, max_size=5).map(
    lambda zones: [ZoneWork(name=f"zone {index}", tasks=tuple(tasks)) for index, tasks in enumerate(zones)]
)


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


class Plans(unittest.TestCase):
    def test_a_panel_lifts_while_the_rest_is_filled(self) -> None:
        made = plan(
            [
                ZoneWork(name="lengths", tasks=(FILL_20, COLOUR)),
                ZoneWork(name="panel", tasks=(LIFT_30, CLEAN, COLOUR)),
            ]
        )
        lift, fill = made.lanes["panel"][0], made.lanes["lengths"][0]
        self.assertEqual(lift.start_min, 0)  # the longer way is taken up first
        self.assertTrue(lift.applied_min <= fill.start_min < lift.end_min)
        alone = sum(t.apply_min + t.process_min for t in (FILL_20, COLOUR, LIFT_30, CLEAN, COLOUR))
        self.assertLess(made.total_min, alone)

    def test_a_long_application_of_lightener_takes_several_bowls(self) -> None:
        # F36: a lightener bowl is past its best 10 to 15 minutes after mixing.
        self.assertEqual(task(StepKind.LIFT, 40, 30).batches, 3)
        self.assertEqual(task(StepKind.DEPOSIT, 40, 30).batches, 1)

    def test_rinsing_holds_the_hands_and_colour_only_while_it_is_applied(self) -> None:
        self.assertEqual(task_of(StepKind.CLEAN_UP, 60, 12).process_min, 0)
        colour = task_of(StepKind.DEPOSIT, 60, 25)
        self.assertEqual((colour.apply_min, colour.process_min), (15, 25))

    def test_two_chairs_that_want_the_hands_at_once_are_told(self) -> None:
        made = plan([ZoneWork(name="all", tasks=(COLOUR,))])
        self.assertEqual(clashes([(600, made), (605, made)]), ((605, 610),))
        self.assertEqual(clashes([(600, made), (610, made)]), ())

    def test_nothing_planned_takes_no_time(self) -> None:
        self.assertEqual((plan([]).total_min, Plan(slots=()).hands_min), (0, 0))

    def test_minutes_out_of_range_are_refused(self) -> None:
        with self.assertRaises(OutOfRange):
            task(StepKind.LIFT, -1, 10)

    @given(WORK)
    def test_hands_do_one_thing_at_a_time_and_every_zone_keeps_its_order(self, work: list[ZoneWork]) -> None:
        made = plan(work)
        for one, other in zip(made.slots, made.slots[1:], strict=False):
            self.assertLessEqual(one.applied_min, other.start_min + 1e-9)
        for each in work:
            slots = made.lanes[each.name]
            self.assertEqual(tuple(slot.task for slot in slots), each.tasks)
            for one, other in itertools.pairwise(slots):
                self.assertLessEqual(one.end_min, other.start_min + 1e-9)
        self.assertEqual(clashes([(0, made)]), ())

    @given(WORK)
    def test_no_plan_is_shorter_than_its_longest_zone_or_longer_than_all_in_a_row(self, work: list[ZoneWork]) -> None:
        ways = [sum(t.apply_min + t.process_min for t in each.tasks) for each in work]
        made = plan(work)
        self.assertGreaterEqual(made.total_min, max(ways) - 1e-6)
        self.assertGreaterEqual(made.total_min, made.hands_min - 1e-6)
        self.assertLessEqual(made.total_min, sum(ways) + 1e-6)
