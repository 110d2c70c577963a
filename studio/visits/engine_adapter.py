"""From a row with hair fields to the engine's canvas."""

from decimal import Decimal

from engine.dye.shelf import demo_shelf
from engine.hair.canvas import Canvas, OldColour
from engine.hair.ladder import School, school_ladder
from engine.hair.residue import Family
from studio.accounts.models import Person
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


def moved_undertone(person: Person, before: HairFields, level: Decimal, *, but: frozenset[str]) -> dict[str, Decimal]:
    """Warmth and lean of hair whose level was tapped on the ladder, as the studio's school expects them there.

    but: what was read of itself, and stays.
    """
    after = school_ladder(School(person.studio.school)).moved(canvas_of(before), float(level))
    return {name: round(Decimal(getattr(after, name)), 2) for name in ("warmth", "lean") if name not in but}
