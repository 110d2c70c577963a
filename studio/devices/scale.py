"""The scale under the bowl: it sends grams, and whether they stand still."""

from dataclasses import dataclass
from enum import StrEnum
from typing import Final, Protocol

import numpy as np

STEP_G: Final = 0.1
NOISE_G: Final = 0.02  # by which the simulated scale's weight trembles
SETTLES_S: Final = 1.0  # after the last drop, until a weight stands still
DRIFT_G_PER_S: Final = 0.02
MOST_G: Final = 3000.0


class ScaleFault(Exception):
    """The scale gave no weight; `code` tells why."""

    def __init__(self, code: str) -> None:
        super().__init__(code)
        self.code = code


@dataclass(frozen=True, kw_only=True)
class Weight:
    """Grams since the last tare, and whether they have come to rest."""

    grams: float
    stable: bool


class Scale(Protocol):
    """What every scale does. Raises ScaleFault not_there, or overload for more than it bears."""

    def weigh(self) -> Weight:
        """The weight now."""


class Fault(StrEnum):
    """What the simulated scale can be told to do wrong."""

    NONE = "none"
    DRIFTS = "drifts"
    UNSTEADY = "unsteady"
    UNPLUGGED = "unplugged"


class SimulatedScale:
    """A stand-in: what lies on its pan is told to it, it trembles, settles, and has faults on request.

    load_g: what lies on the pan. tare_g: the load that it calls nothing. rested_s: seconds since the load changed.
    """

    def __init__(
        self, *, load_g: float, tare_g: float, rested_s: float, fault: Fault = Fault.NONE, seed: int = 0
    ) -> None:
        self._net_g = load_g - tare_g
        self._load_g = load_g
        self._rested_s = rested_s
        self._fault = fault
        self._chance = np.random.default_rng(seed)

    def weigh(self) -> Weight:
        """The weight now. Raises ScaleFault."""
        if self._fault is Fault.UNPLUGGED:
            raise ScaleFault("not_there")
        if self._load_g > MOST_G:
            raise ScaleFault("overload")
        settled = self._rested_s >= SETTLES_S and self._fault is not Fault.UNSTEADY
        tremble = NOISE_G if settled else 10 * NOISE_G
        drift = DRIFT_G_PER_S * self._rested_s if self._fault is Fault.DRIFTS else 0.0
        shown = self._net_g + drift + float(self._chance.normal(0, tremble))
        return Weight(grams=round(round(shown / STEP_G) * STEP_G, 1), stable=settled)
