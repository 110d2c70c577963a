"""A whole studio out and in: nothing lost, nothing of this database told, and bad files told what is wrong."""

import hashlib
import io
import json
import uuid
import zipfile
from concurrent.futures import ThreadPoolExecutor
from contextlib import suppress
from threading import Barrier, BrokenBarrierError
from unittest.mock import patch

import jsonschema
from allauth.account.models import EmailAddress
from django.apps import apps
from django.core.files.storage import default_storage
from django.db import connection
from django.test import TestCase, TransactionTestCase
from django.urls import reverse
from django.utils import timezone

from engine.service.roles import Role
from studio.accounts.models import Person, Studio
from studio.archives.models import Transfer
from studio.archives.places import PIECE_BYTES, whole_name
from studio.archives.putting import _Putter
from studio.archives.schema import archive_schema
from studio.archives.services.asking import ask_for_archive, begin_bringing, bring_part, drop
from studio.archives.services.carry import carry
from studio.archives.tables import CONTEXTS, FIELDS_LEFT_OUT, LEFT_OUT, PATHS, fields_of
from studio.archives.tasks import see_to_archives
from studio.cards.models import Formula
from studio.clocks.models import ZoneClock
from studio.formats.card_json import card_document
from studio.formats.services.erase import erase_client
from studio.ui.refusal import Refusal
from tests.demo import empty_tables
from tests.studio.made import StudioCase, make_person
from tests.studio.made_far import bring_far

STRANGE = 70_000_000  # rows begin with numbers that nothing else in an archive has


def owner(name: str = "keel", studio: str = "Ballast Quay") -> Person:
    """Who owns a studio that has nothing yet."""
    made = Studio.objects.create(name=studio)
    return Person.objects.create_user(username=name, password="salt and rope", studio=made, role=Role.OWNER)


def sent(person: Person) -> bytes:
    """A person's studio as the worker writes it."""
    asked = ask_for_archive(person, now=timezone.now())
    carry(asked.pk)
    asked.refresh_from_db()
    assert asked.is_here, asked.failed
    with default_storage.open(whole_name(asked.uid)) as file:
        return file.read()


def brought(person: Person, body: bytes) -> Transfer:
    """An archive as a person brings it, once the worker has seen to it."""
    begun = begin(person, body)
    carry(begun.pk)
    begun.refresh_from_db()
    return begun


def begin(person: Person, body: bytes) -> Transfer:
    """An archive that was handed over, piece by piece."""
    begun = begin_bringing(person, size=len(body))
    for number, start in enumerate(range(0, len(body), PIECE_BYTES)):
        piece = body[start : start + PIECE_BYTES]
        bring_part(person, transfer_id=begun.pk, number=number, body=piece, now=timezone.now())
    return begun


def tables(body: bytes) -> dict[str, list[dict]]:
    """The rows of an archive by their tables."""
    with zipfile.ZipFile(io.BytesIO(body)) as archive:
        return {
            name.removeprefix("rows/").removesuffix(".jsonl"): [
                json.loads(line) for line in archive.read(name).splitlines()
            ]
            for name in archive.namelist()
            if name.startswith("rows/")
        }


def changed(body: bytes, name: str, becomes: bytes | None, *, more: dict[str, bytes] | None = None) -> bytes:
    """An archive with one member changed or left out, its sum of it set right, and more members."""
    made = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(body)) as old, zipfile.ZipFile(made, "w", zipfile.ZIP_DEFLATED) as new:
        manifest = json.loads(old.read("archive.json"))
        if becomes is not None and name != "archive.json":
            manifest["sha256"][name] = hashlib.sha256(becomes).hexdigest()
        for each in old.namelist():
            if each not in (name, "archive.json"):
                new.writestr(each, old.read(each))
        if becomes is not None:
            new.writestr(name, becomes)
        if name != "archive.json":
            new.writestr("archive.json", json.dumps(manifest))
        for each, given in (more or {}).items():
            new.writestr(each, given)
    return made.getvalue()


