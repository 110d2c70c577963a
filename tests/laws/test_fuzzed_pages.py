"""Whatever is sent to any address, it answers: with words for what is wrong, never with a fault of ours.

Addresses come from the application's own table and names of fields from what its code asks for, so that a new page is
tried from the day it is born. What is sent here may also name rows of somebody else: nothing of theirs may move.
"""

import random

from django.apps import apps
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection, transaction

from studio.cards.models import Formula
from studio.formats.models import Intake, IntakePart
from studio.people.doors import OWNED
from studio.shelf.models import StrandReading, StrandSheet, TubeList
from studio.supplies.models import Supply
from studio.visits.selectors import open_zone
from tests.laws.addresses import PUBLIC, ROWS, Address, addresses, asked_names, controls_of, rows_below, spread_ids
from tests.studio.made import StudioCase, make_person, make_visit
from tests.studio.made_far import bring_far, picture, rows_of

POSTS, GETS, ROUNDS = 7, 4, 4
ODD = (
    "",
    "0",
    "1",
    "-1",
    "1e9",
    "1e-9",
    "NaN",
    "inf",
    "\u00b2",
    "\u0664\u0662",
    "5,5",
    " 7 ",
    "9" * 40,
    "9" * 5000,
    "\x00",
    "a\x00b",
    "\u202e",
    "\U0001f986",
    "two\nlines",
    "x" * 3000,
    "<b>&amp;",
    "0001-01-01",
    "9999-12-31",
    "2026-02-30",
    "24:00",
    "on",
    "-0",
    "12",
)
OF_SEVERAL_HEADS = "/route/heads/aim/"
LEFT_OUT = {":sign-out", ":account_logout"}  # every later address would only say who is signed out


ROW = {
    "line": 1,
    "client": "Pim Ashlar",
    "about": "",
    "formula": {
        "saved_at": "2026-11-01",
        "zone": "roots",
        "part": "roots",
        "line": "Ropewalk direct",
        "wanted_g": 10,
        "hair": {"level": 9, "warmth": 0, "lean": 0, "porosity": 1, "grey": 0, "old_k_s": 0, "family": "natural"},
        "pours": [{"shade": "Weld", "grams": 5}],
    },
}


class Fuzzed(StudioCase):
    """A visit that has come far, and another one of the same studio beside it."""

    @classmethod
    def setUpTestData(cls) -> None:
        spread_ids(connection)
        super().setUpTestData()
        cls.beside = make_visit(cls.person, "Wren Tallow")
        cls.elsewhere = make_visit(make_person("Ballast Quay", "ballast"), "Anon Brill")
        for person, visit in (
            (cls.person, cls.visit),
            (cls.person, cls.beside),
            (cls.elsewhere.colourist, cls.elsewhere),
        ):
            bring_far(person, visit)
        cls.intake = Intake.objects.create(studio=cls.person.studio, person=cls.person, total=1)
        IntakePart.objects.create(intake=cls.intake, number=0, rows=[ROW])
        cls.theirs = rows_below(cls.beside.client, cls.elsewhere.client)
        cls.of_elsewhere = rows_below(cls.elsewhere.client)
        cls.foreign = sorted({str(pk) for _, pk in cls.theirs})
        cls.ours = rows_below(cls.visit.client)
        cls.known = cls.harvest()

    @classmethod
    def harvest(cls) -> dict[str, set[str]]:
        """What the controls of all pages would send."""
        client, found = cls.client_class(), {}
        cls.files, cls.forms = set(), []
        client.force_login(cls.person)
        for address in cls.places():
            answer = client.get(address.path)
            if answer.headers.get("Content-Type", "").startswith("text/html"):
                controls = controls_of(address.path, answer.content.decode())
                cls.files |= controls.files
                cls.forms += controls.forms.values()
                for name, values in controls.found.items():
                    found.setdefault(name, set()).update(sorted(values)[:40])
        return found

    @classmethod
    def places(cls, **other: object) -> list[Address]:
        given = rows_of(cls.person, cls.visit) | {"intake_id": cls.intake.pk}
        return [each for each in addresses(given | other) if each.name not in LEFT_OUT]

    def sent(self, names: set[str], chance: random.Random) -> dict[str, str]:
        """Some of the fields that are asked for, as a page would send them or as nobody would."""
        fields = {}
        for name in sorted(names):
            kind = chance.random()
            if kind < 0.45 and name in self.known:
                fields[name] = chance.choice(sorted(self.known[name]))
            elif kind < 0.65:
                fields[name] = chance.choice(self.foreign)
            elif kind < 0.9:
                fields[name] = chance.choice(ODD)
        if chance.random() < 0.7:
            fields |= {"version": str(self.bowl.version), "zone": str(open_zone(self.person, self.visit.pk).zone.pk)}
            fields["seen"] = fields["version"]
        return fields

    def tried(self, address: Address, method: str, fields: dict[str, object], **headers: str):
        """An answer that is no fault of ours."""
        try:
            answer = getattr(self.client, method)(address.path, fields, headers=headers)
        except Exception as fault:
            told = {name: str(value)[:60] for name, value in fields.items()}
            raise AssertionError(f"{method} {address.name} {told}: {fault!r}") from fault
        self.assertLess(answer.status_code, 500, f"{method} {address.name} {fields}")
        if answer.status_code == 422 and b"<html" in answer.content:
            self.assertIn(b'role="alert"', answer.content)
        return answer

    def fuzz(self, address: Address) -> None:
        """Learn what is asked for, and send it well and badly."""
        chance = random.Random(address.name)
        query, form = set(), set()
        for turn in range(max(POSTS, GETS)):
            if turn < GETS:
                with asked_names() as asked:
                    self.tried(address, "get", self.sent(query, chance))
                query |= asked
            if turn < POSTS:
                fields: dict[str, object] = {**self.sent(form, chance)}
                for name in sorted(self.files) if chance.random() < 0.3 else ():
                    body = chance.choice([picture(), b"", b"\x00\xff", b"{}", b"client,saved_at\n"])
                    fields[name] = SimpleUploadedFile("sent", body)
                headers = {"HX-Request": "true"} if chance.random() < 0.5 else {}
                with asked_names() as asked:
                    self.tried(address, "post", fields, **headers)
                form |= asked
        self.tried(address, "head", {})

    def assert_untouched(self, path: str) -> None:
        """Nothing of another head has moved; what is there to work on several heads moves nothing of another studio."""
        if path.split("?")[0].endswith(OF_SEVERAL_HEADS):
            self.assertEqual(rows_below(self.elsewhere.client), self.of_elsewhere)
        else:
            self.assertEqual(rows_below(self.beside.client, self.elsewhere.client), self.theirs)

    def check(self, share: int, of: int) -> None:
        for address in self.places()[share::of]:
            with self.subTest(address=address.name), transaction.atomic():
                self.fuzz(address)
                self.assert_untouched(address.path)
                transaction.set_rollback(True)


