"""The result by the colour reader: a simulated one, held on hair that came out a little other than forecast."""

import datetime
from collections.abc import Mapping
from dataclasses import replace
from typing import Final

from engine.arrays import FloatArray
from engine.bowl.fade import faded_canvas
from engine.bowl.predict import Forecast
from engine.hair.instrument import ReadingsUnusable, average_readings
from studio.devices.colour_reader import Fault, ReaderFault, SimulatedReader, take_readings
from studio.ui.refusal import Refusal

READINGS: Final = 5
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
        return average_readings(take_readings(reader, READINGS)).lab
    except ReaderFault as lost:
        raise Refusal(f"reader_{lost.code}", "reader") from None
    except ReadingsUnusable as unusable:
        raise Refusal(f"readings_{unusable.code}", "reader") from None
