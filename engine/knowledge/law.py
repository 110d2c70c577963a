"""The engine's physics with its constants set free, for one bowl or many, and their slopes."""

from dataclasses import dataclass
from functools import cached_property
from typing import Final, NamedTuple

import numpy as np

from engine.arrays import FloatArray
from engine.dye.fading import LEFT_AT_END
from engine.dye.uptake import CROWDING
from engine.hair.reflectance import MIXED, STEEPNESS, SURFACE, filled_up

POWER: Final = 0.5  # p of R = s + (1 - s) exp(-q K^p)
LEAST_CLEARANCE: Final = 1e-3  # of bare hair above the surface, where a free surface would swallow it
LEAST_K: Final = 1e-7
QUARTER: Final = float(np.log(LEFT_AT_END))  # of a dye is left at the end of its life


class Physics(NamedTuple):
    """Constants that a studio may have of its own; nothing is moved where all are 0.

    surface: logarithm of the surface share over the engine's. power: added to the law's power. crowding: logarithm of
    1 + beta. porosity: added to the power with which porosity counts. pace: logarithm of how much slower dyes take.
    """

    surface: float = 0.0
    power: float = 0.0
    crowding: float = float(np.log1p(CROWDING))
    porosity: float = 0.0
    pace: float = 0.0


UNMOVED: Final = Physics()


@dataclass(frozen=True, kw_only=True, eq=False)
class Hair:
    """Bare hair of many bowls, as kinds of fibre: `engine.hair.canvas.Fibres` with the bowls (n,) in front.

    bare, pigment: (n, kinds, bands). base: (n, bands). share: (n, kinds); a kind that one lacks has no share.
    """

    bare: FloatArray
    pigment: FloatArray
    base: FloatArray
    share: FloatArray

    @cached_property
    def filled(self) -> FloatArray:
        """K of pigment with what old bases fill up, (n, kinds, bands)."""
        return filled_up(self.pigment, self.base[:, None, :])

    @cached_property
    def usual(self) -> FloatArray:
        """K of the hair as the engine's own law has it, (n, kinds, bands)."""
        return self.bare + self.filled

    @cached_property
    def sent(self) -> FloatArray:
        """Reflectance of each kind of fibre by itself, (n, kinds, bands)."""
        return SURFACE + (1 - SURFACE) * np.exp(-STEEPNESS * np.sqrt(self.usual))

    @cached_property
    def mingled(self) -> FloatArray:
        """Reflectance of bare hair, (n, bands)."""
        mixed = (self.share[..., None] * self.usual**MIXED).sum(axis=1) ** (1 / MIXED)
        sent: FloatArray = SURFACE + (1 - SURFACE) * np.exp(-STEEPNESS * np.sqrt(mixed))
        return sent


@dataclass(frozen=True, kw_only=True, eq=False)
class Doses:
    """What hair meets of each shade in each coat, (n, coats, shades) if not said otherwise.

    fractions: of the bowl. crowd: their sum, (n, coats). thick: what thickness and damp make of it. met: porosity as
    dye meets it, (n, coats). turns: minutes over the time constant, infinite at full time. worn: washes times porosity
    over the life.
    """

    fractions: FloatArray
    crowd: FloatArray
    thick: FloatArray
    met: FloatArray
    turns: FloatArray
    worn: FloatArray


class Taken(NamedTuple):
    """What hair takes of each shade, K units, and how it answers to constants; all (n, shades)."""

    units: FloatArray
    by_crowding: FloatArray
    by_porosity: FloatArray
    by_pace: FloatArray
    by_life: FloatArray


def taken(doses: Doses, strengths: FloatArray, physics: Physics = UNMOVED, lives: FloatArray | None = None) -> Taken:
    """K units of each shade, over all coats. strengths: (shades,), or (n, shades) where bowls differ in them.

    lives: logarithms (shades,) of how much longer than usual a shade lasts. By porosity is per unit of its power.
    """
    more = np.exp(physics.crowding)
    crowded = 1 + (more - 1) * doses.crowd
    met = doses.met ** (1 + physics.porosity)
    turned = doses.turns * (met * np.exp(-physics.pace))[..., None]
    reached = -np.expm1(-turned)
    late = np.where(np.isfinite(turned), turned, 0.0)
    # How the share that is reached answers to its exponent, in logarithms; where no time has passed, one to one.
    hurry = np.where(late > 0, late * np.exp(-late) / np.where(late > 0, reached, 1.0), 1.0 * (turned == 0))
    worn = QUARTER * doses.worn * (1.0 if lives is None else np.exp(-lives))
    units = (
        np.expand_dims(np.broadcast_to(strengths, doses.fractions.shape[::2]), 1)
        * doses.fractions
        * doses.thick
        * reached
        * np.exp(worn)
        * (met * more / crowded)[..., None]
    )
    by_crowding = (1 - more * doses.crowd / crowded)[..., None]
    return Taken(
        units=units.sum(axis=1),
        by_crowding=(units * by_crowding).sum(axis=1),
        by_porosity=(units * np.log(doses.met)[..., None] * (1 + hurry)).sum(axis=1),
        by_pace=-(units * hurry).sum(axis=1),
        by_life=-(units * worn).sum(axis=1),
    )


