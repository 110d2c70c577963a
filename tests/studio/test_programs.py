"""What other programs read by a key: no more than it may, in pages, as the description says, and told what is wrong."""

import datetime
import json
from dataclasses import replace
from unittest import mock

import jsonschema
from django.db import IntegrityError, transaction
from django.test import Client as Browser
from django.test import override_settings
from django.urls import reverse
from django.utils import timezone

from engine.jobs import run
from engine.service.roles import Role
from studio.accounts.models import Person
from studio.api.forecasts import BOUNDS
from studio.api.models import ProgramKey
from studio.api.openapi import openapi
from studio.api.routes import api
from studio.api.services.keys import make_key
from studio.cards.models import Formula, ZoneResult
from studio.clients.models import Client, SkinTest
from studio.formats.card_json import card_document, card_schema
from studio.shelf.models import ShadeLine
from studio.ui.refusal import Refusal
from studio.visits.models import Consult
from tests.studio.made import make_person, make_visit
from tests.studio.made_files import FilesCase

May = ProgramKey.May
ALL = tuple(May.values)


class ProgramsCase(FilesCase):
    def setUp(self) -> None:
        super().setUp()
        Person.objects.filter(pk=self.person.pk).update(role=Role.OWNER)
        self.person.refresh_from_db()

    def key(self, *may: str, person: Person | None = None, **more: object) -> str:
        """A new key that may read something."""
        given = {"name": f"key {ProgramKey.objects.count()}", "per_minute": 600, "ends_on": None} | more
        return make_key(person or self.person, may=may or ALL, now=timezone.now(), **given)

    def ask(self, address: str, key: str, **headers: str):
        """As a program does: with no cookie."""
        under = address if address.startswith("http") else f"/api/1/{address}"
        return Browser().get(under, headers={"Authorization": f"Bearer {key}"} | headers)

    def told(self, address: str, key: str) -> dict:
        """An answer that fits what the description says of it."""
        answer = self.ask(address, key)
        self.assertEqual(answer.status_code, 200, answer.content[:300])
        document = json.loads(answer.content)
        path = "/api/1/" + address.partition("?")[0].split(f"{self.visit.client.uid}")[0]
        path += "{uid}/card" if path.endswith("clients/") else ""
        self.check("get", path, document)
        return document

    def check(self, method: str, path: str, document: object) -> None:
        """Against the description's schema for that address."""
        description = openapi(api)
        answers = description["paths"][path][method]["responses"]["200"]["content"]["application/json"]
        jsonschema.Draft202012Validator({**answers["schema"], "components": description["components"]}).validate(
            document
        )

    def assertProblem(self, answer: object, status: int, *words: str) -> dict:
        self.assertEqual((answer.status_code, answer["Content-Type"]), (status, "application/problem+json"))
        told = json.loads(answer.content)
        jsonschema.validate(told, openapi(api)["components"]["schemas"]["problem"])
        self.assertEqual(told["status"], status)
        for each in words:
            self.assertIn(each, told["detail"])
        return told


