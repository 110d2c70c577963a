"""What a shelf can reach on a canvas, and the least lightening that brings a target within reach."""

from bisect import bisect_left
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import lru_cache
from math import floor
from typing import Final

import numpy as np

from engine.arrays import FloatArray, frozen
from engine.bowl.goal import tables_of
from engine.bowl.grow import every_set
from engine.bowl.match import nearest
from engine.bowl.mix import FULL_TIME_DRY, Process
from engine.bowl.ranking import JUST_VISIBLE
from engine.bowl.reckon import reckoning_of
from engine.colorimetry.lab import lch_of
from engine.colorimetry.lights import Light
from engine.dye.shade import Shade
from engine.errors import EmptyShelf
from engine.hair.canvas import Canvas, lightened
from engine.hair.residue import LEVEL_CLEAN_WHITE

HUE_BINS: Final = 36
SLICE: Final = 2.0  # L* to either side of a depth that counts as that depth
PROPORTIONS: Final = (0.1, 0.25, 0.5, 0.75, 0.9)  # of the first of two shades; each is also tried alone
DILUTIONS: Final = frozen(np.geomspace(0.003, 1.0, 28))
DEPTH_BINS: Final = 400  # a quarter of L* each, within which the richest of a hue stands for the others
LEVEL_STEP: Final = 0.25  # how finely the level needed is told


@dataclass(frozen=True, kw_only=True, eq=False)
class Reach:
    """The strongest chroma at each hue, (bins,), that pairs of shades reach at a depth; 0 where nothing lies.

    hues_deg: the middle of each bin. richest: the L*a*b* (bins, 3) of those colours.
    """

    depth: float
    hues_deg: FloatArray
    chroma: FloatArray
    richest: FloatArray


@dataclass(frozen=True, kw_only=True, eq=False)
class Within:
    """Whether a target is within reach, the nearest colour (3,) that is, and the least level that reaches it.

    lowest_level: None when no lightening brings this shelf to the target; the canvas's own level when none is needed.
    best_level, best_delta_e00: where it comes nearest, of the canvas's level and the whole ones above, and how near; or
    the lowest level. Lighter isn't always nearer: a deep colour may lack a shade's depth on clean white.
    """

    reachable: bool
    nearest_lab: FloatArray
    delta_e00: float
    lowest_level: float | None
    best_level: float
    best_delta_e00: float


def reach(
    canvas: Canvas,
    shelf: Sequence[Shade],
    depth: float,
    *,
    process: Process = FULL_TIME_DRY,
    light: Light = Light.DAYLIGHT,
) -> Reach:
    """Every pair of shades in several proportions and dilutions, and the richest of each hue at a depth L*.

    Raises EmptyShelf.
    """
    labs = _richest(canvas, tuple(shelf), process, light)
    labs = labs[np.abs(labs[:, 0] - depth) <= SLICE]
    lch = lch_of(labs)
    width = 360 / HUE_BINS
    bins = (lch[:, 2] // width).astype(int) % HUE_BINS
    chroma, richest = np.zeros(HUE_BINS), np.zeros((HUE_BINS, 3))
    order = np.argsort(lch[:, 1], kind="stable")  # of those of one hue the richest comes last, and stays
    chroma[bins[order]], richest[bins[order]] = lch[order, 1], labs[order]
    return Reach(
        depth=depth,
        hues_deg=frozen((np.arange(HUE_BINS) + 0.5) * width),
        chroma=frozen(chroma),
        richest=frozen(richest),
    )


def within_reach(
    canvas: Canvas,
    shelf: Sequence[Shade],
    target_lab: FloatArray,
    *,
    max_shades: int = 2,
    near: float = JUST_VISIBLE,
    process: Process = FULL_TIME_DRY,
    light: Light = Light.DAYLIGHT,
) -> Within:
    """Whether up to max_shades shades reach a target (3,) on a canvas, and if not, how light it must be.

    near: delta E00 below which a colour counts as reached. What is lighter than the canvas is hair that lightener has
    been on. Raises EmptyShelf.
    """

    @lru_cache
    def at(level: float) -> tuple[FloatArray, float]:
        hair = canvas if level == canvas.level else lightened(canvas, level)
        return nearest(hair, shelf, target_lab, max_shades=max_shades, process=process, light=light)

    lab, difference = at(canvas.level)
    tried = [canvas.level]
    while at(tried[-1])[1] >= near and tried[-1] < LEVEL_CLEAN_WHITE:
        tried.append(float(floor(tried[-1]) + 1))
    reached = at(tried[-1])[1] < near
    if reached and len(tried) > 1:
        tried.append(_least(tried[-2], tried[-1], lambda level: at(level)[1] < near))
    best = tried[-1] if reached else min(tried, key=lambda level: at(level)[1])
    return Within(
        reachable=difference < near,
        nearest_lab=frozen(lab),
        delta_e00=difference,
        lowest_level=best if reached else None,
        best_level=best,
        best_delta_e00=at(best)[1],
    )


def _least(low: float, high: float, reaches: Callable[[float], bool]) -> float:
    """The lowest level in steps over `low`, which doesn't reach, up to `high`, which does."""
    steps = np.arange(np.floor(low / LEVEL_STEP) + 1, high / LEVEL_STEP + 1) * LEVEL_STEP
    return float(steps[bisect_left(steps, True, hi=len(steps) - 1, key=lambda level: reaches(float(level)))])


@lru_cache(maxsize=64)
def _richest(canvas: Canvas, shelf: tuple[Shade, ...], process: Process, light: Light) -> FloatArray:
    """L*a*b* (mixes, 3) of pairs of shades, each alone and the bare canvas: the richest of each hue at each depth.

    They are the same for every depth asked for, and kept. Found on a quarter of the bands, and told on half.
    """
    from engine.bowl.loops.look import labs, richest

    colours = [shade for shade in shelf if not shade.is_clear]
    if not colours:
        raise EmptyShelf
    count = len(colours)
    pairs = np.vstack([np.tile(np.arange(count, dtype=np.intp)[:, None], 2), every_set(count, 2)])
    mixes = np.array([(share, 1 - share) for share in PROPORTIONS])
    reckoning = reckoning_of(canvas, colours, process, light).coarse()
    few = tables_of([reckoning.coarse()])
    chroma, of_set, of_mix, diluted = richest(few, pairs, mixes, DILUTIONS, DEPTH_BINS, HUE_BINS)
    there = chroma >= 0
    fractions = mixes[of_mix[there]] * DILUTIONS[diluted[there], None]
    bare = np.zeros((1, 2), dtype=np.intp), np.zeros((1, 2))
    return frozen(
        labs(tables_of([reckoning]), np.vstack([bare[0], pairs[of_set[there]]]), np.vstack([bare[1], fractions]))
    )
