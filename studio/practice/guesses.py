"""Who foresees best what comes out of a bowl, as a whole, by hue and by level of the hair."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from engine.language import decimals, say
from engine.practice.guessing import LEVELS, Reads, by_hue, by_level, how_read, nearest
from studio.accounts.models import Person
from studio.guesses.selectors import guesses_here


@dataclass(frozen=True, kw_only=True)
class Cell:
    """One person's reading of one kind of colour."""

    off: str
    count: int
    is_best: bool


@dataclass(frozen=True, kw_only=True)
class Row:
    """One kind of colour, and how near each person's guesses come to its forecast; None for who has not guessed it."""

    words: str
    cells: tuple[Cell | None, ...]


@dataclass(frozen=True, kw_only=True)
class GuessesPage:
    """Everybody's guesses at the bowl, and one's own in words. groups: title and rows."""

    names: tuple[str, ...]
    groups: tuple[tuple[str, tuple[Row, ...]], ...]
    own: tuple[str, ...]


def guesses_page(person: Person) -> GuessesPage:
    """Gather who reads best. Two queries."""
    found = guesses_here(person)
    people = sorted(found, key=str)
    whole = [how_read(found[each]) for each in people]
    hues, levels = (
        [{read.words: read for read in split(found[each])} for each in people] for split in (by_hue, by_level)
    )
    return GuessesPage(
        names=tuple(str(each) for each in people),
        groups=(
            (
                say("By level of the hair"),
                (_row(say("all guesses"), whole), *_rows(levels, [str(words) for _, words in LEVELS])),
            ),
            (say("By hue of the forecast"), _rows(hues, _most_guessed(hues))),
        ),
        own=_own(how_read(found.get(person, []))),
    )


def _most_guessed(reads: Sequence[Mapping[str, Reads]]) -> list[str]:
    """The kinds that were guessed, the most often guessed first."""
    counts: dict[str, int] = {}
    for each in reads:
        for words, read in each.items():
            counts[words] = counts.get(words, 0) + read.count
    return sorted(counts, key=lambda words: (-counts[words], words))


def _rows(reads: Sequence[Mapping[str, Reads]], kinds: Sequence[str]) -> tuple[Row, ...]:
    held = [(words, [each.get(words) for each in reads]) for words in kinds]
    return tuple(_row(words, cells) for words, cells in held if any(cells))


def _row(words: str, reads: Sequence[Reads | None]) -> Row:
    best = nearest(reads)
    cells = (
        Cell(off=decimals(f"{read.off:.1f}"), count=read.count, is_best=at == best) if read else None
        for at, read in enumerate(reads)
    )
    return Row(words=words, cells=tuple(cells))


def _own(read: Reads | None) -> tuple[str, ...]:
    """What one's own guesses say, sentence by sentence."""
    if read is None:
        return ()
    said = [say("Your guesses are {off:.1f} off the forecast on average.", off=read.off)]
    if read.lean:
        said.append(say("You expect it {lean} than it is forecast.", lean=read.lean))
    if read.seen_off is not None and read.forecast_off is not None:
        said.append(
            say(
                "Of {count} that were judged you were {seen_off:.1f} off what came, the forecast {forecast_off:.1f}.",
                count=read.seen,
                seen_off=read.seen_off,
                forecast_off=read.forecast_off,
            )
        )
    return tuple(said)
