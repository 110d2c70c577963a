"""A tube known from a look or from a spectrum, and spectra as files bring them."""

from unittest import TestCase

import numpy as np

from engine.bowl.mix import FULL_TIME_DRY, Bowl, added_absorption
from engine.bowl.predict import predict, seen_reflectance
from engine.bowl.spread import Doubt, spread
from engine.bowl.sureness import within_of
from engine.colorimetry.difference import delta_e00
from engine.colorimetry.grid import WAVELENGTHS_NM
from engine.colorimetry.spectrum_in import SpectrumUnusable, as_reflectance, read_spectrum
from engine.dye.families import families, family
from engine.dye.guess import guessed
from engine.dye.kind import Kind
from engine.dye.known import JOINED, Known
from engine.dye.measured import from_absorption, from_reflectance
from engine.dye.shade import CLEAR, Shade
from engine.dye.shelf import demo_shelf
from engine.dye.swatch import SWATCH_DOUBT, from_swatch
from engine.errors import BadInput
from engine.hair.canvas import Canvas, fibres_of
from tests.salons.strands import secret

TEN, CLEAN = Canvas(level=10), demo_shelf()[CLEAR]
COLOURS = [shade for shade in demo_shelf().values() if not shade.is_clear]


def look(shade: Shade, share: float = 1.0, canvas: Canvas = TEN):
    bowl = Bowl(grams={shade: share, CLEAN: 1 - share} if share < 1 else {shade: 1.0})
    return predict(canvas, bowl).lab


class Swatches(TestCase):
    def test_a_look_tells_more_than_a_name_and_its_doubt_says_so(self) -> None:
        for shade in COLOURS:
            with self.subTest(shade.name):
                found = from_swatch("new", look(shade), TEN).shade
                self.assertEqual(found.doubt.source, Known.SWATCH)
                self.assertLess(float(delta_e00(look(shade), look(found))), SWATCH_DOUBT)
                if shade.name != "black":  # black swatches look all alike
                    named = guessed(shade.name, kind=Kind.DIRECT, tones=("red",))
                    self.assertLess(within_of(found), within_of(named))

    def test_its_band_holds_what_secret_tubes_of_other_strength_and_course_give(self) -> None:
        """Of 40 secrets, whose swatch lies as swatches do, the band that is to hold nine in ten holds as many."""
        luck, inside = np.random.default_rng(3), []
        for _ in range(40):
            of = secret(luck).shade
            swatch = look(of) + luck.normal(0, 1.5, 3)
            found = from_swatch("new", swatch, TEN).shade
            share = float(np.exp(luck.uniform(np.log(0.05), 0)))
            around = spread(
                TEN,
                Bowl(grams={found: share, CLEAN: 1 - share}),
                doubt=Doubt(level=0, porosity=0, grams=0, minutes=0),
            )
            inside.append(float(delta_e00(around.lab, look(of, share))) <= around.within_90)
        self.assertGreaterEqual(np.mean(inside), 0.8)

    def test_the_family_that_was_picked_is_kept(self) -> None:
        for name in families():
            found = from_swatch("new", look(Shade(name=name, samples=tuple(np.exp(family(name).mean @ JOINED)))), TEN)
            self.assertIn(found.family, {*families(), ""})
        self.assertEqual(from_swatch("new", look(COLOURS[0]), TEN, like="green").family, "green")


class Spectra(TestCase):
    def test_a_strand_s_reflectance_gives_the_tube_back(self) -> None:
        for shade in COLOURS:
            for level, share in ((10, 0.2), (9, 1.0)):
                canvas = Canvas(level=level)
                bowl = Bowl(grams={shade: share, CLEAN: 1 - share} if share < 1 else {shade: 1.0})
                seen = seen_reflectance(fibres_of(canvas), added_absorption(bowl, 1.0, FULL_TIME_DRY))
                found = from_reflectance("new", seen, canvas, share=share, kind=Kind.DIRECT)
                off, told = float(delta_e00(look(shade, 0.1), look(found, 0.1))), within_of(found)
                if share < 1:
                    self.assertLess(off, 0.5, shade.name)
                    self.assertLess(told, 4.5, shade.name)
                # Where an undiluted strand takes nearly all light, how much of it there is stays open, and is said.
                self.assertLess(off, told, (shade.name, level))

    def test_what_is_no_dyed_strand_is_refused(self) -> None:
        with self.assertRaises(BadInput):
            from_reflectance("new", np.full(81, 0.95), TEN, share=1, kind=Kind.DIRECT)
        with self.assertRaises(BadInput):
            from_absorption("new", np.zeros(81), kind=Kind.DIRECT)
        with self.assertRaises(BadInput):
            from_reflectance("new", np.full(81, 0.3), TEN, share=0, kind=Kind.DIRECT)

    def test_a_text_is_read_in_whatever_way_numbers_are_parted(self) -> None:
        nm = np.arange(380, 731, 10)
        values = 0.2 + 0.5 * (nm - 380) / 350
        wanted = np.interp(WAVELENGTHS_NM, nm, values)
        for text in (
            "nm,reflectance\n" + "\n".join(f"{n},{v:.6f}" for n, v in zip(nm, values, strict=True)),
            "nm;R\n" + "\n".join(f"{n};{v:.6f}".replace(".", ",") for n, v in zip(nm, values, strict=True)),
            "\n".join(f"{n}\t{v:.6f}\t0.1" for n, v in zip(nm, values, strict=True)),
            "# of a strand\n" + "\n".join(f"{n}  {v:.6f}" for n, v in zip(nm[::-1], values[::-1], strict=True)),
            "\n".join(f"{n}, {v:.6f}, 0.1" for n, v in zip(nm, values, strict=True)),
        ):
            with self.subTest(text[:20]):
                np.testing.assert_allclose(read_spectrum(text), wanted, atol=1e-6)
        np.testing.assert_allclose(as_reflectance(100 * wanted), wanted)

    def test_what_is_wrong_with_a_text_is_said_with_its_line(self) -> None:
        nm = range(400, 701, 10)
        plain = [f"{n},0.5" for n in nm]
        for rows, line in (
            ([], 1),
            (plain[:1], 1),
            (plain[5:], 1),
            (plain[:-3], 1),
            ([*plain[:10], *plain[14:]], 11),
            ([*plain, "500,0.4"], 32),
            ([*plain, "here it ends"], 32),
            (["5,0.4", *plain], 1),
            ([*plain, "710,-3"], 32),
            ([*plain, "720,nan"], 32),
        ):
            with self.subTest(rows=len(rows), line=line):
                with self.assertRaises(SpectrumUnusable) as caught:
                    read_spectrum("\n".join(rows))
                self.assertEqual(caught.exception.line, line)
        with self.assertRaises(SpectrumUnusable):
            as_reflectance(np.full(81, 130.0))
