"""What is there of a tube by count and weight, and how much of it to order."""

import math
from collections.abc import Sequence
from typing import Final

from engine.arrays import within
from engine.errors import BadInput

ORDERED_TO: Final = 4  # times the point at which a tube is ordered, which an order fills its stock up to; the founders'
TUBE_LIMITS_G: Final = (1.0, 2000.0)
STOCK_MOST_G: Final = 1e6


def counted_g(*, full_tubes: float, tube_g: float, open_g: float = 0.0, empty_g: float = 0.0) -> float:
    """Grams of full tubes, and of what is in an open one that weighs open_g with its tube; 0 for no open one.

    empty_g: what an empty tube weighs, 0 if the open one was weighed without. Raises OutOfRange; BadInput for an open
    tube that is lighter than an empty one.
    """
    within("full_tubes", full_tubes, 0, 1e4)
    within("tube_g", tube_g, *TUBE_LIMITS_G, "g")
    within("open_g", open_g, 0, STOCK_MOST_G, "g")
    if open_g and open_g < empty_g:
        raise BadInput("open_g", f"open_g is {open_g:g} g, and an empty tube weighs {empty_g:g} g")
    return full_tubes * tube_g + (open_g - empty_g if open_g else 0.0)


def runs_out(*, left_g: float, ordered_at_g: float) -> bool:
    """Whether more of a tube is to be ordered."""
    return left_g <= ordered_at_g


def tubes_to_order(*, left_g: float, ordered_at_g: float, tube_g: float) -> int:
    """How many tubes to order of one that holds so much: none while that is more than the point at which it is ordered.

    Raises OutOfRange.
    """
    within("left_g", left_g, 0, STOCK_MOST_G, "g")
    within("ordered_at_g", ordered_at_g, 0, STOCK_MOST_G, "g")
    within("tube_g", tube_g, *TUBE_LIMITS_G, "g")
    if not runs_out(left_g=left_g, ordered_at_g=ordered_at_g):
        return 0
    return max(1, math.ceil((ORDERED_TO * ordered_at_g - left_g) / tube_g - 1e-9))


def deliveries_here(delivered_g: Sequence[float], left_g: float) -> int:
    """Of how many deliveries, the newest first, something may still be there, if what came first is used first.

    delivered_g: what each brought. None where nothing is left.
    """
    held = 0.0
    for count, grams in enumerate(delivered_g):
        if held >= left_g - 1e-9:
            return count
        held += grams
    return len(delivered_g) if left_g > 0 else 0
