"""100,000 formulas go out while two people work: tools/measure_export sets up a server and a worker, and calls this.

The whole studio is written by the worker, and the logbook is read over the network, both at once. Prints how long that
took, and how long the two waited for their pours, without it and beside it; whether every gram that was answered for is
in the records, and every formula of the moment in the archive. Exits non-zero where one is not.
"""

import http.client
import json
import sys
import threading
import time
import zipfile
from pathlib import Path

from django.urls import reverse
from django.utils import timezone

sys.path.insert(0, str(Path(__file__).resolve().parent))
import measure_cards
from django.core.files.storage import default_storage
from measure_load import PAUSE_S, POUR_P95_MS, Colourist, _kept, _p95, colourists

from studio.accounts.models import Person
from studio.archives.models import Transfer
from studio.archives.places import whole_name
from studio.archives.services.asking import ask_for_archive
from studio.cards.models import Formula

PEOPLE = 2
ALONE_S = 20.0
LONGEST_S = 900.0
LOOKS_EVERY_S = 0.5


def worked(everybody: list[Colourist], is_over: threading.Event) -> list[threading.Thread]:
    """They work until it is over."""

    def work(each: Colourist) -> None:
        steps = each.round()
        while not is_over.is_set():
            next(steps)
            time.sleep(PAUSE_S)

    threads = [threading.Thread(target=work, args=[each]) for each in everybody]
    for thread in threads:
        thread.start()
    return threads


def pours_ms(everybody: list[Colourist]) -> list[float]:
    """How long pours took so far, the quickest first; and begins anew."""
    took = sorted(ms for each in everybody for ms in each.took["a pour"])
    for each in everybody:
        each.took.clear()
    return took


def logbook(port: int, cookies: dict[str, str], told: dict[str, float]) -> None:
    """Read the logbook to its end, noting how many lines it had and how long it took."""
    began = time.perf_counter()
    line = http.client.HTTPConnection("127.0.0.1", port, timeout=LONGEST_S)
    header = {"Cookie": "; ".join(f"{name}={value}" for name, value in cookies.items()), "Host": "localhost"}
    line.request("GET", reverse("formats:logbook"), headers=header)
    answer, lines = line.getresponse(), 0
    while piece := answer.read(1_000_000):
        lines += piece.count(b"\r\n")
    told |= {"lines": lines, "seconds": time.perf_counter() - began}


def main(port: str, cards: str = "100000") -> int:
    """Fill, work alone, work beside both, compare. How the process ends."""
    measure_cards.CARDS = int(cards)
    person = Person.objects.get(username="lantern")
    start = time.perf_counter()
    measure_cards.fill(person)
    print(f"{Formula.objects.count()} formulas made in {time.perf_counter() - start:.0f} s")
    everybody = colourists(int(port), PEOPLE)
    for each in everybody:
        each.ask("first look", reverse("bench:bench", args=[each.visit.pk]))
    alone = threading.Event()
    threads = worked(everybody, alone)
    time.sleep(ALONE_S)
    alone.set()
    for thread in threads:
        thread.join()
    before = pours_ms(everybody)
    over, told = threading.Event(), dict[str, float]()
    threads = worked(everybody, over)
    asked, start = ask_for_archive(person, now=timezone.now()), time.perf_counter()
    known = Formula.objects.filter(client__studio=person.studio_id).count()
    reading = threading.Thread(target=logbook, args=[int(port), everybody[0].cookies, told])
    reading.start()
    while asked.finished_at is None and time.perf_counter() - start < LONGEST_S:
        time.sleep(LOOKS_EVERY_S)
        asked = Transfer.objects.get(pk=asked.pk)
    took_s = time.perf_counter() - start
    reading.join()
    over.set()
    for thread in threads:
        thread.join()
    beside = pours_ms(everybody)
    with default_storage.open(whole_name(asked.uid)) as file, zipfile.ZipFile(file) as archive:
        formulas = json.loads(archive.read("archive.json"))["tables"]["cards.Formula"]["rows"]
    lost = sum(each.poured - _kept(each) for each in everybody)
    faults = [fault for each in everybody for fault in each.faults]
    print(
        f"archive: {took_s:.0f} s, {asked.size / 1e6:.1f} MB, {formulas} formulas of {known}; {asked.failed or 'whole'}"
    )
    print(f"logbook: {told['lines']:.0f} lines in {told['seconds']:.0f} s")
    for name, ranked in (("alone", before), ("beside both", beside)):
        print(
            f"pours {name}: {len(ranked)}, median {ranked[len(ranked) // 2]:.0f} ms, 95 % within {_p95(ranked):.0f} ms"
        )
    print(f"grams answered for and not in the records: {lost}; faults: {faults[:5] or 'none'}")
    is_wrong = lost != 0 or bool(faults) or bool(asked.failed) or formulas < known or told["lines"] < known
    return int(is_wrong or _p95(beside) > POUR_P95_MS)


if __name__ == "__main__":
    sys.exit(main(*sys.argv[1:]))
