"""Files against the standards that they follow. CGATS and palette text: from memory, as REFERENCES says."""

import datetime
import re
import unittest
import uuid
from types import SimpleNamespace

import numpy as np
from icalendar import Calendar

from engine.colorimetry import cgats, cgats_in
from engine.colorimetry.cgats import Sample
from engine.colorimetry.cgats_in import CgatsUnusable
from engine.colorimetry.difference import delta_e00
from engine.colorimetry.grid import WAVELENGTHS_NM
from engine.colorimetry.lab import lab_of, xyz_from_lab, xyz_of
from engine.colorimetry.lights import Light, viewing
from engine.errors import BadInput
from studio.formats.calendar import next_visit
from studio.formats.palette import palette_text

# [CGATS17]: keywords first, the fields between BEGIN_ and END_DATA_FORMAT, as many rows as NUMBER_OF_SETS says.
REFERENCE = """CGATS.17
ORIGINATOR "an instrument of somebody else"
MEASUREMENT_SOURCE "Illumination=D65 Observer=2"
# a remark
NUMBER_OF_FIELDS 5
BEGIN_DATA_FORMAT
SAMPLE_ID SAMPLE_NAME LAB_L LAB_A LAB_B
END_DATA_FORMAT
NUMBER_OF_SETS 2
BEGIN_DATA
1 "left \\ temple, o'clock" 61.20 18.04 -3.5
2 nape 58.99 1.9E1 -2.75
END_DATA
"""


DAYLIGHT = 'MEASUREMENT_SOURCE "Illumination=D65 Observer=2"'


