"""Which way and how far the colour moves if a little more of a shade goes in now."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from engine.arrays import FloatArray, frozen, within
from engine.bowl.mix import FULL_TIME_DRY, GRAMS_LIMIT, Bowl, Process
from engine.bowl.reckon import reckoning_of
from engine.bowl.taught import beside, is_beside
from engine.colorimetry.difference import delta_e00
from engine.colorimetry.lights import Light
from engine.dye.shade import Shade, thins_of
from engine.errors import EmptyShelf
from engine.hair.canvas import Canvas


@dataclass(frozen=True, kw_only=True, eq=False)
class Pull:
    """One shade's pull: the colour (3,) that it would give, the way it goes (3,), and how far in delta E00."""

    shade: Shade
    lab: FloatArray
    d_lab: FloatArray
    delta_e00: float


@dataclass(frozen=True, kw_only=True, eq=False)
class Steering:
    """Where the bowl stands, L*a*b* (3,), and the pull of every shade, in shelf order."""

    lab: FloatArray
    pulls: tuple[Pull, ...]

    @property
    def by_key(self) -> dict[str, Pull]:
        """The pulls by what the shelf knows their shades by."""
        return {pull.shade.key: pull for pull in self.pulls}


def steer(
    canvas: Canvas,
    grams: Mapping[Shade, float],
    shelf: Sequence[Shade],
    *,
    add_g: float | Sequence[float] = 1.0,
    process: Process = FULL_TIME_DRY,
    light: Light = Light.DAYLIGHT,
) -> Steering:
    """What add_g grams of each shade of the shelf would do to a bowl; an empty bowl starts from the bare canvas.

    add_g: one for all, or one for each. All bowls are reckoned at once. Raises EmptyShelf, OutOfRange.
    """
    if not shelf:
        raise EmptyShelf
    adds = np.broadcast_to(np.asarray(add_g), len(shelf))
    for grams_more in set(adds.tolist()):
        within("add_grams", grams_more, 0.01, GRAMS_LIMIT, "g")
    shades = list(dict.fromkeys([*shelf, *grams]))
    held = np.array([grams.get(shade, 0.0) for shade in shades])
    mixed = np.vstack([held, held + adds[:, None] * np.eye(len(shades))[: len(shelf)]])
    bowls = mixed * thins_of(shades)
    fractions = bowls / np.maximum(bowls.sum(axis=-1, keepdims=True), 1e-12)
    coloured = [index for index, shade in enumerate(shades) if not shade.is_clear]
    reckoning = reckoning_of(canvas, [shades[index] for index in coloured], process, light)
    labs = reckoning.lab(fractions[:, coloured])
    if is_beside(canvas, shades, process):
        mixes = [Bowl(grams=dict(zip(shades, row.tolist(), strict=True))) if row.any() else None for row in mixed]
        labs = labs + [beside(canvas, mix, process, light, shades) if mix else np.zeros(3) for mix in mixes]
    moved = delta_e00(labs[0], labs[1:])
    return Steering(
        lab=frozen(labs[0]),
        pulls=tuple(
            Pull(shade=shade, lab=frozen(lab), d_lab=frozen(lab - labs[0]), delta_e00=float(size))
            for shade, lab, size in zip(shelf, labs[1:], moved, strict=True)
        ),
    )