class Reading(ProgramsCase):
    def sick(self) -> Client:
        """The client with everything of health that a card can tell."""
        client = self.visit.client
        client.notes, client.sensitivities, client.reacted = "takes blood thinners", "para dyes", True
        client.save()
        Consult.objects.update_or_create(visit=self.visit, defaults={"pregnant": True, "scalp": "sore", "wish": "Red"})
        SkinTest.objects.create(client=client, tested_at=timezone.now(), clear=False, recorded_by=self.person)
        return client

    def test_clients_page_by_page_and_without_health_facts_unless_allowed(self) -> None:
        self.sick()
        for place in range(4):
            make_visit(self.person, f"Drum {place}")
        plain, full = self.key(May.CLIENTS), self.key(May.CLIENTS, May.HEALTH)
        first = self.told("clients?most=2", plain)
        met = list(first["clients"])
        address, pages = first["next"], 1
        while address:
            page = json.loads(self.ask(address, plain).content)
            met, address, pages = met + page["clients"], page["next"], pages + 1
        self.assertEqual(pages, 3)
        uids = [each["uid"] for each in met]
        self.assertEqual(uids, sorted(uids))
        self.assertEqual(len(set(uids)), 5)
        self.assertNotIn("thinners", json.dumps(met))
        self.assertNotIn("reacted", json.dumps(met))
        everybody = self.told("clients", full)["clients"]
        pim = next(each for each in everybody if each["name"] == "Pim Harrow")
        self.assertEqual((pim["notes"], pim["reacted"]), ("takes blood thinners", True))

    def test_a_card_is_that_of_the_file_or_without_its_health(self) -> None:
        client = self.sick()
        at = f"clients/{client.uid}/card"
        whole = self.told(at, self.key(May.CARDS, May.HEALTH))
        self.assertEqual(whole, json.loads(json.dumps(card_document(self.person, client.pk))))
        plain = self.told(at, self.key(May.CARDS))
        jsonschema.validate(plain, card_schema())
        text = json.dumps(plain)
        for word in ("thinners", "para dyes", "reacted", "pregnant", "sore", "skin_tests", "signatures", "incidents"):
            self.assertNotIn(word, text)
            self.assertIn(word, json.dumps(whole | {"signatures": 0, "incidents": 0}))
        self.assertEqual(plain["formulas"], whole["formulas"])
        self.assertEqual(plain["visits"][0]["consult"]["wish"], "Red")

    def test_formulas_since_a_moment_are_what_came_and_what_was_judged(self) -> None:
        key = self.key(May.CARDS)
        long_ago = timezone.now() - datetime.timedelta(days=30)
        Formula.objects.update(kept_at=long_ago)
        for _ in range(3):
            self.client.post(reverse("bench:save", args=[self.visit.pk]), {"version": self.bowl.version})
        newest = Formula.objects.exclude(pk=self.formula.pk)
        everything = self.told("formulas?most=3", key)
        self.assertEqual(everything["formulas"][0]["formula"]["uid"], str(self.formula.uid))
        (last,) = json.loads(self.ask(everything["next"], key).content)["formulas"]
        self.assertEqual(last["formula"]["uid"], str(newest.latest("pk").uid))
        self.assertEqual(last["client"], {"uid": str(self.visit.client.uid), "name": "Pim Harrow"})
        since = (timezone.now() - datetime.timedelta(hours=1)).isoformat().replace("+", "%2B")
        came = self.told(f"formulas?since={since}", key)["formulas"]
        far = "2026-01-01T00:00:00%2B20:46"  # which the database would refuse
        self.assertEqual(len(self.told(f"formulas?since={far}", key)["formulas"]), 4)
        self.assertEqual({each["formula"]["uid"] for each in came}, {str(each.uid) for each in newest})
        # A file brings one that was saved long ago, and a zone of long ago is judged.
        Formula.objects.filter(pk__in=newest).update(saved_at=long_ago, kept_at=long_ago)
        self.assertEqual(self.told(f"formulas?since={since}", key)["formulas"], [])
        self.judged()
        judged = self.told(f"formulas?since={since}", key)["formulas"]
        self.assertEqual(len(judged), 4)
        ZoneResult.objects.update(judged_at=long_ago)
        self.assertEqual(self.told(f"formulas?since={since}", key)["formulas"], [])

    def test_formulas_are_those_of_the_card_whatever_the_page(self) -> None:
        """A result stands with the last coat of a zone, also where a page ends between two coats."""
        self.client.post(reverse("bench:save", args=[self.visit.pk]), {"version": self.bowl.version})
        self.judged()
        of_card = {each["uid"]: each for each in card_document(self.person, self.visit.client_id)["formulas"]}
        key, met, address = self.key(May.CARDS), {}, "formulas?most=1"
        while address:
            page = json.loads(self.ask(address, key).content)
            met |= {each["formula"]["uid"]: each["formula"] for each in page["formulas"]}
            address = page["next"]
        self.assertEqual(met, json.loads(json.dumps(of_card)))

    def test_the_logbook_is_that_of_the_page(self) -> None:
        answer = self.ask("logbook.csv", self.key(May.CARDS))
        self.assertEqual(b"".join(answer.streaming_content), self.get("logbook"))

    def test_the_shelf_with_a_fingerprint_of_each_tube(self) -> None:
        shelf = self.told("shelf", self.key(May.SHELF))
        lines = ShadeLine.objects.visible_to(self.person).exclude(kind="lightener")
        self.assertEqual([each["name"] for each in shelf["lines"]], [each.name for each in lines.order_by("position")])
        self.assertTrue(all(shade["fingerprint"] for line in shelf["lines"] for shade in line["shades"]))

    def test_what_did_not_change_is_not_sent_again(self) -> None:
        key, at = self.key(), f"clients/{self.visit.client.uid}/card"
        etag = self.ask(at, key)["ETag"]
        again = self.ask(at, key, **{"If-None-Match": etag})
        self.assertEqual((again.status_code, again.content), (304, b""))
        Client.objects.update(about="cornet")
        changed = self.ask(at, key, **{"If-None-Match": etag})
        self.assertEqual(changed.status_code, 200)
        self.assertNotEqual(changed["ETag"], etag)

    def test_pages_ask_the_database_the_same_however_much_there_is(self) -> None:
        key = self.key()
        with self.assertNumQueries(3):
            self.ask("clients", key)
        with self.assertNumQueries(7):
            self.ask("formulas", key)
        for _ in range(3):
            self.client.post(reverse("bench:save", args=[self.visit.pk]), {"version": self.bowl.version})
        make_visit(self.person, "Anon Brill")
        with self.assertNumQueries(3):
            self.ask("clients", key)
        with self.assertNumQueries(7):
            self.ask("formulas", key)


