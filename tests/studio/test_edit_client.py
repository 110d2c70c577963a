"""What is noted of a client is set right, and two hands don't overwrite one another."""

from django.urls import reverse

from studio.clients.models import Client
from tests.studio.made import StudioCase, make_person, make_visit


class EditClient(StudioCase):
    def setUp(self) -> None:
        super().setUp()
        self.one = self.visit.client
        self.one.about, self.one.notes = "oboe", "ticklish ears\nlikes tea"
        self.one.save()
        self.at = reverse("clients:edit", args=[self.one.pk])

    def change(self, at: str = "", **fields: str):
        now = {"name": self.one.name, "about": self.one.about, "notes": self.one.notes}
        seen = {f"seen-{name}": value.replace("\n", "\r\n") for name, value in now.items()}  # as browsers send it
        return self.client.post(at or self.at, {**now, **seen, **fields})

    def test_it_is_kept_and_the_card_says_so(self) -> None:
        self.assertContains(self.client.get(reverse("cards:card", args=[self.one.pk])), self.at)
        self.assertContains(self.client.get(self.at), "ticklish ears")
        answer = self.change(name="Nell  Ashdown", about="first oboe")
        self.assertRedirects(answer, reverse("cards:card", args=[self.one.pk]))
        self.one.refresh_from_db()
        self.assertEqual((self.one.name, self.one.about), ("Nell Ashdown", "first oboe"))

    def test_what_another_hand_changed_meanwhile_is_told_and_what_was_typed_stays(self) -> None:
        Client.objects.filter(pk=self.one.pk).update(notes="no tea any more")
        answer = self.change(about="first oboe")
        self.assertContains(answer, "changed in another window", status_code=422)
        self.assertContains(answer, "is by now: no tea any more", status_code=422)
        self.assertContains(answer, 'value="first oboe"', status_code=422)
        self.assertContains(answer, "likes tea</textarea>", status_code=422)
        self.assertEqual(Client.objects.get(pk=self.one.pk).about, "oboe")
        again = self.change(about="first oboe", **{"seen-notes": "no tea any more", "notes": "no tea any more"})
        self.assertEqual(again.status_code, 302)

    def test_a_name_that_is_taken_or_empty_is_refused_and_what_was_typed_stays(self) -> None:
        make_visit(self.person, "Pim Sallow")
        for name, told in (("Pim Sallow", "already"), ("", "Type a name"), ("x" * 81, "80")):
            answer = self.change(name=name, about="first oboe")
            self.assertContains(answer, told, status_code=422)
            self.assertContains(answer, "first oboe", status_code=422)
        self.assertEqual(Client.objects.get(pk=self.one.pk).about, "oboe")

    def test_another_studios_client_is_not_there(self) -> None:
        stranger = make_visit(make_person("Salt Row", "salt"), "Nell").client
        at = reverse("clients:edit", args=[stranger.pk])
        self.assertEqual(self.client.get(at).status_code, 404)
        self.assertEqual(self.change(at).status_code, 404)
