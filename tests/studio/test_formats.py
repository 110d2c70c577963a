"""Files out and in: JSON by its schema, CSV line by line, PDF, calendar, palette, CGATS."""

import datetime
import hashlib
import json
import tomllib

import jsonschema
from django.db.models import F
from django.urls import reverse
from icalendar import Calendar
from reportlab.pdfbase.ttfonts import TTFont

from engine.colorimetry import cgats_in
from studio.cards.models import Formula
from studio.clients.models import Client
from studio.formats.card_json import card_schema
from studio.formats.paper import FONTS
from studio.shelf.models import Shade, ShadeLine
from tests.studio.made import make_person, make_visit
from tests.studio.made_files import FilesCase

GOOD = "Pim Ashlar,2026-11-01,Ropewalk direct,Orchil 3; Clear 57,10"
HEAD = "client,saved_at,line,pours,level"


class Out(FilesCase):
    def test_a_card_fits_its_schema(self) -> None:
        self.judged()
        jsonschema.Draft202012Validator.check_schema(card_schema())
        document = json.loads(self.get("card", self.visit.client_id, "json"))
        jsonschema.validate(document, card_schema())
        self.assertEqual(document["formulas"][0]["pours"][0], {"shade": "Orchil", "grams": 3.0})

    def test_one_formula_is_a_card_that_holds_it_alone(self) -> None:
        self.client.post(reverse("cards:save", args=[self.visit.pk]), {"version": self.bowl.version})
        document = json.loads(self.get("formula", self.formula.pk))
        jsonschema.validate(document, card_schema())
        self.assertEqual(len(document["formulas"]), 1)

    def test_another_studios_card_is_not_found(self) -> None:
        other = make_visit(make_person("Ballast Quay", "ballast"), "Anon Brill")
        for kind in ("json", "pdf", "gpl", "cgats"):
            answer = self.client.get(reverse("formats:card", args=[other.client_id, kind]))
            self.assertEqual(answer.status_code, 404)

    def test_the_logbook_is_a_line_a_formula_and_no_cell_is_a_formula_of_a_spreadsheet(self) -> None:
        Formula.objects.update(note="=cmd|'/c calc'!A0")
        text = self.get("logbook").decode()
        self.assertEqual(len(text.splitlines()), 2)
        self.assertIn("Orchil 3.0; Clear 57.0", text)
        self.assertIn(",'=cmd", text)

    def test_pdfs_are_pdfs(self) -> None:
        self.judged()
        for body in (self.get("card", self.visit.client_id, "pdf"), self.get("handout", self.visit.pk)):
            self.assertTrue(body.startswith(b"%PDF-"))
            self.assertGreater(len(body), 2000)

    def test_names_of_many_alphabets_have_their_letters_in_a_pdf(self) -> None:
        noted = tomllib.loads((FONTS / "provenance.toml").read_text(encoding="utf-8"))["sha256"]
        for name, digest in noted.items():
            self.assertEqual(hashlib.sha256((FONTS / name).read_bytes()).hexdigest(), digest)
            letters = TTFont("probe", FONTS / name).face.charToGlyph
            for letter in "Żółć Ångström Đặng Ελένη Жанна “–” ° €":
                self.assertIn(ord(letter), letters)
        Client.objects.filter(pk=self.visit.client_id).update(name="Żaneta <b>& Ελένη")
        self.assertTrue(self.get("card", self.visit.client_id, "pdf").startswith(b"%PDF-"))

    def test_the_next_visit_is_an_event_that_a_calendar_library_reads(self) -> None:
        self.assertRedirects(
            self.client.get(reverse("formats:calendar", args=[self.visit.pk])),
            reverse("result:care", args=[self.visit.pk]),
        )
        self.judged()
        event = Calendar.from_ical(self.get("calendar", self.visit.pk)).walk("VEVENT")[0]
        self.assertEqual(event["dtstart"].dt, self.visit.day + datetime.timedelta(days=30))
        self.assertIn("Pim Harrow", event["summary"])

    def test_a_palette_has_a_line_a_colour(self) -> None:
        # Source: [GPL], from memory: a first line, keywords, then red, green, blue and a name.
        self.judged()
        lines = self.get("card", self.visit.client_id, "gpl").decode().splitlines()
        self.assertEqual(lines[0], "GIMP Palette")
        colours = [line for line in lines if line[:1] in " 0123456789"]
        self.assertEqual(len(colours), 2)
        self.assertTrue(all(0 <= int(part) <= 255 for part in colours[0].split("\t")[0].split()))

    def test_forecasts_and_results_go_out_as_they_were_saved_and_marked(self) -> None:
        self.judged()
        samples = cgats_in.read(self.get("card", self.visit.client_id, "cgats").decode())
        names = [f"{self.visit.day} whole head, forecast as saved", f"{self.visit.day} whole head, turned out, by eye"]
        self.assertEqual({sample.name for sample in samples}, set(names))
        Shade.objects.filter(name="Orchil").update(strength=25)  # another tube since: the card says what it said
        ShadeLine.objects.update(version=F("version") + 1)
        forecast, result = cgats_in.read(self.get("card", self.visit.client_id, "cgats").decode())
        saved = [float(part) for part in (self.formula.forecast_l, self.formula.forecast_a, self.formula.forecast_b)]
        for sample in (forecast, result):
            self.assertIsNone(sample.reflectance)
            for given, kept in zip(sample.lab, saved, strict=True):
                self.assertAlmostEqual(given, kept, places=3)

    def test_spectra_come_back_as_they_went(self) -> None:
        samples = cgats_in.read(self.get("card", self.visit.client_id, "cgats").decode())
        self.assertEqual(len(samples), 1)
        forecast = [self.formula.forecast_l, self.formula.forecast_a, self.formula.forecast_b]
        for given, kept in zip(samples[0].lab, forecast, strict=True):
            self.assertAlmostEqual(given, float(kept), delta=2e-3)
        self.assertEqual(samples[0].reflectance.shape, (81,))
