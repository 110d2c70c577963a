"""The colour reader, held on hair that was coloured here: a simulated one, so that hair is reckoned."""

from __future__ import annotations

import datetime
from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Final

from engine.arrays import FloatArray
from engine.bowl.doses import Worked
from engine.bowl.fade import faded_canvas
from engine.bowl.mix import FULL_TIME_DRY, Bowl, Process
from engine.hair.canvas import Canvas
from engine.hair.instrument import ReadingsUnusable, average_readings
from studio.devices.colour_reader import Fault, ReaderFault, SimulatedReader, take_readings
from studio.ui.refusal import Refusal

READINGS: Final = 5
# What the simulated reader finds instead of what was read before: hair a little darker and more porous.
HELD_ON: Final = {"level": -0.2, "porosity": 0.08}


def read_coloured(
    canvas: Canvas, bowl: Bowl | None, process: Process, form: Mapping[str, str], *, now: datetime.datetime
) -> FloatArray:
    """The look L*a*b* (3,) of a canvas with a bowl of plain shades on it, the average of several readings.

    What results have taught does not change what a reader finds. form: may name a fault for the reader to have.
    Raises Refusal when the reader fails.
    """
    worn = replace(canvas, level=max(canvas.level + HELD_ON["level"], 1.0))
    worn = replace(worn, porosity=min(canvas.porosity + HELD_ON["porosity"], 1.6))
    hair = faded_canvas(worn, bowl, 0, process=replace(process, taught=None)) if bowl else worn
    fault = form.get("fault", Fault.NONE.value)
    reader = SimulatedReader(hair, seed=int(now.timestamp()), fault=Fault(fault) if fault in set(Fault) else Fault.NONE)
    try:
        return averaged(take_readings(reader, READINGS))
    except ReaderFault as lost:
        raise Refusal(f"reader_{lost.code}", "reader") from None


def read_worn(worn: Worked, form: Mapping[str, str], *, now: datetime.datetime) -> FloatArray:
    """The look L*a*b* (3,) of hair with plain shades on it, washed since. Raises Refusal when the reader fails."""
    hair = worn.canvas
    for bowl, process in worn.coats:
        hair = faded_canvas(hair, bowl, worn.washes, hot_water=worn.hot_water, process=process)
    return read_coloured(hair, None, FULL_TIME_DRY, form, now=now)


def averaged(readings: Sequence[Sequence[float]]) -> FloatArray:
    """Several readings L*a*b* of one place as one (3,). Raises Refusal when they don't agree, or are none."""
    try:
        return average_readings(readings).lab
    except ReadingsUnusable as unusable:
        raise Refusal(f"readings_{unusable.code}", "reader") from None
