"""An archive of 10,000 cards out and in: tools/measure_archive sets the database up and calls this.

Prints seconds, bytes and the memory that it took at most, each as a share of its budget; exits non-zero over one.
"""

import datetime
import random
import resource
import time

import django

django.setup()

from django.core.files.storage import default_storage
from django.db import connection
from django.utils import timezone

from engine.service.roles import Role
from studio.accounts.models import Person, Studio
from studio.archives.models import Transfer
from studio.archives.places import PIECE_BYTES, whole_name
from studio.archives.services.asking import ask_for_archive, begin_bringing, bring_part
from studio.archives.services.carry import carry
from studio.archives.writing import row_counts
from studio.cards.models import Formula
from studio.formats.entry import Row, entry_of
from studio.formats.services.keep_formulas import keep_formulas
from studio.formats.services.telling import Told
from studio.shelf.models import ShadeLine
from studio.shelf.selectors import stocked_line

CARDS = 10_000
PIECE = 250
OUT_S, IN_S, MEMORY_MB = 60.0, 90.0, 400.0  # what a worker beside two servers may take on the smallest machine


def fill(person: Person) -> None:
    """A client, a visit, a formula and its result for each card, as a file brings them."""
    chance = random.Random(11)
    shelf = {line.name: stocked_line(line) for line in ShadeLine.objects.visible_to(person)}
    names = [shade.name for shade in shelf["Ropewalk direct"].shades if shade.name != "Clear"]
    now = timezone.now()
    for start in range(0, CARDS, PIECE):
        rows = []
        for number in range(start, start + PIECE):
            pours = [{"shade": each, "grams": chance.randint(1, 9)} for each in chance.sample(names, 2)]
            lab = [chance.uniform(20, 80), chance.uniform(-20, 50), chance.uniform(-30, 50)]
            formula = {
                "saved_at": (now - datetime.timedelta(days=chance.randrange(1, 2000))).isoformat(),
                "zone": "whole head",
                "part": "whole",
                "line": "Ropewalk direct",
                "wanted_g": 60,
                "hair": {"level": round(chance.uniform(8, 10), 1), "porosity": 1, "family": "lightened"},
                "pours": [*pours, {"shade": "Clear", "grams": 40}],
                "forecast_lab": lab,
                "result": {"lab": lab, "source": "eye"},
            }
            rows.append(Row(line=number, client=f"Client {number}", about="", formula=formula))
        keep_formulas(person, [entry_of(row) for row in rows], shelf, Told())
    with connection.cursor() as cursor:
        cursor.execute("ANALYZE")


def memory_mb() -> float:
    """What this process has had at most."""
    return resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024


def main() -> None:
    """Fill, write, bring, and compare."""
    person = Person.objects.get(username="lantern")
    start = time.perf_counter()
    fill(person)
    rows, before_mb = row_counts(person.studio_id), memory_mb()
    print(f"{CARDS} cards, {rows} rows, made in {time.perf_counter() - start:.0f} s; memory so far {before_mb:.0f} MB")
    asked = ask_for_archive(person, now=timezone.now())
    start = time.perf_counter()
    carry(asked.pk)
    out_s = time.perf_counter() - start
    asked.refresh_from_db()
    if asked.failed:
        raise SystemExit(asked.failed)
    size = f"{asked.size / 1e6:.1f} MB, {asked.size / rows:.0f} bytes a row"
    print(f"written: {out_s:.1f} s, {out_s / OUT_S:.2f} of {OUT_S:g}; {size}")
    other = Person.objects.create_user(
        username="keel", password="salt and rope", studio=Studio.objects.create(name="Ballast Quay"), role=Role.OWNER
    )
    begun = begin_bringing(other, size=asked.size)
    with default_storage.open(whole_name(asked.uid)) as file:
        number = 0
        while body := file.read(PIECE_BYTES):
            bring_part(other, transfer_id=begun.pk, number=number, body=body, now=timezone.now())
            number += 1
    start = time.perf_counter()
    carry(begun.pk)
    in_s = time.perf_counter() - start
    begun = Transfer.objects.get(pk=begun.pk)
    if begun.failed:
        raise SystemExit(begun.failed)
    more_mb = memory_mb() - before_mb
    print(f"brought: {in_s:.1f} s, {in_s / IN_S:.2f} of {IN_S:g}; {row_counts(other.studio_id)} rows")
    print(f"memory: {more_mb:.0f} MB more at most, {more_mb / MEMORY_MB:.2f} of {MEMORY_MB:g}")
    kept = Formula.objects.filter(client__studio=other.studio_id).count()
    if kept != Formula.objects.filter(client__studio=person.studio_id).count():
        raise SystemExit(f"{kept} formulas came")
    if max(out_s / OUT_S, in_s / IN_S, more_mb / MEMORY_MB) > 1:
        raise SystemExit("over budget")


if __name__ == "__main__":
    main()
