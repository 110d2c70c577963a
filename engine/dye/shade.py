"""A shade: one tube, with its absorption, strength and kind."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache, cached_property
from typing import Final

import numpy as np

from engine.arrays import FloatArray, each_within, frozen, within
from engine.colorimetry.bands import band
from engine.colorimetry.grid import BANDS, WAVELENGTHS_NM
from engine.dye.kind import Kind
from engine.dye.known import ShadeDoubt
from engine.errors import BadInput, OutOfRange
from engine.hair.residue import LEVEL_CLEAN_WHITE, LEVEL_DARKEST, amount_for_lightness, level_lightness

CLEAR: Final = "clear"
STRENGTH_LIMIT: Final = 30.0  # K/S; three times the most vivid demo shade
CENTRE_LIMITS_NM: Final = (300.0, 900.0)  # a band may have its centre just outside the visible
SIGMA_LIMITS_NM: Final = (5.0, 200.0)
WEIGHT_LIMIT: Final = 10.0
SAMPLE_LIMIT: Final = 100.0
SMALLEST_KS: Final = 1e-3
BASED_STRENGTH_LEAST: Final = 0.05  # of a shade with a level
BASE_EXPONENT: Final = 1.5  # between grey (0) and eumelanin (3.33): a neutral brown; chosen by the founders


THINS_LIMITS: Final = (0.2, 5.0)
RATIO_LIMITS: Final = (0.1, 10.0)  # parts of developer to one of colour


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

    code: what its shelf knows it by, where two lines may have a shade of one name, such as the number of its row.
    strength: K/S of the undiluted shade at full time on porosity 1, per unit of its spectrum.
    samples: a measured absorption on the engine's grid, beside or instead of bands.
    time_constant_min: minutes after which 63 % of the full uptake is reached. life: washes after which a quarter is
    left. None takes what is usual for the kind.
    level: of an oxidative shade, whose neutral base alone brings clean white hair to that level.
    ratio: parts of developer that its line asks for, to one of colour. line: the name of its line.
    doubt: how well its absorption is known; None for what is usual of a shade that a line describes.
    thins: of a colourless one, such as a conditioner: grams of plain clear that one gram of it stands for.
    """

    name: str
    code: str = ""
    bands: tuple[Band, ...] = ()
    samples: tuple[float, ...] = ()
    strength: float = 8.0
    kind: Kind = Kind.DIRECT
    time_constant_min: float | None = None
    life: float | None = None
    level: float | None = None
    ratio: float | None = None
    thins: float = 1.0
    line: str = ""
    doubt: ShadeDoubt | None = None

    def __post_init__(self) -> None:
        within(f"shades.{self.name}.thins", self.thins, *THINS_LIMITS)
        if self.thins != 1 and not self.is_clear:
            raise BadInput(f"shades.{self.name}.thins", f"shades.{self.name}.thins is for clear and conditioner only")
        if self.level is not None:
            if not self.kind.is_oxidative:
                raise BadInput(
                    f"shades.{self.name}.level", f"shades.{self.name}.level is for demi and permanent shades"
                )
            within(f"shades.{self.name}.level", self.level, LEVEL_DARKEST, LEVEL_CLEAN_WHITE)
            within(f"shades.{self.name}.strength", self.strength, BASED_STRENGTH_LEAST, STRENGTH_LIMIT, "K/S")
        if self.samples and len(self.samples) != BANDS:
            raise OutOfRange(f"shades.{self.name}.samples (entries)", len(self.samples), BANDS, BANDS)
        each_within(f"shades.{self.name}.samples", self.samples, 0.0, SAMPLE_LIMIT, "K/S")
        if self.ratio is not None:
            within(f"shades.{self.name}.ratio", self.ratio, *RATIO_LIMITS, "parts of developer")
        if self.life is not None:
            within(f"shades.{self.name}.life", self.life, 0.5, 100.0, "washes")
        within(f"shades.{self.name}.strength", self.strength, 0.0, STRENGTH_LIMIT, "K/S")
        if self.time_constant_min is not None:
            within(f"shades.{self.name}.time_constant_min", self.time_constant_min, 0.5, 60.0, "min")

    def __hash__(self) -> int:
        return self._hash

    @cached_property
    def _hash(self) -> int:
        """Reckoned once: shades are keys wherever something is remembered, and their bands are many."""
        return hash((self.key, self.bands, self.samples, self.strength, self.kind, self.line))

    def __getstate__(self) -> dict[str, object]:
        """Without the hash, which another process would reckon otherwise."""
        return {name: value for name, value in vars(self).items() if name != "_hash"}

    @property
    def key(self) -> str:
        """What tells the shade from all others of its shelf: its code, or its name where it has none."""
        return self.code or self.name

    @property
    def life_washes(self) -> float:
        """Washes after which a quarter of the dye is left."""
        return self.kind.habits.life_washes if self.life is None else self.life

    @property
    def uptake_min(self) -> float:
        """Minutes after which 63 % of the full uptake is reached."""
        return self.kind.habits.time_constant_min if self.time_constant_min is None else self.time_constant_min

    @property
    def is_clear(self) -> bool:
        """Whether the shade only dilutes."""
        return (not (self.bands or self.samples) or self.strength == 0) and self.level is None

    @cached_property
    def tone(self) -> FloatArray:
        """K (bands,) of one unit, without its base: the plain sum of its bands, not normalised."""
        tone = np.array(self.samples) if self.samples else np.zeros(BANDS)
        for each in self.bands:
            tone = tone + each.weight * band(each.centre_nm, each.sigma_nm)
        return frozen(tone)

    @cached_property
    def base(self) -> FloatArray:
        """K (bands,) of the neutral base in one unit: nothing for a shade without a level."""
        return frozen(np.zeros(BANDS) if self.level is None else neutral_base(self.level) / self.strength)

    @property
    def spectrum(self) -> FloatArray:
        """K (bands,) of one unit on clean white hair: tone and base."""
        return self.tone + self.base


@cache
def neutral_base(level: float) -> FloatArray:
    """K/S (bands,) of an oxidative shade's base: a neutral brown that brings clean white hair to a level."""
    if level >= LEVEL_CLEAN_WHITE:
        return frozen(np.zeros(BANDS))
    return amount_for_lightness((WAVELENGTHS_NM / 550) ** -BASE_EXPONENT, float(level_lightness(level)))


def thins_of(shades: Sequence[Shade]) -> FloatArray:
    """How much each of several shades dilutes, gram for gram of plain clear, (shades,)."""
    return np.array([shade.thins for shade in shades])


def spectra_of(shades: Sequence[Shade]) -> FloatArray:
    """The tones of several shades, (shades, bands); with bases behind if one has a level, (shades, 2 bands)."""
    if not shades:
        return np.zeros((0, BANDS))
    tones = np.stack([shade.tone for shade in shades])
    if all(shade.level is None for shade in shades):
        return tones
    return np.hstack([tones, np.stack([shade.base for shade in shades])])
