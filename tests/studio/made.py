"""Short ways to make a studio, its people and their work in tests."""

import datetime
import json
from concurrent.futures import ThreadPoolExecutor
from decimal import Decimal
from typing import Any

from django.core.files.uploadedfile import SimpleUploadedFile
from django.core.management import call_command
from django.db import connection
from django.test import TestCase
from django.urls import reverse

from engine.service.timing import ClockKind
from studio.accounts.models import Person, Studio
from studio.clients.models import Client
from studio.clients.services.add_client import add_client
from studio.clients.services.history import record_skin_test
from studio.clocks.coats import Start
from studio.clocks.models import ZoneClock
from studio.clocks.services.run import start_clock
from studio.demo.load import stock_shelf
from studio.formats.card_json import card_document
from studio.head.models import Bowl
from studio.head.services.open_bowl import open_bowl
from studio.shelf.models import Shade, ShadeLine
from studio.shelf.selectors import forget_lines
from studio.visits.models import Visit
from studio.visits.selectors import open_zone
from studio.visits.services.read_hair import read_hair
from studio.visits.services.start_visit import start_visit

TODAY = datetime.date(2026, 11, 24)
LEVEL_TEN = {
    name: Decimal(number)
    for name, number in zip(("level", "warmth", "lean", "porosity", "grey"), ("10", "0", "0", "1", "0"), strict=True)
}


def make_person(studio: str = "Ropery Lane", name: str = "ropery") -> Person:
    """A studio with the demo shelf and one person in it."""
    made, new = Studio.objects.get_or_create(name=studio)
    if new:
        stock_shelf(made)
    return Person.objects.create_user(username=name, password="salt and rope", studio=made)


def make_visit(person: Person, client: str = "Pim Harrow", day: datetime.date = TODAY) -> Visit:
    """A visit with a level 10 read and an empty bowl on the bench."""
    found = Client.objects.visible_to(person).filter(name=client).first()
    found = found or add_client(person, name=client, about="cymbals")
    visit = start_visit(person, client_id=found.pk, day=day)
    zone = open_zone(person, visit.pk).zone
    read_hair(person, zone_id=zone.pk, after=0, hair=LEVEL_TEN)
    open_bowl(person, zone_id=zone.pk)
    return visit


def put_on_hair(
    person: Person, *, zone_id: int, kind: str, planned_min: float = 30, now: datetime.datetime, **more: object
) -> ZoneClock:
    """Start a zone's clock; more: fields of the start."""
    start = Start(kind=ClockKind(kind), planned_min=Decimal(str(planned_min)), **more)
    return start_clock(person, zone_id=zone_id, start=start, now=now)


def let_the_worker_work() -> None:
    """What waits for the worker is done, in a thread of its own: a browser's loop may run in this one."""

    def once() -> None:
        call_command("work", once=True)
        connection.close()

    with ThreadPoolExecutor(1) as pool:
        pool.submit(once).result()


def clear_skin(person: Person, client_id: int, *, now: datetime.datetime, days: float = 3) -> None:
    """Clear sensitivity tests of everything on the shelf, lightener too, some days before a moment."""
    tested_at = now - datetime.timedelta(days=days)
    for line in (*ShadeLine.objects.visible_to(person), None):
        record_skin_test(
            person,
            client_id=client_id,
            line_id=line.pk if line else None,
            tested_at=tested_at,
            clear=True,
            now=now,
        )


class StudioCase(TestCase):
    """A signed-in person with one visit on the bench."""

    @classmethod
    def setUpTestData(cls) -> None:
        cls.person = make_person()
        cls.visit = make_visit(cls.person)

    def setUp(self) -> None:
        forget_lines()  # a test that is rolled back gives the numbers of its versions back
        self.client.force_login(self.person)

    @property
    def bowl(self) -> Bowl:
        """The bowl of the visit's first zone, of its last coat."""
        zone = open_zone(self.person, self.visit.pk).zone
        bowls = Bowl.objects.select_related("worktop").filter(coats__zone=zone, coats__removed=False)
        return bowls.order_by("-coats__order")[0]

    def shade(self, name: str) -> Shade:
        return Shade.objects.visible_to(self.person).get(name=name)

    def poured(self) -> dict[str, Decimal]:
        return dict(self.bowl.pours.values_list("shade__name", "grams"))

    def on_bench(self, name: str) -> str:
        return reverse(f"bench:{name}", args=[self.visit.pk])

    def send(self, name: str, /, *, htmx: bool = True, **fields: object):
        """Post one of the Bench's forms at the bowl's own version, as htmx does."""
        if "version" not in fields:
            fields["version"] = self.bowl.version
        headers = {"HX-Request": "true"} if htmx else {}
        if htmx and name not in {"pour", "wanted", "add"}:  # these come back in pieces, without a target
            headers["HX-Target"] = "main"
        return self.client.post(self.on_bench(name), fields, headers=headers)

    def taken_elsewhere(self, document: dict[str, Any]) -> dict[str, Any]:
        """A client's card as another studio writes it, once it has taken it in from a file."""
        other = make_person("Ballast Quay", "ballast")
        self.client.force_login(other)
        file = SimpleUploadedFile("card.json", json.dumps(document).encode())
        answer = self.client.post(reverse("formats:take"), {"file": file}, follow=True)
        self.assertEqual(answer.status_code, 200)
        return card_document(other, other.studio.clients.get(name=document["client"]["name"]).pk)
