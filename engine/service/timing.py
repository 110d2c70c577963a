"""Clocks: how long each kind of work is left on, when it is looked at, and what its clock calls out.

Minutes are common practice of the trade with no published source; the pack decides. What stops by itself may be
left for its full time; lightener keeps working, and a toner can turn within minutes.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from engine.arrays import within
from engine.dye.kind import Kind
from engine.errors import BadInput
from engine.service.lift import BOWL_BEST_MIN, CHECK_EVERY_MIN, MOST_MIN

MINUTES_MOST: Final = 240.0
HALF_FROM_MIN: Final = 12.0  # shorter work is not joined half way; chosen by the founders
MIX_AHEAD_MIN: Final = 3.0  # the next batch is begun so long before the last is past its best; the founders'


class ClockKind(StrEnum):
    """What a clock is timing."""

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


class Watch(StrEnum):
    """The studio's school: by kind, always looked at, or full time without a look (lightener excepted)."""

    BY_KIND = "by_kind"
    ALWAYS = "always"
    FULL = "full"


class Call(StrEnum):
    """What a clock calls out."""

    CHECK = "check"
    HALF = "half"
    JOIN = "join"
    MIX_NEXT = "mix_next"
    RINSE = "rinse"
    STOP = "stop"


@dataclass(frozen=True, kw_only=True)
class Timing:
    """Minutes of a kind of work.

    usual_min: what packs usually ask for. pack_most_min: the most that any allows, at which work stops.
    check_from_min, check_every_min: when it is first looked at and how often then; None for never.
    life_min: how long its mixed bowl stays good, and how long it may be used at most; None for what keeps.
    """

    usual_min: tuple[float, float]
    pack_most_min: float
    check_from_min: float | None = None
    check_every_min: float | None = None
    life_min: tuple[float, float] | None = None

    @property
    def planned_min(self) -> float:
        """The time that is set unless another is chosen: the most that packs usually ask for."""
        return self.usual_min[1]


OXIDATIVE_LIFE_MIN: Final = (30.0, 45.0)
TIMINGS: Final[Mapping[ClockKind, Timing]] = {
    ClockKind.LIGHTENER: Timing(
        usual_min=(20.0, 45.0),
        pack_most_min=MOST_MIN,
        check_from_min=CHECK_EVERY_MIN,
        check_every_min=CHECK_EVERY_MIN,
        life_min=BOWL_BEST_MIN,
    ),
    ClockKind.TONER: Timing(
        usual_min=(4.0, 10.0), pack_most_min=20.0, check_from_min=2.0, check_every_min=2.0, life_min=OXIDATIVE_LIFE_MIN
    ),
    ClockKind.DEMI: Timing(usual_min=Kind.DEMI.habits.usual_min, pack_most_min=45.0, life_min=OXIDATIVE_LIFE_MIN),
    ClockKind.PERMANENT: Timing(
        usual_min=Kind.PERMANENT.habits.usual_min, pack_most_min=45.0, life_min=OXIDATIVE_LIFE_MIN
    ),
    ClockKind.DIRECT: Timing(usual_min=Kind.DIRECT.habits.usual_min, pack_most_min=60.0),
    ClockKind.FILL: Timing(usual_min=(20.0, 20.0), pack_most_min=30.0, life_min=OXIDATIVE_LIFE_MIN),
    ClockKind.MASK: Timing(usual_min=Kind.MASK.habits.usual_min, pack_most_min=20.0),
    ClockKind.SEAL: Timing(usual_min=(0.5, 3.0), pack_most_min=5.0),
    ClockKind.REMOVER: Timing(
        usual_min=(10.0, 20.0), pack_most_min=30.0, check_from_min=CHECK_EVERY_MIN, check_every_min=CHECK_EVERY_MIN
    ),
    ClockKind.EQUALISER: Timing(usual_min=(3.0, 5.0), pack_most_min=10.0),
}
FILL_MOST_MIN: Final = 60.0  # of a fill from dye without developer, which 50 minutes do no harm
ALWAYS_EVERY_MIN: Final = 5.0  # a studio that always watches looks this often; chosen by the founders
CLOCK_OF_DYE: Final[Mapping[Kind, ClockKind]] = {
    Kind.DIRECT: ClockKind.DIRECT,
    Kind.BOOSTER: ClockKind.DIRECT,
    Kind.MASK: ClockKind.MASK,
    Kind.DEMI: ClockKind.DEMI,
    Kind.PERMANENT: ClockKind.PERMANENT,
}


AS_ITS_PACK_SAYS: Final = frozenset(CLOCK_OF_DYE.values())  # what a line is made for, and its pack tells of


@dataclass(frozen=True, kw_only=True)
class Pack:
    """What a line's own pack says of minutes, in place of what packs of its kind usually do; None where it is silent.

    usual_min: how long it is left on. most_min: the most that it allows. Raises OutOfRange, and BadInput for a usual
    time over the most.
    """

    usual_min: float | None = None
    most_min: float | None = None

    def __post_init__(self) -> None:
        for name, minutes in (("pack.usual_min", self.usual_min), ("pack.most_min", self.most_min)):
            if minutes is not None:
                within(name, minutes, 0.5, MINUTES_MOST, "min")
        if self.usual_min is not None and self.most_min is not None and self.usual_min > self.most_min:
            raise BadInput("pack.usual_min", f"pack.usual_min is over the {self.most_min:g} min that the pack allows")


SILENT: Final = Pack()


