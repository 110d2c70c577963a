"""Strand tests of a studio's own tube, through its pages."""

import numpy as np
from django.urls import reverse

from engine.bowl.mix import Bowl
from engine.bowl.predict import predict
from engine.colorimetry.difference import delta_e00
from engine.dye.shade import Band, Shade
from engine.hair.canvas import Canvas
from studio.shelf.models import StrandReading
from studio.shelf.selectors import stocked_line
from tests.studio.made import make_person
from tests.studio.test_own_shelf import OwnShelf

CLEAR = Shade(name="clear")
TRUTH = Shade(name="truth", bands=(Band(centre_nm=545, sigma_nm=38, weight=1),), strength=3.5)
NOISE = 0.4  # L*a*b* by which the made readings tremble


def seen(shade: Shade, level: float, share: float) -> np.ndarray:
    grams = {shade: share} if share == 1 else {shade: share, CLEAR: 1 - share}
    return predict(Canvas(level=level), Bowl(grams=grams)).lab


class Strands(OwnShelf):
    def setUp(self) -> None:
        super().setUp()
        self.take()
        self.chance = np.random.default_rng(5)

    @property
    def address(self) -> str:
        return reverse("shelf:strands", args=[self.tube().pk])

    def page(self):
        return self.client.get(self.address).context["page"]

    def note(self, level: float, share: float, lab: np.ndarray, /, **fields: object):
        lightness, a, b = (round(float(part), 2) for part in lab)
        given = {"level": level, "share": share, "lightness": lightness, "a": a, "b": b, "source": "reader"}
        return self.client.post(self.address, given | fields)

    def read(self, level: float, share: float):
        return self.note(level, share, seen(TRUTH, level, share) + self.chance.normal(0, NOISE, 3))

    def dye(self) -> Shade:
        tube = self.tube()
        return stocked_line(tube.line).dyes[tube.pk]

    def test_six_strands_as_they_are_asked_for_bring_other_mixes_within_two(self) -> None:
        first = self.page()
        self.assertEqual((len(first.planned), first.rows), (4, ()))
        guess = self.dye()
        for _ in range(6):
            self.assertEqual(self.read(*self.next()).status_code, 302)
        after = self.page()
        self.assertLess(after.known.within, first.known.within / 3)
        self.assertLess(after.doubt_now, first.doubt_now / 3)
        self.assertEqual(self.tube().known, "instrument")
        for level, share in ((10, 0.08), (9, 0.3), (10.5, 0.02), (9.5, 0.7)):
            truth = seen(TRUTH, level, share)
            off, thought = (float(delta_e00(truth, seen(shade, level, share))) for shade in (self.dye(), guess))
            self.assertLess(off, 2)
            self.assertLess(off, thought)
        self.assertContains(self.client.get(reverse("shelf:tube", args=[self.tube().pk])), "by 6 readings")

    def next(self) -> tuple[float, float]:
        planned = self.page().planned[0]
        return planned.level, planned.share

    def test_a_strand_that_contradicts_the_others_is_named_and_forgotten(self) -> None:
        for level, share in ((10, 1), (10, 0.2), (9, 0.05), (10, 0.1)):
            self.read(level, share)
        self.note(10, 0.5, seen(TRUTH, 10, 0.5) + np.array([14.0, -20, 12]))
        rows = self.page().rows
        self.assertEqual([row.is_odd for row in rows][-1], True)
        self.assertContains(self.client.get(self.address), "contradicts the others: make it again")
        self.assertContains(self.client.get(self.address), "less sure than this says")
        self.client.post(reverse("shelf:forget-strand", args=[rows[-1].reading.pk]))
        self.assertFalse(any(row.is_odd for row in self.page().rows))
        for row in self.page().rows[1:]:
            self.client.post(reverse("shelf:forget-strand", args=[row.reading.pk]))
        self.assertEqual(self.tube().known, "named")  # one strand is too few

    def test_a_shade_that_its_line_describes_goes_back_to_that(self) -> None:
        orchil = self.shade("Orchil")
        address, before = reverse("shelf:strands", args=[orchil.pk]), stocked_line(orchil.line).dyes[orchil.pk]
        given = {"level": 10, "lightness": 60, "a": 30, "b": -5, "source": "eye"}
        for share in (0.2, 0.05):
            self.client.post(address, given | {"share": share, "lightness": 40 if share == 0.2 else 60})
        orchil = self.shade("Orchil")
        self.assertEqual(orchil.known, "strands")
        self.assertFalse(stocked_line(orchil.line).dyes[orchil.pk].bands)
        for each in StrandReading.objects.all():
            self.client.post(reverse("shelf:forget-strand", args=[each.pk]))
        orchil = self.shade("Orchil")
        self.assertEqual(stocked_line(orchil.line).dyes[orchil.pk], before)

    def test_what_is_wrong_is_told_and_stays(self) -> None:
        lab = seen(TRUTH, 10, 0.2)
        for fields, said in (
            ({"level": 12}, "less than or equal to 11"),
            ({"share": 0}, "greater than or equal to 0.001"),
            ({"lightness": 140}, "less than or equal to 100"),
            ({"a": "red"}, "number"),
            ({"source": "guess"}, "valid choice"),
        ):
            with self.subTest(fields=fields):
                self.assertContains(self.note(10, 0.2, lab, **fields), said, status_code=422)
        carrier = reverse("shelf:strands", args=[self.tube("Rope Clear").pk])
        self.assertContains(self.client.get(carrier), "nothing to read")
        fields = {"level": 10, "share": 0.2, "lightness": 60, "a": 1, "b": 1, "source": "eye"}
        self.assertContains(self.client.post(carrier, fields), "tells nothing", status_code=422)
        self.assertFalse(StrandReading.objects.exists())

    def test_sent_twice_it_is_noted_once_and_anothers_is_not_there(self) -> None:
        for _ in range(2):
            self.note(10, 0.2, seen(TRUTH, 10, 0.2), token="x")
        (strand,) = StrandReading.objects.all()
        address = self.address
        self.client.force_login(make_person("Salt Row", "salt"))
        self.assertEqual(self.client.get(address).status_code, 404)
        self.assertEqual(self.client.post(reverse("shelf:forget-strand", args=[strand.pk])).status_code, 404)
        self.assertTrue(StrandReading.objects.exists())
