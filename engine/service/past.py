"""What has been done to a head before, as far as it bears on what may be done now."""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from engine.arrays import within
from engine.service.parting import touches

DAYS_MOST: Final = 36_500
WHOLE: Final = "whole"


class Earlier(StrEnum):
    """Kinds of earlier work."""

    LIFT = "lift"
    DIRECT = "direct"
    OXIDATIVE = "oxidative"
    BOX_DYE = "box_dye"
    HENNA = "henna"
    METALLIC = "metallic"
    RELAXER = "relaxer"
    PERM = "perm"


UNKNOWN_CHEMISTRY: Final = frozenset({Earlier.BOX_DYE, Earlier.HENNA, Earlier.METALLIC})


@dataclass(frozen=True, kw_only=True)
class Past:
    """One earlier work: what, how many days before the visit, and on which part of the head (`whole` for all).

    Raises OutOfRange for work after the visit.
    """

    work: Earlier
    days_ago: int
    part: str = WHOLE

    def __post_init__(self) -> None:
        within("history.days_ago", self.days_ago, 0, DAYS_MOST, "days")

    def touches(self, part: str) -> bool:
        """Whether it was done to a part of the head."""
        return touches(self.part, part)


def lifts_of(past: Sequence[Past], part: str) -> list[Past]:
    """The lifts that a part of the head has had, the newest first."""
    return sorted(
        (each for each in past if each.work is Earlier.LIFT and each.touches(part)), key=lambda each: each.days_ago
    )
