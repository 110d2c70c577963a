"""The physics of simulated salons, written apart from the engine's: how hair reflects, how it takes dye, what eyes see.

None of these laws is the engine's own but the first. What hair of a level looks like is shared, since a level *is* a
lightness; everything that dye does to it is not.
"""

from collections.abc import Callable
from dataclasses import dataclass, field

import numpy as np

from engine.arrays import FloatArray
from engine.colorimetry.grid import WAVELENGTHS_NM

Law = Callable[[FloatArray], FloatArray]
TINY = 1e-6


def assembly(surface: float, power: float = 0.5) -> Law:
    """exp(-2.378 K^p) over a surface; with surface 0.012 and power 0.5 it is the engine's own."""
    return lambda k: surface + (1 - surface) * np.exp(-2.378 * k**power)


def paint(surface: float, inside: float = 0.4, scale: float = 1.6) -> Law:
    """Kubelka and Munk's law for a layer that hides, seen through a surface that sends light back inside [SAU42]."""

    def law(k: FloatArray) -> FloatArray:
        ratio = scale * k
        deep = 1 + ratio - np.sqrt(ratio * (ratio + 2))
        return surface + (1 - surface) * (1 - inside) * deep / (1 - inside * deep)

    return law


def hyperbola(surface: float, power: float = 0.7, scale: float = 3.0) -> Law:
    """1 / (1 + a K^p) over a surface: falls sooner and has a longer tail than an exponential."""
    return lambda k: surface + (1 - surface) / (1 + scale * k**power)


def blend(one: Law, other: Law, share: float) -> Law:
    """A share of another law mixed into one."""
    return lambda k: (1 - share) * one(k) + share * other(k)


def undo(law: Law, reflectance: FloatArray) -> FloatArray:
    """K (...) at which a falling law gives a reflectance (...), by halving on a logarithmic scale."""
    low, high = np.full(reflectance.shape, np.log(1e-7)), np.full(reflectance.shape, np.log(1e5))
    for _ in range(60):
        middle = (low + high) / 2
        above = law(np.exp(middle)) > reflectance
        low, high = np.where(above, middle, low), np.where(above, high, middle)
    found: FloatArray = np.exp((low + high) / 2)
    return found


@dataclass(frozen=True, kw_only=True)
class World:
    """One salon's physics. uptake: share 0-1 of dye in the bowl to the share of its full effect.

    strengths: factors by shade. shifts_nm: how far its bands lie from where the line says. porosity_power and pace: how
    much porosity and time count. mingle: the power of the mean among white and dark fibres.
    """

    law: Law
    uptake: Callable[[FloatArray], FloatArray] = lambda share: share
    strengths: dict[str, float] = field(default_factory=dict)
    shifts_nm: dict[str, float] = field(default_factory=dict)
    porosity_power: float = 1.0
    pace: float = 1.0
    mingle: float = 0.6

    def moved(self, name: str, spectrum: FloatArray) -> FloatArray:
        """A shade's spectrum (bands,) where its bands really lie, at its real strength."""
        shifted = np.interp(WAVELENGTHS_NM - self.shifts_nm.get(name, 0.0), WAVELENGTHS_NM, spectrum)
        moved: FloatArray = shifted * self.strengths.get(name, 1.0)
        return moved

    def taken(self, shares: FloatArray, porosity: float, minutes: float | None, slowness_min: FloatArray) -> FloatArray:
        """How much of each dye's full effect hair takes, (shades,)."""
        crowd = shares.sum()
        whole = self.uptake(np.array([crowd]))[0] * shares / max(crowd, TINY)
        met = porosity**self.porosity_power
        reached = 1.0 if minutes is None else 1 - np.exp(-minutes * met / (slowness_min * self.pace))
        return np.asarray(whole * met * reached)

    def seen(self, bare: FloatArray, shares: FloatArray, dye: FloatArray) -> FloatArray:
        """Reflectance (bands,) of kinds of fibre, bare reflectance (kinds, bands) and shares (kinds,), with dye."""
        absorption = undo(self.law, np.maximum(bare, self.law(np.array(1e4)) + TINY)) + dye
        if len(shares) == 1:
            return self.law(absorption[0])
        return self.law((shares[:, None] * absorption**self.mingle).sum(axis=0) ** (1 / self.mingle))
