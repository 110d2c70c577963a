"""CGATS text of any instrument read: whatever case its keywords have, whatever light its L*a*b* is for, whatever
regular grid its spectra stand on. Source: [CGATS17], from memory.
"""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Final

import numpy as np

from engine.arrays import FloatArray, frozen
from engine.colorimetry.cgats import LAB_FIELDS, Sample
from engine.colorimetry.grid import WAVELENGTHS_NM
from engine.colorimetry.lab import lab_of, xyz_of
from engine.colorimetry.lights import Light, viewing
from engine.colorimetry.screen import adapt_to_screen
from engine.errors import BadInput
from engine.language import say

ROWS_MOST: Final = 10_000
D50_WHITE_XYZ: Final = frozen([0.9642, 1.0, 0.8249])  # [ICC1] the profile connection space's, 2 degrees
CONDITIONS: Final = ("MEASUREMENT_SOURCE", "ILLUMINATION_NAME", "ILLUMINANT", "OBSERVER_ANGLE", "WEIGHTING_FUNCTION")
UNSAID: Final = "D50"  # the light of [CGATS17]'s own field, graphic arts, where a file names none
TOKEN: Final = re.compile(r'"([^"]*)"|(#.*$)|([^\s"]+)')
SPECTRAL: Final = re.compile(r"^(?:SPECTRAL_)?NM_?(\d{3})(?:\.0*)?$|^SPECTRAL_(\d{3})$")
LIGHT_NAME: Final = re.compile(r"\b(D\d{2}|F(?:L)?\d{1,2}|LED-\w+)\b|ILLUMINA\w*\W+([ACE])\b")
OBSERVER: Final = re.compile(r"(?:OBSERVER\w*|ANGLE)\W+(\d+)")
COARSEST_NM: Final = 20
NEEDED_NM: Final = (400, 700)
PERCENT_FROM: Final = 1.2  # no surface that is no lamp reflects more; a file that says so counts in percent
BELOW_MOST: Final = 0.01  # an instrument's own noise on black hair


class CgatsUnusable(BadInput):
    """A text that is no CGATS table; `line` is where it went wrong, counted from 1."""

    code = "cgats"

    def __init__(self, line: int, message: str) -> None:
        super().__init__("cgats", say("line {line}: {message}", line=line, message=message))
        self.line = line


@dataclass(kw_only=True)
class _Table:
    """A table as it is read. rows: the line and values of each; sets: how many were announced."""

    fields: list[str] = field(default_factory=list)
    rows: list[tuple[int, list[str]]] = field(default_factory=list)
    sets: int | None = None
    sets_line: int = 1


def read(text: str) -> tuple[Sample, ...]:
    """The samples of a CGATS text, each with L*a*b* for D65 and 2 degrees, and its reflectance where it has one.

    L*a*b* for D50 is adapted; where there is a spectrum it is reckoned from that. Raises CgatsUnusable with the line
    at fault, also for another light or observer, and for what no surface reflects.
    """
    tables, conditions = _tables(text)
    if not any(table.fields for table in tables):
        raise CgatsUnusable(1, say("there is no BEGIN_DATA_FORMAT block: this is no CGATS table"))
    if not any(table.rows for table in tables):
        raise CgatsUnusable(len(text.splitlines()) or 1, say("there are no rows between BEGIN_DATA and END_DATA"))
    return tuple(sample for table in tables for sample in _samples(table, conditions))


def _tables(text: str) -> tuple[list[_Table], list[tuple[int, str]]]:
    """The tables of a text, and what it says of light and observer with the lines."""
    tables, block = [_Table()], ""
    conditions: list[tuple[int, str]] = []
    for number, line in enumerate(text.splitlines(), start=1):
        values = _values(line, number)
        keyword = values[0].upper() if values else ""
        if keyword.startswith(("BEGIN_DATA", "END_DATA")):
            block = keyword
            if keyword == "BEGIN_DATA_FORMAT" and tables[-1].fields:
                tables.append(_Table())
        elif block == "BEGIN_DATA_FORMAT":
            tables[-1].fields += [value.upper() for value in values]
        elif block == "BEGIN_DATA" and values:
            _add_row(tables[-1], values, number)
        elif keyword == "NUMBER_OF_SETS":
            if tables[-1].rows:
                tables.append(_Table())
            tables[-1].sets, tables[-1].sets_line = _count(values, number), number
        elif keyword in CONDITIONS:
            conditions.append((number, " ".join([keyword, *values[1:]]).upper()))
    return tables, conditions


def _add_row(table: _Table, values: list[str], number: int) -> None:
    if len(table.rows) >= ROWS_MOST:
        raise CgatsUnusable(number, say("more than {rows_most} rows", rows_most=ROWS_MOST))
    table.rows.append((number, values))


def _values(line: str, number: int) -> list[str]:
    """The words of a line, quotes and remarks taken off. Raises CgatsUnusable for a quote that is not closed."""
    values, end = [], 0
    for found in TOKEN.finditer(line):
        if '"' in line[end : found.start()]:
            break
        end = found.end()
        if found[2] is None:
            values.append(found[1] if found[1] is not None else found[3])
    if '"' in line[end:]:
        raise CgatsUnusable(number, say("a quote is not closed"))
    return values


def _count(values: Sequence[str], number: int) -> int:
    if len(values) != 2 or not values[1].isascii() or not values[1].isdigit():
        raise CgatsUnusable(number, say("NUMBER_OF_SETS is no whole number"))
    return int(values[1][:9])


