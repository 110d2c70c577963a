"""From a row with hair fields to the engine's canvas."""

from copy import copy
from decimal import Decimal
from functools import lru_cache

from engine.arrays import FloatArray
from engine.dye.shade import Shade
from engine.dye.shelf import demo_shelf
from engine.hair.canvas import RANGES, Canvas, OldColour, lightened
from engine.hair.reading import canvas_lab
from engine.hair.residue import Family
from studio.accounts.models import Person
from studio.shelf.selectors import dyes_by_id
from studio.visits.models import HairFields, Reading


def canvas_of(hair: HairFields) -> Canvas:
    """The engine's canvas of a reading, or of what a formula remembers. A query where coats were laid on it."""
    numbers = tuple(float(getattr(hair, name)) for name in RANGES)
    return _canvas_once(numbers, hair.family, _old(hair), _laid(hair))


@lru_cache(maxsize=1024)
def _canvas_once(
    numbers: tuple[float, ...], family: str, old: tuple[OldColour, ...], laid: tuple[OldColour, ...]
) -> Canvas:
    """A page asks for the same hair many times. numbers: in the order of `RANGES`."""
    return Canvas(**dict(zip(RANGES, numbers, strict=True)), family=Family(family), old=(*old, *laid))


@lru_cache(maxsize=512)
def bare_lab(canvas: Canvas) -> FloatArray:
    """L*a*b* (3,) of a bare canvas."""
    return canvas_lab(canvas)


def old_dye(old_shade: str) -> Shade | None:
    """The engine's shade of an old colour: of its own shelf by name, or a row of a studio's shelf by number. None when
    there is none, or it has left the shelf. A query for a row."""
    if old_shade.isdecimal():
        return dyes_by_id({int(old_shade)}).get(int(old_shade))
    return demo_shelf().get(old_shade)


def _old(hair: HairFields) -> tuple[OldColour, ...]:
    """The old colour as one layer, if there is one."""
    dye = old_dye(hair.old_shade) if hair.old_k_s else None
    return (OldColour(shade=dye, k_s=float(hair.old_k_s)),) if dye else ()


def hair_fields(canvas: Canvas, hair: HairFields) -> dict[str, object]:
    """The fields of a canvas that coats have made of a hair: its numbers, its old colour, and what is laid on it."""
    old = old_dye(hair.old_shade)
    left = next((layer.k_s for layer in canvas.old[:1] if hair.old_k_s and layer.shade == old), 0.0)
    numbers = {name: Decimal(str(getattr(canvas, name))) for name in RANGES}
    known = 1 if left else 0
    return {
        **numbers,
        "family": canvas.family.value,
        "old_shade": hair.old_shade if left else "",
        "old_k_s": Decimal(str(left)),
        "laid": [{"shade": int(layer.shade.code), "k_s": layer.k_s} for layer in canvas.old[known:]],
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
    known = len(_old(hair))
    return [{"shade": int(layer.shade.code), "k_s": round(layer.k_s, 5)} for layer in canvas.old[known:]]


def _laid(hair: HairFields) -> tuple[OldColour, ...]:
    """The layers of coats; a tube that has left the shelf leaves nothing."""
    if not hair.laid:
        return ()
    dyes = dyes_by_id({int(each["shade"]) for each in hair.laid})
    return tuple(
        OldColour(shade=dyes[each["shade"]], k_s=float(each["k_s"])) for each in hair.laid if each["shade"] in dyes
    )


def lock_undertone(person: Person, before: HairFields, level: Decimal, *, but: frozenset[str]) -> dict[str, Decimal]:
    """Warmth and lean of hair whose lock was tapped on the ladder: what that lock shows, in the studio's school.

    but: what was read of itself, and stays. Natural hair keeps all: its locks show its own pigment.
    """
    if before.family == Family.NATURAL:
        return {}
    after = person.studio.ladder.canvas(float(level))
    return {name: round(Decimal(getattr(after, name)), 2) for name in ("warmth", "lean") if name not in but}
