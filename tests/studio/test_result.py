"""Judging, corrections, care; the plan's edits; searching, comparing and repeating cards."""

import datetime
import re
from decimal import Decimal
from unittest.mock import patch

import numpy as np
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse
from django.utils import timezone

from engine.colorimetry.cgats import Sample, written
from studio.cards.models import Formula, HomeCare, Tweak, ZoneResult
from studio.cards.services.repeat_formula import repeat_formula
from studio.clocks.models import ZoneClock
from studio.clocks.services.run import rinse
from studio.head.engine_adapter import aim_now
from studio.pour.services.mix import mix_batch
from studio.pour.services.weigh import weigh
from studio.shelf.models import Shade
from studio.visits.models import Visit
from studio.visits.selectors import open_zone
from studio.visits.services.read_hair import read_hair
from tests.studio.made import LEVEL_TEN, TODAY, StudioCase, make_person, make_visit, put_on_hair


class VisitCase(StudioCase):
    def setUp(self) -> None:
        super().setUp()
        self.send("aim", lightness="66", chroma="25", hue="0")
        self.send("pour", shade=self.shade("Orchil").pk, grams="3")
        self.send("pour", shade=self.shade("Clear").pk, grams="57")

    @property
    def zone(self):
        return open_zone(self.person, self.visit.pk).zone

    def at(self, name: str) -> str:
        return reverse(f"result:{name}", args=[self.visit.pk])

    def page(self):
        return self.client.get(self.at("result")).context["page"]

    def do(self, name: str, **fields: object):
        return self.client.post(self.at(name), fields, headers={"HX-Request": "true"})

    def keep(self, **fields: object) -> Formula:
        self.client.post(self.at("keep"), {"version": self.bowl.version, **fields})
        return Formula.objects.order_by("-pk").first()

    def worked(self, minutes: float, *, damp: bool = False) -> None:
        for name, grams in (("Orchil", "3"), ("Clear", "57")):
            weigh(
                self.person,
                zone_id=self.zone.pk,
                version=self.bowl.version,
                shade_id=self.shade(name).pk,
                grams=Decimal(grams),
                lot="L1",
            )
        start = timezone.now() - datetime.timedelta(minutes=minutes)
        mix_batch(self.person, zone_id=self.zone.pk, version=self.bowl.version, at=start)
        clock = put_on_hair(self.person, zone_id=self.zone.pk, kind="direct", now=start, damp=damp)
        rinse(self.person, clock_id=clock.pk, now=timezone.now())


