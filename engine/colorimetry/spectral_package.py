"""Spectra as a data package: a CSV with a row a sample, and a descriptor that says what its numbers are.

Source: [FDP1], Tabular Data Package. What the standard has no word for stands in the descriptor's member `spectral`:
the quantity, the grid, the geometry and the instrument that measured, the light and observer of the L*a*b*.
"""

import csv
import io
import json
import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Any, Final

import numpy as np

from engine.arrays import FloatArray
from engine.colorimetry.grid import START_NM, STEP_NM, STOP_NM, WAVELENGTHS_NM
from engine.colorimetry.spectrum_in import PERCENT_FROM, VALUE_MOST, SpectrumUnusable, gridded
from engine.errors import BadInput
from engine.language import say

DESCRIPTOR: Final = "datapackage.json"
TABLE: Final = "spectra.csv"
SAMPLES_MOST: Final = 2000
WAVELENGTHS_MOST: Final = 1000
WORDS_MOST: Final = 200
LAB: Final = ("lab_l", "lab_a", "lab_b")
PLACES: Final = 6
_NM: Final = re.compile(r"^(?:nm_?)?(\d{3,4}(?:\.\d+)?)(?: ?nm)?$", re.IGNORECASE)


class Quantity(StrEnum):
    """What the numbers of a spectrum are."""

    REFLECTANCE = "reflectance"
    K_S = "k_s"


UNITS: Final = {Quantity.REFLECTANCE: "fraction of the light, 0 to 1", Quantity.K_S: "K/S of the tube, undiluted"}

MOST: Final = {Quantity.REFLECTANCE: PERCENT_FROM, Quantity.K_S: VALUE_MOST}  # a white that glows a little, too


class PackageUnusable(BadInput):
    """A package that can't be read; `field` says where."""

    code = "spectral_package"


@dataclass(frozen=True, kw_only=True, eq=False)
class Spectrum:
    """A sample: its name, its values (bands,) on the engine's grid, and its L*a*b* (3,) where it has one."""

    name: str
    values: FloatArray
    lab: FloatArray | None = None


@dataclass(frozen=True, kw_only=True, eq=False)
class SpectralPackage:
    """Spectra of one quantity, and how they came about, in the words of who measured."""

    quantity: Quantity
    spectra: Sequence[Spectrum]
    geometry: str = ""
    instrument: str = ""
    light: str = "D65"
    observer: str = "2 degrees"


def written(package: SpectralPackage, *, name: str, title: str, created: str) -> dict[str, str]:
    """The package's files by their names. name: lower-case letters, digits and - . _; created: a moment of RFC 3339."""
    has_lab = any(each.lab is not None for each in package.spectra)
    unit = UNITS[package.quantity]
    fields = [{"name": "sample", "type": "string", "constraints": {"required": True}}]
    fields += [{"name": each, "type": "number", "description": f"CIE {each[-1].upper()}*"} for each in LAB if has_lab]
    fields += [{"name": f"{nm:g}", "type": "number", "description": f"{unit}, at {nm:g} nm"} for nm in WAVELENGTHS_NM]
    descriptor = {
        "profile": "tabular-data-package",
        "name": name,
        "title": title,
        "created": created,
        "spectral": {
            "quantity": package.quantity.value,
            "scale": 1,
            "grid": {"from_nm": START_NM, "to_nm": STOP_NM, "step_nm": STEP_NM},
            "geometry": package.geometry,
            "instrument": package.instrument,
            "light": package.light,
            "observer": package.observer,
        },
        "resources": [
            {
                "profile": "tabular-data-resource",
                "name": "spectra",
                "path": TABLE,
                "format": "csv",
                "mediatype": "text/csv",
                "encoding": "utf-8",
                "schema": {"fields": fields, "missingValues": [""]},
            }
        ],
    }
    table = io.StringIO()
    writer = csv.writer(table)
    writer.writerow([each["name"] for each in fields])
    for each in package.spectra:
        lab = ("", "", "") if each.lab is None else [f"{part:.4f}" for part in each.lab]
        writer.writerow([each.name, *(lab if has_lab else ()), *(f"{part:.{PLACES}f}" for part in each.values)])
    return {DESCRIPTOR: json.dumps(descriptor, indent=1, ensure_ascii=False) + "\n", TABLE: table.getvalue()}


