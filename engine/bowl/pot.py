"""What a mixing pot takes, and how much room it has for more. The founders' numbers, no published source."""

from math import ceil
from typing import Final

POT_MOST_G: Final = 1500.0  # what the largest takes
MENDED_MOST: Final = 2.0  # times what is in it or wanted of it: so large may a bowl grow that is mended
CORRECTED_MOST: Final = (1.6, 1.5)  # times what is in it, times what is wanted of it: by small additions


def pots_for(total_g: float) -> int:
    """How many of the largest pots so many grams need, one at the least."""
    return max(ceil(total_g / POT_MOST_G), 1)


def most_mended_g(held_g: float, wanted_g: float) -> float:
    """How much a bowl may hold that is mended: no less than what is in it."""
    return max(min(MENDED_MOST * max(held_g, wanted_g), POT_MOST_G), held_g)


def room_for_more_g(held_g: float, wanted_g: float) -> float:
    """How much may be added to a bowl to bring it nearer; below nothing when it is over-full already."""
    of_held, of_wanted = CORRECTED_MOST
    return min(max(of_wanted * wanted_g, of_held * held_g), POT_MOST_G) - held_g
