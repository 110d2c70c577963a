"""Any card computed again on the engine's command line, with the tubes that were poured, as they were known then."""

import json
import subprocess
import sys
from decimal import Decimal
from pathlib import Path

import jsonschema
from django.db.models import F
from django.urls import reverse

import engine
from studio.cards.models import Formula
from studio.cards.services.judge import judge_zone
from studio.learning.services.learn import learn_anew
from studio.shelf.models import Shade, ShadeLine, ShadeVersion
from studio.visits.models import Reading
from tests.studio.made_files import FilesCase

SCHEMA = json.loads((Path(engine.__file__).parent / "schema" / "job.schema.json").read_text(encoding="utf-8"))
WITHIN = 0.0005 + 1e-9  # cards keep thousandths, rounded


class CardJobs(FilesCase):
    def lab(self) -> list[list[float]]:
        """The forecasts that the command line gives for the card, its newest formula first."""
        text = self.get("card", self.visit.client_id, "jobs")
        for job in json.loads(text):
            jsonschema.validate(job, SCHEMA)
        ran = subprocess.run([sys.executable, "-m", "engine"], input=text, capture_output=True, check=True)
        return [answer["lab"] for answer in json.loads(ran.stdout)]

    def check(self) -> None:
        """Each is the forecast of its card."""
        formulas = Formula.objects.order_by("-saved_at", "zone_position", "pk")
        found = self.lab()
        self.assertEqual(len(found), len(formulas))
        for lab, formula in zip(found, formulas, strict=True):
            saved = (formula.forecast_l, formula.forecast_a, formula.forecast_b)
            for given, kept in zip(lab, saved, strict=True):
                self.assertAlmostEqual(given, float(kept), delta=WITHIN)

    def keep(self) -> None:
        self.client.post(reverse("bench:save", args=[self.visit.pk]), {"version": self.bowl.version})

    def test_it_comes_out_as_it_was_saved(self) -> None:
        self.check()

    def test_with_old_colour_and_coats_beneath(self) -> None:
        woad = self.shade("Woad")
        Reading.objects.update(old_shade="orchil", old_k_s=Decimal("0.6"), laid=[{"shade": woad.pk, "k_s": 0.35}])
        self.keep()
        self.check()

    def test_with_what_results_had_taught(self) -> None:
        zone = self.visit.zones.get()
        forecast = [self.formula.forecast_l, self.formula.forecast_a, self.formula.forecast_b]
        lab = (forecast[0] - 6, forecast[1] + 9, forecast[2])
        judge_zone(
            self.person, zone_id=zone.pk, lab=lab, forecast_lab=forecast, source="reader", dry=True, two_lights=True
        )
        learn_anew(self.person.studio_id)
        self.keep()
        newest = Formula.objects.order_by("-pk").first()
        self.assertEqual(newest.knowledge_version, 1)
        self.assertNotEqual(newest.forecast_l, self.formula.forecast_l)
        self.check()

    def test_with_a_tube_that_is_known_anew_since(self) -> None:
        orchil = self.shade("Orchil")
        ShadeVersion.objects.create(shade=orchil, number=1, strength=orchil.strength, changed_by=self.person)
        Shade.objects.filter(pk=orchil.pk).update(strength=20, version=2)
        ShadeLine.objects.update(version=F("version") + 1)
        self.check()
        self.keep()
        self.check()
        self.assertNotEqual(*(formula.forecast_a for formula in Formula.objects.all()))
