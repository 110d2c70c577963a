"""What can be wrong with a head, what is wanted instead, what not to do, and whether the hair bears being worked on.

Common practice of the trade, no published source; sizes are the founders'.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

import numpy as np

from engine.arrays import FloatArray
from engine.colorimetry.lab import lab_from_lch, lch_of
from engine.colorimetry.words import Saying
from engine.language import counted, later, say
from engine.service.known import Known
from engine.service.rules import POROUS_FROM, RELIFT_LEAST_DAYS
from engine.service.work import Place

SOFTER: Final = 0.55  # of its chroma is left of a colour that is toned down; chosen by the founders
FRESHER: Final = 1.25  # times the chroma that is left of a colour that faded; chosen by the founders
STEP_L: Final = 9.0  # L* by which too dark or too light is put right
WARM_DEG: Final = 80.0  # hue that takes a purple cast back to hair; chosen by the founders
UNGREEN_DEG: Final = 70.0  # hue that takes green back to hair; chosen by the founders


class Trouble(StrEnum):
    """What is wrong with a head."""

    TOO_BRIGHT = "too_bright"
    TOO_DARK = "too_dark"
    TOO_WARM = "too_warm"
    GREEN = "green"
    PURPLE_CAST = "purple_cast"
    FADED = "faded"
    UNEVEN = "uneven"
    PATCHY = "patchy"
    BANDED = "banded"
    PALE_ROOT = "pale_root"
    HOT_ROOT = "hot_root"
    TONE_DOWN = "tone_down"


# What lacks colour gains nothing by washing.
ADD_ONLY: Final = frozenset({Trouble.UNEVEN, Trouble.PALE_ROOT, Trouble.PATCHY, Trouble.FADED})
# What its own caution says not to bleach: it is refreshed, covered, or washed out.
SPARED: Final = ADD_ONLY | {Trouble.PURPLE_CAST}
# What is wrong against the rest of the head, whose colour is wanted where there is one.
AGAINST_THE_REST: Final = frozenset(
    {Trouble.UNEVEN, Trouble.PATCHY, Trouble.BANDED, Trouble.PALE_ROOT, Trouble.HOT_ROOT}
)

A_SPOT: Final = Saying(
    alike=later("as the rest"),
    lighter=later("lighter"),
    deeper=later("deeper"),
    brighter=later("brighter"),
    softer=later("more muted"),
    towards=later("towards"),
)

DONT: Final[Mapping[Trouble, str]] = {
    Trouble.TOO_BRIGHT: later(
        "Don't put the full opposite over it: a strong opposite turns a bright colour grey-brown."
    ),
    Trouble.TOO_DARK: later("Don't colour over it to lighten it: colour does not lift colour."),
    Trouble.TOO_WARM: later("Don't add ash at once and at full strength: blue pulls hard, and goes green on yellow."),
    Trouble.GREEN: later("Don't put ash, blue or a blue-based brown on it: put warmth in first."),
    Trouble.PURPLE_CAST: later(
        "Don't bleach a violet cast out: a wash or two takes it, and a touch of gold hides it today."
    ),
    Trouble.FADED: later("Don't lift what has faded: refresh it, and find out what washed it out."),
    Trouble.UNEVEN: later("Don't put one bowl all over again: porous ends take more, and it stays uneven."),
    Trouble.PATCHY: later("Don't cover the whole head for a few patches: treat the patches, and feather their edges."),
    Trouble.BANDED: later("Don't pull lightener over the light side of a band: work on the band alone."),
    Trouble.PALE_ROOT: later("Don't drag colour through lengths that are done: only the root lacks it."),
    Trouble.HOT_ROOT: later("Don't cool the lengths along with a hot root: they take more, and go dull."),
    Trouble.TONE_DOWN: later(
        "Don't reach for lightener: wash some of it out, then lay a deeper or softer mix over it."
    ),
}


def wanted_of(trouble: Trouble, now_lab: FloatArray) -> FloatArray:
    """What is wanted instead of a colour (3,) that is wrong, where neither client nor the rest of the head says."""
    lightness, chroma, hue = (float(part) for part in lch_of(now_lab))
    match trouble:
        case Trouble.TOO_BRIGHT | Trouble.TONE_DOWN:
            deeper = lightness - STEP_L / 2 if trouble is Trouble.TONE_DOWN else lightness
            wanted = (deeper, chroma * SOFTER, hue)
        case Trouble.TOO_DARK:
            wanted = (lightness + STEP_L, chroma, hue)
        case Trouble.TOO_WARM | Trouble.HOT_ROOT:
            wanted = (lightness - (STEP_L / 2 if trouble is Trouble.HOT_ROOT else 2.0), chroma * SOFTER, hue)
        case Trouble.GREEN:
            wanted = (lightness - 4.0, chroma, UNGREEN_DEG)
        case Trouble.PURPLE_CAST:
            wanted = (lightness, max(chroma * SOFTER, 8.0), WARM_DEG)
        case Trouble.FADED:
            wanted = (lightness - STEP_L / 2, chroma * FRESHER, hue)
        case _:
            wanted = (lightness - STEP_L, chroma * 1.2, hue)
    return lab_from_lch(np.array([float(np.clip(wanted[0], 2.0, 98.0)), wanted[1], wanted[2]]))


@dataclass(frozen=True, kw_only=True)
class Readiness:
    """Whether hair bears a way that costs it something: what stands before it, in words; empty when nothing does.

    wait_days: before it may be worked on again, 0 for none.
    """

    words: str = ""
    wait_days: int = 0

    @property
    def is_ready(self) -> bool:
        """Whether nothing stands before it."""
        return not self.words


def _days(count: int | None) -> str:
    return counted("{count} day", "{count} days", count or 0)


def readiness(known: Known, place: Place, *, tested: bool) -> Readiness:
    """Whether a place bears lightener, remover or a fill. tested: stretch and curl were looked at today.

    A failed test waits as long as a fresh lift: two weeks of care, then the test again.
    """
    lifts = known.lifts_before(place)
    since = min((each.days_ago for each in lifts), default=None)
    wait = max(RELIFT_LEAST_DAYS - since, 0) if since is not None else 0
    if known.stretch_failed or known.curl_loosened:
        gave = say("the stretch test") if known.stretch_failed else say("its curl")
        return Readiness(
            words=say("The hair failed {gave}: care for it two weeks, then test it again.", gave=gave),
            wait_days=RELIFT_LEAST_DAYS,
        )
    if known.lifted_today:
        return Readiness(
            words=say("It was lifted today: let it rest two weeks, then test it again."), wait_days=RELIFT_LEAST_DAYS
        )
    if wait:
        return Readiness(
            words=say("It was lifted {days} ago: wait {days2} more.", days=_days(since), days2=_days(wait)),
            wait_days=wait,
        )
    if not tested:
        worn = say(" It is porous.") if place.porosity >= POROUS_FROM else ""
        return Readiness(words=say("Stretch a wet strand, and look at its curl, before this.{worn}", worn=worn))
    return Readiness()
