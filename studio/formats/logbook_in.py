"""A logbook's CSV read back, by the names of its columns."""

import csv
import datetime
import io
import re
from collections.abc import Callable
from typing import Any, Final

from engine.hair.canvas import RANGES
from engine.language import say
from engine.service.purposes import PLAIN
from engine.service.schedule.work import Purpose
from engine.service.sections import SECTIONS_MOST
from studio.formats.beside_cell import coats_beside
from studio.formats.entry import FAULTS_MOST, Fault, Row, day_of, entry_of, moment_of
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
YES: Final = ("yes", "true", "1")
BREAKS: Final = re.compile("[\x00-\x1f\x7f\x85\u2028\u2029]")
Cell = Callable[..., str]


def read_logbook(text: str) -> tuple[list[Row], list[Fault]]:
    """The rows of a CSV with a header, and what is wrong with each line that can't be taken, at most 200."""
    try:
        if sum(1 for _ in csv.reader(io.StringIO(text, newline=""))) > ROWS_MOST + 1:
            return [], [
                Fault(line=0, words=say("more than {rows_most} lines: bring them in pieces", rows_most=ROWS_MOST))
            ]
        reader = csv.DictReader(io.StringIO(text, newline=""))
        header = reader.fieldnames or ()
    except csv.Error as error:
        return [], [Fault(line=0, words=say("this can't be read as CSV: {error}", error=error))]
    if missing := [name for name in NEEDED if name not in header]:
        return [], [Fault(line=1, words=say("the header lacks {missing}", missing=", ".join(missing)))]
    if twice := sorted({name for name in header if header.count(name) > 1}):
        return [], [Fault(line=1, words=say("the header has {twice} twice", twice=twice[0][:30]))]
    rows: list[Row] = []
    faults: list[Fault] = []
    for cells in reader:
        try:
            rows.append(_row(cells, reader.line_num))
        except ValueError as wrong:
            faults.append(Fault(line=reader.line_num, words=str(wrong)))
            if len(faults) >= FAULTS_MOST:
                break
    return rows, faults


def _row(cells: dict[str, str], number: int) -> Row:
    """One line. Raises ValueError in words."""

    def cell(name: str, otherwise: str = "", most: int = 10_000) -> str:
        given = own_cell((cells.get(name) or "").strip())
        if name != "note" and BREAKS.search(given):
            raise ValueError(say("{name} has a line break, or another character that is no letter", name=name))
        if len(given) > most:
            raise ValueError(say("{name} is longer than {most} letters", name=name, most=most))
        return given or otherwise

    if not cell("client"):
        raise ValueError(say("client is empty"))
    row = Row(line=number, client=cell("client", most=80), about="", formula=_formula(cell))
    entry_of(row)
    return row


def _formula(cell: Cell) -> dict[str, Any]:
    """A line as a card's document writes a formula. Raises ValueError."""
    pours = _pours(cell("pours"))
    hair: dict[str, Any] = {name: _number(cell, name, *RANGES[name], start) for name, start in _HAIR_START.items()}
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
    if cell("minutes"):
        rinsed = moment_of(cell("saved_at"), "saved_at")
        minutes = datetime.timedelta(minutes=_number(cell, "minutes", 0, 600))
        formula |= {"applied_at": (rinsed - minutes).isoformat(), "rinsed_at": rinsed.isoformat()}
    return formula


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
