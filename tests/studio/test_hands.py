"""A head that goes from one pair of hands to another, how fast hands may ask, and what is counted of it."""

from unittest.mock import patch

from django.test import Client as Browser
from django.test import override_settings
from django.urls import reverse
from django.utils import timezone

from studio.cards.hands import hands_of
from studio.people.limit import Limit
from studio.visits.selectors import open_zone
from tests.studio.made import make_person, make_visit, put_on_hair
from tests.studio.test_people import PeopleCase

TOKEN = "a-long-token-for-who-watches"


class HandedOver(PeopleCase):
    def setUp(self) -> None:
        super().setUp()
        self.maeve = self.colleague()
        self.head = make_visit(self.person, "Ivo Lark", timezone.localdate())
        zone = open_zone(self.person, self.head.pk).zone
        self.clock = put_on_hair(self.person, zone_id=zone.pk, kind="direct", now=timezone.now())

    def hand(self, to: int):
        return self.client.post(reverse("visits:hand-over", args=[self.head.pk]), {"to": to})

    def test_a_head_goes_to_a_colleague_who_ends_its_clock_and_the_card_tells_whose_hands(self) -> None:
        card = self.client.get(reverse("cards:card", args=[self.head.client_id]))
        self.assertContains(card, "Hand over to")
        self.hand(self.maeve.pk)
        self.head.refresh_from_db()
        self.assertEqual(self.head.colourist, self.maeve)
        hers = self.browser(self.maeve)
        hers.post(
            reverse("clocks:act", args=[self.head.pk]),
            {"clock": self.clock.pk, "rinse": "1", "zone": self.clock.zone_id},
        )
        self.clock.refresh_from_db()
        self.assertIsNotNone(self.clock.rinsed_at)
        (told,) = hands_of(self.person, self.head.client_id)
        self.assertEqual(told.colourist, "maeve")
        self.assertEqual(told.did, ((str(self.person), "read, mixed, put on"),))
        trace = hers.get(reverse("trace:client", args=[self.head.client_id]))
        self.assertContains(trace, f"colourist: {self.person} → maeve")

    def test_nobody_of_another_studio_at_no_chair_or_who_left_takes_it(self) -> None:
        desk, left = self.colleague("desk", "desk"), self.colleague("apprentice", "left")
        left.is_active = False
        left.save()
        for each in (make_person("Sail Loft", "sail"), desk, left):
            self.assertEqual(self.hand(each.pk).status_code, 422)
        self.head.refresh_from_db()
        self.assertEqual(self.head.colourist, self.person)
        self.assertEqual(
            self.browser(desk).post(reverse("visits:hand-over", args=[self.head.pk]), {"to": 1}).status_code, 403
        )

    def test_hands_cost_a_fixed_number_of_queries(self) -> None:
        with self.assertNumQueries(3):
            hands_of(self.person, self.head.client_id)


class HowFast(PeopleCase):
    @override_settings(PERSON_RATE=10.0, PERSON_BURST=5.0)
    def test_who_asks_faster_than_hands_waits_and_others_do_not(self) -> None:
        limit = Limit(lambda request: None)
        self.assertEqual([limit._may(1, 100.0) for _ in range(6)], [True] * 5 + [False])
        self.assertTrue(limit._may(2, 100.0))
        self.assertFalse(limit._may(1, 100.05))
        self.assertTrue(limit._may(1, 100.2))  # two tenths of a second fill two
        self.assertEqual([limit._may(1, 200.0) for _ in range(6)], [True] * 5 + [False])  # no more than a burst

    def test_it_is_told_in_words_with_when_to_ask_again(self) -> None:
        with patch("studio.people.limit.Limit._may", return_value=False):
            answer = self.client.get("/chairs/")
            self.assertEqual(Browser().get("/sign-in/").status_code, 200)  # strangers are counted at the door
        self.assertContains(answer, "nothing is lost", status_code=429)
        self.assertEqual(answer["Retry-After"], "1")


class Counted(PeopleCase):
    def metrics(self, token: str = TOKEN):
        return Browser().get("/health/metrics", headers={"Authorization": f"Bearer {token}"})

    def test_only_who_has_the_token_reads_them(self) -> None:
        self.assertEqual(self.metrics().status_code, 404)
        with self.settings(METRICS_TOKEN=TOKEN):
            self.assertEqual(self.metrics("another").status_code, 404)
            self.assertEqual(Browser().get("/health/metrics").status_code, 404)
            self.assertEqual(self.metrics().status_code, 200)

    def test_requests_are_counted_by_view_and_how_they_ended_and_tell_nothing_of_a_client(self) -> None:
        visit = make_visit(self.person, "Zephyrine")
        self.client.get(reverse("bench:bench", args=[visit.pk]))
        with self.settings(METRICS_TOKEN=TOKEN):
            told = self.metrics().content.decode()
        self.assertIn('rainshade_request_seconds_count{method="GET",status="200",view="bench:bench"}', told)
        self.assertNotIn("Zephyrine", told)
        self.assertNotIn(f"/visits/{visit.pk}", told)
