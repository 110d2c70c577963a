"""What a studio has on its shelf."""

from dataclasses import dataclass
from functools import cached_property

from engine.dye import shade as dye
from studio.accounts.models import Person
from studio.shelf.engine_adapter import engine_shade
from studio.shelf.models import Shade, ShadeLine


@dataclass(frozen=True, kw_only=True)
class StockedLine:
    """A line with its shades in shelf order and the engine's view of each, by row id."""

    line: ShadeLine
    shades: tuple[Shade, ...]

    @cached_property
    def dyes(self) -> dict[int, dye.Shade]:
        """The engine's shades by row id, in shelf order."""
        return {shade.pk: engine_shade(shade, self.line) for shade in self.shades}


def lines_of(person: Person) -> list[ShadeLine]:
    """The studio's lines in shelf order. One query."""
    return list(ShadeLine.objects.visible_to(person))


def stocked_line(person: Person, line_id: int) -> StockedLine:
    """One line with its shades. Three queries. Raises ShadeLine.DoesNotExist for another studio's line."""
    line = ShadeLine.objects.visible_to(person).prefetch_related("shades__bands").get(pk=line_id)
    return StockedLine(line=line, shades=tuple(line.shades.all()))
