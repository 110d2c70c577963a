"""How much colour zones take that are known by area, stretch and strands.

What a zone takes follows the hair that is there: of the head's grams as much as it has of the scalp, of the length, and
of the strands. Shares and grams are common practice, no published source; how they are put together is the founders'.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np

from engine.arrays import within
from engine.errors import BadInput
from engine.service.amounts import DENSITY, DOUBT, HEAD_G, Density, Length, Needed

LENGTH_LIMITS_CM: Final = (1.0, 150.0)
SATURATION_LIMITS: Final = (0.5, 2.0)
SCALP_CM: Final = 10.0  # s: what sectioning and the scalp load on, as if the hair were so much longer there
LENGTH_CM: Final = {Length.SHORT: 10.0, Length.MEDIUM: 25.0, Length.LONG: 45.0, Length.VERY_LONG: 65.0}
WHOLE: Final = 1.0 + 1e-9


@dataclass(frozen=True, kw_only=True)
class Head:
    """A head of hair: its length in cm and how much there is of it. Raises OutOfRange."""

    length_cm: float
    density: Density

    def __post_init__(self) -> None:
        within("length_cm", self.length_cm, *LENGTH_LIMITS_CM, "cm")

    @property
    def grams(self) -> float:
        """What the whole of it takes, in grams of colour and clear without developer."""
        known_cm, known_g = list(LENGTH_CM.values()), [HEAD_G[word] for word in LENGTH_CM]
        if self.length_cm < known_cm[0]:
            grams = known_g[0] * (self.length_cm + SCALP_CM) / (known_cm[0] + SCALP_CM)
        else:
            beyond_cm = max(0.0, self.length_cm - known_cm[-1])
            a_cm_more = (known_g[-1] - known_g[-2]) / (known_cm[-1] - known_cm[-2])
            grams = float(np.interp(self.length_cm, known_cm, known_g)) + beyond_cm * a_cm_more
        return DENSITY[self.density] * grams


@dataclass(frozen=True, kw_only=True)
class Stretch:
    """Hair of a zone that is treated alike.

    from_cm, to_cm: along the hair from the scalp. area_share: of the scalp it grows on. strand_share: of the strands
    there. saturation: how full a coat is worked in, 1 as usual. Raises OutOfRange, BadInput.
    """

    name: str
    from_cm: float
    to_cm: float
    area_share: float = 1.0
    strand_share: float = 1.0
    saturation: float = 1.0

    def __post_init__(self) -> None:
        within("from_cm", self.from_cm, 0.0, LENGTH_LIMITS_CM[1], "cm")
        within("to_cm", self.to_cm, 0.0, LENGTH_LIMITS_CM[1], "cm")
        within("area_share", self.area_share, 0.0, 1.0)
        within("strand_share", self.strand_share, 0.0, 1.0)
        within("saturation", self.saturation, *SATURATION_LIMITS)
        if self.to_cm <= self.from_cm:
            raise BadInput("to_cm", f"to_cm is {self.to_cm:g} cm: it must lie beyond from_cm, {self.from_cm:g} cm")

    def of_length(self, length_cm: float) -> float:
        """Its share of what hair of a length takes; what starts at the scalp takes more of it."""
        loaded_cm = self.to_cm - self.from_cm + (SCALP_CM if self.from_cm == 0 else 0.0)
        return loaded_cm / (length_cm + SCALP_CM)


def amounts(head: Head, zones: Sequence[Stretch]) -> tuple[Needed, ...]:
    """What each zone takes, in their order: together as much as the head when they are all of it.

    Raises BadInput when a zone is longer than the hair, or when hair is in two zones at once.
    """
    for index, zone in enumerate(zones):
        if zone.to_cm > head.length_cm + 1e-9:
            raise BadInput(
                f"zones.{index}.to_cm",
                f"zones.{index}.to_cm is {zone.to_cm:g} cm: the hair is {head.length_cm:g} cm long",
            )
    _check_parted(zones)
    shares = [zone.area_share * zone.strand_share * zone.of_length(head.length_cm) * zone.saturation for zone in zones]
    return tuple(
        Needed(grams=grams, least_g=grams * (1 - DOUBT), most_g=grams * (1 + DOUBT))
        for grams in (head.grams * share for share in shares)
    )


def _check_parted(zones: Sequence[Stretch]) -> None:
    """No centimetre along the hair is more than once in what the zones have of scalp and strands."""
    for at_cm in sorted({zone.from_cm for zone in zones}):
        there = [zone for zone in zones if zone.from_cm <= at_cm < zone.to_cm]
        share = sum(zone.area_share * zone.strand_share for zone in there)
        if share > WHOLE:
            names = ", ".join(zone.name for zone in there)
            raise BadInput(
                "zones",
                f"zones hold {100 * share:.0f} % of the hair at {at_cm:g} cm: {names} must leave room for one another",
            )
