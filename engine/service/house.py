"""What the trade leaves to each house: its schools, with what each means for the work.

All are common practice, no published source; none is the right one. Those of undertones, checks, filling and how
lightener lies are where they are asked: `engine.hair.ladder`, `timing`, `engine.bowl.fill`, `lift`.
"""

from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from engine.arrays import FloatArray
from engine.language import later
from engine.service.timing import ClockKind
from engine.service.work import WorkKind

SECOND_WASH_MIN: Final = 5.0  # chosen by the founders
DYES: Final = frozenset({ClockKind.DIRECT, ClockKind.TONER, ClockKind.DEMI, ClockKind.PERMANENT, ClockKind.FILL})
ON_DAMP: Final = frozenset({ClockKind.TONER, ClockKind.DEMI})
OXIDATIVE: Final = frozenset({WorkKind.TONER, WorkKind.DEMI, WorkKind.PERMANENT})


class DepositOn(StrEnum):
    """On what hair colour is put."""

    BY_KIND = "by_kind"
    DRY = "dry"
    DAMP = "damp"

    def is_damp(self, kind: ClockKind) -> bool:
        """Whether hair is damp for a kind of work: by kind, for toner and demi."""
        return kind in {DepositOn.BY_KIND: ON_DAMP, DepositOn.DRY: frozenset(), DepositOn.DAMP: DYES}[self]


class HowLight(StrEnum):
    """How far hair is lifted for a colour."""

    NEEDED = "needed"
    LIGHTEST = "lightest"


class TonerLevel(StrEnum):
    """Which toners are offered: of the hair's own level, or up to two deeper, too."""

    TWO_DARKER = "two_darker"
    OWN = "own"

    @property
    def steps(self) -> tuple[float, ...]:
        """Levels from the hair's own that are looked at; one lighter, which shows least, in any case."""
        return (1.0, 0.0) if self is TonerLevel.OWN else (1.0, 0.0, -1.0, -2.0)


class Carrier(StrEnum):
    """What a bowl is thinned with, where the line has both."""

    CLEAR = "clear"
    CONDITIONER = "conditioner"


class Heat(StrEnum):
    """Where heat is used. The pack decides."""

    NONE = "none"
    OXIDATIVE = "oxidative"
    LIGHTENER = "lightener"

    def is_on(self, kind: WorkKind) -> bool:
        """Whether a kind of work gets heat unless somebody says otherwise."""
        if self is Heat.LIGHTENER:
            return kind is WorkKind.LIGHTENER
        return self is Heat.OXIDATIVE and kind in OXIDATIVE


class CleanUp(StrEnum):
    """How hair is washed after a lift."""

    ONCE = "once"
    TWICE = "twice"

    @property
    def more_min(self) -> float:
        """By which it takes longer than one wash."""
        return 0.0 if self is CleanUp.ONCE else SECOND_WASH_MIN

    @property
    def minutes(self) -> tuple[float, float]:
        """From the first water to dry hair, from and to."""
        return 10.0 + self.more_min, 15.0 + self.more_min

    @property
    def steps(self) -> tuple[str, ...]:
        """What is done, in its order."""
        once = later("Wash once, gently; no lightener may stay behind.")
        twice = later("Wash the root twice, clarifying; no lightener may stay behind.")
        return (
            later("Stop at the level, or at the first sign of stress: rinse cool and long."),
            once if self is CleanUp.ONCE else twice,
            later("Seal with something acidic for 0.5 to 3 minutes, and rinse."),
            later("Dry fully and look in two lights: this reading replaces the forecast."),
        )


class Condition(StrEnum):
    """What is done to porous hair before its colour."""

    CLEAN = "clean"
    EQUALISE = "equalise"


class BeginAt(StrEnum):
    """Where the application begins."""

    NAPE = "nape"
    HAIRLINE = "hairline"
    SIDE = "side"


class Water(StrEnum):
    """With what water a client is told to wash at home."""

    COOL = "cool"
    AS_LIKED = "as_liked"


@dataclass(frozen=True, kw_only=True, eq=False)
class Effect:
    """What one choice does: in words, and as a colour L*a*b* (3,) where one can be seen."""

    choice: str
    words: str
    lab: FloatArray | None = None
