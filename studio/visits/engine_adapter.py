"""From a row with hair fields to the engine's canvas."""

from engine.dye.shelf import demo_shelf
from engine.hair.canvas import Canvas, OldColour
from engine.hair.residue import Family
from studio.visits.models import HairFields


def canvas_of(hair: HairFields) -> Canvas:
    """The engine's canvas of a reading, or of what a formula remembers."""
    old = demo_shelf().get(hair.old_shade)
    return Canvas(
        level=float(hair.level),
        warmth=float(hair.warmth),
        lean=float(hair.lean),
        porosity=float(hair.porosity),
        grey=float(hair.grey),
        family=Family(hair.family),
        old=(OldColour(shade=old, k_s=float(hair.old_k_s)),) if old and hair.old_k_s else (),
    )
