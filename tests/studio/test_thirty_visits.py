"""A simulated studio's thirty visits through the pages that people use.

Its page of what was learned tells what the engine's benchmark does (tools/bench_learning.py).
"""

import tomllib
from dataclasses import replace
from typing import Any

import numpy as np
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import TransactionTestCase
from django.urls import reverse

from engine.bowl.mix import Bowl, Process
from engine.colorimetry.cgats import Sample, written
from engine.learning.learn import learn
from studio.clients.models import Client
from studio.clocks.models import ZoneClock
from studio.demo.load import SCENARIO
from studio.shelf.models import Shade, ShadeLine
from studio.shelf.selectors import stocked_line
from studio.taught.models import KnowledgeVersion
from studio.taught.selectors import knowledge_of
from studio.visits.models import Visit as StudioVisit
from studio.visits.selectors import open_zone
from tests.demo import empty_tables
from tests.salons.judging import held_out, record_of, summary
from tests.salons.salon import Otherness, Salon, Visit, salon
from tests.studio.made import let_the_worker_work, make_person
from tools.bench_learning import BARS

VISITS = 30
ON_HAIR_MIN = 30.0  # where a simulated visit does not say
LINE = "Ropewalk direct"
LEARNED_AFTER = 10
FURTHER = 60  # heads that nothing was learned from
AS_TOLD = 0.1  # delta E00


def with_minutes(made: Salon, visit: Visit) -> Visit:
    """A visit that was on the hair for some minutes, as every clock notes."""
    process = Process(minutes=visit.process.minutes or ON_HAIR_MIN)
    lab = made.outcome(visit.canvas, visit.bowl, process)
    return replace(visit, process=process, lab=lab, noted_lab=lab + visit.noted_lab - visit.lab)


class ThirtyVisits(TransactionTestCase):
    """Each by the forms of its pages: client, hair, bowl, clock, result, card; the consult is left unasked."""

    def setUp(self) -> None:
        self.addCleanup(empty_tables)
        self.person = make_person()
        self.client.force_login(self.person)
        tubes = next(
            each for each in tomllib.loads(SCENARIO.read_text(encoding="utf-8"))["line"] if each["name"] == LINE
        )
        names = {each["spectrum"]: each["name"] for each in tubes["shades"] if "spectrum" in each}
        shades = Shade.objects.visible_to(self.person).filter(line__name=LINE)
        self.tube = {name: shades.get(name=own).pk for name, own in names.items()} | {
            "clear": shades.get(name="Clear").pk
        }

    def sent(self, form: str, row: int | None = None, /, **fields: Any) -> None:
        """A form of a page, as it is sent; it must be taken."""
        answer = self.client.post(reverse(form, args=[] if row is None else [row]), fields)
        self.assertEqual(answer.status_code, 302, answer.content.decode()[:4000])

    def worked(self, number: int, made: Visit) -> None:
        """One visit from a new client to the kept card."""
        self.sent("clients:new", name=f"Head {number}", about="drums")
        client = Client.objects.get(name=f"Head {number}")
        self.sent("visits:start", client.pk)
        visit = StudioVisit.objects.get(client=client)
        zone = open_zone(self.person, visit.pk).zone.pk
        hair = {name: round(getattr(made.noted, name), 2) for name in ("level", "warmth", "lean", "porosity", "grey")}
        self.sent("visits:read", visit.pk, zone=zone, after=0, **hair)
        self.client.get(reverse("bench:bench", args=[visit.pk]))
        for shade, grams in made.bowl.grams.items():
            if grams:
                version = visit.worktop.version
                self.sent("bench:pour", visit.pk, version=version, shade=self.tube[shade.name], grams=f"{grams:.2f}")
                visit.refresh_from_db()
        minutes = made.process.minutes or ON_HAIR_MIN
        self.sent("clocks:start", visit.pk, zone=zone, kind="direct", minutes=30, waited_s=60 * minutes)
        self.sent("clocks:act", visit.pk, clock=ZoneClock.objects.get(zone=zone).pk)
        read = written([Sample(name="1", lab=made.noted_lab)], originator="reader", created="today")
        readings = SimpleUploadedFile("reading.txt", read.encode())
        self.sent("result:photo", visit.pk, zone=zone, from_file="1", dry="1", two_lights="1", readings=readings)
        visit.refresh_from_db()
        self.sent("result:keep", visit.pk, version=visit.worktop.version)

    def mixed_here(self, visit: Visit) -> Visit:
        """A visit with the studio's own tubes in its bowl."""
        plain = stocked_line(ShadeLine.objects.get(studio=self.person.studio, name=LINE)).plain
        grams = {plain[self.tube[shade.name]]: weight for shade, weight in visit.bowl.grams.items()}
        return replace(visit, bowl=Bowl(grams=grams))

    def test_the_error_falls_on_the_page_as_it_does_in_the_benchmark(self) -> None:
        made = salon(Otherness.MILD, 1)
        made.shelf = tuple(shade for shade in made.shelf if shade.name in self.tube)
        visits = [with_minutes(made, visit) for visit in made.visits(VISITS)]
        halves = []
        for number, visit in enumerate(visits, start=1):
            self.worked(number, visit)
            if number % LEARNED_AFTER == 0:
                let_the_worker_work()
                halves.append(float(KnowledgeVersion.objects.get(in_force=True).after_half))
        page = self.client.get(reverse("learning:learned")).context["page"]
        self.assertEqual((page.version.records, page.waiting, len(page.now)), (VISITS, 0, VISITS))
        # What the page tells is what the engine finds in the same visits, though they came by forms, tenths and cards.
        own = learn(
            [replace(record_of(visit), client=str(number), reader="hers") for number, visit in enumerate(visits)]
        )
        told = (page.version.before_half, page.version.before_most, page.version.after_half, page.version.after_most)
        engine = (own.before.median, own.before.most, own.after.median, own.after.most)
        np.testing.assert_allclose(np.array(told, dtype=float), engine, atol=AS_TOLD)
        # It falls: by two fifths after ten visits, and to less than half of the first day's.
        self.assertLess(halves[0], 0.6 * own.before.median)
        self.assertLess(halves[-1], 0.5 * own.before.median)
        # And what is in force forecasts further heads as near as the benchmark asks of a studio of this kind.
        further = [self.mixed_here(with_minutes(made, visit)) for visit in made.visits(FURTHER)]
        half, most = summary(held_out(knowledge_of(page.version.pk), further))
        half_most, most_most = BARS[Otherness.MILD]
        self.assertLess(half, half_most)
        self.assertLess(most, most_most)
        self.assertLess(half, 0.5 * summary(held_out(None, further))[0])
