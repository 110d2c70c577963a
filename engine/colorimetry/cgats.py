"""Colour readings and spectra as CGATS text: the keyword-and-table form that colour instruments exchange.

Source: [CGATS17], ANSI CGATS.17, from memory: a first line that names the format, keywords, a BEGIN_DATA_FORMAT
block of field names, NUMBER_OF_SETS, and a BEGIN_DATA block of rows in which text stands in quotes.
"""

import shlex
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np

from engine.arrays import FloatArray, frozen
from engine.colorimetry.grid import BANDS, START_NM, STEP_NM
from engine.errors import BadInput

LAB_FIELDS: Final = ("LAB_L", "LAB_A", "LAB_B")
ROWS_MOST: Final = 10_000


class CgatsUnusable(BadInput):
    """A text that is no CGATS table; `line` is where it went wrong, counted from 1."""

    code = "cgats"

    def __init__(self, line: int, message: str) -> None:
        super().__init__("cgats", f"line {line}: {message}")
        self.line = line


@dataclass(frozen=True, kw_only=True, eq=False)
class Sample:
    """One row: its name, L*a*b* (3,) if it has it, and reflectance (bands,) 0-1 if it has it."""

    name: str
    lab: FloatArray | None
    reflectance: FloatArray | None = None


def written(samples: Sequence[Sample], *, originator: str, created: str, about: Mapping[str, str] | None = None) -> str:
    """Samples as text; every sample has L*a*b*, and a spectrum either all or none. Raises BadInput."""
    with_spectra = [sample for sample in samples if sample.reflectance is not None]
    if with_spectra and len(with_spectra) != len(samples):
        raise BadInput("samples", "samples: a spectrum is needed for each or for none")
    fields = ["SAMPLE_ID", "SAMPLE_NAME", *LAB_FIELDS]
    if with_spectra:
        fields += [f"SPECTRAL_NM{START_NM + STEP_NM * band}" for band in range(BANDS)]
    lines = ["CGATS.17", f'ORIGINATOR "{_plain(originator)}"', f'CREATED "{_plain(created)}"']
    lines += [f'{key} "{_plain(text)}"' for key, text in (about or {}).items()]
    lines += [f"NUMBER_OF_FIELDS {len(fields)}", "BEGIN_DATA_FORMAT", " ".join(fields), "END_DATA_FORMAT"]
    lines += [f"NUMBER_OF_SETS {len(samples)}", "BEGIN_DATA"]
    lines += [_row(number, sample) for number, sample in enumerate(samples, start=1)]
    return "\n".join([*lines, "END_DATA", ""])


def _row(number: int, sample: Sample) -> str:
    if sample.lab is None:
        raise BadInput("samples", "samples: L*a*b* is needed for each")
    numbers = [f"{part:.4f}" for part in sample.lab]
    if sample.reflectance is not None:
        numbers += [f"{part:.6f}" for part in sample.reflectance]
    return " ".join([str(number), f'"{_plain(sample.name)}"', *numbers])


def _plain(text: str) -> str:
    """Text that can stand between quotes on one line."""
    return " ".join(text.replace('"', "'").split())


def read(text: str) -> tuple[Sample, ...]:
    """The samples of a CGATS text that has L*a*b*, spectra, or both on the 5 nm grid.

    Raises CgatsUnusable with the line at fault.
    """
    fields: list[str] = []
    samples: list[Sample] = []
    block = ""
    for number, line in enumerate(text.splitlines(), start=1):
        stripped = line.strip()
        if not stripped or stripped.startswith("#"):
            continue
        if stripped in ("BEGIN_DATA_FORMAT", "BEGIN_DATA"):
            block = stripped
        elif stripped in ("END_DATA_FORMAT", "END_DATA"):
            block = ""
        elif block == "BEGIN_DATA_FORMAT":
            fields += stripped.split()
        elif block == "BEGIN_DATA":
            samples.append(_sample(fields, stripped, number))
            if len(samples) > ROWS_MOST:
                raise CgatsUnusable(number, f"more than {ROWS_MOST} rows")
    if not fields:
        raise CgatsUnusable(1, "there is no BEGIN_DATA_FORMAT block: this is no CGATS table")
    if not samples:
        raise CgatsUnusable(len(text.splitlines()) or 1, "there are no rows between BEGIN_DATA and END_DATA")
    return tuple(samples)


def _sample(fields: Sequence[str], line: str, number: int) -> Sample:
    lexer = shlex.shlex(line, posix=True, punctuation_chars=False)
    lexer.whitespace_split, lexer.quotes, lexer.escape, lexer.commenters = True, '"', "", ""
    try:
        parts = list(lexer)
    except ValueError:
        raise CgatsUnusable(number, "a quote is not closed") from None
    if len(parts) != len(fields):
        raise CgatsUnusable(number, f"{len(parts)} values for {len(fields)} fields")
    row = dict(zip(fields, parts, strict=True))
    lab = _numbers(row, LAB_FIELDS, number)
    spectral = tuple(f"SPECTRAL_NM{START_NM + STEP_NM * band}" for band in range(BANDS))
    reflectance = _numbers(row, spectral, number)
    if lab is None and reflectance is None:
        raise CgatsUnusable(number, "neither L*a*b* nor a spectrum from 380 to 780 nm by 5 nm")
    if lab is not None and not (0 <= lab[0] <= 100 and np.all(np.abs(lab[1:]) <= 128)):
        raise CgatsUnusable(number, "that is no L*a*b* of a surface")
    name = row.get("SAMPLE_NAME") or row.get("SAMPLE_ID") or str(number)
    return Sample(name=name, lab=lab, reflectance=reflectance)


def _numbers(row: Mapping[str, str], names: Sequence[str], number: int) -> FloatArray | None:
    """The named fields as numbers; None where any is missing."""
    if any(name not in row for name in names):
        return None
    try:
        found = np.array([float(row[name]) for name in names])
    except ValueError:
        raise CgatsUnusable(number, "a value is no number") from None
    if not np.all(np.isfinite(found)):
        raise CgatsUnusable(number, "a value is no finite number")
    return frozen(found)
