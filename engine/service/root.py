"""The root of a bright look: a shadow, left natural, solid, or a tap of shadow alone."""

from enum import StrEnum
from typing import Final

import numpy as np

from engine.arrays import FloatArray
from engine.hair.residue import LEVEL_DARKEST, level_lightness, level_of_lightness

SHADOW_LEVELS: Final = 2.0  # by which a shadow is deeper than the lengths; chosen by the founders
TAP_LEVELS: Final = 1.0
TAP_CM: Final = 2.0  # how far from the scalp a tap reaches; chosen by the founders


class RootLook(StrEnum):
    """Four schools of what the root of a bright look gets; common practice, no published source."""

    SHADOW = "shadow"
    NATURAL = "natural"
    SOLID = "solid"
    TAP = "tap"

    @property
    def levels_deeper(self) -> float:
        """By how many levels it is deeper than the lengths; 0 where it is coloured as they are, or not at all."""
        return {RootLook.SHADOW: SHADOW_LEVELS, RootLook.TAP: TAP_LEVELS}.get(self, 0.0)

    @property
    def to_cm(self) -> float | None:
        """How far from the scalp it reaches; None for as far as the zone does."""
        return TAP_CM if self is RootLook.TAP else None


def shadow_lab(lengths_lab: FloatArray, levels: float) -> FloatArray:
    """A colour (3,) in the shadow of another (3,), so many levels deeper: of the same hue, and no more vivid for its
    depth.
    """
    level = max(float(level_of_lightness(lengths_lab[0])) - levels, LEVEL_DARKEST)
    lightness = min(float(level_lightness(level)), float(lengths_lab[0]))
    rest = lightness / float(lengths_lab[0]) if lengths_lab[0] > 0 else 0.0
    return np.array([lightness, *(rest * lengths_lab[1:])])
