"""Files of colours before other readers: Little CMS 2 reads and writes CGATS, colour-science reckons what is in it.

Reference implementations: liblcms2 (its IT8 and CGATS functions, Debian's package), colour-science (D65, 2 degrees).
"""

import contextlib
import ctypes
import unittest
import warnings
from collections.abc import Iterator

import numpy as np

from engine.colorimetry import cgats, cgats_in
from engine.colorimetry.cgats import Sample
from engine.colorimetry.grid import WAVELENGTHS_NM
from engine.colorimetry.lab import lab_of, xyz_of
from engine.colorimetry.lights import Light, viewing

with warnings.catch_warnings():
    warnings.simplefilter("ignore")
    import colour

TEXT, BODY, COUNT = ctypes.c_char_p, ctypes.c_void_p, ctypes.c_uint32


def library() -> ctypes.CDLL:
    """Little CMS with the shapes of the functions that are asked."""
    found = ctypes.CDLL("liblcms2.so.2")
    for name, answer, given in (
        ("cmsIT8LoadFromMem", BODY, (BODY, TEXT, COUNT)),
        ("cmsIT8TableCount", COUNT, (BODY,)),
        ("cmsIT8SetTable", ctypes.c_int32, (BODY, COUNT)),
        ("cmsIT8GetProperty", TEXT, (BODY, TEXT)),
        ("cmsIT8GetData", TEXT, (BODY, TEXT, TEXT)),
        ("cmsIT8GetDataDbl", ctypes.c_double, (BODY, TEXT, TEXT)),
        ("cmsIT8SaveToMem", ctypes.c_int, (BODY, BODY, ctypes.POINTER(COUNT))),
        ("cmsIT8Free", None, (BODY,)),
    ):
        function = getattr(found, name)
        function.restype, function.argtypes = answer, given
    return found


class Judges(unittest.TestCase):
    def setUp(self) -> None:
        self.lcms = library()
        rise = 0.08 + 0.6 / (1 + np.exp(-(WAVELENGTHS_NM - 590) / 22))  # a red
        hump = 0.1 + 0.5 * np.exp(-(((WAVELENGTHS_NM - 470) / 40) ** 2))  # a blue
        self.samples = [
            Sample(name="nape, by eye", lab=np.array([61.25, 18.5, -3.125])),
            *(Sample(name=name, lab=lab(curve), reflectance=curve) for name, curve in (("red", rise), ("blue", hump))),
        ]
        self.text = cgats.written(self.samples, originator="Lantern Street Colour Room", created="2026-12-02")

    @contextlib.contextmanager
    def opened(self, text: str) -> Iterator[int]:
        """A text as Little CMS has read it."""
        body = text.encode()
        handle = self.lcms.cmsIT8LoadFromMem(None, body, len(body))
        self.assertTrue(handle, "Little CMS does not read it")
        try:
            yield handle
        finally:
            self.lcms.cmsIT8Free(handle)

    def number(self, handle: int, row: int, field: str) -> float:
        return self.lcms.cmsIT8GetDataDbl(handle, str(row).encode(), field.encode())

    def test_little_cms_reads_every_value_that_was_written(self) -> None:
        with self.opened(self.text) as handle:
            self.assertEqual(self.lcms.cmsIT8TableCount(handle), 2)
            self.assertEqual(self.lcms.cmsIT8GetProperty(handle, b"ORIGINATOR"), b"Lantern Street Colour Room")
            for table, samples in enumerate((self.samples[:1], self.samples[1:])):
                self.lcms.cmsIT8SetTable(handle, table)
                for row, sample in enumerate(samples, 1):
                    name = self.lcms.cmsIT8GetData(handle, str(row).encode(), b"SAMPLE_NAME")
                    self.assertEqual(name.decode(), sample.name)
                    for field, value in zip(cgats.LAB_FIELDS, sample.lab, strict=True):
                        self.assertAlmostEqual(self.number(handle, row, field), value, places=3)
                    for nm, value in (
                        () if sample.reflectance is None else zip(WAVELENGTHS_NM, sample.reflectance, strict=True)
                    ):
                        self.assertAlmostEqual(self.number(handle, row, f"SPECTRAL_NM{int(nm)}"), value, places=4)

    def test_what_little_cms_writes_of_it_is_read_back(self) -> None:
        size = COUNT(0)
        with self.opened(self.text) as handle:
            self.lcms.cmsIT8SaveToMem(handle, None, ctypes.byref(size))
            kept = ctypes.create_string_buffer(size.value)
            self.lcms.cmsIT8SaveToMem(handle, kept, ctypes.byref(size))
        back = cgats_in.read(kept.value.decode())
        self.assertEqual([sample.name for sample in back], [sample.name for sample in self.samples])
        for sample, was in zip(back, self.samples, strict=True):
            np.testing.assert_allclose(sample.lab, was.lab, atol=5e-3)
            if was.reflectance is not None:
                np.testing.assert_allclose(sample.reflectance, was.reflectance, atol=1e-4)

    def test_colour_science_reckons_the_colours_of_the_spectra_that_little_cms_reads(self) -> None:
        shape = colour.SpectralShape(380, 780, 5)
        observer = colour.MSDS_CMFS["CIE 1931 2 Degree Standard Observer"].copy().align(shape)
        light = colour.SDS_ILLUMINANTS["D65"].copy().align(shape)
        white = colour.CCS_ILLUMINANTS["CIE 1931 2 Degree Standard Observer"]["D65"]
        with self.opened(self.text) as handle:
            self.lcms.cmsIT8SetTable(handle, 1)
            for row in (1, 2):
                curve = {int(nm): self.number(handle, row, f"SPECTRAL_NM{int(nm)}") for nm in WAVELENGTHS_NM}
                xyz = colour.sd_to_XYZ(colour.SpectralDistribution(curve), observer, light, method="Integration")
                theirs = colour.XYZ_to_Lab(xyz / 100, white)
                ours = [self.number(handle, row, field) for field in cgats.LAB_FIELDS]
                self.assertLess(float(colour.delta_E(theirs, ours, method="CIE 2000")), 0.1)

    def test_a_broken_file_is_refused_by_both(self) -> None:
        for broken in (self.text.replace("BEGIN_DATA\n", "", 1), "CGATS.17\nBEGIN_DATA\n", '"'):
            with self.subTest(broken=broken[:20]):
                body = broken.encode()
                self.assertFalse(self.lcms.cmsIT8LoadFromMem(None, body, len(body)))
                with self.assertRaises(cgats_in.CgatsUnusable):
                    cgats_in.read(broken)


def lab(reflectance: np.ndarray) -> np.ndarray:
    """L*a*b* (3,) of a reflectance under D65."""
    view = viewing(Light.DAYLIGHT)
    return lab_of(xyz_of(reflectance, view.weights), view.white_xyz)