class Seen(NamedTuple):
    """Reflectance (n, bands), and its slopes (n, bands) by what is added of tone and of base, by surface and power."""

    reflectance: FloatArray
    by_tone: FloatArray
    by_base: FloatArray
    by_surface: FloatArray
    by_power: FloatArray


def seen(hair: Hair, tone: FloatArray, base: FloatArray | None, physics: Physics = UNMOVED) -> Seen:
    """Hair with K (n, bands) of tone added and of base filled up.

    Whatever the law, bare hair looks as its level says: its K is what this law needs for that look, and where a law
    can't be as dark as the hair is, what it says of the change counts.
    """
    s, p = SURFACE * np.exp(physics.surface), POWER + physics.power
    bare, bare_by_s, bare_by_p = _own_absorption(hair, s, p, is_usual=physics.surface == 0 and physics.power == 0)
    filled, by_base = (0.0, None) if base is None else _filled(hair, base)
    found = _reflected(hair, bare + filled + tone[:, None, :], (bare_by_s, bare_by_p, by_base), s, p)
    if physics.surface == 0 and physics.power == 0:
        return found
    start = _reflected(hair, bare, (bare_by_s, bare_by_p, None), s, p)
    return found._replace(
        reflectance=found.reflectance - start.reflectance + hair.mingled,
        by_surface=found.by_surface - start.by_surface,
        by_power=found.by_power - start.by_power,
    )


def _reflected(
    hair: Hair,
    absorption: FloatArray,
    slopes: tuple[FloatArray, FloatArray, FloatArray | None],
    s: float,
    p: float,
) -> Seen:
    """What the law of s and p makes of K (n, kinds, bands), whose slopes by s, p and base are given."""
    by_s, by_p, by_base = slopes
    k = np.maximum(absorption, LEAST_K)
    mixed = (hair.share[..., None] * k**MIXED).sum(axis=1) ** (1 / MIXED)
    inner = hair.share[..., None] * (mixed[:, None, :] / k) ** (1 - MIXED)
    raised = mixed**p
    gone = np.exp(-STEEPNESS * raised)
    steep = -(1 - s) * gone * STEEPNESS * p * raised / mixed
    return Seen(
        reflectance=s + (1 - s) * gone,
        by_tone=steep * inner.sum(axis=1),
        by_base=np.zeros_like(steep) if by_base is None else steep * (inner * by_base).sum(axis=1),
        by_surface=s * (1 - gone + steep * (inner * by_s).sum(axis=1)),
        by_power=-(1 - s) * gone * STEEPNESS * raised * np.log(mixed) + steep * (inner * by_p).sum(axis=1),
    )


def _own_absorption(hair: Hair, s: float, p: float, *, is_usual: bool) -> tuple[FloatArray, FloatArray, FloatArray]:
    """K (n, kinds, bands) at which the law of s and p sends back what hair does, and its slopes by s and p."""
    clear = np.maximum(hair.sent - s, LEAST_CLEARANCE)
    depth = np.log((1 - s) / clear)
    k = hair.usual if is_usual else (depth / STEEPNESS) ** (1 / p)
    met = (hair.sent - s > LEAST_CLEARANCE) / clear
    return k, k / (p * depth) * (met - 1 / (1 - s)), -k * np.log(k) / p


def _filled(hair: Hair, base: FloatArray) -> tuple[FloatArray, FloatArray]:
    """K (n, kinds, bands) that a base (n, bands) fills up beyond what is there, and its slope."""
    there, whole = hair.pigment**3, (hair.base + base)[:, None, :]
    sixth = there**2 + whole**6
    now = np.maximum(sixth, LEAST_K**6) ** (1 / 6)
    return now - hair.filled, (whole / now) ** 5
