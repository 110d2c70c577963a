"""A tube of the studio's own known from one photo of its strands, from a swatch, and from a spectrum."""

import io
import stat
import zipfile

import numpy as np
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse
from PIL import Image

from engine.arrays import FloatArray
from engine.bowl.mix import FULL_TIME_DRY, Bowl, added_absorption
from engine.bowl.predict import predict, seen_reflectance
from engine.colorimetry import spectral_package
from engine.colorimetry.cgats import Sample, written
from engine.colorimetry.difference import delta_e00
from engine.colorimetry.grid import WAVELENGTHS_NM
from engine.colorimetry.spectral_package import Quantity, SpectralPackage, Spectrum
from engine.dye.shade import CLEAR
from engine.dye.shelf import demo_shelf
from engine.hair.canvas import Canvas, fibres_of
from studio.shelf.list_in import read_list
from studio.shelf.models import Shade, ShadeLine, StrandSheet
from studio.shelf.selectors import stocked_line
from studio.shelf.services.own_tubes import take_list
from studio.ui.zipped import unzipped, zipped
from tests.engine.made import lab
from tests.engine.made_sheet import photo_of_strands
from tests.studio.made import StudioCase, make_person

MAGENTA, CLEAN = demo_shelf()["magenta"], demo_shelf()[CLEAR]
STRANDS = ((10, 1.0), (10, 0.2), (9, 0.05), (11, 0.5))


def bowl_of(share: float) -> Bowl:
    return Bowl(grams={MAGENTA: share, CLEAN: 1 - share} if share < 1 else {MAGENTA: 1.0})


def look(level: float, share: float) -> FloatArray:
    return predict(Canvas(level=level), bowl_of(share)).lab


def picture(pixels: FloatArray) -> SimpleUploadedFile:
    kept = io.BytesIO()
    Image.fromarray((255 * pixels).round().astype(np.uint8)).save(kept, "PNG")
    return SimpleUploadedFile("strands.png", kept.getvalue())


class TubeCase(StudioCase):
    """A tube that was put on the shelf by its name alone, and is truly a magenta."""

    @classmethod
    def setUpTestData(cls) -> None:
        super().setUpTestData()
        tubes = read_list("Sea Pink\tP1\t\tpink", letters={}, is_oxidative=False).tubes
        cls.tube = take_list(cls.person, line=cls.person.studio.lines.first().pk, tubes=tubes).shades.get()

    def at(self, name: str) -> str:
        return reverse(f"readings:{name}", args=[self.tube.pk])

    @property
    def known(self) -> str:
        return Shade.objects.get(pk=self.tube.pk).known

    def off(self, level: float = 10, share: float = 0.1) -> float:
        """How far its forecast lies off what it truly gives."""
        self.tube.line.refresh_from_db()
        dye = stocked_line(self.tube.line).plain[self.tube.pk]
        forecast = predict(Canvas(level=level), Bowl(grams={dye: share, CLEAN: 1 - share})).lab
        return float(delta_e00(look(level, share), forecast))