def read(files: Mapping[str, str]) -> SpectralPackage:
    """The package that files by their names are. Raises PackageUnusable, which names the place."""
    descriptor = _descriptor(files)
    resource = _resource(descriptor)
    path = resource.get("path")
    if not isinstance(path, str) or path not in files:
        raise _unusable("resources.0.path", say("the table it names is not in the package"))
    said = descriptor.get("spectral", {})
    if not isinstance(said, dict):
        raise _unusable("spectral", say("an object is expected"))
    quantity, scale = _quantity(said), _scale(said)
    header, rows = _table(files[path], resource)
    columns = {place: float(met[1]) for place, each in enumerate(header) if (met := _NM.match(each.strip()))}
    _check_grid(said.get("grid"), list(columns.values()))
    named = next((header.index(each) for each in ("sample", "name", "sample_name") if each in header), None)
    labs = [header.index(each) for each in LAB] if set(LAB) <= set(header) else []
    spectra: list[Spectrum] = []
    for line, row in rows:
        where = f"{path}:{line}"
        nm_rows = [(line, nm, _number(row, place, where) / scale) for place, nm in columns.items()]
        name = row[named].strip()[:WORDS_MOST] if named is not None and named < len(row) else ""
        lab = np.array([_number(row, place, where) for place in labs]) if labs and row[labs[0]].strip() else None
        try:
            values = gridded(nm_rows)
        except SpectrumUnusable as error:
            raise _unusable(where, error.message) from None
        if not 0 <= float(values.min()) <= float(values.max()) <= MOST[quantity]:
            words = say("0 to {most:g} is expected, {unit}", most=MOST[quantity], unit=UNITS[quantity])
            raise _unusable(where, words)
        spectra.append(Spectrum(name=name or str(len(spectra) + 1), values=values, lab=lab))
    told = {each: str(said.get(each, ""))[:WORDS_MOST] for each in ("geometry", "instrument", "light", "observer")}
    return SpectralPackage(quantity=quantity, spectra=tuple(spectra), **told)


def _descriptor(files: Mapping[str, str]) -> dict[str, Any]:
    if DESCRIPTOR not in files:
        raise _unusable(DESCRIPTOR, say("a data package has one, and it is not there"))
    try:
        found = json.loads(files[DESCRIPTOR])
    except (ValueError, RecursionError):
        raise _unusable(DESCRIPTOR, say("it is no JSON")) from None
    if not isinstance(found, dict):
        raise _unusable(DESCRIPTOR, say("an object is expected"))
    return found


def _resource(descriptor: Mapping[str, Any]) -> dict[str, Any]:
    resources = descriptor.get("resources")
    if not isinstance(resources, list) or len(resources) != 1 or not isinstance(resources[0], dict):
        raise _unusable("resources", say("one table of spectra is expected"))
    return dict(resources[0])


def _quantity(said: Mapping[str, Any]) -> Quantity:
    given = said.get("quantity", Quantity.REFLECTANCE)
    if not isinstance(given, str) or given not in set(Quantity):
        raise _unusable("spectral.quantity", say("reflectance or k_s is expected"))
    return Quantity(given)


def _scale(said: Mapping[str, Any]) -> float:
    given = said.get("scale", 1)
    if given not in (1, 100) or isinstance(given, bool):
        raise _unusable("spectral.scale", say("1 is expected for fractions, or 100 for percent"))
    return float(given)


def _check_grid(said: Any, found: list[float]) -> None:
    """The wavelengths that the descriptor tells are those of the table."""
    if not 2 <= len(found) <= WAVELENGTHS_MOST:
        raise _unusable("schema.fields", say("columns of wavelengths in nm are expected, such as 400"))
    if said is None:
        return
    if not isinstance(said, dict):
        raise _unusable("spectral.grid", say("an object is expected"))
    numbers = [said.get(each) for each in ("from_nm", "to_nm", "step_nm")]
    if not all(isinstance(each, int | float) and not isinstance(each, bool) for each in numbers):
        raise _unusable("spectral.grid", say("from_nm, to_nm and step_nm are expected"))
    low, high, step = (float(each) for each in numbers if each is not None)
    told = np.arange(low, high + step / 2, step) if step > 0 and 0 <= high - low <= WAVELENGTHS_MOST * step else ()
    if len(told) != len(found) or not np.allclose(sorted(found), told, atol=1e-6):
        raise _unusable("spectral.grid", say("it is not that of the table's columns"))


def _table(text: str, resource: Mapping[str, Any]) -> tuple[list[str], list[tuple[int, list[str]]]]:
    """The heading, and each row with its line."""
    dialect = resource.get("dialect", {})
    sign = dialect.get("delimiter", ",") if isinstance(dialect, dict) else ","
    if not isinstance(sign, str) or sign not in (",", ";", "\t", "|"):
        raise _unusable("resources.0.dialect.delimiter", say("a comma, a semicolon, a tab or a bar is expected"))
    reader = csv.reader(io.StringIO(text, newline=""), delimiter=sign)
    try:
        header = [each.strip().lower() for each in next(reader, [])]
        rows = [(reader.line_num, row) for row in reader if any(each.strip() for each in row)]
    except csv.Error as error:
        raise _unusable(f"{resource['path']}:{reader.line_num}", str(error)) from None
    if not 1 <= len(rows) <= SAMPLES_MOST:
        raise _unusable(str(resource["path"]), say("1 to {most} samples are expected", most=SAMPLES_MOST))
    return header, rows


def _number(row: Sequence[str], place: int, where: str) -> float:
    try:
        value = float(row[place])
    except (IndexError, ValueError):
        value = float("nan")
    if not np.isfinite(value):
        raise _unusable(where, say("a number is expected in column {place}", place=place + 1))
    return value


def _unusable(field: str, words: str) -> PackageUnusable:
    return PackageUnusable(field, f"{field}: {words}")
