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

    def record(self, view: str, **more: object):
        sent = {"coat": "direct:Ropewalk direct", "strand": "1", "strand_min": "20", "passed": "yes"}
        sent |= {"stretch_held": "1", "version": self.bowl.version} | more
        return self.client.post(reverse(view, args=[self.visit.pk]), sent, headers={"HX-Request": "true"})

    def test_it_is_kept_with_its_look_from_wherever_it_is_made(self) -> None:
        for name, grams in (("Orchil", "6"), ("Clear", "54")):
            self.send("pour", shade=self.shade(name).pk, grams=grams)
        for view, more in (("pour:gate", {}), ("route:gate", {}), ("clocks:gate", {"kind": "direct", "minutes": "20"})):
            with self.subTest(view=view):
                self.record(view, by_reader="1", **more)
                test = StrandTest.objects.latest("pk")
                self.assertEqual(test.grams, {"Orchil": 6.0, "Clear": 54.0})
                off = float(delta_e00(np.array(test.forecast_lab), np.array(test.seen_lab)))
                self.assertTrue(0 < off < 6, off)  # the reader is held on hair that came out a little otherwise
                self.assertEqual(strand_tests_of(self.person, self.visit.client_id)[0].off, f"{off:.1f} off")
        self.assertEqual(StrandTest.objects.count(), 3)
        card = self.client.get(reverse("cards:card", args=[self.visit.client_id]))
        self.assertContains(card, "Read on the strand", count=3)

    def test_without_the_reader_no_look_is_kept_and_a_fault_of_it_keeps_nothing(self) -> None:
        self.send("pour", shade=self.shade("Orchil").pk, grams="6")
        self.record("pour:gate")
        self.assertEqual(StrandTest.objects.get().seen_lab, [])
        for fault, words in (("unplugged", "reader"), ("garbage", "reader")):
            self.assertContains(self.record("pour:gate", by_reader="1", fault=fault), words, status_code=422)
        self.assertEqual(StrandTest.objects.count(), 1)

    def test_the_reader_reads_no_strand_that_nothing_is_mixed_for(self) -> None:
        answer = self.record("pour:gate", by_reader="1")
        self.assertContains(answer, "nothing is mixed for this one", status_code=422)
        self.assertFalse(StrandTest.objects.exists())
