"""What runs out, and how much of it to order."""

from dataclasses import dataclass
from decimal import ROUND_CEILING, Decimal
from typing import Final

from studio.accounts.models import Person
from studio.shelf.models import Shade, ShadeLine
from studio.shelf.selectors import lines_of, stocked_line

TIMES: Final = 4  # what is ordered brings a tube's stock to so many times the point at which it is ordered


@dataclass(frozen=True, kw_only=True)
class OrderRow:
    """A tube that runs out, how many to order, and what they cost."""

    shade: Shade
    tubes: int
    cost: Decimal


@dataclass(frozen=True, kw_only=True)
class OrderOfLine:
    """What is to be ordered of a line."""

    line: ShadeLine
    rows: tuple[OrderRow, ...]

    @property
    def cost(self) -> Decimal:
        """What all of it costs."""
        return sum((row.cost for row in self.rows), Decimal(0))


def order_list(person: Person) -> list[OrderOfLine]:
    """The tubes that hold no more than the point at which they are ordered; lines without one are left out."""
    found = [OrderOfLine(line=line, rows=tuple(_rows(line))) for line in lines_of(person)]
    return [each for each in found if each.rows]


def runs_out(shade: Shade) -> bool:
    """Whether more of a tube is to be ordered."""
    return not shade.off_shelf and shade.stock_g <= shade.reorder_g


def _rows(line: ShadeLine) -> list[OrderRow]:
    rows = []
    for shade in filter(runs_out, stocked_line(line).shades):
        wanted = max(TIMES * shade.reorder_g - shade.stock_g, Decimal(1))
        tubes = int((wanted / line.tube_g).to_integral_value(ROUND_CEILING))
        rows.append(OrderRow(shade=shade, tubes=tubes, cost=tubes * shade.tube_price))
    return rows
