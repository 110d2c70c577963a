"""Facts of the trade about hair, roots, wear and time. Common practice, no published source."""

from dataclasses import replace
from unittest import TestCase

import numpy as np

from engine.bowl.fade import faded_canvas
from engine.bowl.mix import Bowl, Process
from engine.bowl.predict import Forecast, predict
from engine.colorimetry.difference import delta_e00
from engine.dye.kind import Kind
from engine.dye.shade import Band, Shade
from engine.dye.shelf import demo_shelf
from engine.hair.canvas import Canvas, OldColour, lightened
from engine.hair.reading import canvas_lab
from engine.hair.residue import Family
from tests.engine.made import CLEAN_WHITE, bowl, chroma, dyed, hue_gap, lightness

TEN = Canvas(level=10)
CLEAR = demo_shelf()["clear"]


def permanent(name: str, level: float, demo: str = "", share: float = 1.0) -> Shade:
    """A permanent shade with a neutral base, and the tone of a demo spectrum if one is named."""
    bands = tuple(replace(each, weight=share * each.weight) for each in demo_shelf()[demo].bands) if demo else ()
    return Shade(name=name, kind=Kind.PERMANENT, level=level, bands=bands, strength=1.0)


class Roots(TestCase):
    def root(self, **grams: float) -> Forecast:
        shades = {
            "copper": permanent("copper", 7, "copper"),
            "ash": permanent("ash", 7, "indigo"),
            "bright": permanent("bright", 9, "copper"),
            "gold": permanent("gold", 6, "yellow"),
        }
        mix = Bowl(grams={shades[name]: each for name, each in grams.items()})
        return predict(self.hair, mix, process=Process(developer_vol=20))

    def test_f16_a_cool_share_in_a_root_mix_stops_the_root_glowing_warm(self) -> None:
        self.hair = Canvas(level=6, family=Family.NATURAL, lean=3)
        warm, cooled = self.root(copper=30), self.root(copper=24, ash=6)
        self.assertLess(chroma(cooled), chroma(warm) - 3)
        self.assertLess(float(cooled.lab[2]), float(warm.lab[2]))

    def test_f17_on_all_white_roots_a_small_share_of_a_deeper_gold_grounds_a_bright_shade(self) -> None:
        self.hair = Canvas(level=6, family=Family.NATURAL)
        lengths = self.root(bright=30)
        self.hair = Canvas(level=6, family=Family.NATURAL, grey=1.0)
        hollow, grounded = self.root(bright=30), self.root(bright=22, gold=8)
        self.assertGreater(lightness(hollow), lightness(lengths) + 5)
        self.assertLess(lightness(grounded), lightness(hollow))
        self.assertLess(float(delta_e00(lengths.lab, grounded.lab)), float(delta_e00(lengths.lab, hollow.lab)))


class YellowedWhite(TestCase):
    """White hair yellows by sun, smoke and minerals; violet takes it back. Common practice, no published source."""

    def setUp(self) -> None:
        self.white, self.yellowed = (
            Canvas(level=7, family=Family.NATURAL, grey=1.0, yellowing=share) for share in (0.0, 1.0)
        )

    def test_it_is_yellow_and_hardly_darker(self) -> None:
        clean, yellow = canvas_lab(self.white), canvas_lab(self.yellowed)
        self.assertGreater(yellow[2], clean[2] + 8)
        self.assertLess(clean[0] - yellow[0], 10)

    def test_violet_takes_the_yellow_out_and_it_takes_more_than_clean_white_bears(self) -> None:
        grams = (0.0, 0.1, 0.2, 0.4, 0.7, 1.0, 1.5, 2.0)
        left = {
            hair: [chroma(dyed(hair, violet=each, clear=40)) for each in grams] for hair in (self.white, self.yellowed)
        }
        calmest = {hair: int(np.argmin(each)) for hair, each in left.items()}
        self.assertLess(left[self.yellowed][calmest[self.yellowed]], 0.5 * left[self.yellowed][0])
        self.assertGreater(calmest[self.yellowed], calmest[self.white])

    def test_lightener_takes_the_yellow_out(self) -> None:
        self.assertEqual(lightened(self.yellowed, 9.0).yellowing, 0.0)
        self.assertEqual(lightened(lightened(self.yellowed, 9.0), 10.0), lightened(self.white, 10.0))

    def test_pigmented_hair_has_nothing_to_yellow(self) -> None:
        dark = Canvas(level=4, family=Family.NATURAL)
        self.assertEqual(*(tuple(canvas_lab(replace(dark, yellowing=share))) for share in (0.0, 1.0)))


