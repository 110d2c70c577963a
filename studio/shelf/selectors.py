"""What a studio has on its shelf."""

import datetime
from dataclasses import dataclass, replace
from functools import cached_property, lru_cache
from typing import Final

from django.db.models import Q, QuerySet

from engine.bowl.mix import FULL_TIME_DRY, Process
from engine.dye import shade as dye
from engine.dye.kind import Kind
from engine.knowledge.knowledge import Knowledge
from engine.service.house import DepositOn
from engine.service.stocktaking import deliveries_here
from engine.service.timing import CLOCK_OF_DYE
from studio.accounts.models import Person
from studio.accounts.prepared import Prepared
from studio.shelf.engine_adapter import engine_shade
from studio.shelf.models import LIGHTENER, Shade, ShadeLine, StockMove
from studio.taught.selectors import knowledge_of, version_in_force

_LINES: Final = Prepared(
    lambda studio: ShadeLine.objects.of_studio(studio).order_by("position", "pk"),
    studio=int,
)


@dataclass(frozen=True, kw_only=True)
class StockedLine:
    """A line with its shades in shelf order and the engine's view of each, by row id.

    taught: what the studio's results say, as far as it goes for these tubes; None before anything was learned. version:
    its number. client: whose hair it is, if results told anything of it.
    """

    line: ShadeLine
    shades: tuple[Shade, ...]
    taught: Knowledge | None = None
    version: int | None = None
    client: str = ""

    @cached_property
    def plain(self) -> dict[int, dye.Shade]:
        """The engine's shades as the shelf has them, by row id, in shelf order."""
        return {shade.pk: engine_shade(shade, self.line) for shade in self.shades}

    @cached_property
    def dyes(self) -> dict[int, dye.Shade]:
        """The engine's shades as they work in this studio, on the client's hair, by row id, in shelf order."""
        taught = self.taught
        if taught is None:
            return self.plain
        return {pk: taught.taught(shade, self.client) for pk, shade in self.plain.items()}

    @cached_property
    def _places(self) -> dict[int, int]:
        return {shade.pk: place for place, shade in enumerate(self.shades)}

    def place(self, shade_id: int) -> int:
        """Where a shade stands in shelf order; one that has left the shelf comes last."""
        return self._places.get(shade_id, len(self.shades))

    def shade(self, shade_id: int) -> Shade | None:
        """The line's shade with that row id, if it has one."""
        return next((shade for shade in self.shades if shade.pk == shade_id), None)


def lines_of(person: Person) -> list[ShadeLine]:
    """The studio's lines of colour in shelf order. One query."""
    return [line for line in all_lines(person) if line.kind != LIGHTENER]


def all_lines(person: Person) -> list[ShadeLine]:
    """The studio's lines, lightener among them, in shelf order. One query."""
    return _LINES(studio=person.studio_id)


def colour_lines(person: Person) -> QuerySet[ShadeLine]:
    """The studio's lines of colour: all but lightener."""
    return ShadeLine.objects.visible_to(person).exclude(kind=LIGHTENER)


def coloured_shades(studio_id: int) -> list[tuple[int, str, str]]:
    """Every shade of a studio that colours: its row, its name, and its line's, in shelf order. One query."""
    colours = Q(bands__isnull=False) | Q(samples__isnull=False)
    shades = Shade.objects.filter(colours, line__studio_id=studio_id).exclude(line__kind=LIGHTENER)
    found = shades.order_by("line__position", "line_id", "position", "pk").distinct()
    return list(found.values_list("pk", "name", "line__name"))


def dyes_by_id(ids: set[int]) -> dict[int, dye.Shade]:
    """The engine's shades of rows of the shelf, by their ids; those that are gone are left out. One query."""
    found = Shade.objects.filter(pk__in=ids).select_related("line")
    return {shade.pk: stocked_line(shade.line).dyes[shade.pk] for shade in found}


def stocked_line(line: ShadeLine, client: str = "") -> StockedLine:
    """A line with its shades and their bands, and what results have taught of them, on a client's hair where they did.

    client: by their row. Five queries the first time that this version of the line is seen.
    """
    found = _stocked_line(line.pk, line.version)
    if found.taught is None or client not in found.taught.clients:
        return found
    return _for_client(line.pk, line.version, client)


def usual_process(line: ShadeLine) -> Process:
    """How a line works at full time, on hair as the house has it for its kind, as results have taught."""
    kept = stocked_line(line)
    on = DepositOn(kept.line.studio.deposit_on)
    return _taught_process(kept.taught, on.is_damp(CLOCK_OF_DYE[Kind(line.kind)]) if line.kind != LIGHTENER else False)


@lru_cache(maxsize=64)
def _taught_process(taught: Knowledge | None, damp: bool) -> Process:
    return Process(taught=taught, damp=damp) if taught or damp else FULL_TIME_DRY


def line_at(line_id: int, version: int) -> ShadeLine:
    """The line as it is kept in memory, to be read only: it has a dozen fields, and every look at a bowl wants it."""
    return _stocked_line(line_id, version).line


@lru_cache(maxsize=64)
def _stocked_line(line_id: int, version: int) -> StockedLine:
    """Every change of a line, and of what results teach of it, counts its version up: one kept under a version never
    goes stale. One that was counted up since the page began is taken as it is now.
    """
    line = ShadeLine.objects.select_related("studio").prefetch_related("shades__bands").get(pk=line_id)
    plain = StockedLine(line=line, shades=tuple(line.shades.all()))
    newest = version_in_force(line.studio_id)
    taught = knowledge_of(newest.pk) if newest else None
    if newest is None or taught is None:
        return plain
    return replace(plain, taught=taught.fitting(list(plain.plain.values())), version=newest.number)


@lru_cache(maxsize=64)
def _for_client(line_id: int, version: int, client: str) -> StockedLine:
    return replace(_stocked_line(line_id, version), client=client)


def forget_lines() -> None:
    """Read every line anew: where rows were put back, versions begin again."""
    _stocked_line.cache_clear()
    _for_client.cache_clear()


@dataclass(frozen=True, kw_only=True)
class TubeNumber:
    """A number on tubes that were delivered, and until when they are good, if that was noted."""

    lot: str
    expires_on: datetime.date | None

    def is_past(self, today: datetime.date) -> bool:
        """Whether its date is past."""
        return self.expires_on is not None and self.expires_on < today


def numbers_of(person: Person, shade: Shade) -> list[TubeNumber]:
    """The numbers on the tubes of a shade that may still be there, the newest delivery first. One query.

    One that came twice is good for the later date.
    """
    moves = StockMove.objects.visible_to(person).filter(shade=shade, kind=StockMove.Kind.DELIVERED)
    rows = list(moves.order_by("-made_at", "-pk").values_list("lot", "expires_on", "grams"))
    here = deliveries_here([float(grams) for _, _, grams in rows], float(shade.stock_g))
    found: dict[str, datetime.date | None] = {}
    for lot, expires_on, _ in rows[:here]:
        if lot:
            found[lot] = max([day for day in (found.get(lot), expires_on) if day], default=None)
    return [TubeNumber(lot=lot, expires_on=day) for lot, day in found.items()]
