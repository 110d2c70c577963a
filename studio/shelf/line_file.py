"""A line of shades as a file that another studio can take in, with all that is known of its tubes."""

import json
import uuid
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from decimal import Decimal
from functools import cache
from pathlib import Path
from typing import Any, Final

from engine.dye import shade as dye
from engine.dye.fingerprint import fingerprint
from engine.errors import EngineError
from engine.language import counted, say
from studio.shelf.engine_adapter import engine_shade
from studio.shelf.list_in import WrongRow
from studio.shelf.models import Shade, ShadeBand, ShadeLine
from studio.shelf.selectors import StockedLine
from studio.ui.json_in import Unfit, loaded, unfit

SCHEMA: Final = Path(__file__).with_name("schema") / "line.schema.json"
FORMAT: Final = "rainshade-line"
VERSION: Final = 2
NUMBERS: Final = ("developer_parts", "developer_vol", "tube_g", "empty_tube_g", "time_constant_min")
MINUTES: Final = ("pack_usual_min", "pack_most_min")  # where the pack is known
WORDS: Final = ("tone_letters", "declares")
RULES: Final = ("asks_test", "test_lasts_days")
BAND: Final = ("centre_nm", "sigma_nm", "weight")
WRONG_MOST: Final = 200
ONCE: Final = ("name", "uid", "code", "key")


@dataclass(frozen=True, kw_only=True, eq=False)
class ToldTube:
    """A tube as a file tells it: its row and its bands, saved nowhere yet, and the engine's shade."""

    row: Shade
    bands: Sequence[ShadeBand]
    shade: dye.Shade

    @property
    def known_words(self) -> str:
        """Where its colour is known from."""
        if self.shade.is_clear:
            return say("a carrier")
        count = self.row.readings
        words = self.row.get_known_display()
        return counted("{words}, {count} reading", "{words}, {count} readings", count, words=words) if count else words


@dataclass(frozen=True, kw_only=True, eq=False)
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


def line_document(stocked: StockedLine) -> dict[str, Any]:
    """A line as plain data, without what is the studio's own: stock, prices and what was taken off."""
    line = stocked.line
    document: dict[str, Any] = {"format": FORMAT, "version": VERSION, "name": line.name, "uid": str(line.uid)}
    document |= {"kind": line.kind}
    document |= {name: float(getattr(line, name)) for name in NUMBERS}
    document |= {name: float(minutes) for name in MINUTES if (minutes := getattr(line, name)) is not None}
    document |= {name: words for name in WORDS if (words := getattr(line, name))}
    document |= {name: getattr(line, name) for name in RULES}
    shades = [shade for shade in stocked.shades if not shade.off_shelf]
    return document | {"shades": [_told(shade, fingerprint(stocked.plain[shade.pk])) for shade in shades]}


def _told(shade: Shade, what_it_does: str) -> dict[str, Any]:
    document: dict[str, Any] = {"name": shade.name, "uid": str(shade.uid), "fingerprint": what_it_does}
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
        document["bands"] = [{name: float(getattr(band, name)) for name in BAND} for band in bands]
    return document


def read_line(text: str) -> tuple[LineFile | None, tuple[WrongRow, ...]]:
    """The line that a file tells, or what is wrong with it: by the place of the shade, from 1, or 0 for the line."""
    try:
        document = loaded(text)
    except ValueError as wrong:
        return None, (WrongRow(row=0, words=str(wrong)),)
    return told_line(document)


def newer(document: object, version: int) -> WrongRow | None:
    """That a document is of a version which is not read here yet, if it is."""
    given = document.get("version") if isinstance(document, dict) else None
    if not isinstance(given, int) or isinstance(given, bool) or given <= version:
        return None
    words = say(
        "This file is of version {given}, and version {version} is read here: it comes from a newer Rainshade.",
        given=given,
        version=version,
    )
    return WrongRow(row=0, words=words)


