"""The logbook as CSV, a formula a line, for a spreadsheet."""

import csv
from collections.abc import Iterator
from typing import Final

from studio.accounts.models import Person
from studio.cards.models import Formula
from studio.formats.beside_cell import beside_cell
from studio.formats.entry import WHERE_KNOWN
from studio.ui.cells import safe_cell
from studio.ui.numbers import written_grams

COLUMNS: Final = (
    "client",
    "saved_at",
    "day",
    "zone",
    "part",
    "bowl",
    "line",
    "pours",
    "wanted_g",
    "developer_g",
    "batches",
    "level",
    "warmth",
    "lean",
    "porosity",
    "grey",
    "yellowing",
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
    "coat",
    "purpose",
    "pattern",
    *WHERE_KNOWN,
    "beside",
    "sections",
    "rinsed_apart",
)


class _Lines:
    """A file that keeps nothing: csv writes a line, and hands it straight on."""

    def write(self, line: str) -> str:
        return line


def logbook_lines(person: Person) -> Iterator[str]:
    """The studio's formulas as lines of CSV, newest first, read in pieces so that a long logbook takes no memory."""
    writer = csv.writer(_Lines())
    yield writer.writerow(COLUMNS)
    formulas = Formula.objects.visible_to(person).select_related("client", "line", "visit").order_by("-saved_at", "-id")
    for formula in formulas.prefetch_related("pours").iterator(chunk_size=500):
        yield writer.writerow([safe_cell(cell) for cell in _cells(formula)])


def _cells(formula: Formula) -> list[str]:
    target = [formula.target_l, formula.target_a, formula.target_b]
    minutes = formula.process_min
    return [
        formula.client.name,
        formula.saved_at.isoformat(),
        formula.visit.day.isoformat(),
        formula.zone_name,
        formula.zone_part,
        str(formula.bowl_number),
        formula.line.name,
        "; ".join(f"{pour.shade_name} {written_grams(pour.grams)}" for pour in formula.pours.all()),
        f"{float(formula.wanted_g):g}",
        f"{float(formula.developer_g):g}",
        str(formula.batches),
        *(
            f"{float(getattr(formula, name)):g}"
            for name in ("level", "warmth", "lean", "porosity", "grey", "yellowing")
        ),
        formula.family,
        *(f"{part}" for part in (formula.forecast_l, formula.forecast_a, formula.forecast_b)),
        *("" if part is None else f"{part}" for part in target),
        "" if minutes is None else f"{minutes:.0f}",
        "yes" if formula.damp else "",
        formula.note,
        str(formula.coat_number),
        formula.purpose,
        formula.pattern,
        *("" if (number := getattr(formula, name)) is None else f"{float(number):g}" for name in WHERE_KNOWN),
        beside_cell(formula.beside),
        str(formula.sections),
        "yes" if formula.rinsed_apart else "",
    ]
