"""The plan in coats: held against every order of small heads, and against what no plan may do on any head."""

from dataclasses import replace
from itertools import combinations, permutations
from math import inf
from random import Random
from unittest import TestCase

from hypothesis import example, given, settings
from hypothesis import strategies as st

from engine.errors import BadInput, OutOfRange, Unknown
from engine.service.schedule.search import schedule
from engine.service.schedule.work import (
    WANTS_DRY,
    PlannedCoat,
    PlannedZone,
    Purpose,
    Schedule,
    Slot,
    SlotKind,
    Visit,
)
from tests.engine.every_order import EveryOrder

LAID = (Purpose.FILL, Purpose.PRE_TONE)  # may stay on beneath the next


def coat(
    purpose: Purpose,
    apply_min: float,
    least: float,
    most: float,
    *,
    rinsed: bool = True,
    dry: bool | None = None,
    last: float = 0.0,
) -> PlannedCoat:
    wants_dry = purpose in WANTS_DRY if dry is None else dry
    return PlannedCoat(
        purpose=purpose,
        apply_min=apply_min,
        least_min=least,
        most_min=most,
        wants_dry=wants_dry,
        rinsed=rinsed,
        last_min=last,
    )


LIFT, COLOUR = coat(Purpose.LIFT, 6, 10, 30), coat(Purpose.COLOUR, 4, 20, 35)
GLAZE, BASE = coat(Purpose.GLAZE, 3, 5, 15), coat(Purpose.FILL, 4, 5, 20, rinsed=False)


def random_coat(rng: Random, *, last: bool) -> PlannedCoat:
    purpose = rng.choice([Purpose.LIFT, Purpose.COLOUR, Purpose.GLAZE, *LAID])
    least = rng.randint(2, 20)
    rinsed = last or purpose not in LAID or rng.random() < 0.5
    most = least + rng.randint(4, 20)
    apply_min = rng.randint(2, 9)
    last = min(rng.choice((0, least, most / 2)), most - apply_min)  # one that takes several hands no such order has
    return coat(purpose, apply_min, least, most, rinsed=rinsed, last=max(last, 0))


def random_visit(rng: Random, zones: int, coats: int, hands: int) -> Visit:
    counts = [rng.randint(1, coats) for _ in range(zones)]
    return Visit(
        zones=tuple(
            PlannedZone(
                name=f"zone {index}",
                apart=rng.random() < 0.4,
                coats=tuple(random_coat(rng, last=each == count - 1) for each in range(count)),
            )
            for index, count in enumerate(counts)
        ),
        hands=hands,
        basin_min=5.0,
        dry_min=4.0,
    )


