"""What was mixed, noted or set right during a visit reaches the card, and nothing of it is lost on the way."""

import datetime
from decimal import Decimal

from django.urls import reverse
from django.utils import timezone

from engine.bowl.weigh import scaled_to
from engine.errors import EmptyBowl
from studio.cards.models import Formula, Tweak
from studio.cards.services.judge import note_tweak
from studio.cards.services.repeat_formula import repeat_formula
from studio.clocks.models import ClockCorrection, ZoneClock
from studio.shelf.models import ShadeLine
from studio.visits.models import Zone
from tests.studio.made import TODAY, StudioCase, clear_skin, put_on_hair

HTMX = {"HX-Request": "true"}


class KeptCase(StudioCase):
    def setUp(self) -> None:
        super().setUp()
        clear_skin(self.person, self.visit.client_id, now=timezone.now())
        self.send("aim", lightness="50", chroma="25", hue="30")

    def zone(self, name: str = "whole head") -> Zone:
        return Zone.objects.get(visit=self.visit, name=name, removed=False)

    def post(self, name: str, **sent: object):
        return self.client.post(reverse(name, args=[self.visit.pk]), sent, headers=HTMX)

    def recipe(self, zone: Zone, **grams: str) -> None:
        """Put a recipe into a zone's bowl on the Bench."""
        coat = zone.coats.filter(removed=False).last()
        for shade, weight in grams.items():
            sent = {"zone": zone.pk, "coat_id": coat.pk, "version": self.version}
            self.send("pour", shade=self.shade(shade).pk, grams=weight, **sent)

    def mixed(self, zone: Zone) -> None:
        """Pour every line of a zone's bowl as planned, developer too, and mix it."""
        page = self.client.get(reverse("pour:pour", args=[self.visit.pk]), {"zone": zone.pk}).context["page"]
        for line in page.lines:
            self.send_pour("weigh", zone, line=line.key, grams=str(line.left_g))
        self.assertEqual(self.send_pour("mix", zone).status_code, 200)

    def send_pour(self, name: str, zone: Zone, **sent: object):
        return self.post(f"pour:{name}", zone=zone.pk, version=self.version, **sent)

    @property
    def version(self) -> int:
        return self.visit.worktop.__class__.objects.get(visit=self.visit).version

    def keep(self, **sent: object):
        return self.post("result:keep", version=self.version, zone=self.visit.zones.filter(removed=False)[0].pk, **sent)

    def kept(self) -> dict[str, list[dict[str, float]]]:
        found: dict[str, list[dict[str, float]]] = {}
        for formula in Formula.objects.order_by("pk"):
            pours = {pour.shade_name: float(pour.grams) for pour in formula.pours.all()}
            found.setdefault(formula.zone_name, []).append(pours)
        return found


