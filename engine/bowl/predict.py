"""The forecast: what a bowl will look like on a canvas, in a light."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from engine.arrays import FloatArray, frozen
from engine.bowl.cautions import Warning, cautions
from engine.bowl.doses import Worked
from engine.bowl.mix import FULL_TIME_DRY, Bowl, Process, added_absorption, lifted_under
from engine.bowl.taught import looks
from engine.colorimetry.difference import Difference, difference
from engine.colorimetry.grid import BANDS
from engine.colorimetry.lab import lab_of, lch_of, xyz_of
from engine.colorimetry.lights import Light, viewing
from engine.colorimetry.screen import screen_colour
from engine.colorimetry.words import difference_words
from engine.hair.canvas import Canvas, Fibres, fibres_of, side_by_side
from engine.hair.reflectance import reflectance


@dataclass(frozen=True, kw_only=True, eq=False)
class Aim:
    """How far a forecast is from a target: CIEDE2000 with its parts, and words."""

    target_lab: FloatArray
    difference: Difference
    words: str

    @property
    def delta_e00(self) -> float:
        """The whole difference."""
        return float(self.difference.delta_e00)


@dataclass(frozen=True, kw_only=True, eq=False)
class Forecast:
    """The colour of dyed hair, L*a*b* and LCh (3,) under `light`, with what it was reckoned from."""

    canvas: Canvas
    bowl: Bowl | None
    process: Process
    light: Light
    lab: FloatArray
    lch: FloatArray
    hex: str
    in_gamut: bool
    aim: Aim | None
    warnings: tuple[Warning, ...]


def seen_reflectance(fibres: Fibres, added: FloatArray) -> FloatArray:
    """Reflectance (..., bands) of fibres with K (..., bands) added."""
    return reflectance(fibres.dyed(added))


def seen_lab(fibres: Fibres, added: FloatArray, light: Light) -> FloatArray:
    """L*a*b* (..., 3) of fibres with K/S (..., bands) added."""
    view = viewing(light)
    return lab_of(xyz_of(seen_reflectance(fibres, added), view.weights), view.white_xyz)


def aim_at(target_lab: FloatArray, lab: FloatArray) -> Aim:
    """How far L*a*b* (3,) is from a target (3,)."""
    return Aim(
        target_lab=frozen(target_lab),
        difference=difference(target_lab, lab),
        words=difference_words(target_lab, lab),
    )


def predict(
    canvas: Canvas,
    bowl: Bowl | None,
    *,
    process: Process = FULL_TIME_DRY,
    light: Light = Light.DAYLIGHT,
    target_lab: FloatArray | None = None,
) -> Forecast:
    """Forecast one zone; no bowl forecasts the bare canvas. target_lab: (3,) under the same light."""
    return predict_zones([canvas], bowl, process=process, light=light, targets_lab=[target_lab])[0]


def seen_as(forecast: Forecast, lab: FloatArray, target_lab: FloatArray | None = None) -> Forecast:
    """A forecast whose colour (3,) was reckoned otherwise."""
    shown = screen_colour(lab, viewing(forecast.light).white_xyz)
    return replace(
        forecast,
        lab=frozen(lab),
        lch=frozen(lch_of(lab)),
        hex=shown.hexes[0],
        in_gamut=bool(shown.in_gamut),
        aim=None if target_lab is None else aim_at(target_lab, lab),
    )


def predict_zones(
    canvases: Sequence[Canvas],
    bowl: Bowl | None,
    *,
    process: Process = FULL_TIME_DRY,
    light: Light = Light.DAYLIGHT,
    targets_lab: Sequence[FloatArray | None] | None = None,
) -> list[Forecast]:
    """Forecasts of one bowl on several zones, reckoned at once; targets_lab: (3,) or None for each zone."""
    hair = [lifted_under(canvas, bowl, process) for canvas in canvases] if bowl else canvases
    added = np.zeros((len(hair), BANDS))
    if bowl and bowl.colours:
        added = added_absorption(bowl, np.array([canvas.porosity for canvas in canvases]), process)
    view = viewing(light)
    if bowl and bowl.colours and process.taught:
        worked = [Worked(canvas=canvas, coats=((bowl, process),)) for canvas in canvases]
        labs = frozen(looks(worked, light, process.taught))
    else:
        seen = reflectance(side_by_side([fibres_of(canvas) for canvas in hair]).dyed(added))
        labs = frozen(lab_of(xyz_of(seen, view.weights), view.white_xyz))
    lchs, shown = frozen(lch_of(labs)), screen_colour(labs, view.white_xyz)
    hexes, in_gamut = shown.hexes, shown.in_gamut.tolist()
    return [
        Forecast(
            canvas=canvas,
            bowl=bowl,
            process=process,
            light=light,
            lab=labs[row],
            lch=lchs[row],
            hex=hexes[row],
            in_gamut=in_gamut[row],
            aim=None if target_lab is None else aim_at(target_lab, labs[row]),
            warnings=tuple(cautions(canvas, bowl, process, labs[row], in_gamut=in_gamut[row])),
        )
        for row, (canvas, target_lab) in enumerate(
            zip(canvases, targets_lab or [None] * len(canvases), strict=True),
        )
    ]
