"""Busy colourists at a server of their own: tools/measure_load sets up and calls this.

Each has a head, aimed at, and does what is done beside a bowl, with a second between: looks at the Bench, pours, lets
corrections and gates come, goes to the scale, the clock, the chairs and the cards. Their first look at the Bench is
told apart. Prints how long each answer took, what a request cost the server's processors, and whether every gram that
was answered for is in the records. Exits non-zero when one is over its budget, an answer is a fault, or a gram is lost.
"""

import http.client
import os
import re
import statistics
import sys
import threading
import time
from collections import defaultdict
from collections.abc import Iterator
from dataclasses import dataclass, field
from decimal import Decimal
from pathlib import Path
from urllib.parse import urlencode

from django.test import Client as Browser
from django.urls import reverse

import studio.wsgi  # noqa: F401 - sets Django up
from studio.accounts.models import Person
from studio.head.models import Portion
from studio.shelf.models import Shade
from studio.visits.models import Visit

sys.path.insert(0, str(Path(__file__).resolve().parent))
from measure_pages import CASES, head

COLOURISTS, SECONDS = 20, 60
PAUSE_S = 1.0
POUR_P95_MS = 1000.0
CPU_MS = 25.0  # of the server for a mixed request
SHOWN = re.compile(r'name="(?:seen|version)"\s+value="(\d+)"')
TICKS = os.sysconf("SC_CLK_TCK")


@dataclass
class Colourist:
    """One of them, with what was answered: milliseconds by kind, grams that were acknowledged, and what was refused."""

    port: int
    cookies: dict[str, str]
    visit: Visit
    shade: Shade
    took: dict[str, list[float]] = field(default_factory=lambda: defaultdict(list))
    poured: Decimal = Decimal(0)
    faults: list[str] = field(default_factory=list)
    version: str = "0"

    def __post_init__(self) -> None:
        self.line = http.client.HTTPConnection("127.0.0.1", self.port, timeout=30)

    def work(self, until: float) -> None:
        """Go round until then; a fault is noted, and the round goes on."""
        steps = self.round()
        while time.monotonic() < until:
            next(steps)
            time.sleep(PAUSE_S)
        self.line.close()

    def round(self) -> Iterator[bool]:
        """One request after another, for ever."""
        at = {name: reverse(name, args=[self.visit.pk]) for name in ("bench:bench", "bench:fixes", "bench:gates")}
        at |= {name: reverse(name, args=[self.visit.pk]) for name in ("pour:pour", "clocks:clock", "bench:pour")}
        while True:
            yield self.ask("Bench", at["bench:bench"])
            for _ in range(4):
                yield self.pour(at["bench:pour"])
            yield self.ask("corrections", at["bench:fixes"], part=True)
            yield self.ask("gates", at["bench:gates"], part=True)
            yield self.ask("Pour", at["pour:pour"])
            yield self.ask("Clock", at["clocks:clock"])
            yield self.ask("Chairs", reverse("chairs:chairs"))
            yield self.ask("Cards", reverse("cards:list"))

    def pour(self, path: str) -> bool:
        """One gram more; what is answered for is counted."""
        fields = {"version": self.version, "shade": self.shade.pk, "by": "1", "shown": "steer"}
        is_made = self.ask("a pour", path, fields)
        self.poured += is_made
        return is_made

    def send(self, method: str, path: str, body: str | None, told: dict[str, str]) -> http.client.HTTPResponse:
        """A request, sent anew over a new connection where the old one was closed meanwhile, as browsers do."""
        try:
            self.line.request(method, path, body, told)
            return self.line.getresponse()
        except (http.client.RemoteDisconnected, BrokenPipeError):
            self.line.close()
            self.line.request(method, path, body, told)
            return self.line.getresponse()

    def ask(self, kind: str, path: str, fields: dict[str, object] | None = None, *, part: bool = False) -> bool:
        """One request, timed. Whether it was answered as it should be."""
        told = {"Cookie": "; ".join(f"{name}={value}" for name, value in self.cookies.items()), "Host": "localhost"}
        body = None
        if fields is not None:
            body = urlencode({**fields, "csrfmiddlewaretoken": self.cookies["csrftoken"]})
            told |= {"Content-Type": "application/x-www-form-urlencoded", "HX-Request": "true"}
        elif part:
            told["HX-Request"] = "true"
        began = time.perf_counter()
        try:
            answer = self.send("GET" if body is None else "POST", path, body, told)
            text = answer.read().decode()
        except (OSError, http.client.HTTPException) as fault:
            self.faults.append(f"{kind}: {fault!r}")
            self.line.close()
            return False
        self.took[kind].append(1000 * (time.perf_counter() - began))
        if shown := SHOWN.findall(text):
            self.version = max(shown, key=int)
        if answer.status != 200:
            self.faults.append(f"{kind}: {answer.status}")
        return answer.status == 200


