"""The middle of the Bench for lightener: the level that the lift is to stop at, as locks of the school's ladder."""

from dataclasses import dataclass

from engine.colorimetry.words import colour_word
from engine.hair.canvas import lightened
from engine.language import decimals, say
from engine.service.lift import clock_minutes
from studio.head.engine_adapter import BenchForecast
from studio.head.selectors import Bench
from studio.ui.locks import Lock, bare_lock
from studio.visits.engine_adapter import canvas_of

LEVELS = tuple(range(2, 12))


@dataclass(frozen=True, kw_only=True)
class LiftRung:
    """A level to stop at: what the school sees there, its lock, and whether it is the one that is set."""

    level: str
    words: str
    lock: Lock
    chosen: bool


@dataclass(frozen=True, kw_only=True)
class LiftMiddle:
    """The levels above the hair's own, and what is said of the lift as it is set."""

    rungs: tuple[LiftRung, ...]
    minutes: str
    from_level: str


def lift_middle(bench: Bench) -> LiftMiddle:
    """Gather the levels that this hair can be lifted to."""
    canvas, set_to = canvas_of(bench.reading), float(bench.coat.to_level or 0)
    ladder = bench.visit.client.studio.ladder
    return LiftMiddle(
        rungs=tuple(
            LiftRung(
                level=decimals(f"{level:g}"),
                words=ladder.undertone(level),
                lock=bare_lock(lightened(canvas, level)),
                chosen=level == set_to,
            )
            for level in map(float, LEVELS)
            if level > canvas.level
        ),
        minutes=f"{lift_minutes(bench):.0f}",
        from_level=decimals(f"{canvas.level:g}"),
    )


def lift_minutes(bench: Bench) -> float:
    """How long the lightener stays on at most: as it is set, else as this hair needs it."""
    if bench.coat.minutes is not None:
        return float(bench.coat.minutes)
    levels = max(float(bench.coat.to_level or 0) - float(bench.reading.level), 0.0)
    return clock_minutes(levels, float(bench.bowl.vol), float(bench.reading.porosity))


def lift_said(bench: Bench, seen: BenchForecast) -> str:
    """The lift in a sentence."""
    to_level, level = float(bench.coat.to_level or 0), float(bench.reading.level)
    if to_level <= level:
        return say("The hair is at level {level:g}: choose a level above it", level=level)
    return say(
        "Lift from level {level:g} to {to_level:g}: {colour_word}",
        level=level,
        to_level=to_level,
        colour_word=colour_word(seen.forecast.lab),
    )
