"""Files against the standards that they follow. CGATS and palette text: from memory, as REFERENCES says."""

import datetime
import re
import unittest
from types import SimpleNamespace

import numpy as np
from icalendar import Calendar

from engine.colorimetry import cgats
from engine.colorimetry.cgats import CgatsUnusable, Sample
from engine.colorimetry.grid import WAVELENGTHS_NM
from engine.errors import BadInput
from studio.formats.calendar import next_visit
from studio.formats.palette import palette_text

# [CGATS17]: keywords first, the fields between BEGIN_ and END_DATA_FORMAT, as many rows as NUMBER_OF_SETS says.
REFERENCE = """CGATS.17
ORIGINATOR "an instrument of somebody else"
CREATED "November 2026"
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


class Cgats(unittest.TestCase):
    def test_a_table_of_somebody_else_is_read(self) -> None:
        left, nape = cgats.read(REFERENCE)
        self.assertEqual((left.name, nape.name), ("left \\ temple, o'clock", "nape"))
        np.testing.assert_allclose(nape.lab, [58.99, 19.0, -2.75])

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
            ("", "this is no CGATS table"),
        ):
            with self.subTest(said=said), self.assertRaisesRegex(CgatsUnusable, re.escape(said)):
                cgats.read(fault)

    def test_spectra_are_for_all_or_for_none_and_every_sample_has_its_colour(self) -> None:
        bare, full = Sample(name="a", lab=np.zeros(3)), Sample(name="b", lab=np.zeros(3), reflectance=np.zeros(81))
        with self.assertRaises(BadInput):
            cgats.written([bare, full], originator="", created="")
        with self.assertRaises(BadInput):
            cgats.written([Sample(name="a", lab=None)], originator="", created="")


class ICalendar(unittest.TestCase):
    def event(self, begins: datetime.time | None):
        studio = SimpleNamespace(name="Lantern Street Colour Room", town="Port Sennet")
        client = SimpleNamespace(name="Żaneta; Quill, of the very long name that goes on and on and on", studio=studio)
        visit = SimpleNamespace(pk=7, client=client, plan=SimpleNamespace(begins_at=begins))
        care = SimpleNamespace(visit=visit, next_on=datetime.date(2026, 12, 24))
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
        self.assertEqual(hour["dtstart"].dt, datetime.datetime(2026, 12, 24, 14, 30))


class Palette(unittest.TestCase):
    def test_lines_are_red_green_blue_and_a_name(self) -> None:
        # [GPL], from memory.
        lock = SimpleNamespace(hex="#0080ff", words="mid blue")
        formula = SimpleNamespace(saved_at=datetime.datetime(2026, 11, 1, tzinfo=datetime.UTC), zone_name="two\nlines")
        kept = SimpleNamespace(lock=lock, result_lock=None, formula=formula)
        lines = palette_text("A\tname", [kept]).splitlines()
        self.assertEqual(lines[:3], ["GIMP Palette", "Name: A name", "Columns: 2"])
        self.assertEqual(lines[4], "  0 128 255\t2026-11-01 two lines, forecast: mid blue")