def _samples(table: _Table, conditions: Sequence[tuple[int, str]]) -> list[Sample]:
    if table.sets is not None and table.sets != len(table.rows):
        raise CgatsUnusable(
            table.sets_line,
            say(
                "NUMBER_OF_SETS says {sets}, and there are {rows} rows: some are missing",
                sets=table.sets,
                rows=len(table.rows),
            ),
        )
    bands = _bands(table)
    reflectances = _reflectances(table, bands) if bands else None
    samples = []
    for place, (number, values) in enumerate(table.rows):
        row = _row(table.fields, values, number)
        seen = None if reflectances is None else reflectances[place]
        name = row.get("SAMPLE_NAME") or row.get("SAMPLE_ID") or str(number)
        samples.append(Sample(name=name, lab=_lab(row, seen, conditions, number), reflectance=seen))
    return samples


def _row(fields: Sequence[str], values: Sequence[str], number: int) -> dict[str, str]:
    if len(values) != len(fields):
        raise CgatsUnusable(number, say("{values} values for {fields} fields", values=len(values), fields=len(fields)))
    return dict(zip(fields, values, strict=True))


def _lab(
    row: Mapping[str, str], seen: FloatArray | None, conditions: Sequence[tuple[int, str]], number: int
) -> FloatArray:
    """L*a*b* for D65 and 2 degrees. Raises CgatsUnusable."""
    lab = _numbers(row, LAB_FIELDS, number)
    if lab is not None and not (0 <= lab[0] <= 100 and np.all(np.abs(lab[1:]) <= 128)):
        raise CgatsUnusable(number, say("that is no L*a*b* of a surface"))
    if lab is None:
        if seen is None:
            raise CgatsUnusable(
                number,
                say(
                    "neither L*a*b* nor a spectrum from {needed_nm} to {needed_nm2} nm",
                    needed_nm=NEEDED_NM[0],
                    needed_nm2=NEEDED_NM[1],
                ),
            )
        return _seen_lab(seen)
    if seen is not None:
        return lab if _says_daylight(conditions) else _seen_lab(seen)
    return lab if _light(conditions) == Light.DAYLIGHT.value else adapt_to_screen(lab, D50_WHITE_XYZ)


def _seen_lab(reflectance: FloatArray) -> FloatArray:
    view = viewing(Light.DAYLIGHT)
    return lab_of(xyz_of(reflectance, view.weights), view.white_xyz)


def _says_daylight(conditions: Sequence[tuple[int, str]]) -> bool:
    try:
        return _light(conditions) == Light.DAYLIGHT.value
    except CgatsUnusable:
        return False


def _light(conditions: Sequence[tuple[int, str]]) -> str:
    """D50 or D65, as the text says. Raises CgatsUnusable for another light, for two, and for another observer."""
    named: dict[str, int] = {}
    for number, words in conditions:
        for found in LIGHT_NAME.finditer(words):
            named.setdefault(found[1] or found[2], number)
        for found in OBSERVER.finditer(words):
            if found[1] != "2":
                raise CgatsUnusable(
                    number,
                    say("its L*a*b* is for {found} degrees: export it for the 2-degree observer", found=found[1]),
                )
    if len(named) > 1:
        raise CgatsUnusable(
            max(named.values()), say("its L*a*b* is for {named}: for which?", named=" and for ".join(sorted(named)))
        )
    light, number = next(iter(named.items()), (UNSAID, 1))
    if light not in ("D50", Light.DAYLIGHT.value):
        raise CgatsUnusable(number, say("its L*a*b* is for {light}: export it for D50 or D65", light=light))
    return light


def _bands(table: _Table) -> dict[int, str]:
    """The spectral fields by wavelength, in order; none where they do not span what is needed."""
    found = {}
    for name in table.fields:
        if match := SPECTRAL.match(name):
            found[int(match[1] or match[2])] = name
    bands = dict(sorted(found.items()))
    steps = np.diff(list(bands)) if len(bands) > 1 else np.array([COARSEST_NM + 1])
    low, high = NEEDED_NM
    whole = bool(bands) and min(bands) <= low and max(bands) >= high and steps.max() <= COARSEST_NM
    return bands if whole else {}


def _reflectances(table: _Table, bands: Mapping[int, str]) -> list[FloatArray]:
    """Reflectance (bands,) 0-1 of every row on the engine's grid, from fractions or percent; linear between the
    bands, and level beyond them. Raises CgatsUnusable.
    """
    found = np.array(
        [_numbers(_row(table.fields, values, number), list(bands.values()), number) for number, values in table.rows]
    )
    if found.size and found.max() > PERCENT_FROM:
        found = found / 100
    for (number, _), row in zip(table.rows, found, strict=True):
        if row.min() < -BELOW_MOST or row.max() > PERCENT_FROM:
            raise CgatsUnusable(number, say("that is no reflectance of a surface"))
    nm = np.array(list(bands), dtype=float)
    return [frozen(np.interp(WAVELENGTHS_NM, nm, np.maximum(row, 0))) for row in found]


def _numbers(row: Mapping[str, str], names: Sequence[str], number: int) -> FloatArray | None:
    """The named fields as numbers; None where any is missing."""
    if any(name not in row for name in names):
        return None
    try:
        found = np.array([float(row[name]) for name in names])
    except ValueError:
        raise CgatsUnusable(number, say("a value is no number")) from None
    if not np.all(np.isfinite(found)):
        raise CgatsUnusable(number, say("a value is no finite number"))
    return frozen(found)
