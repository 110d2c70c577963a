"""Zones side by side: how they differ, and whether they part when the light changes."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np

from engine.arrays import FloatArray
from engine.bowl.mix import FULL_TIME_DRY, Bowl, Process, added_absorption, lifted_under
from engine.bowl.predict import seen_reflectance
from engine.bowl.taught import beside
from engine.colorimetry.difference import delta_e00
from engine.colorimetry.lab import lab_of, xyz_of
from engine.colorimetry.lights import Light, viewing
from engine.hair.canvas import Canvas, fibres_of

MATCH_BELOW: Final = 2.0  # delta E00 of two zones that count as one colour
PART_FROM: Final = 4.0  # and from which they visibly don't


@dataclass(frozen=True, kw_only=True)
class Parting:
    """Two zones, by their place, that match in one light and part in another."""

    one: int
    other: int
    match_in: Light
    part_in: Light
    delta_e00: float


def zone_labs(
    work: Sequence[tuple[Canvas, Bowl | None]], *, process: Process = FULL_TIME_DRY, lights: Sequence[Light] = (*Light,)
) -> FloatArray:
    """L*a*b* (lights, zones, 3) of zones with their own bowls."""
    views = [viewing(light) for light in lights]
    seen = np.stack([_reflectance(canvas, bowl, process) for canvas, bowl in work])
    labs = np.stack([lab_of(xyz_of(seen, view.weights), view.white_xyz) for view in views])
    for row, (canvas, bowl) in enumerate(work if process.taught else ()):
        if bowl:
            labs[:, row] += [beside(canvas, bowl, process, light) for light in lights]
    return labs


def _reflectance(canvas: Canvas, bowl: Bowl | None, process: Process) -> FloatArray:
    fibres = fibres_of(lifted_under(canvas, bowl, process) if bowl else canvas)
    added = added_absorption(bowl, canvas.porosity, process) if bowl else 0 * fibres.absorption[0]
    return seen_reflectance(fibres, added)


def partings(labs: FloatArray, lights: Sequence[Light] = (*Light,)) -> tuple[Parting, ...]:
    """Pairs of zones that match in one light and part in another, from L*a*b* (lights, zones, 3); worst first."""
    ones, others = np.triu_indices(labs.shape[1], k=1)
    apart = delta_e00(labs[:, ones], labs[:, others])  # (lights, pairs)
    part = np.flatnonzero((apart.min(axis=0) < MATCH_BELOW) & (apart.max(axis=0) >= PART_FROM))
    return tuple(
        Parting(
            one=int(ones[pair]),
            other=int(others[pair]),
            match_in=lights[int(apart[:, pair].argmin())],
            part_in=lights[int(apart[:, pair].argmax())],
            delta_e00=float(apart[:, pair].max()),
        )
        for pair in part[np.argsort(-apart.max(axis=0)[part], kind="stable")]
    )
