"""What is left over once strengths and constants are learned: a smooth remainder in L*a*b* over hair and result."""

from typing import Final

import numpy as np

from engine.arrays import FloatArray

CENTRES_MOST: Final = 24
SCALES: Final = np.array([22.0, 28.0, 28.0, 25.0])  # of L*, a*, b* of the forecast and L* of bare hair
AXES: Final = np.array([0.8, 1.1, 1.1])  # how far L*, a* and b* may be off for one delta E00 of remainder
FULLY: Final = 12.0  # difference of L*a*b* from bare hair at which the remainder counts nearly in full
NUGGET: Final = 1e-3


def per_axis_of(delta_e00: float) -> tuple[float, float, float]:
    """Standard deviations of L*, a* and b* that together are off by delta_e00, as the root of the mean square."""
    lightness, a, b = (delta_e00 / 3**0.5 * AXES).tolist()
    return lightness, a, b


def features(lab: FloatArray, bare_lab: FloatArray) -> FloatArray:
    """Where forecasts (n, 3) on bare hair (n, 3) lie, (n, 4): near places are taken to be off alike."""
    place: FloatArray = np.concatenate([lab, bare_lab[:, :1]], axis=-1) / SCALES
    return place


def presence(lab: FloatArray, bare_lab: FloatArray) -> FloatArray:
    """How much of a remainder forecasts (n, 3) can show, (n,) from 0 on bare hair to 1: none is known of bare hair."""
    away: FloatArray = ((lab - bare_lab) ** 2).sum(axis=-1) / FULLY**2
    shown: FloatArray = np.sqrt(away / (1 + away))
    return shown


def centres_of(places: FloatArray) -> FloatArray:
    """Up to CENTRES_MOST of places (n, 4) that lie far from one another, (m, 4), always the same for the same."""
    chosen = [int(((places - places.mean(axis=0)) ** 2).sum(axis=-1).argmin())]
    far = ((places - places[chosen[0]]) ** 2).sum(axis=-1)
    while len(chosen) < min(CENTRES_MOST, len(places)) and far.max() > NUGGET:
        chosen.append(int(far.argmax()))
        far = np.minimum(far, ((places - places[chosen[-1]]) ** 2).sum(axis=-1))
    return places[chosen]


def waves(places: FloatArray, centres: FloatArray) -> FloatArray:
    """Features (n, m) of places (n, 4) whose products are the likeness of places, as far as centres (m, 4) tell it.

    Sparse Gaussian process, Nystrom's form [QUI05]: kernel exp(-d^2 / 2) and the inverse root of that among centres.
    """
    root = np.linalg.cholesky(_likeness(centres, centres) + NUGGET * np.eye(len(centres)))
    told: FloatArray = np.linalg.solve(root, _likeness(centres, places)).T
    return told


def _likeness(one: FloatArray, other: FloatArray) -> FloatArray:
    """exp(-d^2 / 2) of all pairs of places (n, 4) and (m, 4), (n, m)."""
    apart = ((one[:, None, :] - other[None, :, :]) ** 2).sum(axis=-1)
    alike: FloatArray = np.exp(-apart / 2)
    return alike
