"""A client who has come five hundred times: her archive holds all of it, and is made while she waits."""

import datetime
import io
import json
import zipfile

import numpy as np
from django.urls import reverse

from studio.cards.models import Formula, FormulaPour, ZoneResult
from studio.cards.services.judge import judge_zone
from studio.cards.services.save_formula import save_formula
from studio.clients.models import Client
from studio.photos.models import Photo
from studio.visits.models import Reading, Visit, Zone
from tests.studio.made import StudioCase
from tests.studio.made_far import picture

VISITS = 500
LAB = np.array((70.0, 10.0, 60.0))
SENTENCES = 400  # more changes of one row than a page shows


class ManyVisits(StudioCase):
    @classmethod
    def setUpTestData(cls) -> None:
        super().setUpTestData()
        zone = cls.visit.zones.get()
        bowl = zone.coats.get().bowl
        bowl.pours.create(shade=bowl.line.shades.get(name="Weld"), grams=20)
        bowl.pours.create(shade=bowl.line.shades.get(name="Clear"), grams=40)
        save_formula(cls.person, visit_id=cls.visit.pk, zone_id=zone.pk, version=bowl.version)
        judge_zone(cls.person, zone_id=zone.pk, lab=LAB, forecast_lab=LAB, source="eye", dry=True, two_lights=True)
        cls.come_again(VISITS - 1)

    @classmethod
    def come_again(cls, times: int) -> None:
        """The same visit, on as many earlier days; the last two of them on one day."""
        days = [cls.visit.day - datetime.timedelta(days=max(1, 3 * each)) for each in range(times)]
        visits = Visit.objects.bulk_create(
            Visit(client=cls.visit.client, day=day, colourist=cls.person) for day in days
        )
        zone, reading = cls.visit.zones.get(), Reading.objects.get(zone__visit=cls.visit)
        zones = Zone.objects.bulk_create(cls.like(zone, visit=visit) for visit in visits)
        Reading.objects.bulk_create(cls.like(reading, zone=each) for each in zones)
        kept, result = Formula.objects.get(visit=cls.visit), ZoneResult.objects.get(zone=zone)
        formulas = Formula.objects.bulk_create(
            cls.like(kept, visit=visit, saved_at=kept.saved_at - (cls.visit.day - visit.day)) for visit in visits
        )
        pours = list(kept.pours.all())
        FormulaPour.objects.bulk_create(cls.like(each, formula=formula) for formula in formulas for each in pours)
        ZoneResult.objects.bulk_create(cls.like(result, zone=each) for each in zones)
        for visit in visits[:2]:
            Photo.objects.create(
                visit=visit, purpose=Photo.Purpose.RESULT, jpeg=picture(), width=80, height=80, taken_by=cls.person
            )
        for number in range(SENTENCES):
            Client.objects.filter(pk=cls.visit.client_id).update(notes=f"came {number} times")

    @staticmethod
    def like(row, **other):
        """Another row, all the same but for these."""
        fields = [field.attname for field in row._meta.concrete_fields if field.name not in ("id", "uid")]
        values = {name: getattr(row, name) for name in fields}
        for name in other:
            values.pop(f"{name}_id", None)
        return type(row)(**values | other)

    def test_her_archive_holds_every_visit_photo_and_change(self) -> None:
        answer = self.client.get(reverse("formats:everything", args=[self.visit.client_id]))
        with zipfile.ZipFile(io.BytesIO(answer.getvalue())) as archive:
            self.assertIsNone(archive.testzip())
            names = archive.namelist()
            self.assertEqual(len(names), len(set(names)))
            self.assertEqual(sum(name.startswith("photos/") for name in names), 2)
            card = json.loads(archive.read("card.json"))
            self.assertEqual(len(card["formulas"]), VISITS)
            self.assertTrue(archive.read("card.pdf").startswith(b"%PDF"))
            changed = json.loads(archive.read("changes.json"))
        notes = [part["after"] for each in changed for part in each["parts"] if part["field"] == "notes"]
        self.assertEqual(len(notes), SENTENCES)
