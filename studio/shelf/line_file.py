"""A line of shades as a file that another studio can take in, with all that is known of its tubes."""

import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from decimal import Decimal
from functools import cache
from pathlib import Path
from typing import Any, Final

from engine.dye import shade as dye
from engine.dye.kind import Kind
from engine.dye.known import Known, ShadeDoubt
from engine.errors import EngineError
from studio.shelf.list_in import WrongRow
from studio.shelf.models import Shade, ShadeLine
from studio.ui.json_in import Unfit, loaded, unfit

SCHEMA: Final = Path(__file__).with_name("schema") / "line.schema.json"
FORMAT: Final = "rainshade-line"
VERSION: Final = 1
NUMBERS: Final = ("developer_parts", "developer_vol", "tube_g", "empty_tube_g", "time_constant_min")
WORDS: Final = ("tone_letters", "declares")
WRONG_MOST: Final = 200
ONCE: Final = ("name", "code", "key")


@dataclass(frozen=True, kw_only=True)
class ToldTube:
    """A tube as a file tells it. fields: of its row. bands: centre and spread in nm, weight. shade: the engine's."""

    fields: Mapping[str, Any]
    bands: tuple[tuple[Decimal, Decimal, Decimal], ...]
    shade: dye.Shade

    @property
    def known_words(self) -> str:
        """Where its colour is known from."""
        if self.shade.is_clear:
            return "a carrier"
        words = str(dict(Shade.KnownChoice.choices)[self.fields["known"]])
        count = self.fields["readings"]
        return f"{words}, {count} reading{'' if count == 1 else 's'}" if count else words


@dataclass(frozen=True, kw_only=True)
class LineFile:
    """A line as a file tells it. fields: of its row."""

    name: str
    fields: Mapping[str, Any]
    tubes: tuple[ToldTube, ...]


@cache
def line_schema() -> dict[str, Any]:
    """The schema of a line's document."""
    schema: dict[str, Any] = json.loads(SCHEMA.read_text(encoding="utf-8"))
    return schema


def line_document(line: ShadeLine, shades: Sequence[Shade]) -> dict[str, Any]:
    """A line as plain data, without what is the studio's own: stock, prices and what was taken off."""
    document: dict[str, Any] = {"format": FORMAT, "version": VERSION, "name": line.name, "kind": line.kind}
    document |= {name: float(getattr(line, name)) for name in NUMBERS}
    document |= {name: words for name in WORDS if (words := getattr(line, name))}
    document |= {"asks_test": line.asks_test, "test_lasts_days": line.test_lasts_days}
    return document | {"shades": [_told(shade) for shade in shades if not shade.off_shelf]}


def _told(shade: Shade) -> dict[str, Any]:
    document: dict[str, Any] = {"name": shade.name}
    known = {
        "code": shade.code,
        "level": None if shade.level is None else float(shade.level),
        "tones": list(filter(None, shade.tones.split(", "))),
        "key": shade.keyboard_key,
    }
    document |= {name: said for name, said in known.items() if said not in ("", None, [])}
    if shade.thins != 1:
        document["thins"] = float(shade.thins)
    if shade.samples:
        document |= {"samples": shade.samples, "known": shade.known, "readings": shade.readings}
        document |= {"doubt_factors": shade.doubt_factors} if shade.doubt_factors else {}
    elif bands := list(shade.bands.all()):
        document["strength"] = float(shade.strength)
        names = ("centre_nm", "sigma_nm", "weight")
        document["bands"] = [{name: float(getattr(band, name)) for name in names} for band in bands]
    return document


