"""Aiming by a photo: what is taken in, what is refused, and who may see it."""

import io
from unittest.mock import patch

from django.core.files.uploadedfile import SimpleUploadedFile
from PIL import Image, ImageCms

from studio.photos.models import Photo
from studio.photos.services import decode
from tests.studio.made import StudioCase


def picture(size=(400, 300), mode="RGB", colour=(200, 120, 110), **save: object) -> bytes:
    kept = io.BytesIO()
    image = Image.new(mode, size, colour)
    if mode == "RGB":
        image.paste((232, 230, 228), (0, 0, size[0] // 2, size[1]))  # white paper on the left
    image.save(kept, **{"format": "PNG" if mode != "CMYK" else "JPEG", **save})
    return kept.getvalue()


def swapped_profile() -> bytes:
    """sRGB with the columns of its red and green primaries exchanged."""
    profile = bytearray(ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes())
    red, green = profile.index(b"rXYZ"), profile.index(b"gXYZ")
    profile[red : red + 4], profile[green : green + 4] = b"gXYZ", b"rXYZ"
    return bytes(profile)


class Photos(StudioCase):
    def send_photo(self, content: bytes, name: str = "hair.png"):
        fields = {"version": 0, "photo": SimpleUploadedFile(name, content)}
        return self.client.post(self.on_bench("send-photo"), fields)

    def tap(self, x: int, y: int, picking: str):
        return self.client.post(
            self.on_bench("send-photo"),
            {"version": self.bowl.version, "at.x": x, "at.y": y, "picking": picking},
            follow=True,
        )

    def test_a_photo_is_kept_small_without_its_data_and_shown(self) -> None:
        exif = Image.Exif()
        exif[0x010E] = "taken at home"
        self.assertEqual(self.send_photo(picture((3000, 2000), exif=exif)).status_code, 302)
        kept = Photo.objects.get()
        self.assertLessEqual((kept.width, kept.height), (520, 320))
        shown = self.client.get(self.on_bench("photo"))
        self.assertEqual(shown["Content-Type"], "image/jpeg")
        self.assertNotIn(b"taken at home", shown.content)

    def test_paper_then_hair_sets_the_aim_corrected_for_the_light(self) -> None:
        self.send_photo(picture())
        self.assertContains(self.tap(50, 150, "paper"), "Tap the hair")
        self.tap(350, 150, "hair")
        corrected = float(self.bowl.target_l)
        self.assertGreater(float(self.bowl.target_a), 10)
        Photo.objects.update(paper_x=None, paper_y=None)
        self.tap(350, 150, "hair")
        self.assertNotAlmostEqual(float(self.bowl.target_l), corrected, places=1)

    def test_rotated_transparent_palette_and_cmyk_photos_are_taken(self) -> None:
        exif = Image.Exif()
        exif[0x0112] = 6  # turned by a quarter
        for content in (
            picture((400, 200), exif=exif, format="JPEG"),
            picture(mode="RGBA", colour=(200, 100, 90, 40)),
            picture(mode="LA", colour=(120, 10)),
            picture(mode="P", colour=3),
            picture(mode="CMYK", colour=(10, 60, 40, 5)),
            picture(mode="I;16", colour=9000),
        ):
            with self.subTest(size=len(content)):
                self.assertEqual(self.send_photo(content).status_code, 302)
        self.send_photo(picture((400, 200), exif=exif, format="JPEG"))
        self.assertGreater(Photo.objects.get().height, Photo.objects.get().width)

    def test_what_is_no_usable_photo_is_refused_and_the_earlier_one_stays(self) -> None:
        self.send_photo(picture())
        whole = picture()
        for content, words in (
            (b"", "Choose a photo first"),
            (b"GIF89a nonsense", "not a photo that can be read"),
            (b"<svg xmlns='http://www.w3.org/2000/svg'/>", "not a photo that can be read"),
            (whole[: len(whole) // 2], "not a photo that can be read"),
            (picture(format="GIF"), "not a photo that can be read"),
            (picture(format="TIFF"), "not a photo that can be read"),
            (picture((1, 1)), "at least 40 pixels"),
            (b"\xff\xd8\xff" + bytes(15_000_001), "too large"),
        ):
            with self.subTest(words=words, begins=content[:12]):
                self.assertContains(self.send_photo(content), words, status_code=422)
        self.assertEqual(Photo.objects.get().width, 400)

    def test_pixels_are_counted_before_they_are_decoded(self) -> None:
        huge = io.BytesIO()
        Image.new("RGBA", (7700, 7700), (200, 90, 60, 90)).save(huge, "PNG", compress_level=1)
        with patch("PIL.ImageFile.ImageFile.load", side_effect=AssertionError("decoded")):
            self.assertContains(self.send_photo(huge.getvalue()), "up to 24 megapixels", status_code=422)

    def test_a_photo_waits_for_the_one_before_it_and_is_sent_away_after_a_while(self) -> None:
        with decode._decoding, patch.object(decode, "WAIT_S", 0.01):
            self.assertContains(self.send_photo(picture()), "Other photos are still being read", status_code=422)
        self.assertEqual(self.send_photo(picture()).status_code, 302)

    def test_a_phones_own_kind_is_taken_the_way_up_it_was_held(self) -> None:
        held, file = Image.new("RGB", (1600, 800), (200, 120, 110)), io.BytesIO()
        held.getexif()[0x0112] = 6  # turned by a quarter, which this kind of file says in its own way
        held.save(file, "HEIF")
        self.assertEqual(self.send_photo(file.getvalue(), "hair.heic").status_code, 302)
        kept = Photo.objects.get()
        self.assertEqual((kept.width, kept.height), (160, 320))
        self.assertEqual(bytes(kept.jpeg)[:2], b"\xff\xd8")

    def test_colours_of_a_wider_space_are_brought_into_the_one_that_the_page_shows(self) -> None:
        """A profile whose red and green primaries are exchanged shows whether it is heeded."""
        shown = []
        for profile in (None, swapped_profile()):
            self.send_photo(
                picture(colour=(200, 40, 30), format="PNG", **({"icc_profile": profile} if profile else {}))
            )
            with Image.open(io.BytesIO(bytes(Photo.objects.get().jpeg))) as kept:
                shown.append(kept.convert("RGB").getpixel((350, 150)))
        self.assertGreater(shown[0][0], shown[0][1] + 100)
        self.assertGreater(shown[1][1], shown[1][0] + 50)
        self.send_photo(picture(icc_profile=b"no profile"))
        self.assertEqual(Photo.objects.get().width, 400)

    def test_of_an_upload_past_its_bound_nothing_is_stored(self) -> None:
        with patch("studio.ui.uploads.TemporaryFileUploadHandler.new_file") as stored:
            self.assertContains(self.send_photo(bytes(15_000_001)), "too large", status_code=422)
        stored.assert_not_called()

    def test_taps_outside_burnt_out_or_dark_are_refused_with_the_reason(self) -> None:
        self.send_photo(picture(colour=(255, 255, 255)))
        self.assertContains(self.tap(350, 150, "hair"), "burnt out", status_code=422)
        self.assertContains(self.tap(9999, 10, "hair"), "Tap inside", status_code=422)
        self.send_photo(picture(colour=(2, 2, 2)))
        self.assertContains(self.tap(350, 150, "hair"), "lost in the dark", status_code=422)
        self.assertContains(self.tap(350, 150, "paper"), "lost in the dark", status_code=422)
        self.send_photo(picture(colour=(190, 60, 40)))
        self.assertContains(self.tap(350, 150, "paper"), "too strongly coloured", status_code=422)
        self.assertIsNone(self.bowl.target_l)
