"""A tube, ready to show: its looks, how well it is known, what it mixes to, its versions and its stock."""

import datetime
import math
from copy import copy
from dataclasses import dataclass
from typing import Final

from django.utils import timezone

from engine.arrays import FloatArray
from engine.bowl.mix import Bowl, Process
from engine.bowl.predict import predict
from engine.bowl.sureness import TWO_SIDED_90, curve
from engine.colorimetry.grid import WAVELENGTHS_NM
from engine.colorimetry.words import colour_word
from engine.dye import shade as dye
from engine.hair.canvas import Canvas
from engine.language import kept_by_language, say
from studio.accounts.models import Person
from studio.shelf.engine_adapter import engine_shade
from studio.shelf.ladders import Ladder, ladders_of
from studio.shelf.models import Shade, ShadeLine, ShadeVersion, StockMove
from studio.shelf.page import CANVASES, SHOWN_ON, Known, known_of
from studio.shelf.selectors import StockedLine, stocked_line, usual_process
from studio.shelf.services.versions import KNOWN
from studio.taught.words import is_as_strong, strength_words

FINER: Final = (1.0, 0.5, 0.2, 0.1, 0.04)  # undiluted, 1:1, 1:4, 1:9, 1:24
MOVES_SHOWN: Final = 12
CURVE_WIDTH: Final = 400
CURVE_HEIGHT: Final = 160
MIXED_SHARE: Final = 0.2  # of two shades together in clear, half of each
NEIGHBOURS_MOST: Final = 16


@dataclass(frozen=True, kw_only=True)
class VersionRow:
    """What a tube was taken for before, and how it looked then, 1 to 4 on a clean level 10."""

    version: ShadeVersion
    ladder: Ladder


@dataclass(frozen=True, kw_only=True)
class Neighbour:
    """Another colour of the line, and what half of it and half of the tube give, in clear on a clean level 10."""

    shade: Shade
    hex: str
    words: str


@dataclass(frozen=True, kw_only=True)
class TubePage:
    """A tube as its template takes it. ladders: by level. band, middle: the curve of its absorption as a path.

    works: how strong results say that it works here. versions: what it was taken for before, the newest first.
    """

    shade: Shade
    line: ShadeLine
    known: Known
    ladders: tuple[tuple[int, Ladder], ...]
    band: str
    middle: str
    nanometres: tuple[tuple[int, int], ...]
    moves: tuple[StockMove, ...]
    works: str
    neighbours: tuple[Neighbour, ...]
    versions: tuple[VersionRow, ...]
    today: datetime.date
    width: int = CURVE_WIDTH
    height: int = CURVE_HEIGHT

    @property
    def is_carrier(self) -> bool:
        """Whether it colours nothing."""
        return not self.middle


def tube_page(person: Person, shade_id: int) -> TubePage:
    """One tube on clean hair of four levels. Raises Shade.DoesNotExist."""
    row = Shade.objects.visible_to(person).select_related("line", "listed").get(pk=shade_id)
    stocked = stocked_line(row.line)
    found = stocked.plain[row.pk]
    ladders = tuple((level, ladders_of(Canvas(level=level), (found,), FINER)[0]) for level in CANVASES)
    band, middle = ("", "") if found.is_clear else _paths(found)
    return TubePage(
        shade=row,
        line=row.line,
        known=known_of(row, found),
        ladders=ladders,
        band=band,
        middle=middle,
        nanometres=tuple((nm, round(_x(nm))) for nm in range(400, 781, 100)),
        works=_works_words(stocked, row),
        neighbours=_neighbours(stocked, row),
        versions=_versions(row),
        moves=tuple(row.moves.select_related("made_by")[:MOVES_SHOWN]),
        today=timezone.localdate(),
    )


def _works_words(stocked: StockedLine, row: Shade) -> str:
    """How much stronger or weaker a tube works here than its line says, with what is in doubt of that."""
    taught = stocked.taught
    told = next((each for each in taught.told_of_shades if each.name == str(row.pk)), None) if taught else None
    if told is None or told.name in (taught.forgotten if taught else ()):
        return ""
    most = math.exp(TWO_SIDED_90 * told.doubt)
    low, high = told.factor / most, told.factor * most
    words = strength_words(told.factor)
    than = say("as its line says") if is_as_strong(told.factor) else say("than its line says")
    return say(
        "{words} {than}, {low:.2f} to {high:.2f} times in nine cases of ten", words=words, than=than, low=low, high=high
    )


def _neighbours(stocked: StockedLine, row: Shade) -> tuple[Neighbour, ...]:
    """What the tube mixes to with the other colours of its line, in the order of the shelf."""
    own = stocked.dyes[row.pk]
    others = [each for each in stocked.shades if each.pk != row.pk and not each.off_shelf]
    colours = [each for each in others if not stocked.dyes[each.pk].is_clear][:NEIGHBOURS_MOST]
    if own.is_clear or not colours:
        return ()
    mixes = _mixes(own, tuple(stocked.dyes[each.pk] for each in colours), usual_process(stocked.line))
    return tuple(
        Neighbour(shade=each, hex=hex_code, words=words) for each, (hex_code, words) in zip(colours, mixes, strict=True)
    )


@kept_by_language(maxsize=128)
def _mixes(own: dye.Shade, others: tuple[dye.Shade, ...], process: Process) -> list[tuple[str, str]]:
    clear, found = dye.Shade(name=dye.CLEAR), []
    for other in others:
        bowl = Bowl(grams={own: MIXED_SHARE / 2, other: MIXED_SHARE / 2, clear: 1 - MIXED_SHARE})
        forecast = predict(Canvas(level=SHOWN_ON), bowl, process=process)
        found.append((forecast.hex, colour_word(forecast.lab)))
    return found


def _versions(row: Shade) -> tuple[VersionRow, ...]:
    """Earlier versions of a tube, each as it looked; those that its line describes by bands have them still."""
    shown = []
    for version in row.versions.select_related("changed_by"):
        then = copy(row)
        for name in KNOWN:
            setattr(then, name, getattr(version, name))
        found = engine_shade(then, row.line)
        ladder = () if found.is_clear else ladders_of(Canvas(level=SHOWN_ON), (found,), FINER)[0]
        shown.append(VersionRow(version=version, ladder=ladder))
    return tuple(shown)


def _x(nm: float) -> float:
    first, last = float(WAVELENGTHS_NM[0]), float(WAVELENGTHS_NM[-1])
    return CURVE_WIDTH * (nm - first) / (last - first)


def _paths(found: dye.Shade) -> tuple[str, str]:
    """The band of doubt and the course of an absorption, over the wavelengths; the band's top is as high as fits."""
    low, middle, high = curve(found)
    top = float(min(high.max(), 2.5 * middle.max()))

    def points(absorption: FloatArray, order: int = 1) -> str:
        pairs = list(zip(WAVELENGTHS_NM.tolist(), absorption.tolist(), strict=True))[::order]
        return " ".join(f"{_x(nm):.1f},{CURVE_HEIGHT * (1 - min(k / top, 1)):.1f}" for nm, k in pairs)

    return f"{points(high)} {points(low, -1)}", points(middle)
