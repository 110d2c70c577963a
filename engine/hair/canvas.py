"""The canvas: the state of one zone's hair before colour."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import lru_cache
from types import MappingProxyType
from typing import Final, Protocol

import numpy as np

from engine.arrays import FloatArray, frozen, within
from engine.hair.residue import LEVEL_CLEAN_WHITE, LEVEL_DARKEST, Family, keratin, pigment

RANGES: Final[Mapping[str, tuple[float, float]]] = MappingProxyType(
    {
        "level": (LEVEL_DARKEST, LEVEL_CLEAN_WHITE),
        "warmth": (-2.0, 2.0),
        "lean": (0.0, 10.0),
        "porosity": (0.5, 1.6),
        "grey": (0.0, 1.0),
    }
)
OLD_K_S_LIMIT: Final = 20.0


class Absorber(Protocol):
    """Anything with an absorption spectrum (bands,) and a name, such as a shade."""

    @property
    def name(self) -> str:
        """What it is called."""
        ...

    @property
    def spectrum(self) -> FloatArray:
        """K/S of one unit, (bands,)."""
        ...


@dataclass(frozen=True, kw_only=True)
class OldColour:
    """What is left of an earlier dye: its shade, and K/S of one unit of that shade's spectrum."""

    shade: Absorber
    k_s: float


@dataclass(frozen=True, kw_only=True)
class Canvas:
    """One zone's hair. Raises OutOfRange or WrongType, with the field under `canvas.`.

    level: 1 (black) to 10 (palest yellow), 11 = clean white. warmth: -2 (ashy) to 2 (brassy).
    lean: 0 (yellow) to 10 (orange-red). porosity: 0.5 (resistant) to 1.6 (overworked).
    grey: area share 0-1 of white fibres. old: earlier colour still on the hair. family: what the pigment is;
    in natural hair, lean is the share of red pigment in tenths, and warmth has no part.
    """

    level: float
    warmth: float = 0.0
    lean: float = 0.0
    porosity: float = 1.0
    grey: float = 0.0
    old: tuple[OldColour, ...] = field(default=())
    family: Family = Family.LIGHTENED

    def __post_init__(self) -> None:
        for name, (low, high) in RANGES.items():
            within(f"canvas.{name}", getattr(self, name), low, high)
        for index, layer in enumerate(self.old):
            within(f"canvas.old.{index}.k_s", layer.k_s, 0.0, OLD_K_S_LIMIT)


@dataclass(frozen=True, kw_only=True, eq=False)
class Fibres:
    """A canvas as the kinds of fibre that lie side by side. absorption: (fibres, bands). share: (fibres,), sum 1."""

    absorption: FloatArray
    share: FloatArray


@lru_cache(maxsize=1024)
def fibres_of(canvas: Canvas) -> Fibres:
    """K/S of the canvas: pigmented fibres, and with grey also white ones with the same old colour."""
    pigmented = keratin() + pigment(canvas.family, canvas.level, canvas.warmth, canvas.lean)
    kinds, shares = [pigmented], [1.0]
    if canvas.grey > 0:
        kinds, shares = [pigmented, keratin()], [1 - canvas.grey, canvas.grey]
    old: FloatArray = sum((layer.k_s * layer.shade.spectrum for layer in canvas.old), np.zeros_like(pigmented))
    return Fibres(absorption=frozen(np.stack(kinds) + old), share=frozen(shares))
