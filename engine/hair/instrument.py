"""Several readings of one place by an instrument, as one: averaged, with outliers refused."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np

from engine.arrays import FloatArray, frozen
from engine.errors import BadInput

READINGS_LEAST: Final = 3
READINGS_MOST: Final = 50
OUTLIER_FROM: Final = 3.5  # in robust deviations from the median [IGL93]
NORMAL_SCALE: Final = 1.4826  # of a median absolute deviation, so that it estimates a standard deviation
QUIET: Final = 0.5  # delta E76 that no instrument on hair does better than; chosen by the founders
STRAY_MOST: Final = 4.0  # median distance beyond which readings say nothing certain; chosen by the founders


class ReadingsUnusable(BadInput):
    """Readings that give no colour; `code` tells why."""

    def __init__(self, code: str, message: str) -> None:
        super().__init__("readings", message)
        self.code = code


@dataclass(frozen=True, kw_only=True, eq=False)
class Averaged:
    """The mean L*a*b* (3,) of the readings that were kept, how far they stray in delta E76, and which were refused."""

    lab: FloatArray
    stray: float
    kept: int
    refused: tuple[int, ...]


def average_readings(readings: Sequence[Sequence[float]]) -> Averaged:
    """Average readings in L*a*b*; what lies far from the median of all is refused, by its place.

    Raises ReadingsUnusable with code too_few, garbage (not three finite numbers in L*a*b*'s range) or unsteady.
    """
    if not READINGS_LEAST <= len(readings) <= READINGS_MOST:
        raise ReadingsUnusable("too_few", f"{READINGS_LEAST} to {READINGS_MOST} readings are needed")
    labs = _checked(readings)
    away = np.linalg.norm(labs - np.median(labs, axis=0), axis=-1)
    scale = max(NORMAL_SCALE * float(np.median(away)), QUIET)
    kept = away <= OUTLIER_FROM * scale
    if int(kept.sum()) < READINGS_LEAST or float(np.median(away)) > STRAY_MOST:
        raise ReadingsUnusable("unsteady", "the readings are too far apart: hold the instrument still, on one place")
    mean = labs[kept].mean(axis=0)
    return Averaged(
        lab=frozen(mean),
        stray=float(np.linalg.norm(labs[kept] - mean, axis=-1).mean()),
        kept=int(kept.sum()),
        refused=tuple(int(place) for place in np.flatnonzero(~kept)),
    )


def _checked(readings: Sequence[Sequence[float]]) -> FloatArray:
    try:
        labs = np.array([[float(part) for part in reading] for reading in readings])
    except (TypeError, ValueError):
        labs = np.zeros((0, 0))
    low, high = np.array([0.0, -128.0, -128.0]), np.array([100.0, 128.0, 128.0])
    if labs.ndim != 2 or labs.shape[1] != 3 or not np.isfinite(labs).all() or (labs < low).any() or (labs > high).any():
        raise ReadingsUnusable("garbage", "what the instrument sent is no colour in L*a*b*")
    return labs
