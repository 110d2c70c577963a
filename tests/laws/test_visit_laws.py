"""Laws of the back half of a visit, for any hair, bowl and habit. Our own, no published source."""

import itertools
import unittest

import numpy as np
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from engine.bowl.fade import faded_canvas
from engine.bowl.mix import Bowl
from engine.bowl.predict import predict
from engine.colorimetry import cgats, cgats_in
from engine.colorimetry.difference import delta_e00
from engine.colorimetry.grid import BANDS
from engine.colorimetry.lab import lab_from_lch
from engine.dye.shelf import demo_shelf
from engine.hair.canvas import Canvas
from engine.hair.reading import canvas_lab
from engine.service.aftercare import WEEKS_MOST, Habits, keeping
from engine.service.judge import dye_bath, judge, judging_ladder, next_aim, spot_fixes
from engine.service.remedy import Way, remedies, washed
from engine.service.schedule.search import schedule
from engine.service.schedule.work import PlannedCoat, PlannedZone, Purpose, SlotKind, Visit
from engine.service.steps import HairCost
from engine.service.timing import MINUTES_MOST, TIMINGS, ClockKind, Freshness, freshness, prompts, standing
from engine.service.trouble import Trouble

SHELF = [demo_shelf()[name] for name in ("yellow", "crimson", "magenta", "violet", "blue", "black", "clear")]
CANVASES = st.builds(Canvas, level=st.floats(7, 11), warmth=st.floats(-1, 1), porosity=st.floats(0.6, 1.5))
COLOURS = st.sampled_from(["yellow", "crimson", "magenta", "violet", "blue"])
BOWLS = st.dictionaries(COLOURS, st.floats(0.2, 20), min_size=1, max_size=3).map(
    lambda grams: Bowl(grams={**{demo_shelf()[name]: g for name, g in grams.items()}, demo_shelf()["clear"]: 40.0})
)
LABS = st.tuples(st.floats(20, 85), st.floats(0, 45), st.floats(0, 359)).map(lambda lch: lab_from_lch(np.array(lch)))
HABITS = st.builds(
    Habits, washes_a_week=st.floats(0.5, 14), hot_water=st.booleans(), pool=st.booleans(), sun=st.booleans()
)
NAMES = st.text(st.characters(codec="utf-8", exclude_categories=("Cs", "Cc", "Zl", "Zp")), min_size=1, max_size=40)
COATS = st.builds(
    lambda purpose, apply_min, least_min: PlannedCoat(
        purpose=purpose, apply_min=apply_min, least_min=least_min, most_min=least_min + 40, wants_dry=False
    ),
    purpose=st.sampled_from(Purpose),
    apply_min=st.floats(0.5, 20),
    least_min=st.floats(1, 40),
)
WORK = st.lists(st.lists(COATS, min_size=1, max_size=2), min_size=2, max_size=4).map(
    lambda zones: tuple(PlannedZone(name=f"zone {index}", coats=tuple(coats)) for index, coats in enumerate(zones))
)


