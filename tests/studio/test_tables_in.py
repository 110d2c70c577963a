"""Logbooks as spreadsheets write them: letters, signs, dates, rows that trail; and all that a line tells, both ways."""

import datetime
import zoneinfo
from decimal import Decimal

from django.test import SimpleTestCase
from django.utils import timezone

from studio.accounts.services.set_time_zone import set_time_zone
from studio.cards.models import Formula, FormulaPour, ZoneResult
from studio.clients.models import Client
from studio.formats.logbook_csv import COLUMNS
from studio.formats.table_text import Dates, table_of, text_of
from tests.studio.made import make_person
from tests.studio.made_files import FilesCase

HEAD = "client,saved_at,line,pours,level"
ROW = "Zoë Brücke,2026-11-01,Ropewalk direct,Orchil 3; Clear 57,10"


def semicolons(text: str) -> str:
    """A table as a spreadsheet of a country with decimal commas writes it."""
    lines = [line.split(",") for line in text.splitlines()]
    return "\r\n".join(";".join(f'"{cell}"' if ";" in cell else cell for cell in cells) for cells in lines)


class Texts(SimpleTestCase):
    def test_letters_of_each_kind_are_read(self) -> None:
        for encoding in ("utf-8", "utf-8-sig", "utf-16", "cp1252"):
            with self.subTest(encoding=encoding):
                self.assertEqual(text_of(ROW.encode(encoding)), ROW)
        for marked in ("utf-16-le", "utf-16-be"):  # with the mark that says which
            self.assertEqual(text_of(("\ufeff" + ROW).encode(marked)), ROW)

    def test_what_is_no_text_is_refused(self) -> None:
        for body in (b"\xff\xfe\x00", b"\x81\x8d\x8f", b"\x00\xe9\x00\xe8", bytes(range(256))):
            with self.subTest(body=body[:6]), self.assertRaises(UnicodeDecodeError):
                text_of(body)

    def test_the_sign_between_cells_is_told_by_the_header(self) -> None:
        for text in (HEAD, semicolons(HEAD), HEAD.replace(",", "\t"), "sep=;\r\n" + semicolons(HEAD), HEAD.upper()):
            with self.subTest(text=text[:12]):
                self.assertEqual(list(table_of(text, COLUMNS).header), HEAD.split(","))

    def test_rows_that_trail_are_no_rows_and_lines_are_counted_as_they_stand_in_the_file(self) -> None:
        found = table_of(f"sep=,\n{HEAD},,\n\n{ROW},,\n,,,,,,\n \t,\n", COLUMNS)
        self.assertEqual([row.line for row in found.rows], [4])

    def test_dates_of_each_country(self) -> None:
        cases = {
            "24.11.2026": "2026-11-24",
            "4.3.26": "2026-03-04",
            "24/11/2026": "2026-11-24",
            "2026/11/24": "2026-11-24",
            "2026-11-24": "2026-11-24",
            "24-11-2026": "2026-11-24",
            "24.11.2026 13:45": "2026-11-24T13:45:00+00:00",
            "24/11/2026 1:45:09 pm": "2026-11-24T13:45:09+00:00",
            "24/11/2026 12:05 AM": "2026-11-24T00:05:00+00:00",
            "2026-11-24T13:45:00+01:00": "2026-11-24T13:45:00+01:00",
        }
        for said, meant in cases.items():
            with self.subTest(said=said):
                self.assertEqual(Dates.of([said]).iso(said), meant)
        for no_date in (
            "31.02.2026",
            "24.11",
            "1.2.3.4",
            "25:00",
            "24.11.2026 25:00",
            "soon",
            "1/2-2026",
            "2026/11/2026",
        ):
            with self.subTest(no_date=no_date):
                self.assertEqual(Dates().iso(no_date), no_date)

    def test_one_date_tells_how_all_are_written(self) -> None:
        american = Dates.of(["03/04/2026", "11/24/2026"])
        self.assertEqual((american.iso("03/04/2026"), american.is_guessed), ("2026-03-04", False))
        european = Dates.of(["03/04/2026", "24/11/2026"])
        self.assertEqual((european.iso("03/04/2026"), european.is_guessed), ("2026-04-03", False))
        unsaid = Dates.of(["03/04/2026"])
        self.assertEqual((unsaid.iso("03/04/2026"), unsaid.is_guessed), ("2026-04-03", True))
        self.assertFalse(Dates.of(["03.04.2026", "2026-04-03", ""]).is_guessed)
        self.assertEqual(american.iso("03.04.2026"), "2026-04-03")  # points are nobody's months first