class OnePhoto(TubeCase):
    def rows(self, strands=STRANDS) -> dict[str, str]:
        told = {}
        for number, (level, share) in enumerate(strands, start=1):
            told |= {f"level_{number}": f"{level}", f"share_{number}": f"{share}"}
        return told

    def send(self, photo: FloatArray, strands=STRANDS, **more: object):
        return self.client.post(self.at("sheet"), {"photo": picture(photo), **self.rows(strands), **more})

    def test_the_planned_strands_stand_in_the_rows(self) -> None:
        page = self.client.get(self.at("sheet")).context["page"]
        self.assertEqual(len([row for row in page.rows if row.level]), 4)
        self.assertEqual(len(page.rows), 6)

    def test_six_strands_are_read_looked_at_and_noted_as_one(self) -> None:
        before, six = self.off(), (*STRANDS, (10, 0.4), (9, 0.02))
        answer = self.send(photo_of_strands([look(*each) for each in six]), six)
        self.assertRedirects(answer, self.at("sheet"))
        self.assertEqual(self.known, "named")  # nothing of it is believed before it was looked at
        page = self.client.get(self.at("sheet")).context["page"]
        for found, each in zip(page.found, six, strict=True):
            self.assertLess(float(delta_e00(look(*each), found.lock.lab)), 2)
        self.client.post(reverse("readings:note", args=[page.sheet.pk]), {}, follow=True)
        self.assertEqual(self.known, "strands")
        self.assertEqual(self.tube.strands.count(), 6)
        self.assertEqual({row.source for row in self.tube.strands.all()}, {"photo"})
        self.assertLess(self.off(), 2)
        self.assertGreater(before, 3)

    def test_a_photo_is_forgotten_as_one_too_and_noted_once(self) -> None:
        self.send(photo_of_strands([look(*each) for each in STRANDS]))
        address = reverse("readings:note", args=[StrandSheet.objects.get().pk])
        for _ in range(2):
            answer = self.client.post(address, {}, follow=True)
        self.assertContains(answer, "noted already")
        self.assertEqual(self.tube.strands.count(), 4)
        self.client.post(address, {"forget": "1"})
        self.assertEqual((self.tube.strands.count(), self.known), (0, "named"))
        self.assertFalse(StrandSheet.objects.exists())

    def test_what_can_t_be_read_is_said_and_what_was_typed_stays(self) -> None:
        labs = [look(*each) for each in STRANDS]
        halves = ((slice(20, 300), slice(20, 240)), (slice(20, 300), slice(280, 500)))
        for photo, words in (
            (photo_of_strands(labs[:3]), "3 strands are found on the paper, and 4 were planned"),
            (photo_of_strands([*labs, lab(50, 10, 40)]), "5 things lie on the paper, and 4 strands were planned"),
            (photo_of_strands(labs, fall=0.62), "lies in shadow"),
            (photo_of_strands(labs, sheets=()), "No sheet of white paper"),
            (photo_of_strands(labs, sheets=halves), "Two white papers"),
        ):
            with self.subTest(words):
                answer = self.send(photo)
                self.assertContains(answer, words, status_code=422)
                self.assertContains(answer, 'value="0.05"', status_code=422)
        self.assertFalse(StrandSheet.objects.exists())
        for sent, words in (
            ({"photo": picture(photo_of_strands(labs))}, "what lies on the paper"),
            (self.rows(), "photo"),
            ({**self.rows(), "photo": SimpleUploadedFile("a.png", b"no picture")}, "photo"),
            ({**self.rows(), "level_1": "ten", "photo": picture(photo_of_strands(labs))}, "10"),
            ({**self.rows(), "share_1": "5", "photo": picture(photo_of_strands(labs))}, "0.001 to 1"),
        ):
            answer = self.client.post(self.at("sheet"), sent)
            self.assertContains(answer, words, status_code=422)

    def test_a_strand_that_contradicts_the_others_is_named(self) -> None:
        labs = [look(*each) for each in STRANDS]
        labs[1] = lab(60, -40, 30)  # somebody else's green
        self.send(photo_of_strands(labs))
        sheet = StrandSheet.objects.get()
        answer = self.client.post(reverse("readings:note", args=[sheet.pk]), {}, follow=True)
        self.assertContains(answer, "It contradicts the others")

    def test_nobody_else_sees_or_takes_it(self) -> None:
        self.send(photo_of_strands([look(*each) for each in STRANDS]))
        sheet = StrandSheet.objects.get()
        image = reverse("readings:picture", args=[sheet.pk])
        self.assertEqual(self.client.get(image)["Content-Type"], "image/jpeg")
        self.client.force_login(make_person("Ballast Quay", "ballast"))
        for address in (image, self.at("sheet"), self.at("swatch"), self.at("spectrum")):
            self.assertEqual(self.client.get(address).status_code, 404)
        self.client.post(reverse("readings:note", args=[sheet.pk]), {"forget": "1"})
        self.assertTrue(StrandSheet.objects.exists())

    def test_a_carrier_has_nothing_to_read(self) -> None:
        clear = Shade.objects.visible_to(self.person).get(name="Clear")
        sent = {**self.rows(), "photo": picture(photo_of_strands([look(*each) for each in STRANDS]))}
        answer = self.client.post(reverse("readings:sheet", args=[clear.pk]), sent)
        self.assertContains(answer, "colours nothing", status_code=422)


