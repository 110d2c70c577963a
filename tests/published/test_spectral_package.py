"""Spectra as a data package before a stranger's reader, and the reader of such packages before what strangers write.

Source: Data Package and Tabular Data Package, version 1 (Frictionless Data), as the package `frictionless` reads them.
"""

import csv
import io
import json
import tempfile
from copy import deepcopy
from pathlib import Path
from typing import Any
from unittest import TestCase

import frictionless
import numpy as np
from colour import MSDS_CMFS, SDS_ILLUMINANTS, SpectralDistribution, SpectralShape, sd_to_XYZ

from engine.colorimetry.grid import WAVELENGTHS_NM
from engine.colorimetry.lab import lab_of, xyz_of
from engine.colorimetry.lights import Light, viewing
from engine.colorimetry.spectral_package import (
    DESCRIPTOR,
    TABLE,
    PackageUnusable,
    Quantity,
    SpectralPackage,
    Spectrum,
    read,
    written,
)

RNG = np.random.default_rng(7)
VALUES = np.clip(RNG.uniform(0.02, 0.9, (5, 1)) + np.cumsum(RNG.normal(0, 0.01, (5, 81)), axis=1), 0, 1)
NAMES = ("Madder, 1 in 5", 'Weld "gold"', "Woad; blue", "Orchil\u00e9", "Alkanet")


def package(**more: Any) -> SpectralPackage:
    view = viewing(Light.DAYLIGHT)
    spectra = [
        Spectrum(name=name, values=row, lab=lab_of(xyz_of(row, view.weights), view.white_xyz))
        for name, row in zip(NAMES, VALUES, strict=True)
    ]
    told = {"quantity": Quantity.REFLECTANCE, "geometry": "45/0", "instrument": "reader 12"} | more
    return SpectralPackage(**({"spectra": spectra} | told))


def files() -> dict[str, str]:
    return written(package(), name="strands", title="Strands", created="2026-12-02T10:00:00+00:00")


