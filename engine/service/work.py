"""What is about to be done to hair, described as one coat: what every page tells the gates in the same words."""

from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from engine.arrays import within

SCALP_MOST_VOL: Final = 20.0
ANYWHERE_MOST_VOL: Final = 40.0
LIFT_MOST_LEVELS: Final = 2.0  # a visit, on fragile, curly or already lightened hair
TEST_LASTS_DAYS: Final = 183  # how long a sensitivity test counts unless the pack says otherwise; the founders'
VOL_MOST: Final = 100.0  # no bottle holds more; beyond it a number is a slip
# Parts of a head that begin away from the scalp; every other begins at 0 cm. A stretch in cm comes with the coats.
OFF_THE_SCALP: Final = frozenset({"mids", "ends"})
NEAR_EYES: Final = ("brow", "lash", "eyelid")


class WorkKind(StrEnum):
    """What a coat does, as far as its risks differ."""

    LIGHTENER = "lightener"
    TONER = "toner"
    DEMI = "demi"
    PERMANENT = "permanent"
    DIRECT = "direct"
    FILL = "fill"
    MASK = "mask"
    SEAL = "seal"
    REMOVER = "remover"
    EQUALISER = "equaliser"
    BATH = "bath"
    HOME = "home"

    @property
    def colours(self) -> bool:
        """Whether dye is left on the hair."""
        return self not in UNCOLOURED


UNCOLOURED: Final = frozenset({WorkKind.LIGHTENER, WorkKind.SEAL, WorkKind.HOME, WorkKind.REMOVER, WorkKind.EQUALISER})


@dataclass(frozen=True, kw_only=True)
class Place:
    """The hair that a coat goes on: the part of the head, the name that the colourist gave it, and how it was read.

    beneath: what is on it at the moment of application. overlaps_light: lightener would run onto hair that is as light
    already. Raises OutOfRange.
    """

    part: str
    name: str = ""
    porosity: float = 1.0
    is_natural: bool = False
    overlaps_light: bool = False
    beneath: frozenset[WorkKind] = frozenset()

    def __post_init__(self) -> None:
        within("place.porosity", self.porosity, 0.1, 5.0)

    @property
    def touches_scalp(self) -> bool:
        """Whether its stretch begins at 0 cm."""
        return self.part not in OFF_THE_SCALP

    @property
    def is_near_eyes(self) -> bool:
        """Whether it is named for brows, lashes or lids."""
        return any(word in self.name.lower() for word in NEAR_EYES)


@dataclass(frozen=True, kw_only=True)
class Work:
    """One coat.

    line: whose shades are in it; asks_test, test_lasts_days, declares: what that line's pack asks for and holds.
    products: what is in the bowl, by name. vol: the strength of its peroxide, 0 for none. lift_levels: how far it is to
    lift. minutes, pack_most_min: how long it is on or is to be, and the most that the pack allows.
    has_metal_bowl, other_developer, unguarded: how it is mixed: in metal, with another line's developer, powder without
    mask and fresh air. lines_beside: lines of other bowls on this head. Raises OutOfRange.
    """

    kind: WorkKind
    place: Place
    line: str = ""
    asks_test: bool = False
    test_lasts_days: int = TEST_LASTS_DAYS
    declares: frozenset[str] = frozenset()
    products: frozenset[str] = frozenset()
    vol: float = 0.0
    lift_levels: float = 0.0
    heat: bool = False
    covered: bool = False
    minutes: float | None = None
    pack_most_min: float | None = None
    has_metal_bowl: bool = False
    other_developer: bool = False
    unguarded: bool = False
    lines_beside: frozenset[str] = frozenset()

    def __post_init__(self) -> None:
        within("work.vol", self.vol, 0.0, VOL_MOST, "vol")
        within("work.lift_levels", self.lift_levels, 0.0, 10.0, "levels")

    @property
    def has_peroxide(self) -> bool:
        """Whether peroxide is in it; lightener is nothing without."""
        return self.vol > 0 or self.kind is WorkKind.LIGHTENER

    @property
    def lifts(self) -> bool:
        """Whether it lightens."""
        return self.kind is WorkKind.LIGHTENER or self.lift_levels > 0

    @property
    def mix(self) -> "Mix":
        """What a strand test would have to test."""
        return Mix(kind=self.kind, line=self.line, products=self.products, vol=self.vol)


@dataclass(frozen=True, kw_only=True)
class Mix:
    """What is on a strand: kind, line, products, and the strength of the peroxide."""

    kind: WorkKind
    line: str = ""
    products: frozenset[str] = frozenset()
    vol: float = 0.0

    def covers(self, other: "Mix") -> bool:
        """Whether it holds all that another holds, at a strength no weaker."""
        return self.products >= other.products and self.vol >= other.vol
