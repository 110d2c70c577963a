"""How a colour leaves, wash by wash, and what brings it back."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Final

import numpy as np

from engine.arrays import FloatArray, frozen, within
from engine.bowl.doses import Worked
from engine.bowl.match import ANSWERS, Match, match
from engine.bowl.mix import FULL_TIME_DRY, Bowl, Process, lifted_under, uptakes_of
from engine.bowl.predict import seen_lab
from engine.bowl.taught import looks
from engine.bowl.weigh import Scale
from engine.colorimetry.difference import delta_e00
from engine.colorimetry.lights import Light
from engine.colorimetry.words import colour_words
from engine.dye.fading import left_after
from engine.dye.shade import Shade, spectra_of
from engine.hair.canvas import Canvas, OldColour, fibres_of

VISIBLY_OFF: Final = 5.0  # delta E00 from the first day
WASHES_MOST: Final = 60
GONE_KS: Final = 1e-8  # of a layer that is forgotten: a hundred of them change no colour by what could be seen


@dataclass(frozen=True, kw_only=True, eq=False)
class FadePath:
    """A colour after 0, 1, 2 ... washes: L*a*b* (washes + 1, 3), difference from the first day (washes + 1,).

    off_after: the first wash after which it is visibly off, None within the washes asked for.
    """

    lab: FloatArray
    delta_e00: FloatArray
    off_after: int | None

    @cached_property
    def through(self) -> tuple[str, ...]:
        """The colours that it passes, in words, each once."""
        return tuple(dict.fromkeys(colour_words(self.lab)))


def fade(
    canvas: Canvas,
    bowl: Bowl,
    *,
    washes: int = 20,
    hot_water: bool = False,
    process: Process = FULL_TIME_DRY,
    light: Light = Light.DAYLIGHT,
) -> FadePath:
    """The path of a bowl's colour over washes. Raises OutOfRange."""
    within("washes", washes, 0, WASHES_MOST)
    shades = bowl.colours
    left = left_after(shades, np.arange(washes + 1, dtype=float), canvas.porosity, hot_water=hot_water)
    added = (uptakes_of(bowl, canvas.porosity, process) * left) @ spectra_of(shades)
    if process.taught:
        coats = ((bowl, process),)
        worn = [Worked(canvas=canvas, coats=coats, washes=n, hot_water=hot_water) for n in range(washes + 1)]
        lab = looks(worn, light, process.taught)
    else:
        lab = seen_lab(fibres_of(lifted_under(canvas, bowl, process)), added, light)
    differences = delta_e00(lab[0], lab)
    off = np.flatnonzero(differences > VISIBLY_OFF)
    return FadePath(
        lab=frozen(lab),
        delta_e00=frozen(differences),
        off_after=int(off[0]) if len(off) else None,
    )


def faded_canvas(
    canvas: Canvas, bowl: Bowl, washes: float, *, hot_water: bool = False, process: Process = FULL_TIME_DRY
) -> Canvas:
    """The canvas with what is left of a bowl after washes as old colour."""
    shades = bowl.colours
    left = left_after(shades, washes, canvas.porosity, hot_water=hot_water) * uptakes_of(bowl, canvas.porosity, process)
    old = tuple(
        OldColour(shade=shade, k_s=float(k_s)) for shade, k_s in zip(shades, left, strict=True) if k_s > GONE_KS
    )
    return replace(lifted_under(canvas, bowl, process), old=(*canvas.old, *old))


def refresh(
    canvas: Canvas,
    bowl: Bowl,
    shelf: Sequence[Shade],
    *,
    washes: int,
    scale: Scale,
    hot_water: bool = False,
    process: Process = FULL_TIME_DRY,
    light: Light = Light.DAYLIGHT,
    answers: int = ANSWERS,
) -> Match:
    """The bowl that brings the first day's colour back after washes; for direct dyes, what a mask must hold."""
    within("washes", washes, 0, WASHES_MOST)
    target = fade(canvas, bowl, washes=0, process=process, light=light).lab[0]
    worn = faded_canvas(canvas, bowl, washes, hot_water=hot_water, process=process)
    mask = Process(taught=process.taught)
    return match(worn, shelf, target, scale=scale, light=light, answers=answers, process=mask)
