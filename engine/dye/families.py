"""Families of absorbers: what is believed of a shade of which only its like is known."""

from dataclasses import dataclass
from functools import cache
from typing import Final

import numpy as np

from engine.arrays import FloatArray, frozen
from engine.colorimetry.grid import WAVELENGTHS_NM
from engine.dye.known import NODES, NODES_NM
from engine.dye.shade import BASE_EXPONENT, SMALLEST_KS
from engine.dye.shelf import demo_shelf
from engine.errors import Unknown

STRENGTH_SD: Final = 0.35  # of the logarithm
SHIFT_NM: Final = 5.0
WIDTH: Final = 0.1  # relative
REST_SD: Final = 0.25  # of the logarithm, smooth over REST_NM
REST_NM: Final = 45.0
BETWEEN_SD: Final = 1.2  # what the smooth rest grows by where a family absorbs next to nothing
FLOOR: Final = 0.02  # of a family's peak: what bands leave between them is not known better than that
NEUTRAL: Final = "neutral"
NEUTRAL_STRENGTH: Final = 3.0  # K at 550 nm of a neutral base: between those of levels 5 and 6
# Where nothing is known of a shade: any strength, any smooth course.
ANY_MEAN: Final = 0.5
ANY_SD: Final = 1.5
ANY_REST_SD: Final = 1.2
ANY_REST_NM: Final = 60.0


@dataclass(frozen=True, kw_only=True, eq=False)
class Prior:
    """The logarithm of K at strength 1 on the nodes: mean (nodes,) and covariance (nodes, nodes)."""

    name: str
    mean: FloatArray
    covariance: FloatArray


@cache
def families() -> tuple[str, ...]:
    """The names of all families: those of the demo shades, and neutral bases."""
    return (*(name for name, shade in demo_shelf().items() if not shade.is_clear), NEUTRAL)


@cache
def family(name: str) -> Prior:
    """What is believed of a family's members. Raises Unknown."""
    return like(name, absorption_of(name))


@cache
def absorption_of(name: str) -> FloatArray:
    """K (bands,) of a family's own shade, undiluted. Raises Unknown."""
    if name not in families():
        raise Unknown("family", name, families())
    if name == NEUTRAL:
        return frozen(NEUTRAL_STRENGTH * (WAVELENGTHS_NM / 550) ** -BASE_EXPONENT)
    shade = demo_shelf()[name]
    return frozen(shade.strength * shade.spectrum)


def like(name: str, absorption: FloatArray) -> Prior:
    """What is believed of a shade that is like one with K (bands,): its strength, where its bands lie, how wide they
    are, and a smooth rest, all as far as families of dyes stray. The founders' estimates."""
    floor = max(FLOOR * float(absorption.max()), SMALLEST_KS)

    def at(stretch: float = 1.0, shift_nm: float = 0.0) -> FloatArray:
        peak = float(WAVELENGTHS_NM[absorption.argmax()])
        there = peak + (NODES_NM - shift_nm - peak) / stretch
        return np.log(np.interp(there, WAVELENGTHS_NM, absorption) + floor)

    ways = np.stack(
        [
            np.full(NODES, STRENGTH_SD),
            (at(shift_nm=SHIFT_NM) - at(shift_nm=-SHIFT_NM)) / 2,
            (at(stretch=1 + WIDTH) - at(stretch=1 - WIDTH)) / 2,
        ]
    )
    mean = at()
    rest = REST_SD + BETWEEN_SD * floor / np.exp(mean)  # little is known of what lies between bands
    covariance = ways.T @ ways + rest[:, None] * rest[None, :] * smooth(1.0, REST_NM)
    return Prior(name=name, mean=frozen(mean), covariance=frozen(covariance))


@cache
def anything() -> Prior:
    """What is believed of a shade of which nothing is known."""
    covariance = np.full((NODES, NODES), ANY_SD**2) + smooth(ANY_REST_SD, ANY_REST_NM)
    return Prior(name="", mean=frozen(np.full(NODES, np.log(ANY_MEAN))), covariance=frozen(covariance))


def smooth(sd: float, nm: float) -> FloatArray:
    """A covariance (nodes, nodes) of courses that change over some nm, each node off by `sd`."""
    apart = (NODES_NM[:, None] - NODES_NM[None, :]) / nm
    covariance: FloatArray = sd**2 * np.exp(-0.5 * apart**2) + 1e-4 * np.eye(NODES)
    return covariance