def colourists(port: int, many: int) -> list[Colourist]:
    """Each signed in, with a head of their own."""
    person = Person.objects.get(username="lantern")
    shade = Shade.objects.visible_to(person).get(name="Woad", line__name="Ropewalk direct")
    found = []
    for number in range(many):
        browser = Browser(SERVER_NAME="localhost")
        browser.force_login(person)
        browser.get(reverse("clients:new"))
        cookies = {name: morsel.value for name, morsel in browser.cookies.items()}
        found.append(Colourist(port=port, cookies=cookies, visit=head(person, number % len(CASES), 0), shade=shade))
    return found


def cpu_s(server: int) -> float:
    """Seconds of processors that a server and its workers have used."""
    below = Path(f"/proc/{server}/task/{server}/children").read_text(encoding="ascii").split()
    spent = 0.0
    for pid in (str(server), *below):
        parts = Path(f"/proc/{pid}/stat").read_text(encoding="ascii").rpartition(")")[2].split()
        spent += (int(parts[11]) + int(parts[12])) / TICKS
    return spent


def measured(port: int, server: int, many: int, seconds: float) -> int:
    """Print what came of it; how much is over its budget or lost."""
    everybody = colourists(port, many)
    for each in everybody:
        each.ask("first look", reverse("bench:bench", args=[each.visit.pk]))
    before, until = cpu_s(server), time.monotonic() + seconds
    threads = [threading.Thread(target=each.work, args=[until]) for each in everybody]
    for place, thread in enumerate(threads):
        thread.start()
        time.sleep(PAUSE_S / many if place < many - 1 else 0)  # nobody works in step
    for thread in threads:
        thread.join()
    spent = cpu_s(server) - before
    took: dict[str, list[float]] = defaultdict(list)
    for each in everybody:
        for kind, each_ms in each.took.items():
            took[kind] += each_ms
    for kind, all_ms in took.items():
        ranked = sorted(all_ms)
        print(
            f"{kind:12} {len(ranked):5} asked  median {statistics.median(ranked):6.0f} ms  95 % {_p95(ranked):6.0f} ms"
        )
    count = sum(len(all_ms) for kind, all_ms in took.items() if kind != "first look")
    lost = sum(each.poured - _kept(each) for each in everybody)
    faults = [fault for each in everybody for fault in each.faults]
    cost, p95 = 1000 * spent / count, _p95(sorted(took["a pour"]))
    print(f"{many} colourists, {count} requests, {count / seconds:.0f} a second")
    print(f"a request costs the server {cost:.1f} CPU ms, of at most {CPU_MS:g}{'  OVER' * (cost > CPU_MS)}")
    print(f"95 % of pours within {p95:.0f} ms, of at most {POUR_P95_MS:g}{'  OVER' * (p95 > POUR_P95_MS)}")
    print(f"grams answered for and not in the records: {lost}; faults: {faults[:5] or 'none'}")
    return (cost > CPU_MS) + (p95 > POUR_P95_MS) + (lost != 0) + bool(faults)


def _kept(each: Colourist) -> Decimal:
    """The grams of their shade in the records."""
    found = Portion.objects.filter(bowl__worktop__visit=each.visit, shade=each.shade)
    return sum(found.values_list("grams", flat=True), Decimal(0))


def _p95(ranked: list[float]) -> float:
    return ranked[min(int(0.95 * len(ranked)), len(ranked) - 1)]


def main(port: str, server: str, many: str = str(COLOURISTS), seconds: str = str(SECONDS)) -> int:
    """How the process ends."""
    return min(measured(int(port), int(server), int(many), float(seconds)), 1)


if __name__ == "__main__":
    sys.exit(main(*sys.argv[1:]))
