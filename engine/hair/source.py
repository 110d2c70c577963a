"""By what hair and colours are told, and how surely."""

from enum import StrEnum
from typing import Final


class Source(StrEnum):
    """An eye, a photo under a known light, or an instrument, called the reader."""

    EYE = "eye"
    PHOTO = "photo"
    READER = "reader"

    @property
    def level_sd(self) -> float:
        """Standard deviation of a level that it reads."""
        return LEVEL_SD[self]

    @property
    def colour_doubt(self) -> float:
        """delta E00 by which a colour that it tells usually lies off, the root of the mean square."""
        return COLOUR_DOUBT[self]

    @property
    def colour_sd(self) -> float:
        """The same for each of three coordinates."""
        return per_axis(COLOUR_DOUBT[self])


def per_axis(doubt: float) -> float:
    """Standard deviation of each of three coordinates that together lie off by a doubt, delta E00."""
    return float(doubt / 3**0.5)


POROSITY_SD: Final = 0.1  # of porosity as hands tell it, relative
LEVEL_SD: Final = {Source.EYE: 0.35, Source.PHOTO: 0.25, Source.READER: 0.12}
COLOUR_DOUBT: Final = {Source.EYE: 4.0, Source.PHOTO: 3.0, Source.READER: 1.0}