class Plans(TestCase):
    def assert_workable(self, visit: Visit, made: Schedule) -> None:
        """No pair of hands in two places, nobody at a head that is rinsed, every window kept, colour on dry hair."""
        acts = [slot for slot in made.slots if slot.kind is not SlotKind.CHECK]
        for one, other in combinations(acts, 2):
            if one.hand == other.hand or SlotKind.APPLY not in (one.kind, other.kind) or one.kind is not other.kind:
                self.assertTrue(
                    one.end_min <= other.start_min + 1e-6 or other.end_min <= one.start_min + 1e-6, (one, other)
                )
        for zone in visit.zones:
            self._assert_zone_workable(visit, zone, acts)

    def _assert_zone_workable(self, visit: Visit, zone: PlannedZone, acts: list[Slot]) -> None:
        together = {each.name for each in visit.zones if not each.apart}
        applied = [
            [
                slot
                for slot in acts
                if slot.kind is SlotKind.APPLY and (zone.name, index) == (slot.zones[0], slot.coats[0])
            ]
            for index in range(len(zone.coats))
        ]
        soaked = [
            slot.start_min
            for slot in acts
            if slot.kind is SlotKind.BASIN
            and (zone.name in slot.zones or (not zone.apart and together & set(slot.zones)))
        ]
        dried = [slot.start_min for slot in acts if slot.kind is SlotKind.DRY]
        for index, mine in enumerate(zone.coats):
            self.assertTrue(applied[index], f"{zone.name} lacks coat {index}")
            on_min, done_min = applied[index][0].start_min, applied[index][0].end_min
            off_min = min((at_min for at_min in soaked if at_min > on_min - 1e-9), default=inf)
            if not mine.rinsed:
                off_min = applied[index + 1][0].start_min
            self.assertGreaterEqual(off_min, done_min - 1e-6)
            self.assertTrue(mine.least_min - 1e-6 <= off_min - on_min <= mine.most_min + 1e-6, (zone.name, index))
            wet_min = max((at_min for at_min in soaked if at_min < on_min - 1e-9), default=-1.0)
            dry_min = max((at_min for at_min in dried if at_min < on_min), default=0.0)
            self.assertFalse(mine.wants_dry and wet_min > dry_min, f"{zone.name} is wet for coat {index}")

    def test_no_order_of_a_small_head_is_shorter(self) -> None:
        for seed in range(24):
            rng = Random(seed)
            visit = random_visit(rng, zones=2 + seed % 2, coats=2 - seed % 2, hands=1 + seed // 3 % 2)
            with self.subTest(seed=seed, hands=visit.hands):
                made = schedule(visit)
                self.assertTrue(made.is_exact)
                shortest = EveryOrder(visit).shortest
                self.assertEqual(made.possible, shortest < inf)
                if made.possible:
                    self.assertAlmostEqual(made.total_min, shortest)

    @settings(max_examples=25, deadline=None)
    @given(st.integers(0, 10**6), st.integers(1, 6), st.integers(1, 4), st.integers(1, 3))
    def test_what_is_planned_can_be_worked(self, seed: int, zones: int, coats: int, hands: int) -> None:
        visit = random_visit(Random(seed), zones, coats, hands)
        made = schedule(visit)
        if made.possible:
            self.assert_workable(visit, made)
        alone = Visit(zones=visit.zones, hands=1, basin_min=visit.basin_min, dry_min=visit.dry_min)
        self.assertGreaterEqual(made.possible, schedule(alone).possible)

    def test_a_panel_lifts_while_the_lengths_are_filled(self) -> None:
        panel = PlannedZone(name="panel", apart=True, coats=(LIFT, COLOUR))
        lengths = PlannedZone(name="lengths", coats=(coat(Purpose.FILL, 5, 10, 25), coat(Purpose.COLOUR, 12, 20, 45)))
        made = schedule(Visit(zones=(panel, lengths)))
        self.assert_workable(Visit(zones=(panel, lengths)), made)
        self.assertEqual(sum(slot.kind is SlotKind.BASIN for slot in made.slots), 2)  # both share each
        alone = [schedule(Visit(zones=(zone,))).total_min for zone in (panel, lengths)]
        self.assertLess(made.total_min, 0.7 * sum(alone))

    def test_seven_sections_of_lightener_are_rinsed_before_the_first_is_past_its_window(self) -> None:
        zones = tuple(PlannedZone(name=f"section {index}", coats=(LIFT,)) for index in range(7))
        made = schedule(Visit(zones=zones))
        self.assert_workable(Visit(zones=zones), made)
        self.assertGreater(sum(slot.kind is SlotKind.BASIN for slot in made.slots), 1)

    def test_what_one_pair_of_hands_cannot_keep_is_told_with_what_would_help(self) -> None:
        slow = PlannedZone(name="lengths", coats=(coat(Purpose.LIFT, 50, 10, 30),))
        made = schedule(Visit(zones=(slow,)))
        self.assertFalse(made.possible)
        (broken,) = made.broken
        self.assertEqual((broken.zone, broken.coat, broken.sections), ("lengths", 0, 2))
        self.assertAlmostEqual(broken.by_min, 20)
        self.assertEqual(made.hands_needed, 2)
        self.assertTrue(schedule(Visit(zones=(slow,), hands=2)).possible)
        endless = PlannedZone(name="lengths", coats=(coat(Purpose.LIFT, 500, 10, 30),))
        self.assertIsNone(schedule(Visit(zones=(endless,))).hands_needed)

    def test_a_base_that_stays_on_is_overlaid_in_its_window(self) -> None:
        laid = PlannedZone(name="mids", coats=(BASE, coat(Purpose.OVERLAY, 6, 15, 30, dry=False)))
        made = schedule(Visit(zones=(laid,)))
        first, second = [slot for slot in made.slots if slot.kind is SlotKind.APPLY]
        self.assertTrue(5 <= second.start_min - first.start_min <= 20)
        self.assertEqual(sum(slot.kind is SlotKind.BASIN for slot in made.slots), 1)

    def test_a_glaze_is_looked_at_from_minute_two_and_a_lift_from_its_first_check(self) -> None:
        for mine, wanted in ((GLAZE, 2), (coat(Purpose.LIFT, 3, 10, 30), None)):
            made = schedule(Visit(zones=(PlannedZone(name="panel", coats=(mine,)),)))
            looks = [slot.start_min for slot in made.slots if slot.kind is SlotKind.CHECK]
            self.assertEqual(looks, [] if wanted is None else [wanted])  # one that is rinsed then needs no look before

    def test_an_empty_head_takes_no_time(self) -> None:
        self.assertEqual(schedule(Visit(zones=())).total_min, 0)

    def test_impossible_coats_are_refused(self) -> None:
        for make, wrong in (
            (lambda: coat(Purpose.LIFT, -1, 10, 30), OutOfRange),
            (lambda: coat(Purpose.LIFT, 5, 30, 10), BadInput),
            (lambda: PlannedZone(name="x", coats=(BASE,)), BadInput),
            (lambda: Visit(zones=(), hands=4), OutOfRange),
        ):
            with self.assertRaises(wrong):
                make()


class Turns(TestCase):
    """Zones that are taken up in turn, as the colourist said."""

    @staticmethod
    def taken_up(made: Schedule) -> list[str]:
        on = [slot for slot in made.slots if slot.kind is SlotKind.APPLY and slot.coats == (0,)]
        return [slot.zones[0] for slot in on]

    def test_the_best_of_all_turns_is_the_plan_that_names_none(self) -> None:
        for seed in range(8):
            visit = random_visit(Random(seed), zones=3, coats=1, hands=1)
            free = schedule(visit)
            with self.subTest(seed=seed):
                names = [zone.name for zone in visit.zones]
                made = {turns: schedule(replace(visit, turns=turns)) for turns in permutations(names)}
                for turns, plan in made.items():
                    self.assertEqual(self.taken_up(plan), list(turns))
                kept = [plan.total_min for plan in made.values() if plan.possible]
                self.assertEqual(free.possible, bool(kept))
                if kept:
                    self.assertAlmostEqual(min(kept), free.total_min)

    def test_those_that_are_not_named_come_behind(self) -> None:
        visit = random_visit(Random(3), zones=3, coats=1, hands=1)
        made = schedule(replace(visit, turns=("zone 2",)))
        self.assertEqual(self.taken_up(made)[0], "zone 2")

    def test_turns_that_can_not_be_are_refused(self) -> None:
        visit = random_visit(Random(3), zones=2, coats=1, hands=1)
        for turns, wrong in ((("zone 9",), Unknown), (("zone 1", "zone 1"), BadInput)):
            with self.subTest(turns=turns), self.assertRaises(wrong):
                replace(visit, turns=turns)


def random_joined(rng: Random, hands: int) -> Visit:
    """A head of which one zone's last coat joins another's, and some coats wait for their time."""
    visit = random_visit(rng, zones=2 + rng.randint(0, 1), coats=2, hands=hands)
    while visit.coats > 4:
        visit = random_visit(rng, zones=2, coats=2, hands=hands)
    zones = [replace(zone, apart=zone.apart and place > 1) for place, zone in enumerate(visit.zones)]
    joined, joiner = zones[0], zones[1]
    joins = (joined.name, len(joined.coats) - 1)
    coats = [
        *joiner.coats[:-1],
        replace(joiner.coats[-1], joins=joins, most_min=max(joiner.coats[-1].least_min, 12.0), last_min=0.0),
    ]
    late = rng.choice((0.0, 25.0))
    zones[1] = replace(joiner, coats=tuple(coats))
    zones[-1] = replace(zones[-1], coats=(replace(zones[-1].coats[0], not_before_min=late), *zones[-1].coats[1:]))
    return replace(visit, zones=tuple(zones))


class Joins(TestCase):
    """What goes on late beside something that is on, and is rinsed with it; what is not begun before its time."""

    ROOT = coat(Purpose.COLOUR, 10, 35, 45)

    def ends(self, minutes: float, **more: object) -> PlannedCoat:
        return replace(coat(Purpose.COLOUR, 4, minutes, minutes), joins=("root", 0), **more)

    def test_no_order_of_a_small_head_is_shorter(self) -> None:
        kept = 0
        for seed in range(30):
            visit = random_joined(Random(seed), hands=1 + seed % 2)
            with self.subTest(seed=seed):
                made, shortest = schedule(visit), EveryOrder(visit).shortest
                self.assertTrue(made.is_exact)
                self.assertEqual(made.possible, shortest < inf)
                if made.possible:
                    self.assertAlmostEqual(made.total_min, shortest)
                    kept += 1
        self.assertGreater(kept, 10)

    def test_the_root_mix_is_drawn_through_the_lengths_for_the_last_ten_minutes(self) -> None:
        """Common practice, no published source."""
        root, ends = (
            PlannedZone(name="root", coats=(self.ROOT,)),
            PlannedZone(name="ends", coats=(self.ends(10),)),
        )
        for turns in ((), ("ends", "root")):  # who joins waits for whom it joins, whatever was said of turns
            made = schedule(Visit(zones=(root, ends), turns=turns))
            on = {slot.zones[0]: slot.start_min for slot in made.slots if slot.kind is SlotKind.APPLY}
            (basin,) = [slot for slot in made.slots if slot.kind is SlotKind.BASIN]
            self.assertEqual(set(basin.zones), {"root", "ends"})
            self.assertAlmostEqual(basin.start_min - on["ends"], 10)
            self.assertAlmostEqual(on["root"], 0)
            self.assertAlmostEqual(made.total_min, 43)

    def test_what_must_be_rinsed_first_comes_before_what_it_joins(self) -> None:
        filled = PlannedZone(name="ends", coats=(coat(Purpose.FILL, 4, 15, 20), self.ends(10)))
        made = schedule(Visit(zones=(PlannedZone(name="root", coats=(self.ROOT,)), filled)))
        self.assertTrue(made.possible)
        first = min(slot.start_min for slot in made.slots if slot.kind is SlotKind.BASIN)
        on = {(slot.zones[0], slot.coats[0]): slot.start_min for slot in made.slots if slot.kind is SlotKind.APPLY}
        self.assertLess(first, on["root", 0])

    def test_what_must_come_first_comes_first_whatever_was_said_of_turns(self) -> None:
        root = PlannedZone(name="root", coats=(self.ROOT,))
        filled = PlannedZone(name="ends", coats=(coat(Purpose.FILL, 4, 15, 20), self.ends(10)))
        fringe = PlannedZone(name="fringe", coats=(LIFT,))
        for turns in permutations(("root", "ends", "fringe")):
            with self.subTest(turns=turns):
                made = schedule(Visit(zones=(root, filled, fringe), turns=turns))
                self.assertTrue(made.possible)

    def test_what_waits_for_one_another_is_refused(self) -> None:
        one = PlannedZone(name="one", coats=(replace(self.ROOT, joins=("other", 1)), self.ROOT))
        other = PlannedZone(name="other", coats=(replace(self.ROOT, joins=("one", 1)), self.ROOT))
        with self.assertRaisesRegex(BadInput, "wait for one another"):
            Visit(zones=(one, other))

    @settings(max_examples=25, deadline=None)
    @given(st.integers(0, 10**6))
    @example(74281)  # an order that no hand can work
    def test_every_head_whose_coats_join_is_planned_or_refused(self, seed: int) -> None:
        rng = Random(seed)
        visit = random_visit(rng, zones=rng.randint(2, 5), coats=3, hands=rng.randint(1, 3))
        zones = [replace(zone, apart=False) for zone in visit.zones]
        for _ in range(2):
            mine, there = rng.sample(range(len(zones)), 2)
            place, index = (rng.randrange(len(zones[each].coats)) for each in (mine, there))
            joins = (zones[there].name, index)
            coats = list(zones[mine].coats)
            coats[place] = replace(coats[place], joins=joins)
            zones[mine] = replace(zones[mine], coats=tuple(coats))
        names = [zone.name for zone in zones]
        try:
            planned = replace(visit, zones=tuple(zones), turns=tuple(rng.sample(names, rng.randint(0, len(names)))))
            made = schedule(planned)
        except BadInput as error:
            self.assertIn("joins", str(error))
            return
        put_on = [(slot.zones[0], slot.coats[0]) for slot in made.slots if slot.kind is SlotKind.APPLY]
        self.assertEqual(len(set(put_on)), planned.coats)

    def test_one_that_takes_longer_to_put_on_than_it_may_stay_is_told(self) -> None:
        slow = replace(self.ends(10), apply_min=14.0, last_min=3.0)
        made = schedule(
            Visit(zones=(PlannedZone(name="root", coats=(self.ROOT,)), PlannedZone(name="ends", coats=(slow,))))
        )
        self.assertEqual([(each.zone, round(each.by_min)) for each in made.broken], [("ends", 7)])

    def test_a_zone_begins_no_sooner_than_it_was_said(self) -> None:
        late = replace(self.ROOT, not_before_min=50.0)
        made = schedule(Visit(zones=(PlannedZone(name="root", coats=(late,)),)))
        self.assertAlmostEqual(made.total_min, 50 + 35 + 8)
        both = schedule(
            Visit(zones=(PlannedZone(name="root", coats=(late,)), PlannedZone(name="fringe", coats=(LIFT,))))
        )
        on = {slot.zones[0]: slot.start_min for slot in both.slots if slot.kind is SlotKind.APPLY}
        self.assertAlmostEqual(on["fringe"], 0)
        self.assertGreaterEqual(on["root"], 50)

    def test_joins_that_can_not_be_are_refused(self) -> None:
        root = PlannedZone(name="root", coats=(self.ROOT,))
        for ends in (
            PlannedZone(name="ends", coats=(replace(self.ends(10), joins=("crown", 0)),)),
            PlannedZone(name="ends", coats=(replace(self.ends(10), joins=("root", 1)),)),
            PlannedZone(name="ends", coats=(replace(self.ends(10), joins=("ends", 0)),)),
            PlannedZone(name="ends", coats=(self.ends(10),), apart=True),
            PlannedZone(name="ends", coats=(self.ends(10, rinsed=False), GLAZE)),
        ):
            with self.subTest(ends=ends), self.assertRaises(BadInput):
                Visit(zones=(root, ends))
        third = PlannedZone(name="nape", coats=(replace(self.ends(5), joins=("ends", 0)),))
        with self.assertRaises(BadInput):
            Visit(zones=(root, PlannedZone(name="ends", coats=(self.ends(10),)), third))
        with self.assertRaises(OutOfRange):
            replace(self.ROOT, not_before_min=-1.0)


class TheLastHair(TestCase):
    """The hair that gets a coat last has it on long enough, too."""

    def test_the_basin_waits_for_it(self) -> None:
        made = schedule(Visit(zones=(PlannedZone(name="head", coats=(coat(Purpose.COLOUR, 30, 25, 60, last=15),)),)))
        basin = next(slot for slot in made.slots if slot.kind is SlotKind.BASIN)
        self.assertEqual(basin.start_min, 45)

    def test_where_it_comes_too_late_for_the_first_it_is_said_with_the_sections_that_keep_both(self) -> None:
        lift = coat(Purpose.LIFT, 30, 10, 30, last=12)
        made = schedule(Visit(zones=(PlannedZone(name="head", coats=(lift,)),)))
        (broken,) = made.broken
        self.assertEqual((broken.by_min, broken.sections, made.hands_needed), (12, 2, 2))
        part = replace(lift, apply_min=15)
        parts = tuple(PlannedZone(name=f"section {place}", coats=(part,), apart=True) for place in (1, 2))
        self.assertTrue(schedule(Visit(zones=parts)).possible)