class Judging(unittest.TestCase):
    @settings(max_examples=40, deadline=None)
    @given(lab=LABS)
    def test_every_lock_of_the_ladder_is_a_colour_and_the_forecast_is_one_of_them(self, lab: np.ndarray) -> None:
        locks = [lock for row in judging_ladder(lab) for lock in row]
        self.assertEqual(len(locks), 15)
        self.assertTrue(all(0 <= lock.lab[0] <= 100 and np.all(np.isfinite(lock.lab)) for lock in locks))
        self.assertTrue(any(float(delta_e00(lab, lock.lab)) < 1e-6 for lock in locks))

    @settings(max_examples=40, deadline=None)
    @given(actual=LABS, forecast=LABS, target=LABS)
    def test_a_verdict_never_speaks_of_a_forecast_as_an_aim(
        self, actual: np.ndarray, forecast: np.ndarray, target: np.ndarray
    ) -> None:
        said = judge(actual, forecast, target)
        self.assertNotIn("too ", said.forecast_words)
        self.assertGreaterEqual(said.forecast_delta_e00, 0)
        aimed = next_aim(actual, forecast, target)
        self.assertTrue(0 <= aimed[0] <= 100 and np.all(np.abs(aimed[1:]) <= 128))

    @settings(max_examples=12, deadline=None)
    @given(canvas=CANVASES, bowl=BOWLS, minutes=st.floats(2, 25))
    def test_no_fix_takes_a_spot_further_from_the_aim(self, canvas: Canvas, bowl: Bowl, minutes: float) -> None:
        target = predict(canvas, bowl).lab - np.array([5.0, 0, 0])
        for fix in spot_fixes(canvas, bowl, target, SHELF, minutes=minutes, litres=0.5, still_on=True):
            self.assertLess(fix.lab[0], canvas_lab(canvas)[0] + 0.5, "nothing that is added makes lighter")

    @settings(max_examples=12, deadline=None)
    @given(canvas=CANVASES, bowl=BOWLS, grams=st.floats(5, 300))
    def test_a_bath_holds_no_more_dye_than_a_bowl_for_that_hair(self, canvas: Canvas, bowl: Bowl, grams: float) -> None:
        found = dye_bath(canvas, predict(canvas, bowl).lab, SHELF, grams=grams)
        self.assertLessEqual(found.bath.total_g, grams + 1e-6)
        self.assertTrue(all(poured > 0 for poured in found.bath.grams.values()))


class Corrections(unittest.TestCase):
    @settings(max_examples=10, deadline=None)
    @given(canvas=CANVASES, bowl=BOWLS, trouble=st.sampled_from(Trouble))
    def test_every_way_brings_the_hair_nearer_and_each_is_told_once(
        self, canvas: Canvas, bowl: Bowl, trouble: Trouble
    ) -> None:
        found = remedies(trouble, faded_canvas(canvas, bowl, 2), SHELF)
        off = float(delta_e00(found.now_lab, found.wanted_lab))
        self.assertTrue(all(way.delta_e00 < off for way in found.ways))
        self.assertEqual(len({way.way for way in found.ways}), len(found.ways))
        for way in found.ways:
            one_way = way.way in (Way.REMOVE, Way.LIFT, Way.FILL, Way.BLEACH_WASH)
            self.assertEqual(way.cost is HairCost.NONE, not one_way)

    @settings(max_examples=30, deadline=None)
    @given(canvas=CANVASES, bowl=BOWLS, washes=st.floats(0, 20))
    def test_washing_twice_is_washing_as_often_in_all(self, canvas: Canvas, bowl: Bowl, washes: float) -> None:
        worn = faded_canvas(canvas, bowl, 0)
        twice, once = washed(washed(worn, washes), washes), washed(worn, 2 * washes)
        for a, b in zip(twice.old, once.old, strict=True):
            self.assertAlmostEqual(a.k_s, b.k_s, places=9)


class Keeping(unittest.TestCase):
    @settings(max_examples=25, deadline=None)
    @given(canvas=CANVASES, bowl=BOWLS, habits=HABITS)
    def test_a_client_comes_again_within_two_to_eight_weeks(self, canvas: Canvas, bowl: Bowl, habits: Habits) -> None:
        found = keeping(canvas, bowl, habits)
        self.assertTrue(2 <= found.come_again_weeks <= 8)
        self.assertEqual(found.lab.shape, (WEEKS_MOST + 1, 3))
        self.assertEqual(float(found.delta_e00[0]), 0)
        if found.off_after_weeks:
            self.assertTrue(np.all(found.delta_e00[: found.off_after_weeks] <= 5 + 1e-9))

    @settings(max_examples=25, deadline=None)
    @given(canvas=CANVASES, bowl=BOWLS, gentle=st.floats(0.5, 7), more=st.floats(0, 7))
    def test_whoever_washes_more_does_not_come_later(
        self, canvas: Canvas, bowl: Bowl, gentle: float, more: float
    ) -> None:
        seldom, often = (keeping(canvas, bowl, Habits(washes_a_week=each)) for each in (gentle, gentle + more))
        off = [WEEKS_MOST + 1 if each.off_after_weeks is None else each.off_after_weeks for each in (seldom, often)]
        self.assertLessEqual(off[1], off[0])