class Mixed(KeptCase):
    def demi(self, zone: Zone) -> None:
        line = ShadeLine.objects.visible_to(self.person).get(kind="demi")
        self.send("line", line=line.pk, zone=zone.pk, version=self.version)

    def test_a_bowl_that_serves_its_zone_no_more_is_on_the_card(self) -> None:
        self.send("zones", way="two")
        roots, lengths = self.zone("roots"), self.zone("lengths")
        self.send("zones", way="own", zone=roots.pk, version=self.version)
        self.demi(roots)
        self.recipe(roots, Ochre="60")
        self.mixed(roots)
        self.post("clocks:start", zone=roots.pk, kind="demi", minutes="20")
        self.post("clocks:act", zone=roots.pk, clock=ZoneClock.objects.get().pk, rinse="1")
        self.send("zones", way="share", zone=roots.pk, other=lengths.pk, version=self.version)
        self.recipe(lengths, Orchil="2", Clear="58")
        self.mixed(lengths)
        self.assertEqual(self.keep().status_code, 200)
        self.assertEqual(self.kept()["roots"], [{"Ochre": 60.0}, {"Orchil": 2.0, "Clear": 58.0}])
        first = Formula.objects.get(zone_name="roots", line__kind="demi")
        self.assertEqual((first.developer_g, first.batches), (120, 1))
        self.assertIsNotNone(first.rinsed_at)
        self.assertIsNone(Formula.objects.get(zone_name="roots", line__kind="direct").rinsed_at)

    def test_a_second_batch_of_another_recipe_is_a_formula_of_its_own(self) -> None:
        whole = self.zone()
        self.recipe(whole, Orchil="4", Clear="56")
        self.mixed(whole)
        self.send_pour("mix", whole, next="1")
        self.recipe(whole, Smalt="10")
        self.mixed(whole)
        self.keep()
        self.assertEqual(
            self.kept()["whole head"], [{"Orchil": 4.0, "Clear": 56.0}, {"Orchil": 4.0, "Smalt": 10.0, "Clear": 56.0}]
        )
        self.assertEqual(list(Formula.objects.values_list("batches", flat=True)), [1, 1])

    def test_a_second_batch_of_the_same_recipe_is_told_as_two_and_costs_both(self) -> None:
        whole = self.zone()
        self.recipe(whole, Orchil="10", Clear="50")
        self.mixed(whole)
        self.keep()
        once = Formula.objects.get().cost
        self.send_pour("mix", whole, next="1")
        self.send_pour("weigh", whole, line=self.shade("Orchil").pk, grams="10.2")
        self.send_pour("weigh", whole, line=self.shade("Clear").pk, grams="50")
        self.send_pour("mix", whole)
        self.keep()
        twice = Formula.objects.order_by("-pk").first()
        self.assertEqual(twice.batches, 2)
        self.assertAlmostEqual(float(twice.cost), 2 * float(once), delta=0.05)

    def test_what_was_marked_as_mixed_on_the_bench_is_kept_too(self) -> None:
        self.send("zones", way="two")
        roots, lengths = self.zone("roots"), self.zone("lengths")
        self.send("zones", way="own", zone=roots.pk, version=self.version)
        self.recipe(roots, Madder="30")
        self.send("mix", way="mixed", zone=roots.pk, version=self.version)
        self.recipe(lengths, Orchil="30")
        self.send("zones", way="share", zone=roots.pk, other=lengths.pk, version=self.version)
        self.keep()
        self.assertEqual(self.kept()["roots"], [{"Madder": 30.0}, {"Orchil": 30.0}])

    def test_a_zone_that_was_removed_after_it_was_coloured_is_on_the_card(self) -> None:
        self.send("zones", way="add", part="panel", name="panel")
        panel = self.zone("panel")
        self.send("zones", way="own", zone=panel.pk, version=self.version)
        self.recipe(panel, Smalt="20")
        self.mixed(panel)
        self.recipe(self.zone(), Orchil="20")
        self.send("zones", way="remove", zone=panel.pk, version=self.version)
        self.keep()
        self.assertEqual(self.kept(), {"whole head": [{"Orchil": 20.0}], "panel": [{"Smalt": 20.0}]})

    def test_a_head_that_is_split_after_mixing_has_its_bowl_on_each_part_and_once(self) -> None:
        self.recipe(self.zone(), Orchil="20")
        self.mixed(self.zone())
        self.send("zones", way="two", version=self.version)
        self.keep()
        self.assertEqual(self.kept(), {"roots": [{"Orchil": 20.0}], "lengths": [{"Orchil": 20.0}]})


class Noted(KeptCase):
    def test_a_note_is_of_its_own_zone(self) -> None:
        self.recipe(self.zone(), Orchil="20")
        self.send("zones", way="two")
        note_tweak(self.person, visit_id=self.visit.pk, zone_name="roots", words="two minutes less")
        self.keep()
        notes = dict(Formula.objects.values_list("zone_name", "note"))
        self.assertEqual(notes, {"roots": "two minutes less", "lengths": ""})

    def test_an_aim_can_be_taken_away_and_brought_back(self) -> None:
        self.assertEqual(self.send("aim", clear="1", lightness="", chroma="", hue="").status_code, 200)
        self.assertIsNone(self.bowl.target_l)
        self.send("walk", way="undo")
        self.assertIsNotNone(self.bowl.target_l)

    def test_a_card_is_not_closed_over_a_running_clock_unasked(self) -> None:
        self.recipe(self.zone(), Orchil="20")
        put_on_hair(self.person, zone_id=self.zone().pk, kind="direct", now=timezone.now())
        page = self.client.get(reverse("result:result", args=[self.visit.pk]))
        self.assertContains(page, "its clock runs")
        self.assertNotContains(page, "No clock ran")
        answer = self.keep()
        self.assertContains(answer, "something is still on", status_code=422)
        self.assertContains(answer, "Keep it though it is on", status_code=422)
        self.assertFalse(Formula.objects.exists())
        self.assertEqual(self.keep(anyway="1").status_code, 200)
        self.assertTrue(Formula.objects.exists())

    def test_a_tweak_is_used_with_the_repeat_or_not_at_all(self) -> None:
        self.recipe(self.zone(), Orchil="20")
        self.keep()
        tweak = note_tweak(self.person, visit_id=self.visit.pk, zone_name="whole head", words="less")
        day = TODAY + datetime.timedelta(days=9)
        with self.assertRaises(Tweak.DoesNotExist):
            repeat_formula(self.person, formula_id=Formula.objects.get().pk, day=day, tweak_id=tweak.pk + 99)
        self.assertFalse(self.visit.client.visits.filter(day=day).exists(), "all of it or nothing")
        repeat_formula(self.person, formula_id=Formula.objects.get().pk, day=day, tweak_id=tweak.pk)
        tweak.refresh_from_db()
        self.assertFalse(tweak.active)

    def test_nothing_entered_is_not_called_virgin(self) -> None:
        page = self.client.get(reverse("visits:consult", args=[self.visit.pk]))
        self.assertContains(page, "Nothing noted. If nothing was done to it")


