"""The head as it is seen: drawn, and on a photo of it with the forecast laid on."""

import io
import json
from unittest.mock import patch

import numpy as np
from django.core.files.uploadedfile import SimpleUploadedFile
from django.http import HttpResponse
from django.urls import reverse
from django.utils import timezone
from PIL import Image

from studio.cards.services.judge import judge_zone
from studio.clients.models import Consent
from studio.formats.archive import archive_of
from studio.formats.services.consent import withdraw_consent
from studio.head.services.open_bowl import open_bowl
from studio.photos.models import Photo
from studio.portrait.models import Portrait
from studio.visits.services.read_hair import read_hair
from tests.engine.made_portrait import CORNER, OVER_HAIR, head_photo
from tests.studio.made import LEVEL_TEN, StudioCase, make_person

PAPER = (0.5 * (CORNER.start + CORNER.stop),) * 2


class PortraitCase(StudioCase):
    def setUp(self) -> None:
        super().setUp()
        self.send("pour", shade=self.shade("Orchil").pk, grams="6")

    def address(self, name: str, **query: object) -> str:
        return reverse(f"portrait:{name}", args=[self.visit.pk], query=query or None)

    def take(self, content: bytes | None = None) -> HttpResponse:
        photo = SimpleUploadedFile("head.png", head_photo() if content is None else content)
        return self.client.post(self.address("take"), {"photo": photo}, follow=True)

    def stroke(self, of: str = "hair", points: object = OVER_HAIR, **more: object) -> HttpResponse:
        fields = {"of": of, "points": json.dumps(points), "tool": of, **more}
        return self.client.post(self.address("stroke"), fields, follow=True)

    def picture(self, name: str = "seen-whole", **query: object) -> np.ndarray:
        answer = self.client.get(self.address(name, **query))
        self.assertEqual(answer.status_code, 200)
        with Image.open(io.BytesIO(answer.content)) as shown:
            return np.asarray(shown.convert("RGB")).astype(int)

    def apart(self, one: np.ndarray, other: np.ndarray) -> np.ndarray:
        return np.abs(one - other).max(axis=-1)


