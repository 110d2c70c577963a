"""Hair and its reflectance against published numbers."""

from unittest import TestCase

import numpy as np
from scipy.optimize import least_squares

from engine.colorimetry.grid import WAVELENGTHS_NM
from engine.hair.canvas import Canvas
from engine.hair.reading import canvas_lab
from engine.hair.reflectance import SURFACE, mingled, reflectance
from engine.hair.residue import Family, natural_shape
from engine.tables import load_table
from tests.published.rows import rows

# Wavelengths that stand for a screen's red, green and blue in the rendering literature: from memory.
RED_GREEN_BLUE_NM = (650, 550, 450)
LEAN = {"eumelanin": 0.0, "pheomelanin": 10.0}


class NaturalPigment(TestCase):
    def test_eu_and_pheomelanin_absorb_in_the_ratios_that_rendering_uses(self) -> None:
        """[EFH11], table of absorption for red, green and blue light, as used by [CHI16]; from memory."""
        at = [int(np.flatnonzero(nm == WAVELENGTHS_NM)[0]) for nm in RED_GREEN_BLUE_NM]
        for row in rows("hair_pigments"):
            printed = np.array([float(row[name]) for name in ("red", "green", "blue")])
            ours = natural_shape(LEAN[row["pigment"]])[at]
            with self.subTest(pigment=row["pigment"]):
                np.testing.assert_allclose(ours / ours[0], printed / printed[0], rtol=0.07)


class HairAssemblies(TestCase):
    def test_the_law_goes_through_path_traced_hair_and_a_paint_films_does_not(self) -> None:
        """The form of [CHI16], R = s + (1 - s) exp(-q sqrt(sigma + a)), fitted to the points of a general-purpose
        renderer; and Kubelka-Munk for a thick film, [KM31], with a surface, fitted to the same."""
        table = load_table("rendered_hair")
        sigma, seen = table.numbers("sigma"), table.numbers("reflectance")

        def depth(reflectance: np.ndarray) -> np.ndarray:
            return 116 * np.cbrt(reflectance) - 16  # L* of a grey above 0.9 %, [CIE15]

        def assembly(known: np.ndarray) -> np.ndarray:
            surface, steep, clean = known
            return depth(surface + (1 - surface) * np.exp(-steep * np.sqrt(sigma + clean))) - depth(seen)

        def film(known: np.ndarray) -> np.ndarray:
            surface, scatter, clean = known
            k_s = (sigma + clean) / scatter
            return depth(surface + (1 - surface) * (1 + k_s - np.sqrt(k_s * (k_s + 2)))) - depth(seen)

        fits = [
            least_squares(miss, start, bounds=(1e-6, [0.2, 50, 0.1]))
            for miss, start in ((assembly, [0.03, 5, 1e-3]), (film, [0.03, 0.1, 1e-3]))
        ]
        off = [float(np.sqrt(np.mean(fit.fun**2))) for fit in fits]
        self.assertLess(off[0], 0.5)
        self.assertGreater(off[1], 3 * off[0])

    def test_white_hair_among_dark_exchanges_light_as_path_traced_mixtures_do(self) -> None:
        """Fibres mixed strand by strand in the same renderer: the power mean lies near, that by area far too light."""
        table = load_table("rendered_mixtures")
        dark, share, seen = (table.numbers(name) for name in ("dark_sigma", "white_share", "reflectance"))
        surface, steep = 0.0345, 5.25  # of the law fitted to fibres of one kind, in this light: the test above

        def depth(reflectance: np.ndarray) -> np.ndarray:
            return 116 * np.cbrt(reflectance) - 16

        mixed, by_area = [], []
        for sigma in sorted(set(dark)):
            own = dark == sigma
            ends = np.array([seen[own][share[own] == end][0] for end in (0.0, 1.0)])
            k = (np.log((1 - surface) / (ends - surface)) / steep) ** 2
            for part, true in zip(share[own], seen[own], strict=True):
                together = mingled(np.tile(k[:, None], (1, 81)), np.array([1 - part, part]))[0]
                found = surface + (1 - surface) * np.exp(-steep * np.sqrt(together))
                mixed.append(depth(found) - depth(true))
                by_area.append(depth((1 - part) * ends[0] + part * ends[1]) - depth(true))
        off, area = (float(np.sqrt(np.mean(np.square(each)))) for each in (mixed, by_area))
        self.assertLess(off, 3.5)
        self.assertGreater(area, 4 * off)

    def test_a_perfect_white_stays_white_and_a_perfect_black_shows_its_surface(self) -> None:
        self.assertAlmostEqual(float(reflectance(np.array(0.0))), 1.0, places=12)
        self.assertAlmostEqual(float(reflectance(np.array(1e12))), 0.012, places=6)

    def test_the_surface_is_less_than_all_that_hair_mirrors(self) -> None:
        """Fresnel at right angles for keratin in air, ((n - 1) / (n + 1))^2 = 0.0465 with n = 1.55: textbook optics,
        from memory. Ours is less, as a lock's gloss is left out of its colour."""
        self.assertTrue(0 < SURFACE < 0.0465)

    def test_white_and_dark_fibres_among_one_another_are_as_path_traced(self) -> None:
        """The same renderer, strand by strand: L* of level 3 with shares of white hair; the founders' runs."""
        for share, traced in ((0.1, 29.9), (0.3, 35.8), (0.5, 43.9), (0.8, 63.6)):
            with self.subTest(share=share):
                found = canvas_lab(Canvas(level=3, family=Family.NATURAL, grey=share))[0]
                self.assertAlmostEqual(float(found), traced, delta=1.7)
