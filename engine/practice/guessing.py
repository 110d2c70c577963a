"""How well somebody foresees a colour: what was expected, against what was forecast and what came.

Read by hue and by level, since an eye that is right in reds may be wrong in pastels. A lean is told only where it
stands out of its own scatter, so that nobody learns from chance.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from math import sqrt
from typing import Final

import numpy as np

from engine.arrays import FloatArray
from engine.colorimetry.difference import Difference, delta_e00, difference
from engine.colorimetry.lab import lch_of
from engine.colorimetry.words import A_LITTLE, AS_A_CHANGE, GREY_CHROMA, hue_word
from engine.language import later, say

LEAN_FROM: Final = 1.5  # weighted parts below this on average are not worth a word; chosen by the founders
LEAN_GUESSES: Final = 4  # fewer show no lean
STANDS_OUT: Final = 2.0  # times its standard error, that a mean must be from nothing
BEST_FROM: Final = 5  # guesses, from which somebody can be called the best at something
LEVELS: Final = ((5.5, later("level 5 and under")), (8.5, later("level 6 to 8")), (13.0, later("level 9 and over")))
AS_EXPECTED: Final = replace(AS_A_CHANGE, alike=later("just so"))  # what was expected, held against what is


@dataclass(frozen=True, kw_only=True, eq=False)
class Guess:
    """What was expected of a bowl on hair of a level, and what was forecast and seen of it: L*a*b* (3,) in daylight.

    seen_lab: None until it was judged.
    """

    level: float
    expected_lab: FloatArray
    forecast_lab: FloatArray
    seen_lab: FloatArray | None = None


@dataclass(frozen=True, kw_only=True)
class Reads:
    """How near some guesses came, mean delta E00. words: which of them these are; lean: what they have in common.

    off: to the forecast. seen: how many of them were judged; seen_off: those, to what was seen; forecast_off: the
    forecast's own, to the same.
    """

    words: str
    count: int
    off: float
    lean: str
    seen: int
    seen_off: float | None
    forecast_off: float | None


def is_same_forecast(one_lab: FloatArray, other_lab: FloatArray) -> bool:
    """Whether two forecasts (3,) of one zone are so near that a guess of one is a guess of the other."""
    return bool(delta_e00(one_lab, other_lab) < A_LITTLE)


def how_read(guesses: Sequence[Guess], words: str = "") -> Reads | None:
    """How near guesses came, as a whole; None of none."""
    if not guesses:
        return None
    expected, forecast = _stacked(guesses, "expected_lab"), _stacked(guesses, "forecast_lab")
    found = difference(forecast, expected)
    judged = [each for each in guesses if each.seen_lab is not None]
    seen = _stacked(judged, "seen_lab") if judged else None
    return Reads(
        words=words,
        count=len(guesses),
        off=float(found.delta_e00.mean()),
        lean=_lean(found),
        seen=len(judged),
        seen_off=None if seen is None else _mean_off(seen, _stacked(judged, "expected_lab")),
        forecast_off=None if seen is None else _mean_off(seen, _stacked(judged, "forecast_lab")),
    )


def by_hue(guesses: Sequence[Guess]) -> tuple[Reads, ...]:
    """The same by the hue that was forecast, what was guessed most on top."""
    return _grouped(guesses, lambda guess: hue_of(guess.forecast_lab))


def by_level(guesses: Sequence[Guess]) -> tuple[Reads, ...]:
    """The same by the level of the hair."""
    return _grouped(guesses, lambda guess: next(str(words) for limit, words in LEVELS if guess.level <= limit))


def hue_of(lab: FloatArray) -> str:
    """The hue of a colour (3,) in a word, grey for one that has none."""
    _, chroma, hue_deg = lch_of(lab).tolist()
    return say("grey") if chroma < GREY_CHROMA else hue_word(hue_deg)


def nearest(reads: Sequence[Reads | None]) -> int | None:
    """Which of several people's readings of one thing is the nearest, of those who guessed it often enough; None where
    fewer than two did.
    """
    often = [(each.off, at) for at, each in enumerate(reads) if each is not None and each.count >= BEST_FROM]
    return min(often)[1] if len(often) > 1 else None


def _grouped(guesses: Sequence[Guess], of: Callable[[Guess], str]) -> tuple[Reads, ...]:
    groups: dict[str, list[Guess]] = {}
    for guess in guesses:
        groups.setdefault(of(guess), []).append(guess)
    found = [how_read(held, words) for words, held in groups.items()]
    return tuple(sorted((each for each in found if each), key=lambda each: (-each.count, each.words)))


def _stacked(guesses: Sequence[Guess], name: str) -> FloatArray:
    """One colour of each guess, (n, 3)."""
    return np.stack([getattr(guess, name) for guess in guesses])


def _mean_off(seen: FloatArray, told: FloatArray) -> float:
    return float(delta_e00(seen, told).mean())


def _lean(found: Difference) -> str:
    """In what the expected colours are off alike: lighter or deeper, softer or brighter."""
    if len(found.delta_e00) < LEAN_GUESSES:
        return ""
    told = []
    for parts, more, less in (
        (found.lightness_part, say("lighter"), say("deeper")),
        (found.chroma_part, say("brighter"), say("softer")),
    ):
        mean = float(parts.mean())
        error = float(parts.std(ddof=1)) / sqrt(len(parts))
        if abs(mean) >= LEAN_FROM and abs(mean) > STANDS_OUT * error:
            told.append((abs(mean), more if mean > 0 else less))
    return ", ".join(words for _, words in sorted(told, reverse=True))
