"""A list of tubes as it was read, ready to show before it is taken."""

from collections.abc import Mapping
from dataclasses import dataclass
from decimal import Decimal
from typing import Any

from engine.dye import shade as dye
from engine.dye.guess import guessed
from engine.dye.kind import Kind
from engine.hair.canvas import Canvas
from studio.shelf.engine_adapter import kind_of
from studio.shelf.ladders import Ladder, ladders_of
from studio.shelf.list_in import ReadList, Tube, WrongRow, read_letters, read_list
from studio.shelf.models import ShadeLine
from studio.shelf.services.own_tubes import NewLine

SEEN_ON = Canvas(level=10)


@dataclass(frozen=True, kw_only=True)
class ListPage:
    """What a list says: each tube with the look that it is guessed to have, and the rows that can't be taken."""

    read: ReadList
    rows: tuple[tuple[Tube, Ladder], ...]

    @property
    def wrong(self) -> tuple[WrongRow, ...]:
        """The rows that can't be taken."""
        return self.read.wrong


def list_page(given: Mapping[str, Any], lines: Mapping[str, ShadeLine]) -> ListPage:
    """Read a list for the line that its form names. given: the form's fields, checked."""
    line = lines.get(given["line"])
    kind = kind_of(line) if line else Kind(given["kind"] or Kind.DIRECT)
    here = list(line.shades.values_list("name", "code")) if line else []
    read = read_list(
        given["tubes"],
        letters=read_letters(given["tone_letters"] or (line.tone_letters if line else "")),
        is_oxidative=kind.is_oxidative,
        names=[name for name, _ in here],
        codes=[code for _, code in here if code],
    )
    ladders = ladders_of(SEEN_ON, tuple(guess_of(tube, kind) for tube in read.tubes))
    return ListPage(read=read, rows=tuple(zip(read.tubes, ladders, strict=True)))


def guess_of(tube: Tube, kind: Kind) -> dye.Shade:
    """The engine's guess at a tube; for a carrier what only thins."""
    if tube.thins is not None:
        return dye.Shade(name=tube.name, thins=float(tube.thins))
    return guessed(tube.name, kind=kind, tones=tube.tones, level=None if tube.level is None else float(tube.level))


def line_of(given: Mapping[str, Any], lines: Mapping[str, ShadeLine]) -> NewLine | int:
    """The line that a form names: one of the studio's, by its row, or a new one."""
    if given["line"]:
        return lines[given["line"]].pk
    return NewLine(
        name=given["line_name"].strip(),
        kind=given["kind"] or Kind.DIRECT,
        developer_parts=given["developer_parts"] or Decimal(0),
        developer_vol=given["developer_vol"] or Decimal(0),
        tube_g=given["tube_g"],
        tone_letters=given["tone_letters"],
    )
