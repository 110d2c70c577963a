"""Colour from a photo: white paper tells the light."""

from unittest import TestCase

import numpy as np

from engine.arrays import FloatArray
from engine.colorimetry.difference import delta_e00
from engine.colorimetry.lab import xyz_from_lab
from engine.colorimetry.photo import PAPER_REFLECTANCE, PhotoUnusable, patch_colour
from engine.colorimetry.screen import RGB_FROM_XYZ, SCREEN_WHITE_XYZ, encode
from tests.engine.made import lab

HAIR = lab(62, 28, 12)


def pixels(colour: FloatArray, light: tuple[float, float, float] = (1, 1, 1), count: int = 200) -> FloatArray:
    """Encoded pixels of a colour L*a*b* whose linear light is tinted channel by channel, with a little noise."""
    linear = (xyz_from_lab(colour, SCREEN_WHITE_XYZ) @ RGB_FROM_XYZ.T) * np.array(light)
    noise = np.random.default_rng(3).normal(0, 0.004, size=(count, 3))
    return np.clip(encode(np.clip(linear, 0, 1)) + noise, 0, 1)


def paper(light: tuple[float, float, float] = (1, 1, 1)) -> FloatArray:
    grey = 116 * np.cbrt(PAPER_REFLECTANCE) - 16
    return pixels(lab(grey, 0, 0), light)


class Patches(TestCase):
    def test_in_good_light_the_colour_is_what_it_is(self) -> None:
        for white in (None, paper()):
            found = patch_colour(pixels(HAIR), white)
            self.assertLess(float(delta_e00(HAIR, found.lab)), 0.6)
            self.assertLess(found.stray, 3)

    def test_paper_in_the_same_light_takes_its_tint_and_dimness_away(self) -> None:
        for light in ((1.0, 0.82, 0.6), (0.75, 0.85, 1.0), (0.6, 0.6, 0.6)):
            with self.subTest(light=light):
                plain = patch_colour(pixels(HAIR, light), None)
                corrected = patch_colour(pixels(HAIR, light), paper(light))
                before, after = (float(delta_e00(HAIR, found.lab)) for found in (plain, corrected))
                self.assertLess(after, 3)
                self.assertLess(after, before / 2)

    def refused(self, code: str, hair: FloatArray, white: FloatArray | None) -> None:
        with self.assertRaises(PhotoUnusable) as caught:
            patch_colour(hair, white)
        self.assertEqual(caught.exception.code, code)

    def test_patches_that_say_nothing_certain_are_refused_with_the_reason(self) -> None:
        burnt, dark = np.ones((50, 3)), np.zeros((50, 3))
        self.refused("over_exposed", burnt, None)
        self.refused("in_the_dark", dark, None)
        self.refused("over_exposed", pixels(HAIR), burnt)
        self.refused("paper_in_shadow", pixels(HAIR), paper((0.15, 0.15, 0.15)))
        self.refused("paper_not_white", pixels(HAIR), pixels(lab(60, 35, 30)))
        edge = np.vstack([paper()[:100], paper((0.4, 0.4, 0.4))[:100]])
        self.refused("paper_uneven", pixels(HAIR), edge)
