"""The ladder of locks that a result is judged by, as buttons."""

from dataclasses import dataclass
from typing import Final

import numpy as np

from engine.arrays import FloatArray
from engine.colorimetry.difference import delta_e00
from engine.service.judge import JudgedLock, judging_ladder
from studio.ui.locks import Lock, lock_of_colour
from studio.ui.refusal import Refusal

LEARNED_MOST: Final = 20.0  # delta E00 by which a forecast may move while a page is open


@dataclass(frozen=True, kw_only=True)
class LadderLock:
    """One lock of the judging ladder as a button."""

    place: str
    lock: Lock
    words: str
    chosen: bool


def ladder_locks(forecast_lab: FloatArray, chosen_lab: FloatArray | None) -> tuple[tuple[LadderLock, ...], ...]:
    """Rows of locks round a forecast (3,), with the one that was chosen (3,), if any was."""

    def shown(place: str, judged: JudgedLock) -> LadderLock:
        return LadderLock(
            place=place,
            lock=lock_of_colour(tuple(judged.lab.tolist())),
            words=judged.words,
            chosen=chosen_lab is not None and bool(np.allclose(chosen_lab, judged.lab, atol=2e-3)),
        )

    rows = judging_ladder(forecast_lab)
    return tuple(
        tuple(shown(f"{row}-{column}", judged) for column, judged in enumerate(locks)) for row, locks in enumerate(rows)
    )


def around_words(forecast_lab: FloatArray) -> str:
    """What a ladder is drawn around (3,), for the form that sends a lock of it."""
    return ",".join(f"{part:.3f}" for part in forecast_lab)


def around(shown: str, forecast_lab: FloatArray) -> FloatArray:
    """What a ladder that was on the screen was drawn around, L*a*b* (3,), as the page sent it: something may have been
    learned since. What is no colour, or none near the forecast, is not what was shown."""
    try:
        lab = np.array([float(part) for part in shown.split(",")])
    except ValueError:
        return forecast_lab
    if lab.shape != (3,) or not np.isfinite(lab).all() or float(delta_e00(lab, forecast_lab)) > LEARNED_MOST:
        return forecast_lab
    return lab


def ladder_lab(forecast_lab: FloatArray, place: str) -> FloatArray:
    """The colour (3,) of a lock on the judging ladder by its place, such as 1-2. Raises Refusal."""
    rows = judging_ladder(forecast_lab)
    row, _, column = place.partition("-")
    if not (row.isascii() and row.isdigit() and column.isascii() and column.isdigit()):
        raise Refusal("ladder_place")
    if int(row) >= len(rows) or int(column) >= len(rows[0]):
        raise Refusal("ladder_place")
    return rows[int(row)][int(column)].lab
