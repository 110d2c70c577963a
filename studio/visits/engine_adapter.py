"""From a row with hair fields to the engine's canvas."""

from engine.hair.canvas import Canvas
from studio.visits.models import HairFields


def canvas_of(hair: HairFields) -> Canvas:
    """The engine's canvas of a reading, or of what a formula remembers."""
    return Canvas(
        level=float(hair.level),
        warmth=float(hair.warmth),
        lean=float(hair.lean),
        porosity=float(hair.porosity),
        grey=float(hair.grey),
    )