def most_min(kind: ClockKind, dye: Kind | None = None, pack: Pack = SILENT) -> float:
    """The most minutes that packs allow. dye: what a fill is mixed from, which then stays on as long as that may.

    pack: of the line it is mixed from. It decides for what it is made for; for what else it is used as, such as a toner
    or a lift, the lesser counts.
    """
    usual = TIMINGS[kind].pack_most_min
    if kind is ClockKind.FILL and dye is not None:
        usual = TIMINGS[CLOCK_OF_DYE[dye]].pack_most_min if dye in (Kind.DEMI, Kind.PERMANENT) else FILL_MOST_MIN
    if pack.most_min is None:
        return usual
    return pack.most_min if kind in AS_ITS_PACK_SAYS else min(usual, pack.most_min)


def usual_min(kind: ClockKind, dye: Kind | None = None, pack: Pack = SILENT) -> float:
    """How long work is left on unless another time is set: as the line's pack asks, or as packs usually do."""
    asked = pack.usual_min if pack.usual_min is not None and kind in AS_ITS_PACK_SAYS else TIMINGS[kind].planned_min
    return min(asked, most_min(kind, dye, pack))


@dataclass(frozen=True, kw_only=True)
class Prompt:
    """Something that a clock calls out, minutes after application."""

    at_min: float
    call: Call


def prompts(
    kind: ClockKind,
    planned_min: float,
    *,
    dye: Kind | None = None,
    pack: Pack = SILENT,
    watch: Watch = Watch.BY_KIND,
    batches: int = 1,
    joins: bool = True,
    joined_last_min: float | None = None,
    check_min: float = CHECK_EVERY_MIN,
) -> tuple[Prompt, ...]:
    """Everything a clock calls out, in order; the last is the pack's most, a stop.

    dye, pack: what it is mixed from. batches: how many bowls the application takes; each next one is called for before
    the last is past its best.
    joins: whether hair is left that joins at half time. joined_last_min: for how many minutes other hair goes on beside
    it, where that is planned: it is called for by then, and not at half time. check_min: how often lightener is looked
    at, where the house does so more often than the trade.
    Raises OutOfRange for more minutes than the pack's most.
    """
    timing, most = TIMINGS[kind], most_min(kind, dye, pack)
    within("clock.minutes", planned_min, 0.5, most, "min")
    found = [Prompt(at_min=at, call=Call.CHECK) for at in _checks(kind, planned_min, watch, check_min)]
    if joined_last_min is not None:
        found.append(Prompt(at_min=max(planned_min - joined_last_min, 0.0), call=Call.JOIN))
    elif joins and planned_min >= HALF_FROM_MIN and kind is not ClockKind.LIGHTENER:
        found.append(Prompt(at_min=planned_min / 2, call=Call.HALF))
    if timing.life_min:
        ahead = timing.life_min[0] - MIX_AHEAD_MIN
        found += [
            Prompt(at_min=number * timing.life_min[0] + ahead, call=Call.MIX_NEXT) for number in range(batches - 1)
        ]
    found += [Prompt(at_min=planned_min, call=Call.RINSE), Prompt(at_min=most, call=Call.STOP)]
    return tuple(sorted(found, key=lambda each: (each.at_min, each.call is Call.STOP)))


def _checks(kind: ClockKind, planned_min: float, watch: Watch, check_min: float) -> list[float]:
    """When work is looked at before its time is up."""
    timing = TIMINGS[kind]
    first, every = timing.check_from_min, timing.check_every_min
    if kind is ClockKind.LIGHTENER:
        first = every = min(check_min, CHECK_EVERY_MIN)
    if watch is Watch.ALWAYS and first is None:
        first = every = ALWAYS_EVERY_MIN
    if watch is Watch.FULL and kind is not ClockKind.LIGHTENER:
        return []
    if first is None or every is None:
        return []
    count = int((planned_min - first) / every - 1e-9) + 1 if planned_min > first else 0
    return [first + number * every for number in range(count)]


@dataclass(frozen=True, kw_only=True)
class Standing:
    """Where a clock stands: what has been called and not answered, and what comes next with the minutes to it."""

    called: tuple[Prompt, ...]
    coming: Prompt | None
    left_min: float | None

    @property
    def is_alarm(self) -> bool:
        """Whether the pack's most is reached: work stops now."""
        return any(prompt.call is Call.STOP for prompt in self.called)


def standing(called_out: tuple[Prompt, ...], minutes: float, *, answered_to_min: float = -1.0) -> Standing:
    """A clock after minutes; prompts up to answered_to_min have been answered, a stop never is."""
    past = [each for each in called_out if each.at_min <= minutes]
    coming = next((each for each in called_out if each.at_min > minutes), None)
    return Standing(
        called=tuple(each for each in past if each.call is Call.STOP or each.at_min > answered_to_min),
        coming=coming,
        left_min=None if coming is None else coming.at_min - minutes,
    )


class Freshness(StrEnum):
    """How good a mixed bowl still is."""

    FRESH = "fresh"
    ENDING = "ending"
    PAST_BEST = "past_best"
    SPENT = "spent"


def freshness(kind: ClockKind, age_min: float) -> Freshness:
    """How good a bowl is so many minutes after mixing; what needs no developer keeps."""
    life = TIMINGS[kind].life_min
    if life is None or age_min < life[0] - MIX_AHEAD_MIN:
        return Freshness.FRESH
    if age_min < life[0]:
        return Freshness.ENDING
    return Freshness.PAST_BEST if age_min < life[1] else Freshness.SPENT
