"""A shade of which only its name, level and tone are known: what is believed of it, and how little that is."""

import re
from collections.abc import Iterable, Mapping, Sequence
from functools import cache
from types import MappingProxyType
from typing import Final

import numpy as np

from engine.arrays import FloatArray, frozen
from engine.colorimetry.grid import BANDS
from engine.dye.families import absorption_of, anything, like
from engine.dye.kind import Kind
from engine.dye.known import JOINED, NODES, Known, doubt_from
from engine.dye.shade import SAMPLE_LIMIT, SMALLEST_KS, Shade
from engine.errors import Unknown
from engine.language import joins_nouns, kept_by_language, listed, say
from engine.tables import load_table

FURTHER: Final = 0.5  # what each further tone of a shade counts, of the one before: the first leads
OXIDATIVE_TONE: Final = 0.2  # strength of a demi's or permanent's tone over a direct dye's, as in the demo shelf
NAMED_SD: Final = 0.5  # of the logarithm of the strength of a shade that is known by its name alone; the founders'
TONE_LEAST: Final = 0.15  # K at the peak below which a shade has a base and no tone to be unsure of
# Words for what only carries, with grams of plain clear that a gram of it stands for, as in the demo shelf.
CARRIERS: Final = MappingProxyType({"clear": 1.0, "conditioner": 1.4, "mask": 1.2, "base": 1.2})
LETTERS: Final = r"[^\W\d_]+"
WORD: Final = re.compile(rf"{LETTERS}(?:-{LETTERS})?")
PART_LEAST: Final = 3  # letters of a word that is a part of another


@cache
def tone_words() -> Mapping[str, tuple[tuple[str, float], ...]]:
    """The words for tones, each with the families that it stands for and how much of each."""
    table = load_table("tone_words")
    words: dict[str, tuple[tuple[str, float], ...]] = {}
    for word, name, share in zip(table.texts("word"), table.texts("family"), table.numbers("share"), strict=True):
        words[word] = (*words.get(word, ()), (name, float(share)))
    return MappingProxyType(words)


def tones_in(text: str) -> tuple[str, ...]:
    """The words for tones in a text, such as a shade's name, the last first: in "smoky rose gold" gold leads."""
    found = [each for word in WORD.findall(text.casefold()) for each in _tones_of(word)]
    return tuple(dict.fromkeys(reversed(found)))


def carrier_in(text: str) -> float | None:
    """How far a carrier thins, by the word for one in its name; None for what is none."""
    words = WORD.findall(text.casefold())
    return next(
        (thins for word, thins in CARRIERS.items() if {word, say(word.capitalize()).casefold()} & set(words)), None
    )


def tone_called(word: str) -> str:
    """The tone that a word of English or of the language of now stands for; nothing for none."""
    return _called().get(word.casefold(), "")


def said_tones(tones: Iterable[str]) -> str:
    """Tones one after the other, as they are said now."""
    return listed(say(each) for each in tones)


@kept_by_language(maxsize=8)
def _called() -> Mapping[str, str]:
    """Every word for a tone, as it is said now and in English, with the tone."""
    return {say(word).casefold(): word for word in tone_words()} | {word: word for word in tone_words()}


def _tones_of(word: str) -> list[str]:
    if tone := tone_called(word):
        return [tone]
    parts = [tone_called(each) for each in word.split("-")]
    if not any(parts) and joins_nouns():  # Kupferrot, Goldblond
        known = sorted((each for each in _called() if len(each) >= PART_LEAST), key=len, reverse=True)
        first = next((each for each in known if word.startswith(each)), "")
        last = next((each for each in known if word.removeprefix(first).endswith(each)), "")
        parts = [tone_called(first), tone_called(last)]
    return [each for each in parts if each]


def guessed(
    name: str,
    *,
    kind: Kind,
    tones: Sequence[str],
    level: float | None = None,
) -> Shade:
    """A shade as its tones, the leading one first, let one expect it, with the doubt of a guess.

    Without a tone it may be anything; with a level it has that base, and of a base alone no more is in doubt than of
    one that its line describes. Raises Unknown for a tone that is no word for one; OutOfRange for the level, BadInput
    for a level of what has none.
    """
    absorption = _absorption(tones, kind)
    doubt = None
    if absorption is None:
        prior = anything()
        absorption = np.exp(prior.mean @ JOINED)
        doubt = doubt_from(prior.covariance, Known.NAMED, 0)
    elif absorption.max() > TONE_LEAST or level is None:
        prior = like(name, absorption)
        doubt = doubt_from(prior.covariance + np.full((NODES, NODES), NAMED_SD**2), Known.NAMED, 0)
    samples = np.clip(absorption, SMALLEST_KS, SAMPLE_LIMIT).round(6)
    return Shade(
        name=name,
        samples=tuple(samples.tolist()),
        strength=1.0,
        kind=kind,
        level=level,
        doubt=doubt,
    )


def _absorption(tones: Sequence[str], kind: Kind) -> FloatArray | None:
    """K (bands,) of tones; None without one. Raises Unknown."""
    if not tones:
        return None
    counts = np.array([FURTHER**place for place in range(len(tones))])
    whole = OXIDATIVE_TONE if kind.is_oxidative else 1.0
    absorption = np.zeros(BANDS)
    for tone, count in zip(tones, counts / counts.sum(), strict=True):
        if tone not in tone_words():
            raise Unknown("tone", tone, tone_words())
        for member, share in tone_words()[tone]:
            absorption = absorption + whole * count * share * absorption_of(member)
    return frozen(absorption)
