"""One formula as it comes in from a file, checked as far as a file alone can be."""

import datetime
from collections.abc import Mapping
from dataclasses import dataclass
from decimal import Decimal, InvalidOperation
from typing import Any, Final

from engine.colorimetry.lights import Light
from engine.language import say

HAIR: Final = ("level", "warmth", "lean", "porosity", "grey", "yellowing", "old_k_s")
MOMENTS: Final = ("mixed_at", "applied_at", "rinsed_at")
# Of the coat and of its hair, where they are known.
WHERE_KNOWN: Final = ("strand_share", "from_cm", "to_cm", "to_level", "developer_vol", "developer_parts")
FAULTS_MOST: Final = 200  # a file with more wrong than this is told so, and read no further
CENT: Final = Decimal("0.01")
EARLIEST_YEAR: Final = 1950
LATEST_YEAR: Final = 9000  # what lies beyond can not be reckoned with; what is still to come is told by its moment


@dataclass(frozen=True, kw_only=True)
class Fault:
    """What is wrong with a line of a file, or with a formula of a document, counted from 1; 0 for all of it."""

    line: int
    words: str


@dataclass(frozen=True, kw_only=True)
class Row:
    """A formula of a file with its line, and whose card it is for, as a card's document writes it."""

    line: int
    client: str
    about: str
    formula: Mapping[str, Any]
    client_uid: str = ""


@dataclass(frozen=True, kw_only=True)
class Whose:
    """Whose card something is for: a name, and what she is known by in every file, if the file tells."""

    name: str
    uid: str = ""


@dataclass(frozen=True, kw_only=True)
class EntryPour:
    """Grams of a shade by its name."""

    shade: str
    grams: Decimal
    planned_g: Decimal | None = None
    lot: str = ""


@dataclass(frozen=True, kw_only=True)
class EntryLayer:
    """What a coat of that visit had left on the hair: a shade of a line, and how strong it stands, K/S."""

    line: str
    shade: str
    k_s: Decimal


@dataclass(frozen=True, kw_only=True)
class EntryResult:
    """A judged result: L*a*b*, and how it was judged."""

    lab: tuple[Decimal, ...]
    source: str
    dry: bool
    two_lights: bool
    judged_by: str = ""


@dataclass(frozen=True, kw_only=True)
class Entry:
    """A formula to take in. day: of its visit, None for the studio's day of the moment. moments: mixed_at, applied_at
    and rinsed_at where they are known. forecast_lab: empty to have it forecast. result: how it turned out, if judged.
    numbers: of the coat and its hair, by field, where they are known. beside: coats of its zone that nothing was mixed
    for, as a card's document writes them. uid, visit_uid, client_uid: what each is known by in every file, if told.
    saved_by, read_by: names.
    """

    line_number: int
    client: str
    about: str
    saved_at: datetime.datetime
    day: datetime.date | None
    zone: str
    part: str
    position: int
    blend_percent: int
    bowl: int
    line: str
    light: str
    wanted_g: Decimal
    hair: Mapping[str, Decimal]
    family: str
    old_shade: str
    laid: tuple[EntryLayer, ...]
    pours: tuple[EntryPour, ...]
    developer_g: Decimal
    batches: int
    damp: bool
    heat: bool
    moments: Mapping[str, datetime.datetime]
    forecast_lab: tuple[Decimal, ...]
    target_lab: tuple[Decimal, ...] | None
    note: str
    coat: int
    purpose: str
    pattern: str
    numbers: Mapping[str, Decimal]
    sections: int = 1
    rinsed_apart: bool = False
    beside: tuple[Mapping[str, Any], ...] = ()
    result: EntryResult | None = None
    uid: str = ""
    visit_uid: str = ""
    client_uid: str = ""
    saved_by: str = ""
    read_by: str = ""

    @property
    def whose(self) -> Whose:
        """Whose card it is for."""
        return Whose(name=self.client, uid=self.client_uid)

    @property
    def recipe(self) -> tuple[int, str, frozenset[tuple[str, Decimal]]]:
        """What makes two formulas of one moment on one zone the same."""
        return self.coat, self.line, frozenset((pour.shade, pour.grams) for pour in self.pours)


def _old_shade(hair: Mapping[str, Any]) -> str:
    """The old colour by name: a number is a row of another studio's shelf, and says nothing here."""
    name = str(hair.get("old_shade", ""))
    return "" if name.isdecimal() else name


