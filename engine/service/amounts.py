"""How much colour a head, or a part of it, takes. Common practice, no published source; shares are the founders'."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from math import ceil
from typing import Final

from engine.arrays import within
from engine.errors import Unknown

FOILS_HEAD: Final = 60  # of a whole short head
LONG_HAIR_FOILS: Final = 1.2
DOUBT: Final = 0.25  # share by which heads of one description differ
DOUBT_OF_ONE: Final = 0.15  # share by which one head differs from what it took last time; the founders'
HABIT_LIMITS: Final = (0.5, 2.0)  # times what is reckoned; what lies beyond is more likely a slip of the scale


class Length(StrEnum):
    """How long the hair is."""

    SHORT = "short"
    MEDIUM = "medium"
    LONG = "long"
    VERY_LONG = "very_long"


class Density(StrEnum):
    """How much hair there is."""

    THIN = "thin"
    MEDIUM = "medium"
    THICK = "thick"


HEAD_G: Final[Mapping[Length, float]] = {
    Length.SHORT: 30.0,
    Length.MEDIUM: 60.0,
    Length.LONG: 120.0,
    Length.VERY_LONG: 150.0,
}
DENSITY: Final[Mapping[Density, float]] = {Density.THIN: 0.8, Density.MEDIUM: 1.0, Density.THICK: 1.2}
SHARES: Final[Mapping[str, float]] = {
    "whole": 1.0,
    "roots": 0.3,
    "mids": 0.4,
    "ends": 0.3,
    "frame": 0.1,
    "crown": 0.2,
    "nape": 0.15,
    "panel": 0.1,
}


@dataclass(frozen=True, kw_only=True)
class Needed:
    """Grams of colour and clear, without developer, that are needed; and the least and most that it may be."""

    grams: float
    least_g: float
    most_g: float


def needed(length: Length, density: Density, part: str = "whole") -> Needed:
    """What a part of a head takes. Raises Unknown for a part that is on no list."""
    if part not in SHARES:
        raise Unknown("part", part, SHARES)
    grams = HEAD_G[length] * DENSITY[density] * SHARES[part]
    return Needed(grams=grams, least_g=grams * (1 - DOUBT), most_g=grams * (1 + DOUBT))


def foils_for(length: Length, density: Density, *, area_share: float = 1.0, strand_share: float = 1.0) -> int:
    """Foils that strands of a part of the scalp take in fine slices: a longer stretch takes longer ones, not more.

    The number is the founders' estimate. Raises OutOfRange.
    """
    share = within("area_share", area_share, 0.0, 1.0) * within("strand_share", strand_share, 0.0, 1.0)
    longer = 1.0 if length is Length.SHORT else LONG_HAIR_FOILS
    return ceil(FOILS_HEAD * DENSITY[density] * share * longer - 1e-9)


@dataclass(frozen=True, kw_only=True)
class Used:
    """What a bowl took, in grams: as it was reckoned for its hair, as it was poured, and what was weighed back.

    Raises OutOfRange.
    """

    needed_g: float
    poured_g: float
    left_g: float

    def __post_init__(self) -> None:
        within("left_g", self.left_g, 0.0, self.poured_g, "g")


def habit(used: Sequence[Used]) -> float | None:
    """How many times what is reckoned a head takes, by what its bowls took; None where nothing tells."""
    needed_g = sum(each.needed_g for each in used)
    if needed_g <= 0:
        return None
    least, most = HABIT_LIMITS
    return min(max(sum(each.poured_g - each.left_g for each in used) / needed_g, least), most)


def as_used(need: Needed, times: float) -> Needed:
    """What hair takes whose head took so many times what was reckoned the last time."""
    grams = need.grams * times
    return Needed(grams=grams, least_g=grams * (1 - DOUBT_OF_ONE), most_g=grams * (1 + DOUBT_OF_ONE))


def litres_for(need: Needed) -> float:
    """Water for a dye bath of what takes so many grams, in quarter litres: the founders' estimate, 20 ml to a gram."""
    return max(0.25, ceil(need.grams * 0.02 / 0.25) * 0.25)


def tubes_for(grams: float, tube_g: float, open_g: float = 0.0) -> int:
    """Tubes to open for grams when open_g is left of an opened one."""
    return max(0, ceil((grams - open_g) / tube_g - 1e-9))
