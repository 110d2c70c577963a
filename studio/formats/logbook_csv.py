"""The logbook as CSV, a formula a line: for a spreadsheet, and back from one."""

import csv
import datetime
import io
from collections.abc import Callable, Iterator
from decimal import Decimal, InvalidOperation
from typing import Final

from engine.hair.canvas import RANGES
from studio.accounts.models import Person
from studio.cards.models import Formula
from studio.formats.entry import Entry, EntryPour, Fault
from studio.ui.numbers import shown_grams
from studio.visits.models import FamilyChoice, Zone

COLUMNS: Final = (
    "client",
    "saved_at",
    "zone",
    "part",
    "line",
    "pours",
    "wanted_g",
    "developer_g",
    "level",
    "warmth",
    "lean",
    "porosity",
    "grey",
    "family",
    "forecast_l",
    "forecast_a",
    "forecast_b",
    "target_l",
    "target_a",
    "target_b",
    "minutes",
    "damp",
    "note",
)
NEEDED: Final = ("client", "saved_at", "line", "pours", "level")
ROWS_MOST: Final = 20_000
Cell = Callable[[str], str]


class _Lines:
    """A file that keeps nothing: csv writes a line, and hands it straight on."""

    def write(self, line: str) -> str:
        return line


def logbook_lines(person: Person) -> Iterator[str]:
    """The studio's formulas as lines of CSV, newest first, read in pieces so that a long logbook takes no memory.

    A cell that a spreadsheet would take for a formula of its own is led by an apostrophe.
    """
    writer = csv.writer(_Lines())
    yield writer.writerow(COLUMNS)
    formulas = Formula.objects.visible_to(person).select_related("client", "line").order_by("-saved_at", "-id")
    for formula in formulas.prefetch_related("pours").iterator(chunk_size=500):
        yield writer.writerow([_safe(cell) for cell in _cells(formula)])


def _safe(cell: str) -> str:
    return f"'{cell}" if cell[:1] in ("=", "+", "-", "@") and not _is_number(cell) else cell


def _is_number(cell: str) -> bool:
    try:
        float(cell)
    except ValueError:
        return False
    return True


def _cells(formula: Formula) -> list[str]:
    target = [formula.target_l, formula.target_a, formula.target_b]
    minutes = formula.process_min
    return [
        formula.client.name,
        formula.saved_at.isoformat(),
        formula.zone_name,
        formula.zone_part,
        formula.line.name,
        "; ".join(f"{pour.shade_name} {shown_grams(pour.grams)}" for pour in formula.pours.all()),
        f"{float(formula.wanted_g):g}",
        f"{float(formula.developer_g):g}",
        *(f"{float(getattr(formula, name)):g}" for name in ("level", "warmth", "lean", "porosity", "grey")),
        formula.family,
        *(f"{part}" for part in (formula.forecast_l, formula.forecast_a, formula.forecast_b)),
        *("" if part is None else f"{part}" for part in target),
        "" if minutes is None else f"{minutes:.0f}",
        "yes" if formula.damp else "",
        formula.note,
    ]


def read_logbook(text: str) -> tuple[list[Entry], list[Fault]]:
    """The entries of a CSV with this header, and what is wrong with each line that can't be taken."""
    reader = csv.DictReader(io.StringIO(text, newline=""))
    missing = [name for name in NEEDED if name not in (reader.fieldnames or ())]
    if missing:
        return [], [Fault(line=1, words=f"the header lacks {', '.join(missing)}")]
    entries, faults = [], []
    try:
        for row in reader:
            if reader.line_num > ROWS_MOST:
                return [], [Fault(line=ROWS_MOST, words=f"more than {ROWS_MOST} lines: bring them in pieces")]
            try:
                entries.append(_entry(row, reader.line_num))
            except _Wrong as wrong:
                faults.append(Fault(line=reader.line_num, words=str(wrong)))
    except csv.Error as error:
        faults.append(Fault(line=reader.line_num, words=f"the line can't be read: {error}"))
    return entries, faults


