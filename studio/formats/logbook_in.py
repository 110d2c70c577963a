"""A logbook's CSV read back, by the names of its columns."""

import csv
import datetime
import io
import re
import uuid
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any, Final

from engine.hair.canvas import RANGES
from engine.language import later, say
from engine.service.purposes import PLAIN
from engine.service.schedule.work import Purpose
from engine.service.sections import SECTIONS_MOST
from studio.cards.models import ZoneResult
from studio.formats.beside_cell import coats_beside
from studio.formats.entry import FAULTS_MOST, MOMENTS, Fault, Row, day_of, entry_of, moment_of
from studio.formats.logbook_csv import COLUMNS
from studio.formats.table_text import Dates, TableRow, table_of
from studio.head.models import Coat
from studio.ui.cells import own_cell
from studio.visits.models import FamilyChoice, Zone

NEEDED: Final = ("client", "saved_at", "line", "pours", "level")
ROWS_MOST: Final = 20_000
MIXED: Final = [purpose for purpose in Coat.Purpose.values if Purpose(purpose) not in PLAIN]
LIMITS: Final = {
    "strand_share": (0.01, 1),
    "from_cm": (0, 150),
    "to_cm": (0, 150),
    "to_level": (1, 11),
    "developer_vol": (0, 100),
    "developer_parts": (0, 10),
}
_HAIR_START: Final = {"level": "", "warmth": "0", "lean": "0", "porosity": "1", "grey": "0", "yellowing": "0"}
DATED: Final = ("saved_at", "day", *MOMENTS)
LOT_MOST: Final = 62
DAY_FIRST: Final = later("Dates like 03/04/2026 were read with the day first: none of them told otherwise.")
YES: Final = ("yes", "true", "1")
BREAKS: Final = re.compile("[\x00-\x1f\x7f\x85\u2028\u2029]")
Cell = Callable[..., str]


@dataclass(frozen=True, kw_only=True)
class Logbook:
    """The rows of a logbook, what is wrong with each line that can't be taken, and what should be known of it."""

    rows: list[Row] = field(default_factory=list)
    faults: list[Fault] = field(default_factory=list)
    told: list[str] = field(default_factory=list)


def read_logbook(text: str) -> Logbook:
    """The rows of a CSV with a header, and what is wrong with each line that can't be taken, at most 200."""
    try:
        if text.count("\n") > ROWS_MOST and sum(1 for _ in csv.reader(io.StringIO(text, newline=""))) > ROWS_MOST + 1:
            words = say("more than {rows_most} lines: bring them in pieces", rows_most=ROWS_MOST)
            return Logbook(faults=[Fault(line=0, words=words)])
        table = table_of(text, COLUMNS)
    except csv.Error as error:
        return Logbook(faults=[Fault(line=0, words=say("this can't be read as CSV: {error}", error=error))])
    header = table.header
    if missing := [name for name in NEEDED if name not in header]:
        return Logbook(faults=[Fault(line=1, words=say("the header lacks {missing}", missing=", ".join(missing)))])
    if twice := sorted({name for name in header if name and header.count(name) > 1}):
        return Logbook(faults=[Fault(line=1, words=say("the header has {twice} twice", twice=twice[0][:30]))])
    dates = Dates.of(row.cells.get(name, "") for row in table.rows for name in DATED)
    found = Logbook(told=[say(DAY_FIRST)] if dates.is_guessed else [])
    for row in table.rows:
        try:
            found.rows.append(_row(row, dates))
        except ValueError as wrong:
            found.faults.append(Fault(line=row.line, words=str(wrong)))
            if len(found.faults) >= FAULTS_MOST:
                break
    return found