class Tables(TestCase):
    def test_every_table_goes_along_or_has_a_reason_why_not(self) -> None:
        for model in apps.get_models(include_auto_created=True):
            label = model._meta.label
            with self.subTest(label=label):
                if not model._meta.proxy:
                    self.assertEqual((label in PATHS or label == CONTEXTS) + (label in LEFT_OUT), 1)
        for label, names in FIELDS_LEFT_OUT.items():
            for name in names:
                apps.get_model(label)._meta.get_field(name)

    def test_the_schema_is_one_and_tells_every_column(self) -> None:
        schema = archive_schema()
        jsonschema.Draft202012Validator.check_schema(schema)
        for label in PATHS:
            self.assertEqual(set(schema["$defs"][label]["properties"]), {field.name for field in fields_of(label)})


class Round(StudioCase):
    @classmethod
    def setUpTestData(cls) -> None:
        with connection.cursor() as cursor:
            cursor.execute(
                "SELECT setval(schemaname || '.' || quote_ident(sequencename), %s) FROM pg_sequences"
                " WHERE schemaname = 'public'",
                [STRANGE],
            )
        super().setUpTestData()

    def setUp(self) -> None:
        super().setUp()
        bring_far(self.person, self.visit)
        self.plant()
        Person.objects.filter(pk=self.person.pk).update(role=Role.OWNER)
        self.person.refresh_from_db()

    def plant(self) -> None:
        """What the long visit does not leave of itself: numbers of rows inside JSON."""
        zone = self.visit.zones.first()
        shade = self.shade("Orchil")
        laid = [{"shade": shade.pk, "k_s": 0.4}]
        zone.readings.update(old_shade=str(shade.pk), old_k_s=1, laid=laid)
        Formula.objects.update(old_shade=str(shade.pk), old_k_s=1, laid=laid)
        self.visit.plan.turns = [zone.pk]
        self.visit.plan.save()
        zone.coats.first().bowl.__class__.objects.update(mixed_for=[zone.pk])
        EmailAddress.objects.create(user=self.person, email="ropery@example.org", verified=True, primary=True)
        intake = self.person.studio.intakes.create(person=self.person, total=1, card={"client": {"name": "Wren"}})
        intake.parts.create(number=0, rows=[{"line": 1, "client": "Wren"}])
        coats = {"coats": [{str(shade.pk): 3.5}]}
        zone.outcome.mended = coats
        zone.outcome.save()
        worked = {"hair": {"level": "9", "old_shade": str(shade.pk), "laid": laid}, "reader": self.person.pk}
        worked |= {"line": shade.line_id, "grams": {str(shade.pk): "3.5"}, "source": "eye", "minutes": "20"}
        self.visit.client.strand_tests.update(worked=worked, mended=coats)

    def test_a_studio_comes_back_equal_but_for_passwords_and_tells_nothing_of_this_database(self) -> None:
        self.maxDiff = 4000
        body = sent(self.person)
        first = tables(body)
        for label in PATHS:
            with self.subTest(label=label):
                self.assertTrue(first[label], "the visit leaves no row of it: nothing is shown")
        self.assertNotRegex(json.dumps(first), rf"\b{str(STRANGE)[:3]}\d{{5}}\b")
        self.assertNotIn(self.person.password, json.dumps(first))
        Studio.objects.filter(pk=self.person.studio_id).update(name="As it was")
        Person.objects.filter(pk=self.person.pk).update(username="as it was")
        EmailAddress.objects.all().delete()
        other = owner("ropery", "another server's")
        for label in ("accounts.StudioEvent", "accounts.PersonEvent"):  # of how that studio began
            apps.get_model(label).objects.filter(pgh_obj_id__in=(other.pk, other.studio_id)).delete()
        came = brought(other, body)
        self.assertEqual((came.failed, came.done), ("", came.total))
        mail = "ropery@example.org has to be confirmed again."
        self.assertEqual(came.told, ["You are taken for ropery of the archive.", mail])
        (confirmed,) = first["account.EmailAddress"]
        confirmed["verified"] = False
        again = tables(sent(other))
        for label in (*PATHS, CONTEXTS):
            with self.subTest(label=label):
                self.assertEqual(again[label], first[label])

    def test_names_that_are_taken_on_the_server_are_told_and_who_brings_it_stays(self) -> None:
        body = sent(self.person)
        other = owner()
        came = brought(other, body)
        self.assertEqual(len(came.told), 3)
        self.assertIn("ropery@example.org has to be confirmed again", came.told[2])
        self.assertIn("Ropery Lane is taken here", came.told[0])
        self.assertIn("ropery signs in as ropery-2 here", came.told[1])
        people = {each.username: each for each in other.studio.people.all()}
        self.assertEqual(set(people), {"keel", "ropery-2"})
        self.assertFalse(people["ropery-2"].has_usable_password())
        self.assertTrue(people["keel"].check_password("salt and rope"))

    def test_cards_and_the_bench_work_there_as_they_did_here(self) -> None:
        document = card_document(self.person, self.visit.client_id)
        other = owner()
        brought(other, sent(self.person))
        client = other.studio.clients.get()
        self.assertEqual(card_document(other, client.pk), document)
        self.client.force_login(other)
        visit = client.visits.get()
        for name in ("bench:bench", "pour:pour", "clocks:clock", "result:result", "route:route", "result:story"):
            with self.subTest(name=name):
                self.assertEqual(self.client.get(reverse(name, args=[visit.pk])).status_code, 200)
        version = visit.worktop.version
        undone = self.client.post(
            reverse("bench:walk", args=[visit.pk]), {"way": "undo", "version": version}, follow=True
        )
        self.assertEqual(undone.status_code, 200)
        self.assertNotEqual(visit.worktop.__class__.objects.get(pk=visit.worktop.pk).version, version)
        self.assertEqual(self.client.get(reverse("learning:learned")).status_code, 200)

    def test_rows_fit_the_schema(self) -> None:
        schema = archive_schema()
        body = sent(self.person)
        for label, rows in tables(body).items():
            fits = jsonschema.Draft202012Validator({**schema, "$ref": f"#/$defs/{label}"})
            for row in rows[:50]:
                self.assertEqual([each.message for each in fits.iter_errors(row)], [], label)
        with zipfile.ZipFile(io.BytesIO(body)) as archive:
            fits = jsonschema.Draft202012Validator({**schema, "$ref": "#/$defs/archive.json"})
            fits.validate(json.loads(archive.read("archive.json")))

    def test_what_is_wrong_with_a_file_is_told_and_nothing_of_it_stays(self) -> None:
        body = sent(self.person)
        manifest = json.loads(zipfile.ZipFile(io.BytesIO(body)).read("archive.json"))
        names = zipfile.ZipFile(io.BytesIO(body)).namelist()
        photo = next(name for name in names if name.startswith("files/photos.Photo/"))
        clients = zipfile.ZipFile(io.BytesIO(body)).read("rows/clients.Client.jsonl")

        def manifest_with(**fields: object) -> bytes:
            return changed(body, "archive.json", json.dumps(manifest | fields).encode())

        cases = {
            "cut off": (body[:-200], "cut off"),
            "of another program": (b"not a zip at all", "no archive"),
            "newer": (manifest_with(version=9), "comes from a newer Rainshade"),
            "of another format": (manifest_with(format="else"), "no archive of a studio"),
            "a table that is not known": (
                manifest_with(tables=manifest["tables"] | {"x.Y": {"rows": 0, "numbers": 0}}),
                "x.Y",
            ),
            "a way out": (changed(body, "none", None, more={"../../etc/passwd": b"x"}), "../../etc/passwd"),
            "numbers for nothing": (
                manifest_with(tables=manifest["tables"] | {"clients.Client": {"rows": 1, "numbers": 90_000_000}}),
                "no archive of a studio",
            ),
            "rows left out": (
                changed(body, "rows/clients.Client.jsonl", None),
                "rows/clients.Client.jsonl is not as it was",
            ),
            "a column that is not known": (
                changed(body, "rows/clients.Client.jsonl", clients.replace(b'"about"', b'"abaut"')),
                "clients.Client, line 1: abaut is not known here",
            ),
            "a number that names nothing": (
                changed(body, "rows/clients.Client.jsonl", clients.replace(b'"studio": 1', b'"studio": 9')),
                "names a row 9 of accounts.Studio",
            ),
            "a rule of the database broken": (
                changed(body, "rows/clients.Client.jsonl", clients.replace(b'"name": "Pim Harrow"', b'"name": ""')),
                "clients_name_not_empty",
            ),
            "a photo that is none": (changed(body, photo, b"<script>alert(1)</script>"), "is no picture"),
        }
        other = owner()
        for what, (file, said) in cases.items():
            with self.subTest(what=what):
                came = brought(other, file)
                self.assertIn(said, came.failed)
                self.assertTrue(came.is_done)
                self.assertFalse(other.studio.clients.exists() or other.studio.lines.exists())
        self.assertEqual(Studio.objects.get(pk=other.studio_id).name, "Ballast Quay")
        self.assertEqual(brought(other, body).failed, "")

    def test_a_link_is_refused(self) -> None:
        made = io.BytesIO(sent(self.person))
        with zipfile.ZipFile(made, "a") as archive:
            link = zipfile.ZipInfo("files/photos.Photo/99-jpeg")
            link.external_attr = 0o120777 << 16
            archive.writestr(link, "/etc/passwd")
        self.assertIn("99-jpeg", brought(owner(), made.getvalue()).failed)

    def test_an_archive_comes_into_an_empty_studio_alone_and_by_its_owner(self) -> None:
        with self.assertRaises(Refusal) as refused:
            begin_bringing(self.person, size=100)
        self.assertEqual(refused.exception.code, "studio_not_bare")
        other = owner()
        with (
            patch("studio.archives.services.asking.free_bytes", return_value=1000),
            self.assertRaises(Refusal) as refused,
        ):
            begin_bringing(other, size=1000)
        self.assertEqual(refused.exception.code, "archive_no_room")
        for size in (0, 10**14):
            with self.assertRaises(Refusal):
                begin_bringing(other, size=size)
        Person.objects.filter(pk=other.pk).update(role=Role.COLOURIST)
        other.refresh_from_db()
        for act in (lambda: begin_bringing(other, size=9), lambda: ask_for_archive(other, now=timezone.now())):
            with self.assertRaises(Refusal) as refused:
                act()
            self.assertEqual(refused.exception.code, "not_owner")
        self.client.force_login(other)
        self.assertEqual(self.client.get(reverse("archives:archive")).status_code, 403)

    def test_pieces_come_in_their_order_and_twice_without_harm(self) -> None:
        other = owner()
        begun = begin_bringing(other, size=PIECE_BYTES + 10)
        now = timezone.now()
        first = bytes(PIECE_BYTES)
        for number, body in ((1, first), (0, b"short")):
            with self.assertRaises(Refusal):
                bring_part(other, transfer_id=begun.pk, number=number, body=body, now=now)
        for _ in range(2):
            self.assertEqual(bring_part(other, transfer_id=begun.pk, number=0, body=first, now=now).parts, 1)
        self.assertIsNone(Transfer.objects.get(pk=begun.pk).asked_for_at)
        bring_part(other, transfer_id=begun.pk, number=1, body=bytes(10), now=now)
        with self.assertRaises(Refusal) as refused:
            drop(other, transfer_id=begun.pk)
        self.assertEqual(refused.exception.code, "archive_waits")
        carry(begun.pk)
        with self.captureOnCommitCallbacks(execute=True):
            drop(other, transfer_id=begun.pk)
        self.assertFalse(default_storage.exists(f"archives/{begun.uid}/000000"))

    def test_who_is_forgotten_is_in_no_archive_that_was_made_before_or_is_being_written(self) -> None:
        sent(self.person)
        made = Transfer.objects.filter(size__gt=0).get()
        asked = ask_for_archive(self.person, now=timezone.now())
        ZoneClock.objects.update(rinsed_at=timezone.now())

        def forget(*_given: object, **_more: object) -> None:
            with self.captureOnCommitCallbacks(execute=True):
                erase_client(self.person, client_id=self.visit.client_id, typed="Pim Harrow", keeps_mixes=False)

        with (
            patch("studio.archives.services.carry.row_counts", side_effect=[0]),
            patch("studio.archives.services.carry.write_archive", side_effect=forget),
        ):
            carry(asked.pk)
        self.assertEqual([each.failed for each in Transfer.objects.filter(way="out")], [])
        for each in (made, asked):
            self.assertFalse(default_storage.exists(whole_name(each.uid)))

    def test_an_archive_of_another_database_under_the_same_number_is_not_this_one(self) -> None:
        """Rows are numbered from where a database was, once it is made anew or brought back: files are not."""
        body = sent(self.person)
        made = Transfer.objects.filter(size__gt=0).get()
        Transfer.objects.filter(pk=made.pk).update(uid=uuid.uuid4())
        fetch = reverse("archives:fetch", args=[made.pk])
        self.assertEqual(self.client.get(fetch).status_code, 404)
        see_to_archives(0)
        self.assertFalse(default_storage.exists(whole_name(made.uid)))  # nobody knows of it
        self.assertEqual(sent(self.person)[:4], body[:4])
        see_to_archives(0)
        newest = Transfer.objects.filter(size__gt=0).first()
        answer = self.client.get(reverse("archives:fetch", args=[newest.pk]))
        self.assertEqual(answer.status_code, 200)

    def test_another_studios_archive_is_not_found(self) -> None:
        body = sent(self.person)
        made = Transfer.objects.first()
        self.client.force_login(self.person)
        fetched = self.client.get(reverse("archives:fetch", args=[made.pk]))
        self.assertEqual(b"".join(fetched.streaming_content), body)
        self.client.force_login(owner())
        for name in ("archives:fetch", "archives:transfer"):
            self.assertEqual(self.client.get(reverse(name, args=[made.pk])).status_code, 404)
        self.assertEqual(self.client.post(reverse("archives:drop", args=[made.pk])).status_code, 404)


class TwoWorkers(TransactionTestCase):
    """Archives that are brought at the same moment, with transactions that are real."""

    def setUp(self) -> None:
        self.addCleanup(empty_tables)

    def test_the_same_names_become_different_ones(self) -> None:
        first = make_person()
        Person.objects.filter(pk=first.pk).update(role=Role.OWNER)
        body = sent(Person.objects.get(pk=first.pk))
        begun = [begin(owner(name, place), body) for name, place in (("keel", "Ballast Quay"), ("hull", "Hawser Row"))]
        together, free_name = Barrier(2), _Putter._free_name

        def at_once(putter: _Putter, name: str) -> str:
            found = free_name(putter, name)
            with suppress(BrokenBarrierError):
                together.wait(2)  # who chooses first waits for the other, which may not choose before it is done
            return found

        def work(transfer_id: int) -> None:
            carry(transfer_id)
            connection.close()

        with patch.object(_Putter, "_free_name", at_once), ThreadPoolExecutor(2) as pool:
            list(pool.map(work, [each.pk for each in begun]))
        self.assertEqual(list(Transfer.objects.filter(way="in").values_list("failed", flat=True)), ["", ""])
        self.assertEqual(Person.objects.filter(username__startswith="ropery").count(), 3)
