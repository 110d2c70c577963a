"""The door, the headers, the shipped files, the demo data, and what the database itself refuses."""

import hashlib
import re
import tomllib
from pathlib import Path

from django.conf import settings
from django.contrib.staticfiles import finders
from django.db import IntegrityError, connection, transaction
from django.test import TestCase
from django.urls import reverse

from studio.accounts.models import Person
from studio.bench.models import Bowl, Photo, Pour, Serving, Worktop
from studio.bench.plane import LADDER_BOTTOM, LADDER_LENGTH, LADDER_MARGIN, LADDER_TOP, UNITS_PER_CHROMA
from studio.cards.models import Formula
from studio.clients.models import Client
from studio.demo.load import load_demo
from studio.shelf.models import Shade
from studio.visits.models import Reading, Zone
from tests.studio.made import StudioCase, make_person

ROOT = Path(settings.ROOT)
UI = ROOT / "studio" / "ui"


class Door(TestCase):
    def test_name_and_password_let_in_and_wrong_ones_say_so(self) -> None:
        make_person()
        wrong = self.client.post(reverse("sign-in"), {"username": "ropery", "password": "wrong"})
        self.assertContains(wrong, "belong together")
        self.assertContains(wrong, 'value="ropery"')
        right = self.client.post(reverse("sign-in"), {"username": "ropery", "password": "salt and rope"})
        self.assertRedirects(right, reverse("cards:list"))

    def test_ten_wrong_passwords_close_the_door_for_a_while(self) -> None:
        make_person()
        for _ in range(10):
            answer = self.client.post(reverse("sign-in"), {"username": "ropery", "password": "wrong"})
        self.assertEqual(answer.status_code, 429)
        answer = self.client.post(reverse("sign-in"), {"username": "ropery", "password": "salt and rope"})
        self.assertContains(answer, "Too many wrong passwords", status_code=429)

    def test_every_page_sends_strangers_to_the_door(self) -> None:
        for address in ("/", "/clients/new/", "/clients/1/", "/visits/1/read/", "/visits/1/bench/"):
            self.assertRedirects(self.client.get(address), f"{reverse('sign-in')}?next={address}")


class Headers(StudioCase):
    def test_pages_forbid_everything_from_elsewhere_and_load_nothing_from_there(self) -> None:
        for address in ("/", "/clients/new/", self.on_bench("bench")):
            answer = self.client.get(address)
            policy = answer.headers["Content-Security-Policy"]
            self.assertIn("default-src 'none'", policy)
            self.assertNotIn("unsafe", policy)
            text = answer.content.decode()
            self.assertNotRegex(text, r'(?:src|href)="(?:https?:)?//')
            self.assertNotRegex(text, r'\sstyle="|<style|\son\w+="')

    def test_a_form_without_its_token_is_refused(self) -> None:
        from django.test import Client as Browser

        browser = Browser(enforce_csrf_checks=True)
        browser.force_login(self.person)
        self.assertEqual(browser.post(self.on_bench("pour"), {"version": 0}).status_code, 403)


class ShippedFiles(TestCase):
    def test_vendored_files_have_a_licence_and_the_digest_that_was_noted(self) -> None:
        vendor = UI / "static" / "vendor"
        noted = tomllib.loads((vendor / "vendor.toml").read_text(encoding="utf-8"))["file"]
        for entry in noted:
            with self.subTest(file=entry["name"]):
                self.assertEqual(hashlib.sha256((vendor / entry["name"]).read_bytes()).hexdigest(), entry["sha256"])
                licence = f"{entry['package'].rpartition('/')[2]}.LICENSE.txt"
                self.assertTrue((vendor / licence).read_text(encoding="utf-8").strip())
        shipped = {path.name for path in vendor.iterdir() if path.suffix in {".js", ".woff2"}}
        self.assertEqual(shipped, {entry["name"] for entry in noted})

    def test_every_colour_of_the_style_sheet_is_a_neutral_grey(self) -> None:
        source = (ROOT / "styles" / "app.css").read_text(encoding="utf-8")
        built = Path(finders.find("ui/app.css")).read_text(encoding="utf-8")
        for code in re.findall(r"#([0-9a-fA-F]{6})\b", source + built):
            self.assertEqual(len({code[0:2].lower(), code[2:4].lower(), code[4:6].lower()}), 1, code)
        self.assertNotRegex(built, r"(?:rgb|hsl|oklch|lab)a?\([^)]*[1-9]")

    def test_the_script_and_the_page_agree_on_the_drawings_measures(self) -> None:
        script = (UI / "static" / "ui" / "bench.js").read_text(encoding="utf-8")
        self.assertIn(f"PLANE_UNITS_PER_CHROMA = {UNITS_PER_CHROMA:g};", script)
        ladder = (
            f"{{ top: {LADDER_TOP:g}, bottom: {LADDER_BOTTOM:g}, "
            f"margin: {LADDER_MARGIN:g}, length: {LADDER_LENGTH:g} }}"
        )
        self.assertIn(ladder, script)


