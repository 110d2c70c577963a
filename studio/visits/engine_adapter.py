"""From a row with hair fields to the engine's canvas."""

from collections.abc import Mapping
from decimal import Decimal

from engine.dye.shelf import demo_shelf
from engine.errors import BadInput
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


def moved_undertone(person: Person, hair: Mapping[str, Decimal], from_level: Decimal) -> dict[str, Decimal]:
    """Hair whose level was tapped on the ladder, with warmth and lean moved as the studio's school expects.

    What is out of range is left as it is, for the reading to refuse.
    """
    try:
        before = Canvas(level=float(from_level), warmth=float(hair["warmth"]), lean=float(hair["lean"]))
        after = school_ladder(School(person.studio.school)).moved(before, float(hair["level"]))
    except BadInput:
        return dict(hair)
    return dict(hair) | {name: round(Decimal(getattr(after, name)), 2) for name in ("warmth", "lean")}
