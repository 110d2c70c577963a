"""Guessing first: nothing tells of a forecast that is covered, a guess is held against it, and who reads best."""

import re
from decimal import Decimal

import numpy as np
from django.db import IntegrityError, transaction
from django.http import HttpResponse
from django.urls import reverse
from django.utils import timezone

from engine.practice.guessing import BEST_FROM
from studio.accounts.models import Person
from studio.cards.services.judge import judge_zone
from studio.guesses.models import Guess
from studio.guesses.services.guess import show_forecast, write_down
from studio.head.models import Worktop
from studio.head.services.pour import pour
from studio.practice.guesses import guesses_page
from studio.visits.models import Zone
from tests.studio.made import StudioCase, make_person, make_visit

EXPECTED = {"lightness": "70", "chroma": "30", "hue": "350"}


class GuessCase(StudioCase):
    def setUp(self) -> None:
        super().setUp()
        self.zone = self.visit.zones.get()

    def pour(self, grams: str = "4.3", **fields: object) -> HttpResponse:
        """A shade in clear, so that it looks like none of the shelf."""
        self.send("pour", shade=self.shade("Clear").pk, grams="57.9")
        return self.send("pour", shade=self.shade("Orchil").pk, grams=grams, **fields)

    def see(self, mode: str = "", **more: str) -> HttpResponse:
        return self.client.get(self.on_bench("bench"), {"mode": mode, **more})

    def guess(self, **fields: object) -> HttpResponse:
        return self.send("guess", mode="guess", **EXPECTED | fields)

    def shown(self, person: Person, *, off: float, forecast: tuple[float, float, float], zone: Zone) -> Guess:
        """A guess that was so much lighter than the forecast it was held against."""
        weld, worktop = self.shade("Weld"), Worktop.objects.get(visit=zone.visit_id)
        pour(person, zone_id=zone.pk, version=worktop.version, shade_id=weld.pk, by=Decimal(1))
        worktop.refresh_from_db()
        lightness, chroma, hue = (Decimal(str(part)) for part in (forecast[0] + off, forecast[1], forecast[2]))
        at = {"zone_id": zone.pk, "version": worktop.version}
        write_down(person, **at, lightness=lightness, chroma=chroma, hue=hue, level=Decimal(10), nearest=True)
        a, b = (forecast[1] * part(np.radians(forecast[2])) for part in (np.cos, np.sin))
        return show_forecast(person, **at, forecast_lab=np.array([forecast[0], a, b]), now=timezone.now())


class Covered(GuessCase):
    def assert_covered(self, answer: HttpResponse, uncovered: HttpResponse) -> None:
        """Nothing of what the open page says of the forecast stands in an answer, wherever it is drawn."""
        said, html = uncovered.context["page"], answer.content.decode()
        self.assertNotIn("ΔE00", html)
        for told in (said.then.hex, *said.then.hexes, said.then.said, said.words, said.why, said.coats[-1].hex):
            self.assertTrue(told)
            self.assertFalse(told in html, told)  # a page is too long to be printed
        for place in ('id="wheel"', 'id="hit"', 'id="adjust"', "data-pending", "mark-way"):
            self.assertFalse(place in html, place)

    def test_page_part_and_pieces_tell_nothing_of_it(self) -> None:
        self.send("aim", lightness="60", chroma="25", hue="5")
        pieces = self.pour(mode="guess", shown="guess")
        opened = self.see("steer")
        part = self.client.get(
            self.on_bench("bench"), {"mode": "guess"}, headers={"HX-Request": "true", "HX-Target": "main"}
        )
        for answer in (pieces, self.see("guess"), part):
            self.assertContains(answer, "What will it give?")
            self.assert_covered(answer, opened)

    def test_no_panel_that_tells_opens_over_it(self) -> None:
        self.send("aim", lightness="60", chroma="25", hue="5")
        self.pour()
        opened = self.see("steer")
        for panel in ("answers", "adjust", "warmth", "heads", "pastels", "meanwhile", "instead", "photo"):
            self.assert_covered(self.see("guess", **{panel: "1"}), opened)
        for panel in ("zones", "coats"):
            page = self.see("guess", **{panel: "1"})
            self.assertContains(page, 'id="leave-panel"')
            self.assert_covered(page, opened)

    def test_further_zones_and_coats_tell_nothing_either(self) -> None:
        self.pour()
        self.send("zones", name="Ends", part="ends", way="add")
        self.send("coats", way="add", purpose="glaze")
        for zone in self.visit.zones.all():
            opened = self.see("steer", zone=str(zone.pk))
            said, html = opened.context["page"], self.see("guess", zone=str(zone.pk)).content.decode()
            told = {said.then.hex, *(tab.hex for tab in said.tabs)} - {said.now.hex}  # what is on already may be seen
            self.assertEqual(set(), {each for each in told if each in html})

    def test_lightener_has_no_forecast_to_guess(self) -> None:
        self.send("coats", way="add", purpose="lift", to_level="10")
        lift = self.zone.coats.get(purpose="lift")
        page = self.client.get(self.on_bench("bench"), {"mode": "guess", "coat_id": lift.pk})
        self.assertEqual(page.context["page"].mode, "lift")


