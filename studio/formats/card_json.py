"""A client's card as JSON, written by its schema."""

import json
from functools import cache
from pathlib import Path
from typing import Any, Final

from studio.accounts.models import Person
from studio.cards.models import Formula, FormulaPour, Tweak, ZoneResult
from studio.cards.selectors import KeptFormula, card_of, tweaks_of
from studio.formats.entry import HAIR, MOMENTS, WHERE_KNOWN
from studio.formats.history_json import client_document, past_document, tests_document, visits_document
from studio.formats.known_by import Readers, layers_of, readers_of, shelf_of
from studio.shelf.models import Shade

SCHEMA: Final = Path(__file__).with_name("schema") / "card.schema.json"
FORMAT: Final = "rainshade-card"
VERSION: Final = 5


@cache
def card_schema() -> dict[str, Any]:
    """The schema of a card's document."""
    schema: dict[str, Any] = json.loads(SCHEMA.read_text(encoding="utf-8"))
    return schema


def card_document(person: Person, client_id: int, *, only: int | None = None) -> dict[str, Any]:
    """A client's card as plain data, or as if it held one formula alone. Raises Client.DoesNotExist."""
    client, formulas = card_of(person, client_id)
    shown = [kept for kept in formulas if only in (None, kept.formula.pk)]
    shades = _laid_shades(person, shown)
    return {
        "format": FORMAT,
        "version": VERSION,
        "client": client_document(client),
        "past_work": past_document(client),
        **tests_document(client),
        "visits": visits_document(person, client, only=shown[0].formula.visit_id if only and shown else None),
        "formulas": formula_documents(person, shown, shades),
        "change_next_time": [_tweak(tweak) for tweak in tweaks_of(person, client_id)],
        "shelf": shelf_of(shown, shades),
    }


def formula_documents(
    person: Person, formulas: list[KeptFormula], shades: dict[int, Shade] | None = None
) -> list[dict[str, Any]]:
    """Formulas as a card's document has them. shades: those that lay on the hair, where they are known. Two queries."""
    laid = _laid_shades(person, formulas) if shades is None else shades
    readers = readers_of(person, visits={kept.formula.visit_id for kept in formulas})
    return [_formula(kept, laid, readers) for kept in formulas]


def _laid_shades(person: Person, formulas: list[KeptFormula]) -> dict[int, Shade]:
    """The shades that coats, and visits before, had left on the hair, by row. One query, none if there are none."""
    wanted = {int(layer["shade"]) for kept in formulas for layer in layers_of(kept.formula)}
    if not wanted:
        return {}
    found = Shade.objects.filter(line__studio=person.studio, pk__in=wanted).select_related("line")
    return {shade.pk: shade for shade in found}


def _formula(kept: KeptFormula, shades: dict[int, Shade], readers: Readers) -> dict[str, Any]:
    formula = kept.formula
    hair: dict[str, Any] = {name: float(getattr(formula, name)) for name in HAIR}
    hair |= {"family": formula.family, "old_shade": formula.old_shade}
    if formula.old_shade.isdecimal():  # a row of this studio says nothing elsewhere: it goes along by its name
        hair |= {"old_shade": "", "old_k_s": 0.0}
    if layers := layers_of(formula):
        laid = [(shades[int(each["shade"])], each["k_s"]) for each in layers if int(each["shade"]) in shades]
        hair["laid"] = [{"line": shade.line.name, "shade": shade.name, "k_s": float(k_s)} for shade, k_s in laid]
    document: dict[str, Any] = {
        "uid": str(formula.uid),
        "visit": str(formula.visit.uid),
        "saved_at": formula.saved_at.isoformat(),
        "saved_by": formula.author,
        "day": formula.visit.day.isoformat(),
        "zone": formula.zone_name,
        "part": formula.zone_part,
        "position": formula.zone_position,
        "blend_percent": formula.blend_percent,
        "bowl": formula.bowl_number,
        "line": str(formula.line),
        "wanted_g": float(formula.wanted_g),
        "hair": hair,
        "pours": [_pour(kept_pour) for kept_pour in kept.pours],
        "developer_g": float(formula.developer_g),
        "batches": formula.batches,
        "damp": formula.damp,
        "heat": formula.heat,
        "light": formula.light,
        "forecast_lab": _lab(formula, "forecast"),
        "note": formula.note,
    }
    if formula.target_l is not None:
        document["target_lab"] = _lab(formula, "target")
    document |= _known_of(formula, readers)
    if kept.result:
        document["result"] = _result(kept.result)
    return document


def _known_of(formula: Formula, readers: Readers) -> dict[str, Any]:
    """The coat, and what not every formula has."""
    document: dict[str, Any] = {
        "coat": formula.coat_number,
        "purpose": formula.purpose,
        "pattern": formula.pattern,
    }
    document |= {"sections": formula.sections} if formula.sections > 1 else {}
    document |= {"rinsed_apart": True} if formula.rinsed_apart else {}
    if reader := formula.read_as or readers.of(formula):
        document["read_by"] = reader
    if formula.beside:
        document["beside"] = formula.beside
    for name in WHERE_KNOWN:
        if (number := getattr(formula, name)) is not None:
            document[name] = float(number)
    for name in MOMENTS:
        if moment := getattr(formula, name):
            document[name] = moment.isoformat()
    return document


def _pour(pour: FormulaPour) -> dict[str, Any]:
    document: dict[str, Any] = {"shade": pour.shade_name, "grams": float(pour.grams)}
    if pour.planned_g is not None:
        document["planned_g"] = float(pour.planned_g)
    if pour.lot:
        document["lot"] = pour.lot
    return document


def _lab(row: Formula | ZoneResult | Tweak, prefix: str) -> list[float]:
    return [float(getattr(row, f"{prefix}_{part}")) for part in "lab"]


def _result(result: ZoneResult) -> dict[str, Any]:
    return {
        "lab": _lab(result, "result"),
        "source": result.source,
        "dry": result.dry,
        "two_lights": result.two_lights,
        "judged_by": result.judge,
    }


def _tweak(tweak: Tweak) -> dict[str, Any]:
    document: dict[str, Any] = {
        "day": tweak.visit.day.isoformat(),
        "zone": tweak.zone_name,
        "words": tweak.words,
        "active": tweak.active,
    }
    for name in ("minutes_more", "vol"):
        if (number := getattr(tweak, name)) is not None:
            document[name] = float(number)
    if tweak.target_l is not None:
        document["aim_lab"] = _lab(tweak, "target")
    return document
