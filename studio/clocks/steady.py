"""Time that passes whatever the machine's clock is set to, so that a clock on hair never stands still.

The time of day is what people read and what is kept. How long something is on is counted by the time since the machine
was started, as long as it was not started anew.
"""

import datetime
import time
from functools import cache
from pathlib import Path

from django.utils import timezone

from studio.clocks.models import ZoneClock

BOOT_ID = Path("/proc/sys/kernel/random/boot_id")
JUMP = datetime.timedelta(seconds=2)  # less is how finely two clocks are read one after the other


@cache
def boot_id() -> str:
    """Which start of the machine this is; nothing where the system does not tell."""
    return BOOT_ID.read_text(encoding="ascii").strip() if BOOT_ID.exists() else ""


def steady_s() -> float:
    """Seconds since the machine was started, sleep included."""
    return time.clock_gettime(time.CLOCK_BOOTTIME)


def steady_at(moment: datetime.datetime) -> float:
    """What the steady time was at a moment of the day, as that is told now."""
    return steady_s() - (timezone.now() - moment).total_seconds()


def on_for(clock: ZoneClock, now: datetime.datetime) -> datetime.timedelta:
    """How long something has been on a zone at a moment, or was until it was rinsed; never less than nothing."""
    if clock.rinsed_at is not None:
        return clock.rinsed_at - clock.applied_at
    by_day = now - clock.applied_at
    if clock.boot_id and clock.boot_id == boot_id() and clock.boot_s is not None:
        steady = datetime.timedelta(seconds=steady_at(now) - clock.boot_s)
        if abs(steady - by_day) > JUMP:  # the machine's clock was set meanwhile
            return max(steady, datetime.timedelta(0))
    return max(by_day, datetime.timedelta(0))
