"""First section and last: what a slow application does to a colour, and what rinsing in order saves."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

from engine.arrays import FloatArray, within
from engine.bowl.mix import MINUTES_LIMIT, Bowl, Process
from engine.bowl.predict import predict
from engine.colorimetry.difference import delta_e00
from engine.colorimetry.words import difference_words
from engine.hair.canvas import Canvas
from engine.service.schedule.work import MINUTES_MOST

SECTIONS_MOST: Final = 4  # quadrants


@dataclass(frozen=True, kw_only=True, eq=False)
class Sections:
    """The colours (3,) of the first and the last section if all is rinsed at once, and how far they part.

    Rinsed in the order of application, every section has the same minutes and they don't part at all.
    """

    first_lab: FloatArray
    last_lab: FloatArray
    delta_e00: float
    words: str


def sections(canvas: Canvas, bowl: Bowl, *, apply_min: float, process_min: float) -> Sections:
    """First and last section of a bowl that takes apply_min to put on and is on for process_min after the last.

    Raises OutOfRange.
    """
    within("plan.apply_min", apply_min, 0.0, MINUTES_MOST, "min")
    within("plan.process_min", process_min, 0.0, MINUTES_MOST, "min")
    # After the longest time that the model counts, hair takes no more.
    first, last = (
        predict(canvas, bowl, process=Process(minutes=min(minutes, MINUTES_LIMIT))).lab
        for minutes in (apply_min + process_min, process_min)
    )
    return Sections(
        first_lab=first,
        last_lab=last,
        delta_e00=float(delta_e00(first, last)),
        words=difference_words(first, last),
    )


def section_begin(begun_min: Sequence[float], off: int) -> float:
    """When the first section that is still on was begun, in minutes after the first hair of all.

    begun_min: of the sections after the first, as far as that was noted; off: how many are rinsed. One that was not
    noted counts since the one before it, so that no minute on the hair is left out.
    """
    begun = [0.0, *begun_min]
    return begun[min(off, len(begun) - 1)]
