"""Bowls on hair as the arrays that what is known of a studio is reckoned on: `engine.knowledge.law`."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Final

import numpy as np

from engine.arrays import IntArray
from engine.bowl.mix import Bowl, Process, lifted_under, thickness_of
from engine.colorimetry.grid import BANDS
from engine.colorimetry.lights import Light, viewing
from engine.dye.fading import HOT_WATER
from engine.dye.shade import Shade
from engine.dye.uptake import effective_porosity, wetness
from engine.hair.canvas import Canvas, fibres_of, side_by_side
from engine.hair.residue import LEVEL_CLEAN_WHITE
from engine.knowledge.law import Doses, Hair
from engine.knowledge.told import Subject


@dataclass(frozen=True, kw_only=True, eq=False)
class Worked:
    """Hair with one coat of colour or several, each its bowl and how it was worked, and washes since."""

    canvas: Canvas
    coats: tuple[tuple[Bowl, Process], ...]
    washes: float = 0.0
    hot_water: bool = False

    @property
    def lifted(self) -> Canvas:
        """The hair as all developers leave it."""
        hair = self.canvas
        for bowl, process in self.coats:
            hair = lifted_under(hair, bowl, process)
        return hair


LEVEL_STEP: Final = 0.1  # up, or at the top of the ladder down, for the slope by the level that was read


def subject_of(
    worked: Sequence[Worked],
    shades: Sequence[Shade],
    lights: Sequence[Light],
    *,
    line_of: IntArray | None = None,
    client_of: IntArray | None = None,
    reader_of: IntArray | None = None,
) -> Subject:
    """Worked hair in lights, one each, as arrays. line_of: each shade a line of its own by default; no client or reader
    is named by default."""
    hair, nobody = [each.lifted for each in worked], np.full(len(worked), -1)
    steps = np.array([LEVEL_STEP * (-1) ** (each.level > LEVEL_CLEAN_WHITE - LEVEL_STEP) for each in hair])
    views = [viewing(light) for light in lights]
    based = any(shade.level is not None for shade in shades)
    return Subject(
        hair=hair_of(hair),
        stepped=hair_of([replace(each, level=each.level + step) for each, step in zip(hair, steps, strict=True)]),
        steps=steps,
        doses=doses_of(worked, shades),
        strengths=np.array([shade.strength for shade in shades]),
        tones=np.array([shade.tone for shade in shades]).reshape(len(shades), BANDS),
        bases=np.array([shade.base for shade in shades]).reshape(len(shades), BANDS) if based else None,
        weights=np.stack([(view.weights / view.white_xyz).T for view in views]),
        line_of=np.arange(len(shades)) if line_of is None else line_of,
        client_of=nobody if client_of is None else client_of,
        reader_of=nobody if reader_of is None else reader_of,
    )


def hair_of(canvases: Sequence[Canvas]) -> Hair:
    """Several canvases side by side; a kind of fibre that one lacks has no share."""
    fibres = side_by_side([fibres_of(canvas) for canvas in canvases])
    return Hair(bare=fibres.bare, pigment=fibres.pigment, base=fibres.base, share=fibres.share)


def doses_of(worked: Sequence[Worked], shades: Sequence[Shade]) -> Doses:
    """What each hair meets of shades."""
    own = np.array([each.canvas.porosity for each in worked])
    shape = (len(worked), max(1, *(len(each.coats) for each in worked)) if worked else 1)
    fractions, turns, worn = (np.zeros((*shape, len(shades))) for _ in range(3))
    thick, met = np.ones((*shape, len(shades))), np.ones(shape)
    direct = np.array([float(not shade.kind.is_oxidative) for shade in shades])
    slow = np.array([shade.uptake_min for shade in shades])
    washes = [each.washes * (HOT_WATER if each.hot_water else 1.0) for each in worked]
    worn[:] = (np.array(washes) * own)[:, None, None]
    worn /= np.array([shade.life_washes for shade in shades])
    for row, each in enumerate(worked):
        for coat, (bowl, process) in enumerate(each.coats):
            fractions[row, coat] = bowl.fractions(shades)
            thick[row, coat] = thickness_of(shades, process) * wetness(direct, damp=process.damp)
            met[row, coat] = effective_porosity(own[row], damp=process.damp)
            turns[row, coat] = np.inf if process.minutes is None else process.minutes / slow
    crowd = fractions.sum(axis=-1)
    return Doses(fractions=fractions, crowd=crowd, thick=thick, met=met, turns=turns, worn=worn)
