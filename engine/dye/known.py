"""How well a shade's absorption is known: the logarithm of its K on nodes, as a mean and a covariance of low rank."""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from functools import cached_property
from typing import Final

import numpy as np

from engine.arrays import FloatArray, frozen, within
from engine.colorimetry.grid import WAVELENGTHS_NM
from engine.errors import OutOfRange

NODES_NM: Final = frozen(np.arange(380, 781, 20))
NODES: Final = len(NODES_NM)
RANK_MOST: Final = 8
FACTOR_LIMIT: Final = 10.0
COUNT_MOST: Final = 500
# What a value at each band owes to the nodes: straight lines between them, (nodes, bands).
JOINED: Final = frozen(np.stack([np.interp(WAVELENGTHS_NM, NODES_NM, unit) for unit in np.eye(NODES)]))


class Known(StrEnum):
    """Where a shade's absorption comes from."""

    NAMED = "named"
    SWATCH = "swatch"
    STRANDS = "strands"
    INSTRUMENT = "instrument"
    RESULTS = "results"


@dataclass(frozen=True, kw_only=True)
class ShadeDoubt:
    """Where a shade is known from, from how many readings, and how surely.

    factors: rows whose products add up to the covariance of the logarithm of K on the nodes, up to RANK_MOST of NODES
    numbers. Raises OutOfRange or WrongType.
    """

    source: Known
    count: int
    factors: tuple[tuple[float, ...], ...]

    def __post_init__(self) -> None:
        within("doubt.count", self.count, 0, COUNT_MOST)
        if len(self.factors) > RANK_MOST:
            raise OutOfRange("doubt.factors (entries)", len(self.factors), 0, RANK_MOST)
        for index, row in enumerate(self.factors):
            if len(row) != NODES:
                raise OutOfRange(f"doubt.factors.{index} (entries)", len(row), NODES, NODES)
            for place, value in enumerate(row):
                within(f"doubt.factors.{index}.{place}", value, -FACTOR_LIMIT, FACTOR_LIMIT)

    @cached_property
    def by_band(self) -> FloatArray:
        """What each factor moves the logarithm of K by, (factors, bands)."""
        return frozen(np.array(self.factors).reshape(-1, NODES) @ JOINED)

    def __getstate__(self) -> dict[str, object]:
        """Without what is reckoned from the rest."""
        return {name: value for name, value in vars(self).items() if name != "by_band"}


def doubt_from(covariance: FloatArray, source: Known, count: int) -> ShadeDoubt:
    """A doubt of low rank from a covariance (nodes, nodes): its largest directions."""
    values, vectors = np.linalg.eigh(covariance)
    order = np.argsort(values)[::-1][:RANK_MOST]
    factors: Sequence[Sequence[float]] = (vectors[:, order] * np.sqrt(np.maximum(values[order], 0))).T.round(5).tolist()
    return ShadeDoubt(source=source, count=count, factors=tuple(tuple(row) for row in factors))