class Guessing(GuessCase):
    def test_a_guess_is_kept_changed_and_then_held_against_the_forecast(self) -> None:
        self.pour()
        self.assertEqual(self.guess().context["page"].mode, "guess")
        page = self.guess(lightness="60", tapped="1")
        self.assertContains(page, "You expect: ")
        guess = Guess.objects.get()
        self.assertEqual((float(guess.expected_l), guess.shown_at, float(guess.level)), (60.0, None, 10.0))
        page = self.guess(show="1", lightness="65")
        said = page.context["page"]
        self.assertIn(said.mode, ("steer", "list"))
        guess.refresh_from_db()
        self.assertAlmostEqual(guess.expected_lab[0], 65)
        for kept, told in zip(guess.forecast_lab, said.then.lab.tolist(), strict=True):
            self.assertAlmostEqual(kept, told, delta=0.01)
        self.assertRegex(said.guessed_lately, r"You expected it .*: \d+\.\d off\.")
        self.assertContains(self.see(), said.guessed_lately)

    def test_it_is_told_until_the_bowl_is_another_one(self) -> None:
        self.pour()
        self.guess(show="1")
        self.pour("8")
        self.assertEqual(self.see().context["page"].guessed_lately, "")
        self.send("walk", way="undo")
        self.assertNotEqual(self.see().context["page"].guessed_lately, "")

    def test_without_script_one_comes_back_covered_and_then_open(self) -> None:
        self.pour()
        self.assertIn("mode=guess", self.send("guess", htmx=False, mode="guess", **EXPECTED).url)
        self.assertNotIn("mode", self.send("guess", htmx=False, mode="guess", show="1", **EXPECTED).url)

    def test_what_is_wrong_is_told_and_stays_in_its_field(self) -> None:
        self.pour()
        for fields, words in (
            ({"hue": "much"}, "Hue needs a number"),
            ({"lightness": "120"}, "Depth: 0 to 100 can be taken"),
            ({"chroma": "140"}, "No screen shows this colour"),
            ({"lightness": "", "chroma": "", "hue": ""}, "needs a number"),
            ({"lightness": "", "chroma": "", "hue": "", "show": "1"}, "Write down first"),
        ):
            with self.subTest(**fields):
                page = self.guess(**fields)
                self.assertEqual(page.status_code, 422)
                self.assertContains(page, words, status_code=422)
                self.assertEqual(page.context["page"].mode, "guess", "it is covered still")
                for given in filter(None, fields.values()):
                    self.assertContains(page, f'value="{given}"', status_code=422)
        self.assertFalse(Guess.objects.exists())

    def test_an_empty_bowl_has_nothing_to_be_shown(self) -> None:
        page = self.guess(show="1")
        self.assertContains(page, "pour a shade first", status_code=422)
        self.assertIsNone(Guess.objects.filter(shown_at__isnull=False).first())

    def test_a_bowl_that_another_tablet_changed_is_not_guessed(self) -> None:
        self.pour()
        seen = self.bowl.version
        self.pour("9")
        self.assertEqual(self.guess(version=seen, show="1").status_code, 409)
        self.assertFalse(Guess.objects.exists())

    def test_nobody_guesses_in_anothers_studio(self) -> None:
        self.client.force_login(make_person("Sail Loft", "sail"))
        self.assertEqual(self.guess(version=1).status_code, 404)
        self.assertFalse(Guess.objects.exists())

    def test_the_database_holds_one_open_guess_and_whole_forecasts(self) -> None:
        row = {"zone": self.zone, "person": self.person, "level": 9, "expected_l": 50, "expected_a": 1, "expected_b": 1}
        Guess.objects.create(**row)
        for wrong in ({}, {"shown_at": timezone.now()}, {"forecast_l": 5}, {"expected_l": 101}, {"level": 0}):
            with self.assertRaises(IntegrityError), transaction.atomic():
                Guess.objects.create(**row | wrong)


