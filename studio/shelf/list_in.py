"""A list of tubes as it is typed or pasted: what each row says, and what is wrong with the rows that can't be taken."""

import csv
import re
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from decimal import Decimal, InvalidOperation
from typing import Final

from engine.dye.guess import WORD, carrier_in, said_tones, tone_called, tones_in
from engine.hair.residue import LEVEL_CLEAN_WHITE, LEVEL_DARKEST
from engine.language import say

COLUMNS: Final = ("name", "code", "level", "tone", "size", "price")
ROWS_MOST: Final = 300
NAME_LONGEST: Final = 40
CODE_LONGEST: Final = 20
TONES_MOST: Final = 4
SIZE_LIMITS_G: Final = (1, 2000)
PRICE_MOST: Final = 10_000
SEPARATORS: Final = ("\t", ";", "|", ",")
CODE: Final = re.compile(r"(\d{1,2})\s*[./\-]\s*(\w+)")
LETTER: Final = re.compile(rf"\s*(\w{{1,3}})\s*[=:\s]\s*({WORD.pattern})\s*")


@dataclass(frozen=True, kw_only=True)
class Tube:
    """One row that can be taken. thins: of a carrier; None for what colours. size_g: None for the line's own."""

    row: int
    name: str
    code: str = ""
    level: Decimal | None = None
    tones: tuple[str, ...] = ()
    thins: Decimal | None = None
    size_g: Decimal | None = None
    price: Decimal = Decimal(0)

    @property
    def said_tones(self) -> str:
        """Its tones in words."""
        return said_tones(self.tones)


@dataclass(frozen=True, kw_only=True)
class WrongRow:
    """A row that can't be taken, and why; row 0 is the list itself."""

    row: int
    words: str


@dataclass(frozen=True, kw_only=True)
class ReadList:
    """What a list says."""

    tubes: tuple[Tube, ...]
    wrong: tuple[WrongRow, ...]


def read_letters(text: str) -> Mapping[str, str]:
    """The studio's own table of tone letters or digits, as in `1 ash, 3 gold, 44 = copper`.

    Raises ValueError in words.
    """
    letters: dict[str, str] = {}
    for part in filter(None, (each.strip() for each in re.split(r"[,;\n]", text))):
        found = LETTER.fullmatch(part)
        if not found:
            raise ValueError(say("“{part}” is no letter and its tone, as in “4 copper”", part=part[:30]))
        letter, tone = found[1].lower(), tone_called(found[2])
        if not tone:
            raise ValueError(say("“{tone}” is no tone that is known here", tone=found[2].lower()[:30]))
        letters[letter] = tone
    return letters


def read_list(
    text: str, *, letters: Mapping[str, str], is_oxidative: bool, names: Iterable[str] = (), codes: Iterable[str] = ()
) -> ReadList:
    """The tubes of a list, one to a row: name, code, level, tone, size and price between tabs, semicolons or commas, in
    this order or under a row that names them. names, codes: what the line has already.
    """
    rows = [(number, row) for number, row in enumerate(_rows(text), 1) if any(cell.strip() for cell in row)]
    if len(rows) > ROWS_MOST + 1:
        words = say(
            "{rows} rows: a line takes {rows_most} tubes at once, so bring it in pieces",
            rows=len(rows),
            rows_most=ROWS_MOST,
        )
        return ReadList(tubes=(), wrong=(WrongRow(row=0, words=words),))
    columns: tuple[str, ...] = COLUMNS
    head = [cell.strip().lower() for cell in rows[0][1]] if rows else []
    if "name" in head:
        columns, rows = tuple(head), rows[1:]
        if unknown := [name for name in columns if name not in COLUMNS]:
            words = say(
                "no column is called “{unknown}”: {columns}", unknown=unknown[0][:30], columns=", ".join(COLUMNS)
            )
            return ReadList(tubes=(), wrong=(WrongRow(row=1, words=words),))
    taken = {"name": {name.lower() for name in names}, "code": {code.lower() for code in codes}}
    tubes: list[Tube] = []
    wrong: list[WrongRow] = []
    for number, cells in rows:
        try:
            if len(cells) > len(columns):
                raise ValueError(
                    say(
                        "{cells} entries, where {columns} are known: {columns2}",
                        cells=len(cells),
                        columns=len(columns),
                        columns2=", ".join(columns),
                    )
                )
            given = {name: cell.strip() for name, cell in zip(columns, cells, strict=False)}
            tube = _tube(number, given, letters, is_oxidative=is_oxidative)
            for name, said in (("name", tube.name), ("code", tube.code)):
                if said and said.lower() in taken[name]:
                    raise ValueError(say("the {name} “{said}” is there already", name=name, said=said))
                taken[name].add(said.lower())
        except ValueError as error:
            wrong.append(WrongRow(row=number, words=str(error)))
        else:
            tubes.append(tube)
    return ReadList(tubes=tuple(tubes), wrong=tuple(wrong))