class Looks(TubeCase):
    def test_the_lock_that_it_looks_like_is_taken_and_forgotten(self) -> None:
        before = self.off()
        page = self.client.get(self.at("swatch"))
        value = next(each.value for name, locks in page.context["locks"] for each in locks if each.value == "magenta 1")
        self.assertRedirects(
            self.client.post(self.at("swatch"), {"like": value}), reverse("shelf:tube", args=[self.tube.pk])
        )
        self.assertEqual(self.known, "swatch")
        self.assertLess(self.off(), before)
        self.assertLess(self.off(), 2.5)
        self.client.post(self.at("swatch"), {"forget": "1"})
        self.assertEqual(self.known, "named")
        self.assertAlmostEqual(self.off(), before, places=3)

    def test_the_maker_s_swatch_in_a_photo(self) -> None:
        before = self.off()
        photo = photo_of_strands([look(11, 1.0)])
        sent = {"level": "11", "share": "1", "photo": picture(photo)}
        self.assertEqual(self.client.post(self.at("swatch"), sent).status_code, 302)
        self.assertEqual(self.known, "swatch")
        self.assertLess(self.off(), before)

    def test_what_is_none_is_refused(self) -> None:
        for sent, words in (
            ({"like": "sea pink 1"}, "none of the locks"),
            ({"like": "magenta 7"}, "none of the locks"),
            ({"level": "11", "share": "1"}, "photo"),
            ({"level": "40", "share": "1", "photo": picture(photo_of_strands([look(11, 1)]))}, "1 to 11"),
        ):
            self.assertContains(self.client.post(self.at("swatch"), sent), words, status_code=422)
        self.assertEqual(self.known, "named")

    def test_strands_outweigh_it(self) -> None:
        self.client.post(self.at("swatch"), {"like": "green 1"})
        OnePhoto.send(self, photo_of_strands([look(*each) for each in STRANDS]))
        self.client.post(reverse("readings:note", args=[StrandSheet.objects.get().pk]))
        self.assertEqual(self.known, "strands")
        self.assertLess(self.off(), 2)

    rows = OnePhoto.rows


