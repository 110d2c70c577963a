"""What a line's tubes still hold, as the engine takes it."""

from engine.bowl.stock import Stock
from studio.shelf.selectors import StockedLine


def stock_of(stocked: StockedLine, *, limited: bool = True) -> Stock:
    """What is left of a line and what it costs a gram."""
    tube_g = float(stocked.line.tube_g)
    return Stock(
        grams={stocked.dyes[shade.pk]: float(shade.stock_g) for shade in stocked.shades} if limited else {},
        prices={stocked.dyes[shade.pk]: float(shade.tube_price) / tube_g for shade in stocked.shades},
    )
