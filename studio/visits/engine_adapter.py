"""From a row with hair fields to the engine's canvas."""

from copy import copy
from decimal import Decimal
from functools import lru_cache

from engine.dye.shelf import demo_shelf
from engine.hair.canvas import RANGES, Canvas, OldColour, lightened
from engine.hair.ladder import School, school_ladder
from engine.hair.residue import Family
from studio.accounts.models import Person
from studio.shelf.selectors import dyes_by_id
from studio.visits.models import HairFields, Reading


def canvas_of(hair: HairFields) -> Canvas:
    """The engine's canvas of a reading, or of what a formula remembers. A query where coats were laid on it."""
    numbers = tuple(map(float, (hair.level, hair.warmth, hair.lean, hair.porosity, hair.grey)))
    return _canvas_once(numbers, hair.family, hair.old_shade, float(hair.old_k_s), _laid(hair))


@lru_cache(maxsize=1024)
def _canvas_once(
    numbers: tuple[float, ...], family: str, old_shade: str, old_k_s: float, laid: tuple[OldColour, ...]
) -> Canvas:
    """A page asks for the same hair many times. numbers: level, warmth, lean, porosity, grey."""
    level, warmth, lean, porosity, grey = numbers
    old = demo_shelf().get(old_shade)
    layers = (OldColour(shade=old, k_s=old_k_s),) if old and old_k_s else ()
    return Canvas(
        level=level,
        warmth=warmth,
        lean=lean,
        porosity=porosity,
        grey=grey,
        family=Family(family),
        old=(*layers, *laid),
    )


def hair_fields(canvas: Canvas, hair: HairFields) -> dict[str, object]:
    """The fields of a canvas that coats have made of a hair: its numbers, its old colour, and what is laid on it."""
    old = demo_shelf().get(hair.old_shade)
    left = next((layer.k_s for layer in canvas.old[:1] if hair.old_k_s and layer.shade == old), 0.0)
    numbers = {name: Decimal(str(getattr(canvas, name))) for name in RANGES}
    known = 1 if left else 0
    return {
        **numbers,
        "family": canvas.family.value,
        "old_shade": hair.old_shade if left else "",
        "old_k_s": Decimal(str(left)),
        "laid": [{"shade": int(layer.shade.name), "k_s": layer.k_s} for layer in canvas.old[known:]],
    }


def lifted_hair(reading: Reading) -> Reading:
    """A reading as it stands once lightener has been on: lightened, its old colour out; never saved."""
    canvas = canvas_of(reading)
    lifted = copy(reading)
    for name, value in hair_fields(lightened(canvas, canvas.level), reading).items():
        setattr(lifted, name, value)
    return lifted


def laid_by(canvas: Canvas, hair: HairFields) -> list[dict[str, object]]:
    """What coats have left on a canvas beyond what its reading says, to be kept with the next reading."""
    known = 1 if demo_shelf().get(hair.old_shade) and hair.old_k_s else 0
    return [{"shade": int(layer.shade.name), "k_s": round(layer.k_s, 5)} for layer in canvas.old[known:]]


def _laid(hair: HairFields) -> tuple[OldColour, ...]:
    """The layers of coats; a tube that has left the shelf leaves nothing."""
    if not hair.laid:
        return ()
    dyes = dyes_by_id({int(each["shade"]) for each in hair.laid})
    return tuple(
        OldColour(shade=dyes[each["shade"]], k_s=float(each["k_s"])) for each in hair.laid if each["shade"] in dyes
    )


def moved_undertone(person: Person, before: HairFields, level: Decimal, *, but: frozenset[str]) -> dict[str, Decimal]:
    """Warmth and lean of hair whose level was tapped on the ladder, as the studio's school expects them there.

    but: what was read of itself, and stays.
    """
    after = school_ladder(School(person.studio.school)).moved(canvas_of(before), float(level))
    return {name: round(Decimal(getattr(after, name)), 2) for name in ("warmth", "lean") if name not in but}
