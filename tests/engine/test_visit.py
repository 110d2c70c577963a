"""The back half of a visit: clocks, judging, corrections, aftercare, branches. Common practice."""

import itertools
import unittest
from dataclasses import replace
from math import ceil

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from engine.bowl.branches import Branch, branch_aim, branches
from engine.bowl.fade import faded_canvas
from engine.bowl.mix import Process
from engine.bowl.predict import predict
from engine.bowl.stock import Stock
from engine.bowl.weigh import Scale
from engine.colorimetry.difference import delta_e00
from engine.colorimetry.lab import lab_from_lch, lch_of
from engine.dye.kind import Kind
from engine.dye.shade import Shade
from engine.dye.shelf import demo_shelf
from engine.errors import BadInput, EmptyShelf, OutOfRange
from engine.hair.canvas import Canvas
from engine.hair.reading import canvas_lab
from engine.service.aftercare import Habits, MixedWithDeveloper, jar_g, keeping, weekly_mask
from engine.service.amounts import Density, Length, foils_for, litres_for, needed, tubes_for
from engine.service.judge import FixKind, dye_bath, judge, judging_ladder, next_aim, spot_fixes
from engine.service.known import Known
from engine.service.past import Earlier, Past
from engine.service.remedy import Way, bleach_washed, remedies, washed
from engine.service.sections import sections
from engine.service.steps import HairCost
from engine.service.timing import (
    CLOCK_OF_DYE,
    TIMINGS,
    Call,
    ClockKind,
    Freshness,
    Pack,
    Prompt,
    Watch,
    freshness,
    most_min,
    prompts,
    standing,
    usual_min,
)
from engine.service.trouble import DONT, Trouble, readiness, wanted_of
from engine.service.work import Place
from tests.engine.made import bowl

TEN = Canvas(level=10)
SHELF = list(demo_shelf().values())
DEMI = Shade(name="weld demi", bands=demo_shelf()["yellow"].bands, strength=2, kind=Kind.DEMI)
PINK = bowl(crimson=3, yellow=0.5, clear=56)
KINDS = st.sampled_from(ClockKind)
HUES = st.tuples(st.floats(25, 80), st.floats(5, 40), st.floats(0, 359))


def calls(kind: ClockKind, minutes: float, call: Call, **more: object) -> list[float]:
    return [each.at_min for each in prompts(kind, minutes, **more) if each.call is call]