def _row(row: TableRow, dates: Dates) -> Row:
    """One line. Raises ValueError in words."""

    def cell(name: str, otherwise: str = "", most: int = 10_000) -> str:
        given = own_cell((row.cells.get(name) or "").strip())
        if name != "note" and BREAKS.search(given):
            raise ValueError(say("{name} has a line break, or another character that is no letter", name=name))
        if len(given) > most:
            raise ValueError(say("{name} is longer than {most} letters", name=name, most=most))
        return (dates.iso(given) if name in DATED else given) or otherwise

    if not cell("client"):
        raise ValueError(say("client is empty"))
    uid = _uid(cell, "client_uid")
    found = Row(line=row.line, client=cell("client", most=80), about="", formula=_formula(cell), client_uid=uid)
    entry_of(found)
    return found


def _formula(cell: Cell) -> dict[str, Any]:
    """A line as a card's document writes a formula. Raises ValueError."""
    pours = _pours(cell("pours"))
    lots = _lots(cell("lots"))
    pours = [pour | ({"lot": lots[pour["shade"]]} if pour["shade"] in lots else {}) for pour in pours]
    hair: dict[str, Any] = {name: _number(cell, name, *RANGES[name], start) for name, start in _HAIR_START.items()}
    hair |= _old_colour(cell)
    formula: dict[str, Any] = {
        "saved_at": cell("saved_at"),
        "zone": cell("zone", Zone.Part.WHOLE.label, 40),
        "part": _one_of(cell, "part", Zone.Part.WHOLE, Zone.Part.values),
        "bowl": int(_number(cell, "bowl", 1, 99, "1")),
        "line": cell("line", most=60),
        "wanted_g": _number(cell, "wanted_g", 5, 1000, str(round(sum(pour["grams"] for pour in pours), 2))),
        "hair": hair | {"family": _one_of(cell, "family", FamilyChoice.LIGHTENED, FamilyChoice.values)},
        "pours": pours,
        "developer_g": _number(cell, "developer_g", 0, 5000, "0"),
        "batches": int(_number(cell, "batches", 1, 99, "1")),
        "damp": cell("damp").lower() in YES,
        "note": cell("note", most=200),
        "coat": int(_number(cell, "coat", 1, 20, "1")),
        "purpose": _one_of(cell, "purpose", Coat.Purpose.COLOUR, MIXED),
        "pattern": _one_of(cell, "pattern", Zone.Pattern.ALL, Zone.Pattern.values),
        "sections": int(_number(cell, "sections", 1, SECTIONS_MOST, "1")),
        "rinsed_apart": cell("rinsed_apart").lower() in YES,
    }
    formula |= {name: _number(cell, name, *LIMITS[name]) for name in LIMITS if cell(name)}
    if cell("beside"):
        formula["beside"] = coats_beside(cell("beside"))
    for prefix in ("forecast", "target"):
        if lab := _lab(cell, prefix):
            formula[f"{prefix}_lab"] = lab
    if cell("day"):
        formula["day"] = day_of(cell("day"), "day").isoformat()
    formula |= {name: moment_of(cell(name), name).isoformat() for name in MOMENTS if cell(name)}
    formula |= _more(cell)
    if cell("minutes") and "rinsed_at" not in formula:
        rinsed = moment_of(cell("saved_at"), "saved_at")
        minutes = datetime.timedelta(minutes=_number(cell, "minutes", 0, 600))
        formula |= {"applied_at": (rinsed - minutes).isoformat(), "rinsed_at": rinsed.isoformat()}
    return formula


def _more(cell: Cell) -> dict[str, Any]:
    """What it is known by, whose hands it is by, and how it turned out. Raises ValueError."""
    more: dict[str, Any] = {name: cell(name, most=80) for name in ("saved_by", "read_by") if cell(name)}
    more |= {field: uid for name, field in (("uid", "uid"), ("visit_uid", "visit")) if (uid := _uid(cell, name))}
    if lab := _lab(cell, "result"):
        more["result"] = {
            "lab": lab,
            "source": _one_of(cell, "result_source", ZoneResult.Source.EYE, ZoneResult.Source.values),
            "dry": cell("result_dry").lower() in YES,
            "two_lights": cell("result_two_lights").lower() in YES,
            "judged_by": cell("judged_by", most=80),
        }
    return more


