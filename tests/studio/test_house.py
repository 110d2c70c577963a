"""The door, the headers, the shipped files, the demo data, and what the database itself refuses."""

import hashlib
import re
import tomllib
from pathlib import Path
from urllib.parse import quote

from django.conf import settings
from django.contrib.auth.hashers import Argon2PasswordHasher
from django.contrib.staticfiles import finders
from django.http import HttpResponse
from django.test import SimpleTestCase, TestCase
from django.urls import reverse

from studio.accounts.hashers import SmallArgon2
from studio.accounts.models import Person, SignedIn
from studio.bench.plane import LADDER_BOTTOM, LADDER_LENGTH, LADDER_MARGIN, LADDER_TOP, UNITS_PER_CHROMA
from studio.cards.models import Formula
from studio.clients.models import Client
from studio.demo.load import load_demo
from studio.shelf.list_in import Tube
from studio.shelf.services.own_tubes import take_list
from studio.visits.models import Reading
from tests.laws.addresses import ANY, PUBLIC, addresses
from tests.studio.made import StudioCase, make_person

ROOT = Path(settings.ROOT)
UI = ROOT / "studio" / "ui"
OPEN = PUBLIC | {":sign-out", ":account_logout"}  # or told in another way
FILES = {
    "formats:handout",
    "formats:labels",
    "formats:next-colourist",
    "formats:skin-test",
    "formats:calendar",
    "formats:card",
    "formats:logbook",
}


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

    def tried(self, name: str, password: str = "wrong", *, at=None, address: str = "192.0.2.7") -> int:
        fields = {"username": name, "password": password}
        return (at or self.client_class()).post(reverse("sign-in"), fields, REMOTE_ADDR=address).status_code

    def test_only_signing_out_takes_the_cookie_away(self) -> None:
        """An answer to a page whose session is dead may be late: another tab may have signed in meanwhile."""
        self.client.force_login(make_person())
        SignedIn.objects.all().delete()
        for place, status in (("pulse", 401), ("cards:list", 302)):
            answer = self.client.get(reverse(place))
            self.assertEqual((answer.status_code, list(answer.cookies)), (status, []))
            self.assertIn("Cookie", answer["Vary"])
        self.client.force_login(Person.objects.get())
        self.assertEqual(self.client.post(reverse("sign-out")).cookies["sessionid"].value, "")

    def test_nobody_locks_a_colourist_out_of_the_tablet_that_she_works_at(self) -> None:
        make_person()
        tablet = self.client_class()
        self.assertEqual(self.tried("ropery", "salt and rope", at=tablet), 302)
        tablet.post(reverse("sign-out"))
        for number in range(12):  # from everywhere, and from the studio's own address
            self.tried("ropery", address=f"198.51.100.{number}")
            self.tried("ropery")
        self.assertEqual(self.tried("ropery", "salt and rope"), 429)
        self.assertEqual(self.tried("ropery", "salt and rope", at=tablet), 302)
        tablet.post(reverse("sign-out"))
        codes = [self.tried("ropery", at=tablet) for _ in range(10)]  # a stolen tablet guesses no longer than others
        self.assertEqual(codes[-1], 429)
        tablet.cookies["machine"] = "made up"
        self.assertEqual(self.tried("ropery", "salt and rope", at=tablet), 429)

    def test_thirty_names_are_not_sprayed_from_one_place_whoever_signs_in_between(self) -> None:
        for number in range(30):
            make_person(name=f"hand{number}")
        make_person("Ballast Quay", "ballast")
        codes = []
        for number in range(30):
            codes.append(self.tried(f"hand{number}"))
            if number == 5:
                self.assertEqual(self.tried("ballast", "salt and rope"), 302)
        self.assertEqual(set(codes[:9]), {200})
        self.assertEqual(set(codes[10:]), {429})

    def test_another_spelling_of_a_name_is_the_same_name(self) -> None:
        make_person()
        for number in range(10):
            code = self.tried("\uff52opery" if number % 2 else "ropery", address=f"198.51.100.{number}")
        self.assertEqual(code, 429)

    def test_a_tablet_knows_several_people_and_lets_each_in_as_themselves(self) -> None:
        tablet = self.client_class()
        for number in range(3):
            make_person(name=f"hand{number}")
            self.assertEqual(self.tried(f"hand{number}", "salt and rope", at=tablet), 302)
            tablet.post(reverse("sign-out"))
        for number in range(3):
            for _ in range(10):
                self.tried(f"hand{number}", address="198.51.100.1")
        self.assertEqual(
            [self.tried(f"hand{n}", "salt and rope", at=self.fresh(tablet)) for n in range(3)], [302, 302, 302]
        )

    def fresh(self, tablet):
        tablet.post(reverse("sign-out"))
        return tablet

    def test_a_password_is_kept_in_as_much_memory_as_owasp_asks_and_no_more(self) -> None:
        """[OWASP] Password Storage: Argon2id with 19 MiB, two passes, one lane, from memory."""
        kept = SmallArgon2().encode("salt and rope", "0123456789abcdef")
        self.assertIn("$argon2id$v=19$m=19456,t=2,p=1$", kept)
        old = Argon2PasswordHasher().encode("salt and rope", "0123456789abcdef")
        self.assertTrue(SmallArgon2().verify("salt and rope", old) and SmallArgon2().must_update(old))

    def test_every_page_sends_strangers_to_the_door(self) -> None:
        places = [each for each in addresses(ANY) if each.name not in OPEN]
        self.assertGreater(len(places), 60)
        for place in places:
            with self.subTest(page=place.name):
                asked = f"{reverse('sign-in')}?next={quote(place.path)}"
                self.assertRedirects(self.client.get(place.path), asked, fetch_redirect_response=False)
                sent = self.client.post(place.path)
                self.assertEqual((sent.status_code, sent.url.split("?")[0]), (302, reverse("sign-in")))


