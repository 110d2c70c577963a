"""The house's schools on its own page, and where they are followed."""

from django.urls import reverse

from studio.visits.gates import asked_of
from studio.visits.models import Consult
from tests.studio.made import StudioCase, make_visit
from tests.studio.test_gates import HOUSE


class Schools(StudioCase):
    def setUp(self) -> None:
        super().setUp()
        self.person.licensed = True
        self.person.save()

    def keep(self, **rules: str) -> None:
        self.assertRedirects(self.client.post(reverse("shelf:house"), HOUSE | rules), reverse("shelf:house"))
        self.person.studio.refresh_from_db()

    def test_the_page_says_and_shows_what_each_choice_does(self) -> None:
        page = self.client.get(reverse("shelf:house"))
        for words in ("Yellow-gold ✓:", "level 8 is read as mostly orange", "3 visits in all", "filled first, to this"):
            self.assertContains(page, words)
        self.keep(fill_from="more_than_two")
        self.assertContains(self.client.get(reverse("shelf:house")), "More than 2 levels ✓:")
        refused = self.client.post(reverse("shelf:house"), HOUSE | {"fill_from": "never"})
        self.assertEqual(refused.status_code, 422)

    def test_lightener_lies_as_the_house_has_it_until_somebody_asks(self) -> None:
        self.keep(lay="open")
        visit = make_visit(self.person, "Oriel Tansy")
        self.assertEqual(asked_of(self.person, visit).consult.lay, "open")
        consult = reverse("visits:consult", args=[visit.pk])
        self.client.post(consult, {"wish": "bright", "version": 0})
        self.assertEqual(Consult.objects.get(visit=visit).lay, "open")
        self.assertContains(self.client.get(consult), "Lightener lies")
        self.assertEqual(asked_of(self.person, self.visit).consult.lay, "open")  # nobody has asked there either
