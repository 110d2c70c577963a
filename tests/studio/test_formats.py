"""Files out and in: JSON by its schema, CSV line by line, PDF, calendar, palette, CGATS."""

import datetime
import hashlib
import json
import tomllib
from decimal import Decimal

import jsonschema
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse
from icalendar import Calendar
from reportlab.pdfbase.ttfonts import TTFont

from engine.colorimetry import cgats
from studio.cards.models import Formula
from studio.cards.services.home_care import keep_home_care
from studio.cards.services.judge import judge_zone, note_tweak
from studio.clients.models import Client
from studio.formats.card_json import card_document, card_schema
from studio.formats.paper import FONTS
from tests.studio.made import StudioCase, make_person, make_visit

GOOD = "Pim Ashlar,2026-11-01,Ropewalk direct,Orchil 3; Clear 57,10"
HEAD = "client,saved_at,line,pours,level"


class FilesCase(StudioCase):
    def setUp(self) -> None:
        super().setUp()
        self.send("aim", lightness="60", chroma="25", hue="0")
        self.send("pour", shade=self.shade("Orchil").pk, grams="3")
        self.send("pour", shade=self.shade("Clear").pk, grams="57")
        self.client.post(reverse("cards:save", args=[self.visit.pk]), {"version": self.bowl.version})
        self.formula = Formula.objects.get()

    def get(self, name: str, *args: object) -> bytes:
        answer = self.client.get(reverse(f"formats:{name}", args=args))
        self.assertEqual(answer.status_code, 200)
        return b"".join(answer.streaming_content) if answer.streaming else answer.content

    def take(self, text: str | bytes, *, leave_out: bool = False):
        body = text.encode() if isinstance(text, str) else text
        fields = {"file": SimpleUploadedFile("sent.csv", body)} | ({"leave_out": "1"} if leave_out else {})
        return self.client.post(reverse("formats:take"), fields)

    def judged(self) -> None:
        zone = self.visit.zones.get()
        lab = self.formula.forecast_l, self.formula.forecast_a, self.formula.forecast_b
        judge_zone(self.person, zone_id=zone.pk, lab=lab, forecast_lab=lab, source="eye", dry=True, two_lights=True)
        note_tweak(self.person, visit_id=self.visit.pk, zone_name=zone.name, words="a drop less", aim_lab=lab)
        keep_home_care(
            self.person,
            visit_id=self.visit.pk,
            washes_a_week=Decimal(2),
            hot_water=True,
            pool=False,
            sun=False,
            given="a mask",
            next_on=self.visit.day + datetime.timedelta(days=30),
        )


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

    def test_spectra_come_back_as_they_went(self) -> None:
        samples = cgats.read(self.get("card", self.visit.client_id, "cgats").decode())
        self.assertEqual(len(samples), 2)
        forecast = [self.formula.forecast_l, self.formula.forecast_a, self.formula.forecast_b]
        for given, kept in zip(samples[1].lab, forecast, strict=True):
            self.assertAlmostEqual(given, float(kept), delta=2e-3)
        self.assertEqual(samples[1].reflectance.shape, (81,))


class In(FilesCase):
    def test_a_card_goes_round_into_another_studio(self) -> None:
        self.judged()
        document = card_document(self.person, self.visit.client_id)
        other = make_person("Ballast Quay", "ballast")
        self.client.force_login(other)
        self.assertContains(self.take(json.dumps(document)), "<b>1</b> taken in")
        client = Client.objects.visible_to(other).get(name="Pim Harrow")
        self.assertEqual(card_document(other, client.pk), document)
        self.assertContains(self.take(json.dumps(document)), "<b>1</b> here already")
        self.assertEqual(Formula.objects.visible_to(other).count(), 1)

    def test_the_logbook_goes_round(self) -> None:
        text = self.get("logbook").decode()
        other = make_person("Ballast Quay", "ballast")
        self.client.force_login(other)
        self.take(text)
        self.assertEqual(self.get("logbook").decode(), text)

    def test_one_bad_row_in_a_thousand_is_told_by_its_line_and_nothing_is_taken(self) -> None:
        rows = [
            f"Client {number},2026-10-{number % 28 + 1:02d},Ropewalk direct,Weld 2; Clear 8,9" for number in range(1000)
        ]
        rows[499] = "Client 499,2026-10-20,Ropewalk direct,Weld two,9"
        answer = self.take("\n".join([HEAD, *rows]))
        self.assertContains(answer, "<td>501</td>", status_code=422, html=True)
        self.assertContains(answer, "Nothing was changed", status_code=422)
        self.assertEqual(Formula.objects.count(), 1)
        self.assertContains(self.take("\n".join([HEAD, *rows]), leave_out=True), "<b>999</b> taken in")
        self.assertEqual(Formula.objects.count(), 1000)

    def test_every_wrong_cell_is_named(self) -> None:
        for row, said in (
            (GOOD.replace(",10", ",12"), "level is 12"),
            (GOOD.replace("2026-11-01", "soon"), "saved_at"),
            (GOOD.replace("2026-11-01", "2126-11-01"), "still to come"),
            (GOOD.replace("Orchil 3", "Orchil"), "a shade and its grams"),
            (GOOD.replace("Orchil 3", "Orchil -3"), "grams of Orchil"),
            (GOOD.replace("Orchil", "Gamboge"), "no shade “Gamboge”"),
            (GOOD.replace("Ropewalk", "Ropeway"), "no line"),
            (GOOD.replace("Clear 57", "Orchil 57"), "names a shade twice"),
            (GOOD.replace("Pim Ashlar", ""), "client is empty"),
        ):
            with self.subTest(said=said):
                self.assertContains(self.take(f"{HEAD}\n{row}"), said, status_code=422)
        self.assertEqual(Formula.objects.count(), 1)

    def test_what_is_no_card_and_no_logbook_is_refused(self) -> None:
        for body, said in (
            (b"", "Choose a file"),
            (b"\xff\xfe\x00", "no text in UTF-8"),
            (b"a,b\n1,2", "the header lacks client"),
            (b'{"format": "rainshade-card"', "no JSON"),
            (b'{"format": "other", "version": 1, "client": {"name": "A"}, "formulas": []}', "format"),
        ):
            with self.subTest(said=said):
                self.assertContains(self.take(body), said, status_code=422)

    def test_a_formula_without_a_forecast_is_forecast(self) -> None:
        self.take(f"{HEAD}\n{GOOD}")
        taken = Formula.objects.get(client__name="Pim Ashlar")
        self.assertAlmostEqual(float(taken.forecast_l), float(self.formula.forecast_l), places=2)
