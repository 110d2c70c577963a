"""The result by the colour reader: a simulated one, held on hair that came out a little other than forecast."""

from __future__ import annotations

import datetime
from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Final

from django.core.files.base import File

from engine.arrays import FloatArray
from engine.bowl.fade import faded_canvas
from engine.bowl.predict import Forecast
from engine.colorimetry import cgats_in
from engine.hair.instrument import ReadingsUnusable, average_readings
from studio.devices.colour_reader import Fault, ReaderFault, SimulatedReader, take_readings
from studio.ui.refusal import Refusal

READINGS: Final = 5
FILE_MOST_BYTES: Final = 1_000_000
# What the simulated reader finds instead of what was read before: hair a little darker and more porous.
HELD_ON: Final = {"level": -0.2, "porosity": 0.08}


def read_result(forecast: Forecast, form: Mapping[str, str], *, now: datetime.datetime) -> FloatArray:
    """The result as L*a*b* (3,), the average of several readings. Raises Refusal when the reader fails."""
    canvas, bowl = forecast.canvas, forecast.bowl
    worn = replace(canvas, level=max(canvas.level + HELD_ON["level"], 1.0))
    worn = replace(worn, porosity=min(canvas.porosity + HELD_ON["porosity"], 1.6))
    hair = faded_canvas(worn, bowl, 0, process=forecast.process) if bowl else worn
    fault = form.get("fault", Fault.NONE.value)
    reader = SimulatedReader(hair, seed=int(now.timestamp()), fault=Fault(fault) if fault in set(Fault) else Fault.NONE)
    try:
        return _averaged(take_readings(reader, READINGS))
    except ReaderFault as lost:
        raise Refusal(f"reader_{lost.code}", "reader") from None


def read_file(upload: File[bytes] | None) -> FloatArray:
    """The result as L*a*b* (3,), the average of the readings in a CGATS file. Raises Refusal with the line at fault."""
    if upload is None or not upload.size:
        raise Refusal("file_missing", "readings")
    if upload.size > FILE_MOST_BYTES:
        raise Refusal("file_too_large", "readings", most=FILE_MOST_BYTES // 1_000_000)
    try:
        samples = cgats_in.read(upload.read().decode("utf-8-sig"))
    except UnicodeDecodeError:
        raise Refusal("file_not_text", "readings") from None
    except cgats_in.CgatsUnusable as unusable:
        raise Refusal("file_line", "readings", message=unusable.message) from None
    labs = [sample.lab for sample in samples if sample.lab is not None]
    if not labs:
        raise Refusal("readings_too_few", "readings")
    return labs[0] if len(labs) == 1 else _averaged([tuple(map(float, lab)) for lab in labs])


def _averaged(readings: Sequence[Sequence[float]]) -> FloatArray:
    try:
        return average_readings(readings).lab
    except ReadingsUnusable as unusable:
        raise Refusal(f"readings_{unusable.code}", "reader") from None