class Clocks(unittest.TestCase):
    def test_minutes_are_those_of_the_handbook(self) -> None:
        # HANDBOOK, "Numbers".

        self.assertEqual(TIMINGS[ClockKind.LIGHTENER].pack_most_min, 50)
        for kind, usual in (
            (ClockKind.DEMI, (20, 25)),
            (ClockKind.PERMANENT, (30, 35)),
            (ClockKind.DIRECT, (20, 30)),
            (ClockKind.FILL, (20, 20)),
            (ClockKind.MASK, (3, 10)),
            (ClockKind.SEAL, (0.5, 3)),
        ):
            with self.subTest(kind=kind):
                self.assertEqual(TIMINGS[kind].usual_min, usual)
        self.assertEqual(TIMINGS[ClockKind.TONER].usual_min[0], 4)

    def test_lightener_is_looked_at_every_five_minutes(self) -> None:
        self.assertEqual(calls(ClockKind.LIGHTENER, 26, Call.CHECK), [5, 10, 15, 20, 25])

    def test_f35_a_toner_is_looked_at_within_minutes_and_f34_a_deposit_is_left_alone(self) -> None:
        self.assertLessEqual(calls(ClockKind.TONER, 4, Call.CHECK)[0], 2)
        self.assertEqual(calls(ClockKind.DEMI, 25, Call.CHECK), [])
        self.assertEqual(calls(ClockKind.DEMI, 25, Call.CHECK, watch=Watch.ALWAYS), [5, 10, 15, 20])
        self.assertEqual(calls(ClockKind.TONER, 10, Call.CHECK, watch=Watch.FULL), [])
        self.assertTrue(calls(ClockKind.LIGHTENER, 20, Call.CHECK, watch=Watch.FULL))

    def test_lengths_join_half_way_and_the_next_batch_is_mixed_before_the_last_is_past_its_best(self) -> None:
        self.assertEqual(calls(ClockKind.DIRECT, 30, Call.HALF), [15])
        self.assertEqual(calls(ClockKind.MASK, 5, Call.HALF), [])
        self.assertEqual(calls(ClockKind.LIGHTENER, 40, Call.MIX_NEXT, batches=3), [7, 17])

    def test_the_packs_most_is_a_stop_that_no_answer_silences(self) -> None:
        told = prompts(ClockKind.LIGHTENER, 40)
        late = standing(told, 51, answered_to_min=60)
        self.assertTrue(late.is_alarm)
        self.assertIsNone(late.coming)
        self.assertFalse(standing(told, 49, answered_to_min=60).called)

    def test_more_minutes_than_the_packs_most_are_refused(self) -> None:
        with self.assertRaises(OutOfRange):
            prompts(ClockKind.LIGHTENER, 51)

    def test_a_lines_own_pack_decides_for_what_it_is_made_for_and_elsewhere_the_lesser_counts(self) -> None:
        quick, slow = Pack(usual_min=5, most_min=10), Pack(most_min=90)
        self.assertEqual((usual_min(ClockKind.DEMI, pack=quick), most_min(ClockKind.DEMI, pack=quick)), (5, 10))
        self.assertEqual(most_min(ClockKind.DIRECT, pack=slow), 90)
        self.assertEqual(usual_min(ClockKind.DIRECT, pack=slow), TIMINGS[ClockKind.DIRECT].planned_min)
        self.assertEqual((most_min(ClockKind.TONER, pack=slow), most_min(ClockKind.TONER, pack=quick)), (20, 10))
        self.assertEqual(most_min(ClockKind.LIGHTENER, pack=slow), TIMINGS[ClockKind.LIGHTENER].pack_most_min)
        self.assertEqual(most_min(ClockKind.FILL, Kind.DEMI, quick), 10)
        self.assertEqual(prompts(ClockKind.DEMI, 5, pack=quick)[-1], Prompt(at_min=10, call=Call.STOP))
        with self.assertRaises(OutOfRange):
            prompts(ClockKind.DEMI, 11, pack=quick)
        with self.assertRaises(BadInput):
            Pack(usual_min=11, most_min=10)

    @given(kind=KINDS, share=st.floats(0.2, 1), batches=st.integers(1, 4), at=st.floats(0, 80))
    def test_calls_come_in_order_and_end_with_the_stop(self, kind: ClockKind, share: float, batches: int, at: float):
        most = TIMINGS[kind].pack_most_min
        told = prompts(kind, max(0.5, most * share), batches=batches)
        self.assertTrue(all(a.at_min <= b.at_min for a, b in itertools.pairwise(told)))
        self.assertEqual(sum(each.call is Call.STOP for each in told), 1)
        now = standing(told, at)
        self.assertEqual(len(now.called) + sum(each.at_min > at for each in told), len(told))
        self.assertTrue(now.left_min is None or now.left_min > 0)

    def test_f36_a_bowl_of_lightener_is_past_its_best_and_direct_dye_keeps(self) -> None:
        ages = [freshness(ClockKind.LIGHTENER, age) for age in (2, 8, 12, 16)]
        self.assertEqual(ages, [Freshness.FRESH, Freshness.ENDING, Freshness.PAST_BEST, Freshness.SPENT])
        self.assertEqual(freshness(ClockKind.DIRECT, 500), Freshness.FRESH)

    def test_every_kind_of_dye_has_a_clock(self) -> None:
        self.assertEqual(set(CLOCK_OF_DYE), set(Kind))


