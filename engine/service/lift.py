"""Lifting a zone: how far today, with what, how long it may take, and when to stop.

The numbers are common practice of the trade with no published source; the minutes are the founders' estimate. The
pack, the strand test and the eye at each check decide.
"""

from dataclasses import dataclass
from enum import StrEnum
from math import ceil
from typing import Final

from engine.arrays import within
from engine.hair.canvas import RANGES, Canvas, lightened
from engine.service.known import STRONG_HAIR_LEVELS
from engine.service.work import LIFT_MOST_LEVELS, SCALP_MOST_VOL, VOL_MOST

CHECK_EVERY_MIN: Final = 5.0
MOST_MIN: Final = 50.0
BOWL_BEST_MIN: Final = (10.0, 15.0)  # after which a bowl of lightener is past its best
GENTLE_VOL: Final = 7.0
USUAL_VOL: Final = 20.0
COLD_LENGTHS_VOL: Final = 30.0
MINUTES_A_LEVEL: Final = 11.0  # at 20 vol on medium porosity; the founders' estimate
DOUBT: Final = 0.4  # share by which hair strays from it either way
STEP: Final = 0.25  # of a level


class Lay(StrEnum):
    """How the lightener lies on the hair."""

    FOIL = "foil"
    COVER = "cover"
    OPEN = "open"


# Parts of developer to one of lightener: open work must not run, and fragile hair is coated thinly.
PARTS: Final = {Lay.FOIL: 2.0, Lay.COVER: 2.0, Lay.OPEN: 1.0}
FRAGILE_PARTS: Final = 3.0


@dataclass(frozen=True, kw_only=True)
class Strength:
    """What the hair can bear. lifts_before: how often it has been lifted. curl_sets_limit: strong or loosened curl.

    lifted_today: whether lightener has been on it in this visit.
    most_levels: the most that a visit asks of it, by the house's school and its past; None for the trade's own.
    scalp_most_vol: the strongest developer that the house lets onto the scalp. 0, for none at all, proposes what the
    trade does, and the gates stop it there.
    """

    fragile: bool = False
    curl_sets_limit: bool = False
    lifts_before: int = 0
    lifted_today: bool = False
    most_levels: float | None = None
    scalp_most_vol: float = SCALP_MOST_VOL

    @property
    def gives_way(self) -> bool:
        """Whether at most two levels a visit are asked of it."""
        return self.fragile or self.curl_sets_limit or self.lifts_before > 0 or self.levels <= LIFT_MOST_LEVELS

    @property
    def levels(self) -> float:
        """The most levels that a visit asks of it."""
        if self.fragile or self.curl_sets_limit or self.lifts_before > 0:
            return LIFT_MOST_LEVELS
        return STRONG_HAIR_LEVELS if self.most_levels is None else self.most_levels


@dataclass(frozen=True, kw_only=True)
class Lift:
    """One visit's lift of a zone.

    stop_level: where to stop today. visits: how many such visits the wanted level takes. expected_min: from and to.
    after: the canvas that is expected; a reading of the lifted hair replaces it.
    """

    from_level: float
    wanted_level: float
    stop_level: float
    visits: int
    vol: float
    parts: float
    lay: Lay
    on_scalp: bool
    expected_min: tuple[float, float]
    applications: int
    after: Canvas

    @property
    def levels(self) -> float:
        """How far it goes today."""
        return round(self.stop_level - self.from_level, 6)  # exactly 2 is not "more than 2" by a rounding


def lift(
    canvas: Canvas,
    wanted_level: float,
    *,
    strength: Strength | None = None,
    lay: Lay = Lay.FOIL,
    on_scalp: bool = False,
    vol: float | None = None,
    at_once: bool = False,
) -> Lift | None:
    """How to lift a canvas towards a level; None when it is that light already.

    vol: the strength of the developer, where it is not to be the usual one. at_once: all the way today, however much
    that asks of the hair. Raises OutOfRange for level and strength.
    """
    within("wanted_level", wanted_level, *RANGES["level"])
    if vol is not None:
        within("vol", vol, 1.0, VOL_MOST, "vol")
    strength = strength or Strength()
    levels = wanted_level - canvas.level
    if levels <= 0:
        return None
    most = strength.levels
    stop = wanted_level if at_once else min(wanted_level, canvas.level + most)
    vol = _vol(stop - canvas.level, strength, on_scalp) if vol is None else vol
    minutes = lift_minutes(stop - canvas.level, vol, canvas.porosity)
    applications = max(1, ceil(minutes / MOST_MIN))
    return Lift(
        from_level=canvas.level,
        wanted_level=wanted_level,
        stop_level=stop,
        visits=1 if at_once else ceil(levels / most - 1e-9),
        vol=vol,
        parts=FRAGILE_PARTS if strength.fragile and lay is not Lay.OPEN else PARTS[lay],
        lay=lay,
        on_scalp=on_scalp,
        expected_min=(
            max(CHECK_EVERY_MIN, minutes * (1 - DOUBT)),
            max(CHECK_EVERY_MIN, min(minutes * (1 + DOUBT), MOST_MIN * applications)),
        ),
        applications=applications,
        after=lightened(canvas, stop),
    )


def lift_minutes(levels: float, vol: float, porosity: float) -> float:
    """Minutes that so many levels usually take; hair strays from it by DOUBT either way."""
    return float(levels * MINUTES_A_LEVEL * (USUAL_VOL / vol) ** 0.5 / porosity)


def clock_minutes(levels: float, vol: float, porosity: float) -> float:
    """Minutes to set a clock for one application of a lift to: as late as it may be there, a check before the most."""
    late = lift_minutes(levels, vol, porosity) * (1 + DOUBT)
    return float(round(max(CHECK_EVERY_MIN, min(late, MOST_MIN - CHECK_EVERY_MIN))))


def _vol(levels: float, strength: Strength, on_scalp: bool) -> float:
    """Never more than the house lets onto the scalp, 20 vol at most; gentle on fragile hair; 30 only for a long way on
    cold, strong lengths."""
    if strength.fragile:
        usual = GENTLE_VOL
    elif on_scalp or strength.gives_way or levels <= LIFT_MOST_LEVELS:
        usual = min(USUAL_VOL, SCALP_MOST_VOL)
    else:
        usual = COLD_LENGTHS_VOL
    return min(usual, strength.scalp_most_vol) if on_scalp and strength.scalp_most_vol else usual
