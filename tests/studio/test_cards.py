"""The logbook: keeping, finding and repeating formulas; clients; other people's rows."""

import datetime
from decimal import Decimal
from unittest.mock import patch

from django.urls import reverse
from django.utils import timezone

from studio.cards.models import Formula
from studio.cards.services.repeat_formula import repeat_formula
from studio.clients.models import Client
from studio.head.models import Bowl
from studio.visits.models import Visit
from tests.studio.made import TODAY, StudioCase, make_person, make_visit


class Keeping(StudioCase):
    def save(self, **fields: object):
        fields.setdefault("version", self.bowl.version)
        return self.client.post(reverse("bench:save", args=[self.visit.pk]), fields)

    def test_a_formula_holds_hair_aim_grams_and_forecast(self) -> None:
        self.send("aim", lightness="60", chroma="25", hue="0")
        self.send("pour", shade=self.shade("Orchil").pk, grams="3")
        self.send("pour", shade=self.shade("Clear").pk, grams="57")
        self.assertRedirects(self.save(note="first try"), reverse("cards:card", args=[self.visit.client_id]))
        formula = Formula.objects.get()
        self.assertEqual(formula.level, Decimal(10))
        self.assertEqual(formula.target_a, Decimal(25))
        self.assertEqual(
            dict(formula.pours.values_list("shade_name", "grams")), {"Orchil": Decimal(3), "Clear": Decimal(57)}
        )
        self.assertGreater(formula.delta_e00, 0)
        self.assertEqual(formula.note, "first try")

    def test_the_card_tells_what_lay_on_the_hair_and_nothing_where_nothing_is_known(self) -> None:
        self.send("pour", shade=self.shade("Orchil").pk, grams="3")
        self.save()
        page = reverse("cards:card", args=[self.visit.client_id])
        plain = self.client.get(page).content.decode()
        self.assertNotIn("still on it", plain)
        self.assertNotRegex(plain, r"·\s*</p>", "a dot with nothing behind it")
        Formula.objects.update(old_shade="orange", old_k_s="0.3", cost=0, mixed_at=timezone.now())
        told = self.client.get(page).content.decode()
        self.assertIn("orange still on it", told)
        self.assertRegex(told, r"Mixed at \d\d:\d\d</p>")

    def test_an_empty_bowl_is_not_kept(self) -> None:
        self.assertContains(self.save(), "The bowl is empty", status_code=422)
        self.assertFalse(Formula.objects.exists())

    def test_a_bowl_that_changed_since_it_was_seen_is_not_kept(self) -> None:
        self.send("pour", shade=self.shade("Orchil").pk, grams="3")
        self.assertContains(self.save(version=0), "changed in another window", status_code=409)

    def test_tomorrow_the_same_card_is_repeated_on_tomorrows_hair(self) -> None:
        self.send("aim", lightness="60", chroma="25", hue="0")
        self.send("pour", shade=self.shade("Orchil").pk, grams="3")
        self.save()
        tomorrow = TODAY + datetime.timedelta(days=1)
        with patch("studio.cards.views.timezone.localdate", return_value=tomorrow):
            answer = self.client.post(reverse("cards:repeat", args=[Formula.objects.get().pk]), follow=True)
        visit = Visit.objects.get(day=tomorrow)
        self.assertContains(answer, "3.0 g")
        bowl = Bowl.objects.get(coats__zone__visit=visit)
        self.assertEqual(bowl.target_a, Decimal(25))
        self.assertEqual(visit.zones.get().readings.get().level, Decimal(10))

    def test_repeating_keeps_hair_that_was_read_that_day_and_is_one_undo_away(self) -> None:
        self.send("pour", shade=self.shade("Orchil").pk, grams="3")
        self.save()
        later = make_visit(self.person, day=TODAY + datetime.timedelta(days=30))
        self.client.post(
            reverse("visits:read", args=[later.pk]),
            {"after": 1, "level": "8", "warmth": "1", "lean": "0", "porosity": "1", "grey": "0"},
        )
        repeat_formula(self.person, formula_id=Formula.objects.get().pk, day=later.day)
        self.assertEqual(later.zones.get().readings.first().level, Decimal(8))
        bowl = Bowl.objects.get(coats__zone__visit=later)
        self.assertEqual(bowl.pours.get().grams, Decimal(3))
        self.client.post(reverse("bench:walk", args=[later.pk]), {"version": bowl.version, "way": "undo"})
        self.assertFalse(bowl.pours.exists())


