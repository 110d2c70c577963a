"""What is asked of a file before anything of it is taken, as its page shows it."""

from collections.abc import Mapping
from dataclasses import dataclass

from engine.language import say
from studio.formats.models import Intake
from studio.formats.services.telling import FILE, HERE, OTHER, SAME, Difference


@dataclass(frozen=True, kw_only=True)
class Choice:
    """One of two answers."""

    value: str
    words: str
    is_chosen: bool


@dataclass(frozen=True, kw_only=True)
class Question:
    """Something that is decided: name of its field, whose it is, and both answers."""

    field: str
    where: str
    title: str
    choices: tuple[Choice, Choice]


def questions_of(intake: Intake, given: Mapping[str, str]) -> list[Question]:
    """What an intake waits for, with what was chosen so far; of a word that differs, what is here stands first."""
    if not intake.waits_for_answers:
        return []
    return [_question(f"answer{place}", Difference(**each), given) for place, each in enumerate(intake.asked)]


def _question(field: str, asked: Difference, given: Mapping[str, str]) -> Question:
    if asked.of_whom:
        same = say("the same person: here “{here}”, in the file “{there}”", here=asked.here, there=asked.there)
        answers = ((SAME, same), (OTHER, say("somebody else of that name: a card of her own")))
        chosen = given.get(field, "")
    else:
        here, there = say("here: {here}", here=asked.here), say("in the file: {there}", there=asked.there)
        answers, chosen = ((HERE, here), (FILE, there)), given.get(field, HERE)
    first, second = (Choice(value=value, words=words, is_chosen=value == chosen) for value, words in answers)
    return Question(field=field, where=asked.where, title=asked.title, choices=(first, second))
