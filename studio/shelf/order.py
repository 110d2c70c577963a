"""What runs out, and how much of it to order."""

from dataclasses import dataclass
from decimal import Decimal

from engine.service.stocktaking import runs_out, tubes_to_order
from studio.accounts.models import Person
from studio.shelf.models import Shade, ShadeLine
from studio.shelf.selectors import lines_of, stocked_line


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


def is_short(shade: Shade) -> bool:
    """Whether more of a tube that is on the shelf is to be ordered."""
    return not shade.off_shelf and runs_out(left_g=float(shade.stock_g), ordered_at_g=float(shade.reorder_g))


def _rows(line: ShadeLine) -> list[OrderRow]:
    rows = []
    for shade in filter(is_short, stocked_line(line).shades):
        tubes = tubes_to_order(
            left_g=float(shade.stock_g), ordered_at_g=float(shade.reorder_g), tube_g=float(line.tube_g)
        )
        rows.append(OrderRow(shade=shade, tubes=tubes, cost=tubes * shade.tube_price))
    return rows