class Levels(TestCase):
    def test_f21_vivid_red_works_from_level_seven(self) -> None:
        best = chroma(dyed(TEN, red=10))
        self.assertLess(chroma(dyed(Canvas(level=4), red=10)), 0.6 * best)
        self.assertGreater(chroma(dyed(Canvas(level=7), red=10)), 0.85 * best)

    def test_f21_copper_works_from_the_orange_stage(self) -> None:
        best = dyed(TEN, copper=10)
        for level in (6, 7, 8):
            self.assertLess(hue_gap(float(dyed(Canvas(level=level), copper=10).lch[2]), float(best.lch[2])), 10)

    def test_f21_crimson_is_near_its_best_at_nine(self) -> None:
        strengths = [chroma(dyed(Canvas(level=level), crimson=10, clear=5)) for level in (5, 7, 9, 10)]
        self.assertGreater(strengths[2], 0.95 * strengths[3])
        self.assertLess(strengths[0], 0.8 * strengths[3])


class Wear(TestCase):
    def test_f24_old_toner_in_the_lengths_mutes_a_new_shade(self) -> None:
        toned = Canvas(level=10, old=(OldColour(shade=demo_shelf()["violet"], k_s=0.4),))
        for name in ("copper", "yellow", "turquoise"):
            raw, old = (dyed(canvas, **{name: 2.0, "clear": 30}) for canvas in (TEN, toned))
            self.assertLess(chroma(old), chroma(raw) - 2)

    def test_f33_a_weekly_mask_keeps_colour_up_and_tints_regrowth_a_little(self) -> None:
        conditioner = Shade(name="conditioner", thins=1.5)
        mix, mask = bowl(crimson=4, clear=20), Bowl(grams={demo_shelf()["crimson"]: 2.0, conditioner: 58.0})
        first_day = predict(TEN, mix).lab
        worn = faded_canvas(TEN, mix, 4)
        without, kept = predict(worn, None), predict(worn, mask, process=Process(minutes=8))
        self.assertLess(float(delta_e00(first_day, kept.lab)), float(delta_e00(first_day, without.lab)) - 2)
        regrowth = Canvas(level=6, family=Family.NATURAL)
        tint = float(delta_e00(predict(regrowth, None).lab, predict(regrowth, mask, process=Process(minutes=8)).lab))
        self.assertTrue(0.3 < tint < 5, tint)

    def test_f29_reds_of_a_short_lived_line_leave_before_its_blues(self) -> None:
        red, blue = (replace(demo_shelf()[name], life=life) for name, life in (("red", 3.0), ("blue", 9.0)))
        plum = Bowl(grams={red: 3, blue: 2, CLEAR: 20})
        fresh, worn = predict(CLEAN_WHITE, plum), predict(faded_canvas(CLEAN_WHITE, plum, 6), None)
        self.assertLess(float(worn.lab[1]), float(fresh.lab[1]) - 8)
        self.assertLess(float(worn.lab[2]), 0)

    def test_f30_hot_water_costs_colour(self) -> None:
        mix = bowl(magenta=2, clear=20)
        cold, hot = (predict(faded_canvas(TEN, mix, 5, hot_water=hot), None) for hot in (False, True))
        self.assertLess(chroma(hot), chroma(cold))


class Minutes(TestCase):
    def setUp(self) -> None:
        self.toner = Shade(
            name="toner", kind=Kind.DEMI, bands=(Band(centre_nm=566, sigma_nm=40, weight=1),), strength=1
        )

    def after(self, minutes: float, porosity: float = 1.0) -> Forecast:
        hair = Canvas(level=10, porosity=porosity)
        return predict(hair, Bowl(grams={self.toner: 30}), process=Process(minutes=minutes, developer_vol=6))

    def test_f34_oxidative_deposit_stops_by_itself_and_stopping_early_leaves_less_to_fade(self) -> None:
        early, full, double = (self.after(minutes) for minutes in (8, 25, 50))
        self.assertLess(float(delta_e00(full.lab, double.lab)), 1.5)
        self.assertGreater(float(delta_e00(full.lab, early.lab)), 3)
        self.assertGreater(lightness(early), lightness(full))

    def test_f35_a_toner_turns_within_minutes(self) -> None:
        bare = predict(TEN, None).lab
        self.assertGreater(float(delta_e00(bare, self.after(4).lab)), 5)

    def test_f37_the_packs_time_means_medium_porosity(self) -> None:
        resistant, medium, porous = (lightness(self.after(20, porosity)) for porosity in (0.6, 1.0, 1.5))
        self.assertTrue(porous < medium < resistant)

    def test_f38_a_slow_application_leaves_the_first_part_deeper_than_the_last(self) -> None:
        first, last = self.after(22), self.after(10)
        self.assertLess(lightness(first), lightness(last))
        self.assertGreater(float(delta_e00(first.lab, last.lab)), 1)
