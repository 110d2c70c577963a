"""The wall: every running clock of a head as a bar on one time axis, on which now stands at one quarter."""

import datetime
from dataclasses import dataclass
from typing import Final

from studio.clocks.seen import ClockSeen

AXIS_MIN: Final = 80.0  # minutes from the left end of the axis to the right
NOW_AT: Final = 25.0  # percent of the axis
HEIGHT: Final = 112  # units of a row's drawing
TOP: Final = 4
WORD_APART: Final = 13.0  # percent of the axis that a tick's words need
ROOM_AFTER: Final = 35.0  # percent of the axis before which a bar's words stand behind it, and else on it
NOW_WORD: Final = (-7.0, 17.0)  # percent of the axis round now, where its word stands and no time of day has room
GRID_MIN: Final = 15
EDGE_MIN: Final = 5.0  # from the ends of the axis, where a time of day would be cut


@dataclass(frozen=True, kw_only=True)
class Tick:
    """A call on a bar: where on the axis, in percent, and its words where there is room for them."""

    x: str
    words: str
    is_stop: bool


@dataclass(frozen=True, kw_only=True)
class Bar:
    """One clock on the axis: from where it went on to the pack's most, in percent, and its lane."""

    words: str
    words_x: str
    y: str
    words_y: str
    ticks_y: str
    height: str
    start: str
    width: str
    done: str
    ticks: tuple[Tick, ...]


@dataclass(frozen=True, kw_only=True)
class Hour:
    """A quarter of an hour on the axis, in words where there is room for them."""

    x: str
    words: str


def bars_of(clocks: tuple[ClockSeen, ...]) -> tuple[Bar, ...]:
    """A head's clocks as bars, one below the other, those that began first on top."""
    lane = (HEIGHT - TOP) / max(len(clocks), 1)
    return tuple(_bar(seen, TOP + lane * place, lane) for place, seen in enumerate(clocks))


def hours_of(now: datetime.datetime) -> tuple[Hour, ...]:
    """The quarters of an hour that the axis spans. now: in the studio's time zone."""
    minute = now.hour * 60 + now.minute + now.second / 60
    first = minute - AXIS_MIN * NOW_AT / 100
    marks = range(int((first + EDGE_MIN) // GRID_MIN + 1) * GRID_MIN, int(first + AXIS_MIN - EDGE_MIN) + 1, GRID_MIN)
    return tuple(Hour(x=_at(each - minute), words=_time_of(each, each - minute)) for each in marks)


def _time_of(minute: int, left_min: float) -> str:
    """A time of day, where it has room beside the word for now."""
    low, high = NOW_WORD
    return "" if low < 100 * left_min / AXIS_MIN < high else f"{minute // 60 % 24:02d}:{minute % 60:02d}"


def _at(left_min: float) -> str:
    return f"{_percent(left_min):.2f}"


def _percent(left_min: float) -> float:
    return min(max(NOW_AT + 100 * left_min / AXIS_MIN, 0.0), 100.0)


def _bar(seen: ClockSeen, y: float, lane: float) -> Bar:
    start, end = _percent(-seen.minutes), _percent(seen.bar_min - seen.minutes)
    thick = min(lane * 0.5, 30.0)
    told: list[Tick] = []
    last = 101.0
    for call, mark in reversed(list(zip(seen.calls, seen.marks, strict=True))):  # the gravest, last, have room first
        at = _percent(call.at_min - seen.minutes)
        has_room = NOW_AT < at < 100 - WORD_APART / 2 and last - at > WORD_APART
        last = at if has_room else last
        told.append(Tick(x=f"{at:.2f}", words=mark.short if has_room else "", is_stop=mark.is_stop))
    return Bar(
        words=f"{seen.clock.zone.name}, {seen.clock.get_kind_display()}, {seen.shown}",
        words_x=f"{end + 1.5 if end < ROOM_AFTER else NOW_AT + 1:.2f}",
        y=f"{y:.1f}",
        height=f"{thick:.1f}",
        words_y=f"{y + thick / 2:.1f}",
        ticks_y=f"{y + thick + 14:.1f}",
        start=f"{start:.2f}",
        width=f"{max(end - start, 0.5):.2f}",
        done=f"{max(NOW_AT - start, 0):.2f}",
        ticks=tuple(told),
    )