class Headers(StudioCase):
    def pages(self) -> list[HttpResponse]:
        """Every page that this visit, its client and the house have."""
        line = self.bowl.line
        listed = take_list(self.person, line=line.pk, tubes=[Tube(row=1, name="Sea Pink")])
        ids = {name: 0 if name.endswith("_id") else given for name, given in ANY.items()}
        ids |= {"client_id": self.visit.client_id, "visit_id": self.visit.pk}
        ids |= {"line_id": line.pk, "shade_id": line.shades.first().pk, "list_id": listed.pk}
        answers = [self.client.get(each.path) for each in addresses(ids) if each.name not in {*OPEN, *FILES}]
        shown = [each for each in answers if each.status_code == 200 and "text/html" in each.headers["Content-Type"]]
        self.assertGreater(len(shown), 20)
        return shown

    def test_pages_forbid_everything_from_elsewhere_and_load_nothing_from_there(self) -> None:
        for answer in self.pages():
            policy = answer.headers["Content-Security-Policy"]
            self.assertIn("no-store", answer.headers["Cache-Control"])
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
    def test_every_picture_and_page_that_the_documents_point_at_is_there(self) -> None:
        linked = re.compile(r"\]\(([^)#:]+)\)")
        for document in (ROOT / "README.md", *(ROOT / "docs").rglob("*.md")):
            for place in linked.findall(document.read_text(encoding="utf-8")):
                with self.subTest(document=document.name, place=place):
                    self.assertTrue((document.parent / place).exists())
        shown = {Path(place).name for place in linked.findall((ROOT / "README.md").read_text(encoding="utf-8"))}
        self.assertLessEqual({each.name for each in (ROOT / "docs" / "screenshots").iterdir()}, shown)

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
        self.assertEqual(
            lines, {"Ropewalk direct": 15, "Tidemark toner": 6, "Capstan permanent": 7, "Chalkcliff lightener": 2}
        )
        self.assertEqual(Client.objects.count(), 6)
        self.assertEqual(len(set(Reading.objects.values_list("level", "porosity", "grey"))), 9)
        for formula in Formula.objects.exclude(delta_e00=None):
            self.assertLess(formula.delta_e00, 6, formula)


class Parts(SimpleTestCase):
    def test_every_part_that_comes_by_itself_has_a_name_to_be_missed_by(self) -> None:
        templates = [path.read_text(encoding="utf-8") for path in (ROOT / "studio").rglob("*.html")]
        tags = [tag for text in templates for tag in re.findall(r"<\w+(?:[^<>]|<[^>]*>)*>", text)]
        parts = [tag for tag in tags if 'hx-trigger="load' in tag and "hx-get=" in tag]
        self.assertGreater(len(parts), 8)
        for tag in parts:
            self.assertIn("data-part=", tag)