class WhoReadsBest(GuessCase):
    def test_the_result_tells_how_near_everybody_came(self) -> None:
        self.pour()
        self.guess(show="1")
        guess = Guess.objects.get()
        address = reverse("result:result", args=[self.visit.pk])
        self.assertNotContains(self.client.get(address), "expected it")
        self.judge(guess.expected_lab, guess.forecast_lab)
        self.assertContains(self.client.get(address), "expected it just so: 0.0 off.")

    def judge(self, lab: tuple[float, ...], forecast: tuple[float, ...]) -> None:
        labs = {"lab": np.array(lab), "forecast_lab": np.array(forecast)}
        judge_zone(self.person, zone_id=self.zone.pk, source="eye", dry=True, two_lights=False, **labs)

    def test_what_came_counts_only_of_the_forecast_that_was_guessed(self) -> None:
        self.shown(self.person, off=4, forecast=(60, 30, 350), zone=self.zone)
        guess = Guess.objects.get()
        self.judge((62, 20, 0), (40.0, 10.0, 5.0))
        self.assertEqual(len(guesses_page(self.person).own), 1)
        self.judged_anew(guess.forecast_lab)
        self.assertRegex(guesses_page(self.person).own[-1], r"^Of 1 that were judged you were \d+\.\d off what came")

    def judged_anew(self, forecast: tuple[float, ...]) -> None:
        """As if the forecast had been another one."""
        outcome = self.zone.outcome
        outcome.forecast_l, outcome.forecast_a, outcome.forecast_b = (Decimal(str(part)) for part in forecast)
        outcome.save()

    def test_people_stand_side_by_side_and_the_nearest_is_named(self) -> None:
        colleague = Person.objects.create_user(username="ada", first_name="Ada", studio=self.person.studio)
        visits = [make_visit(self.person, f"Kes Marl {number}") for number in range(BEST_FROM)]
        for visit in visits:
            for person, off in ((self.person, 6.0), (colleague, 2.0)):
                self.shown(person, off=off, forecast=(60, 30, 350), zone=visit.zones.get())
        page = self.client.get(reverse("practice:guesses"))
        said = page.context["page"]
        at = said.names.index("Ada")
        for _, rows in said.groups:
            self.assertEqual([cell.is_best for cell in rows[0].cells], [each == at for each in range(2)])
        self.assertContains(page, "nearest")
        self.assertContains(page, "You expect it lighter than it is forecast.")
        self.assertTrue(re.search(r"level 9 and over.*magenta", page.content.decode(), re.DOTALL))

    def test_a_forecast_that_was_seen_is_not_guessed_again(self) -> None:
        for off in (9.0, 0.0):
            self.shown(self.person, off=off, forecast=(60, 30, 350), zone=self.zone)
        self.shown(self.person, off=3.0, forecast=(40, 30, 350), zone=self.zone)
        cell = guesses_page(self.person).groups[0][1][0].cells[0]
        self.assertEqual(cell.count, 2)
        self.assertGreater(float(cell.off), 4.0)

    def test_nobody_else_sees_them_and_an_empty_page_says_so(self) -> None:
        self.shown(self.person, off=6, forecast=(60, 30, 350), zone=self.zone)
        self.client.force_login(make_person("Sail Loft", "sail"))
        self.assertContains(self.client.get(reverse("practice:guesses")), "Nobody has guessed yet")

    def test_the_page_asks_a_fixed_number_of_queries(self) -> None:
        for number in range(3):
            zone = make_visit(self.person, f"Kes Marl {number}").zones.get()
            self.shown(self.person, off=number, forecast=(60, 30, 350), zone=zone)
        with self.assertNumQueries(4):  # session, person; guesses, results
            self.client.get(reverse("practice:guesses"))

    def test_a_guess_goes_with_a_client_who_is_forgotten(self) -> None:
        self.shown(self.person, off=6, forecast=(60, 30, 350), zone=self.zone)
        self.assertTrue(Guess.objects.exists())
        self.client.post(reverse("formats:erase", args=[self.visit.client_id]), {"typed": self.visit.client.name})
        self.assertFalse(Guess.objects.exists())
