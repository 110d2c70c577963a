"""The server killed in mid-pour, and the database restarted under load: what was answered is kept, once."""

import http.client
import http.cookiejar
import os
import re
import signal
import subprocess
import sys
import tempfile
import threading
import time
import unittest
import urllib.error
import urllib.parse
import urllib.request
from collections.abc import Callable
from decimal import Decimal
from pathlib import Path

from django.db import connections
from django.db.models import Sum
from django.utils import timezone

from studio.accounts.models import Person, SentOnce
from studio.clients.services.add_client import add_client
from studio.clocks.models import ZoneClock
from studio.head.models import Coat, Portion, Worktop
from studio.head.services.coats import add_coat
from studio.head.services.open_bowl import open_bowl
from studio.head.services.pour import pour
from studio.pour.models import Weighing
from studio.shelf.models import Shade
from studio.visits.models import Visit
from studio.visits.selectors import open_zone
from studio.visits.services.read_hair import read_hair
from studio.visits.services.start_visit import start_visit

ROOT = Path(__file__).resolve().parents[2]
PATIENCE_S = 180
GRAMS = Decimal("0.5")
FIRST_PORT = 18_600  # below those that the system hands out: one of those may connect to itself while nobody listens


class Server:
    """Gunicorn as ./run starts it, in a process group of its own."""

    def __init__(self) -> None:
        self.port = FIRST_PORT
        self.process: subprocess.Popen[bytes] | None = None

    def start(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            ready = Path(folder) / "ready"
            command = [sys.executable, "-m", "studio.serving", str(self.port)]
            environment = os.environ | {"RAINSHADE_READY": str(ready)}
            self.process = subprocess.Popen(
                command, cwd=ROOT, start_new_session=True, stderr=subprocess.DEVNULL, env=environment
            )
            deadline = time.monotonic() + PATIENCE_S
            while not (ready.exists() and ready.read_text(encoding="ascii")):
                if time.monotonic() > deadline:
                    raise TimeoutError("the server did not start")
                time.sleep(0.05)
            self.port = int(ready.read_text(encoding="ascii"))

    def kill(self) -> None:
        """No farewell: the master and every worker at once, as a power cut would."""
        if self.process is not None:
            os.killpg(self.process.pid, signal.SIGKILL)
            self.process.wait()
            self.process = None


class Browser:
    """One tablet: cookies, the page's form fields, and posts. A request that fails answers None."""

    def __init__(self, server: Server) -> None:
        self.server = server
        self.jar = http.cookiejar.CookieJar()
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(self.jar))

    def ask(self, path: str, fields: dict[str, str] | None = None) -> tuple[int, str] | None:
        sent = urllib.parse.urlencode(fields).encode() if fields is not None else None
        request = urllib.request.Request(f"http://127.0.0.1:{self.server.port}{path}", data=sent)
        if fields is not None:
            request.add_header("Referer", f"http://127.0.0.1:{self.server.port}/")
        try:
            with self.opener.open(request, timeout=PATIENCE_S) as answer:
                return answer.status, answer.read().decode()
        except urllib.error.HTTPError as error:
            return error.code, error.read().decode(errors="replace")
        except (OSError, http.client.HTTPException):
            return None

    def fields_of(self, path: str) -> dict[str, str] | None:
        found = self.ask(path)
        if found is None or found[0] != 200:
            return None
        names = ("csrfmiddlewaretoken", "version", "token", "zone")
        return {name: _field(found[1], name) for name in names}

    def sign_in(self) -> None:
        token = _field((self.ask("/sign-in/") or (0, ""))[1], "csrfmiddlewaretoken")
        password = os.environ["RAINSHADE_DEMO_PASSWORD"]
        self.ask("/sign-in/", {"csrfmiddlewaretoken": token, "username": "lantern", "password": password})


def _field(page: str, name: str) -> str:
    found = re.search(rf'name="{name}"\s+value="([^"]*)"', page)
    return found.group(1) if found else ""