def _rows(text: str) -> list[list[str]]:
    """Rows of cells. The separator is the first of the known ones that is in the list."""
    separator = next((each for each in SEPARATORS if each in text), "\t")
    return list(csv.reader(text.replace("\0", "").removeprefix("\ufeff").splitlines(), delimiter=separator))


def _tube(number: int, given: Mapping[str, str], letters: Mapping[str, str], *, is_oxidative: bool) -> Tube:
    """One row. Raises ValueError in words."""
    name, code = given.get("name", ""), given.get("code", "")
    if not name:
        raise ValueError(say("the name is missing"))
    if len(name) > NAME_LONGEST:
        raise ValueError(say("the name is longer than {name_longest} letters", name_longest=NAME_LONGEST))
    if len(code) > CODE_LONGEST:
        raise ValueError(say("the code is longer than {code_longest} letters", code_longest=CODE_LONGEST))
    spelt = CODE.search(code) or CODE.search(name)
    tones = _tones(given.get("tone", ""), name, spelt[2] if spelt else "", letters)
    carrier = None if tones else carrier_in(f"{name} {given.get('tone', '')}")
    level = None
    if is_oxidative and carrier is None:
        said = given.get("level", "") or (spelt[1] if spelt else "")
        level = _number(said, "level", LEVEL_DARKEST, LEVEL_CLEAN_WHITE) if said else None
    size = given.get("size", "")
    return Tube(
        row=number,
        name=name,
        code=code,
        level=level,
        tones=tones,
        thins=None if carrier is None else Decimal(str(carrier)),
        size_g=_number(re.sub(r"\s*(g|ml)$", "", size, flags=re.I), "size", *SIZE_LIMITS_G) if size else None,
        price=_number(re.sub(r"[^\d.,\-]", "", price) or price, "price", 0, PRICE_MOST)
        if (price := given.get("price", ""))
        else Decimal(0),
    )


def _tones(said: str, name: str, spelling: str, letters: Mapping[str, str]) -> tuple[str, ...]:
    """The tones of a tube, the leading one first: as they are said, else as its code spells them, else its name.

    Raises ValueError for one that is said and not known.
    """
    found: list[str] = []
    for word in filter(None, re.split(r"[\s,/+]+", said.lower())):
        if carrier_in(word) is not None:
            continue
        tones = (letters[word],) if word in letters else tones_in(word)
        if not tones:
            raise ValueError(
                say(
                    "“{word}” is no tone that is known here: say it in words, or what the letter stands for",
                    word=word[:30],
                )
            )
        found += tones
    if not found:
        found = [letters[each] for each in _spelt(spelling.lower(), letters)]
    return tuple(dict.fromkeys(found or tones_in(name)))[:TONES_MOST]


def _spelt(spelling: str, letters: Mapping[str, str]) -> list[str]:
    """The letters of the table that spell the end of a code, the longest that fits first; none if one is unknown."""
    found: list[str] = []
    while spelling:
        letter = next((spelling[:long] for long in (3, 2, 1) if spelling[:long] in letters), None)
        if letter is None:
            return []
        found.append(letter)
        spelling = spelling[len(letter) :]
    return found


def _number(said: str, name: str, least: float, most: float) -> Decimal:
    """A number within limits, with a point or a comma. Raises ValueError in words."""
    try:
        number = Decimal(said.replace(",", "."))
    except InvalidOperation:
        raise ValueError(say("the {name} “{said}” is no number", name=name, said=said[:20])) from None
    if not number.is_finite() or not least <= number <= most:
        raise ValueError(
            say(
                "the {name} is {said}, and goes from {least:g} to {most:g}",
                name=name,
                said=said[:20],
                least=least,
                most=most,
            )
        )
    return round(number, 2)