class Judging(VisitCase):
    def test_by_eye_a_lock_of_the_ladder_is_the_result(self) -> None:
        self.do("judge", place="2-2", dry="1", two_lights="1")
        result = ZoneResult.objects.get()
        self.assertEqual((result.source, result.dry, result.two_lights), ("eye", True, True))
        self.assertAlmostEqual(float(result.result_l), float(result.forecast_l) - 6, places=2)
        page = self.page()
        self.assertIn("deeper", page.hand.verdict.forecast_words)
        self.assertTrue(page.ladder[2][2].chosen)

    def test_the_forecast_counts_with_the_minutes_and_the_dampness_of_the_clock(self) -> None:
        full = self.page().then.lightness
        self.worked(5, damp=True)
        self.assertGreater(self.page().then.lightness, full + 3)

    def test_the_reader_judges_too_and_its_faults_are_told(self) -> None:
        self.do("judge", reader="1")
        self.assertEqual(ZoneResult.objects.get().source, "reader")
        ZoneResult.objects.all().delete()
        for fault, said in (("unplugged", "does not answer"), ("stops", "half way"), ("garbage", "no colour")):
            self.assertContains(self.do("judge", reader="1", fault=fault), said, status_code=422)
        self.assertFalse(ZoneResult.objects.exists())

    def test_readings_from_a_file_are_averaged_and_a_bad_line_is_named(self) -> None:
        lab = [np.array([60.0, 20.0, 5.0]) + step for step in (0.0, 0.2, 0.4)]
        text = written([Sample(name=f"{n}", lab=each) for n, each in enumerate(lab)], originator="t", created="today")

        def send(body: str):
            fields = {"from_file": "1", "dry": "1", "readings": SimpleUploadedFile("r.txt", body.encode())}
            return self.client.post(self.at("photo"), fields)

        self.assertEqual(send(text).status_code, 302)
        result = ZoneResult.objects.get()
        self.assertAlmostEqual(float(result.result_l), 60.2, places=2)
        self.assertEqual((result.source, result.dry), ("reader", True))
        wrong = text.replace("60.2000", "sixty")
        line = next(number for number, each in enumerate(wrong.splitlines(), start=1) if "sixty" in each)
        self.assertContains(send(wrong), f"line {line}: a value is no number", status_code=422)
        self.assertContains(send("nothing of the kind"), "no CGATS table", status_code=422)
        self.assertContains(send(""), "Choose a file", status_code=422)

    def test_bad_places_and_an_empty_bowl_are_refused(self) -> None:
        for place in ("", "9-9", "1", "a-b", "-1-2"):
            self.assertContains(self.do("judge", place=place), "Tap one of the locks", status_code=422)
        empty = make_visit(self.person, "Cass Row")
        answer = self.client.post(reverse("result:judge", args=[empty.pk]), {"place": "1-1"})
        self.assertContains(answer, "The bowl is empty", status_code=422)

    def test_what_to_change_is_noted_with_what_to_aim_at_and_taken_back(self) -> None:
        self.do("judge", place="2-2")
        self.assertIn("aim the other way", self.page().suggested)
        self.do("tweak", words="hold the pink back", aim="1")
        tweak = Tweak.objects.get()
        self.assertTrue(tweak.active)
        self.assertGreater(tweak.target_l, 66)
        self.do("tweak", words="")
        self.assertFalse(Tweak.objects.exists())

    def test_spot_fixes_come_after_the_page(self) -> None:
        self.worked(5)
        answer = self.client.get(self.at("fixes"))
        self.assertRegex(
            answer.content.decode(), r"\b\d{1,2}\.\d g \w+(, \d{1,2}\.\d g \w+)? in [\d.]+ l of water for all of it"
        )
        self.assertNotContains(answer, "More minutes")
        ZoneClock.objects.update(rinsed_at=None)
        self.assertContains(self.client.get(self.at("fixes")), "More minutes")

    def test_a_clock_that_was_forgotten_for_hours_breaks_no_page(self) -> None:
        self.worked(900)
        for name in ("result", "fixes", "care", "correct"):
            self.assertEqual(self.client.get(self.at(name)).status_code, 200)
        ZoneClock.objects.update(rinsed_at=None)
        self.assertEqual(self.client.get(self.at("fixes")).status_code, 200)

    def test_the_card_keeps_what_was_poured_when_and_how_it_turned_out(self) -> None:
        self.worked(25)
        self.do("judge", place="1-2")
        formula = self.keep(token="once")
        self.keep(token="once")
        self.assertEqual(Formula.objects.count(), 1)
        self.assertAlmostEqual(formula.process_min, 25, delta=0.1)
        self.assertEqual(formula.pours.first().lot, "L1")
        self.assertGreater(formula.cost, 0)
        card = self.client.get(reverse("cards:card", args=[self.visit.client_id]))
        self.assertContains(card, "turned out as forecast")
        self.assertContains(card, "no. L1")


