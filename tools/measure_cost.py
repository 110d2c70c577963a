"""What a visit costs, and how many studios a machine bears: tools/measure_cost sets the database up and calls this.

Each page is asked for as a browser asks, by hand-made heads, and the processors' time of the application and of the
database's own process is told apart. A visit is what `VISIT` says; a day and a studio what the table says. Writes
docs/operations/cost.md.
"""

import importlib
import os
import statistics
import sys
import time
from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import Any, Final

from django.db import connection
from django.test import Client as Browser
from django.urls import reverse
from django.utils import timezone

import studio.wsgi  # noqa: F401 - sets Django up and is warmed up as a server is
from studio.accounts.models import Person
from studio.shelf.models import Shade
from studio.visits.models import Visit

sys.path.insert(0, str(Path(__file__).resolve().parent))
from measure_pages import CASES, head, version

from deploy.drill.ledger import machine

PAGE: Final = Path(__file__).resolve().parents[1] / "docs" / "operations" / "cost.md"
PAPER: Final = Path(__file__).with_suffix(".md")
TICKS: Final = os.sysconf("SC_CLK_TCK")
ROUNDS: Final = 4  # of all heads; the database's time is told in hundredths of a second, and so over many
KEPT_VISITS: Final = 60
# What one visit asks for: a way with some looking about, in one bowl. Parts come with the page or the tap before.
VISIT: Final = {
    "Cards": 2,
    "Chairs": 4,
    "Consult": 2,
    "Read": 3,
    "Route": 2,
    "Plan": 2,
    "Bench": 4,
    "a gram on the Bench": 25,
    "its corrections": 12,
    "its gates": 4,
    "Hit the aim": 1,
    "Pour": 6,
    "Clock": 60,
    "Result": 3,
    "Care": 2,
}
VISITS_A_DAY, HOURS, PEAK, AT_MOST = 6, 8.0, 3.0, 0.5  # of one studio; at its busiest; of a core, to stay quick
WORKING_DAYS: Final = 280
Ask = Callable[[], Any]


def backend_s(pid: int) -> float:
    """Seconds of processors that a database's process has used."""
    parts = Path(f"/proc/{pid}/stat").read_text(encoding="ascii").rpartition(")")[2].split()
    return (int(parts[11]) + int(parts[12])) / TICKS


def measured(ask: list[Ask]) -> tuple[float, float]:
    """Milliseconds of the application and of the database for one answer of these. Raises RuntimeError."""
    with connection.cursor() as cursor:
        cursor.execute("SELECT pg_backend_pid()")
        (pid,) = cursor.fetchone()
    for each in ask[: len(CASES)]:
        each()  # met once, as a page that is looked at again
    ours, theirs = time.process_time(), backend_s(pid)
    for _ in range(ROUNDS):
        for each in ask:
            answer = each()
            if answer.status_code != 200:
                raise RuntimeError(f"an answer of {answer.status_code}")
            answer.close()
    count = ROUNDS * len(ask)
    return 1000 * (time.process_time() - ours) / count, 1000 * (backend_s(pid) - theirs) / count


def costs(person: Person, browser: Browser) -> dict[str, tuple[float, float]]:
    """By the names of VISIT."""
    visits = [head(person, number, 0) for number in range(len(CASES))]
    shade = Shade.objects.visible_to(person).get(name="Woad", line__name="Ropewalk direct")
    part = {"HX-Request": "true"}

    def page(name: str, query: str = "", headers: dict[str, str] | None = None) -> list[Ask]:
        return [partial(browser.get, reverse(name, args=[each.pk]) + query, headers=headers) for each in visits]

    def gram(visit: Visit) -> Any:
        fields = {"version": version(visit), "shade": shade.pk, "by": "0.5", "shown": "steer"}
        return browser.post(reverse("bench:pour", args=[visit.pk]), fields, headers=part)

    grams: list[Ask] = [partial(gram, each) for each in visits]
    asked: dict[str, list[Ask]] = {
        "Cards": [partial(browser.get, reverse("cards:list"))] * len(visits),
        "Chairs": [partial(browser.get, reverse("chairs:chairs"))] * len(visits),
        "Consult": page("visits:consult"),
        "Read": page("visits:read"),
        "Route": page("route:route"),
        "Plan": page("route:plan"),
        "Bench": page("bench:bench", "?mode=steer"),
        "a gram on the Bench": grams,
        "its corrections": page("bench:fixes", headers=part),
        "its gates": page("bench:gates", headers=part),
        "Hit the aim": page("bench:bench", "?answers=1"),
        "Pour": page("pour:pour"),
        "Clock": page("clocks:clock", headers=part),
        "Result": page("result:result"),
        "Care": page("result:care"),
    }
    return {name: measured(ask) for name, ask in asked.items()}


def bytes_of_a_visit(person: Person) -> float:
    """What the database grows by for a client, a visit in one bowl with its traces, and a judged formula."""

    def size() -> int:
        with connection.cursor() as cursor:
            cursor.execute("SELECT pg_database_size(current_database())")
            (found,) = cursor.fetchone()
        return int(found)

    states = importlib.import_module("tests.journeys.states").Studio(person)  # visits as journeys meet them
    for number in range(KEPT_VISITS // 3):
        states.kept(f"Warm {number}")
    before = size()
    for number in range(KEPT_VISITS):
        states.kept(f"Kept {number}")
    return (size() - before) / KEPT_VISITS


def table(found: dict[str, tuple[float, float]], grown: float) -> str:
    """The page of the docs."""
    lines = ["| what is asked for | application, CPU ms | database, CPU ms | in a visit |", "|---|---|---|---|"]
    lines += [f"| {name} | {ours:.1f} | {theirs:.1f} | {VISIT[name]} |" for name, (ours, theirs) in found.items()]
    ours_s = sum(found[name][0] * times for name, times in VISIT.items()) / 1000
    theirs_s = sum(found[name][1] * times for name, times in VISIT.items()) / 1000
    busy = VISITS_A_DAY * (ours_s + theirs_s) / (HOURS * 3600) * PEAK
    yearly = VISITS_A_DAY * WORKING_DAYS * grown
    told = {
        "day": timezone.now(),
        "machine": machine(),
        "rounds": ROUNDS,
        "lines": "\n".join(lines),
        "answers": sum(VISIT.values()),
        "ours_s": ours_s,
        "theirs_s": theirs_s,
        "kilobytes": grown / 1000,
        "visits": VISITS_A_DAY,
        "peak": PEAK,
        "hours": HOURS,
        "share": 100 * busy,
        "borne": AT_MOST / busy,
        "days": WORKING_DAYS,
        "yearly_mb": yearly / 1e6,
        "in_a_gb": 1e9 / yearly,
        "cores_100": 100 * busy / AT_MOST,
        "gb_100": 100 * yearly / 1e9,
        "cores_10000": 10_000 * busy / AT_MOST,
        "tb_10000": 10_000 * yearly / 1e12,
    }
    return PAPER.read_text(encoding="utf-8").format(**told)


def main() -> None:
    """Measure, and write."""
    person = Person.objects.get(username="lantern")
    browser = Browser(SERVER_NAME="localhost")
    browser.force_login(person)
    found = costs(person, browser)
    PAGE.write_text(table(found, bytes_of_a_visit(person)), encoding="utf-8")
    print(PAGE.read_text(encoding="utf-8"))
    print(f"median of all: {statistics.median(ours for ours, _ in found.values()):.1f} CPU ms")


if __name__ == "__main__":
    main()