class Cgats(unittest.TestCase):
    def test_a_table_of_somebody_else_is_read(self) -> None:
        left, nape = cgats_in.read(REFERENCE)
        self.assertEqual((left.name, nape.name), ("left \\ temple, o'clock", "nape"))
        np.testing.assert_allclose(nape.lab, [58.99, 19.0, -2.75])
        for words in (
            'measurement_source "Illumination=D65 ObserverAngle=2degree"',
            "ILLUMINATION_NAME D65  # daylight",
        ):
            said = REFERENCE.replace(DAYLIGHT, words).lower().replace("begin_data\n", "BEGIN_DATA\n")
            np.testing.assert_allclose(cgats_in.read(said)[1].lab, [58.99, 19.0, -2.75])

    def test_a_light_is_honoured_or_refused(self) -> None:
        """[BRADFORD] by [ICC1]: a neutral stays one, and the worked pair of a warm colour from D50 to D65.

        The pair is reckoned here from the published matrix and whites: XYZ D65 = M^-1 diag(white ratio) M XYZ D50.
        """
        cone = np.array([[0.8951, 0.2664, -0.1614], [-0.7502, 1.7135, 0.0367], [0.0389, -0.0685, 1.0296]])
        d50, d65 = np.array([0.9642, 1.0, 0.8249]), np.array([0.95047, 1.0, 1.08883])
        gains = np.diag((cone @ d65) / (cone @ d50))
        xyz = np.linalg.inv(cone) @ gains @ cone @ xyz_from_lab(np.array([61.2, 18.04, -3.5]), d50)
        for words in ("", 'WEIGHTING_FUNCTION "ILLUMINANT, D50" # and', 'MEASUREMENT_SOURCE "Illumination=D50"'):
            text = REFERENCE.replace(DAYLIGHT, words)
            np.testing.assert_allclose(cgats_in.read(text)[0].lab, lab_of(xyz, d65), atol=0.02)
            grey = text.replace("58.99 1.9E1 -2.75", "58.99 0 0")
            np.testing.assert_allclose(cgats_in.read(grey)[1].lab, [58.99, 0, 0], atol=0.02)
        for words, said in (
            ("ILLUMINANT A", "line 3: its L*a*b* is for A"),
            ('MEASUREMENT_SOURCE "Illumination=F11 Observer=2"', "line 3: its L*a*b* is for F11"),
            (f"{DAYLIGHT}\nOBSERVER_ANGLE 10", "line 4: its L*a*b* is for 10 degrees"),
            (f"{DAYLIGHT}\nILLUMINATION_NAME D50", "line 4: its L*a*b* is for D50 and for D65"),
        ):
            with self.subTest(said=said), self.assertRaisesRegex(CgatsUnusable, re.escape(said)):
                cgats_in.read(REFERENCE.replace(DAYLIGHT, words))

    def test_spectra_of_other_grids_in_fractions_and_percent_give_their_colour_in_daylight(self) -> None:
        """A smooth curve on the engine's 5 nm, and what an instrument of 400 to 700 nm by 10 nm says of it."""
        curve = 0.12 + 0.5 / (1 + np.exp(-(WAVELENGTHS_NM - 580) / 18))
        view = viewing(Light.DAYLIGHT)
        truth = lab_of(xyz_of(curve, view.weights), view.white_xyz)
        for times, name in ((1, "SPECTRAL_NM{}"), (100, "nm_{}"), (100, "SPECTRAL_{}"), (1, "SPECTRAL_NM{}.0")):
            nm = np.arange(400, 701, 10)
            fields = " ".join(name.format(band) for band in nm)
            row = " ".join(f"{times * np.interp(band, WAVELENGTHS_NM, curve):.5f}" for band in nm)
            text = f"CGATS.17\nBEGIN_DATA_FORMAT\nSAMPLE_ID {fields}\nEND_DATA_FORMAT\nBEGIN_DATA\n1 {row}\nEND_DATA"
            (sample,) = cgats_in.read(text)
            self.assertLess(float(delta_e00(sample.lab, truth)), 0.1)
        for fifth in ("-0.2", "130"):
            values = row.split()
            values[5] = fifth
            with self.assertRaisesRegex(CgatsUnusable, "line 6: that is no reflectance"):
                cgats_in.read(text.replace(row, " ".join(values)))

    def test_what_is_written_has_the_standards_blocks_and_counts(self) -> None:
        sample = Sample(name='a "quoted" name', lab=np.array([50.0, 0, 0]), reflectance=np.full(81, 0.25))
        text = cgats.written([sample, sample], originator="a studio", created="2026-11-26")
        lines = text.splitlines()
        self.assertEqual(lines[0], "CGATS.17")
        fields = lines[lines.index("BEGIN_DATA_FORMAT") + 1].split()
        self.assertEqual(f"NUMBER_OF_FIELDS {len(fields)}", next(line for line in lines if "OF_FIELDS" in line))
        self.assertIn("NUMBER_OF_SETS 2", lines)
        self.assertEqual(len(lines[lines.index("BEGIN_DATA") + 1 : lines.index("END_DATA")]), 2)
        named = [int(field.removeprefix("SPECTRAL_NM")) for field in fields if field.startswith("SPECTRAL_NM")]
        np.testing.assert_array_equal(named, WAVELENGTHS_NM)

    def test_a_faulty_line_is_named(self) -> None:
        for fault, said in (
            (REFERENCE.replace("61.20", "sixty"), "line 11: a value is no number"),
            (REFERENCE.replace("61.20 ", ""), "line 11: 4 values for 5 fields"),
            (REFERENCE.replace('clock"', "clock"), "line 11"),
            (REFERENCE.replace("61.20", "161.20"), "line 11: that is no L*a*b*"),
            (REFERENCE.replace("61.20", "nan"), "line 11: a value is no finite number"),
            (REFERENCE.replace("LAB_L", "XYZ_X"), "line 11: neither"),
            (REFERENCE.partition("BEGIN_DATA\n")[0], "there are no rows"),
            (REFERENCE.replace("2 nape 58.99 1.9E1 -2.75\n", ""), "line 9: NUMBER_OF_SETS says 2, and there are 1"),
            (REFERENCE.replace("SETS 2", "SETS two"), "line 9: NUMBER_OF_SETS is no whole number"),
            ("", "this is no CGATS table"),
        ):
            with self.subTest(said=said), self.assertRaisesRegex(CgatsUnusable, re.escape(said)):
                cgats_in.read(fault)

    def test_samples_with_spectra_stand_in_a_table_of_their_own_and_every_sample_has_its_colour(self) -> None:
        bare = Sample(name="a", lab=np.array([40.0, 1, 2]))
        full = Sample(name="b", lab=np.array([50.0, 3, 4]), reflectance=np.full(81, 0.2))
        back = cgats_in.read(cgats.written([full, bare, full], originator="", created=""))
        self.assertEqual([sample.name for sample in back], ["a", "b", "b"])
        self.assertEqual([sample.reflectance is None for sample in back], [True, False, False])
        with self.assertRaises(BadInput):
            cgats.written([Sample(name="a", lab=None)], originator="", created="")


