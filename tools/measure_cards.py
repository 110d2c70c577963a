"""Search among 100,000 cards with 100,000 formulas: tools/measure_cards sets the database up and calls this.

Prints milliseconds at the median and the slowest, and the slowest as a share of the budget of 300 ms.
"""

import datetime
import random
import statistics
import time
from collections.abc import Callable
from decimal import Decimal
from functools import partial

import django

django.setup()

from django.db import connection
from django.utils import timezone

from studio.accounts.models import Person
from studio.cards.models import Formula, FormulaPour
from studio.cards.search import Sought, find_cards
from studio.clients.models import Client
from studio.formats.logbook_csv import logbook_lines
from studio.shelf.models import Shade
from studio.visits.models import Visit

CARDS = 100_000
BUDGET_MS = 300
TURNS = 15
BATCH = 1000  # rows of a statement, which has 65,535 values at most
FIRST = ("Alder", "Brine", "Cove", "Drift", "Eddy", "Fathom", "Gannet", "Haven", "Inlet", "Jetty", "Kelp", "Lantern")
LAST = ("Marlow", "Nessel", "Orme", "Penhale", "Quill", "Rusk", "Sorrel", "Teague", "Ulver", "Vane", "Wick", "Yarrow")


def fill(person: Person) -> None:
    """One visit and one formula of three shades a client."""
    chance = random.Random(7)
    shades = list(Shade.objects.visible_to(person).filter(line__name="Ropewalk direct"))
    today = timezone.localdate()
    names = [f"{chance.choice(FIRST)} {chance.choice(LAST)} {number}" for number in range(CARDS)]
    clients = Client.objects.bulk_create(
        (Client(studio=person.studio, name=name, about=chance.choice(FIRST)) for name in names), batch_size=BATCH
    )
    days = [today - datetime.timedelta(days=chance.randrange(2000)) for _ in clients]
    visits = Visit.objects.bulk_create(
        (Visit(client=client, day=day, colourist=person) for client, day in zip(clients, days, strict=True)),
        batch_size=BATCH,
    )
    formulas = Formula.objects.bulk_create(
        (
            Formula(
                client_id=visit.client_id,
                visit=visit,
                zone_name="whole head",
                line=shades[0].line,
                wanted_g=60,
                level=round(chance.uniform(6, 11), 1),
                forecast_l=round(chance.uniform(15, 85), 3),
                forecast_a=round(chance.uniform(-30, 60), 3),
                forecast_b=round(chance.uniform(-40, 60), 3),
                note=chance.choice(("", "softer", "hold the blue back", "two bowls")),
                saved_by=person,
                saved_at=timezone.now() - (today - visit.day),
            )
            for visit in visits
        ),
        batch_size=BATCH,
    )
    FormulaPour.objects.bulk_create(
        (
            FormulaPour(formula=formula, shade=shade, shade_name=shade.name, grams=round(chance.uniform(0.5, 30), 1))
            for formula in formulas
            for shade in chance.sample(shades, 3)
        ),
        batch_size=BATCH,
    )
    with connection.cursor() as cursor:
        cursor.execute("ANALYZE")


def measure(name: str, ask: Callable[[], object]) -> None:
    """Print one line of figures; the first turn, which warms up, is left out."""
    took = []
    for _ in range(TURNS + 1):
        start = time.perf_counter()
        ask()
        took.append(1000 * (time.perf_counter() - start))
    middle, slow = statistics.median(took[1:]), max(took[1:])
    print(f"{name}: median {middle:.0f} ms, slowest {slow:.0f} ms, {slow / BUDGET_MS:.2f} of the {BUDGET_MS} ms budget")


def main() -> None:
    """Fill, and measure every way to search."""
    person = Person.objects.get(username="lantern")
    start = time.perf_counter()
    fill(person)
    print(f"{CARDS} cards made in {time.perf_counter() - start:.0f} s")
    today = timezone.localdate()
    for name, sought in (
        ("no words", Sought()),
        ("a client's name", Sought(words="penhale 4242")),
        ("a word in many cards", Sought(words="lantern")),
        ("a shade", Sought(words="orchil")),
        ("a shade and a note", Sought(words="orchil softer")),
        ("words that nobody has", Sought(words="zzzz")),
        ("near a colour", Sought(near=(60.0, 30.0, 5.0))),
        ("near a colour, of a shade", Sought(words="orchil", near=(60.0, 30.0, 5.0))),
        ("a level", Sought(level=(Decimal(9), Decimal(10)))),
        ("a level in a year", Sought(level=(Decimal(9), Decimal(10)), since=today - datetime.timedelta(days=365))),
    ):
        measure(name, partial(find_cards, person, sought))
    start = time.perf_counter()
    lines = sum(1 for _ in logbook_lines(person))
    print(f"the logbook as CSV: {lines} lines in {time.perf_counter() - start:.1f} s")


if __name__ == "__main__":
    main()
