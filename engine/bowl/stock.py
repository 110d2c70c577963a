"""What there is of each shade, and what it costs."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Final

import numpy as np

from engine.arrays import within
from engine.bowl.weigh import Scale
from engine.dye.shade import Shade

STOCK_MOST_G: Final = 1e6
PRICE_MOST: Final = 1e6


@dataclass(frozen=True, kw_only=True)
class Stock:
    """What there is and what it costs. grams: what is left of a shade, without limit where not named.

    prices: what a gram costs, in whatever money; shades not named cost nothing.
    """

    grams: Mapping[Shade, float] = field(default_factory=dict)
    prices: Mapping[Shade, float] = field(default_factory=dict)

    def __post_init__(self) -> None:
        for name, amounts, most in (("stock", self.grams, STOCK_MOST_G), ("prices", self.prices, PRICE_MOST)):
            for shade, amount in amounts.items():
                within(f"{name}.{shade.name}", amount, 0.0, most)

    def units(self, shade: Shade, scale: Scale) -> int:
        """Steps of the scale that there are of a shade, no more than the whole bowl."""
        if shade not in self.grams:
            return scale.units
        return min(scale.units, int(np.floor(self.grams[shade] / scale.step_g + 1e-9)))

    def cost(self, grams: Mapping[Shade, float]) -> float:
        """What so many grams of each shade cost."""
        return sum(self.prices.get(shade, 0.0) * weight for shade, weight in grams.items())


PLENTY: Final = Stock()