class CareAndCorrections(VisitCase):
    def care(self, **fields: object):
        fields.setdefault("washes_a_week", "2")
        return self.do("care", **fields)

    def test_habits_and_the_next_visit_are_kept_and_the_strip_follows(self) -> None:
        next_on = TODAY + datetime.timedelta(days=30)
        self.care(pool="1", next_on=next_on.isoformat(), given="a mask")
        kept = HomeCare.objects.get()
        self.assertEqual((kept.washes_a_week, kept.pool, kept.next_on), (Decimal(2), True, next_on))
        rough = self.care(washes_a_week="10", hot_water="1").context["page"]
        self.assertTrue(rough.weeks[1].is_off)
        self.assertEqual(rough.keeps.come_again_weeks, 2)

    def test_bad_habits_and_days_are_refused(self) -> None:
        for fields, said in (
            ({"washes_a_week": "often"}, "needs a number"),
            ({"washes_a_week": "40"}, "Washes a week: "),
            ({"next_on": "soon"}, "no day"),
            ({"next_on": TODAY.isoformat()}, "after this one"),
        ):
            self.assertContains(self.care(**fields), said, status_code=422)
        self.assertFalse(HomeCare.objects.exists())

    def test_the_mask_is_direct_dye_and_the_hand_out_has_it(self) -> None:
        page = self.client.get(self.at("care")).context["page"]
        self.assertIn("Soapwort conditioner", [name for name, _ in page.mask.pours])
        handout = self.client.get(self.at("handout"))
        self.assertContains(handout, "Weekly mask")
        self.assertContains(handout, "An estimate, not a promise")
        self.assertContains(handout, "pool")

    def test_what_was_mixed_with_developer_is_thrown_away(self) -> None:
        self.assertContains(self.client.get(self.at("care")), "labelled and dated")
        toner = Shade.objects.get(name="Selenite", line__studio=self.person.studio)
        self.send("line", line=toner.line_id)
        self.send("pour", shade=toner.pk, grams="15")
        page = self.client.get(self.at("care"))
        self.assertContains(page, "never closed in a bottle")
        self.assertNotIn("Selenite", [name for name, _ in page.context["page"].mask.pours])

    def test_without_direct_dye_on_the_shelf_nothing_goes_home(self) -> None:
        with (
            patch("studio.result.care_page._direct_line", return_value=None),
            patch("studio.result.care_page.stocked_shelf", return_value=[]),
        ):
            self.assertContains(self.client.get(self.at("mask")), "never goes home")

    def test_the_mask_comes_by_itself_and_anew_when_habits_change_it(self) -> None:
        self.worked(25)
        first = self.client.get(self.at("care")).content.decode()
        self.assertIn(f'hx-get="{self.at("mask")}', first)
        self.assertNotIn("Soapwort conditioner", first)
        self.assertContains(self.client.get(self.at("mask")), "Soapwort conditioner")
        self.do("care", washes_a_week="7", hot_water="1")
        asked = re.compile(r'id="(mask-[^"]+)"')
        self.assertNotEqual(asked.findall(first), asked.findall(self.client.get(self.at("care")).content.decode()))

    def test_corrections_are_ranked_with_what_not_to_do_and_lead_to_the_bench(self) -> None:
        self.worked(25)
        page = self.client.get(self.at("correct"), {"trouble": "tone_down"}).context["page"]
        self.assertIn("today's bowl", page.on_hair)
        self.assertIn("lightener", page.dont)
        self.assertTrue(page.ways)
        self.client.post(self.at("aim-at"), {"trouble": "tone_down", "way": "colour"})
        aimed = np.array([float(part) for part in (self.bowl.target_l, self.bowl.target_a, self.bowl.target_b)])
        self.assertLess(np.hypot(*aimed[1:]), 24)

    def test_a_zone_of_several_coats_is_put_right_over_the_last_of_them(self) -> None:
        self.worked(25)
        for way in ("colour", "colour"):
            answer = self.client.post(self.at("aim-at"), {"trouble": "tone_down", "way": way}, follow=True)
            self.assertEqual(answer.status_code, 200)
        self.assertEqual(self.zone.coats.filter(removed=False).count(), 2)
        self.assertEqual(answer.context["page"].bench.coat, self.zone.coats.filter(removed=False).last())

    def test_todays_bowl_is_washed_before_what_is_mixed_for_washed_hair(self) -> None:
        self.worked(25)
        page = self.client.get(self.at("correct"), {"trouble": "tone_down"}).context["page"]
        way = next(each for each in page.ways if each.remedy.way == "wash_then_colour")
        answer = self.client.post(self.at("aim-at"), {"trouble": "tone_down", "way": "wash_then_colour"}, follow=True)
        bench = answer.context["page"].bench
        self.assertEqual({shade.pk: grams for shade, grams in bench.poured}, dict(way.grams))
        self.assertAlmostEqual(aim_now(bench).delta_e00, way.remedy.delta_e00, delta=0.5)

    def test_a_week_later_it_is_reckoned_from_what_washes_have_left(self) -> None:
        self.keep()
        later = make_visit(self.person, day=TODAY + datetime.timedelta(days=7))
        answer = self.client.get(reverse("result:correct", args=[later.pk]), {"trouble": "too_bright"})
        self.assertContains(answer, "after about 3 washes")


