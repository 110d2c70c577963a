"""Over-toning: a colour that is put on slightly past its aim, so that it fades onto it."""

from enum import StrEnum
from typing import Final

from engine.arrays import FloatArray
from engine.hair.canvas import Canvas
from engine.hair.reading import canvas_lab

PAST: Final = 0.05  # of the way from the hair to the aim, by which it goes on; chosen by the founders


class OverTone(StrEnum):
    """Two schools of how far a colour goes; common practice, no published source."""

    ON_AIM = "on_aim"
    PAST = "past"

    def steer_lab(self, canvas: Canvas, target_lab: FloatArray) -> FloatArray | None:
        """The colour (3,) that a bowl is steered for on its way to a target (3,); None where that is the target."""
        return None if self is OverTone.ON_AIM else past(canvas, target_lab)


def past(canvas: Canvas, target_lab: FloatArray) -> FloatArray:
    """A colour (3,) slightly further from the hair than the target (3,), in the same direction."""
    further: FloatArray = target_lab + PAST * (target_lab - canvas_lab(canvas))
    return further