class Logbooks(FilesCase):
    def test_a_spreadsheets_own_file_is_taken(self) -> None:
        set_time_zone(self.person, time_zone="Europe/Lisbon")
        text = f"{HEAD},wanted_g\r\n{ROW.replace('2026-11-01', '01.07.2026 14:30')},\r\n,,,,,\r\n"
        text = semicolons(text).replace("57", "57,5")
        self.assertContains(self.take(text.encode("utf-16")), "<b>1</b> taken in")
        taken = Formula.objects.get(client__name="Zoë Brücke")
        lisbon = zoneinfo.ZoneInfo("Europe/Lisbon")
        self.assertEqual(taken.saved_at, datetime.datetime(2026, 7, 1, 14, 30, tzinfo=lisbon))
        self.assertEqual(taken.pours.get(shade_name="Clear").grams, Decimal("57.5"))
        self.assertContains(self.take(text.encode("cp1252")), "<b>1</b> here already")

    def test_a_date_that_can_be_read_in_two_ways_is_told(self) -> None:
        answer = self.take(f"{HEAD}\n{ROW.replace('2026-11-01', '03/04/2026')}")
        self.assertContains(answer, "were read with the day first")
        self.assertEqual(Formula.objects.get(client__name="Zoë Brücke").visit.day, datetime.date(2026, 4, 3))

    def test_all_that_a_line_tells_goes_round(self) -> None:
        self.judged()
        woad = self.shade("Woad")
        now = timezone.now().replace(microsecond=0)
        Formula.objects.update(
            old_shade="orchil",
            old_k_s=Decimal("0.6"),
            laid=[{"shade": woad.pk, "k_s": 0.35}],
            mixed_at=now,
            applied_at=now,
            rinsed_at=now,
        )
        FormulaPour.objects.filter(shade_name="Orchil").update(lot="A12, until 3/27")
        text = self.get("logbook").decode()
        other = make_person("Ballast Quay", "ballast")
        self.client.force_login(other)
        self.assertContains(self.take(text), "<b>1</b> taken in")
        self.assertEqual(self.get("logbook").decode(), text)
        taken = Formula.objects.visible_to(other).get()
        self.assertEqual(taken.uid, self.formula.uid)
        self.assertEqual(taken.laid[0]["shade"], taken.line.shades.get(name="Woad").pk)
        self.assertEqual(taken.pours.get(shade_name="Orchil").lot, "A12, until 3/27")
        self.assertEqual(ZoneResult.objects.visible_to(other).get().judge, "ropery")
        self.assertEqual(Client.objects.visible_to(other).get().uid, self.visit.client.uid)
        self.assertContains(self.take(text), "<b>1</b> here already")

    def test_every_wrong_cell_of_these_is_named(self) -> None:
        for column, cell, said in (
            ("uid", "7", "uid is “7”: a UUID is expected"),
            ("client_uid", "x", "client_uid is “x”"),
            ("laid", "Woad 0.3", "laid has “Woad 0.3”"),
            ("laid", "Ropewalk direct: Woad much", "laid is “much”"),
            ("lots", "A12", "lots has “A12”"),
            ("result_l", "50", "result_a is “”"),
            ("old_k_s", "9", "old_k_s is 9"),
            ("rinsed_at", "later", "rinsed_at is “later”"),
        ):
            with self.subTest(column=column, cell=cell):
                self.assertContains(self.take(f"{HEAD},{column}\n{ROW},{cell}"), said, status_code=422)
        self.assertEqual(Formula.objects.count(), 1)
