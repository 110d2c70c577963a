"""The logbook as CSV, a formula a line, for a spreadsheet."""

import csv
import itertools
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Final

from studio.accounts.models import Person
from studio.cards.models import Formula, ZoneResult
from studio.formats.beside_cell import beside_cell
from studio.formats.entry import MOMENTS, WHERE_KNOWN
from studio.formats.known_by import Readers, layers_of, readers_of
from studio.shelf.models import Shade
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
    *MOMENTS,
    "lots",
    "old_shade",
    "old_k_s",
    "laid",
    "result_l",
    "result_a",
    "result_b",
    "result_source",
    "result_dry",
    "result_two_lights",
    "judged_by",
    "saved_by",
    "read_by",
    "uid",
    "visit_uid",
    "client_uid",
)
CHUNK: Final = 500


class _Lines:
    """A file that keeps nothing: csv writes a line, and hands it straight on."""

    def write(self, line: str) -> str:
        return line


def logbook_lines(person: Person) -> Iterator[str]:
    """The studio's formulas as lines of CSV, newest first, read in pieces so that a long logbook takes no memory."""
    writer = csv.writer(_Lines())
    yield writer.writerow(COLUMNS)
    formulas = Formula.objects.visible_to(person).select_related("client", "line", "visit", "saved_by__same_as")
    newest = formulas.order_by("-saved_at", "-id").prefetch_related("pours").iterator(chunk_size=CHUNK)
    while piece := list(itertools.islice(newest, CHUNK)):
        known = _known_of(person, piece)
        for formula in piece:
            yield writer.writerow([safe_cell(cell) for cell in (*_cells(formula), *_more_cells(formula, known))])


@dataclass(frozen=True, kw_only=True)
class _Known:
    """What a piece of the logbook needs beside its rows: results by visit and zone, tubes by row, and who read hair."""

    results: Mapping[tuple[int, str], ZoneResult]
    shades: Mapping[int, Shade]
    readers: Readers


def _known_of(person: Person, formulas: Sequence[Formula]) -> _Known:
    """Three queries."""
    visits = {formula.visit_id for formula in formulas}
    results = ZoneResult.objects.visible_to(person).filter(zone__visit__in=visits)
    judged = results.select_related("zone", "judged_by__same_as")
    laid = {int(layer["shade"]) for formula in formulas for layer in layers_of(formula)}
    shades = Shade.objects.filter(line__studio=person.studio_id, pk__in=laid).select_related("line")
    return _Known(
        results={(each.zone.visit_id, each.zone.name): each for each in judged},
        shades={shade.pk: shade for shade in shades},
        readers=readers_of(person, visits=visits),
    )


def _more_cells(formula: Formula, known: _Known) -> list[str]:
    """What is told beside what a hand mixes from."""
    is_row = formula.old_shade.isdecimal()  # of this studio, which is told among what lies on the hair, by its name
    laid = [(known.shades.get(int(each["shade"])), each["k_s"]) for each in layers_of(formula)]
    result = known.results.get((formula.visit_id, formula.zone_name))
    return [
        *("" if (moment := getattr(formula, name)) is None else moment.isoformat() for name in MOMENTS),
        "; ".join(f"{pour.shade_name}: {pour.lot}" for pour in formula.pours.all() if pour.lot),
        "" if is_row else formula.old_shade,
        "" if is_row or not formula.old_k_s else f"{float(formula.old_k_s):g}",
        "; ".join(f"{shade.line.name}: {shade.name} {float(k_s):g}" for shade, k_s in laid if shade),
        *([f"{part}" for part in (result.result_l, result.result_a, result.result_b)] if result else ("", "", "")),
        result.source if result else "",
        "yes" if result and result.dry else "",
        "yes" if result and result.two_lights else "",
        result.judge if result else "",
        formula.author,
        formula.read_as or known.readers.of(formula),
        str(formula.uid),
        str(formula.visit.uid),
        str(formula.client.uid),
    ]


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