class Forecasts(ProgramsCase):
    def post(self, jobs: object, key: str, *, line: object = "", **more: object):
        body = jobs if isinstance(jobs, bytes | str) else json.dumps(jobs)
        at = "/api/1/forecasts" + (f"?line={line}" if line else "")
        given = {"content_type": "application/json"} | more
        return Browser().post(at, body, headers={"Authorization": f"Bearer {key}"}, **given)

    def test_jobs_of_a_card_come_out_as_they_were_forecast(self) -> None:
        jobs = json.loads(self.get("card", self.visit.client_id, "jobs"))
        answers = json.loads(self.post(jobs, self.key(May.FORECASTS)).content)
        self.check("post", "/api/1/forecasts", answers)
        saved = (self.formula.forecast_l, self.formula.forecast_a, self.formula.forecast_b)
        for given, kept in zip(answers[0]["lab"], saved, strict=True):
            self.assertAlmostEqual(given, float(kept), delta=0.0005 + 1e-9)

    def test_the_tubes_of_a_line_go_by_their_names(self) -> None:
        line, key = self.bowl.line, self.key(May.FORECASTS)
        job = {"task": "predict", "canvas": {"level": 10}, "bowl": {"grams": {"Orchil": 3, "Clear": 57}}}
        one = json.loads(self.post(job, key, line=line.uid).content)
        listed = json.loads(self.post([job, {**job, "canvas": {"level": 8}}], key, line=line.uid).content)
        shared = {"with": {"canvas": {"level": 10}}, "jobs": [{"task": "predict", "bowl": job["bowl"]}]}
        together = json.loads(self.post(shared, key, line=line.uid).content)
        for answers in (one, listed, together):
            self.check("post", "/api/1/forecasts", answers)
        self.assertEqual(one, listed[0])
        self.assertEqual(one, together[0])
        self.assertNotEqual(one["lab"], listed[1]["lab"])
        for given, kept in zip(one["lab"], ("forecast_l", "forecast_a", "forecast_b"), strict=True):
            self.assertAlmostEqual(given, float(getattr(self.formula, kept)), delta=0.0005 + 1e-9)
        self.assertProblem(self.post(job, key), 422, "Orchil")  # the engine's own shelf has no such tube
        elsewhere = make_person("Ballast Quay", "ballast").studio.lines.first()
        self.assertProblem(self.post(job, key, line=elsewhere.uid), 404)

    def test_a_refused_job_is_told_in_its_place_and_a_single_one_as_a_problem(self) -> None:
        key = self.key(May.FORECASTS)
        good = {"task": "predict", "canvas": {"level": 10}}
        answers = json.loads(self.post([good, {"task": "predict", "canvas": {"level": 99}}], key).content)
        self.check("post", "/api/1/forecasts", answers)
        self.assertEqual(answers[0]["lab"], run(good)["lab"])
        self.assertEqual((answers[1]["error"]["field"], answers[1]["index"]), ("canvas.level", 1))
        told = self.assertProblem(self.post({"task": "predict", "canvas": {"level": 99}}, key), 422, "canvas.level")
        self.assertEqual((told["field"], told["code"]), ("canvas.level", "out_of_range"))

    def test_they_are_bounded_in_kind_number_length_and_time(self) -> None:
        key, job = self.key(May.FORECASTS), {"task": "predict", "canvas": {"level": 10}}
        told = self.assertProblem(self.post({"task": "learn", "records": []}, key), 422, "learn")
        self.assertEqual(told["field"], "task")
        self.assertProblem(self.post([job] * 101, key), 422, "0 to 100")
        self.assertProblem(self.post({"jobs": [job] * 101}, key), 422, "0 to 100")
        many = {"task": "predict", "zones": {f"zone {place}": {"level": 9} for place in range(9)}}
        self.assertProblem(self.post(many, key), 422, "1 to 8")
        self.assertProblem(self.post(" " * 262_145, key), 413, "262144")
        self.assertProblem(self.post(" " * 2_000_000, key), 413)
        self.assertProblem(self.post(job, key, content_type="text/plain"), 415)
        self.assertProblem(self.post("{", key), 400, "not JSON")
        self.assertProblem(self.post('{"task": NaN}', key), 400, "NaN")
        self.assertProblem(self.post(b"\xff", key), 400)
        self.assertProblem(self.post("[" * 200_000, key), 400)
        with mock.patch("studio.api.forecasts.BOUNDS", replace(BOUNDS, seconds=-1)):
            (late,) = json.loads(self.post([job], key).content)
        self.assertEqual(late["error"]["code"], "out_of_time")