class Times(unittest.TestCase):
    @given(kind=st.sampled_from(ClockKind), share=st.floats(0.1, 1), early=st.floats(0, 60), later=st.floats(0, 60))
    def test_as_time_passes_a_clock_only_ever_calls_more(
        self, kind: ClockKind, share: float, early: float, later: float
    ) -> None:
        told = prompts(kind, max(0.5, share * TIMINGS[kind].pack_most_min))
        now, then = standing(told, early), standing(told, early + later)
        self.assertLessEqual(len(now.called), len(then.called))
        self.assertFalse(now.is_alarm and not then.is_alarm)
        self.assertEqual(now.is_alarm, early >= TIMINGS[kind].pack_most_min)

    @given(kind=st.sampled_from(ClockKind), age=st.floats(0, MINUTES_MOST), more=st.floats(0, 60))
    def test_a_bowl_never_gets_fresher(self, kind: ClockKind, age: float, more: float) -> None:
        order = list(Freshness)
        self.assertLessEqual(order.index(freshness(kind, age)), order.index(freshness(kind, age + more)))

    @given(work=WORK, chosen=st.integers(0, 3))
    def test_the_zone_that_goes_first_is_taken_up_first_and_nothing_is_left_out(
        self, work: tuple[PlannedZone, ...], chosen: int
    ) -> None:
        assume(chosen < len(work))
        made = schedule(Visit(zones=work, turns=(work[chosen].name,)))
        self.assertEqual(made.slots[0].zones, (work[chosen].name,))
        on = [(slot.zones[0], slot.coats[0]) for slot in made.slots if slot.kind is SlotKind.APPLY]
        self.assertEqual(sorted(on), [(each.name, place) for each in work for place in range(len(each.coats))])
        hands = sorted((slot.start_min, slot.end_min) for slot in made.slots if slot.hand == 1)
        self.assertTrue(all(a[1] <= b[0] + 1e-6 for a, b in itertools.pairwise(hands)))


class Readings(unittest.TestCase):
    @given(
        rows=st.lists(
            st.tuples(NAMES, st.tuples(st.floats(0, 100), st.floats(-128, 128), st.floats(-128, 128))),
            min_size=1,
            max_size=8,
        ),
        spectra=st.booleans(),
        seed=st.integers(0, 99),
    )
    def test_readings_come_back_as_they_were_written(
        self, rows: list[tuple[str, tuple[float, float, float]]], spectra: bool, seed: int
    ) -> None:
        chance = np.random.default_rng(seed)
        samples = [
            cgats.Sample(name=name, lab=np.array(lab), reflectance=chance.uniform(0, 1, BANDS) if spectra else None)
            for name, lab in rows
        ]
        back = cgats_in.read(cgats.written(samples, originator="a studio", created="2026-11-26"))
        self.assertEqual(len(back), len(samples))
        for given_, found in zip(samples, back, strict=True):
            np.testing.assert_allclose(found.lab, given_.lab, atol=5.1e-5)
            if spectra:
                np.testing.assert_allclose(found.reflectance, given_.reflectance, atol=5.1e-7)

    @given(text=st.text(max_size=300))
    def test_what_is_no_table_is_refused_with_a_line(self, text: str) -> None:
        try:
            cgats_in.read(text)
        except cgats_in.CgatsUnusable as unusable:
            self.assertGreaterEqual(unusable.line, 1)
