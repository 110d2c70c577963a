"""Tables as spreadsheets write them: in whatever letters, parted by whatever sign, with dates of whatever country."""

import codecs
import csv
import datetime
import io
import re
from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Final

from django.utils import timezone

SIGNS: Final = (",", ";", "\t")
SAID_SIGN: Final = re.compile(r"\Asep=(.)\r?\n", re.IGNORECASE)  # which some spreadsheets put before the header
BLANK: Final = " \t\u00a0"
LOCAL: Final = re.compile(
    r"(?P<first>\d{1,4})(?P<sign>[./-])(?P<second>\d{1,2})(?P=sign)(?P<third>\d{4}|\d{2})"
    r"(?:[ ,T\u00a0]+(?P<hour>\d{1,2})[:.](?P<minute>\d{2})(?:[:.](?P<second_s>\d{2}))?"
    r"[ \u00a0\u202f]*(?P<half>[ap]\.?m\.?)?)?",
    re.IGNORECASE,
)
CENTURY: Final = 2000
MONTHS: Final = 12


def text_of(body: bytes) -> str:
    """A file's text: UTF-8, UTF-16 by its mark, else the Windows letters of western Europe. Raises UnicodeDecodeError.

    Source of the marks: the Unicode Standard, chapter 23.8; of the letters: the Encoding Standard's windows-1252.
    """
    if body.startswith((codecs.BOM_UTF16_LE, codecs.BOM_UTF16_BE)):
        return body.decode("utf-16")
    try:
        return body.decode("utf-8-sig")
    except UnicodeDecodeError:
        if b"\x00" in body[:1000]:
            raise
        return body.decode("cp1252")


@dataclass(frozen=True, kw_only=True)
class TableRow:
    """A row of a table: the line of the file that it ends on, from 1, and its cells by the names of the header."""

    line: int
    cells: Mapping[str, str]


@dataclass(frozen=True, kw_only=True)
class Table:
    """A header, in small letters, and the rows beneath it that are not empty."""

    header: Sequence[str]
    rows: Sequence[TableRow]


def table_of(text: str, known: Collection[str]) -> Table:
    """The table of a text. known: columns by which the sign between cells is told. Raises csv.Error."""
    said = SAID_SIGN.match(text)
    body = text[said.end() :] if said else text
    sign = said.group(1) if said else _sign(body, known)
    reader = csv.reader(io.StringIO(body, newline=""), delimiter=sign)
    header = [name.strip().lower() for name in next(reader, [])]
    above = 1 if said else 0
    rows = []
    for cells in reader:
        if any(cell.strip(BLANK) for cell in cells):
            rows.append(TableRow(line=reader.line_num + above, cells=dict(zip(header, cells, strict=False))))
    return Table(header=header, rows=rows)


def _sign(text: str, known: Collection[str]) -> str:
    """What parts the cells: the sign by which the first line has most of the columns that are known."""
    first = text.lstrip().partition("\n")[0]

    def found(sign: str) -> int:
        names = next(csv.reader([first], delimiter=sign), [])
        return sum(name.strip().lower() in known for name in names)

    return max(SIGNS, key=found)


@dataclass(frozen=True, kw_only=True)
class Dates:
    """How a file writes its days. month_first: where three numbers with slashes begin with the month.

    is_guessed: whether no date of the file told that, so that the day was taken to come first.
    """

    month_first: bool = False
    is_guessed: bool = False

    @classmethod
    def of(cls, cells: Iterable[str]) -> "Dates":
        """How the dates among cells are written: one that can be read in one way alone tells of all."""
        slashed = [found for cell in cells if (found := LOCAL.fullmatch(cell.strip(BLANK))) and found["sign"] == "/"]
        pairs = [(int(found["first"]), int(found["second"])) for found in slashed if len(found["first"]) < 3]
        month_first = any(second > MONTHS for _, second in pairs) and not any(first > MONTHS for first, _ in pairs)
        is_told = any(max(pair) > MONTHS for pair in pairs)
        return cls(month_first=month_first, is_guessed=bool(pairs) and not is_told)

    def iso(self, cell: str) -> str:
        """A day, or a moment in the studio's own time, by ISO 8601; what is written otherwise stays as it is."""
        found = LOCAL.fullmatch(cell.strip(BLANK))
        if found is None or len(found["first"] + found["third"]) > 6 or len(found["first"]) == 3:
            return cell
        day = self._day(found)
        if day is None or found["hour"] is None:
            return cell if day is None else day.isoformat()
        hour = int(found["hour"])
        if found["half"]:
            hour = hour % MONTHS + (MONTHS if found["half"].lower().startswith("p") else 0)
        try:
            time = datetime.time(hour, int(found["minute"]), int(found["second_s"] or 0))
        except ValueError:
            return cell
        return datetime.datetime.combine(day, time, timezone.get_current_timezone()).isoformat()

    def _day(self, found: re.Match[str]) -> datetime.date | None:
        first, second, third = (int(found[name]) for name in ("first", "second", "third"))
        if len(found["first"]) > 2:
            year, month, day = first, second, third
        else:
            month_first = self.month_first and found["sign"] == "/"
            (month, day), year = ((first, second) if month_first else (second, first)), third
            year += CENTURY if len(found["third"]) == 2 else 0
        try:
            return datetime.date(year, month, day)
        except ValueError:
            return None
