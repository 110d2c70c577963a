"""Reading the hair through its page."""

from decimal import Decimal

from django.urls import reverse

from studio.cards.services.save_formula import save_formula
from studio.formats.card_json import card_document
from studio.shelf.models import Shade
from studio.visits.engine_adapter import canvas_of
from studio.visits.models import Reading
from tests.studio.made import StudioCase, make_person


class ReadingHair(StudioCase):
    def read(self, htmx: bool = True, **fields: object):
        form = {"after": 1, "level": "10", "warmth": "0", "lean": "0", "porosity": "1", "grey": "0", **fields}
        headers = {"HX-Request": "true"} if htmx else {}
        return self.client.post(reverse("visits:read", args=[self.visit.pk]), form, headers=headers)

    @property
    def reading(self) -> Reading:
        return Reading.objects.filter(zone__visit=self.visit).first()

    def test_a_reading_is_kept_and_the_bench_forecasts_on_it(self) -> None:
        self.assertEqual(self.read(level="8.5", warmth="1", porosity="1.3").status_code, 200)
        self.assertEqual(self.reading.level, Decimal("8.5"))
        self.assertContains(self.client.get(self.on_bench("bench")), "level 8.5")

    def test_a_tapped_lock_counts_over_the_number_typed_before_it(self) -> None:
        self.read(level=["10", "7"])
        self.assertEqual(self.reading.level, Decimal(7))

    def test_numbers_out_of_range_are_refused_beside_their_field_and_kept(self) -> None:
        for field, wrong, words in (
            ("level", "12", "Level: 1 to 11"),
            ("level", "0", "Level: 1 to 11"),
            ("level", "high", "Level needs a number"),
            ("warmth", "3", "Warmth: -2 to 2"),
            ("lean", "-1", "Lean: 0 to 10"),
            ("porosity", "9", "Porosity: 0.5 to 1.6"),
            ("grey", "40", "Grey share: 0 to 1"),
        ):
            with self.subTest(field=field, wrong=wrong):
                answer = self.read(**{field: wrong})
                self.assertContains(answer, words, status_code=422)
                self.assertContains(answer, f'value="{wrong}"', status_code=422)
                self.assertEqual(self.reading.number, 1)

    def test_two_windows_the_second_is_told_what_it_did_not_save(self) -> None:
        self.read(level="9")
        answer = self.read(level="8", after=1)
        self.assertContains(answer, "read again in another window", status_code=422)
        self.assertContains(answer, "level 8", status_code=422)
        self.assertEqual(self.reading.level, Decimal(9))

    def test_a_reading_can_be_taken_back_down_to_the_first(self) -> None:
        self.read(level="9")
        self.read(take_back="1")
        self.assertEqual(self.reading.level, Decimal(10))
        self.assertContains(self.read(take_back="1"), "nothing left to undo", status_code=422)

    def test_the_same_numbers_again_make_no_new_reading(self) -> None:
        self.read()
        self.assertEqual(self.reading.number, 1)

    def test_the_studios_school_draws_the_ladder_and_a_tap_takes_its_undertone(self) -> None:
        chosen = self.client.post(reverse("visits:school", args=[self.visit.pk]), {"school": "orange_at_8"})
        self.assertEqual(chosen.status_code, 302)
        page = self.client.get(reverse("visits:read", args=[self.visit.pk]))
        self.assertContains(page, "Level 8, mostly orange")
        self.assertEqual([rung.number for rung in page.context["page"].levels if rung.chosen], ["10"])
        self.read(rung="8")
        self.assertEqual((self.reading.level, self.reading.lean), (8, 2))
        self.read(level="8", lean="1", after=2)
        self.assertEqual(self.reading.lean, 1)

    def test_every_lock_of_the_ladder_shows_what_the_school_shows_there(self) -> None:
        """Hair that was read by one school doesn't bend the other's locks: level 8 is orange wherever it stands now."""
        page = reverse("visits:read", args=[self.visit.pk])
        self.read(rung="8")
        gold = self.client.get(page).context["page"].levels[7].lock
        self.client.post(reverse("visits:school", args=[self.visit.pk]), {"school": "orange_at_8"})
        orange = self.client.get(page).context["page"].levels[7].lock
        self.assertGreater(gold.hue_deg, orange.hue_deg + 8)
        self.read(rung="8", after=2)
        self.assertAlmostEqual(self.client.get(page).context["page"].now.hue_deg, orange.hue_deg)

    def test_grey_and_yellowed_grey_are_read_as_kinds_of_hair(self) -> None:
        read = reverse("visits:read", args=[self.visit.pk])
        self.client.post(read, {"after": 1, "family": "yellowed"})
        kept = self.reading
        self.assertEqual((kept.family, kept.grey, kept.yellowing), ("natural", Decimal("0.5"), Decimal("0.5")))
        yellow = self.client.get(read)
        self.assertContains(yellow, "Its yellow")
        self.assertEqual([words for _, words, chosen in yellow.context["page"].kinds if chosen], ["yellowed grey"])
        self.client.post(read, {"after": 2, "grey": "0.7"})
        self.client.post(read, {"after": 3, "family": "grey"})
        self.assertEqual((self.reading.grey, self.reading.yellowing), (Decimal("0.7"), 0))
        self.assertGreater(yellow.context["page"].now.chroma, self.client.get(read).context["page"].now.chroma + 3)
        self.client.post(read, {"after": 4, "yellowing": "0.4"})
        self.client.post(read, {"after": 5, "family": "lightened"})
        self.assertEqual(self.reading.yellowing, 0)  # lightener has taken it
        self.client.post(read, {"after": 6, "family": "natural"})
        self.assertEqual((self.reading.family, self.reading.grey), ("natural", 0))
        self.assertContains(
            self.client.post(read, {"after": 7, "family": "horse"}), "Choose what kind of hair", status_code=422
        )
        self.assertContains(
            self.client.post(read, {"after": 7, "yellowing": "2"}), "Yellowing: 0 to 1", status_code=422
        )

    def test_an_old_colour_is_one_of_the_studios_own_shades(self) -> None:
        """It is forecast on, said by its name, and goes out in a file by its line and name, not by a row's number."""
        read = reverse("visits:read", args=[self.visit.pk])
        madder = self.shade("Madder")
        self.send("pour", shade=self.shade("Orchil").pk, grams="6")
        self.client.post(read, {"after": 1, "old_shade": str(madder.pk)})
        page = self.client.get(read)
        self.assertContains(page, "old Madder")
        self.assertContains(page, f'<optgroup label="{madder.line.name}">')
        self.assertEqual(self.reading.old_name, "Madder")
        self.assertEqual(canvas_of(self.reading).old[0].k_s, 0.3)
        save_formula(self.person, visit_id=self.visit.pk, version=self.bowl.version)
        hair = card_document(self.person, self.visit.client_id)["formulas"][0]["hair"]
        self.assertEqual((hair["old_shade"], hair["old_k_s"]), ("", 0.0))
        self.assertEqual(hair["laid"], [{"line": madder.line.name, "shade": "Madder", "k_s": 0.3}])
        strange = Shade.objects.visible_to(make_person("Ballast Quay", "ballast")).first()
        answer = self.client.post(read, {"after": 2, "old_shade": str(strange.pk)})
        self.assertContains(answer, "Choose an old colour from the list", status_code=422)

    def test_what_is_not_sent_stays_as_it_was_read(self) -> None:
        """A tap that was made before the last one was answered takes nothing back of it."""
        read = reverse("visits:read", args=[self.visit.pk])
        self.client.post(read, {"after": 1, "rung": "8"})
        self.client.post(read, {"after": 2, "family": "natural"})
        self.client.post(read, {"after": 3, "old_shade": "red"})
        self.assertEqual((self.reading.level, self.reading.family), (8, "natural"))
        self.assertEqual(
            (self.reading.old_shade, self.reading.old_k_s), ("red", Decimal("0.3")), "some of it, till said"
        )
        self.client.post(read, {"after": 4, "old_k_s": "0.8"})
        self.assertEqual((self.reading.old_shade, self.reading.old_k_s), ("red", Decimal("0.8")))

    def test_an_unknown_school_is_refused_and_the_other_studios_keep_theirs(self) -> None:
        stranger = make_person("Salt Row", "salt")
        answer = self.client.post(reverse("visits:school", args=[self.visit.pk]), {"school": "beauty"})
        self.assertContains(answer, "one of the schools", status_code=422)
        self.client.post(reverse("visits:school", args=[self.visit.pk]), {"school": "orange_at_8"})
        stranger.studio.refresh_from_db()
        self.assertEqual(stranger.studio.school, "yellow_gold_at_8")

    def test_starting_a_visit_twice_makes_one(self) -> None:
        address = reverse("visits:start", args=[self.visit.client_id])
        first, second = self.client.post(address), self.client.post(address)
        self.assertEqual(first.url, second.url)

    def test_a_bench_before_a_reading_leads_to_read(self) -> None:
        self.client.post(reverse("visits:start", args=[self.visit.client_id]))
        visit = self.visit.client.visits.first()
        visit.zones.get().readings.all().delete()
        answer = self.client.get(reverse("bench:bench", args=[visit.pk]))
        self.assertRedirects(answer, f"{reverse('visits:read', args=[visit.pk])}?zone={visit.zones.get().pk}")
