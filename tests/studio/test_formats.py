"""Files out and in: JSON by its schema, CSV line by line, PDF, calendar, palette, CGATS."""

import contextlib
import datetime
import hashlib
import io
import json
import tomllib
import unicodedata

import jsonschema
import numpy as np
import pypdfium2
from django.db.models import F
from django.urls import reverse
from django.utils import timezone
from icalendar import Calendar
from pypdf import PdfReader

from engine.colorimetry import cgats_in, spectral_package
from studio.accounts.services.set_time_zone import set_time_zone
from studio.cards.models import Formula
from studio.clients.models import Client
from studio.clients.services.history import add_past, record_skin_test
from studio.formats.card_json import card_schema
from studio.formats.paper import FONTS, OwnFiles
from studio.shelf.models import Shade, ShadeLine
from studio.ui.zipped import unzipped
from studio.visits.models import Consult, Visit
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
        self.client.post(reverse("bench:save", args=[self.visit.pk]), {"version": self.bowl.version})
        document = json.loads(self.get("formula", self.formula.pk))
        jsonschema.validate(document, card_schema())
        self.assertEqual(len(document["formulas"]), 1)

    def test_another_studios_card_is_not_found(self) -> None:
        other = make_visit(make_person("Ballast Quay", "ballast"), "Anon Brill")
        for kind in ("json", "pdf", "gpl", "cgats", "spectra", "jobs"):
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

    def read(self, body: bytes) -> tuple[PdfReader, str]:
        """A PDF and its words, by another program's eyes."""
        reader = PdfReader(io.BytesIO(body))
        return reader, unicodedata.normalize("NFKC", "\n".join(page.extract_text() for page in reader.pages))

    def test_labels_the_sheet_for_the_next_colourist_and_the_skin_test_card_say_what_they_are_for(self) -> None:
        self.judged()
        line = self.bowl.line
        now = timezone.now()
        client = self.visit.client_id
        Consult.objects.create(visit=self.visit, wish="softer by the parade")
        record_skin_test(self.person, client_id=client, line_id=line.pk, tested_at=now, clear=True, now=now)
        labels = self.read(self.get("labels", self.visit.pk))[1]
        self.assertIn("3.0 g Orchil, 57.0 g Clear of Ropewalk direct", labels)
        self.assertIn("good until 19 Jan 2027", labels)
        sheet = self.read(self.get("next-colourist", self.visit.pk))[1]
        for said in ("a drop less", "3.0 g Orchil", "Wished and agreed", "As it went", "Skin test of Ropewalk direct"):
            self.assertIn(said, " ".join(sheet.split()))
        skin = self.read(self.get("skin-test", client))[1]
        self.assertIn("Ropewalk direct", skin)
        self.assertIn("48 hours", skin)

    def test_what_touched_developer_is_labelled_to_be_thrown_away(self) -> None:
        demi = ShadeLine.objects.visible_to(self.person).get(kind="demi")
        self.client.post(reverse("bench:line", args=[self.visit.pk]), {"line": demi.pk, "version": self.bowl.version})
        shade = demi.shades.get(name="Selenite").pk
        fields = {"shade": shade, "grams": "9", "version": self.bowl.version}
        self.client.post(reverse("bench:pour", args=[self.visit.pk]), fields)
        labels = " ".join(self.read(self.get("labels", self.visit.pk))[1].split())
        self.assertIn("Thrown away today", labels)

    def test_names_of_every_alphabet_have_their_letters_in_a_pdf(self) -> None:
        noted = tomllib.loads((FONTS / "provenance.toml").read_text(encoding="utf-8"))
        for name, digest in noted["sha256"].items():
            self.assertEqual(hashlib.sha256((FONTS / name).read_bytes()).hexdigest(), digest)
        for name in (
            "Żaneta <b>& Ελένη",
            "Жанна Đặng",
            "山田 さくら",
            "김 서연",
            "王小明",
            "ليلى",
            "שרה",
            "प्रिया",
            "สมหญิง",
            "ნინო",
            "Անահիտ",
        ):
            with self.subTest(name=name):
                Client.objects.filter(pk=self.visit.client_id).update(name=name)
                reader, words = self.read(self.get("card", self.visit.client_id, "pdf"))
                seen = {letter for letter in name if not unicodedata.category(letter).startswith(("M", "Z"))}
                self.assertLessEqual(seen, set(words), words[:80])
                self.assertEqual(reader.metadata.title, f"Card of {name}")
                self.assertGreater(self.ink(reader.stream.getvalue()), 12 * len(seen), "letters that leave no ink")

    @staticmethod
    def ink(body: bytes) -> int:
        """Dark pixels in the top line of a page of a PDF, at about 72 to the inch."""
        with contextlib.closing(pypdfium2.PdfDocument(body)) as document:
            drawn = document[0].render(scale=1).to_pil().convert("L")
        return sum(drawn.crop((0, 40, drawn.width, 85)).histogram()[:128])

    def test_a_pdf_is_tagged_and_says_its_language(self) -> None:
        # ISO 14289-1 (PDF/UA-1), from memory: a marked document with a structure tree, /Lang, a title that is shown.
        self.judged()
        for body in (self.get("card", self.visit.client_id, "pdf"), self.get("handout", self.visit.pk)):
            reader, _ = self.read(body)
            root = reader.trailer["/Root"]
            self.assertEqual(root["/Lang"], "en-gb")
            self.assertTrue(root["/MarkInfo"]["/Marked"])
            self.assertIn("/StructTreeRoot", root)
            self.assertTrue(root["/ViewerPreferences"]["/DisplayDocTitle"])
            self.assertIn(b"pdfuaid", root["/Metadata"].get_object().get_data())

    def test_a_card_on_paper_says_what_the_next_hand_must_know(self) -> None:
        client = self.visit.client
        Client.objects.filter(pk=client.pk).update(sensitivities="fragrance", reacted=True, black_henna_tattoo=True)
        line = self.formula.line
        now = timezone.now()
        record_skin_test(self.person, client_id=client.pk, line_id=line.pk, tested_at=now, clear=False, now=now)
        day = self.visit.day
        add_past(self.person, client_id=client.pk, work="henna", part="ends", done_on=day, today=day, note="red")
        Consult.objects.update_or_create(visit=self.visit, defaults={"pregnant": True, "scalp": "sore"})
        _, words = self.read(self.get("card", client.pk, "pdf"))
        for said in ("fragrance", "Has reacted", "henna tattoo", "a reaction", "henna, ends, red", "pregnant", "sore"):
            self.assertIn(said, words.replace("\n", " "))

    def test_paper_loads_nothing_from_elsewhere(self) -> None:
        for address in ("file:///etc/passwd", "http://example.invalid/a.png", "own:../settings/__init__.py"):
            with self.assertRaises((ValueError, OSError)):
                OwnFiles().fetch(address)

    def test_a_day_is_the_studios_own_in_every_file(self) -> None:
        """Half past eight of the evening in UTC is the next morning in Auckland."""
        set_time_zone(self.person, time_zone="Pacific/Auckland")
        evening = datetime.datetime(2026, 10, 15, 20, 30, tzinfo=datetime.UTC)
        morning = datetime.date(2026, 10, 16)
        Visit.objects.filter(pk=self.visit.pk).update(day=morning)
        Formula.objects.update(saved_at=evening)
        client = self.visit.client_id
        self.assertContains(self.client.get(reverse("cards:card", args=[client])), "16 Oct 2026")
        self.assertIn("16 Oct 2026", self.read(self.get("card", client, "pdf"))[1])
        for kind in ("gpl", "cgats"):
            body = self.get("card", client, kind).decode()
            self.assertIn("2026-10-16 whole head", body)
            self.assertNotIn("2026-10-15", body)
        named = self.client.get(reverse("formats:formula", args=[self.formula.pk]))["Content-Disposition"]
        self.assertIn("2026-10-16", named)

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
        body = self.get("card", self.visit.client_id, "spectra")
        package = spectral_package.read(unzipped(body, most_bytes=10**6))
        self.assertEqual((package.geometry[:8], package.quantity), ("reckoned", "reflectance"))
        (spectrum,) = package.spectra
        self.assertEqual(spectrum.name, samples[0].name)
        np.testing.assert_allclose(spectrum.values, samples[0].reflectance, atol=1e-6)
        Shade.objects.filter(name="Orchil").update(strength=25)  # another tube since: the spectrum says whose it is
        ShadeLine.objects.update(version=F("version") + 1)
        body = self.get("card", self.visit.client_id, "spectra")
        (other,) = spectral_package.read(unzipped(body, most_bytes=10**6)).spectra
        self.assertIn("by today's shelf", other.name)
        self.assertLess(other.lab[0], spectrum.lab[0] - 3)