class Judging(unittest.TestCase):
    def test_the_ladder_has_the_forecast_in_its_middle_and_every_lock_apart(self) -> None:
        forecast = predict(TEN, PINK).lab
        rows = judging_ladder(forecast)
        self.assertEqual(rows[1][2].words, "as forecast")
        labs = [lock.lab for row in rows for lock in row]
        apart = [float(delta_e00(a, b)) for a, b in itertools.combinations(labs, 2)]
        self.assertGreater(min(apart), 1.5)
        self.assertIn("lighter", rows[0][2].words)
        self.assertIn("deeper", rows[2][2].words)

    def test_a_result_is_said_against_forecast_and_aim(self) -> None:
        forecast = predict(TEN, PINK).lab
        said = judge(forecast - np.array([8, 0, 0]), forecast, forecast)
        self.assertIn("deeper", said.forecast_words)
        self.assertIn("too deep", said.aim_words)
        self.assertEqual(judge(forecast, forecast, None).forecast_words, "as forecast")

    @given(lch=HUES, miss=st.tuples(st.floats(-6, 6), st.floats(-6, 6), st.floats(-6, 6)))
    def test_the_next_aim_takes_the_miss_the_other_way(self, lch: tuple[float, ...], miss: tuple[float, ...]) -> None:
        target = lab_from_lch(np.array(lch))
        aimed = next_aim(target + np.array(miss), target, target)
        self.assertTrue(np.all((aimed - target) * np.array(miss) <= 1e-9))
        np.testing.assert_allclose(next_aim(target, target, target), target)

    def test_fixes_bring_it_nearer_nearest_first(self) -> None:
        deeper = predict(TEN, PINK).lab - np.array([6, 0, 0])
        fixes = spot_fixes(TEN, PINK, deeper, SHELF, minutes=10, litres=0.5, still_on=True)
        off = [fix.delta_e00 for fix in fixes]
        self.assertEqual(off, sorted(off))
        self.assertLessEqual({FixKind.SECOND_COAT, FixKind.DYE_BATH}, {fix.kind for fix in fixes})
        now = predict(TEN, PINK, process=Process(minutes=10), target_lab=deeper)
        self.assertTrue(all(fix.delta_e00 < float(delta_e00(deeper, now.lab)) for fix in fixes))

    def test_f18_nothing_mends_what_is_too_dark(self) -> None:
        lighter = predict(TEN, PINK).lab + np.array([15, 0, 0])
        self.assertEqual(spot_fixes(TEN, PINK, lighter, SHELF), ())

    def test_a_bath_is_dosed_by_the_hair_whatever_the_water(self) -> None:
        target = predict(TEN, PINK).lab
        few, much = (dye_bath(TEN, target, SHELF, grams=60, litres=litres) for litres in (0.5, 4.0))
        self.assertEqual(few.bath.grams, much.bath.grams)
        twice = dye_bath(TEN, target, SHELF, grams=120)
        self.assertAlmostEqual(twice.bath.total_g, 2 * few.bath.total_g, delta=0.3)
        self.assertAlmostEqual(
            few.bath.total_g, sum(PINK.grams[dye] for dye in PINK.colours) * 60 / PINK.total_g, delta=1
        )

    def test_a_bath_never_takes_more_dye_than_a_bowl_nor_than_there_is(self) -> None:
        target = predict(TEN, bowl(crimson=60)).lab
        self.assertLessEqual(dye_bath(TEN, target, SHELF, grams=60, litres=5).bath.total_g, 60)
        stock = Stock(grams={shade: 3.0 for shade in SHELF if not shade.is_clear})
        short = dye_bath(TEN, target, SHELF, grams=60, litres=5, stock=stock)
        self.assertLessEqual(max(short.bath.grams.values()), 3.0)
        self.assertGreater(short.delta_e00, 5)

    def test_a_bath_needs_direct_dye_and_a_basin(self) -> None:
        target = canvas_lab(TEN)
        with self.assertRaises(EmptyShelf):
            dye_bath(TEN, target, [DEMI], grams=60)
        with self.assertRaises(EmptyShelf):
            dye_bath(TEN, target, SHELF, grams=60, stock=Stock(grams=dict.fromkeys(SHELF, 0.0)))
        with self.assertRaises(OutOfRange):
            dye_bath(TEN, target, SHELF, grams=60, litres=40)


