"""A whole shelf as one file, and what it says that this studio's shelf does not, or says otherwise."""

import hashlib
import json
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache
from typing import Any, Final

from engine.dye.fingerprint import DIGITS, fingerprint
from engine.language import later, say
from studio.accounts.models import Person
from studio.shelf.line_file import LineFile, line_document, line_schema, newer, told_line
from studio.shelf.list_in import WrongRow
from studio.shelf.selectors import StockedLine, colour_lines, stocked_line
from studio.shelf.services.own_tubes import LINES_MOST
from studio.ui.json_in import loaded, unfit

FORMAT: Final = "rainshade-shelf"
VERSION: Final = 1
NEW, SAME, DIFFERS = "new", "same", "differs"
STANDS: Final = {NEW: later("is not here"), SAME: later("is here"), DIFFERS: later("is here, and works otherwise")}


@dataclass(frozen=True, kw_only=True)
class ShelfLine:
    """A line of a shelf's file. stands: new, same or differs.

    otherwise: names of tubes that work otherwise here; missing: of those that a line which is here has not.
    """

    file: LineFile
    stands: str
    otherwise: tuple[str, ...] = ()
    missing: tuple[str, ...] = ()

    @property
    def words(self) -> str:
        """How it stands to this shelf."""
        return str(STANDS[self.stands])


@cache
def shelf_schema() -> dict[str, Any]:
    """The schema of a shelf's document: that of its lines, and what is around them."""
    line = line_schema()
    return {
        "$schema": line["$schema"],
        "$id": f"urn:rainshade:schema:shelf:{VERSION}",
        "title": "A studio's shelf",
        "type": "object",
        "required": ["format", "version", "lines"],
        "additionalProperties": False,
        "properties": {
            "format": {"const": FORMAT},
            "version": {"description": "Edition of this format.", "enum": [VERSION]},
            "fingerprint": {
                "description": "Of all that its tubes do to forecasts: two shelves of one fingerprint work alike.",
                "type": "string",
                "pattern": f"^[0-9a-f]{{{DIGITS}}}$",
            },
            "lines": {
                "description": "Lines of colour, in the order of the shelf.",
                "type": "array",
                "maxItems": LINES_MOST,
                "items": {"$ref": "#/$defs/line"},
            },
        },
        "$defs": {
            **line["$defs"],
            "line": {name: line[name] for name in ("title", "type", "required", "additionalProperties", "properties")},
        },
    }


def shelf_in(text: str) -> dict[str, Any] | None:
    """The document of a text that says it is a shelf; None for any other, which is read as a line."""
    try:
        document = loaded(text)
    except ValueError:
        return None
    return document if isinstance(document, dict) and document.get("format") == FORMAT else None


def shelf_document(person: Person) -> dict[str, Any]:
    """Every line of colour as plain data, without what is the studio's own: stock, prices and what was taken off."""
    lines = [line_document(stocked_line(line)) for line in colour_lines(person).order_by("position", "pk")]
    return {"format": FORMAT, "version": VERSION, "fingerprint": _fingerprint(lines), "lines": lines}


def _fingerprint(lines: list[dict[str, Any]]) -> str:
    told = sorted(
        (line["name"], sorted((each["name"], each["fingerprint"]) for each in line["shades"])) for line in lines
    )
    return hashlib.sha256(json.dumps(told).encode()).hexdigest()[:DIGITS]


def told_shelf(person: Person, document: Mapping[str, Any]) -> tuple[tuple[ShelfLine, ...], tuple[WrongRow, ...]]:
    """The lines that a shelf's document tells, beside what is here, or what is wrong with it by its line."""
    if wrong := newer(document, VERSION):
        return (), (wrong,)
    around = {**document, "lines": []} if isinstance(document.get("lines"), list) else document
    found = [WrongRow(row=0, words=each.words) for each in unfit(around, shelf_schema(), 20)]
    if not found and len(document["lines"]) > LINES_MOST:
        found = [WrongRow(row=0, words=say("A shelf holds {most} lines here.", most=LINES_MOST))]
    if found:
        return (), tuple(found)
    lines: list[LineFile] = []
    for number, each in enumerate(document["lines"], 1):
        line, faults = told_line(each)
        name = each["name"] if isinstance(each, dict) and isinstance(each.get("name"), str) else str(number)
        found += [WrongRow(row=fault.row, words=f"{name[:60]}: {fault.words}") for fault in faults]
        if line and any(line.name.lower() == other.name.lower() for other in lines):
            found.append(WrongRow(row=0, words=say("two lines are called {name}", name=line.name)))
        lines += [line] if line else []
    if found:
        return (), tuple(found)
    here = {line.name.lower(): line for line in colour_lines(person)}
    known = {line.uid: line for line in here.values()}
    beside = ((line, here.get(line.name.lower()) or known.get(line.fields.get("uid"))) for line in lines)
    return tuple(_beside(line, stocked_line(row) if row else None) for line, row in beside), ()


def _beside(line: LineFile, here: StockedLine | None) -> ShelfLine:
    if here is None:
        return ShelfLine(file=line, stands=NEW)
    ours = {shade.name.lower(): fingerprint(here.plain[shade.pk]) for shade in here.shades}
    named = {tube.row.name: (ours.get(tube.row.name.lower()), fingerprint(tube.shade)) for tube in line.tubes}
    missing = tuple(name for name, (mine, _) in named.items() if mine is None)
    otherwise = tuple(name for name, (mine, told) in named.items() if mine not in (None, told))
    return ShelfLine(file=line, stands=DIFFERS if otherwise else SAME, otherwise=otherwise, missing=missing)
