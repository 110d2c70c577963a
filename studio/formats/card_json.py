"""A client's card as JSON: written by this schema, and read back by it."""

import datetime
import json
from decimal import Decimal
from functools import cache
from pathlib import Path
from typing import Any, Final

import jsonschema

from studio.accounts.models import Person
from studio.cards.models import Formula, FormulaPour, HomeCare, Tweak, ZoneResult
from studio.cards.selectors import KeptFormula, active_tweaks, card_of, last_care
from studio.formats.entry import Entry, EntryCard, EntryPour, EntryResult, EntryTweak, Fault

SCHEMA: Final = Path(__file__).with_name("schema") / "card.schema.json"
FORMAT: Final = "rainshade-card"
VERSION: Final = 1
HAIR: Final = ("level", "warmth", "lean", "porosity", "grey", "old_k_s")


@cache
def card_schema() -> dict[str, Any]:
    """The schema of a card's document."""
    schema: dict[str, Any] = json.loads(SCHEMA.read_text(encoding="utf-8"))
    return schema


def card_document(person: Person, client_id: int, *, only: int | None = None) -> dict[str, Any]:
    """A client's card as plain data, or as if it held one formula alone. Raises Client.DoesNotExist."""
    client, formulas = card_of(person, client_id)
    care = last_care(person, client_id)
    return {
        "format": FORMAT,
        "version": VERSION,
        "client": {"name": client.name, "about": client.about, "notes": client.notes},
        "formulas": [_formula(kept) for kept in formulas if only in (None, kept.formula.pk)],
        "change_next_time": [_tweak(tweak) for tweak in active_tweaks(person, client_id)],
        **({"home_care": _care(care)} if care else {}),
    }


def _formula(kept: KeptFormula) -> dict[str, Any]:
    formula = kept.formula
    document: dict[str, Any] = {
        "saved_at": formula.saved_at.isoformat(),
        "zone": formula.zone_name,
        "part": formula.zone_part,
        "position": formula.zone_position,
        "bowl": formula.bowl_number,
        "line": str(formula.line),
        "wanted_g": float(formula.wanted_g),
        "hair": {name: float(getattr(formula, name)) for name in HAIR}
        | {"family": formula.family, "old_shade": formula.old_shade},
        "pours": [_pour(kept_pour) for kept_pour in kept.pours],
        "developer_g": float(formula.developer_g),
        "batches": formula.batches,
        "damp": formula.damp,
        "heat": formula.heat,
        "forecast_lab": _lab(formula, "forecast"),
        "note": formula.note,
    }
    if formula.target_l is not None:
        document["target_lab"] = _lab(formula, "target")
    for name in ("mixed_at", "applied_at", "rinsed_at"):
        if moment := getattr(formula, name):
            document[name] = moment.isoformat()
    if kept.result:
        document["result"] = _result(kept.result)
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
    }


def _tweak(tweak: Tweak) -> dict[str, Any]:
    document: dict[str, Any] = {"zone": tweak.zone_name, "words": tweak.words}
    if tweak.target_l is not None:
        document["aim_lab"] = _lab(tweak, "target")
    return document


def _care(care: HomeCare) -> dict[str, Any]:
    document: dict[str, Any] = {
        "washes_a_week": float(care.washes_a_week),
        "hot_water": care.hot_water,
        "pool": care.pool,
        "sun": care.sun,
        "given": care.given,
    }
    if care.next_on:
        document["next_on"] = care.next_on.isoformat()
    return document


