"""One formula as it comes in from a file, checked as far as a file alone can be."""

import datetime
from collections.abc import Mapping
from dataclasses import dataclass
from decimal import Decimal


@dataclass(frozen=True, kw_only=True)
class Fault:
    """What is wrong with a line of a file, or with a formula of a document, counted from 1; 0 for all of it."""

    line: int
    words: str


@dataclass(frozen=True, kw_only=True)
class EntryPour:
    """Grams of a shade by its name."""

    shade: str
    grams: Decimal
    planned_g: Decimal | None = None
    lot: str = ""


@dataclass(frozen=True, kw_only=True)
class Entry:
    """A formula to take in. moments: mixed_at, applied_at and rinsed_at where they are known. forecast_lab: empty to
    have it forecast. result: how it turned out, if it was judged.
    """

    line_number: int
    client: str
    about: str
    saved_at: datetime.datetime
    zone: str
    part: str
    position: int
    bowl: int
    line: str
    wanted_g: Decimal
    hair: Mapping[str, Decimal]
    family: str
    old_shade: str
    pours: tuple[EntryPour, ...]
    developer_g: Decimal
    batches: int
    damp: bool
    heat: bool
    moments: Mapping[str, datetime.datetime]
    forecast_lab: tuple[Decimal, ...]
    target_lab: tuple[Decimal, ...] | None
    note: str
    result: "EntryResult | None" = None


@dataclass(frozen=True, kw_only=True)
class EntryResult:
    """A judged result: L*a*b*, and how it was judged."""

    lab: tuple[Decimal, ...]
    source: str
    dry: bool
    two_lights: bool


@dataclass(frozen=True, kw_only=True)
class EntryTweak:
    """What to change next time."""

    zone: str
    words: str
    aim_lab: tuple[Decimal, ...] | None


@dataclass(frozen=True, kw_only=True)
class EntryCard:
    """What a card holds beside its formulas. care: fields of the home care, empty where there is none."""

    client: str
    about: str
    notes: str
    tweaks: tuple[EntryTweak, ...]
    care: Mapping[str, object]
