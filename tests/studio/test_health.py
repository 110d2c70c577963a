"""What those who watch the server are told, and what its log says."""

import json
import logging
from types import SimpleNamespace
from unittest.mock import patch

from django.db import OperationalError, connection
from django.test import Client as Browser
from django.urls import reverse
from django.utils import timezone

from studio.ui import health
from studio.ui.logs import HEADER, JsonLines
from tests.studio.made import StudioCase

HEALTH = "studio.ui.health"


class Health(StudioCase):
    def setUp(self) -> None:
        super().setUp()
        self.addCleanup(setattr, health, "_migrated_at", None)

    def ready(self) -> tuple[int, dict[str, object]]:
        answer = Browser().get("/health/ready")
        return answer.status_code, answer.json()

    def work(self) -> None:
        with connection.cursor() as cursor:
            cursor.execute("INSERT INTO procrastinate_workers (last_heartbeat) VALUES (%s)", [timezone.now()])

    def test_it_lives_without_a_database_a_person_or_a_known_host(self) -> None:
        with self.assertNumQueries(0), patch.object(connection, "cursor", side_effect=OperationalError("away")):
            for browser in (self.client, Browser(SERVER_NAME="somewhere.else")):
                self.assertEqual(browser.get("/health/live").json(), {"live": "ok"})
            self.assertEqual(self.client.head("/health/live").status_code, 200)

    def test_it_is_ready_once_all_is_there_and_says_when_no_worker_is(self) -> None:
        self.assertEqual(self.ready()[0], 200)
        self.assertEqual(self.ready()[1]["worker"], "away")
        self.work()
        told = {"ready": True, "database": "ok", "migrations": "ok", "disk": "ok", "worker": "ok"}
        self.assertEqual(self.ready(), (200, told))

    def test_a_database_that_is_away_closes_it_for_five_seconds(self) -> None:
        with patch.object(connection, "cursor", side_effect=OperationalError("away")) as asked:
            answer = Browser().get("/health/ready")
        self.assertEqual(asked.call_count, 1, "each look waits for as long as a connection may take")
        self.assertEqual((answer.status_code, answer["Retry-After"]), (503, "5"))
        self.assertEqual(answer.json()["database"], "away")

    def test_migrations_that_are_missing_and_a_full_disk_close_it(self) -> None:
        with patch(f"{HEALTH}.MigrationExecutor.migration_plan", return_value=["one"]):
            code, told = self.ready()
        self.assertEqual((code, told["migrations"]), (503, "1 missing"))
        with patch(f"{HEALTH}.shutil.disk_usage", return_value=SimpleNamespace(free=12_000_000)):
            code, told = self.ready()
        self.assertEqual((code, told["disk"]), (503, "12 MB free"))

    def test_migrations_are_read_once_a_minute(self) -> None:
        self.ready()
        with patch(f"{HEALTH}.MigrationExecutor", side_effect=AssertionError("read again")):
            self.assertEqual(self.ready()[0], 200)

    def test_pages_answer_a_look_at_their_head(self) -> None:
        visit = [self.visit.pk]
        for name, args in (
            *((name, []) for name in ("cards:list", "chairs:chairs", "shelf:shelf", "learning:learned", "clients:new")),
            *((name, visit) for name in ("visits:consult", "visits:read", "bench:bench", "route:route", "route:plan")),
            *((name, visit) for name in ("pour:pour", "clocks:clock", "result:result", "result:care")),
        ):
            with self.subTest(page=name):
                answer = self.client.head(reverse(name, args=args))
                self.assertEqual((answer.status_code, answer.content), (200, b""))


class Logs(StudioCase):
    def test_a_request_is_told_with_its_id_and_without_what_was_asked_for(self) -> None:
        with self.assertLogs("rainshade.requests", logging.INFO) as logged:
            answer = self.client.get(reverse("cards:list"), {"q": "Ilka Brandt"}, headers={HEADER: "front-7"})
        self.assertEqual(answer[HEADER], "front-7")
        line = JsonLines().format(logged.records[0])
        told = json.loads(line)
        self.assertEqual((told["method"], told["path"], told["status"]), ("GET", reverse("cards:list"), 200))
        self.assertGreater(told["ms"], 0)
        self.assertNotIn("Ilka", line)

    def test_an_id_that_could_break_a_log_is_not_taken_over(self) -> None:
        for given in ("", "two\twords", "drei-Äpfel", '"}'):
            answer = self.client.get("/health/live", headers={HEADER: given})
            self.assertRegex(answer[HEADER], r"^[0-9a-f]{32}$")

    def test_a_fault_is_one_line_with_its_trace(self) -> None:
        try:
            raise RuntimeError("ours\nin two lines")
        except RuntimeError as fault:
            caught = (RuntimeError, fault, fault.__traceback__)
        record = logging.LogRecord("studio", logging.ERROR, __file__, 1, "it %s", ("broke",), caught)
        line = JsonLines().format(record)
        self.assertNotIn("\n", line)
        told = json.loads(line)
        self.assertEqual((told["level"], told["words"]), ("error", "it broke"))
        self.assertIn("RuntimeError: ours", told["trace"])