class Weights(KeptCase):
    def test_the_bowl_is_scaled_to_what_a_scale_can_show(self) -> None:
        self.recipe(self.zone(), Orchil="3.3", Smalt="1.1", Clear="7")
        self.send("wanted", total_grams="20", version=self.version)
        self.assertEqual(self.send("mix", way="scale", version=self.version).status_code, 200)
        poured = self.poured()
        self.assertEqual(sum(poured.values()), Decimal(20))
        self.assertTrue(all(grams == round(grams, 1) for grams in poured.values()), poured)

    def test_scaling_keeps_proportions_meets_the_total_and_never_drops_a_shade(self) -> None:
        self.assertEqual(scaled_to({"a": 1, "b": 2}, 10, step_g=0.1), {"a": 3.3, "b": 6.7})
        self.assertEqual(scaled_to({"a": 0.01, "b": 60}, 60, step_g=0.1)["a"], 0.1)
        with self.assertRaises(EmptyBowl):
            scaled_to({"a": 0.0}, 60, step_g=0.1)

    def test_drops_say_how_far_off_they_may_be(self) -> None:
        answer = self.send("pour", shade=self.shade("Smalt").pk, grams="7 drops")
        self.assertNotContains(answer, "±0.0<")
        self.assertContains(answer, "±0.05")


class Moments(KeptCase):
    def clock(self, minutes: float = 20) -> ZoneClock:
        now = timezone.now().replace(second=0, microsecond=0) - datetime.timedelta(minutes=minutes)
        return put_on_hair(self.person, zone_id=self.zone().pk, kind="direct", now=now)

    def correct(self, clock: ZoneClock, **sent: object):
        return self.post("clocks:correct", clock=clock.pk, zone=self.zone().pk, **sent)

    def test_a_mistaken_rinsed_is_taken_back_with_a_trace(self) -> None:
        clock = self.clock()
        self.post("clocks:act", clock=clock.pk, rinse="1")
        self.assertEqual(self.correct(clock, not_rinsed="1").status_code, 200)
        clock.refresh_from_db()
        self.assertIsNone(clock.rinsed_at)
        trace = ClockCorrection.objects.get()
        self.assertEqual((trace.moment, trace.became), ("rinsed_at", None))
        self.assertContains(self.correct(clock, not_rinsed="1"), "not rinsed yet", status_code=422)

    def test_it_is_not_taken_back_under_another_coat(self) -> None:
        clock = self.clock()
        self.post("clocks:act", clock=clock.pk, rinse="1")
        self.post("clocks:start", zone=self.zone().pk, kind="mask")
        self.assertContains(self.correct(clock, not_rinsed="1"), "Rinse that first", status_code=422)

    def test_a_late_start_is_set_right_and_the_result_follows(self) -> None:
        self.recipe(self.zone(), Orchil="20", Clear="40")
        clock = self.clock(5)
        at = timezone.localtime(clock.applied_at - datetime.timedelta(minutes=15))
        answer = self.correct(clock, moment="applied_at", at=f"{at:%H:%M}")
        self.assertEqual(answer.status_code, 200)
        clock.refresh_from_db()
        self.assertEqual(clock.applied_at, at)
        self.post("clocks:act", clock=clock.pk, rinse="1")
        page = self.client.get(reverse("result:result", args=[self.visit.pk])).context["page"]
        self.assertAlmostEqual(page.hand.forecast.process.minutes, 20, delta=1.1)
        self.assertContains(self.client.get(reverse("clocks:clock", args=[self.visit.pk])), "set right by ropery")

    def test_moments_that_can_not_be_are_refused(self) -> None:
        clock = self.clock()
        ahead = timezone.localtime(clock.applied_at + datetime.timedelta(minutes=3))
        for sent, words in (
            ({"moment": "applied_at", "at": "soon"}, "no time of day"),
            ({"moment": "applied_at", "at": ""}, "no time of day"),
            ({"moment": "born_at", "at": "10:00"}, "Choose what to set right"),
            ({"moment": "rinsed_at", "at": f"{ahead:%H:%M}"}, "not rinsed yet"),
        ):
            with self.subTest(sent=sent):
                self.assertContains(self.correct(clock, **sent), words, status_code=422)
        self.post("clocks:act", clock=clock.pk, rinse="1")
        early = timezone.localtime(clock.applied_at - datetime.timedelta(minutes=9))
        answer = self.correct(clock, moment="rinsed_at", at=f"{early:%H:%M}")
        self.assertContains(answer, "Nothing is rinsed before", status_code=422)
        self.assertFalse(ClockCorrection.objects.exists())

    def test_another_visits_clock_is_none_of_this_one(self) -> None:
        other = self.visit.client.visits.create(day=TODAY + datetime.timedelta(days=4), colourist=self.person)
        zone = Zone.objects.create(visit=other)
        clock = put_on_hair(self.person, zone_id=zone.pk, kind="mask", planned_min=9, now=timezone.now())
        for name in ("clocks:act", "clocks:correct"):
            self.assertEqual(self.post(name, clock=clock.pk, rinse="1", not_rinsed="1").status_code, 404)
        clock.refresh_from_db()
        self.assertIsNone(clock.rinsed_at)

    def test_a_tap_that_waited_for_its_connection_counts_from_its_tap(self) -> None:
        self.post("clocks:start", zone=self.zone().pk, kind="direct", waited_s="240.5")
        clock = ZoneClock.objects.get()
        self.assertAlmostEqual((timezone.now() - clock.applied_at).total_seconds(), 240.5, delta=5)
        self.post("clocks:act", clock=clock.pk, rinse="1", waited_s="nonsense")
        clock.refresh_from_db()
        self.assertAlmostEqual((timezone.now() - clock.rinsed_at).total_seconds(), 0, delta=5)


