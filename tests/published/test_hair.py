"""Hair and its reflectance against published numbers."""

from unittest import TestCase
from unittest.mock import patch

import numpy as np

from engine.colorimetry.grid import WAVELENGTHS_NM
from engine.hair.reflectance import SURFACE_INSIDE, SURFACE_OUTSIDE, body_from_reflectance, reflectance
from engine.hair.residue import natural_shape
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


class Saunderson(TestCase):
    def test_the_surface_correction_has_its_worked_values(self) -> None:
        """[SAU42], R = k1 + (1 - k1)(1 - k2) Ri / (1 - k2 Ri), worked by hand with k1 = 0.04 and k2 = 0.6, usual for a
        smooth surface (from memory), and with none: the equation is held to, whatever constants hair has."""
        # K/S of Ri by [KM31]: Ri = 0.5 is 0.25, Ri = 0.2 is 1.6, Ri = 0.8 is 0.025.
        for outside, inside, worked in (
            (0.04, 0.6, ((0.25, 0.5, 0.314286), (1.6, 0.2, 0.127273), (0.025, 0.8, 0.630769))),
            (0.0, 0.0, ((0.25, 0.5, 0.5), (1.6, 0.2, 0.2), (0.025, 0.8, 0.8))),
        ):
            with patch.multiple("engine.hair.reflectance", SURFACE_OUTSIDE=outside, SURFACE_INSIDE=inside):
                for absorption, body, seen in worked:
                    self.assertAlmostEqual(float(reflectance(np.array(absorption))), seen, delta=0.5e-5)
                    self.assertAlmostEqual(float(body_from_reflectance(np.array(seen))), body, delta=1e-5)

    def test_the_surface_of_hair_turns_back_about_what_its_refractive_index_says(self) -> None:
        """Fresnel at right angles for keratin in air: ((n - 1) / (n + 1))^2 = 0.0465 with n = 1.55, and diffuse light
        within is turned back by some 0.6: textbook optics, from memory. Ours are less, as much of a lock's
        gloss is left out of its colour; past these bounds they would be no surface of hair."""
        self.assertTrue(0 < SURFACE_OUTSIDE < 0.0465)
        self.assertTrue(0.3 < SURFACE_INSIDE < 0.6)

    def test_a_perfect_white_stays_white_and_a_perfect_black_shows_its_surface(self) -> None:
        self.assertAlmostEqual(float(reflectance(np.array(0.0))), 1.0, places=12)
        self.assertAlmostEqual(float(reflectance(np.array(1e12))), 0.012, places=6)