class Spectra(TubeCase):
    def send(self, text: str | bytes, **more: object):
        file = SimpleUploadedFile("strand.csv", text.encode() if isinstance(text, str) else text)
        sent = {"of": "strand", "level": "10", "share": "0.2", "spectrum": file, **more}
        return self.client.post(self.at("spectrum"), sent)

    def reflectance(self, share: float = 0.2) -> FloatArray:
        added = added_absorption(bowl_of(share), 1.0, FULL_TIME_DRY)
        return seen_reflectance(fibres_of(Canvas(level=10)), added)

    def csv(self, values: FloatArray, step: int = 10) -> str:
        """On a grid that is not the engine's, in percent."""
        nm = range(390, 751, step)
        rows = [f"{n + 0.5},{100 * np.interp(n + 0.5, WAVELENGTHS_NM, values):.4f}" for n in nm]
        return "\n".join(["nm,percent", *rows])

    def test_a_strand_s_spectrum_off_the_grid_and_in_percent(self) -> None:
        self.assertEqual(self.send(self.csv(self.reflectance())).status_code, 302)
        self.assertEqual(self.known, "instrument")
        self.assertLess(self.off(), 0.5)
        answer = self.client.post(self.at("spectrum"), {"forget": "1"})
        self.assertEqual((answer.status_code, self.known), (302, "named"))

    def test_k_over_s_of_the_tube_itself(self) -> None:
        k = MAGENTA.strength * MAGENTA.spectrum
        rows = "\n".join(f"{nm};{value:.4f}".replace(".", ",") for nm, value in zip(WAVELENGTHS_NM, k, strict=True))
        self.assertEqual(self.send(rows, of="k").status_code, 302)
        self.assertLess(self.off(), 0.2)

    def test_cgats_by_the_name_of_its_sample(self) -> None:
        samples = [
            Sample(name=f"strand {share:g}", lab=look(10, share), reflectance=self.reflectance(share))
            for share in (0.2, 0.5)
        ]
        text = written(samples, originator="a test", created="2026-11-30")
        self.assertContains(self.send(text), "strand 0.2, strand 0.5", status_code=422)
        self.assertContains(self.send(text, sample="another"), "strand 0.2", status_code=422)
        self.assertEqual(self.send(text, sample="strand 0.5", share="0.5").status_code, 302)
        self.assertLess(self.off(), 0.5)

    def package(self, quantity: Quantity, **named: np.ndarray) -> bytes:
        spectra = [Spectrum(name=name.replace("_", " "), values=values) for name, values in named.items()]
        package = SpectralPackage(quantity=quantity, spectra=spectra, geometry="45/0", instrument="a reader")
        return zipped(spectral_package.written(package, name="strands", title="Strands", created="2026-12-02"))

    def test_a_data_package_by_the_name_of_its_sample(self) -> None:
        strands = {f"strand_{share:g}": self.reflectance(share) for share in (0.2, 0.5)}
        body = self.package(Quantity.REFLECTANCE, **strands)
        self.assertContains(self.send(body), "strand 0.2, strand 0.5", status_code=422)
        self.assertContains(self.send(body, of="k", sample="strand 0.5"), "says otherwise", status_code=422)
        self.assertEqual(self.send(body, sample="strand 0.5", share="0.5").status_code, 302)
        self.assertLess(self.off(), 0.5)

    def test_the_spectra_of_a_line_come_back_as_they_went(self) -> None:
        line = self.tube.line
        answer = self.client.get(reverse("readings:spectra", args=[line.pk]))
        self.assertIn(".spectra.zip", answer["Content-Disposition"])
        told = spectral_package.read(unzipped(answer.content, most_bytes=10**7))
        dyes = {dye.name: dye for dye in stocked_line(line).plain.values() if not dye.is_clear}
        self.assertEqual([each.name for each in told.spectra], list(dyes))
        for each in told.spectra:
            dye = dyes[each.name]
            np.testing.assert_allclose(each.values, dye.strength * dye.spectrum, atol=1e-6)
        sample = told.spectra[0].name
        self.assertEqual(self.send(answer.content, of="k", sample=sample).status_code, 302)
        taken = stocked_line(ShadeLine.objects.get(pk=line.pk)).plain[self.tube.pk]
        np.testing.assert_allclose(taken.strength * taken.spectrum, told.spectra[0].values, rtol=0.02, atol=0.02)
        other = make_person("Ballast Quay", "ballast")
        self.client.force_login(other)
        self.assertEqual(self.client.get(reverse("readings:spectra", args=[line.pk])).status_code, 404)

    def test_a_package_that_can_not_be_read_is_told(self) -> None:
        good = self.package(Quantity.REFLECTANCE, strand=self.reflectance())
        many, link, secret = io.BytesIO(), io.BytesIO(), io.BytesIO()
        with zipfile.ZipFile(many, "w", zipfile.ZIP_DEFLATED) as bomb:
            bomb.writestr("datapackage.json", " " * 11_000_000)
        with zipfile.ZipFile(link, "w") as archive:
            info = zipfile.ZipInfo("datapackage.json")
            info.external_attr = (stat.S_IFLNK | 0o777) << 16
            archive.writestr(info, "/etc/passwd")
        with zipfile.ZipFile(secret, "w") as archive:
            archive.writestr("datapackage.json", b"\xff\xfe")
        broken = bytearray(good)
        broken[60:80] = bytes(20)
        for body, words in (
            (good[: len(good) // 2], "cut off"),
            (bytes(broken), "cut off"),
            (many.getvalue(), "more than such a file can hold"),
            (link.getvalue(), "a link"),
            (secret.getvalue(), "no text"),
            (zipped({"other.txt": "x"}), "datapackage.json"),
        ):
            with self.subTest(words=words):
                self.assertContains(self.send(body), words, status_code=422)
        self.assertNotEqual(self.known, "instrument")

    def test_what_is_wrong_is_said_and_nothing_changes(self) -> None:
        plain = self.csv(self.reflectance())
        for text, more, words in (
            ("", {}, "Choose a file"),
            ("no numbers at all", {}, "rows of a wavelength and a value"),
            (plain.replace("400.5,", "400.5,x"), {}, "no wavelength and a value"),
            (self.csv(self.reflectance(), step=40), {}, "20 nm at most"),
            (self.csv(2 * np.ones(81)), {}, "no reflectance"),
            (self.csv(0.96 * np.ones(81)), {}, "lighter than its hair"),
            (plain, {"level": "20"}, "1 to 11"),
            (plain, {"share": "none"}, "0.2"),
        ):
            with self.subTest(words):
                self.assertContains(self.send(text, **more), words, status_code=422)
        binary = SimpleUploadedFile("a.csv", b"\xff\xfe\x00")
        self.assertContains(self.send(plain, spectrum=binary), "UTF-8", status_code=422)
        self.assertEqual(self.known, "named")
