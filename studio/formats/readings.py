"""A card's colours as CGATS: the forecasts as they were saved, and the results as they were measured or judged."""

import datetime
from typing import Final

import numpy as np

from engine.arrays import FloatArray
from engine.bowl.mix import FULL_TIME_DRY, Bowl, added_absorption
from engine.bowl.predict import seen_reflectance
from engine.colorimetry import spectral_package
from engine.colorimetry.cgats import Sample, written
from engine.colorimetry.difference import delta_e00
from engine.colorimetry.lab import lab_of, xyz_of
from engine.colorimetry.lights import Light, viewing
from engine.colorimetry.spectral_package import Quantity, SpectralPackage, Spectrum
from engine.hair.canvas import fibres_of
from studio.cards.models import Formula
from studio.cards.selectors import KeptFormula
from studio.clients.models import Client
from studio.shelf.selectors import stocked_line
from studio.ui.zipped import zipped
from studio.visits.engine_adapter import canvas_of

INSTRUMENT: Final = "forecast by Rainshade"
RECKONED: Final = "reckoned: no light was measured"
SAME_DE00: Final = 0.05  # a forecast that comes out as it was saved, within the thousandths that were kept


def card_readings(originator: str, created: str, formulas: list[KeptFormula]) -> str:
    """Each forecast and each result, marked as what it is.

    Spectra are not kept on cards: a forecast has the one that the shelf gives now, as long as that is still the colour
    that was saved; in a second table.
    """
    samples = []
    for kept in formulas:
        samples.append(_forecast(kept.formula))
        if kept.result:
            how = f"{_named(kept.formula)}, turned out, {kept.result.get_source_display()}"
            samples.append(Sample(name=how, lab=np.array(kept.result.lab)))
    return written(samples, originator=originator, created=created, about={"INSTRUMENTATION": INSTRUMENT})


def card_spectra(client: Client, formulas: list[KeptFormula], *, created: datetime.datetime) -> bytes:
    """The forecasts' spectra as a data package, a ZIP: of those whose colour today's shelf still gives."""
    samples = [_forecast(kept.formula) for kept in formulas]
    spectra = [
        Spectrum(name=each.name, values=each.reflectance, lab=each.lab)
        for each in samples
        if each.reflectance is not None
    ]
    package = SpectralPackage(quantity=Quantity.REFLECTANCE, spectra=spectra, geometry=RECKONED, instrument=INSTRUMENT)
    title = f"Forecasts for {client}"
    return zipped(spectral_package.written(package, name="forecasts", title=title, created=created.isoformat()))


def _named(formula: Formula) -> str:
    return f"{formula.visit.day:%Y-%m-%d} {formula.zone_name}"


def _forecast(formula: Formula) -> Sample:
    """A forecast as it was saved, with its spectrum where the shelf still gives it."""
    lab = np.array([float(part) for part in (formula.forecast_l, formula.forecast_a, formula.forecast_b)])
    return Sample(name=f"{_named(formula)}, forecast as saved", lab=lab, reflectance=_spectrum(formula, lab))


def _spectrum(formula: Formula, saved_lab: FloatArray) -> FloatArray | None:
    """The reflectance (bands,) that today's shelf gives a formula, None where that is another colour than was saved."""
    dyes = stocked_line(formula.line).dyes
    pours = list(formula.pours.all())
    if any(pour.shade_id not in dyes for pour in pours):
        return None
    bowl = Bowl(grams={dyes[pour.shade_id]: float(pour.grams) for pour in pours})
    canvas = canvas_of(formula)
    fibres = fibres_of(canvas)
    reflectance = seen_reflectance(fibres, added_absorption(bowl, canvas.porosity, FULL_TIME_DRY))
    view = viewing(Light.DAYLIGHT)
    now = lab_of(xyz_of(reflectance, view.weights), view.white_xyz)
    return reflectance if float(delta_e00(now, saved_lab)) <= SAME_DE00 else None
