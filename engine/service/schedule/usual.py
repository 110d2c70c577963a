"""What a coat usually takes: minutes of hands by its grams, and how long it may stay on, by its purpose and its clock.

A lightener is planned for as long as its lift usually takes, and rinsed before the most that it may; what stops by
itself may wait up to the pack's most; a pre-tone or glaze is looked at from the second minute and turns soon, whatever
it is mixed from. The hair that gets it last has it on long enough, too, which a slow application must leave room for.
Common practice, no published source; the pack decides.
"""

from dataclasses import dataclass, replace
from math import ceil
from typing import Final

from engine.service.house import CleanUp
from engine.service.lift import BOWL_BEST_MIN, CHECK_EVERY_MIN, DOUBT, MOST_MIN, lift_minutes
from engine.service.schedule.work import QUICK_TO_TURN, WANTS_DRY, PlannedCoat, Purpose
from engine.service.timing import OXIDATIVE_LIFE_MIN, SILENT, TIMINGS, ClockKind, Pack, most_min, usual_min

TAKES_OUT: Final = frozenset({Purpose.LIFT, Purpose.REMOVE})
SPRAYED: Final = frozenset({Purpose.EQUALISE})  # and combed through, which takes no longer on more hair
BOWL_G: Final = 60.0
BOWL_MIN: Final = 15.0  # in which a bowl of 60 g is worked into thin sections; chosen by the founders
APPLY_LEAST_MIN: Final = 5.0
LAST_SHARE: Final = 0.4  # of the least usual minutes that the last hair has a colour on; chosen by the founders
JOIN_MIN: Final = 10.0  # colour is drawn through the lengths for the last ten minutes (common practice)
UNTIMED_MIN: Final = (5.0, 20.0)  # of what has no clock of its own: from when to when it is worked


@dataclass(frozen=True, kw_only=True)
class LiftAsked:
    """A lift as it is planned: levels, strength of developer in vol, porosity of the hair."""

    levels: float
    vol: float
    porosity: float

    @property
    def window_min(self) -> tuple[float, float]:
        """What it usually takes, which is what is planned, and the most that it may on hair that lifts slowly."""
        usual = self._usual_min
        most = min(max(usual * (1 + DOUBT), CHECK_EVERY_MIN), MOST_MIN - CHECK_EVERY_MIN)
        return min(max(usual, CHECK_EVERY_MIN), most), most

    @property
    def last_min(self) -> float:
        """What its last hair needs: as little as hair that lifts fast takes."""
        return min(self._usual_min * (1 - DOUBT), self.window_min[0])

    @property
    def _usual_min(self) -> float:
        return lift_minutes(self.levels, self.vol, self.porosity)


def usual_coat(
    purpose: Purpose,
    kind: ClockKind | None,
    grams: float,
    *,
    lift: LiftAsked | None = None,
    minutes: float | None = None,
    apply_min: float | None = None,
    rinsed: bool = True,
    pack: Pack = SILENT,
    bowl_min: float = BOWL_MIN,
    damp: bool = False,
    clean_up: CleanUp = CleanUp.ONCE,
) -> PlannedCoat:
    """A coat as it is planned unless more is known. kind: its clock, if it has one. pack: of the line it is mixed from.

    minutes, apply_min: as they are set for it, in place of what is usual. bowl_min: in which these hands work a bowl of
    60 g in. damp: whether the house puts it on damp hair; clean_up: how it washes what took something out. Raises
    OutOfRange.
    """
    least, most = _window(purpose, kind, lift, pack)
    if minutes is not None:
        minutes = minutes if pack.most_min is None else min(minutes, pack.most_min)
        least, most = (min(least, minutes), minutes) if purpose is Purpose.LIFT else (minutes, max(most, minutes))
    last = lift.last_min if lift else LAST_SHARE * least
    usual_apply = APPLY_LEAST_MIN if purpose in SPRAYED else max(APPLY_LEAST_MIN, grams * bowl_min / BOWL_G)
    return PlannedCoat(
        purpose=purpose,
        apply_min=usual_apply if apply_min is None else apply_min,
        least_min=least,
        most_min=most,
        wants_dry=purpose in WANTS_DRY and not damp,
        wash_more_min=clean_up.more_min if purpose in TAKES_OUT else 0.0,
        rinsed=rinsed,
        last_min=min(last, least),
    )


def join_ahead_min(minutes: float | None, apply_min: float) -> float:
    """How long before both are rinsed a coat that joins another is begun: its minutes, JOIN_MIN unless they are set;
    longer where it takes so long to put on that its last hair would have it on for too little.
    """
    on = JOIN_MIN if minutes is None else minutes
    return max(on, apply_min + LAST_SHARE * on)


def joined(coat: PlannedCoat, there: tuple[str, int], minutes: float | None) -> PlannedCoat:
    """A coat that joins another, by zone and place, for so many minutes: see `join_ahead_min`."""
    on = JOIN_MIN if minutes is None else minutes
    most = join_ahead_min(minutes, coat.apply_min)
    return replace(coat, least_min=on, most_min=most, last_min=LAST_SHARE * on, joins=there)


def batches_of(purpose: Purpose, apply_min: float) -> int:
    """How many bowls an application takes, since a mixed one is past its best before a long one ends."""
    life = BOWL_BEST_MIN[1] if purpose is Purpose.LIFT else OXIDATIVE_LIFE_MIN[1]
    return max(1, ceil(apply_min / life - 1e-9))


def _window(purpose: Purpose, kind: ClockKind | None, lift: LiftAsked | None, pack: Pack) -> tuple[float, float]:
    if lift is not None:
        least, most = lift.window_min
    elif purpose in QUICK_TO_TURN:
        usual = TIMINGS[ClockKind.TONER].usual_min
        stops = kind is not None and kind is not ClockKind.TONER
        least, most = usual[0], most_min(kind, pack=pack) if kind is not None and stops else usual[1]
    elif kind is None:
        return UNTIMED_MIN
    else:
        least, most = usual_min(kind, pack=pack), most_min(kind, pack=pack)
    most = most if pack.most_min is None else min(most, pack.most_min)
    return min(least, most), most
