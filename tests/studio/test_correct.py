"""Putting a head right: troubles, ways in grams, the strand that is stretched first, and the wait."""

import datetime
from decimal import Decimal

from django.urls import reverse
from django.utils import timezone

from studio.clients.services.history import add_past
from studio.head.engine_adapter import aim_now
from studio.visits.models import Consult, Reading
from studio.visits.services.read_hair import read_hair
from tests.studio.made import LEVEL_TEN, StudioCase


class PutRightCase(StudioCase):
    def page(self, trouble: str, **sent: object):
        return self.client.get(reverse("result:correct", args=[self.visit.pk]), {"trouble": trouble, **sent})

    def stretched(self, found: str, trouble: str = "too_dark"):
        headers = {"HX-Request": "true", "HX-Target": "main"}
        sent = {"integrity": found, "trouble": trouble}
        return self.client.post(reverse("result:integrity", args=[self.visit.pk]), sent, headers=headers)

    def colour_on(self) -> None:
        """An old red on the hair."""
        zone = self.visit.zones.get()
        number = Reading.objects.filter(zone=zone).first().number
        read_hair(self.person, zone_id=zone.pk, after=number, hair={"old_k_s": Decimal(1)}, old_shade="crimson")

    def ways(self, trouble: str) -> dict[str, object]:
        return {way.title: way for way in self.page(trouble).context["page"].ways}


class PutRight(PutRightCase):
    def test_each_way_says_its_grams_and_nothing_more_than_the_shelf_holds(self) -> None:
        self.colour_on()
        for trouble in ("too_bright", "too_warm", "purple_cast", "banded", "hot_root", "tone_down"):
            for title, way in self.ways(trouble).items():
                with self.subTest(trouble=trouble, title=title):
                    self.assertEqual(bool(way.pours), title != "Wash it out")
                    for name, grams in way.pours:
                        self.assertLessEqual(grams, self.shade(name).stock_g)

    def test_what_costs_the_hair_waits_for_the_strand_and_for_two_weeks(self) -> None:
        self.colour_on()
        bleach = self.ways("too_dark")["Bleach wash, then colour"]
        self.assertIn("Stretch a wet strand", bleach.before)
        self.assertIn("counts as a lift", bleach.how)
        self.assertContains(self.stretched("held"), "Stretch and curl held at")
        self.assertEqual(self.ways("too_dark")["Bleach wash, then colour"].before, "")
        self.assertEqual(self.ways("too_dark")["Wash it out"].before, "")
        today = timezone.localdate()
        lifted = today - datetime.timedelta(days=4)
        add_past(self.person, client_id=self.visit.client_id, work="lift", part="whole", done_on=lifted, today=today)
        self.visit.day = today
        self.visit.save()
        self.assertIn("wait 10 days more", self.ways("too_dark")["Bleach wash, then colour"].before)

    def test_hair_that_fails_is_noted_for_every_page(self) -> None:
        self.colour_on()
        self.assertContains(self.stretched("stretch"), "Stretch gave way")
        consult = Consult.objects.get(visit=self.visit)
        self.assertTrue(consult.stretch_failed)
        self.assertFalse(consult.curl_loosened)
        self.assertIn("care for it two weeks", self.ways("too_dark")["Bleach wash, then colour"].before)
        self.assertContains(self.stretched("horse"), "Say how the integrity test went", status_code=422)

    def test_one_zone_is_put_right_against_the_rest_of_the_head(self) -> None:
        self.assertEqual(self.page("banded").context["page"].wanted_is, "wanted")
        nape = self.visit.zones.create(name="nape", part="nape", position=5)
        read_hair(self.person, zone_id=nape.pk, after=0, hair=LEVEL_TEN | {"level": Decimal(7)})
        self.client.get(self.on_bench("bench"), {"zone": nape.pk})
        page = self.page("banded").context["page"]
        self.assertEqual(page.wanted_is, "wanted, as the rest of the head")
        self.assertLess(page.wanted.lightness, page.now.lightness - 10)


class TakenUp(PutRightCase):
    """A way is taken to the Bench as it was shown, or to the Route where something comes before its colour."""

    def take(self, way: str, trouble: str = "tone_down"):
        return self.client.post(
            reverse("result:aim-at", args=[self.visit.pk]), {"trouble": trouble, "way": way}, follow=True
        )

    def test_after_washes_the_bench_holds_the_mix_on_washed_hair_and_forecasts_what_was_promised(self) -> None:
        self.colour_on()
        shown = self.ways("tone_down")["Wash, then colour over it"]
        page = self.take("wash_then_colour").context["page"]
        self.assertEqual({shade.pk: grams for shade, grams in page.bench.poured}, dict(shown.grams))
        self.assertAlmostEqual(aim_now(page.bench).delta_e00, shown.remedy.delta_e00, delta=0.3)
        reading = Reading.objects.filter(zone__visit=self.visit).first()
        self.assertEqual((reading.source, reading.old_shade), ("forecast", "crimson"))
        self.assertTrue(0 < reading.old_k_s < 1)

    def test_colour_over_it_leaves_the_hair_as_it_was_read(self) -> None:
        self.colour_on()
        shown = self.ways("tone_down")["Colour over it"]
        page = self.take("colour").context["page"]
        self.assertAlmostEqual(aim_now(page.bench).delta_e00, shown.remedy.delta_e00, delta=0.3)
        self.assertEqual(Reading.objects.filter(zone__visit=self.visit).first().source, "eye")

    def test_what_has_to_be_lifted_first_goes_to_the_route_with_its_aim(self) -> None:
        self.colour_on()
        way = next(each for each in self.ways("too_dark").values() if each.remedy.is_lift)
        answer = self.take(way.remedy.way.value, "too_dark")
        self.assertIn("/route/", answer.redirect_chain[-1][0])
        self.assertIsNotNone(answer.context["page"].aim)
        self.assertEqual(answer.context["page"].bench.pours, {})

    def test_a_way_that_is_not_offered_is_refused(self) -> None:
        for way in ("colour over", "", "fill"):
            with self.subTest(way=way):
                self.assertContains(self.take(way), "no longer offered", status_code=422)
