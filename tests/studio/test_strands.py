"""Strand tests kept on the card, with what was mixed, how it was forecast, and what was seen."""

import numpy as np
from django.urls import reverse

from engine.colorimetry.difference import delta_e00
from studio.cards.selectors import strand_tests_of
from studio.clients.models import StrandTest
from tests.studio.made import StudioCase


class StrandOnTheCard(StudioCase):
    def test_it_is_kept_with_its_mix_its_forecast_and_what_was_seen(self) -> None:
        for name, grams in (("Orchil", "6"), ("Clear", "54")):
            self.send("pour", shade=self.shade(name).pk, grams=grams)
        sent = {"coat": "direct:Ropewalk direct", "strand": "1", "strand_min": "20", "passed": "yes"}
        sent |= {"colour_seen": "a warm pink", "stretch_held": "1", "version": self.bowl.version}
        self.client.post(reverse("pour:gate", args=[self.visit.pk]), sent)
        test = StrandTest.objects.get()
        self.assertEqual(test.grams, {"Orchil": 6.0, "Clear": 54.0})
        full = self.client.get(self.on_bench("bench")).context["page"].then.lab
        self.assertLess(
            float(delta_e00(np.array(test.forecast_lab), full)), 3
        )  # after 20 minutes, and not at full time
        (seen,) = strand_tests_of(self.person, self.visit.client_id)
        self.assertEqual(seen.mix, "6 g Orchil, 54 g Clear")
        card = self.client.get(reverse("cards:card", args=[self.visit.client_id]))
        self.assertContains(card, "6 g Orchil, 54 g Clear · 20 min · forecast")
        self.assertContains(card, "seen: a warm pink")