class Corrections(unittest.TestCase):
    worn = faded_canvas(TEN, bowl(crimson=10, yellow=5), 3)

    def test_every_trouble_has_a_way_and_something_not_to_do(self) -> None:
        self.assertEqual(set(DONT), set(Trouble))
        for trouble in Trouble:
            with self.subTest(trouble=trouble):
                found = remedies(trouble, self.worn, SHELF)
                self.assertTrue(found.ways)
                now_off = float(delta_e00(found.now_lab, found.wanted_lab))
                self.assertTrue(all(way.delta_e00 < now_off for way in found.ways))

    def test_a_week_later_toned_down_for_work_costs_the_hair_nothing(self) -> None:
        best = remedies(Trouble.TONE_DOWN, self.worn, SHELF).ways[0]
        self.assertTrue(best.reaches)
        self.assertIs(best.cost, HairCost.NONE)
        self.assertIn(best.way, (Way.COLOUR, Way.WASH_THEN_COLOUR))

    def test_f18_too_dark_is_never_put_right_by_colour_alone(self) -> None:
        self.assertNotIn(Way.COLOUR, [way.way for way in remedies(Trouble.TOO_DARK, self.worn, SHELF).ways])

    def test_a_pale_root_is_coloured_and_not_washed(self) -> None:
        ways = {way.way for way in remedies(Trouble.PALE_ROOT, self.worn, SHELF).ways}
        self.assertFalse(ways & {Way.WASH, Way.WASH_THEN_COLOUR})

    def test_what_its_caution_spares_is_never_lifted_or_stripped(self) -> None:
        for trouble in (Trouble.FADED, Trouble.PATCHY, Trouble.UNEVEN, Trouble.PALE_ROOT, Trouble.PURPLE_CAST):
            ways = {way.way for way in remedies(trouble, self.worn, SHELF).ways}
            with self.subTest(trouble=trouble):
                self.assertFalse(ways & {Way.LIFT, Way.REMOVE, Way.BLEACH_WASH})

    def test_a_bleach_wash_takes_colour_lifts_a_little_and_counts_as_a_lift(self) -> None:
        after = bleach_washed(self.worn)
        self.assertTrue(all(b.k_s < 0.6 * a.k_s for a, b in zip(self.worn.old, after.old, strict=True)))
        self.assertGreater(after.level, self.worn.level)
        (way,) = (way for way in remedies(Trouble.TOO_DARK, self.worn, SHELF).ways if way.way is Way.BLEACH_WASH)
        self.assertTrue(way.is_lift)
        self.assertIs(way.cost, HairCost.LITTLE)

    def test_each_way_that_colours_is_weighed_and_leads_where_it_says(self) -> None:
        stock = Stock(grams={shade: 2.0 for shade in SHELF if not shade.is_clear})
        for trouble in (Trouble.TOO_WARM, Trouble.PURPLE_CAST, Trouble.BANDED):
            for way in remedies(trouble, self.worn, SHELF, scale=Scale(total_g=45), stock=stock).ways:
                with self.subTest(trouble=trouble, way=way.way):
                    if way.way is Way.WASH:
                        self.assertIsNone(way.recipe)
                    elif way.recipe is not None:
                        self.assertAlmostEqual(way.recipe.total_g, 45)
                        self.assertLessEqual(max(way.recipe.grams[shade] for shade in way.recipe.colours), 2.0)

    def test_hair_is_worked_on_after_a_test_and_a_wait(self) -> None:
        place = Place(part="ends", porosity=1.2)
        lifted = Known(past=[Past(work=Earlier.LIFT, days_ago=5, part="ends")])
        self.assertEqual(readiness(lifted, place, tested=True).wait_days, 9)
        fresh = Known(past=[Past(work=Earlier.LIFT, days_ago=1, part="ends")])
        self.assertEqual(readiness(fresh, place, tested=True).words, "It was lifted 1 day ago: wait 13 days more.")
        self.assertFalse(readiness(Known(), place, tested=False).is_ready)
        self.assertTrue(readiness(Known(), place, tested=True).is_ready)
        self.assertTrue(readiness(lifted, replace(place, part="nape"), tested=True).is_ready)
        for failed in (Known(stretch_failed=True), Known(curl_loosened=True), Known(lifted_today=1.0)):
            self.assertEqual(readiness(failed, place, tested=True).wait_days, 14)

    def test_what_reaches_comes_first_and_among_those_the_kindest(self) -> None:
        for trouble in Trouble:
            ways = remedies(trouble, self.worn, SHELF).ways
            reaching = [way.cost for way in ways if way.reaches]
            self.assertEqual([way.reaches for way in ways], sorted((w.reaches for w in ways), reverse=True))
            self.assertEqual(reaching, sorted(reaching))

    @given(washes=st.floats(0, 30), more=st.floats(0, 20))
    def test_washing_only_ever_takes_away(self, washes: float, more: float) -> None:
        early, late = washed(self.worn, washes), washed(self.worn, washes + more)
        self.assertTrue(all(b.k_s <= a.k_s + 1e-12 for a, b in zip(early.old, late.old, strict=True)))

    def test_what_is_wanted_follows_from_the_trouble(self) -> None:
        now = canvas_lab(self.worn)
        self.assertLess(lch_of(wanted_of(Trouble.TOO_BRIGHT, now))[1], lch_of(now)[1])
        self.assertGreater(wanted_of(Trouble.TOO_DARK, now)[0], now[0])