class OnAPhoto(PortraitCase):
    def test_a_photo_paper_and_a_stroke_lay_the_forecast_on(self) -> None:
        self.assertContains(self.client.get(self.address("photo")), "No photo of this head yet")
        self.assertContains(self.take(), "Tap the white paper")
        self.assertContains(self.stroke("paper", [PAPER]), "Draw along the hair")
        with patch("studio.portrait.page.oddities", side_effect=AssertionError("made while it is drawn on")):
            page = self.stroke()
        self.assertEqual(page.context["page"].tool, "hair")
        look = self.client.get(self.address("photo"))
        self.assertContains(look, "Likely")
        self.assertEqual(look.context["page"].odd, ())
        taken, seen = self.picture("taken"), self.picture()
        changed = self.apart(taken, seen) > 25
        self.assertTrue(changed[32, 150])
        self.assertFalse(changed[110, 150], "a face stays")
        self.assertTrue(0.15 < changed.mean() < 0.5)

    def test_what_is_no_hair_is_the_photo_byte_by_byte(self) -> None:
        self.take()
        self.stroke()
        kept = Photo.objects.get(purpose=Photo.Purpose.HEAD)
        with Image.open(io.BytesIO(bytes(kept.jpeg))) as photo:
            pixels = np.asarray(photo.convert("RGB")).astype(int)
        same = self.apart(pixels, self.picture()) == 0
        self.assertTrue(same[:, :50].all() and same[90:130, 130:170].all())

    def test_light_washes_and_ends_change_the_picture_as_they_do_the_lock(self) -> None:
        self.take()
        self.stroke()
        day = self.picture()[32, 140:160].mean()
        worn = self.picture(washes=12)[32, 140:160].mean()
        self.assertGreater(worn, day, "washed out is lighter")
        deeper, lighter = (self.picture(end=end)[32, 140:160].mean() for end in ("deeper", "lighter"))
        self.assertTrue(deeper < day < lighter)
        self.assertGreater(self.apart(self.picture(light="A"), self.picture()).max(), 2)
        self.assertEqual(self.picture("seen", width=360).shape[1], 300, "no larger than the photo")

    def test_a_picture_is_asked_for_once_until_something_changes(self) -> None:
        self.take()
        self.stroke()
        first = self.client.get(self.address("seen"))
        again = self.client.get(self.address("seen"), headers={"if-none-match": first["ETag"]})
        self.assertEqual(again.status_code, 304)
        self.send("pour", shade=self.shade("Clear").pk, grams="30")
        after = self.client.get(self.address("seen"), headers={"if-none-match": first["ETag"]})
        self.assertEqual(after.status_code, 200)
        self.assertIn("private", after["Cache-Control"])

    def test_a_zone_lies_where_it_is_painted(self) -> None:
        frame = self.visit.zones.create(name="fringe", part="frame", position=1, left_alone=True)
        read_hair(self.person, zone_id=frame.pk, after=0, hair=LEVEL_TEN)
        open_bowl(self.person, zone_id=frame.pk)
        self.take()
        self.stroke()
        look = self.client.get(self.address("photo"))
        self.assertContains(look, "is not painted yet")
        before = self.picture()
        self.stroke(str(frame.pk), OVER_HAIR[:2])
        self.assertNotContains(self.client.get(self.address("photo")), "is not painted yet")
        changed = self.apart(before, self.picture()) > 20
        self.assertTrue(changed[150, 99])
        self.assertFalse(changed[150, 205])

    def test_strokes_are_taken_away_one_by_one_and_all(self) -> None:
        self.take()
        self.stroke()
        self.stroke("other", ((0.5, 0.3), (0.5, 0.6)))
        self.client.post(self.address("stroke"), {"undo": 1})
        self.assertEqual([each["of"] for each in Portrait.objects.get().strokes], ["hair"])
        self.client.post(self.address("stroke"), {"clear": 1})
        self.assertEqual((Portrait.objects.get().strokes, bytes(Portrait.objects.get().matte)), ([], b""))
        self.assertEqual(self.client.get(self.address("seen")).status_code, 404)
        self.client.post(self.address("stroke"), {"undo": 1})

    def test_without_script_a_tap_is_a_stroke(self) -> None:
        self.take()
        fields = {"of": "hair", "points": "", "wide": 150, "high": 120, "at.x": 75, "at.y": 18, "tool": "hair"}
        self.assertEqual(self.client.post(self.address("stroke"), fields).status_code, 302)
        self.assertEqual(Portrait.objects.get().strokes[0]["points"], [[0.5, 0.15]])

    def test_what_tells_no_hair_is_refused_and_nothing_is_lost(self) -> None:
        self.take()
        self.stroke()
        kept = Portrait.objects.get()
        for of, points, words in (
            ("other", OVER_HAIR, "No hair was found there"),
            ("hair", [[1.5, 0.2]], "Draw inside the photo"),
            ("hair", [], "Draw inside the photo"),
            ("hair", "x", "Draw inside the photo"),
            ("hair", [[float("nan"), 0.2]], "Draw inside the photo"),
            ("hair", [OVER_HAIR[0]] * 4100, "more than can be drawn"),
            ("nobody", OVER_HAIR, "Choose what you draw"),
            ("999999", OVER_HAIR, "Choose what you draw"),
            ("paper", [[0.5, 0.2]], "paper"),
            ("paper", [[float("nan"), 0.2]], "Draw inside the photo"),
            ("paper", [[float("inf"), 0.2]], "Draw inside the photo"),
            ("paper", [[0.5]], "Draw inside the photo"),
        ):
            with self.subTest(of=of, words=words):
                self.assertContains(self.stroke(of, points), words, status_code=422)
                now = Portrait.objects.get()
                self.assertEqual((now.strokes, bytes(now.matte)), (kept.strokes, bytes(kept.matte)))

    def test_grey_photos_and_two_heads_are_told(self) -> None:
        kept = io.BytesIO()
        with Image.open(io.BytesIO(head_photo())) as colours:
            colours.convert("L").save(kept, "PNG")
        self.take(kept.getvalue())
        self.assertContains(self.stroke(), "black and white", status_code=422)
        self.take(head_photo(heads=2))
        self.stroke(points=((0.11, 0.3), (0.22, 0.13), (0.33, 0.3)))
        self.assertContains(
            self.stroke(points=((0.67, 0.3), (0.78, 0.13), (0.89, 0.3))), "on two heads", status_code=422
        )

    def test_hair_that_does_not_look_as_it_was_read_is_told(self) -> None:
        self.take(head_photo(level=4))
        self.stroke("paper", [PAPER])
        self.stroke()
        odd = self.client.get(self.address("photo")).context["page"].odd
        self.assertTrue(any("read" in words or "shadow" in words for words in odd))

    def test_another_photo_begins_anew(self) -> None:
        self.take()
        self.stroke()
        self.assertContains(self.take(head_photo(level=8)), "Tap the white paper")
        self.assertEqual(Portrait.objects.get().strokes, [])


