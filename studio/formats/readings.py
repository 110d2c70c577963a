"""A card's colours as CGATS: L*a*b* and reflectance of each forecast, and of the hair beneath it."""

from engine.bowl.mix import FULL_TIME_DRY, Bowl, Process, added_absorption
from engine.bowl.predict import seen_reflectance
from engine.colorimetry.cgats import Sample, written
from engine.colorimetry.lab import lab_of, xyz_of
from engine.colorimetry.lights import Light, viewing
from engine.hair.canvas import Canvas, fibres_of
from studio.cards.models import Formula
from studio.cards.selectors import KeptFormula
from studio.shelf.selectors import stocked_line
from studio.visits.engine_adapter import canvas_of


def card_readings(originator: str, created: str, formulas: list[KeptFormula]) -> str:
    """The hair and the forecast of each formula, with spectra by the engine from what is on the shelf now."""
    samples = []
    for kept in formulas:
        name = f"{kept.formula.saved_at:%Y-%m-%d} {kept.formula.zone_name}"
        canvas = canvas_of(kept.formula)
        samples.append(_sample(f"{name} hair", canvas, None))
        samples.append(_sample(f"{name} forecast", canvas, _bowl(kept.formula)))
    about = {"INSTRUMENTATION": "forecast by Rainshade", "MEASUREMENT_SOURCE": "Illumination=D65 Observer=2 degree"}
    return written(samples, originator=originator, created=created, about=about)


def _sample(name: str, canvas: Canvas, bowl: Bowl | None, process: Process = FULL_TIME_DRY) -> Sample:
    fibres = fibres_of(canvas)
    added = added_absorption(bowl, canvas.porosity, process) if bowl else 0 * fibres.absorption[0]
    reflectance = seen_reflectance(fibres, added)
    view = viewing(Light.DAYLIGHT)
    return Sample(name=name, lab=lab_of(xyz_of(reflectance, view.weights), view.white_xyz), reflectance=reflectance)


def _bowl(formula: Formula) -> Bowl | None:
    dyes = stocked_line(formula.line).dyes
    grams = {dyes[pour.shade_id]: float(pour.grams) for pour in formula.pours.all() if pour.shade_id in dyes}
    return Bowl(grams=grams) if grams else None