class Refused(ProgramsCase):
    def test_without_a_key_or_with_one_that_opens_nothing(self) -> None:
        key = self.key()
        for shown in (
            {},
            {"Authorization": ""},
            {"Authorization": f"Basic {key}"},
            {"Authorization": f"Bearer {key}x"},
        ):
            answer = Browser().get("/api/1/clients", headers=shown)
            self.assertProblem(answer, 401, "Authorization: Bearer")
            self.assertIn("Bearer", answer["WWW-Authenticate"])
        self.assertProblem(self.client.get("/api/1/clients"), 401)  # a session is no key
        self.assertProblem(self.ask("clients", ProgramKey.objects.get().key_hash), 401)

    def test_one_that_was_ended_or_is_over_or_whose_maker_owns_nothing_now(self) -> None:
        ended, over, left, demoted = (self.key() for _ in range(4))
        first, second, third, fourth = ProgramKey.objects.order_by("pk")
        self.client.post(reverse("programs:end", args=[first.pk]))
        ProgramKey.objects.filter(pk=second.pk).update(ends_on=timezone.now().date() - datetime.timedelta(days=1))
        gone = Person.objects.create_user("gone", studio=self.person.studio, role=Role.OWNER, is_active=False)
        less = Person.objects.create_user("less", studio=self.person.studio, role=Role.COLOURIST)
        ProgramKey.objects.filter(pk=third.pk).update(made_by=gone)
        ProgramKey.objects.filter(pk=fourth.pk).update(made_by=less)
        for key in (ended, over, left, demoted):
            self.assertProblem(self.ask("key", key), 401)
        page = self.client.get(reverse("programs:programs"))
        self.assertContains(page, "ended by ropery")
        self.assertContains(page, "opens nothing", 3)
        first.refresh_from_db()
        self.assertEqual(first.ended_by, self.person)

    def test_one_in_an_address_is_refused_unread(self) -> None:
        key = self.key()
        asked = ProgramKey.objects.values_list("asked", flat=True)
        for address in (f"clients?key={key}", f"clients?token={key}", f"{key}/clients", "clients?access_token=abc"):
            self.assertProblem(self.ask(address, key), 400, "address", "new one")
        self.assertEqual(list(asked), [0])

    def test_it_is_in_no_log(self) -> None:
        key = self.key()
        with self.assertLogs("rainshade.requests", "INFO") as logs:
            self.ask(f"{key}/clients", key)
            self.client.get("/calendar/abcdefgh/next-visits.ics")
        told = [record.told["path"] for record in logs.records]
        self.assertEqual(told, ["/api/1/rainshade_…/clients", "/calendar/…/next-visits.ics"])

    def test_what_it_may_not_read(self) -> None:
        pages = {
            May.CLIENTS: ["clients"],
            May.CARDS: ["formulas", "logbook.csv", f"clients/{self.visit.client.uid}/card"],
            May.SHELF: ["shelf"],
        }
        for may, addresses in pages.items():
            others = [each for each in ALL if each not in (may, May.HEALTH)]
            without, own = self.key(*others), self.key(may)
            for address in addresses:
                with self.subTest(address=address):
                    self.assertProblem(self.ask(address, without), 403, may)
                    self.assertEqual(self.ask(address, own).status_code, 200)
        answer = Browser().post("/api/1/forecasts", headers={"Authorization": f"Bearer {self.key(May.SHELF)}"})
        self.assertProblem(answer, 403, "forecasts")

    def test_another_studios_are_not_there(self) -> None:
        other = make_person("Ballast Quay", "ballast")
        Person.objects.filter(pk=other.pk).update(role=Role.OWNER)
        other.refresh_from_db()
        theirs = self.key(person=other)
        self.assertEqual(json.loads(self.ask("clients", theirs).content)["clients"], [])
        self.assertEqual(json.loads(self.ask("formulas", theirs).content)["formulas"], [])
        self.assertEqual(len(b"".join(self.ask("logbook.csv", theirs).streaming_content).splitlines()), 1)
        self.assertProblem(self.ask(f"clients/{self.visit.client.uid}/card", theirs), 404)
        self.assertProblem(self.ask(f"formulas?after={self.formula.uid}", theirs), 404)
        self.assertEqual(json.loads(self.ask("key", theirs).content)["studio"], "Ballast Quay")

    def test_over_its_limit_it_waits_for_the_next_minute(self) -> None:
        key, other = self.key(per_minute=30), self.key(per_minute=30)
        at = timezone.now().replace(second=40)
        with mock.patch("django.utils.timezone.now", return_value=at):
            self.assertEqual({self.ask("key", key).status_code for _ in range(30)}, {200})
            refused = self.ask("key", key)
            self.assertProblem(refused, 429, "30 times")
            self.assertEqual(refused["Retry-After"], "20")
            self.assertEqual(self.ask("key", other).status_code, 200)
        with mock.patch("django.utils.timezone.now", return_value=at + datetime.timedelta(seconds=20)):
            self.assertEqual(self.ask("key", key).status_code, 200)

    def test_what_is_asked_wrongly(self) -> None:
        key = self.key()
        for address, words in (
            ("clients?most=0", "most"),
            ("clients?most=201", "most"),
            ("clients?after=x", "after"),
            ("formulas?since=yesterday", "since"),
            ("formulas?since=2026-11-01T10:00:00", "since"),  # of which place?
            ("formulas?since=0001-01-01T00:00:00Z", "since"),
            ("formulas?since=99999999999999999999", "since"),
        ):
            with self.subTest(address=address):
                self.assertProblem(self.ask(address, key), 422, words)
        self.assertProblem(self.ask("clients/x/card", key), 404)
        self.assertProblem(self.ask("nothing", key), 404)
        self.assertProblem(self.ask("clients%00", key), 400)
        refused = Browser().delete("/api/1/clients", headers={"Authorization": f"Bearer {key}"})
        self.assertProblem(refused, 405)
        self.assertIn("GET", refused["Allow"])

    @override_settings(DEBUG_PROPAGATE_EXCEPTIONS=False)
    def test_a_fault_of_ours_is_told_as_a_problem_too(self) -> None:
        browser = Browser(raise_request_exception=False)
        with mock.patch("studio.api.routes.clients_page", side_effect=ZeroDivisionError):
            answer = browser.get("/api/1/clients", headers={"Authorization": f"Bearer {self.key()}"})
        self.assertProblem(answer, 500)


