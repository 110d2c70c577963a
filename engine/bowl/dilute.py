"""The same colours thinner and thinner: the pastel ladder, from one part of carrier to thirty-two."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np

from engine.arrays import FloatArray
from engine.bowl.mix import FULL_TIME_DRY, Bowl, Process
from engine.bowl.predict import Forecast, predict
from engine.bowl.weigh import Scale, scaled_to
from engine.dye.shade import Shade
from engine.hair.canvas import Canvas

PARTS: Final = (1, 2, 4, 8, 16, 32)  # of carrier, to one of colour


@dataclass(frozen=True, kw_only=True, eq=False)
class Dilution:
    """A rung: parts of carrier to one of colour, the bowl as a scale weighs it, and what it gives.

    too_fine: a shade in it is less than the scale tells well, so that it is to be mixed stronger and thinned again.
    """

    parts: int
    bowl: Bowl
    forecast: Forecast
    too_fine: bool


def dilutions(
    canvas: Canvas,
    bowl: Bowl,
    carrier: Shade,
    scale: Scale,
    *,
    parts: Sequence[int] = PARTS,
    process: Process = FULL_TIME_DRY,
    target_lab: FloatArray | None = None,
) -> tuple[Dilution, ...]:
    """The colours of a bowl, in the shares that they have there, with so many parts of a carrier by weight.

    Empty for a bowl without colour. target_lab: L*a*b* (3,) to measure each against.
    """
    colours = {shade: bowl.grams[shade] for shade in bowl.colours}
    if not colours:
        return ()
    coloured = sum(colours.values())
    whole_g = scale.units * scale.step_g
    rungs = []
    for thinned in parts:
        grams = {shade: grams / coloured for shade, grams in colours.items()} | {carrier: float(thinned)}
        exact = {shade: each * whole_g / (1 + thinned) for shade, each in grams.items()}
        weighed = Bowl(grams=scaled_to(exact, whole_g, step_g=scale.step_g))
        rungs.append(
            Dilution(
                parts=thinned,
                bowl=weighed,
                forecast=predict(canvas, weighed, process=process, target_lab=target_lab),
                too_fine=min(exact[shade] for shade in colours) < scale.least_units * scale.step_g - 1e-9,
            )
        )
    return tuple(rungs)


def nearest_rung(rungs: Sequence[Dilution]) -> int | None:
    """Which rung comes nearest to the aim; None without one."""
    offs = [rung.forecast.aim.delta_e00 for rung in rungs if rung.forecast.aim]
    return int(np.argmin(offs)) if offs else None