class DemoData(TestCase):
    def test_lantern_street_has_its_shelf_clients_and_formulas(self) -> None:
        person = load_demo("a fresh password")
        self.assertTrue(Person.objects.get().check_password("a fresh password"))
        lines = {line.name: line.shades.count() for line in person.studio.lines.all()}
        self.assertEqual(lines, {"Ropewalk direct": 13, "Tidemark toner": 6})
        self.assertEqual(Client.objects.count(), 6)
        self.assertEqual(len(set(Reading.objects.values_list("level", "porosity", "grey"))), 9)
        for formula in Formula.objects.exclude(delta_e00=None):
            self.assertLess(formula.delta_e00, 6, formula)


class Constraints(StudioCase):
    def refused(self, make) -> None:
        with self.assertRaises(IntegrityError), transaction.atomic():
            make()
            connection.check_constraints()

    def test_the_database_refuses_what_must_never_be(self) -> None:
        bowl, weld = self.bowl, self.shade("Weld")
        zone = bowl.servings.get().zone
        Pour.objects.create(bowl=bowl, shade=weld, grams=1)
        for make in (
            lambda: Pour.objects.create(bowl=bowl, shade=weld, grams=2),
            lambda: Pour.objects.create(bowl=bowl, shade=self.shade("Madder"), grams=-1),
            lambda: Pour.objects.create(bowl=bowl, shade=self.shade("Madder"), grams=1001),
            lambda: Reading.objects.create(zone=zone, number=2, level=12, read_by=self.person),
            lambda: Reading.objects.create(zone=zone, number=1, level=8, read_by=self.person),
            lambda: Reading.objects.create(zone=zone, number=2, level=8, grey=2, read_by=self.person),
            lambda: Reading.objects.create(zone=zone, number=2, level=8, old_k_s=9, read_by=self.person),
            lambda: Pour.objects.filter(bowl=bowl).update(mixed_g=2),
            lambda: Pour.objects.filter(bowl=bowl).update(doubt_g=-1),
            lambda: Serving.objects.filter(zone=zone).update(blend_percent=51),
            lambda: Serving.objects.create(zone=zone, bowl=bowl),
            lambda: Zone.objects.create(visit=self.visit, name="whole head"),
            lambda: Zone.objects.create(visit=self.visit, name=""),
            lambda: Worktop.objects.filter(pk=bowl.worktop_id).update(cursor=1),
            lambda: Worktop.objects.create(visit=self.visit),
            lambda: Photo.objects.create(
                visit=self.visit, jpeg=b"x", width=1, height=1, paper_x=1, taken_by=self.person
            ),
            lambda: Shade.objects.filter(pk=weld.pk).update(tube_price=-1),
            lambda: Bowl.objects.filter(pk=bowl.pk).update(target_l=50),
            lambda: Bowl.objects.filter(pk=bowl.pk).update(wanted_g=1),
            lambda: Shade.objects.filter(pk=weld.pk).update(stock_g=-1),
            lambda: Client.objects.create(studio=self.person.studio, name=""),
        ):
            self.refused(make)