class ICalendar(unittest.TestCase):
    def event(self, begins: datetime.time | None):
        studio = SimpleNamespace(name="Lantern Street Colour Room", town="Port Sennet", time_zone="Pacific/Auckland")
        client = SimpleNamespace(name="Żaneta; Quill, of the very long name that goes on and on and on", studio=studio)
        visit = SimpleNamespace(pk=7, client=client, plan=SimpleNamespace(begins_at=begins))
        care = SimpleNamespace(visit=visit, next_on=datetime.date(2026, 12, 24), calendar_uid=uuid.uuid4())
        now = datetime.datetime(2026, 11, 26, 9, tzinfo=datetime.UTC)
        return next_visit(care, now=now)

    def test_it_is_what_rfc_5545_asks(self) -> None:
        body = self.event(None)
        # [RFC5545] 3.1: lines end in CRLF and have at most 75 octets; 3.6: version and prodid; 3.6.1: uid and dtstamp.
        self.assertTrue(body.endswith(b"END:VCALENDAR\r\n"))
        self.assertTrue(all(len(line) <= 75 for line in body.split(b"\r\n")))
        self.assertIn(b"VERSION:2.0", body)
        self.assertIn(b"PRODID:", body)
        event = Calendar.from_ical(body).walk("VEVENT")[0]
        self.assertIn("Żaneta; Quill, of the", event["summary"])
        self.assertTrue(event["uid"] and event["dtstamp"])

    def test_a_visit_with_an_hour_has_it_and_one_without_is_a_whole_day(self) -> None:
        day = Calendar.from_ical(self.event(None)).walk("VEVENT")[0]
        hour = Calendar.from_ical(self.event(datetime.time(14, 30))).walk("VEVENT")[0]
        self.assertEqual(day["dtstart"].dt, datetime.date(2026, 12, 24))
        # [RFC5545] 3.3.5: a local time with TZID, and 3.6.5: the VTIMEZONE that it names, by which 14:30 is 01:30 UTC.
        begins = hour["dtstart"]
        self.assertEqual(begins.params["TZID"], "Pacific/Auckland")
        self.assertEqual(
            begins.dt.astimezone(datetime.UTC), datetime.datetime(2026, 12, 24, 1, 30, tzinfo=datetime.UTC)
        )
        zones = Calendar.from_ical(self.event(datetime.time(14, 30))).walk("VTIMEZONE")
        self.assertEqual([zone["tzid"] for zone in zones], ["Pacific/Auckland"])

    def test_no_two_installations_give_one_uid(self) -> None:
        # [RFC5545] 3.8.4.7: globally unique.
        events = [Calendar.from_ical(self.event(None)).walk("VEVENT")[0] for _ in range(2)]
        self.assertNotEqual(events[0]["uid"], events[1]["uid"])


class Palette(unittest.TestCase):
    def test_lines_are_red_green_blue_and_a_name(self) -> None:
        # [GPL], from memory.
        lock = SimpleNamespace(hex="#0080ff", words="mid blue")
        formula = SimpleNamespace(visit=SimpleNamespace(day=datetime.date(2026, 11, 1)), zone_name="two\nlines")
        kept = SimpleNamespace(lock=lock, result_lock=None, formula=formula)
        lines = palette_text("A\tname", [kept]).splitlines()
        self.assertEqual(lines[:3], ["GIMP Palette", "Name: A name", "Columns: 2"])
        self.assertEqual(lines[4], "  0 128 255\t2026-11-01 two lines, forecast: mid blue")
