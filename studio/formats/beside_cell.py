"""Coats that nothing was mixed for, as one cell of the logbook: "1 remove: Soapstone (20 g, 6 vol, 15 min); 3 seal"."""

import re
from collections.abc import Mapping, Sequence
from typing import Any, Final

from engine.language import say
from engine.service.purposes import PLAIN

UNITS: Final = (("grams", "g", 1000.0), ("vol", "vol", 40.0), ("minutes", "min", 9999.0))
COATS_MOST: Final = 8
PRODUCT_LONGEST: Final = 60
ENTRY: Final = re.compile(
    r"\s*(?P<coat>\d{1,2}) (?P<purpose>\w+)(?:: (?P<product>.*?))?(?: \((?P<numbers>[^()]*)\))?\s*(?:;|$)"
)


def beside_cell(coats: Sequence[Mapping[str, Any]]) -> str:
    """The coats as a person reads them, and `coats_beside` reads them back."""
    return "; ".join(_entry(coat) for coat in coats)


def _entry(coat: Mapping[str, Any]) -> str:
    numbers = ", ".join(f"{float(coat[name]):g} {unit}" for name, unit, _ in UNITS if coat.get(name))
    name = str(coat.get("product", "")).replace(";", ",")  # which parts one coat from the next
    product = f": {name}" if name else ""
    said = f" ({numbers})" if numbers or "(" in name else ""  # else a name's own bracket would be read as numbers
    return f"{coat['coat']} {coat['purpose']}{product}{said}"


def coats_beside(cell: str) -> list[dict[str, Any]]:
    """The coats of a cell. Raises ValueError in words."""
    found: list[dict[str, Any]] = []
    at = 0
    while at < len(cell.rstrip()):
        entry = ENTRY.match(cell, at)
        if entry is None or entry["purpose"] not in {purpose.value for purpose in PLAIN}:
            raise ValueError(
                say(
                    "beside has “{cell}”: a coat is expected, as in 1 remove: Soapstone (20 g)", cell=cell[at : at + 30]
                )
            )
        found.append(_coat(entry))
        at = entry.end()
    if len(found) > COATS_MOST:
        raise ValueError(say("beside has {found} coats: {coats_most} at most", found=len(found), coats_most=COATS_MOST))
    return found


def _coat(entry: re.Match[str]) -> dict[str, Any]:
    coat: dict[str, Any] = {"coat": int(entry["coat"]), "purpose": entry["purpose"]}
    if not 1 <= coat["coat"] <= 20:
        raise ValueError(say("beside has coat {coat}: 1 to 20 is expected", coat=coat["coat"]))
    if product := (entry["product"] or "").strip():
        if len(product) > PRODUCT_LONGEST:
            raise ValueError(
                say("beside has a product longer than {product_longest} letters", product_longest=PRODUCT_LONGEST)
            )
        coat["product"] = product
    for said in filter(None, (piece.strip() for piece in (entry["numbers"] or "").split(","))):
        coat |= _number(said)
    return coat


def _number(said: str) -> dict[str, float]:
    typed, _, unit = said.rpartition(" ")
    for name, known, most in UNITS:
        if unit == known:
            try:
                number = float(typed)
            except ValueError:
                break
            if 0 < number <= most:
                return {name: number}
            raise ValueError(
                say(
                    "beside has {said}: more than 0 and at most {most:g} {unit} is expected",
                    said=said[:20],
                    most=most,
                    unit=unit,
                )
            )
    raise ValueError(say("beside has “{said}”: a number of g, vol or min is expected", said=said[:20]))
