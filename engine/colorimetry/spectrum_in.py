"""A spectrum as a spreadsheet or an instrument's software writes it: rows of a wavelength and a value."""

import re
from collections.abc import Sequence
from itertools import pairwise
from typing import Final

import numpy as np

from engine.arrays import FloatArray, frozen
from engine.colorimetry.cgats_in import COARSEST_NM, NEEDED_NM
from engine.colorimetry.grid import WAVELENGTHS_NM
from engine.errors import BadInput
from engine.language import say

ROWS_MOST: Final = 5000
NM_LIMITS: Final = (200.0, 2500.0)
VALUE_MOST: Final = 1000.0
PERCENT_FROM: Final = 1.2  # a reflectance above this is in percent
PERCENT_MOST: Final = 120.0
BESIDE: Final = re.compile(r"\d\s+[-+.\d]")  # numbers that spaces part


class SpectrumUnusable(BadInput):
    """A text that is no spectrum; `line` is where it went wrong, counted from 1."""

    def __init__(self, line: int, message: str) -> None:
        super().__init__("spectrum", say("line {line}: {message}", line=line, message=message))
        self.line, self.message = line, message


def read_spectrum(text: str) -> FloatArray:
    """The values (bands,) of a text on the engine's grid, linear between its rows, level beyond them.

    A row is a wavelength in nm and a value, parted by a comma, a semicolon, a tab or spaces; a decimal comma stands
    where another sign parts. Rows before the first number are headings. Raises SpectrumUnusable: too few rows, a
    wavelength twice, gaps of more than 20 nm, or less than 400 to 700 nm.
    """
    rows = _rows(text)
    if len(rows) < 2:
        raise SpectrumUnusable(1, say("a spectrum needs rows of a wavelength and a value"))
    return gridded(rows)


def gridded(given: Sequence[tuple[int, float, float]]) -> FloatArray:
    """The values (bands,) of lines, wavelengths and values on the engine's grid, two at least.

    Raises SpectrumUnusable as `read_spectrum`.
    """
    rows = sorted(given, key=lambda row: row[1])
    for (_, before, _), (line, nm, _) in pairwise(rows):
        if nm == before:
            raise SpectrumUnusable(line, say("{nm:g} nm is there twice", nm=nm))
        if nm - before > COARSEST_NM and before < NEEDED_NM[1] and nm > NEEDED_NM[0]:
            raise SpectrumUnusable(
                line,
                say(
                    "nothing between {before:g} and {nm:g} nm: {coarsest_nm} nm at most",
                    before=before,
                    nm=nm,
                    coarsest_nm=COARSEST_NM,
                ),
            )
    low, high = NEEDED_NM
    if rows[0][1] > low or rows[-1][1] < high:
        there = say("{rows:g} to {rows2:g} nm", rows=rows[0][1], rows2=rows[-1][1])
        raise SpectrumUnusable(
            rows[0][0], say("it goes from {there}: {low} to {high} are needed", there=there, low=low, high=high)
        )
    nm, values = np.array([row[1:] for row in rows]).T
    return frozen(np.interp(WAVELENGTHS_NM, nm, values))


def as_reflectance(values: FloatArray) -> FloatArray:
    """Values (bands,) as a reflectance 0-1, from fractions or percent. Raises SpectrumUnusable for what is none."""
    if float(values.max()) > PERCENT_MOST or float(values.min()) < 0:
        raise SpectrumUnusable(1, say("that is no reflectance of a surface: is it K/S?"))
    return frozen(values / 100 if float(values.max()) > PERCENT_FROM else values)


def _rows(text: str) -> list[tuple[int, float, float]]:
    """Line, wavelength and value of each row."""
    rows: list[tuple[int, float, float]] = []
    for line, given in enumerate(text.splitlines(), start=1):
        if not given.strip() or given.lstrip().startswith("#"):
            continue
        numbers = _numbers(given)
        if numbers is None:
            if rows:
                raise SpectrumUnusable(line, say("that is no wavelength and a value"))
            continue  # a heading
        nm, value = numbers
        if not NM_LIMITS[0] <= nm <= NM_LIMITS[1]:
            raise SpectrumUnusable(line, say("{nm:g} is no wavelength in nm", nm=nm))
        if not 0 <= value <= VALUE_MOST:
            raise SpectrumUnusable(line, say("{value:g} is no value of a spectrum", value=value))
        rows.append((line, nm, value))
        if len(rows) > ROWS_MOST:
            raise SpectrumUnusable(line, say("more than {rows_most} rows", rows_most=ROWS_MOST))
    return rows


def _numbers(given: str) -> tuple[float, float] | None:
    """The first two numbers of a row; None where they are none."""
    text = given.strip()
    if ";" in text or "\t" in text:
        parts = re.split(r"[;\t]", text)
    elif BESIDE.search(text) and not re.search(r",\s", text):
        parts = text.split()
    else:
        parts = text.split(",")
    cells = [each.strip().replace(",", ".") for each in parts if each.strip()]
    try:
        nm, value = (float(each) for each in cells[:2])
    except ValueError:
        return None
    return (nm, value) if np.isfinite(nm) and np.isfinite(value) else None