class Keys(ProgramsCase):
    def setUp(self) -> None:
        super().setUp()
        self.page = reverse("programs:programs")

    def make(self, **more: object):
        fields = {"name": "Till", "may": ["clients", "cards"], "per_minute": "120", "ends_on": ""} | more
        return self.client.post(self.page, fields, follow=True)

    def test_it_is_shown_once_and_kept_nowhere(self) -> None:
        shown = self.make().context["key"]
        self.assertTrue(shown.startswith("rainshade_"))
        self.assertEqual(self.ask("key", shown).status_code, 200)
        page = self.client.get(self.page)
        self.assertNotContains(page, shown)
        self.assertContains(page, f"…{shown[-4:]}")
        self.assertContains(page, "last read")
        self.assertNotIn(shown, str(ProgramKey.objects.values()))
        self.assertEqual(json.loads(self.ask("key", shown).content)["may"], ["clients", "cards"])

    def test_what_no_key_can_be_is_told_and_what_was_typed_stays(self) -> None:
        self.make()
        yesterday = str(timezone.now().date() - datetime.timedelta(days=1))
        for wrong, words in (
            ({"name": ""}, "required"),
            ({"name": "Till"}, "called Till already"),
            ({"name": "Desk", "may": []}, "required"),
            ({"name": "Desk", "may": ["health", "shelf"]}, "one of them"),
            ({"name": "Desk", "may": ["everything"]}, "everything"),
            ({"name": "Desk", "per_minute": "7"}, "7"),
            ({"name": "Desk", "ends_on": yesterday}, "day has passed"),
            ({"name": "Desk", "ends_on": "soon"}, "date"),
        ):
            with self.subTest(wrong=wrong):
                answer = self.make(**wrong)
                self.assertContains(answer, words, status_code=422)
                self.assertContains(
                    answer, f'value="{wrong.get("name", "Till")}"' if wrong.get("name") else "", status_code=422
                )
        self.assertEqual(ProgramKey.objects.count(), 1)

    def test_a_name_is_free_again_once_its_key_was_ended_and_there_are_so_many(self) -> None:
        self.make()
        self.client.post(reverse("programs:end", args=[ProgramKey.objects.get().pk]))
        self.assertTrue(self.make().context["key"])
        for place in range(19):
            self.key(name=f"more {place}")
        self.assertContains(self.make(name="One more"), "20 keys are open", status_code=422)

    def test_an_owner_alone_makes_and_ends_them(self) -> None:
        self.make()
        other = make_person("Ballast Quay", "ballast")
        Person.objects.filter(pk=other.pk).update(role=Role.OWNER)
        mine = ProgramKey.objects.get()
        self.client.force_login(other)
        self.assertEqual(self.client.post(reverse("programs:end", args=[mine.pk])).status_code, 404)
        self.assertNotContains(self.client.get(self.page), "Till")
        colourist = Person.objects.create_user("hand", studio=self.person.studio)
        self.client.force_login(colourist)
        self.assertEqual(self.make().status_code, 403)
        self.assertEqual(self.client.post(reverse("programs:end", args=[mine.pk])).status_code, 403)
        with self.assertRaises(Refusal):
            self.key(person=colourist)
        mine.refresh_from_db()
        self.assertIsNone(mine.ended_at)

    def test_the_database_keeps_no_key_that_could_not_be(self) -> None:
        self.make()
        for wrong in ({"may": []}, {"may": ["doors"]}, {"per_minute": 31}, {"ended_at": timezone.now()}):
            with self.assertRaises(IntegrityError), transaction.atomic():
                ProgramKey.objects.update(**wrong)
