"""The shelf, ready to show."""

from dataclasses import dataclass
from decimal import Decimal
from functools import cached_property
from typing import Final, NamedTuple

from engine.bowl.sureness import within_of
from engine.dye import shade as dye
from engine.hair.canvas import Canvas
from engine.language import later, say
from studio.accounts.models import Person
from studio.shelf.ladders import Ladder, ladders_of
from studio.shelf.models import Shade, ShadeLine, TubeList
from studio.shelf.order import is_short
from studio.shelf.selectors import StockedLine, lines_of, stocked_line

CANVASES: Final = (8, 9, 10, 11)
SHOWN_ON: Final = 10
LEAST_SURE: Final = 20.0  # delta E00 at which the bar of what is known is empty
SHOWING: Final = (
    ("", later("all")),
    ("guessed", later("guessed")),
    ("short", later("running out")),
    ("favourites", later("favourites")),
    ("off", later("taken off")),
)


@dataclass(frozen=True, kw_only=True)
class Known:
    """How surely a shade is known: words for where it comes from, how near a forecast comes, and a bar, 0 to 100."""

    words: str
    within: float
    percent: int

    @property
    def told(self) -> str:
        """How near a forecast of the shade alone comes, in words; nothing of a carrier."""
        return say("9 in 10 within {within:.1f}", within=self.within) if self.within else ""


class TubeRow(NamedTuple):
    """One tube on the shelf: all that is drawn of it."""

    pk: int
    name: str
    code: str
    price: Decimal
    left_g: Decimal
    is_powder: bool
    ladder: Ladder
    known: Known
    is_short: bool


@dataclass(frozen=True, kw_only=True)
class LineRows:
    """One line with the tubes that are shown, how many it has, the first of them, and what they are worth."""

    line: ShadeLine
    first: Shade | None
    rows: tuple[TubeRow, ...]
    count: int
    value: Decimal


@dataclass(frozen=True, kw_only=True)
class ShelfPage:
    """The Shelf as its template takes it. taken: the list that was put on it just now and can be taken back."""

    lines: tuple[LineRows, ...]
    level: int
    words: str
    showing: str
    taken: TubeList | None = None
    error_words: str = ""
    canvases: tuple[int, ...] = CANVASES
    ways: tuple[tuple[str, str], ...] = SHOWING

    @cached_property
    def count(self) -> int:
        """How many tubes the studio has."""
        return sum(each.count for each in self.lines)

    @cached_property
    def taken_guessed(self) -> bool:
        """Whether any tube of the list that was just put on is guessed by its name."""
        named = Shade.objects.filter(listed=self.taken, known=Shade.KnownChoice.NAMED)
        return self.taken is not None and named.exists()

    @cached_property
    def shown(self) -> int:
        """How many of them are shown."""
        return sum(len(each.rows) for each in self.lines)


def shelf_page(
    person: Person,
    *,
    level: int = SHOWN_ON,
    words: str = "",
    showing: str = "",
    taken: TubeList | None = None,
    error_words: str = "",
) -> ShelfPage:
    """All lines of colour with their tubes as ladders on clean hair of a level. words: that name, code or tone hold."""
    lines = []
    for line in lines_of(person):
        stocked = stocked_line(line)
        here = [shade for shade in stocked.shades if _is_shown(shade, line, words.lower().split(), showing)]
        kept = [shade for shade in stocked.shades if not shade.off_shelf]
        lines.append(
            LineRows(
                line=line,
                first=next(iter(kept), None),
                rows=_rows(stocked, here, level),
                count=len(kept),
                value=_value(stocked.line, kept),
            )
        )
    return ShelfPage(
        lines=tuple(lines), level=level, words=words, showing=showing, taken=taken, error_words=error_words
    )


def _is_shown(shade: Shade, line: ShadeLine, words: list[str], showing: str) -> bool:
    if shade.off_shelf != (showing == "off"):
        return False
    if showing == "favourites" and not shade.favourite:
        return False
    if (showing == "guessed" and not shade.is_guessed) or (showing == "short" and not is_short(shade)):
        return False
    said = f"{shade.name} {shade.code} {shade.tones} {shade.said_tones} {line.name}".lower()
    return all(word in said for word in words)


def _rows(stocked: StockedLine, shades: list[Shade], level: int) -> tuple[TubeRow, ...]:
    dyes = tuple(stocked.plain[shade.pk] for shade in shades)
    ladders = ladders_of(Canvas(level=level), dyes)
    return tuple(
        TubeRow(
            pk=shade.pk,
            name=shade.name,
            code=shade.code,
            price=shade.tube_price,
            left_g=shade.stock_g,
            is_powder=stocked.line.is_powder,
            ladder=ladder,
            known=known_of(shade, each),
            is_short=is_short(shade),
        )
        for shade, each, ladder in zip(shades, dyes, ladders, strict=True)
    )


def _value(line: ShadeLine, shades: list[Shade]) -> Decimal:
    """What is left of some tubes, at what they cost."""
    worth = sum((shade.tube_price * shade.stock_g / line.tube_g for shade in shades), Decimal(0))
    return round(worth, 2)


def known_of(shade: Shade, found: dye.Shade) -> Known:
    """How surely a shade is known."""
    if found.is_clear:
        return Known(words=say("a carrier"), within=0.0, percent=100)
    within = within_of(found)
    percent = round(100 * max(0.0, 1 - within / LEAST_SURE))
    return Known(words=shade.get_known_display(), within=within, percent=percent)