class Faults(unittest.TestCase):
    def setUp(self) -> None:
        self.server = Server()
        self.server.start()
        self.addCleanup(self.server.kill)
        self.person = Person.objects.get(username="lantern")
        self.visit, self.shade = self.poured_visit()
        self.path = f"/visits/{self.visit.pk}/pour/"
        self.since = timezone.now()
        self.answered: list[str] = []
        self.tablet = Browser(self.server)
        self.tablet.sign_in()

    def poured_visit(self) -> tuple[Visit, int]:
        """A visit with a bowl of which a great deal is to be poured."""
        client = add_client(self.person, name=f"Fault {time.monotonic_ns()}", about="triangle")
        visit = start_visit(self.person, client_id=client.pk, day=timezone.localdate())
        zone_id = open_zone(self.person, visit.pk).zone.pk
        hair = {"level": 10, "warmth": 0, "lean": 0, "porosity": 1, "grey": 0}
        read_hair(self.person, zone_id=zone_id, after=0, hair={name: Decimal(part) for name, part in hair.items()})
        bowl = open_bowl(self.person, zone_id=zone_id)
        shade = Shade.objects.visible_to(self.person).get(name="Orchil")
        pour(self.person, zone_id=zone_id, version=bowl.version, shade_id=shade.pk, typed="900")
        return visit, shade.pk

    def pour_once(self) -> bool:
        """Pour half a gram as a page would; whether it was answered. A token that was answered is noted."""
        fields = self.tablet.fields_of(self.path)
        if fields is None:
            return False
        sent = fields | {"line": str(self.shade), "grams": str(GRAMS)}
        found = self.tablet.ask(f"{self.path}weigh/", sent)
        if found is None or found[0] != 200:
            return False
        self.answered.append(fields["token"])
        return True

    def pour_while(self, trouble: Callable[[], None], *, before: int = 5) -> None:
        """Pour without a pause, and let the trouble come in the middle of it."""
        stop = threading.Event()

        def work() -> None:
            while not stop.is_set():
                self.pour_once()

        hand = threading.Thread(target=work)
        hand.start()
        deadline = time.monotonic() + PATIENCE_S
        while len(self.answered) < before and time.monotonic() < deadline:
            time.sleep(0.01)
        trouble()
        stop.set()
        hand.join()

    def check_nothing_lost_or_doubled(self) -> None:
        connections.close_all()
        weighings = Weighing.objects.filter(batch__bowl__worktop__visit=self.visit)
        made = set(SentOnce.objects.filter(person=self.person, made_at__gte=self.since).values_list("token", flat=True))
        self.assertTrue(self.answered)
        self.assertFalse(set(self.answered) - made, "what was answered is gone")
        # Each step has its weighing, and the bowl holds exactly what was weighed: never a half of one.
        self.assertEqual(weighings.count(), len(made))
        weighed = weighings.aggregate(g=Sum("poured_g"))["g"]
        poured = Portion.objects.get(bowl__worktop__visit=self.visit)
        self.assertEqual(poured.mixed_g, weighed)
        self.assertEqual(weighed, GRAMS * len(made))

    def test_a_server_killed_in_mid_pour_loses_nothing(self) -> None:
        self.pour_while(self.server.kill)
        self.server.start()
        self.check_nothing_lost_or_doubled()
        self.assertTrue(self.pour_once(), "the page goes on where it was")
        self.check_nothing_lost_or_doubled()

    def test_a_pour_whose_answer_never_came_is_sent_again_and_poured_once(self) -> None:
        fields = self.tablet.fields_of(self.path)
        sent = (fields or {}) | {"line": str(self.shade), "grams": str(GRAMS)}
        sender = threading.Thread(target=lambda: self.tablet.ask(f"{self.path}weigh/", sent))
        sender.start()
        time.sleep(0.03)
        self.server.kill()
        sender.join()
        self.server.start()
        self.tablet.ask(f"{self.path}weigh/", sent)
        self.answered.append(sent["token"])
        self.check_nothing_lost_or_doubled()

    def test_a_server_killed_between_two_coats_knows_what_is_on_and_what_waits(self) -> None:
        clock, zone = f"/visits/{self.visit.pk}/clock/", self.visit.zones.get()
        version = Worktop.objects.get(visit=self.visit).version
        glaze = add_coat(self.person, zone_id=zone.pk, version=version, purpose=Coat.Purpose.GLAZE).coat_id
        start = (self.tablet.fields_of(clock) or {}) | {"zone": str(zone.pk), "kind": "direct", "waited_s": "60"}
        self.assertEqual((self.tablet.ask(f"{clock}start/", start) or (0,))[0], 200)
        self.server.kill()
        self.server.start()
        running = ZoneClock.objects.get(zone=zone)
        self.assertIsNone(running.rinsed_at)
        self.assertNotEqual(running.coat_id, glaze)
        self.tablet.ask(f"{clock}start/", start)  # the page that was open sends its change again
        rinse = (self.tablet.fields_of(clock) or {}) | {"clock": str(running.pk)}
        self.tablet.ask(f"{clock}act/", rinse)
        rinsed = ZoneClock.objects.get(zone=zone)
        self.assertIsNotNone(rinsed.rinsed_at)
        self.assertEqual(rinsed.applied_at, running.applied_at)
        begun = dict(Coat.objects.filter(zone=zone, removed=False).values_list("pk", "begun"))
        self.assertEqual({pk for pk, is_on in begun.items() if is_on}, {running.coat_id})
        found = self.tablet.ask(f"/visits/{self.visit.pk}/bench/?zone={zone.pk}&coat_id={glaze}")
        self.assertEqual((found or (0,))[0], 200)

    def test_a_database_that_crashes_under_load_loses_nothing_and_the_page_comes_back(self) -> None:
        self.pour_while(crash_database)
        deadline = time.monotonic() + PATIENCE_S
        while not self.pour_once() and time.monotonic() < deadline:
            time.sleep(0.1)
        self.check_nothing_lost_or_doubled()


def crash_database() -> None:
    """Restart PostgreSQL without letting it finish anything, as a crash would."""
    command = [os.environ["FAULTS_PG_CTL"], "-D", os.environ["FAULTS_DATA"], "-m", "immediate", "-w", "-s", "restart"]
    if os.geteuid() == 0:
        command = ["runuser", "-u", "postgres", "--", *command]
    subprocess.run(command, check=True, cwd="/", stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)


if __name__ == "__main__":
    unittest.main()
