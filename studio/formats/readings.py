"""A card's colours as CGATS: the forecasts as they were saved, and the results as they were measured or judged."""

import datetime
from typing import Final

import numpy as np

from engine.arrays import FloatArray
from engine.bowl.mix import Bowl, added_absorption, lifted_under
from engine.bowl.predict import seen_reflectance
from engine.colorimetry import spectral_package
from engine.colorimetry.cgats import Sample, written
from engine.colorimetry.difference import delta_e00
from engine.colorimetry.grid import BANDS
from engine.colorimetry.lab import lab_of, xyz_of
from engine.colorimetry.lights import Light, viewing
from engine.colorimetry.spectral_package import Quantity, SpectralPackage, Spectrum
from engine.hair.canvas import fibres_of
from studio.cards.models import Formula
from studio.cards.selectors import KeptFormula
from studio.clients.models import Client
from studio.formats.job_json import process_of
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
    """What today's shelf gives the formulas, as a data package, a ZIP: each spectrum beside the colour that it is.

    That is the forecast as it was saved, or else it is said to be of today's shelf: tubes may be known better since,
    and what results have taught of a whole head is a colour, and no spectrum.
    """
    view, spectra = viewing(Light.DAYLIGHT), []
    for kept in formulas:
        sample, values = _forecast(kept.formula), _reckoned(kept.formula)
        if values is not None:
            name = f"{_named(kept.formula)}, by today's shelf" if sample.reflectance is None else sample.name
            spectra.append(Spectrum(name=name, values=values, lab=lab_of(xyz_of(values, view.weights), view.white_xyz)))
    package = SpectralPackage(quantity=Quantity.REFLECTANCE, spectra=spectra, geometry=RECKONED, instrument=INSTRUMENT)
    title = f"Forecasts for {client}"
    return zipped(spectral_package.written(package, name="forecasts", title=title, created=created.isoformat()))


def _named(formula: Formula) -> str:
    return f"{formula.visit.day:%Y-%m-%d} {formula.zone_name}"


def _forecast(formula: Formula) -> Sample:
    """A forecast as it was saved, with its spectrum where the shelf still gives it."""
    lab = np.array([float(part) for part in (formula.forecast_l, formula.forecast_a, formula.forecast_b)])
    return Sample(name=f"{_named(formula)}, forecast as saved", lab=lab, reflectance=_spectrum(formula, lab))


def _reckoned(formula: Formula) -> FloatArray | None:
    """The reflectance (bands,) that today's shelf gives a formula; None for a lift, or a tube that is gone."""
    dyes, pours = stocked_line(formula.line).dyes, list(formula.pours.all())
    if formula.is_powder or any(pour.shade_id not in dyes for pour in pours):
        return None
    bowl, canvas = Bowl(grams={dyes[pour.shade_id]: float(pour.grams) for pour in pours}), canvas_of(formula)
    if not bowl.colours:
        return seen_reflectance(fibres_of(canvas), np.zeros(BANDS))
    process = process_of(formula)
    hair = fibres_of(lifted_under(canvas, bowl, process))
    return seen_reflectance(hair, added_absorption(bowl, canvas.porosity, process))


def _spectrum(formula: Formula, saved_lab: FloatArray) -> FloatArray | None:
    """The reflectance (bands,) that today's shelf gives a formula, None where that is another colour than was saved."""
    reflectance, view = _reckoned(formula), viewing(Light.DAYLIGHT)
    if reflectance is None:
        return None
    now = lab_of(xyz_of(reflectance, view.weights), view.white_xyz)
    return reflectance if float(delta_e00(now, saved_lab)) <= SAME_DE00 else None