class PuttingRight(KeptCase):
    def test_a_correction_starts_from_the_colour_just_put_on_with_a_fresh_bowl(self) -> None:
        self.recipe(self.zone(), Madder="40", Clear="10")
        self.mixed(self.zone())
        put_on_hair(
            self.person, zone_id=self.zone().pk, kind="direct", now=timezone.now() - datetime.timedelta(minutes=30)
        )
        self.post("clocks:act", clock=ZoneClock.objects.get().pk, rinse="1")
        coloured = self.client.get(reverse("result:result", args=[self.visit.pk])).context["page"].hand.forecast
        used = self.bowl.pk
        answer = self.post("result:aim-at", trouble="tone_down", way="colour")
        self.assertIn("/bench/", answer.headers["HX-Redirect"])
        page = self.client.get(self.on_bench("bench")).context["page"]
        self.assertNotEqual(self.bowl.pk, used)
        self.assertTrue(page.bench.pours)
        for now, was in zip(page.now.lab, coloured.lab, strict=True):
            self.assertAlmostEqual(float(now), float(was), delta=0.6)
        self.recipe(self.zone(), **dict.fromkeys((shade.name for shade, _ in page.bench.poured), "0"))
        self.recipe(self.zone(), Logwood="6", Clear="54")
        self.keep()
        self.assertEqual(self.kept()["whole head"], [{"Madder": 40.0, "Clear": 10.0}, {"Logwood": 6.0, "Clear": 54.0}])
        first, second = Formula.objects.order_by("pk")
        self.assertEqual(first.laid, [])
        self.assertTrue(second.laid)
        self.assertAlmostEqual(float(first.forecast_l), float(coloured.lab[0]), delta=1)
        self.assertLess(second.forecast_l, first.forecast_l)

    def test_nothing_is_promised_for_a_bowl_that_was_on_for_no_time(self) -> None:
        self.recipe(self.zone(), Orchil="20")
        put_on_hair(self.person, zone_id=self.zone().pk, kind="direct", now=timezone.now())
        self.post("clocks:act", clock=ZoneClock.objects.get().pk, rinse="1")
        page = self.client.get(reverse("result:care", args=[self.visit.pk]))
        self.assertNotContains(page, "three months")
        self.assertContains(page, "nothing of it shows")