class FirstShare(Fuzzed):
    """More of the addresses: to make the visits and read all their pages takes long, and the second has more to do."""

    def test_every_address_answers_and_moves_nothing_of_anybody_else(self) -> None:
        self.check(0, 3)
        self.check(1, 3)


class SecondShare(Fuzzed):
    def test_every_address_answers_and_moves_nothing_of_anybody_else(self) -> None:
        self.check(2, 3)

    def test_no_form_takes_a_row_of_somebody_else(self) -> None:
        """Every form of every page, sent by each of its buttons, with one id exchanged for theirs of the same kind."""
        swaps = {}
        for label, pk in self.ours:
            swaps[str(pk)] = sorted({str(other) for kind, other in self.theirs if kind == label})[::2][:2]
        tried = set()
        for form in self.forms:
            for button in form.buttons or [("", "")]:
                values = form.fields | dict([button])
                for name in [name for name, value in values.items() if swaps.get(value)]:
                    for other in swaps[values[name]]:
                        key = (form.action.split("?")[0], button[0], name, other)
                        if key not in tried:
                            tried.add(key)
                            self.swapped(form.action, values | {name: other}, f"{key}")
        self.assertGreater(len(tried), 40)

    def swapped(self, action: str, values: dict[str, str], told: str) -> None:
        with self.subTest(told), transaction.atomic():
            values.pop("", None)
            answer = self.client.post(action, values)
            self.assertLess(answer.status_code, 500)
            self.assert_untouched(action)
            for row in self.strangers():
                self.fail(f"a row of ours now hangs on theirs: {row}")
            transaction.set_rollback(True)

    def strangers(self) -> list[str]:
        """Rows of ours that name rows of theirs."""
        found = []
        for (label, pk), row in rows_below(self.visit.client).items():
            for each in apps.get_model(label)._meta.concrete_fields:
                related = each.related_model
                if related and (related._meta.label, row[each.column]) in self.theirs:
                    found.append(f"{label} {pk} {each.name}")
        return found

    def test_a_row_that_is_not_there_or_is_anothers_is_not_found(self) -> None:
        plain = {address.path for address in self.places()}
        for wrong in (0, 10**12, 10**30):
            places = self.places(**{f"{name}_id": wrong for name in ROWS})
            for address in places:
                if address.path in plain or address.name == "bench:plane":
                    continue
                for method in ("get", "post"):
                    answer = self.tried(address, method, {})
                    expected = (403,) if address.name.startswith(OWNED) else (404, 405)  # they own no studio
                    self.assertIn(answer.status_code, expected, f"{method} {address.name} {wrong}")
        formula = Formula.objects.filter(visit=self.elsewhere).first()
        theirs = {"visit_id": self.elsewhere.pk, "client_id": self.elsewhere.client_id, "formula_id": formula.pk}
        studio = self.elsewhere.client.studio
        theirs |= {
            "line_id": studio.lines.first().pk,
            "shade_id": studio.lines.first().shades.first().pk,
            "list_id": TubeList.objects.get(line__studio=studio).pk,
            "strand_id": StrandReading.objects.get(shade__line__studio=studio).pk,
            "sheet_id": StrandSheet.objects.filter(shade__line__studio=studio).first().pk,
            "supply_id": Supply.objects.filter(studio=studio).first().pk,
        }
        for address in self.places(**theirs):
            if address.path not in plain:
                for method in ("get", "post"):
                    answer = self.tried(address, method, {})
                    self.assertIn(answer.status_code, (404, 405), f"{method} {address.name} of another studio")

    def test_nothing_is_shown_or_changed_for_somebody_who_is_signed_out(self) -> None:
        self.client.logout()
        for address in self.places():
            if address.name in PUBLIC:
                continue
            for method in ("get", "post"):
                answer = self.tried(address, method, {})
                self.assertEqual(answer.status_code, 302, f"{method} {address.name}")
                self.assertTrue(answer["Location"].startswith("/sign-in/?next="))
                self.assertEqual(self.tried(address, method, {}, **{"HX-Request": "true"}).status_code, 401)
