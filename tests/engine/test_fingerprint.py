"""The fingerprint of a tube: the same exactly where forecasts are."""

from dataclasses import replace
from unittest import TestCase

from engine.dye.fingerprint import fingerprint
from engine.dye.shade import Band, Shade
from engine.dye.shelf import demo_shelf


class Fingerprint(TestCase):
    def test_what_changes_a_forecast_changes_it_and_a_name_does_not(self) -> None:
        shade = next(each for each in demo_shelf().values() if len(each.bands) > 1)
        same = fingerprint(shade)
        self.assertRegex(same, r"^[0-9a-f]{16}$")
        self.assertEqual(fingerprint(replace(shade, name="Alizarin", code="7", line="another")), same)
        first, *rest = shade.bands
        others = [
            replace(shade, strength=shade.strength + 0.01),
            replace(shade, bands=(replace(first, centre_nm=first.centre_nm + 0.1), *rest)),
            replace(shade, bands=tuple(reversed(shade.bands))),
            replace(shade, time_constant_min=9.0),
            replace(shade, life=12.5),
            replace(shade, ratio=2.0),
        ]
        found = {same, *map(fingerprint, others)}
        self.assertEqual(len(found), len(others) + 1)

    def test_it_is_what_fips_180_4_makes_of_the_numbers(self) -> None:
        # The digest of the text that the docstring describes, made by the sha256sum of GNU coreutils.
        band = Band(centre_nm=500, sigma_nm=40, weight=1)
        self.assertEqual(fingerprint(Shade(name="a", bands=(band,), strength=8)), "1d1fa35486eef3c7")

    def test_every_tube_of_the_demo_has_its_own(self) -> None:
        shelf = demo_shelf().values()
        colours = [shade for shade in shelf if not shade.is_clear]
        self.assertEqual(len({fingerprint(shade) for shade in colours}), len(colours))
