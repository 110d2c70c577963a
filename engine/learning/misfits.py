"""Records that don't fit what all the others say, each with its likeliest cause."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from typing import Final

import numpy as np

from engine.arrays import FloatArray
from engine.bowl.doses import Worked, subject_of
from engine.bowl.mix import GRAMS_LIMIT, Bowl
from engine.dye.shade import Shade
from engine.hair.residue import LEVEL_CLEAN_WHITE, LEVEL_DARKEST
from engine.knowledge.told import told
from engine.language import Later
from engine.learning.fit import GROSS_SD, Fitted
from engine.learning.study import Study

GROSS_FROM: Final = 21.1  # squared distance that 1 in 10,000 sound records passes: chi squared of three
MISFITS_MOST: Final = 20
OFF_FROM: Final = 3.0  # delta E00 below which a record is not worth a word
SURE_OF_CAUSE: Final = 0.95
MORE_MOST: Final = 0.5
LEVELS_OFF: Final = (-3.0, -2.0, -1.0, 1.0, 2.0, 3.0)
TIMES_OFF: Final = (0.1, 0.5, 2.0, 10.0)  # a slip of the decimal point, half or twice the pour
# How often each slip is made, as shares of all; the founders' estimate.
SLIPS: Final = {"shade": 0.5, "level": 0.25, "grams": 0.25}
UNEXPLAINED: Final = 0.1


class Cause(StrEnum):
    """What most likely went wrong with a record."""

    SHADE = "shade"
    LEVEL = "level"
    GRAMS = "grams"
    UNKNOWN = "unknown"


@dataclass(frozen=True, kw_only=True, eq=False)
class Misfit:
    """A record, from 0, that lies delta_e00 off; its likeliest cause with its chance; and what it then was."""

    record: int
    delta_e00: float
    cause: Cause
    chance: float
    sentence: Later
    mended: Worked | None

    @property
    def is_sure(self) -> bool:
        """Whether it may be taken for what it most likely was: another shade, told beyond doubt from all others."""
        return self.cause is Cause.SHADE and self.chance > SURE_OF_CAUSE


@dataclass(frozen=True, kw_only=True, eq=False)
class _Guess:
    cause: Cause
    odds: float
    sentence: Later
    worked: Worked


def misfits_of(study: Study, fitted: Fitted, shades: Sequence[Shade]) -> tuple[Misfit, ...]:
    """The records that lie far out, farthest first."""
    off = np.linalg.norm(fitted.left_out, axis=-1)
    order = np.argsort(-fitted.far)[:MISFITS_MOST]
    return tuple(
        _explained(study, fitted, int(row), shades)
        for row in order
        if fitted.far[row] > GROSS_FROM and off[row] > OFF_FROM
    )


def _explained(study: Study, fitted: Fitted, row: int, shades: Sequence[Shade]) -> Misfit:
    guesses = list(_guesses(study.worked[row], shades))
    unexplained = _density(fitted.left_out[row], GROSS_SD * np.eye(3)) * UNEXPLAINED
    off = float(np.linalg.norm(fitted.left_out[row]))
    if not guesses:
        return _unknown(row, off)
    odds = np.array([guess.odds for guess in guesses]) * _likely(study, fitted, row, [each.worked for each in guesses])
    best = int(odds.argmax())
    if odds[best] <= unexplained:
        return _unknown(row, off)
    return Misfit(
        record=row,
        delta_e00=off,
        cause=guesses[best].cause,
        chance=float(odds[best] / (odds.sum() + unexplained)),
        sentence=guesses[best].sentence,
        mended=guesses[best].worked,
    )


def _unknown(row: int, off: float) -> Misfit:
    sentence = Later("No one slip explains it: look at the card, and at the light it was judged in.")
    return Misfit(record=row, delta_e00=off, cause=Cause.UNKNOWN, chance=0.0, sentence=sentence, mended=None)


def _likely(study: Study, fitted: Fitted, row: int, worked: Sequence[Worked]) -> FloatArray:
    """How likely (guesses,) the record's colour is, had it been one of these, what is unknown of each included."""
    count, whole = len(worked), study.subject
    subject = replace(
        subject_of(worked, study.shades, [study.lights[row]] * count, line_of=whole.line_of),
        client_of=np.repeat(whole.client_of[row], count),
        reader_of=np.repeat(whole.reader_of[row], count),
    )
    found = told(subject, fitted.model.layout, fitted.unknowns, fitted.model.centres)
    missed = (study.actual_lab[row] - found.lab) @ study.metrics[row].T
    known = study.metrics[row] @ found.slopes @ fitted.root
    doubt = fitted.frames[row] @ fitted.frames[row].T + known @ np.swapaxes(known, 1, 2)
    return np.array([_density(each, np.linalg.cholesky(own)) for each, own in zip(missed, doubt, strict=True)])


def _density(missed: FloatArray, frame: FloatArray) -> float:
    """How likely a miss (3,) is under a doubt whose root is `frame` (3, 3)."""
    seen = np.linalg.solve(frame, missed)
    return float(np.exp(-0.5 * seen @ seen) / abs(np.linalg.det(frame)))


def _guesses(worked: Worked, shades: Sequence[Shade]) -> Iterator[_Guess]:
    """What a record may have been, had one thing been noted wrongly."""
    pours = [(coat, shade) for coat, (bowl, _) in enumerate(worked.coats) for shade in bowl.colours]
    swaps = [
        (coat, shade, other) for coat, shade in pours for other in shades if other not in worked.coats[coat][0].grams
    ]
    for coat, shade, other in swaps:
        grams = {(other if each is shade else each): g for each, g in worked.coats[coat][0].grams.items()}
        sentence = Later("It looks as if {name} was in the bowl, and not {name2}.", name=other.name, name2=shade.name)
        yield _Guess(
            cause=Cause.SHADE, odds=SLIPS["shade"] / len(swaps), sentence=sentence, worked=_with(worked, coat, grams)
        )
    for coat, shade in pours:
        held = worked.coats[coat][0].grams[shade]
        room = MORE_MOST * worked.coats[coat][0].total_g  # nobody overlooks that a bowl is twice as full
        for times in (each for each in TIMES_OFF if (each - 1) * held <= room and each * held <= GRAMS_LIMIT):
            grams = {**worked.coats[coat][0].grams}
            grams[shade] = grams[shade] * times
            noted = grams[shade] / times
            sentence = Later(
                "It looks as if {grams:weight} of {name} was in the bowl, not {noted:weight}.",
                grams=grams[shade],
                name=shade.name,
                noted=noted,
            )
            odds = SLIPS["grams"] / len(pours) / len(TIMES_OFF)
            yield _Guess(cause=Cause.GRAMS, odds=odds, sentence=sentence, worked=_with(worked, coat, grams))
    level = worked.canvas.level
    ends = [level + off for off in LEVELS_OFF if LEVEL_DARKEST <= level + off <= LEVEL_CLEAN_WHITE]
    for end in ends:
        canvas = replace(worked.canvas, level=end)
        sentence = Later("It looks as if the hair was nearer level {end:.0f} than {level:.0f}.", end=end, level=level)
        odds = SLIPS["level"] / len(ends)
        yield _Guess(cause=Cause.LEVEL, odds=odds, sentence=sentence, worked=replace(worked, canvas=canvas))


def _with(worked: Worked, coat: int, grams: Mapping[Shade, float]) -> Worked:
    coats = list(worked.coats)
    coats[coat] = (Bowl(grams=grams), coats[coat][1])
    return replace(worked, coats=tuple(coats))
