"""What a forecast warns of. F12, F19, F31: common practice, no published source."""

from dataclasses import replace
from unittest import TestCase

from engine.bowl.cautions import Severity
from engine.bowl.mix import FULL_TIME_DRY, Bowl, Process
from engine.bowl.predict import predict
from engine.dye.kind import Kind
from engine.dye.shade import Shade
from engine.dye.shelf import demo_shelf
from engine.hair.canvas import Canvas, OldColour
from engine.hair.residue import Family
from tests.engine.made import bowl

TEN = Canvas(level=10)
CLEAR, MAGENTA = demo_shelf()["clear"], demo_shelf()["magenta"]
DEMI = Shade(name="demi", kind=Kind.DEMI, level=9, bands=MAGENTA.bands, strength=1)
SIX_VOL = Process(developer_vol=6)


def codes(canvas: Canvas, mix: Bowl | None, process: Process = FULL_TIME_DRY) -> set[str]:
    return {warning.code for warning in predict(canvas, mix, process=process).warnings}


class Mixing(TestCase):
    def test_a_plain_pastel_is_only_an_estimate_and_bare_hair_is_no_forecast(self) -> None:
        self.assertEqual(codes(TEN, bowl(magenta=1, clear=30)), {"estimate"})
        self.assertEqual(codes(TEN, None), set())

    def test_developer_is_missed_with_oxidative_colour_and_refused_with_direct_dye(self) -> None:
        self.assertIn("developer_assumed", codes(TEN, Bowl(grams={DEMI: 20})))
        self.assertNotIn("developer_assumed", codes(TEN, Bowl(grams={DEMI: 20}), SIX_VOL))
        self.assertIn("developer_not_used", codes(TEN, bowl(magenta=1, clear=30), SIX_VOL))

    def test_kinds_and_lines_in_one_bowl_are_cautioned(self) -> None:
        self.assertIn("kinds_mixed", codes(TEN, Bowl(grams={DEMI: 20, MAGENTA: 1}), SIX_VOL))
        one, other = (replace(MAGENTA, name=line, line=line) for line in ("Ropewalk", "Tidemark"))
        self.assertIn("lines_mixed", codes(TEN, Bowl(grams={one: 1, other: 1, CLEAR: 30})))
        self.assertNotIn("lines_mixed", codes(TEN, Bowl(grams={one: 1, CLEAR: 30})))

    def test_time_over_what_packs_of_the_kind_usually_allow_is_cautioned(self) -> None:
        for minutes, over in ((25, False), (26, True)):
            found = codes(TEN, Bowl(grams={DEMI: 20}), Process(developer_vol=6, minutes=minutes))
            self.assertEqual("past_usual_time" in found, over)

    def test_a_booster_may_tint_but_not_fill_the_bowl(self) -> None:
        tint = replace(MAGENTA, kind=Kind.BOOSTER, strength=20)
        for grams, strong in ((10, False), (40, True)):
            self.assertEqual("booster_strong" in codes(TEN, Bowl(grams={tint: grams, CLEAR: 90})), strong)

    def test_a_colour_that_no_screen_shows_says_so(self) -> None:
        found = codes(Canvas(level=11), bowl(turquoise=10, yellow=2))
        self.assertIn("screen_cannot_show", found)


class Deposit(TestCase):
    def test_f19_a_toner_lighter_than_the_hair_is_told_to_do_nothing(self) -> None:
        self.assertIn("toner_lighter_than_hair", codes(Canvas(level=7), Bowl(grams={DEMI: 20}), SIX_VOL))
        self.assertNotIn("toner_lighter_than_hair", codes(TEN, Bowl(grams={DEMI: 20}), SIX_VOL))

    def test_f12_a_dark_cool_colour_on_yellow_hair_stops_as_green(self) -> None:
        warnings = predict(Canvas(level=9), bowl(blue_black=1, clear=20)).warnings
        green = [warning for warning in warnings if warning.code == "reads_green"]
        self.assertEqual([warning.severity for warning in green], [Severity.STOP])

    def test_f31_a_dark_brown_without_a_fill_is_cautioned_and_with_one_it_is_not(self) -> None:
        self.assertIn("fill_missing", codes(Canvas(level=11), bowl(black=5, clear=25)))
        filled = Canvas(level=11, old=(OldColour(shade=demo_shelf()["copper"], k_s=2.0),))
        self.assertNotIn("fill_missing", codes(filled, bowl(black=5, clear=25)))

    def test_vivid_and_natural_hair_and_small_steps_need_no_fill(self) -> None:
        self.assertEqual(codes(TEN, bowl(blue=10)) & {"fill_missing", "reads_green"}, set())
        dark = Canvas(level=9, family=Family.NATURAL)
        self.assertEqual(codes(dark, bowl(blue_black=1, clear=12)) & {"fill_missing", "reads_green"}, set())
        self.assertEqual(codes(Canvas(level=7), bowl(black=1, clear=30)) & {"fill_missing", "reads_green"}, set())
