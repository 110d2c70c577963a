"""A studio's calendar by a secret address: what is in it, who reads it, and that a new address ends the old one."""

import datetime

from django.test import Client as Browser
from django.urls import reverse
from icalendar import Calendar

from engine.service.roles import Role
from studio.accounts.models import Person
from studio.cards.models import HomeCare
from studio.formats.calendar import feed
from studio.formats.models import Feed
from tests.studio.made import StudioCase, make_person, make_visit


class CalendarFeed(StudioCase):
    def setUp(self) -> None:
        super().setUp()
        Person.objects.filter(pk=self.person.pk).update(role=Role.OWNER)
        self.page = reverse("formats:calendar-page")
        self.day = datetime.date.today() + datetime.timedelta(days=20)
        HomeCare.objects.create(visit=self.visit, next_on=self.day, given="a mask")

    def address(self) -> str:
        """A new address, as the page shows it once."""
        shown = self.client.post(self.page, {"way": "renew"}, follow=True)
        return shown.context["address"].removeprefix("http://testserver")

    def read(self, address: str, **headers: str):
        """As a calendar reads it: signed in nowhere."""
        return Browser().get(address, headers=headers)

    def events(self, address: str) -> list:
        return Calendar.from_ical(self.read(address).content).walk("VEVENT")

    def test_a_calendar_reads_the_next_visits_and_nothing_of_hair_or_health(self) -> None:
        self.visit.client.notes = "takes blood thinners"
        self.visit.client.save()
        answer = self.read(self.address())
        self.assertEqual(answer["Content-Type"], "text/calendar; charset=utf-8")
        (event,) = Calendar.from_ical(answer.content).walk("VEVENT")
        self.assertEqual((event["dtstart"].dt, str(event["summary"])), (self.day, "Pim Harrow: colour"))
        self.assertEqual(str(event["uid"]), f"urn:uuid:{HomeCare.objects.get().calendar_uid}")
        self.assertNotIn(b"blood", answer.content)
        self.assertNotIn(b"mask", answer.content)

    def test_who_came_since_is_not_waited_for_by_the_old_day(self) -> None:
        address = self.address()
        later = make_visit(self.person, "Pim Harrow", day=self.visit.day + datetime.timedelta(days=3))
        self.assertEqual(self.events(address), [])
        HomeCare.objects.create(visit=later, next_on=self.day + datetime.timedelta(days=7))
        (event,) = self.events(address)
        self.assertEqual(event["dtstart"].dt, self.day + datetime.timedelta(days=7))

    def test_what_did_not_change_is_not_sent_again(self) -> None:
        address = self.address()
        etag = self.read(address)["ETag"]
        again = self.read(address, **{"If-None-Match": etag})
        self.assertEqual((again.status_code, again.content), (304, b""))
        HomeCare.objects.update(next_on=self.day + datetime.timedelta(days=1))
        self.assertEqual(self.read(address, **{"If-None-Match": etag}).status_code, 200)
        self.assertIsNotNone(Feed.objects.get().read_at)

    def test_a_new_address_ends_the_old_one_and_an_end_ends_both(self) -> None:
        first = self.address()
        second = self.address()
        self.assertEqual([self.read(each).status_code for each in (first, second)], [404, 200])
        self.assertNotIn(second.split("/")[-2], str(Feed.objects.values()))
        self.assertNotContains(self.client.get(self.page), second.split("/")[-2])  # it was shown once
        self.client.post(self.page, {"way": "end"})
        self.assertEqual(self.read(second).status_code, 404)

    def test_an_address_that_is_guessed_shows_nothing(self) -> None:
        address = self.address()
        key = address.split("/")[-2]
        for guess in (key[:-1], key.swapcase(), "a", Feed.objects.get().key_hash):
            self.assertEqual(self.read(address.replace(key, guess)).status_code, 404)
        self.assertEqual(self.client.post(address).status_code, 405)

    def test_the_owner_alone_makes_it_and_each_studio_has_its_own(self) -> None:
        other = make_person("Ballast Quay", "ballast")
        make_visit(other, "Anon Brill")
        self.assertEqual(len(self.events(self.address())), 1)
        self.client.force_login(other)
        Person.objects.filter(pk=other.pk).update(role=Role.COLOURIST)
        self.assertEqual(self.client.post(self.page, {"way": "renew"}).status_code, 403)
        self.assertEqual(Feed.objects.count(), 1)

    def test_a_thousand_visits_are_two_queries(self) -> None:
        with self.assertNumQueries(2):
            feed(self.person.studio, today=self.day)