class Aftercare(unittest.TestCase):
    def test_f30_heat_pools_and_sun_bring_the_client_back_sooner(self) -> None:
        demi = bowl(crimson=0.5, clear=60)
        kind, rough = (
            keeping(TEN, demi, habits)
            for habits in (Habits(washes_a_week=1), Habits(washes_a_week=4, hot_water=True, pool=True, sun=True))
        )
        self.assertLess(rough.come_again_weeks, kind.come_again_weeks)
        self.assertTrue(np.all(np.diff(kind.delta_e00) >= -1e-6))

    def test_habits_have_limits(self) -> None:
        with self.assertRaises(OutOfRange):
            Habits(washes_a_week=40)

    def test_a_weekly_mask_holds_the_colour(self) -> None:
        """What washes take, the mask of that week brings back but for a part. Common practice, no published source."""
        plain, masked = (keeping(TEN, PINK, Habits(washes_a_week=3, weekly_mask=each)) for each in (False, True))
        self.assertAlmostEqual(plain.delta_e00[1], masked.delta_e00[1])
        self.assertTrue((masked.delta_e00 <= plain.delta_e00 + 1e-9).all())
        self.assertLess(masked.delta_e00[8], 0.5 * plain.delta_e00[8])
        self.assertGreaterEqual(masked.come_again_weeks, plain.come_again_weeks)

    def test_a_jar_is_as_large_as_the_hair_that_it_is_for(self) -> None:
        self.assertEqual([jar_g(need) for need in (2, 8, 30, 120)], [20, 32, 120, 150])

    def test_f33_a_weekly_mask_makes_up_for_the_week(self) -> None:
        mask = weekly_mask(TEN, PINK, SHELF, Habits(washes_a_week=2))
        self.assertLess(mask.delta_e00, 2)
        self.assertAlmostEqual(mask.bowl.total_g, 150, delta=0.2)
        self.assertTrue(all(not shade.kind.is_oxidative for shade in mask.bowl.grams))

    def test_what_needs_developer_never_goes_home(self) -> None:
        with self.assertRaises(MixedWithDeveloper):
            weekly_mask(TEN, PINK, [DEMI], Habits())


class BranchesAndAmounts(unittest.TestCase):
    def test_each_branch_goes_its_way(self) -> None:
        lab = predict(TEN, PINK).lab
        now = lch_of(lab)
        found = {each.branch: each.recipe.forecast.lch for each in branches(TEN, lab, SHELF, scale=Scale())}
        self.assertGreater(found[Branch.BRIGHTER][1], now[1])
        self.assertLess(found[Branch.SOFTER][1], now[1])
        self.assertLess(found[Branch.DEEPER][0], now[0])
        self.assertLess(abs(62 - found[Branch.WARMER][2]), abs(62 - now[2]))

    @given(lch=HUES, branch=st.sampled_from(Branch))
    def test_no_branch_leaves_what_a_colour_can_be(self, lch: tuple[float, ...], branch: Branch) -> None:
        aimed = lch_of(branch_aim(lab_from_lch(np.array(lch)), branch))
        self.assertTrue(0 <= aimed[0] <= 100 and aimed[1] >= 0)

    def test_foils_water_and_tubes(self) -> None:
        self.assertGreater(foils_for(Length.LONG, Density.THICK), foils_for(Length.SHORT, Density.THIN))
        head = foils_for(Length.MEDIUM, Density.MEDIUM)
        self.assertEqual(foils_for(Length.MEDIUM, Density.MEDIUM, area_share=0.5, strand_share=0.4), ceil(head / 5))
        self.assertEqual(foils_for(Length.LONG, Density.THICK, strand_share=0.0), 0)
        with self.assertRaises(OutOfRange):
            foils_for(Length.LONG, Density.THICK, area_share=1.5)
        self.assertEqual(litres_for(needed(Length.MEDIUM, Density.MEDIUM)), 1.25)
        self.assertEqual([tubes_for(g, 60, 20) for g in (10, 20, 21, 81)], [0, 0, 1, 2])

    @settings(max_examples=25)
    @given(apply_min=st.floats(0, 40), process_min=st.floats(1, 30))
    def test_f38_the_slower_the_application_the_further_first_and_last_part(
        self, apply_min: float, process_min: float
    ) -> None:
        slow = sections(TEN, PINK, apply_min=apply_min, process_min=process_min)
        quick = sections(TEN, PINK, apply_min=apply_min / 2, process_min=process_min)
        self.assertGreaterEqual(slow.delta_e00, quick.delta_e00 - 1e-9)
        self.assertEqual(sections(TEN, PINK, apply_min=0, process_min=process_min).words, "on the aim")
