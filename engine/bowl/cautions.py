"""What a colourist should know of a forecast: warnings with a stable code, a severity and a sentence."""

from dataclasses import dataclass
from enum import StrEnum
from functools import cache
from typing import Final

import numpy as np

from engine.arrays import FloatArray, frozen
from engine.bowl.mix import Bowl, Process
from engine.colorimetry.lab import lch_of
from engine.dye.kind import Kind
from engine.hair.canvas import Canvas
from engine.hair.reading import canvas_lab
from engine.hair.residue import LEVEL_CLEAN_WHITE, LEVEL_DARKEST, Family, level_of_lightness
from engine.language import later

FILL_FROM_LEVELS: Final = 2.0
DARK_TO_LEVEL: Final = 7.0  # results lighter than this are pastels and fashion shades, which need no fill
NATURAL_CHROMA: Final = 14.0  # a dark result less bright than this is meant as a natural colour
GREEN_BELOW: Final = -2.0  # a* of a dark, muted result that reads green
WARMTH_LEAST: Final = 0.4  # share of natural hair's warmth, of the same depth, without which a colour looks hollow
BLACK_TO_LEVEL: Final = 3.0  # a black needs no warmth
BOOSTER_MOST: Final = 0.25  # share of a bowl; chosen by the founders
TONER_LIGHTER_BY: Final = 0.5  # levels


class Severity(StrEnum):
    """How much a warning weighs."""

    NOTE = "note"
    CAUTION = "caution"
    STOP = "stop"


@dataclass(frozen=True, kw_only=True)
class Warning:
    """Something the colourist should know; `code` never changes, `sentence` is for reading."""

    code: str
    severity: Severity
    sentence: str


def _warning(code: str, severity: Severity, sentence: str) -> Warning:
    return Warning(code=code, severity=severity, sentence=sentence)


ESTIMATE: Final = _warning(
    "estimate",
    Severity.NOTE,
    later("A forecast is an estimate, not a promise: strand test, and let your eye decide."),
)
FILL_MISSING: Final = _warning(
    "fill_missing",
    Severity.CAUTION,
    later("Two levels and more darker with nothing warm underneath: this goes hollow and fades early. Fill first."),
)
READS_GREEN: Final = _warning(
    "reads_green",
    Severity.STOP,
    later("A dark shade over light hair with no warmth beneath it reads green: fill with warm pigment first."),
)
TONER_LIGHTER: Final = _warning(
    "toner_lighter_than_hair",
    Severity.NOTE,
    later("A toner lighter than the hair does nothing that shows: match the hair's level, or go 1 to 2 darker."),
)
DEVELOPER_MISSING: Final = _warning(
    "developer_assumed",
    Severity.NOTE,
    later("No developer is named: reckoned as deposit only, at the line's own ratio."),
)
DEVELOPER_UNUSED: Final = _warning(
    "developer_not_used",
    Severity.CAUTION,
    later("Direct dye takes no developer: leave it out."),
)
KINDS_MIXED: Final = _warning(
    "kinds_mixed",
    Severity.CAUTION,
    later(
        "Direct dye and oxidative colour in one bowl: peroxide can change a direct dye. Strand test, and ask the pack."
    ),
)
LINES_MIXED: Final = _warning(
    "lines_mixed",
    Severity.CAUTION,
    later("Shades of different lines in one bowl: they are not made for one another. Strand test first."),
)
PAST_USUAL_TIME: Final = _warning(
    "past_usual_time",
    Severity.CAUTION,
    later("Longer than packs of this kind usually allow: the pack's maximum decides."),
)
BOOSTER_NEAT: Final = _warning(
    "booster_strong",
    Severity.CAUTION,
    later("More than a quarter of this bowl is booster, which is made to tint clear or a weaker shade."),
)
SCREEN_CANNOT_SHOW: Final = _warning(
    "screen_cannot_show",
    Severity.NOTE,
    later("This colour is stronger than a screen can show; the picture is the nearest."),
)


def cautions(canvas: Canvas, bowl: Bowl | None, process: Process, lab: FloatArray, *, in_gamut: bool) -> list[Warning]:
    """The warnings that a forecast L*a*b* (3,), in the light it was made in, gives rise to."""
    found = [] if in_gamut else [SCREEN_CANNOT_SHOW]
    return [ESTIMATE, *_of_mixing(bowl, process), *_of_deposit(canvas, bowl, lab), *found] if bowl else found


def _of_mixing(bowl: Bowl, process: Process) -> list[Warning]:
    """What is odd about the bowl itself."""
    shades = bowl.colours
    oxidative = [shade for shade in shades if shade.kind.is_oxidative]
    share = sum(bowl.grams[shade] for shade in shades if shade.kind is Kind.BOOSTER) / bowl.total_g
    minutes, vol = process.minutes or 0.0, process.developer_vol or 0.0
    odd = {
        DEVELOPER_MISSING: bool(oxidative) and process.developer_vol is None,
        DEVELOPER_UNUSED: bool(shades) and not oxidative and vol > 0,
        KINDS_MIXED: 0 < len(oxidative) < len(shades),
        LINES_MIXED: len({shade.line for shade in shades if shade.line}) > 1,
        PAST_USUAL_TIME: any(minutes > shade.kind.habits.usual_min[1] for shade in oxidative),
        BOOSTER_NEAT: share > BOOSTER_MOST,
    }
    return [warning for warning, holds in odd.items() if holds]


def _of_deposit(canvas: Canvas, bowl: Bowl, lab: FloatArray) -> list[Warning]:
    """What is odd about this bowl on this hair: no effect, or no warmth beneath."""
    levels = [shade.level for shade in bowl.colours if shade.level is not None]
    found = []
    if levels and len(levels) == len(bowl.colours) and min(levels) > canvas.level + TONER_LIGHTER_BY:
        found.append(TONER_LIGHTER)
    level, chroma = float(level_of_lightness(lab[0])), float(lch_of(lab)[1])
    darker = canvas.family is Family.LIGHTENED and canvas.level - level >= FILL_FROM_LEVELS
    natural = BLACK_TO_LEVEL <= level <= DARK_TO_LEVEL and chroma < NATURAL_CHROMA
    if darker and natural and _warmth_beside_natural(lab, level) < WARMTH_LEAST:
        found.append(READS_GREEN if lab[1] < GREEN_BELOW else FILL_MISSING)
    return found


def _warmth_beside_natural(lab: FloatArray, level: float) -> float:
    """How much of the warmth of natural hair as deep a colour L*a*b* (3,) has: 1 is all of it, 0 none."""
    levels, warm = _natural_warmth()
    whole = np.array([np.interp(level, levels, warm[:, axis]) for axis in (0, 1)])
    return float(lab[1:] @ whole / (whole @ whole))


@cache
def _natural_warmth() -> tuple[FloatArray, FloatArray]:
    """a* and b* (levels, 2) of natural hair at whole levels."""
    levels = np.arange(LEVEL_DARKEST, LEVEL_CLEAN_WHITE + 0.5)
    labs = [canvas_lab(Canvas(level=float(level), family=Family.NATURAL)) for level in levels]
    return frozen(levels), frozen(np.array(labs)[:, 1:])