class Whose(PortraitCase):
    def test_no_photo_without_consent_where_the_house_asks_first(self) -> None:
        self.person.studio.consent_first = True
        self.person.studio.save()
        self.assertEqual(self.take().status_code, 422)
        self.assertFalse(Photo.objects.exists())

    def test_it_goes_with_consent_and_with_the_client(self) -> None:
        self.take()
        self.stroke()
        names = archive_of(self.person, self.visit.client_id)
        self.assertIn(b"-head.jpg", names)
        withdraw_consent(self.person, client_id=self.visit.client_id, of=Consent.Of.PHOTOS, now=timezone.now())
        self.assertFalse(Portrait.objects.exists())
        self.assertContains(self.client.get(self.address("photo")), "No photo of this head yet")

    def test_another_studio_sees_and_draws_nothing(self) -> None:
        self.take()
        self.stroke()
        self.client.force_login(make_person("Sail Loft", "sail"))
        for name in ("head", "photo", "taken", "seen", "seen-whole", "matte"):
            self.assertEqual(self.client.get(self.address(name)).status_code, 404)
        for name in ("stroke", "settle", "take"):
            self.assertEqual(self.client.post(self.address(name), {"of": "hair"}).status_code, 404)
        self.assertEqual(len(Portrait.objects.get().strokes), 1)


class Drawn(PortraitCase):
    def test_the_head_is_seen_before_after_and_as_it_turned_out(self) -> None:
        page = self.client.get(self.address("head"))
        self.assertContains(page, 'class="head-strands"', count=8)
        lab = (60, 20, 5)
        zone = self.visit.zones.get()
        judge_zone(self.person, zone_id=zone.pk, lab=lab, forecast_lab=lab, source="eye", dry=True, two_lights=False)
        page = self.client.get(self.address("head"))
        self.assertContains(page, 'class="head-strands"', count=12)
        self.assertContains(page, "As it turned out")

    def test_light_and_washes_change_the_forecast_alone(self) -> None:
        def colours(**query: object) -> list[set[str]]:
            pictures = self.client.get(self.address("head", **query)).context["page"].pictures
            return [{strokes.hex for view in views for strokes in view.strokes} for _, views in pictures]

        (before, after), (same, worn) = colours(), colours(washes=12)
        self.assertEqual(before, same)
        self.assertNotEqual(after, worn)
        self.assertNotEqual(after, colours(light="A")[1])


class HandedOut(PortraitCase):
    def hand_out(self) -> HttpResponse:
        return self.client.get(reverse("result:handout", args=[self.visit.pk]))

    def printed(self) -> int:
        """How many photos the paper holds; drawings are no photos."""
        answer = self.client.get(reverse("formats:handout", args=[self.visit.pk]))
        body = b"".join(answer.streaming_content) if answer.streaming else answer.content
        return body.count(b"/DCTDecode")

    def test_the_head_is_on_it_and_the_photo_where_that_is_wished(self) -> None:
        self.take()
        self.stroke()
        page = self.hand_out()
        self.assertContains(page, 'class="head-strands"', count=8)
        self.assertNotContains(page, "seen.jpg")
        self.assertEqual(self.printed(), 0)
        self.client.post(self.address("settle"), {"on_handout": 1})
        self.assertContains(self.hand_out(), "seen.jpg")
        self.assertEqual(self.printed(), 2)

    def test_a_card_shows_the_head_as_it_was_left(self) -> None:
        card = reverse("cards:card", args=[self.visit.client_id])
        self.assertNotContains(self.client.get(card), "head-strands")
        self.client.post(reverse("bench:save", args=[self.visit.pk]), {"version": self.bowl.version})
        page = self.client.get(card)
        self.assertContains(page, 'class="head-strands"', count=8)
        (_, before), (_, after) = page.context["heads"]
        self.assertNotEqual(*({strokes.hex for view in views for strokes in view.strokes} for views in (before, after)))