class Strangers(TestCase):
    def test_frictionless_finds_nothing_wrong_and_reads_every_number(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            for name, text in files().items():
                (Path(folder) / name).write_text(text, encoding="utf-8", newline="")
            found = frictionless.Package(str(Path(folder) / DESCRIPTOR), basepath=folder)
            report = found.validate()
            self.assertTrue(report.valid, report.flatten(["code", "message"]))
            rows = found.get_resource("spectra").read_rows()
        self.assertEqual([row["sample"] for row in rows], list(NAMES))
        for row, values in zip(rows, VALUES, strict=True):
            given = [float(row[f"{nm:g}"]) for nm in WAVELENGTHS_NM]
            np.testing.assert_allclose(given, values, atol=5e-7)

    def test_its_colours_are_those_that_colour_science_reckons_from_its_spectra(self) -> None:
        shape = SpectralShape(380, 780, 5)
        cmfs = MSDS_CMFS["CIE 1931 2 Degree Standard Observer"].copy().align(shape)
        light = SDS_ILLUMINANTS["D65"].copy().align(shape)
        rows = list(csv.DictReader(io.StringIO(files()[TABLE])))
        view = viewing(Light.DAYLIGHT)
        for row in rows:
            spectrum = SpectralDistribution({int(nm): float(row[f"{nm:g}"]) for nm in WAVELENGTHS_NM})
            xyz = sd_to_XYZ(spectrum, cmfs, light, method="Integration") / 100
            ours = [float(row[name]) for name in ("lab_l", "lab_a", "lab_b")]
            np.testing.assert_allclose(lab_of(xyz, view.white_xyz), ours, atol=0.05)


class RoundTrip(TestCase):
    def test_what_was_written_is_read(self) -> None:
        back = read(files())
        self.assertEqual((back.quantity, back.geometry, back.instrument), (Quantity.REFLECTANCE, "45/0", "reader 12"))
        self.assertEqual((back.light, back.observer), ("D65", "2 degrees"))
        for ours, theirs in zip(package().spectra, back.spectra, strict=True):
            self.assertEqual(ours.name, theirs.name)
            np.testing.assert_allclose(ours.values, theirs.values, atol=5e-7)
            np.testing.assert_allclose(ours.lab, theirs.lab, atol=5e-5)

    def test_absorption_without_colours(self) -> None:
        spectra = [Spectrum(name="Madder", values=VALUES[0] * 40)]
        given = written(package(quantity=Quantity.K_S, spectra=spectra), name="k", title="K", created="2026-12-02")
        back = read(given)
        self.assertIs(back.quantity, Quantity.K_S)
        self.assertIsNone(back.spectra[0].lab)
        np.testing.assert_allclose(back.spectra[0].values, VALUES[0] * 40, atol=5e-7)


class OfOthers(TestCase):
    """Packages as a laboratory may write them."""

    def made(self, header: list[str], rows: list[list[object]], said: object = None, **resource: object) -> Any:
        sign = resource.get("dialect", {}).get("delimiter", ",")
        text = "\n".join(sign.join(str(each) for each in row) for row in [header, *rows])
        descriptor = {"name": "lab", "resources": [{"name": "r", "path": "data.csv"} | resource]}
        descriptor |= {} if said is None else {"spectral": said}
        return {DESCRIPTOR: json.dumps(descriptor), "data.csv": text}

    def test_another_grid_percent_and_semicolons(self) -> None:
        grid = list(range(400, 701, 10))
        header = ["name", *(f"nm_{nm}" for nm in grid)]
        said = {"scale": 100, "grid": {"from_nm": 400, "to_nm": 700, "step_nm": 10}, "geometry": "d/8"}
        found = read(self.made(header, [["strand", *([25] * 31)]], said, dialect={"delimiter": ";"}))
        self.assertEqual((found.spectra[0].name, found.geometry), ("strand", "d/8"))
        np.testing.assert_allclose(found.spectra[0].values, 0.25)

    def test_one_that_says_little_is_taken_for_fractions_of_light(self) -> None:
        found = read(self.made(["400 nm", "420", "440", *map(str, range(460, 701, 20))], [[0.5] * 16]))
        self.assertEqual((found.quantity, found.spectra[0].name), (Quantity.REFLECTANCE, "1"))

    def test_what_is_wrong_is_told_by_its_place(self) -> None:
        header, row = ["sample", *map(str, range(400, 701, 10))], ["strand", *([0.5] * 31)]
        good = self.made(header, [row])
        self.assertEqual(len(read(good).spectra), 1)

        def told(**more: object) -> dict[str, str]:
            descriptor = json.loads(good[DESCRIPTOR])
            return good | {DESCRIPTOR: json.dumps(deepcopy(descriptor) | more)}

        resource = {"path": "data.csv"}
        high = [*row[:5], 3.0, *row[6:]]
        for wrong, words in (
            ({"data.csv": good["data.csv"]}, "datapackage.json"),
            (good | {DESCRIPTOR: "{"}, "no JSON"),
            (good | {DESCRIPTOR: "[]"}, "object"),
            (told(resources=[]), "resources"),
            (told(resources=[resource, resource]), "resources"),
            (told(resources=[{"path": "../other.csv"}]), "resources.0.path"),
            (told(resources=[resource | {"dialect": {"delimiter": "x"}}]), "delimiter"),
            (told(spectral=3), "spectral"),
            (told(spectral={"quantity": "transmittance"}), "spectral.quantity"),
            (told(spectral={"quantity": []}), "spectral.quantity"),
            (told(spectral={"scale": 7}), "spectral.scale"),
            (told(spectral={"grid": {"from_nm": 380, "to_nm": 700, "step_nm": 10}}), "spectral.grid"),
            (told(spectral={"grid": {"from_nm": 400, "to_nm": 700}}), "spectral.grid"),
            (told(spectral={"grid": {"from_nm": 400, "to_nm": 7e300, "step_nm": 1e-300}}), "spectral.grid"),
            (self.made(["sample", "red"], [["strand", 1]]), "wavelengths"),
            (self.made(header, []), "samples"),
            (self.made(header, [row] * 2001), "samples"),
            (self.made(header, [row[:-1]]), "data.csv:2"),
            (self.made(header, [["strand", *(["x"] * 31)]]), "column 2"),
            (self.made(header, [["strand", *(["nan"] * 31)]]), "column 2"),
            (self.made(header, [high]), "data.csv:2"),
            (self.made(header, [["strand", *([-0.1] * 31)]]), "data.csv:2"),
            (self.made(header[:20], [row[:20]]), "data.csv:2"),
            (self.made(["sample", "400", "600", "700"], [["strand", 1, 1, 1]]), "data.csv:2"),
            (self.made([*header, "400"], [[*row, 0.5]]), "data.csv:2"),
        ):
            with self.subTest(words=words):
                with self.assertRaises(PackageUnusable) as refused:
                    read(wrong)
                self.assertIn(words, str(refused.exception))
