"""A clock and a mixed bowl as they stand at a moment, in words and numbers."""

import datetime
import json
from dataclasses import dataclass
from typing import Final

from engine.language import later, say
from engine.service.lift import CHECK_EVERY_MIN
from engine.service.schedule.usual import join_ahead_min
from engine.service.timing import Call, ClockKind, Freshness, Prompt, Standing, Watch, most_min, prompts, standing
from studio.clocks.models import ZoneClock
from studio.clocks.steady import on_for
from studio.head.models import Coat
from studio.pour.models import Batch

CALL_WORDS: Final = {
    Call.CHECK: later("look at it"),
    Call.HALF: later("half time: join the rest"),
    Call.JOIN: later("put on what joins it"),
    Call.MIX_NEXT: later("mix the next batch"),
    Call.RINSE: later("rinse"),
    Call.STOP: later("rinse: the pack's most is reached"),
}
SHORT_WORDS: Final = {
    Call.CHECK: later("look"),
    Call.HALF: later("half"),
    Call.JOIN: later("join"),
    Call.MIX_NEXT: later("mix"),
    Call.RINSE: later("rinse"),
    Call.STOP: later("stop"),
}
COMING_WORDS: Final = CALL_WORDS | {Call.STOP: later("the pack's most")}
SECONDS_IN_LAST_MIN: Final = 2.0
GOING_WORDS: Final = later("stretch or curl is going: rinse")
FRESH_WORDS: Final = {
    Freshness.FRESH: later("fresh"),
    Freshness.ENDING: later("about to pass its best"),
    Freshness.PAST_BEST: later("past its best"),
    Freshness.SPENT: later("spent: throw it away"),
}


@dataclass(frozen=True, kw_only=True)
class Mark:
    """A call on a clock's bar: where, in percent of the bar, its words, and the same in one or two."""

    percent: str
    words: str
    short: str
    is_stop: bool


