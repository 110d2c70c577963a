"""A photo of strands as its page shows it, and locks that a swatch may look like."""

from dataclasses import dataclass
from typing import Final

import numpy as np

from engine.bowl.mix import Bowl
from engine.bowl.predict import predict
from engine.colorimetry.difference import delta_e00
from engine.dye.families import absorption_of, families
from engine.dye.shade import CLEAR, Shade
from engine.hair.canvas import Canvas
from engine.language import decimals, kept_by_language, later, say
from studio.accounts.models import Person
from studio.shelf import models
from studio.shelf.models import StrandSheet
from studio.shelf.selectors import stocked_line
from studio.shelf.strand_page import StrandPlanned, planned_share, strand_page
from studio.ui.locks import Lock, lock_of_colour

ROWS: Final = 6
SHOWN_ON: Final = 10
STRENGTHS: Final = ((0.4, later("weaker")), (1.0, later("usual")), (2.0, later("stronger")))


@dataclass(frozen=True, kw_only=True)
class RowAsked:
    """A strand that lies on the paper, as its form asks for it."""

    number: int
    level: str
    share: str


@dataclass(frozen=True, kw_only=True, eq=False)
class StrandFound:
    """A strand that was found in the photo: its colour, that which the tube is forecast to give, and how far off."""

    number: int
    planned: StrandPlanned
    lock: Lock
    forecast: Lock
    off: float


@dataclass(frozen=True, kw_only=True, eq=False)
class SheetPage:
    """The page as its template takes it. found: of the photo that is looked at, before it is noted."""

    shade: models.Shade
    rows: tuple[RowAsked, ...]
    sheet: StrandSheet | None
    found: tuple[StrandFound, ...]
    noted: tuple[StrandSheet, ...]


def sheet_page(person: Person, shade_id: int, typed: dict[str, str] | None = None) -> SheetPage:
    """Gather it: the strands that are planned, and what was found in the last photo. Raises Shade.DoesNotExist."""
    page = strand_page(person, shade_id)
    sheets = StrandSheet.objects.visible_to(person).filter(shade=shade_id, kind=StrandSheet.Kind.STRANDS).defer("jpeg")
    sheet = sheets.filter(noted=False).first()
    return SheetPage(
        shade=page.shade,
        rows=_rows(page.planned, sheet, typed),
        sheet=sheet,
        found=_found(page.shade, sheet) if sheet else (),
        noted=tuple(sheets.filter(noted=True)),
    )


def _rows(
    planned: tuple[StrandPlanned, ...], sheet: StrandSheet | None, typed: dict[str, str] | None
) -> tuple[RowAsked, ...]:
    """As typed, else as the photo was read, else as planned; the rest empty."""
    if typed is not None:
        told = [(typed.get(f"level_{row}", ""), typed.get(f"share_{row}", "")) for row in range(1, ROWS + 1)]
    elif sheet is not None:
        told = [(decimals(f"{each['level']:g}"), decimals(f"{each['share']:g}")) for each in sheet.strands]
    else:
        told = [(decimals(f"{each.level:g}"), decimals(f"{each.share:g}")) for each in planned]
    told = [*told, *[("", "")] * ROWS][:ROWS]
    return tuple(RowAsked(number=row, level=level, share=share) for row, (level, share) in enumerate(told, start=1))


def _found(shade: models.Shade, sheet: StrandSheet) -> tuple[StrandFound, ...]:
    dye, clear, found = stocked_line(shade.line).plain[shade.pk], Shade(name=CLEAR), []
    for number, each in enumerate(sheet.strands, start=1):
        share = each["share"]
        bowl = Bowl(grams={dye: share, clear: 1 - share} if share < 1 else {dye: 1.0})
        forecast = predict(Canvas(level=each["level"]), bowl).lab
        found.append(
            StrandFound(
                number=number,
                planned=planned_share(share, each["level"]),
                lock=lock_of_colour(tuple(each["lab"])),
                forecast=lock_of_colour(tuple(forecast.tolist())),
                off=float(delta_e00(forecast, np.array(each["lab"]))),
            )
        )
    return tuple(found)


@dataclass(frozen=True, kw_only=True, eq=False)
class LikeLock:
    """A lock that a tube may look like, undiluted on a clean level 10: of a family, weaker or stronger."""

    value: str
    words: str
    lock: Lock


@kept_by_language(maxsize=1)
def like_locks() -> tuple[tuple[str, tuple[LikeLock, ...]], ...]:
    """Families with their locks, from weaker to stronger."""
    return tuple(
        (
            name,
            tuple(
                LikeLock(
                    value=f"{name} {strength:g}",
                    words=f"{say(name)}, {words}",
                    lock=lock_of_colour(look_of(name, strength)),
                )
                for strength, words in STRENGTHS
            ),
        )
        for name in families()
    )


def look_of(family: str, strength: float) -> tuple[float, ...]:
    """L*a*b* of a family's own shade at a strength, undiluted on a clean level 10."""
    samples = tuple((strength * absorption_of(family)).tolist())
    lab = predict(Canvas(level=SHOWN_ON), Bowl(grams={Shade(name=family, samples=samples, strength=1.0): 1.0})).lab
    return tuple(float(part) for part in lab)
