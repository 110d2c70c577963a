"""Branches of a recipe: the same idea brighter, softer, warmer or deeper, each as a bowl of its own."""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

import numpy as np

from engine.arrays import FloatArray, frozen
from engine.bowl.match import Recipe, match
from engine.bowl.mix import FULL_TIME_DRY, Process
from engine.bowl.weigh import Scale
from engine.colorimetry.lab import lab_from_lch, lch_of
from engine.dye.shade import Shade
from engine.hair.canvas import Canvas

# How far a branch goes: chosen by the founders, each plainly seen and still of the same family.
STRENGTH_STEP: Final = 10.0  # C*
TURN_DEG: Final = 15.0
DEPTH_STEP: Final = 8.0  # L*
WARMEST_DEG: Final = 62.0  # orange


class Branch(StrEnum):
    """Which way from the recipe."""

    BRIGHTER = "brighter"
    SOFTER = "softer"
    WARMER = "warmer"
    DEEPER = "deeper"


@dataclass(frozen=True, kw_only=True, eq=False)
class Branched:
    """A branch: what it aims at (3,) and the recipe that comes nearest to it."""

    branch: Branch
    aim_lab: FloatArray
    recipe: Recipe


def branch_aim(lab: FloatArray, branch: Branch) -> FloatArray:
    """The colour (3,) that a branch of a colour (3,) aims at."""
    lightness, chroma, hue = (float(part) for part in lch_of(lab))
    match branch:
        case Branch.BRIGHTER:
            chroma += STRENGTH_STEP
        case Branch.SOFTER:
            chroma, lightness = max(chroma - STRENGTH_STEP, 0.0), lightness + DEPTH_STEP / 2
        case Branch.WARMER:
            away = (WARMEST_DEG - hue + 180) % 360 - 180
            hue += float(np.sign(away)) * min(abs(away), TURN_DEG)
        case Branch.DEEPER:
            lightness -= DEPTH_STEP
    return frozen(lab_from_lch(np.array([np.clip(lightness, 2.0, 98.0), chroma, hue % 360])))


def branches(
    canvas: Canvas,
    lab: FloatArray,
    shelf: Sequence[Shade],
    *,
    scale: Scale,
    max_shades: int = 3,
    process: Process = FULL_TIME_DRY,
) -> tuple[Branched, ...]:
    """All branches of a colour (3,) on a canvas with a shelf. Raises EmptyShelf."""
    found = []
    for branch in Branch:
        aim_lab = branch_aim(lab, branch)
        best = match(canvas, shelf, aim_lab, scale=scale, max_shades=max_shades, answers=1, process=process)
        found.append(Branched(branch=branch, aim_lab=aim_lab, recipe=best.recipes[0]))
    return tuple(found)
