"""A shade: one tube, with its absorption, strength and kind."""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from functools import cached_property
from typing import Final

import numpy as np

from engine.arrays import FloatArray, frozen, within
from engine.colorimetry.bands import band
from engine.colorimetry.grid import BANDS

CLEAR: Final = "clear"
STRENGTH_LIMIT: Final = 30.0  # K/S; three times the most vivid demo shade
CENTRE_LIMITS_NM: Final = (300.0, 900.0)  # a band may have its centre just outside the visible
SIGMA_LIMITS_NM: Final = (5.0, 200.0)
WEIGHT_LIMIT: Final = 10.0
DIRECT_MINUTES: Final = 7.0  # time constant of a direct dye on evenly lightened hair


class Kind(StrEnum):
    """How a colour works."""

    DIRECT = "direct"
    DEMI = "demi"


# Common practice of the trade, no published source; schools differ, direct dyes are given 3 to 6.
LIFE_WASHES: Final = {Kind.DIRECT: 5.0, Kind.DEMI: 12.0}


@dataclass(frozen=True, kw_only=True)
class Band:
    """One absorption band: centre and spread in nm, weight without unit. Raises OutOfRange or WrongType."""

    centre_nm: float
    sigma_nm: float
    weight: float

    def __post_init__(self) -> None:
        within("band.centre_nm", self.centre_nm, *CENTRE_LIMITS_NM, "nm")
        within("band.sigma_nm", self.sigma_nm, *SIGMA_LIMITS_NM, "nm")
        within("band.weight", self.weight, 0.0, WEIGHT_LIMIT)


@dataclass(frozen=True, kw_only=True)
class Shade:
    """A tube of colour, or clear when it has no band.

    strength: K/S of the undiluted shade at full time on porosity 1, per unit of its spectrum.
    time_constant_min: minutes after which 63 % of the full uptake is reached. life: washes after which a quarter
    is left; None takes that of the kind.
    """

    name: str
    bands: tuple[Band, ...] = ()
    strength: float = 8.0
    kind: Kind = Kind.DIRECT
    time_constant_min: float = DIRECT_MINUTES
    life: float | None = None

    def __post_init__(self) -> None:
        if self.life is not None:
            within(f"shades.{self.name}.life", self.life, 0.5, 100.0, "washes")
        within(f"shades.{self.name}.strength", self.strength, 0.0, STRENGTH_LIMIT, "K/S")
        within(f"shades.{self.name}.time_constant_min", self.time_constant_min, 0.5, 60.0, "min")

    @property
    def life_washes(self) -> float:
        """Washes after which a quarter of the dye is left."""
        return LIFE_WASHES[self.kind] if self.life is None else self.life

    @property
    def is_clear(self) -> bool:
        """Whether the shade only dilutes."""
        return not self.bands or self.strength == 0

    @cached_property
    def spectrum(self) -> FloatArray:
        """Absorption (bands,) of one unit: the plain sum of its bands, not normalised."""
        return frozen(sum((b.weight * band(b.centre_nm, b.sigma_nm) for b in self.bands), np.zeros(BANDS)))


def spectra_of(shades: Sequence[Shade]) -> FloatArray:
    """The spectra of several shades, (shades, bands)."""
    return np.stack([shade.spectrum for shade in shades]) if shades else np.zeros((0, BANDS))