class Finding(StudioCase):
    def found(self, words: str) -> list[str]:
        answer = self.client.get(reverse("cards:list"), {"q": words}, headers={"HX-Request": "true"})
        return [line.client.name for line in answer.context["found"]]

    def test_cards_are_found_by_client_instrument_and_shade(self) -> None:
        make_visit(self.person, "Quill Arden")
        self.send("pour", shade=self.shade("Orchil").pk, grams="3")
        self.client.post(reverse("bench:save", args=[self.visit.pk]), {"version": self.bowl.version})
        self.assertEqual(self.found(""), ["Pim Harrow", "Quill Arden"])
        self.assertEqual(self.found("quill"), ["Quill Arden"])
        self.assertEqual(self.found("ORCHIL"), ["Pim Harrow"])
        self.assertEqual(self.found("cymbals pim"), ["Pim Harrow"])
        self.assertEqual(self.found("nobody"), [])

    def test_the_list_costs_the_same_queries_for_one_card_and_for_many(self) -> None:
        for number in range(12):
            make_visit(self.person, f"Drummer {number}")
        with self.assertNumQueries(4):  # session, person with the studio, formulas, clients without one
            self.client.get(reverse("cards:list"))


class NewClients(StudioCase):
    def test_a_client_is_added_and_the_card_opens(self) -> None:
        answer = self.client.post(reverse("clients:new"), {"name": "Sable Ruane", "about": "tuba"}, follow=True)
        self.assertContains(answer, "Nothing has been kept yet")
        self.assertEqual(Client.objects.get(name="Sable Ruane").studio, self.person.studio)

    def test_no_name_or_a_taken_one_is_told_beside_the_field_with_the_rest_kept(self) -> None:
        for name, words in (("", "Type a name"), ("Pim Harrow", "a client of that name already")):
            answer = self.client.post(reverse("clients:new"), {"name": name, "about": "second triangle"})
            self.assertContains(answer, words, status_code=422)
            self.assertContains(answer, "second triangle", status_code=422)


OF_A_VISIT = (
    "route:plan",
    "route:heads",
    "pour:pour",
    "clocks:clock",
    "result:result",
    "result:fixes",
    "result:photo",
    "result:care",
    "result:handout",
    "result:correct",
    "result:spots",
    "route:lines",
    "formats:handout",
    "formats:labels",
    "formats:next-colourist",
    "formats:calendar",
)
TO_A_VISIT = (
    "route:begin",
    "route:step",
    "route:hands",
    "route:agree",
    "route:aim-there",
    "route:bowl",
    "bench:coats",
    "pour:weigh",
    "pour:line",
    "pour:keep",
    "pour:mix",
    "clocks:start",
    "clocks:act",
    "result:judge",
    "result:photo",
    "result:tweak",
    "result:keep",
    "result:care",
    "result:aim-at",
    "result:integrity",
    "result:spots",
    "result:leftover",
    "route:line",
)


class Strangers(StudioCase):
    """Rows of another studio don't exist for this one: 404 on every address, and nothing changes."""

    def test_every_address_of_another_studios_work_is_not_found(self) -> None:
        stranger = make_person("Tannery Steps", "tannery")
        visit = make_visit(stranger, "Their Client")
        formula = Formula.objects.create(
            client=visit.client,
            visit=visit,
            zone_name="whole head",
            line=Bowl.objects.get(coats__zone__visit=visit).line,
            wanted_g=60,
            level=10,
            forecast_l=60,
            forecast_a=0,
            forecast_b=0,
            saved_by=stranger,
            saved_at="2026-11-24T10:00Z",
        )
        shown = [
            reverse("cards:card", args=[visit.client_id]),
            reverse("visits:read", args=[visit.pk]),
            reverse("bench:bench", args=[visit.pk]),
            reverse("bench:photo", args=[visit.pk]),
            reverse("bench:needs", args=[visit.pk]),
            reverse("bench:fixes", args=[visit.pk]),
            reverse("cards:aims", args=[visit.pk]),
            reverse("cards:again", args=[formula.pk]),
            reverse("formats:formula", args=[formula.pk]),
            *(reverse(name, args=[visit.pk]) for name in OF_A_VISIT),
        ]
        changed = [
            reverse("visits:start", args=[visit.client_id]),
            reverse("visits:read", args=[visit.pk]),
            reverse("bench:save", args=[visit.pk]),
            reverse("cards:repeat", args=[formula.pk]),
            *(
                reverse(f"bench:{name}", args=[visit.pk])
                for name in ("pour", "aim", "wanted", "take", "add", "mix", "line", "walk", "zones", "send-photo")
            ),
            *(reverse(name, args=[visit.pk]) for name in TO_A_VISIT),
        ]
        for address in shown:
            with self.subTest(get=address):
                self.assertContains(self.client.get(address), "There is nothing here", status_code=404)
        for address in changed:
            with self.subTest(post=address):
                self.assertEqual(self.client.post(address, {"version": 0}).status_code, 404)
        self.assertNotContains(self.client.get(reverse("cards:list")), "Their Client")
        self.assertEqual(Bowl.objects.get(coats__zone__visit=visit).version, 0)

    def test_another_studios_line_can_not_be_chosen(self) -> None:
        stranger = make_person("Tannery Steps", "tannery")
        self.assertEqual(self.send("line", line=stranger.studio.lines.first().pk).status_code, 404)