def read_line(text: str) -> tuple[LineFile | None, tuple[WrongRow, ...]]:
    """The line that a file tells, or what is wrong with it: by the place of the shade, from 1, or 0 for the line."""
    try:
        document = loaded(text)
    except ValueError as wrong:
        return None, (WrongRow(row=0, words=str(wrong)),)
    given = document.get("version") if isinstance(document, dict) else None
    if isinstance(given, int) and not isinstance(given, bool) and given > VERSION:
        words = f"This file is of version {given}, and version {VERSION} is read here: it comes from a newer Rainshade."
        return None, (WrongRow(row=0, words=words),)
    wrong_rows = [WrongRow(row=_place(each), words=each.words) for each in unfit(document, line_schema(), WRONG_MOST)]
    if not wrong_rows:
        kind = Kind(document["kind"])
        wrong_rows = [*_developer_wrong(document), *_said_twice(document["shades"])]
        tubes: list[ToldTube] = []
        for number, shade in enumerate(document["shades"], 1):
            try:
                tubes.append(_tube(shade, kind))
            except (EngineError, ValueError) as error:
                wrong_rows.append(WrongRow(row=number, words=str(error)))
    if wrong_rows:
        return None, tuple(sorted(wrong_rows, key=lambda each: each.row))
    fields = {name: Decimal(str(document[name])) for name in NUMBERS if name in document}
    fields |= {name: document[name] for name in ("kind", *WORDS, "asks_test", "test_lasts_days") if name in document}
    return LineFile(name=document["name"].strip(), fields=fields, tubes=tuple(tubes)), ()


def _place(wrong: Unfit) -> int:
    path = wrong.path
    return int(path[1]) + 1 if len(path) > 1 and path[0] == "shades" else 0


def _developer_wrong(document: Mapping[str, Any]) -> list[WrongRow]:
    has_parts, has_vol = bool(document.get("developer_parts")), bool(document.get("developer_vol"))
    words = "developer_parts and developer_vol go together: a developer has its strength, and nothing else has one"
    return [WrongRow(row=0, words=words)] if has_parts is not has_vol else []


def _said_twice(shades: Sequence[Mapping[str, Any]]) -> list[WrongRow]:
    """Names, codes and keys that two shades have."""
    seen: dict[tuple[str, str], int] = {}
    wrong = []
    for number, shade in enumerate(shades, 1):
        for name in ONCE:
            said = str(shade.get(name, "")).strip().lower()
            if said and (name, said) in seen:
                words = f"the {name} “{shade[name]}” is that of shade {seen[name, said]} already"
                wrong.append(WrongRow(row=number, words=words))
            seen.setdefault((name, said), number)
    return wrong


def _tube(given: Mapping[str, Any], kind: Kind) -> ToldTube:
    """Raises EngineError and ValueError for what no schema can see."""
    if given.get("thins", 1) != 1 and ("samples" in given or "bands" in given):
        raise ValueError("thins is for clear and conditioner only")
    doubt = None
    if "doubt_factors" in given:
        factors = tuple(tuple(row) for row in given["doubt_factors"])
        doubt = ShadeDoubt(source=Known(given["known"]), count=given.get("readings", 0), factors=factors)
    level = None if given.get("level") is None else Decimal(str(given["level"]))
    shade = dye.Shade(
        name=given["name"].strip(),
        bands=tuple(dye.Band(**band) for band in given.get("bands", ())),
        samples=tuple(given.get("samples", ())),
        strength=1.0 if "samples" in given else float(given.get("strength", 0)),
        kind=kind,
        thins=float(given.get("thins", 1)),
        doubt=doubt,
    )
    fields: dict[str, Any] = {
        "name": shade.name,
        "code": given.get("code", "").strip(),
        "level": level,
        "tones": ", ".join(given.get("tones", ())),
        "keyboard_key": given.get("key", ""),
        "thins": Decimal(str(given.get("thins", 1))),
        "strength": Decimal(str(given.get("strength", 0))),
        "known": given.get("known", ""),
        "samples": list(shade.samples) or None,
        "doubt_factors": given.get("doubt_factors"),
        "readings": given.get("readings", 0),
    }
    bands = tuple(
        (Decimal(str(band.centre_nm)), Decimal(str(band.sigma_nm)), Decimal(str(band.weight))) for band in shade.bands
    )
    return ToldTube(fields=fields, bands=bands, shade=shade)