@dataclass(frozen=True, kw_only=True)
class ClockSeen:
    """A running clock at a moment. minutes: of the first section that is still on. joining: what joins it next."""

    clock: ZoneClock
    minutes: float
    now: datetime.datetime
    calls: tuple[Prompt, ...]
    standing: Standing
    joining: tuple[Coat, ...] = ()

    @property
    def applied_ms(self) -> int:
        """When it was applied as the clock of the moment would tell it, in milliseconds since 1970, to tick by."""
        return int((self.now.timestamp() - self.minutes * 60) * 1000)

    @property
    def section(self) -> str:
        """Which section its minutes are of, where the zone is parted in some."""
        return (
            say(
                "section {sections_off} of {sections}",
                sections_off=self.clock.sections_off + 1,
                sections=self.clock.sections,
            )
            if self.clock.sections > 1
            else ""
        )

    @property
    def next_on(self) -> int:
        """The section that is to be put on next; 0 where all are on."""
        number = len(self.clock.sections_on) + 2
        return number if number <= self.clock.sections else 0

    @property
    def next_off(self) -> int:
        """The section that may be rinsed while others are on or to come; 0 for the last."""
        number = self.clock.sections_off + 1
        return number if number < self.clock.sections else 0

    @property
    def is_going(self) -> bool:
        """Whether stretch or curl was seen going: a lift stops there."""
        return any(each.is_going for each in self.clock.checks.all())

    @property
    def is_alarm(self) -> bool:
        """Whether it has to come off now: by the pack's most, or because the hair is going."""
        return self.standing.is_alarm or self.is_going

    @property
    def is_calling(self) -> bool:
        """Whether it calls for anything now."""
        return bool(self.standing.called) or self.is_going

    @property
    def is_due_off(self) -> bool:
        """Whether it is time to rinse it."""
        return self.is_alarm or any(each.call is Call.RINSE for each in self.standing.called)

    @property
    def checked(self) -> str:
        """What was seen last, with its minute."""
        last = max(self.clock.checks.all(), key=lambda each: each.minute, default=None)
        if last is None:
            return ""
        return say(
            "minute {minute:.0f}: {told}",
            minute=last.minute,
            told=say("going") if last.is_going else last.get_depth_display() or say("seen"),
        )

    @property
    def calls_at_ms(self) -> str:
        """When each call that is still to come is due, in milliseconds since 1970."""
        return " ".join(str(at) for at, _ in self._coming_calls)

    @property
    def calls_told(self) -> str:
        """Each call to come, for a tablet that has to tell of it alone: JSON of moments, words, and whether to stop."""
        return json.dumps([(at, self._words(call), call is Call.STOP) for at, call in self._coming_calls])

    @property
    def _coming_calls(self) -> list[tuple[int, Call]]:
        coming = [each for each in self.calls if each.at_min > self.minutes]
        return [(round(self.applied_ms + each.at_min * 60_000), each.call) for each in coming]

    @property
    def shown(self) -> str:
        """How long it has been on, in minutes; with seconds in the first minute and in the last two before a call."""
        seconds, left = int(max(self.minutes, 0) * 60), self.standing.left_min
        if seconds < 60 or (left is not None and left < SECONDS_IN_LAST_MIN):
            return f"{seconds // 60}:{seconds % 60:02d}"
        return say("{seconds} min", seconds=seconds // 60)

    @property
    def bar_min(self) -> float:
        """Minutes that the bar spans: to the stop."""
        return self.calls[-1].at_min

    @property
    def percent(self) -> str:
        """How much of the bar has passed."""
        return f"{min(100 * max(self.minutes, 0) / self.bar_min, 100):.1f}"

    @property
    def marks(self) -> tuple[Mark, ...]:
        """The calls along the bar."""
        return tuple(
            Mark(
                percent=f"{100 * each.at_min / self.bar_min:.1f}",
                words=self._words(each.call),
                short=SHORT_WORDS[each.call],
                is_stop=each.call is Call.STOP,
            )
            for each in self.calls
        )

    @property
    def called_words(self) -> str:
        """What it calls for now, the gravest first."""
        if self.is_going:
            return GOING_WORDS
        called = sorted(self.standing.called, key=lambda each: -each.at_min)
        return self._words(called[0].call) if called else ""

    def _words(self, call: Call) -> str:
        """A call in words; of what joins, by name."""
        names = " and ".join(dict.fromkeys(each.zone.name for each in self.joining))
        return say("put it on {names}, too", names=names) if call is Call.JOIN else CALL_WORDS[call]

    @property
    def coming_words(self) -> str:
        """What comes next, and in how many minutes."""
        coming, left = self.standing.coming, self.standing.left_min
        return (
            ""
            if coming is None or left is None
            else say("{coming} in {max:.0f} min", coming=self._coming(coming.call), max=max(left, 1))
        )

    def _coming(self, call: Call) -> str:
        return self._words(call) if call is Call.JOIN else COMING_WORDS[call]

    @property
    def answer_min(self) -> str:
        """The minute to which an answer now would count."""
        return f"{max((each.at_min for each in self.standing.called), default=0):.1f}"


@dataclass(frozen=True, kw_only=True)
class BowlSeen:
    """A mixed bowl at a moment: of which zones, how old, and how good."""

    batch: Batch
    zones: str
    age_min: float
    freshness: Freshness

    @property
    def words(self) -> str:
        """How good it is."""
        return FRESH_WORDS[self.freshness]

    @property
    def is_ending(self) -> bool:
        """Whether it asks for attention."""
        return self.freshness is not Freshness.FRESH


def seen(
    clock: ZoneClock,
    now: datetime.datetime,
    watch: Watch = Watch.BY_KIND,
    check_min: float = CHECK_EVERY_MIN,
    *,
    joins: bool = True,
    joining: tuple[Coat, ...] = (),
) -> ClockSeen:
    """A clock at a moment, by time that goes on whatever the machine's clock is set to.

    joins: whether another zone is to have the same bowl, and has nothing on yet. joining: coats that are planned to go
    on beside it and are not on yet.
    """
    minutes = max(on_for(clock, now).total_seconds() / 60 - clock.section_begin_min, 0.0)
    ahead = {each: _ahead_min(each) for each in joining}
    first_min = max(ahead.values(), default=None)
    kind = ClockKind(clock.kind)
    most = most_min(kind, clock.dye, clock.pack)  # as the pack says now, which may have been set right meanwhile
    calls = prompts(
        kind,
        min(float(clock.planned_min), most),
        dye=clock.dye,
        pack=clock.pack,
        watch=watch,
        check_min=check_min,
        batches=clock.batches,
        joins=joins,
        joined_last_min=first_min,
    )
    return ClockSeen(
        clock=clock,
        minutes=minutes,
        now=now,
        calls=calls,
        standing=standing(calls, minutes, answered_to_min=float(clock.answered_to_min)),
        joining=tuple(each for each in joining if ahead[each] == first_min),
    )


def _ahead_min(coat: Coat) -> float:
    """How long before the other is rinsed a coat that joins it is begun."""
    minutes = None if coat.minutes is None else float(coat.minutes)
    return join_ahead_min(minutes, float(coat.apply_min or 0))