class Plans(VisitCase):
    def step(self, **fields: object):
        coat = self.zone.coats.get()
        fields = {"of_zone": self.zone.pk, "of_coat": coat.pk, "version": self.bowl.version} | fields
        return self.client.post(reverse("route:step", args=[self.visit.pk]), fields, headers={"HX-Request": "true"})

    def test_minutes_and_begin_can_be_changed_and_forgotten(self) -> None:
        answer = self.client.post(reverse("route:begin", args=[self.visit.pk]), {"begins_at": "14:30"}, follow=True)
        self.assertContains(answer, "ends about")
        changed = self.step(apply_min="40", minutes="52").context["page"]
        self.assertEqual(changed.total, "1 h 09")  # the last hair has it on for two fifths of the minutes
        self.assertEqual(changed.ends, "15:39")
        self.step(forget="1")
        self.assertIsNone(self.zone.coats.get().apply_min)

    def test_the_longest_step_breaks_no_page(self) -> None:
        self.assertEqual(self.step(apply_min="240", minutes="240").status_code, 200)

    def test_bad_minutes_times_and_steps_are_refused(self) -> None:
        self.assertContains(self.step(apply_min="x", minutes="1"), "needs a number", status_code=422)
        self.assertContains(self.step(apply_min="999", minutes="1"), "0 to 240", status_code=422)
        self.assertContains(self.step(of_coat=999999, minutes="1", apply_min="1"), "no longer on", status_code=422)
        answer = self.client.post(reverse("route:begin", args=[self.visit.pk]), {"begins_at": "noonish"})
        self.assertContains(answer, "no time of day", status_code=422)

    def test_a_short_shade_is_told_before_the_work_with_what_can_be_made_instead(self) -> None:
        orchil = self.shade("Orchil")
        orchil.stock_g = Decimal(1)
        orchil.save()
        orchil.line.version += 1
        orchil.line.save()
        short = self.client.get(reverse("route:plan", args=[self.visit.pk])).context["page"].shorts[0]
        self.assertEqual((short.name, short.takes, short.left), ("Orchil", "3.0 g", "1.0 g"))
        grams = re.search(r"([\d.]+) g Orchil", short.instead)
        self.assertTrue(grams is None or float(grams.group(1)) <= 1)


class Finding(VisitCase):
    def find(self, **sought: object):
        return self.client.get(reverse("cards:list"), sought)

    def names(self, **sought: object) -> list[str]:
        return [line.client.name for line in self.find(**sought).context["found"]]

    def setUp(self) -> None:
        super().setUp()
        self.keep()
        self.pink = self.visit
        self.visit = make_visit(self.person, "Cass Row")
        self.send("pour", shade=self.shade("Smalt").pk, grams="20")
        read_hair(self.person, zone_id=self.zone.pk, after=1, hair={**LEVEL_TEN, "level": Decimal(8)})
        self.keep()

    def test_near_this_colour_the_nearest_is_first(self) -> None:
        formula = Formula.objects.get(visit=self.pink)
        lab = np.array([float(part) for part in (formula.forecast_l, formula.forecast_a, formula.forecast_b)])
        hue = float(np.degrees(np.arctan2(lab[2], lab[1])) % 360)
        found = self.find(lightness=f"{lab[0]:.1f}", chroma=f"{np.hypot(*lab[1:]):.1f}", hue=f"{hue:.0f}")
        self.assertEqual(found.context["found"][0].client.name, "Pim Harrow")
        self.assertLess(float(found.context["found"][0].off), 1)

    def test_by_level_shade_and_date(self) -> None:
        self.assertEqual(self.names(level="8"), ["Cass Row"])
        self.assertEqual(self.names(q="smalt"), ["Cass Row"])
        self.assertEqual(len(self.names(since=timezone.localdate().isoformat())), 2)
        self.assertEqual(self.names(until="2001-01-01"), [])
        self.assertEqual(self.names(level="10", q="harrow"), ["Pim Harrow"])

    def test_what_can_not_be_looked_for_is_told_and_cards_stay_in_sight(self) -> None:
        for sought, said in (
            ({"hue": "5"}, "all three"),
            ({"level": "lots"}, "needs a number"),
            ({"since": "then"}, "no day"),
            ({"lightness": "500", "chroma": "1", "hue": "1"}, "Depth: "),
        ):
            answer = self.find(**sought)
            self.assertContains(answer, said, status_code=422)
            self.assertContains(answer, "Cass Row", status_code=422)

    def test_two_formulas_are_compared_and_one_alone_is_not(self) -> None:
        ids = list(Formula.objects.values_list("pk", flat=True))
        answer = self.client.get(reverse("cards:compare"), {"formula": ids})
        self.assertContains(answer, "Smalt")
        answer = self.client.get(reverse("cards:compare"), {"formula": ids[:1]}, follow=True)
        self.assertContains(answer, "Choose two formulas")
        answer = self.client.get(reverse("cards:compare"), {"formula": ["²", "9" * 40]})
        self.assertContains(answer, "Nothing was changed", status_code=422)