def _uid(cell: Cell, name: str) -> str:
    """A UUID. Raises ValueError."""
    given = cell(name).lower()
    try:
        return str(uuid.UUID(given)) if given else ""
    except ValueError:
        raise ValueError(say("{name} is “{given}”: a UUID is expected", name=name, given=given[:40])) from None


def _old_colour(cell: Cell) -> dict[str, Any]:
    """Earlier colour on the hair, by name and strength, and what coats of the visit had laid on it."""
    old: dict[str, Any] = {"old_shade": cell("old_shade", most=20), "old_k_s": _number(cell, "old_k_s", 0, 3, "0")}
    laid = []
    for piece in filter(None, (each.strip() for each in cell("laid").split(";"))):
        name, _, k_s = piece.rpartition(" ")
        line, _, shade = name.partition(": ")
        if not shade:
            expected = "Ropewalk direct: Woad 0.35"
            raise ValueError(say("laid has “{piece}”: something like {it} is expected", piece=piece[:30], it=expected))
        laid.append({"line": line, "shade": shade, "k_s": _typed(k_s, "laid", 0, 20)})
    return old | ({"laid": laid} if laid else {})


def _lots(text: str) -> dict[str, str]:
    """Numbers of tubes, by their shades: "Orchil: A12; Clear: B7". Raises ValueError."""
    found = {}
    for piece in filter(None, (each.strip() for each in text.split(";"))):
        shade, _, lot = piece.partition(": ")
        if not lot or len(lot) > LOT_MOST:
            raise ValueError(
                say("lots has “{piece}”: something like {it} is expected", piece=piece[:30], it="Weld: A12")
            )
        found[shade] = lot
    return found


def _one_of(cell: Cell, name: str, otherwise: str, expected: list[str]) -> str:
    given = cell(name, otherwise)
    if given not in expected:
        raise ValueError(
            say(
                "{name} is “{given}”: one of {expected} is expected",
                name=name,
                given=given[:20],
                expected=", ".join(expected),
            )
        )
    return given


def _lab(cell: Cell, prefix: str) -> list[float] | None:
    if not any(cell(f"{prefix}_{part}") for part in "lab"):
        return None
    limits = ((0, 100), (-128, 128), (-128, 128))
    return [_number(cell, f"{prefix}_{part}", *limit) for part, limit in zip("lab", limits, strict=True)]


def _pours(text: str) -> list[dict[str, Any]]:
    found = []
    for piece in text.split(";"):
        name, _, grams = piece.strip().rpartition(" ")
        if not piece.strip():
            continue
        if not name:
            raise ValueError(
                say("pours has “{piece}”: a shade and its grams are expected, as in Weld 2.5", piece=piece.strip()[:30])
            )
        found.append(
            {"shade": name.strip(), "grams": _typed(grams, say("grams of {name}", name=name.strip()[:30]), 0.01, 1000)}
        )
    if not found:
        raise ValueError(say("pours is empty"))
    return found


def _number(cell: Cell, name: str, low: float, high: float, otherwise: str = "") -> float:
    return _typed(cell(name, otherwise), name, low, high)


def _typed(text: str, name: str, low: float, high: float) -> float:
    """A number with a comma or a point. Raises ValueError, also for what is no number at all."""
    try:
        number = float(text.replace(",", "."))
    except ValueError:
        raise ValueError(say("{name} is “{text_told}”: a number is expected", name=name, text_told=text[:20])) from None
    if not low <= number <= high:
        raise ValueError(
            say(
                "{name} is {text_told}: {low:g} to {high:g} is expected",
                name=name,
                text_told=text[:20],
                low=low,
                high=high,
            )
        )
    return number
