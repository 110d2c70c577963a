"""A new password: what is refused, who is signed out by it, and how often one may guess."""

from django.test import Client as Browser
from django.urls import reverse

from tests.studio.made import StudioCase, make_person

OLD, NEW = "brass-on-the-quay", "lanterns over low water"


class Password(StudioCase):
    def setUp(self) -> None:
        super().setUp()
        self.person.set_password(OLD)
        self.person.save()
        self.client.force_login(self.person)

    def change(self, old: str = OLD, new: str = NEW, again: str = ""):
        fields = {"old_password": old, "new_password1": new, "new_password2": again or new}
        return self.client.post(reverse("password"), {**fields, "username": self.person.username})

    def is_password(self, text: str) -> bool:
        self.person.refresh_from_db()
        return self.person.check_password(text)

    def test_it_is_changed_here_and_every_other_session_ends(self) -> None:
        elsewhere = Browser()
        elsewhere.force_login(self.person)
        self.assertRedirects(self.change(), reverse("chairs:chairs"))
        self.assertTrue(self.is_password(NEW))
        self.assertContains(self.client.get(reverse("chairs:chairs")), "Chairs")
        self.assertEqual(elsewhere.get(reverse("chairs:chairs")).status_code, 302)

    def test_what_is_wrong_is_told_beside_its_field_and_nothing_changes(self) -> None:
        for given, told in (
            ({"old": "a guess that is wrong"}, "not your password"),
            ({"new": "short"}, "at least 10 characters"),
            ({"new": "1234567890"}, "too common"),
            ({"new": "8402758194"}, "entirely numeric"),
            ({"again": "lanterns over high water"}, "match"),
        ):
            with self.subTest(given=given):
                answer = self.change(**given)
                self.assertContains(answer, told, status_code=422)
                self.assertTrue(self.is_password(OLD))

    def test_guesses_are_as_few_as_at_the_door(self) -> None:
        codes = [self.change(old=f"guess number {count}").status_code for count in range(12)]
        self.assertIn(429, codes)
        self.assertTrue(self.is_password(OLD))
        self.assertEqual(self.change().status_code, 429)

    def test_only_ones_own(self) -> None:
        stranger = make_person("Salt Row", "salt")
        stranger.set_password(OLD)
        stranger.save()
        self.client.post(
            reverse("password"),
            {"old_password": OLD, "new_password1": NEW, "new_password2": NEW, "username": stranger.username},
        )
        stranger.refresh_from_db()
        self.assertTrue(stranger.check_password(OLD))
        self.assertTrue(self.is_password(NEW))