def entry_of(row: Row) -> Entry:
    """A row's formula. Raises ValueError, in words, for what no schema can see."""
    formula = row.formula
    hair = formula["hair"]
    pours = tuple(_pour(pour) for pour in formula["pours"])
    if len({pour.shade for pour in pours}) != len(pours):
        raise ValueError(say("pours names a shade twice"))
    return Entry(
        line_number=row.line,
        client=row.client,
        about=row.about,
        saved_at=moment_of(formula["saved_at"], "saved_at"),
        day=day_of(formula["day"], "day") if "day" in formula else None,
        zone=formula["zone"].strip(),
        part=formula["part"],
        position=formula.get("position", 0),
        blend_percent=formula.get("blend_percent", 10),
        bowl=formula.get("bowl", 1),
        line=formula["line"].strip(),
        light=formula.get("light", Light.DAYLIGHT.value),
        wanted_g=_decimal(formula["wanted_g"]),
        hair={name: _decimal(hair.get(name, 0)) for name in HAIR},
        family=hair["family"],
        old_shade=_old_shade(hair),
        laid=tuple(
            EntryLayer(line=layer["line"], shade=layer["shade"], k_s=_decimal(layer["k_s"]))
            for layer in hair.get("laid", [])
        ),
        pours=pours,
        developer_g=_decimal(formula.get("developer_g", 0)),
        batches=formula.get("batches", 1),
        damp=formula.get("damp", False),
        heat=formula.get("heat", False),
        moments={name: moment_of(formula[name], name) for name in MOMENTS if name in formula},
        forecast_lab=decimals(formula.get("forecast_lab")) or (),
        target_lab=decimals(formula.get("target_lab")),
        note=formula.get("note", ""),
        coat=formula.get("coat", 1),
        purpose=formula.get("purpose", "colour"),
        pattern=formula.get("pattern", "all"),
        numbers=_numbers(formula),
        sections=formula.get("sections", 1),
        rinsed_apart=formula.get("rinsed_apart", False),
        beside=tuple(formula.get("beside", ())),
        result=_result(formula["result"]) if "result" in formula else None,
        uid=formula.get("uid", ""),
        visit_uid=formula.get("visit", ""),
        client_uid=row.client_uid,
        saved_by=formula.get("saved_by", "").strip(),
        read_by=formula.get("read_by", "").strip(),
    )


def _numbers(formula: Mapping[str, Any]) -> dict[str, Decimal]:
    """Numbers of the coat that not every formula has. Raises ValueError for those that can't be together."""
    found = {name: round(_decimal(formula[name]), 2) for name in WHERE_KNOWN if name in formula}
    if "strand_share" in found:  # a trace stays a trace
        found["strand_share"] = max(found["strand_share"], CENT)
    if ("from_cm" in found) is not ("to_cm" in found) or found.get("from_cm", 0) >= found.get("to_cm", 1):
        raise ValueError(say("from_cm and to_cm go together, and to_cm lies beyond from_cm"))
    if ("to_level" in found) is not (formula.get("purpose") == "lift"):
        raise ValueError(say("to_level says where a lift ends: a lift needs it, and nothing else takes it"))
    return found


def _pour(pour: Mapping[str, Any]) -> EntryPour:
    """Grams to the hundredth, as a card keeps them; a trace stays a trace."""
    return EntryPour(
        shade=pour["shade"].strip(),
        grams=max(round(_decimal(pour["grams"]), 2), CENT),
        planned_g=round(_decimal(pour["planned_g"]), 2) if "planned_g" in pour else None,
        lot=pour.get("lot", ""),
    )


def _result(result: Mapping[str, Any]) -> EntryResult:
    return EntryResult(
        lab=decimals(result["lab"]) or (),
        source=result["source"],
        dry=result.get("dry", False),
        two_lights=result.get("two_lights", False),
        judged_by=result.get("judged_by", "").strip(),
    )


def decimals(lab: list[float] | None) -> tuple[Decimal, ...] | None:
    """L*a*b* in the thousandths that rows have, None for none."""
    return None if lab is None else tuple(round(_decimal(part), 3) for part in lab)


def _decimal(number: float | str) -> Decimal:
    try:
        return Decimal(str(number))
    except InvalidOperation:
        raise ValueError(say("“{number}” is no number", number=str(number)[:20])) from None


def moment_of(text: str, name: str) -> datetime.datetime:
    """A moment by UTC, which is where it names no offset; the database knows no offset from 16 hours on. Raises
    ValueError.
    """
    try:
        moment = datetime.datetime.fromisoformat(text)
    except ValueError:
        raise ValueError(
            say("{name} is “{text_told}”: a date like 2026-11-24 is expected", name=name, text_told=text[:30])
        ) from None
    if moment.year < EARLIEST_YEAR:
        raise ValueError(say("a moment in it is before {earliest_year}", earliest_year=EARLIEST_YEAR))
    if moment.year > LATEST_YEAR:
        raise ValueError(say("saved_at, or another moment, is still to come"))
    return moment.astimezone(datetime.UTC) if moment.tzinfo else moment.replace(tzinfo=datetime.UTC)


def day_of(text: str, name: str) -> datetime.date:
    """A day. Raises ValueError."""
    try:
        return datetime.date.fromisoformat(text)
    except ValueError:
        raise ValueError(
            say("{name} is “{text_told}”: a day like 2026-11-24 is expected", name=name, text_told=text[:30])
        ) from None
