"""Developer, lift, gates and readings of an instrument. Rules of the trade: common practice, no published source."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from engine.dye.kind import Kind
from engine.dye.shade import Band, Shade
from engine.dye.shelf import demo_shelf
from engine.errors import EmptyShelf, OutOfRange
from engine.hair.canvas import Canvas
from engine.hair.instrument import ReadingsUnusable, average_readings
from engine.hair.reading import canvas_lab
from engine.hair.residue import Family
from engine.service.developer import blend, developer_for, oxygen_volumes, percent_of, vol_of
from engine.service.lift import Lay, Strength, lift
from engine.service.toner import toner_for, toner_levels, toner_sentence


class DeveloperStrength(unittest.TestCase):
    def test_the_trades_table(self) -> None:
        # HANDBOOK, "Words": common practice, no published source.
        table = {6: 1.8, 7: 2.1, 9: 2.7, 10: 3, 13: 4, 20: 6, 30: 9, 40: 12}
        for vol, percent in table.items():
            with self.subTest(vol=vol):
                self.assertAlmostEqual(percent_of(vol), percent, delta=0.11)
                self.assertAlmostEqual(vol_of(percent), vol, delta=0.4)

    def test_the_trades_rule_agrees_with_the_oxygen_that_peroxide_gives_off(self) -> None:
        # 2 H2O2 -> 2 H2O + O2 with IUPAC's masses and CODATA's molar volume; density from memory.
        for percent, vol in ((3, 10), (6, 20), (9, 30), (12, 40)):
            with self.subTest(percent=percent):
                self.assertAlmostEqual(oxygen_volumes(percent) / vol, 1.0, delta=0.035)

    def test_a_pharmacopoeias_three_percent_is_ten_volumes(self) -> None:
        # European Pharmacopoeia, hydrogen peroxide solution (3 per cent): about 10 volumes of oxygen; from memory.
        self.assertAlmostEqual(oxygen_volumes(3), 10, delta=0.2)

    def test_two_strengths_make_a_third(self) -> None:
        made = blend(12, 3, 6, 90)
        self.assertAlmostEqual(made.strong_g, 30)
        self.assertAlmostEqual(made.weak_g, 60)

    def test_water_dilutes(self) -> None:
        made = blend(6, 0, 1.8, 100)
        self.assertAlmostEqual(made.strong_g, 30)

    @given(st.floats(0, 12), st.floats(0, 12), st.floats(0, 1), st.floats(1, 500))
    def test_no_peroxide_is_lost_or_made(self, one: float, other: float, share: float, total_g: float) -> None:
        strong, weak = max(one, other), min(one, other)
        wanted = min(max(weak + share * (strong - weak), weak), strong)
        made = blend(strong, weak, wanted, total_g)
        self.assertAlmostEqual(made.strong_g * strong + made.weak_g * weak, wanted * total_g, places=6)
        self.assertAlmostEqual(made.total_g, total_g)

    def test_a_strength_outside_the_two_is_refused(self) -> None:
        with self.assertRaises(OutOfRange) as caught:
            blend(6, 3, 9, 60)
        self.assertEqual(caught.exception.field, "wanted_percent")

    def test_grams_for_a_ratio(self) -> None:
        self.assertAlmostEqual(developer_for(40, 2), 80)  # HANDBOOK: a 1:2 bowl of 40 g colour is 120 g


class Lifting(unittest.TestCase):
    def test_strong_hair_goes_further_in_a_visit_than_hair_that_gives_way(self) -> None:
        strong = lift(Canvas(level=5, family=Family.NATURAL), 9)
        curly = lift(Canvas(level=5, family=Family.NATURAL), 9, strength=Strength(curl_sets_limit=True))
        self.assertEqual((strong.stop_level, strong.visits), (9, 1))
        self.assertEqual((curly.stop_level, curly.visits), (7, 2))

    def test_never_more_than_twenty_volumes_on_the_scalp(self) -> None:
        for level in range(1, 11):
            for strength in (Strength(), Strength(fragile=True), Strength(lifts_before=2)):
                plan = lift(Canvas(level=level), 11, strength=strength, on_scalp=True)
                self.assertLessEqual(plan.vol, 20)

    def test_a_house_that_lets_less_onto_the_scalp_is_proposed_no_more(self) -> None:
        canvas = Canvas(level=5.0, family=Family.NATURAL)
        house = Strength(scalp_most_vol=10.0)
        on_scalp, off_it = (lift(canvas, 8.0, strength=house, on_scalp=touches) for touches in (True, False))
        self.assertEqual(on_scalp.vol, 10.0)
        self.assertGreater(off_it.vol, 10.0)
        self.assertGreater(on_scalp.expected_min[0], lift(canvas, 8.0, on_scalp=True).expected_min[0])
        none = lift(canvas, 8.0, strength=Strength(scalp_most_vol=0.0), on_scalp=True)
        self.assertEqual(none.vol, lift(canvas, 8.0, on_scalp=True).vol)  # the gates stop it there

    def test_fragile_hair_gets_a_gentle_strength_and_a_runny_bowl(self) -> None:
        plan = lift(Canvas(level=8), 9.5, strength=Strength(fragile=True))
        self.assertEqual((plan.vol, plan.parts), (7, 3))

    def test_open_work_is_thick(self) -> None:
        self.assertEqual(lift(Canvas(level=8), 9, lay=Lay.OPEN).parts, 1)

    def test_porous_hair_goes_faster(self) -> None:
        slow, fast = (lift(Canvas(level=7, porosity=porosity), 9).expected_min for porosity in (0.6, 1.4))
        self.assertLess(fast[1], slow[1])

    def test_one_application_stays_within_fifty_minutes(self) -> None:
        for porosity in (0.5, 1.0, 1.6):
            for wanted in (7.0, 9.0, 11.0):
                plan = lift(Canvas(level=6, porosity=porosity), wanted)
                self.assertLessEqual(plan.expected_min[0], plan.expected_min[1])
                self.assertLessEqual(plan.expected_min[1], 50 * plan.applications)

    def test_light_enough_needs_no_lift(self) -> None:
        self.assertIsNone(lift(Canvas(level=9), 9))

    def test_lifting_leaves_lightened_hair_without_its_old_colour(self) -> None:
        after = lift(Canvas(level=5, lean=6, family=Family.NATURAL), 8).after
        self.assertEqual((after.family, after.level, after.lean, after.old), (Family.LIGHTENED, 8, 0, ()))

    def test_a_level_off_the_ladder_is_refused(self) -> None:
        with self.assertRaises(OutOfRange):
            lift(Canvas(level=5), 12)


class Toning(unittest.TestCase):
    VIOLET, BLUE = (
        Shade(name=name, kind=Kind.DEMI, bands=demo_shelf()[name].bands, strength=1.2) for name in ("violet", "blue")
    )

    def test_f1_yellow_hair_is_toned_with_violet(self) -> None:
        self.assertEqual(toner_for(Canvas(level=9.5), [self.BLUE, self.VIOLET]).name, "violet")

    def test_violet_comes_before_brown_on_yellow_and_blue_on_orange(self) -> None:
        """What takes brightness by darkening tones nothing. Common practice, no published source."""
        bands = tuple(
            Band(centre_nm=nm, sigma_nm=70, weight=weight) for nm, weight in ((460, 1), (560, 0.9), (640, 0.7))
        )
        brown = Shade(name="brown", kind=Kind.PERMANENT, bands=bands, strength=3.2)
        shelf = [brown, self.BLUE, self.VIOLET]
        for level, lean, name in ((10, 0, "violet"), (9, 0, "violet"), (8, 2, "blue"), (6, 2, "blue")):
            hair = Canvas(level=level, lean=lean)
            with self.subTest(level=level):
                self.assertEqual(toner_for(hair, shelf).name, name)
        self.assertEqual(toner_sentence(Canvas(level=10), self.VIOLET), "violet for the yellow that it shows")
        self.assertEqual(toner_sentence(Canvas(level=7, lean=2), self.BLUE), "blue for the orange that it shows")

    def test_f19_a_toner_lighter_than_the_hair_shows_least_and_is_warned_of(self) -> None:
        found = toner_levels(Canvas(level=9), self.VIOLET)
        self.assertEqual([each.level for each in found], [10, 9, 8, 7])
        self.assertEqual([each.is_too_light for each in found], [True, False, False, False])
        shows = [each.delta_e00 for each in found]
        self.assertEqual(shows, sorted(shows))
        self.assertGreater(float(found[0].lab[0]), float(found[3].lab[0]))

    def test_f18_no_toner_lightens(self) -> None:
        for level in (6.0, 8.0, 10.0):
            bare = float(canvas_lab(Canvas(level=level))[0])
            for each in toner_levels(Canvas(level=level), self.VIOLET):
                self.assertLessEqual(float(each.lab[0]), bare + 1e-6)

    def test_a_shelf_without_toner_is_refused(self) -> None:
        with self.assertRaises(EmptyShelf):
            toner_for(Canvas(level=9), [demo_shelf()["violet"]])


class Instrument(unittest.TestCase):
    STEADY = ([70.0, 5.0, 30.0], [70.3, 5.2, 30.1], [69.8, 4.9, 29.7], [70.1, 5.0, 30.2])

    def test_steady_readings_are_averaged(self) -> None:
        found = average_readings(self.STEADY)
        self.assertAlmostEqual(float(found.lab[0]), 70.05)
        self.assertEqual((found.kept, found.refused), (4, ()))

    def test_an_outlier_is_refused_by_its_place(self) -> None:
        found = average_readings([*self.STEADY[:2], [40.0, 0.0, 5.0], *self.STEADY[2:]])
        self.assertEqual(found.refused, (2,))
        self.assertAlmostEqual(float(found.lab[0]), 70.05)

    def test_what_gives_no_colour_is_refused_with_its_reason(self) -> None:
        wild = [[20.0, 0.0, 0.0], [50.0, 20.0, 20.0], [80.0, -20.0, 40.0]]
        for readings, code in (
            (self.STEADY[:2], "too_few"),
            ([*self.STEADY, [70.0, 5.0]], "garbage"),
            ([*self.STEADY, [70.0, 5.0, float("nan")]], "garbage"),
            ([*self.STEADY, ["x", 5.0, 30.0]], "garbage"),
            ([*self.STEADY, [170.0, 5.0, 30.0]], "garbage"),
            (wild, "unsteady"),
        ):
            with self.subTest(code=code), self.assertRaises(ReadingsUnusable) as caught:
                average_readings(readings)
            self.assertEqual(caught.exception.code, code)
