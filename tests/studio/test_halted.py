"""What a person sees when a page can't be shown, and the two places that it leads to."""

from unittest.mock import patch

from django.db import OperationalError
from django.test import Client as Browser
from django.test import RequestFactory
from django.urls import reverse

from studio.ui.places import near
from tests.studio.made import StudioCase


class Halted(StudioCase):
    def links(self, answer) -> list[str]:
        """Where the two buttons at the foot of the page lead."""
        text = answer.content.decode().partition('class="near"')[2].partition("</p>")[0]
        return [piece.partition('"')[0] for piece in text.split('href="')[1:]]

    def test_what_is_not_there_leads_to_the_places_that_are_nearest(self) -> None:
        shelf, cards, chairs, learned = (
            reverse(name) for name in ("shelf:shelf", "cards:list", "chairs:chairs", "learning:learned")
        )
        for address, places in (
            ("/shelf/tubes/999999/", [shelf, cards]),
            ("/visits/999999/bench/", [chairs, cards]),
            ("/learned/nowhere/", [learned, cards]),
            ("/clients/999999/", [cards, chairs]),
            ("/nowhere/", [cards, chairs]),
        ):
            with self.subTest(address=address):
                answer = self.client.get(address)
                self.assertContains(answer, "There is nothing here", status_code=404)
                self.assertEqual(self.links(answer), places)

    def test_what_no_page_can_take_is_refused_with_a_way_on(self) -> None:
        answer = self.client.get(reverse("cards:list"), {"q": "a\0b"})
        self.assertContains(answer, "That was not done", status_code=400)
        self.assertEqual(self.links(answer), [reverse("cards:list"), reverse("chairs:chairs")])

    def test_a_form_of_another_sign_in_says_so_and_leads_back_to_its_bench(self) -> None:
        browser = Browser(enforce_csrf_checks=True)
        browser.force_login(self.person)
        answer = browser.post(reverse("bench:pour", args=[self.visit.pk]), {"grams": "1"})
        self.assertContains(answer, "opened before you signed in anew", status_code=403)
        self.assertEqual(self.links(answer), [reverse("bench:bench", args=[self.visit.pk]), reverse("chairs:chairs")])

    def test_while_the_records_rest_the_page_needs_none_of_them(self) -> None:
        browser = Browser(raise_request_exception=False)
        browser.force_login(self.person)
        with patch("studio.shelf.views.shelf_page", side_effect=OperationalError("away")):
            answer = browser.get(reverse("shelf:shelf"))
        self.assertContains(answer, "be reached for a moment", status_code=503)
        self.assertEqual(self.links(answer), [reverse("shelf:shelf"), reverse("cards:list")])
        with patch("studio.shelf.views.shelf_page", side_effect=RuntimeError("ours")):
            answer = browser.get(reverse("shelf:shelf"))
        self.assertContains(answer, "Something broke on our side", status_code=500)

    def test_an_address_that_no_page_has_has_two_places_near_all_the_same(self) -> None:
        request = RequestFactory().get("/visits/12/nowhere/")
        request.resolver_match = None
        self.assertEqual([words for words, _ in near(request, visit_stands=True)], ["Chairs", "Cards"])
