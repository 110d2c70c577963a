"""Two colleagues who read two languages at one head: what one keeps, the other finds as it was meant."""

import datetime
from decimal import Decimal
from types import SimpleNamespace

from django.urls import reverse
from django.utils import timezone

from engine.dye.guess import carrier_in, tones_in
from studio.accounts.models import Person
from studio.clocks.services.note import take_rinse_back
from studio.clocks.services.run import rinse
from studio.route.models import Agreement
from studio.shelf.list_in import read_letters
from studio.shelf.models import Shade
from studio.shelf.tube_page import _works_words
from studio.ui.speaking import speaking
from tests.studio.made import StudioCase, clear_skin, put_on_hair


class TwoLanguages(StudioCase):
    @classmethod
    def setUpTestData(cls) -> None:
        super().setUpTestData()
        studio = cls.person.studio
        cls.german = Person.objects.create_user(username="tau", password="salz und tau", studio=studio, language="de")

    def agreed(self, person: Person):
        self.client.force_login(person)
        return self.client.get(reverse("route:plan", args=[self.visit.pk]))

    def test_what_was_agreed_in_one_language_is_not_changed_by_reading_it_in_another(self) -> None:
        for first, other in ((self.person, self.german), (self.german, self.person)):
            self.client.force_login(first)
            sent = {"version": self.bowl.version, "seen": self.bowl.version, "price": "85"}
            zone = self.visit.zones.get().pk
            self.client.post(reverse("route:agree", args=[self.visit.pk]), sent | {"zone": zone})
            self.assertEqual(Agreement.objects.first().work, ["whole head: colour"])
            for reader in (first, other):
                self.assertFalse(self.agreed(reader).context["page"].agreed.is_stale)
        self.assertContains(self.agreed(self.german), "ganzer Kopf: Farbe")
        self.assertContains(self.agreed(self.person), "whole head: colour")

    def test_a_lift_that_is_on_still_after_all_is_no_history_in_german_either(self) -> None:
        now = timezone.now()
        zone = self.visit.zones.get()
        clear_skin(self.person, self.visit.client_id, now=now)
        lift = {"kind": "lightener", "to_level": Decimal("10.5"), "vol": Decimal(20)}
        with speaking("de"):
            clock = put_on_hair(self.person, zone_id=zone.pk, now=now - datetime.timedelta(minutes=20), **lift)
            rinse(self.person, clock_id=clock.pk, now=now)
            self.assertEqual(self.visit.client.past.get().note, "timed here, to level 10.5")
            take_rinse_back(self.person, clock_id=clock.pk)
        self.assertFalse(self.visit.client.past.exists())

    def test_a_tube_that_works_as_its_line_says_is_said_to(self) -> None:
        told = SimpleNamespace(name="7", factor=1.001, doubt=0.1, shift_nm=0.0)
        taught = SimpleNamespace(told_of_shades=(told,), forgotten=())
        with speaking("de"):
            words = _works_words(SimpleNamespace(taught=taught), SimpleNamespace(pk=7))
        self.assertTrue(words.startswith("so stark wie ihre Serie sagt"), words)


class Tones(StudioCase):
    """A price list in German tells its tones in German, in one word if it likes."""

    def test_tones_are_known_in_either_language(self) -> None:
        with speaking("de"):
            for text, tones in (
                ("Kupferrot", ("red", "copper")),
                ("7.43 Kupfer-Gold", ("gold", "copper")),
                ("Goldblond", ("gold",)),
                ("Türkis", ("turquoise",)),
                ("rose gold", ("gold", "rose")),
                ("Nebel", ()),
            ):
                with self.subTest(text=text):
                    self.assertEqual(tones_in(text), tones)
            self.assertEqual(read_letters("1 Asch, 3 = Gold; 44 copper"), {"1": "ash", "3": "gold", "44": "copper"})
            self.assertEqual(carrier_in("Klar matt"), 1.0)
        self.assertEqual(tones_in("Kupferrot"), ())  # nothing that an English house says

    def test_a_pasted_list_is_read_and_found_in_german(self) -> None:
        self.client.post(reverse("you-act"), {"way": "language", "language": "de"})
        form = {
            "line_name": "Zunder",
            "kind": "direct",
            "tube_g": "60",
            "tubes": "Abendglut;A1;;Kupferrot\nNebel;N;;Klar",
        }
        read = self.client.post(reverse("shelf:add"), form)
        self.assertContains(read, "Rot, Kupfer")
        self.client.post(reverse("shelf:add"), form | {"take": "1"})
        held = Shade.objects.get(name="Abendglut")
        self.assertEqual(held.tones, "red, copper")
        self.assertContains(self.client.get(reverse("shelf:shelf"), {"q": "kupfer"}), "Abendglut")
        self.assertContains(self.client.get(reverse("shelf:tube", args=[held.pk])), "Rot, Kupfer")
