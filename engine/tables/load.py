"""The one loader of the engine's tables."""

import csv
import hashlib
import tomllib
from dataclasses import dataclass
from functools import cache
from pathlib import Path

import numpy as np

from engine.arrays import FloatArray, frozen

FOLDER = Path(__file__).parent


@dataclass(frozen=True, kw_only=True)
class Table:
    """A table as text: column names, and rows of cells in file order."""

    columns: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]

    def texts(self, column: str) -> tuple[str, ...]:
        """One column as text."""
        index = self.columns.index(column)
        return tuple(row[index] for row in self.rows)

    def numbers(self, column: str) -> FloatArray:
        """One column as numbers, read-only."""
        return frozen(np.array([float(cell) for cell in self.texts(column)]))


@cache
def load_table(name: str) -> Table:
    """The table in tables/<name>/. Raises ValueError if it differs from the digest in its provenance."""
    content = (FOLDER / name / "table.csv").read_bytes()
    provenance = tomllib.loads((FOLDER / name / "provenance.toml").read_text(encoding="utf-8"))
    if hashlib.sha256(content).hexdigest() != provenance["sha256"]:
        raise ValueError(f"engine/tables/{name}/table.csv differs from the digest in its provenance.toml")
    columns, *rows = csv.reader(content.decode("utf-8").splitlines())
    return Table(columns=tuple(columns), rows=tuple(tuple(row) for row in rows))
