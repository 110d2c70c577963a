"""A card's JSON read back: checked for its size first, then by the schema, then by what no schema can see."""

from collections.abc import Mapping, Sequence
from typing import Any, Final

from engine.language import say
from studio.formats.card_json import card_schema
from studio.formats.entry import FAULTS_MOST, Fault, Row, day_of, entry_of, moment_of
from studio.ui.json_in import loaded, unfit

FORMULAS_MOST: Final = 5000
DAYS: Final = frozenset({"born_on", "done_on", "day", "next_on"})
MOMENTS: Final = frozenset({"tested_at", "signed_at", "noted_at"})


def read_card(text: str) -> tuple[dict[str, Any] | None, list[Row], list[Fault]]:
    """A card's document without its formulas, the formulas as rows, and what is wrong by a formula's place in it.

    The document is None where what it holds beside formulas can't be taken.
    """
    try:
        document = loaded(text)
    except ValueError as wrong:
        return None, [], [Fault(line=getattr(wrong, "lineno", 1), words=str(wrong))]
    formulas = document.get("formulas") if isinstance(document, dict) else None
    if isinstance(formulas, list) and len(formulas) > FORMULAS_MOST:
        return (
            None,
            [],
            [
                Fault(
                    line=0,
                    words=say("more than {formulas_most} formulas: bring them in pieces", formulas_most=FORMULAS_MOST),
                )
            ],
        )
    if faults := _by_schema(document):
        return None, [], faults
    return _rows(document)


def _by_schema(document: Any) -> list[Fault]:
    """What the schema finds, at most so many."""
    found = unfit(document, card_schema(), FAULTS_MOST)
    faults = [Fault(line=_place(each.path), words=each.words) for each in found]
    return sorted(faults, key=lambda fault: (fault.line, fault.words))


def _place(path: Sequence[str | int]) -> int:
    """Which formula a fault is in, counted from 1; 0 for the document itself."""
    return int(path[1]) + 1 if len(path) > 1 and path[0] == "formulas" else 0


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
        row = Row(
            line=number,
            client=client["name"],
            about=client.get("about", ""),
            formula=formula,
            client_uid=client.get("uid", ""),
        )
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