def told_line(document: Any) -> tuple[LineFile | None, tuple[WrongRow, ...]]:
    """The line that a document tells, or what is wrong with it, as `read_line`."""
    if wrong := newer(document, VERSION):
        return None, (wrong,)
    wrong_rows = [WrongRow(row=_place(each), words=each.words) for each in unfit(document, line_schema(), WRONG_MOST)]
    if not wrong_rows:
        line = _line(document)
        wrong_rows = [*_developer_wrong(document), *_minutes_wrong(document), *_said_twice(document["shades"])]
        tubes: list[ToldTube] = []
        for number, shade in enumerate(document["shades"], 1):
            try:
                tubes.append(_tube(shade, line))
            except (EngineError, ValueError) as error:
                wrong_rows.append(WrongRow(row=number, words=str(error)))
    if wrong_rows:
        return None, tuple(sorted(wrong_rows, key=lambda each: each.row))
    return LineFile(name=document["name"].strip(), fields=_fields(document), tubes=tuple(tubes)), ()


def _fields(document: Mapping[str, Any]) -> dict[str, Any]:
    """What a document says of the line, as fields of its row."""
    fields: dict[str, Any] = {
        name: number for name in (*NUMBERS, *MINUTES) if (number := _number(document, name)) is not None
    }
    fields |= {"uid": uuid.UUID(document["uid"])} if "uid" in document else {}
    return fields | {name: document[name] for name in ("kind", *WORDS, *RULES) if name in document}


def _line(document: Mapping[str, Any]) -> ShadeLine:
    """The line's row, saved nowhere yet."""
    return ShadeLine(name=document["name"].strip(), **_fields(document))


def _place(wrong: Unfit) -> int:
    path = wrong.path
    return int(path[1]) + 1 if len(path) > 1 and path[0] == "shades" else 0


def _developer_wrong(document: Mapping[str, Any]) -> list[WrongRow]:
    has_parts, has_vol = bool(document.get("developer_parts")), bool(document.get("developer_vol"))
    words = say("developer_parts and developer_vol go together: a developer has its strength, and nothing else has one")
    return [WrongRow(row=0, words=words)] if has_parts is not has_vol else []


def _minutes_wrong(document: Mapping[str, Any]) -> list[WrongRow]:
    usual, most = (document.get(name) for name in MINUTES)
    words = say("pack_usual_min is more than pack_most_min: the pack asks for more minutes than it allows")
    return [WrongRow(row=0, words=words)] if usual is not None and most is not None and usual > most else []


def _said_twice(shades: Sequence[Mapping[str, Any]]) -> list[WrongRow]:
    """Names, codes and keys that two shades have."""
    seen: dict[tuple[str, str], int] = {}
    wrong = []
    for number, shade in enumerate(shades, 1):
        for name in ONCE:
            said = str(shade.get(name, "")).strip().lower()
            if said and (name, said) in seen:
                words = say(
                    "the {name} “{shade}” is that of shade {seen} already",
                    name=name,
                    shade=shade[name],
                    seen=seen[name, said],
                )
                wrong.append(WrongRow(row=number, words=words))
            seen.setdefault((name, said), number)
    return wrong


def _tube(given: Mapping[str, Any], line: ShadeLine) -> ToldTube:
    """Raises EngineError and ValueError for what no schema can see."""
    if given.get("thins", 1) != 1 and ("samples" in given or "bands" in given):
        raise ValueError(say("thins is for clear and conditioner only"))
    row = Shade(
        name=given["name"].strip(),
        code=given.get("code", "").strip(),
        level=_number(given, "level"),
        tones=", ".join(given.get("tones", ())),
        keyboard_key=given.get("key", ""),
        thins=_number(given, "thins") or Decimal(1),
        strength=_number(given, "strength") or Decimal(0),
        known=given.get("known", ""),
        samples=given.get("samples"),
        doubt_factors=given.get("doubt_factors"),
        readings=given.get("readings", 0),
    )
    if "uid" in given:
        row.uid = uuid.UUID(given["uid"])
    bands = [ShadeBand(**{name: _number(band, name) for name in BAND}) for band in given.get("bands", ())]
    tube = ToldTube(row=row, bands=bands, shade=engine_shade(row, line, bands))
    if given.get("fingerprint", fingerprint(tube.shade)) != fingerprint(tube.shade):
        raise ValueError(say("its fingerprint is that of another: it was changed since the file was written"))
    return tube


def _number(given: Mapping[str, Any], name: str) -> Decimal | None:
    return None if given.get(name) is None else Decimal(str(given[name]))
