"""What went wrong, marked on a photo: each spot against a place that is right."""

import io

import numpy as np
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse
from PIL import Image

from engine.colorimetry.difference import delta_e00
from engine.colorimetry.photo import patch_colour
from studio.photos.models import Photo
from studio.photos.services.photo import SPOTS_MOST
from tests.studio.made import StudioCase, make_person, make_visit

PAPER, RIGHT, LIGHT = (232, 230, 228), (150, 80, 70), (190, 120, 105)


def patched() -> bytes:
    """White paper on the left, hair on the right, a light patch below."""
    kept = io.BytesIO()
    image = Image.new("RGB", (400, 300), RIGHT)
    image.paste(PAPER, (0, 0, 150, 300))
    image.paste(LIGHT, (200, 180, 400, 300))
    image.save(kept, "PNG")
    return kept.getvalue()


class Spots(StudioCase):
    def send(self, **fields: object):
        return self.client.post(reverse("result:spots", args=[self.visit.pk]), fields, follow=True)

    def take(self) -> None:
        self.send(photo=SimpleUploadedFile("hair.png", patched()))

    def tap(self, x: int, y: int, picking: str):
        return self.send(**{"at.x": x, "at.y": y, "picking": picking})

    def test_spots_are_held_against_a_place_that_is_right(self) -> None:
        self.take()
        self.assertContains(self.tap(70, 150, "paper"), "where it is as it should be")
        self.assertContains(self.tap(250, 80, "hair"), "Tap each spot")
        self.tap(300, 250, "spot")
        found = self.tap(350, 60, "spot").context["found"]
        patch, right = found.spots
        self.assertEqual(right.words, "as the rest")
        self.assertIn("lighter", patch.words)
        pixels = [[[part / 255 for part in colour]] * 4 for colour in (RIGHT, LIGHT, PAPER)]
        hair, spot, paper = (np.array(each) for each in pixels)
        by_hand = delta_e00(patch_colour(hair, paper).lab, patch_colour(spot, paper).lab)
        self.assertAlmostEqual(patch.off, float(by_hand), delta=0.5)  # a JPEG's pixels are nearly those of its PNG

    def test_they_are_shown_where_it_is_put_right(self) -> None:
        self.take()
        for x, y, picking in ((70, 150, "paper"), (250, 80, "hair"), (300, 250, "spot")):
            self.tap(x, y, picking)
        answer = self.client.get(reverse("result:correct", args=[self.visit.pk]), {"trouble": "patchy"})
        self.assertContains(answer, "Mark it on a photo · 1")
        self.assertContains(answer, "lighter")

    def test_the_last_spot_is_taken_away_and_a_new_photo_begins_anew(self) -> None:
        self.take()
        for x, y, picking in ((70, 150, "paper"), (250, 80, "hair"), (300, 250, "spot"), (310, 250, "spot")):
            self.tap(x, y, picking)
        self.send(forget="1")
        self.assertEqual(Photo.objects.get().spots, [[300, 250]])
        self.take()
        photo = Photo.objects.get()
        self.assertEqual((photo.spots, photo.paper_x, photo.hair_x), ([], None, None))

    def test_bad_taps_are_refused_and_nothing_is_lost(self) -> None:
        self.assertEqual(self.tap(5, 5, "spot").status_code, 404)
        self.take()
        self.tap(70, 150, "paper")
        self.tap(250, 80, "hair")
        self.assertContains(self.tap(9999, 5, "spot"), "inside the photo", status_code=422)
        for _ in range(SPOTS_MOST):
            self.tap(300, 250, "spot")
        self.assertContains(self.tap(300, 250, "spot"), "marked already", status_code=422)
        self.assertEqual(len(Photo.objects.get().spots), SPOTS_MOST)

    def test_the_photo_is_shown_to_its_own_studio_only(self) -> None:
        self.take()
        at = reverse("bench:photo", args=[self.visit.pk])
        self.assertEqual(self.client.get(at, {"of": "wrong"}).status_code, 200)
        self.assertEqual(self.client.get(at, {"of": "else"}).status_code, 404)
        other = make_visit(make_person("elsewhere", "The Other Room"))
        self.assertEqual(self.client.get(reverse("result:spots", args=[other.pk])).status_code, 404)