class Again(VisitCase):
    def setUp(self) -> None:
        super().setUp()
        self.formula = self.keep()
        self.later = make_visit(self.person, day=TODAY + datetime.timedelta(days=30))
        zone = open_zone(self.person, self.later.pk).zone
        hair = {**LEVEL_TEN, "level": Decimal(9), "porosity": Decimal("1.3")}
        read_hair(self.person, zone_id=zone.pk, after=1, hair=hair)

    def options(self):
        with patch("studio.cards.views.timezone.localdate", return_value=self.later.day):
            answer = self.client.get(reverse("cards:again", args=[self.formula.pk]))
        return answer.context["page"], {option.code: option for option in answer.context["page"].options}

    def take(self, code: str) -> Visit:
        with patch("studio.cards.views.timezone.localdate", return_value=self.later.day):
            self.client.post(reverse("cards:repeat", args=[self.formula.pk]), {"option": code})
        return self.later

    def test_the_same_grams_are_forecast_anew_and_the_same_result_has_other_grams(self) -> None:
        page, options = self.options()
        self.assertTrue(page.is_read)
        self.assertGreater(float(options["grams"].off), 1)
        self.assertLess(float(options["result"].off), float(options["grams"].off))
        self.assertNotEqual(options["grams"].pours, options["result"].pours)
        self.assertLessEqual({"brighter", "softer", "warmer", "deeper"}, set(options))

    def test_taking_an_option_puts_its_grams_and_its_aim_on_the_bench(self) -> None:
        _, options = self.options()
        self.visit = self.take("softer")
        wanted = {shade: Decimal(f"{grams:.2f}") for shade, grams in options["softer"].grams.items()}
        self.assertEqual(dict(self.bowl.pours.values_list("shade", "grams")), wanted)
        self.assertAlmostEqual(float(self.bowl.target_l), options["softer"].aim_lab[0], places=2)

    def test_the_active_tweak_is_offered_and_used_once(self) -> None:
        self.do("judge", place="2-2")
        self.do("tweak", words="a shade lighter", aim="1")
        last = self.client.get(reverse("cards:last", args=[self.later.pk]))
        self.assertContains(last, "a shade lighter")
        _, options = self.options()
        self.assertIn("a shade lighter", options["tweak"].title)
        self.take("tweak")
        self.assertFalse(Tweak.objects.get().active)

    def test_another_studios_formula_is_not_found(self) -> None:
        self.client.force_login(make_person("Ballast Quay", "ballast"))
        for name in ("again", "repeat"):
            address = reverse(f"cards:{name}", args=[self.formula.pk])
            answer = self.client.get(address) if name == "again" else self.client.post(address)
            self.assertEqual(answer.status_code, 404)
        self.assertEqual(self.client.get(reverse("cards:compare"), {"formula": [self.formula.pk]}).status_code, 302)

    def test_repeating_leaves_every_other_zone_as_it_was_kept(self) -> None:
        visit = repeat_formula(self.person, formula_id=self.formula.pk, day=self.later.day)
        self.visit = visit
        self.assertEqual(self.poured(), {"Orchil": Decimal(3), "Clear": Decimal(57)})