class _Wrong(Exception):
    """A cell that can't be taken, in words."""


def _entry(row: dict[str, str], number: int) -> Entry:
    """One line. Raises _Wrong."""

    def cell(name: str, otherwise: str = "") -> str:
        given = (row.get(name) or "").strip().removeprefix("'")
        return given or otherwise

    if not cell("client"):
        raise _Wrong("client is empty")
    part, family = cell("part", Zone.Part.WHOLE), cell("family", FamilyChoice.LIGHTENED)
    if part not in Zone.Part.values:
        raise _Wrong(f"part is “{part[:20]}”: one of {', '.join(Zone.Part.values)} is expected")
    if family not in FamilyChoice.values:
        raise _Wrong(f"family is “{family[:20]}”: lightened or natural is expected")
    pours = _pours(cell("pours"))
    hair = {name: _number(cell(name, start), name, *RANGES[name]) for name, start in _HAIR_START.items()}
    minutes = _number(cell("minutes"), "minutes", 0, 600) if cell("minutes") else None
    saved_at = _moment(cell("saved_at"))
    return Entry(
        line_number=number,
        client=cell("client")[:80],
        about="",
        saved_at=saved_at,
        zone=cell("zone", "whole head")[:40],
        part=part,
        position=0,
        bowl=1,
        line=cell("line"),
        wanted_g=_number(cell("wanted_g") or str(sum((pour.grams for pour in pours), Decimal(0))), "wanted_g", 5, 1000),
        hair=hair | {"old_k_s": Decimal(0)},
        family=family,
        old_shade="",
        pours=pours,
        developer_g=_number(cell("developer_g", "0"), "developer_g", 0, 5000),
        batches=1,
        damp=cell("damp").lower() in ("yes", "true", "1"),
        heat=False,
        moments={}
        if minutes is None
        else {"applied_at": saved_at - datetime.timedelta(minutes=float(minutes)), "rinsed_at": saved_at},
        forecast_lab=_lab(cell, "forecast") or (),
        target_lab=_lab(cell, "target"),
        note=cell("note")[:200],
    )


_HAIR_START: Final = {"level": "", "warmth": "0", "lean": "0", "porosity": "1", "grey": "0"}


def _lab(cell: Cell, prefix: str) -> tuple[Decimal, ...] | None:
    parts = [cell(f"{prefix}_{part}") for part in "lab"]
    if not any(parts):
        return None
    limits = ((0, 100), (-128, 128), (-128, 128))
    return tuple(
        _number(text, f"{prefix}_{part}", *limit) for text, part, limit in zip(parts, "lab", limits, strict=True)
    )


def _pours(text: str) -> tuple[EntryPour, ...]:
    found = []
    for piece in text.split(";"):
        name, _, grams = piece.strip().rpartition(" ")
        if not piece.strip():
            continue
        if not name:
            raise _Wrong(f"pours has “{piece.strip()[:30]}”: a shade and its grams are expected, as in Weld 2.5")
        found.append(EntryPour(shade=name.strip(), grams=_number(grams, f"grams of {name.strip()[:30]}", 0.01, 1000)))
    if not found:
        raise _Wrong("pours is empty")
    if len({pour.shade for pour in found}) != len(found):
        raise _Wrong("pours names a shade twice")
    return tuple(found)


def _number(text: str, name: str, low: float, high: float) -> Decimal:
    try:
        number = Decimal(text.replace(",", "."))
    except InvalidOperation:
        raise _Wrong(f"{name} is “{text[:20]}”: a number is expected") from None
    if not number.is_finite() or not Decimal(str(low)) <= number <= Decimal(str(high)):
        raise _Wrong(f"{name} is {text[:20]}: {low:g} to {high:g} is expected")
    return number


def _moment(text: str) -> datetime.datetime:
    try:
        moment = datetime.datetime.fromisoformat(text)
    except ValueError:
        raise _Wrong(f"saved_at is “{text[:30]}”: a date like 2026-11-24 is expected") from None
    return moment if moment.tzinfo else moment.replace(tzinfo=datetime.UTC)
