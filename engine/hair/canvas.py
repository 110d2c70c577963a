"""The canvas: the state of one zone's hair before colour."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import lru_cache
from types import MappingProxyType
from typing import Final, Protocol

import numpy as np

from engine.arrays import FloatArray, frozen, within
from engine.hair.reflectance import filled_up, mingled
from engine.hair.residue import LEVEL_CLEAN_WHITE, LEVEL_DARKEST, Family, keratin, pigment

RANGES: Final[Mapping[str, tuple[float, float]]] = MappingProxyType(
    {
        "level": (LEVEL_DARKEST, LEVEL_CLEAN_WHITE),
        "warmth": (-2.0, 2.0),
        "lean": (0.0, 10.0),
        "porosity": (0.5, 1.6),
        "grey": (0.0, 1.0),
        "yellowing": (0.0, 1.0),
    }
)
OLD_K_S_LIMIT: Final = 20.0
WHITE_HAIR: Final = 2.2  # keratin of hair that grew white, over that of hair lightened to clean white: L* 81.5
YELLOWED_LEVEL: Final = 9.5  # white hair that has yellowed fully, as yellow as lightened hair: chosen by the founders


class Absorber(Protocol):
    """Anything that lies on hair and absorbs, such as a shade: K of one unit, (bands,), and what it is called."""

    @property
    def name(self) -> str:
        """What it is called."""
        ...

    @property
    def code(self) -> str:
        """What its shelf knows it by; empty for what is on none."""
        ...

    @property
    def tone(self) -> FloatArray:
        """K of one unit that adds itself to what is there, (bands,)."""
        ...

    @property
    def base(self) -> FloatArray:
        """K of one unit that fills up what is missing, (bands,)."""
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
    grey: area share 0-1 of white fibres. yellowing: 0-1, what sun, smoke and minerals have left on those. old: earlier
    colour still on the hair. family: what the pigment is; in natural hair, lean is the share of red pigment in tenths,
    and warmth has no part.
    """

    level: float
    warmth: float = 0.0
    lean: float = 0.0
    porosity: float = 1.0
    grey: float = 0.0
    yellowing: float = 0.0
    old: tuple[OldColour, ...] = field(default=())
    family: Family = Family.LIGHTENED

    def __post_init__(self) -> None:
        for name, (low, high) in RANGES.items():
            within(f"canvas.{name}", getattr(self, name), low, high)
        for index, layer in enumerate(self.old):
            within(f"canvas.old.{index}.k_s", layer.k_s, 0.0, OLD_K_S_LIMIT)


def lightened(canvas: Canvas, level: float) -> Canvas:
    """The hair once lightener has brought it to a level: old colour goes with it, and what yellowed its white.

    A lightened hair keeps its warmth and lean; natural hair's, its red pigment, says nothing of what will be left.
    """
    if canvas.family is Family.LIGHTENED:
        return replace(canvas, level=level, old=(), yellowing=0.0)
    return replace(canvas, level=level, old=(), yellowing=0.0, family=Family.LIGHTENED, warmth=0.0, lean=0.0)


@dataclass(frozen=True, kw_only=True, eq=False)
class Fibres:
    """A canvas as the kinds of fibre that lie among one another.

    bare: K of keratin and of old dye, (fibres, bands). pigment: K of what is natural or left, (fibres, bands).
    base: K of old neutral bases, (bands,). share: (fibres,), sum 1.
    """

    bare: FloatArray
    pigment: FloatArray
    base: FloatArray
    share: FloatArray

    @property
    def absorption(self) -> FloatArray:
        """K of the hair as it is, (fibres, bands)."""
        return self.bare + filled_up(self.pigment, self.base)

    def dyed(self, added: FloatArray) -> FloatArray:
        """K (..., bands) of all fibres together with what a bowl adds, (..., bands): tones, and bases behind them if
        any, as `engine.dye.shade.spectra_of` gives them."""
        return mingled(coloured(self.bare, self.pigment, self.base, added), self.share)


def side_by_side(hair: Sequence[Fibres]) -> Fibres:
    """Fibres of several zones as one, with zones in front of all shapes; a kind that one lacks has no share."""
    kinds = max(len(each.share) for each in hair)
    bare, pigments = np.ones((2, len(hair), kinds, hair[0].bare.shape[-1]))
    share = np.zeros((len(hair), kinds))
    for row, each in enumerate(hair):
        own = len(each.share)
        bare[row, :own], pigments[row, :own], share[row, :own] = each.bare, each.pigment, each.share
    return Fibres(bare=bare, pigment=pigments, base=np.stack([each.base for each in hair]), share=share)


def coloured(bare: FloatArray, pigment: FloatArray, base: FloatArray, added: FloatArray) -> FloatArray:
    """K (..., fibres, bands) of kinds of fibre with their old bases (..., bands), and what is added.

    added: tones (..., bands), with as many of bases behind them if there are any.
    """
    bands = bare.shape[-1]
    more = added[..., bands:] if added.shape[-1] > bands else 0.0
    return bare + added[..., None, :bands] + filled_up(pigment, (base + more)[..., None, :])


@lru_cache(maxsize=1024)
def fibres_of(canvas: Canvas) -> Fibres:
    """The fibres of a canvas: pigmented ones, and with grey also white ones with the same old colour."""
    left = pigment(canvas.family, canvas.level, canvas.warmth, canvas.lean)
    yellow = canvas.yellowing * pigment(Family.LIGHTENED, YELLOWED_LEVEL, 0.0, 0.0)
    white = (WHITE_HAIR * keratin() + yellow, 0 * left, canvas.grey)
    kinds = [each for each in ((keratin(), left, 1 - canvas.grey), white) if each[-1] > 0]
    clean, pigments, shares = zip(*kinds, strict=True)
    old: FloatArray = sum((layer.k_s * layer.shade.tone for layer in canvas.old), np.zeros_like(left))
    base: FloatArray = sum((layer.k_s * layer.shade.base for layer in canvas.old), np.zeros_like(left))
    return Fibres(
        bare=frozen(np.stack(clean) + old),
        pigment=frozen(np.stack(pigments)),
        base=frozen(base),
        share=frozen(shares),
    )
