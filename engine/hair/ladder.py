"""The undertone ladder: what warmth lightening leaves at each level, by the studio's school or its own eyes."""

from dataclasses import dataclass
from enum import StrEnum
from functools import cache
from itertools import pairwise
from typing import Final

import numpy as np

from engine.arrays import within
from engine.errors import BadInput
from engine.hair.canvas import RANGES, Canvas
from engine.hair.residue import LEVEL_CLEAN_WHITE
from engine.language import later
from engine.tables import load_table

RUNGS: Final = (2, 40)
WORD_LONGEST: Final = 40
CLEAN_WHITE: Final = later("clean white")


class School(StrEnum):
    """Two schools of what level 8 shows."""

    YELLOW_GOLD_AT_8 = "yellow_gold_at_8"
    ORANGE_AT_8 = "orange_at_8"


@dataclass(frozen=True, kw_only=True)
class Rung:
    """One step of the ladder: a level, the word for its undertone, and the warmth and lean it stands for."""

    level: float
    undertone: str
    warmth: float = 0.0
    lean: float = 0.0


@dataclass(frozen=True, kw_only=True)
class Ladder:
    """Rungs from dark to light; between them warmth and lean run straight.

    Raises OutOfRange, WrongType, or BadInput when rungs are too few, out of order or without a word.
    """

    rungs: tuple[Rung, ...]

    def __post_init__(self) -> None:
        within("ladder (entries)", len(self.rungs), *RUNGS)
        for index, rung in enumerate(self.rungs):
            for name in ("level", "warmth", "lean"):
                within(f"ladder.{index}.{name}", getattr(rung, name), *RANGES[name])
            if not 0 < len(rung.undertone.strip()) <= WORD_LONGEST:
                raise BadInput(
                    f"ladder.{index}.undertone", f"ladder.{index}.undertone needs 1 to {WORD_LONGEST} characters"
                )
        for index, (one, other) in enumerate(pairwise(self.rungs)):
            if other.level <= one.level:
                raise BadInput(
                    f"ladder.{index + 1}.level",
                    f"ladder.{index + 1}.level is {other.level:g}: levels must rise, and {one.level:g} comes before",
                )

    def undertone(self, level: float) -> str:
        """The word of the nearest rung, the lighter of two as near; clean white above the last whole step."""
        if level >= LEVEL_CLEAN_WHITE - 0.5 and self.rungs[-1].level < LEVEL_CLEAN_WHITE:
            return CLEAN_WHITE
        return min(self.rungs, key=lambda rung: (abs(rung.level - level), -rung.level)).undertone

    def undertone_at(self, level: float) -> tuple[float, float]:
        """Warmth and lean at a level."""
        levels = [rung.level for rung in self.rungs]
        warmth = np.interp(level, levels, [rung.warmth for rung in self.rungs])
        lean = np.interp(level, levels, [rung.lean for rung in self.rungs])
        return float(warmth), float(lean)

    def canvas(self, level: float, *, porosity: float = 1.0, grey: float = 0.0) -> Canvas:
        """Freshly lightened hair at a level, as this ladder expects it. Raises OutOfRange, WrongType."""
        within("canvas.level", level, *RANGES["level"])
        warmth, lean = self.undertone_at(level)
        return Canvas(level=level, warmth=warmth, lean=lean, porosity=porosity, grey=grey)


@cache
def school_ladder(school: School = School.YELLOW_GOLD_AT_8) -> Ladder:
    """The ladder of a school, as a start for a studio's own."""
    table = load_table("undertones")
    cells = zip(
        table.texts("school"),
        table.numbers("level"),
        table.texts("undertone"),
        table.numbers("warmth"),
        table.numbers("lean"),
        strict=True,
    )
    return Ladder(
        rungs=tuple(
            Rung(level=float(level), undertone=later(word), warmth=float(warmth), lean=float(lean))
            for name, level, word, warmth, lean in cells
            if name == school
        )
    )
