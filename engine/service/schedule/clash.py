"""Two chairs that want one colourist's hands at once."""

from collections.abc import Sequence

from engine.service.schedule.work import Schedule

DUST = 1e-9


def busy_of(made: Schedule) -> tuple[tuple[float, float], ...]:
    """From when to when the first pair of hands is at work in a plan, in minutes from its begin."""
    return tuple((slot.start_min, slot.end_min) for slot in made.slots if slot.hand == 1)


def clashes(chairs: Sequence[tuple[float, Schedule]]) -> tuple[tuple[float, float], ...]:
    """Minutes of the day in which one colourist's hands are wanted at two chairs.

    chairs: for each, the minute of the day at which it begins, and its plan.
    """
    busy = sorted((begin + start, begin + end) for begin, made in chairs for start, end in busy_of(made) if end > start)
    found: list[tuple[float, float]] = []
    until = float("-inf")
    for start, end in busy:
        if start < until - DUST:
            found.append((start, min(end, until)))
        until = max(until, end)
    return tuple(found)
