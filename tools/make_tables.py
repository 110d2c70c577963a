"""Remake the tables of light and observer from colour-science, and stamp every table's digest.

Run by hand when a table changes: .venv/bin/python tools/make_tables.py
"""

import csv
import hashlib
import io
import re
import warnings
from pathlib import Path

TABLES = Path(__file__).resolve().parent.parent / "engine" / "tables"
START_NM, STOP_NM, STEP_NM = 380, 780, 5
LIGHTS = ("D65", "A", "LED-B3", "FL2")


def write_table(name: str, columns: list[str], rows: list[list[object]]) -> None:
    """Write tables/<name>/table.csv with Unix line ends."""
    text = io.StringIO()
    writer = csv.writer(text, lineterminator="\n")
    writer.writerow(columns)
    writer.writerows(rows)
    (TABLES / name / "table.csv").write_text(text.getvalue(), encoding="utf-8")


def make_colorimetry() -> None:
    """Observer and lights on the 5 nm grid, as published, with no interpolation."""
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        import colour

    grid = range(START_NM, STOP_NM + 1, STEP_NM)
    observer = colour.MSDS_CMFS["CIE 1931 2 Degree Standard Observer"]
    write_table(
        "observer",
        ["wavelength_nm", "x_bar", "y_bar", "z_bar"],
        [[nm, *(format(float(v), ".10g") for v in observer[nm])] for nm in grid],
    )
    spectra = [colour.SDS_ILLUMINANTS[name] for name in LIGHTS]
    for name, spectrum in zip(LIGHTS, spectra, strict=True):
        missing = [nm for nm in grid if nm not in spectrum.wavelengths]
        if missing:
            raise SystemExit(f"{name} is not tabulated at {missing}")
    write_table(
        "lights",
        ["wavelength_nm", *LIGHTS],
        [[nm, *(format(float(s[nm]), ".10g") for s in spectra)] for nm in grid],
    )


def stamp_digests() -> None:
    """Write each table's SHA-256 into its provenance."""
    for provenance in sorted(TABLES.glob("*/provenance.toml")):
        digest = hashlib.sha256((provenance.parent / "table.csv").read_bytes()).hexdigest()
        text = re.sub(r'^sha256 = ".*"$', f'sha256 = "{digest}"', provenance.read_text(encoding="utf-8"), flags=re.M)
        provenance.write_text(text, encoding="utf-8")
        print(f"{provenance.parent.name}: {digest[:12]}")


if __name__ == "__main__":
    make_colorimetry()
    stamp_digests()
