"""A card's JSON read back: checked for its size first, then by the schema, then by what no schema can see."""

import itertools
import json
from collections.abc import Mapping
from typing import Any, Final

import jsonschema

from studio.formats.card_json import card_schema
from studio.formats.entry import FAULTS_MOST, Fault, Row, day_of, entry_of, moment_of

FORMULAS_MOST: Final = 5000
WORDS_MOST: Final = 160
DAYS: Final = frozenset({"born_on", "done_on", "day", "next_on"})
MOMENTS: Final = frozenset({"tested_at", "signed_at", "noted_at"})


def read_card(text: str) -> tuple[dict[str, Any] | None, list[Row], list[Fault]]:
    """A card's document without its formulas, the formulas as rows, and what is wrong by a formula's place in it.

    The document is None where what it holds beside formulas can't be taken.
    """
    try:
        document = json.loads(text, parse_constant=_no_number, object_pairs_hook=_once)
        json.dumps(document, ensure_ascii=False).encode()  # half a character has no place in a database
    except (ValueError, RecursionError) as wrong:
        line = getattr(wrong, "lineno", 1)
        said = getattr(wrong, "msg", "") or str(wrong)[:WORDS_MOST] or "it can not be read"
        return None, [], [Fault(line=line, words=f"This is no JSON that can be taken: {said}.")]
    if "\\u0000" in text:
        return None, [], [Fault(line=1, words="This has characters that no text has.")]
    formulas = document.get("formulas") if isinstance(document, dict) else None
    if isinstance(formulas, list) and len(formulas) > FORMULAS_MOST:
        return None, [], [Fault(line=0, words=f"more than {FORMULAS_MOST} formulas: bring them in pieces")]
    if faults := _by_schema(document):
        return None, [], faults
    return _rows(document)


def _once(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    """An object whose keys are each there once: of two, no one can say which was meant."""
    found = dict(pairs)
    if len(found) != len(pairs):
        names = [name for name, _ in pairs]
        twice = next(name for name in names if names.count(name) > 1)
        raise ValueError(f"the key “{twice[:40]}” is there twice in one object")
    return found


def _no_number(name: str) -> float:
    raise ValueError(f"{name} is no number")


def _by_schema(document: Any) -> list[Fault]:
    """What the schema finds, at most so many."""
    validator = jsonschema.Draft202012Validator(card_schema())
    found = itertools.islice(validator.iter_errors(document), FAULTS_MOST)
    faults = [
        Fault(line=_place(error.absolute_path), words=f"{_path(error.absolute_path)}: {error.message[:WORDS_MOST]}")
        for error in found
    ]
    return sorted(faults, key=lambda fault: (fault.line, fault.words))


def _place(path: Any) -> int:
    """Which formula a fault is in, counted from 1; 0 for the document itself."""
    parts = list(path)
    return int(parts[1]) + 1 if len(parts) > 1 and parts[0] == "formulas" else 0


def _path(path: Any) -> str:
    return ".".join(str(part) for part in path) or "the document"


def _rows(document: dict[str, Any]) -> tuple[dict[str, Any] | None, list[Row], list[Fault]]:
    """The parts of a document that fits the schema."""
    client = document["client"] | {"name": document["client"]["name"].strip()}
    card = {name: part for name, part in document.items() if name != "formulas"} | {"client": client}
    try:
        _check_days(card)
    except ValueError as wrong:
        return None, [], [Fault(line=0, words=str(wrong))]
    rows, faults = [], []
    for number, formula in enumerate(document["formulas"], start=1):
        row = Row(line=number, client=client["name"], about=client.get("about", ""), formula=formula)
        try:
            entry_of(row)
        except ValueError as wrong:
            faults.append(Fault(line=number, words=str(wrong)))
        rows.append(row)
    return card, rows, faults


def _check_days(part: Any) -> None:
    """That every day and moment is one. Raises ValueError."""
    if isinstance(part, Mapping):
        for name, value in part.items():
            if name in DAYS:
                day_of(value, name)
            elif name in MOMENTS:
                moment_of(value, name)
            elif name != "given":
                _check_days(value)
    elif isinstance(part, list):
        for each in part:
            _check_days(each)