def read_card(text: str) -> tuple[EntryCard | None, list[Entry], list[Fault]]:
    """A card's document: the card, its formulas as entries, and what is wrong, by the formula's place in it."""
    try:
        document = json.loads(text, parse_constant=_no_number)
        json.dumps(document, ensure_ascii=False).encode()  # half a character has no place in a database
    except (ValueError, RecursionError) as wrong:
        line = getattr(wrong, "lineno", 1)
        return None, [], [Fault(line=line, words=f"This is no JSON: {getattr(wrong, 'msg', 'it can not be read')}.")]
    if "\\u0000" in text:
        return None, [], [Fault(line=1, words="This has characters that no text has.")]
    validator = jsonschema.Draft202012Validator(card_schema())
    faults = [
        Fault(line=_place(error.absolute_path), words=f"{_path(error.absolute_path)}: {error.message[:160]}")
        for error in sorted(validator.iter_errors(document), key=lambda error: list(map(str, error.absolute_path)))
    ]
    if faults:
        return None, [], faults
    entries = []
    for number, formula in enumerate(document["formulas"], start=1):
        try:
            entries.append(_entry(document["client"], formula, number))
        except ValueError:
            faults.append(Fault(line=number, words="a moment in it is no date and time"))
    try:
        return _card(document), entries, faults
    except ValueError:
        return None, entries, [*faults, Fault(line=0, words="home_care.next_on is no day")]


def _no_number(name: str) -> float:
    raise ValueError(f"{name} is no number")


def _card(document: dict[str, Any]) -> EntryCard:
    """Raises ValueError for a day that is none."""
    care = dict(document.get("home_care", {}))
    if "next_on" in care:
        care["next_on"] = datetime.date.fromisoformat(care["next_on"])
    if "washes_a_week" in care:
        care["washes_a_week"] = Decimal(str(care["washes_a_week"]))
    return EntryCard(
        client=document["client"]["name"].strip(),
        about=document["client"].get("about", ""),
        notes=document["client"].get("notes", ""),
        tweaks=tuple(
            EntryTweak(zone=tweak.get("zone", ""), words=tweak["words"], aim_lab=_decimals(tweak.get("aim_lab")))
            for tweak in document.get("change_next_time", [])
        ),
        care=care,
    )


def _decimals(lab: list[float] | None) -> tuple[Decimal, ...] | None:
    return None if lab is None else tuple(Decimal(str(part)) for part in lab)


def _place(path: Any) -> int:
    """Which formula a fault is in, counted from 1; 0 for the document itself."""
    parts = list(path)
    return int(parts[1]) + 1 if len(parts) > 1 and parts[0] == "formulas" else 0


def _path(path: Any) -> str:
    return ".".join(str(part) for part in path) or "the document"


def _entry(client: dict[str, Any], formula: dict[str, Any], number: int) -> Entry:
    hair = formula["hair"]
    return Entry(
        line_number=number,
        client=client["name"].strip(),
        about=client.get("about", ""),
        saved_at=_moment(formula["saved_at"]),
        zone=formula["zone"],
        part=formula["part"],
        position=formula.get("position", 0),
        bowl=formula.get("bowl", 1),
        line=formula["line"],
        wanted_g=Decimal(str(formula["wanted_g"])),
        hair={name: Decimal(str(hair[name])) for name in HAIR},
        family=hair["family"],
        old_shade=hair.get("old_shade", ""),
        pours=tuple(
            EntryPour(
                shade=pour["shade"],
                grams=Decimal(str(pour["grams"])),
                planned_g=Decimal(str(pour["planned_g"])) if "planned_g" in pour else None,
                lot=pour.get("lot", ""),
            )
            for pour in formula["pours"]
        ),
        developer_g=Decimal(str(formula.get("developer_g", 0))),
        batches=formula.get("batches", 1),
        damp=formula.get("damp", False),
        heat=formula.get("heat", False),
        moments={name: _moment(formula[name]) for name in ("mixed_at", "applied_at", "rinsed_at") if name in formula},
        forecast_lab=_decimals(formula["forecast_lab"]) or (),
        target_lab=_decimals(formula.get("target_lab")),
        note=formula.get("note", ""),
        result=_result_of(formula["result"]) if "result" in formula else None,
    )


def _result_of(result: dict[str, Any]) -> EntryResult:
    return EntryResult(
        lab=_decimals(result["lab"]) or (),
        source=result["source"],
        dry=result.get("dry", False),
        two_lights=result.get("two_lights", False),
    )


def _moment(text: str) -> datetime.datetime:
    """A moment with its offset, UTC where it names none. Raises ValueError."""
    moment = datetime.datetime.fromisoformat(text)
    return moment if moment.tzinfo else moment.replace(tzinfo=datetime.UTC)
