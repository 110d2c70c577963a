"""Every page of a visit: nothing from elsewhere, a next action, plain POSTs without script, and a steady cost."""

import re
from decimal import Decimal

from django.db import connection
from django.test.utils import CaptureQueriesContext
from django.urls import reverse

from studio.clocks.models import ZoneClock
from studio.head.services.aim import aim
from studio.head.services.pour import pour
from studio.pour.models import Weighing
from studio.visits.models import Zone
from studio.visits.selectors import open_zone
from studio.visits.services.zones import add_zone
from tests.studio.made import StudioCase

PAGES = {
    "visits:consult": "Read the hair",
    "visits:read": "To the Bench",
    "route:route": "To the Bench",
    "route:plan": "To the Bench",
    "bench:bench": "Pour",
    "pour:pour": "Add from the scale",
    "clocks:clock": "To the Bench",
    "result:result": "Keep, and hand over",
    "result:care": "To the card",
    "result:correct": "Back to the Result",
}
PLAIN = {
    "pour:weigh": {"line": "orchil", "grams": "1"},
    "clocks:start": {"kind": "direct"},
    "result:judge": {"place": "1-1"},
    "result:tweak": {"words": "less"},
    "result:care": {"washes_a_week": "3"},
    "route:begin": {"begins_at": "10:00"},
}


class PagesOfAVisit(StudioCase):
    def setUp(self) -> None:
        super().setUp()
        self.mix(open_zone(self.person, self.visit.pk).zone)

    def mix(self, zone: Zone) -> None:
        orchil, clear = self.shade("Orchil").pk, self.shade("Clear").pk
        version = self.bowl.version
        lab = {"lightness": Decimal(66), "chroma": Decimal(25), "hue": Decimal(0)}
        version = aim(self.person, zone_id=zone.pk, version=version, **lab).version
        for shade, grams in ((orchil, "3"), (clear, "57")):
            version = pour(
                self.person, zone_id=zone.pk, version=version, shade_id=shade, typed=grams
            ).bowl.worktop.version

    def get(self, name: str, **query: str):
        return self.client.get(reverse(name, args=[self.visit.pk]), query)

    def queries(self, name: str) -> int:
        self.get(name)  # lines, routes and locks are kept from one request to the next
        with CaptureQueriesContext(
            connection,
        ) as captured:
            self.assertEqual(self.get(name).status_code, 200)
        return len(captured)

    def test_each_page_loads_nothing_from_elsewhere_and_has_its_next_action(self) -> None:
        for name, action in PAGES.items():
            with self.subTest(page=name):
                text = self.get(name).content.decode()
                self.assertNotRegex(text, r'(?:src|href)="(?:https?:)?//')
                self.assertNotRegex(text, r'\sstyle="|<style|\son\w+="')
                self.assertIn(action, text)
                self.assertEqual(len(re.findall(r"<h1", text)), 1)
                self.assertEqual(text.count('id="main"'), 1)

    def test_no_identifier_stands_twice_on_a_page(self) -> None:
        for name in PAGES:
            with self.subTest(page=name):
                found = re.findall(r'\sid="([^"]+)"', self.get(name).content.decode())
                self.assertEqual(sorted({each for each in found if found.count(each) > 1}), [])

    def test_every_step_is_marked_where_it_stands(self) -> None:
        for name in PAGES:
            if name == "result:correct":
                continue
            with self.subTest(page=name):
                found = re.findall(r'<nav class="path".*?</nav>', self.get(name).content.decode(), re.DOTALL)
                self.assertEqual(found[0].count('aria-current="page"'), 1)

    def test_without_script_a_post_works_and_ends_in_a_redirect(self) -> None:
        for name, fields in PLAIN.items():
            sent = {"version": self.bowl.version} | fields
            if sent.get("line") == "orchil":
                sent["line"] = self.shade("Orchil").pk
            with self.subTest(post=name):
                answer = self.client.post(reverse(name, args=[self.visit.pk]), sent)
                self.assertEqual(answer.status_code, 302, answer.content[:200])
                self.assertEqual(self.client.get(answer.url).status_code, 200)
        self.assertEqual((Weighing.objects.count(), ZoneClock.objects.count()), (1, 1))

    def test_a_get_of_what_changes_things_is_not_allowed(self) -> None:
        for name in ("pour:weigh", "pour:mix", "clocks:start", "clocks:act", "result:judge", "result:keep"):
            with self.subTest(get=name):
                self.assertEqual(self.get(name).status_code, 405)

    def test_a_zone_that_is_gone_is_told_on_every_page(self) -> None:
        gone = add_zone(self.person, like_zone_id=open_zone(self.person, self.visit.pk).zone.pk, part="crown", name="")
        Zone.objects.filter(pk=gone.pk).update(removed=True)
        for name in ("pour:pour", "clocks:clock", "result:result"):
            with self.subTest(page=name):
                text = self.get(name, zone=str(gone.pk)).content.decode()
                self.assertIn("no longer on this head", text)

    def test_more_zones_cost_a_page_few_more_queries(self) -> None:
        most = {"clocks:clock": 8, "pour:pour": 0, "route:plan": 2, "result:result": 8}
        before = {name: self.queries(name) for name in most}
        like = open_zone(self.person, self.visit.pk).zone.pk
        for part in ("crown", "nape"):
            add_zone(self.person, like_zone_id=like, part=part, name="")
        self.get("bench:bench")  # gives them their bowl
        for name, more in most.items():
            with self.subTest(page=name):
                self.assertLessEqual(self.queries(name), before[name] + more)

    def test_an_empty_bowl_is_told_on_every_page_and_breaks_none(self) -> None:
        self.bowl.pours.all().delete()
        for name, said in (
            ("pour:pour", "Nothing to pour yet"),
            ("result:result", "Nothing was mixed for this zone"),
            ("result:care", "Nothing was mixed for this zone yet"),
            ("result:handout", "Your colour"),
            ("formats:handout", ""),
        ):
            with self.subTest(page=name):
                answer = self.get(name)
                self.assertEqual(answer.status_code, 200)
                if said:
                    self.assertContains(answer, said)

    def test_before_the_hair_is_read_the_way_leads_to_read(self) -> None:
        Zone.objects.get(visit=self.visit).readings.all().delete()
        for name in ("route:plan", "pour:pour", "result:result", "result:care", "result:correct"):
            with self.subTest(page=name):
                self.assertIn("/read/", self.get(name).url)

    def test_long_names_and_strange_ones_are_shown_as_they_are(self) -> None:
        zone = Zone.objects.get(visit=self.visit)
        zone.name = "<b>crown</b> & a very long name of a zone"[:40]
        zone.save()
        for name in ("pour:pour", "clocks:clock", "result:result", "route:plan"):
            with self.subTest(page=name):
                text = self.get(name).content.decode()
                self.assertNotIn("<b>crown", text)
