"""Hair that was read from a colour: level, undertone and cast, with how sure they are, ready to be kept."""

from dataclasses import dataclass

from engine.arrays import FloatArray
from engine.dye.shelf import demo_shelf
from engine.hair.ladder import Ladder
from engine.hair.reading import level_doubt, read_hair
from engine.language import decimals, say
from studio.ui.locks import Lock, bare_lock

HARDLY_SURE = 0.75  # of a level


@dataclass(frozen=True, kw_only=True, eq=False)
class Found:
    """A reading to look at and to keep. fields: what the Read form takes."""

    lock: Lock
    level: str
    undertone: str
    cast: str
    doubt: str
    is_unsure: bool
    source: str
    told: str
    fields: tuple[tuple[str, str], ...]


def found_in(
    lab: FloatArray, *, stray: float, source: str, porosity: float, grey: float, ladder: Ladder, told: str = ""
) -> Found:
    """Read lightened hair from L*a*b* (3,) whose readings strayed by so much. told: how it was taken, in words."""
    casts = [shade for name, shade in demo_shelf().items() if name != "clear"]
    read = read_hair(lab, casts=casts, porosity=porosity)
    canvas, doubt = read.canvas, level_doubt(float(lab[0]), stray + read.miss_delta_e00)
    old = canvas.old[0] if canvas.old else None
    numbers = {"level": canvas.level, "warmth": canvas.warmth, "lean": canvas.lean, "porosity": porosity, "grey": grey}
    return Found(
        lock=bare_lock(canvas),
        level=decimals(f"{canvas.level:.1f}"),
        undertone=ladder.undertone(canvas.level),
        cast=say("a {word} cast, {delta_e00:.1f} from bare hair", word=read.cast.word, delta_e00=read.cast.delta_e00)
        if read.cast
        else say("no cast"),
        doubt=decimals(f"{doubt:.1f}"),
        is_unsure=doubt > HARDLY_SURE,
        source=source,
        told=told,
        fields=(
            *((name, f"{number:.2f}") for name, number in numbers.items()),
            ("old_shade", old.shade.name if old else ""),
            ("old_k_s", f"{min(old.k_s, 3.0):.2f}" if old else "0"),
        ),
    )
