"""The forecast: what a bowl will look like on a canvas, in a light."""

from dataclasses import dataclass

from engine.arrays import FloatArray, frozen
from engine.bowl.cautions import Warning, cautions
from engine.bowl.mix import FULL_TIME_DRY, Bowl, Process, added_absorption, lifted
from engine.colorimetry.difference import Difference, difference
from engine.colorimetry.lab import lab_of, lch_of, xyz_of
from engine.colorimetry.lights import Light, viewing
from engine.colorimetry.screen import screen_colour
from engine.colorimetry.words import difference_words
from engine.hair.canvas import Canvas, Fibres, fibres_of
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
    """Reflectance (..., bands) of fibres with K/S (..., bands) added: kinds of fibre are averaged by area."""
    return fibres.share @ reflectance(fibres.absorption + added[..., None, :])


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
    fibres = fibres_of(lifted(canvas, bowl.colours, process) if bowl else canvas)
    added = added_absorption(bowl, canvas.porosity, process) if bowl else 0 * fibres.absorption[0]
    lab = seen_lab(fibres, added, light)
    shown = screen_colour(lab, viewing(light).white_xyz)
    return Forecast(
        canvas=canvas,
        bowl=bowl,
        process=process,
        light=light,
        lab=frozen(lab),
        lch=frozen(lch_of(lab)),
        hex=shown.hexes[0],
        in_gamut=bool(shown.in_gamut),
        aim=None if target_lab is None else aim_at(target_lab, lab),
        warnings=tuple(cautions(canvas, bowl, process, lab, in_gamut=bool(shown.in_gamut))),
    )
