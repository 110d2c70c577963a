"""The rungs of a ladder as its page shows them and as they are typed."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Final

from engine.errors import BadInput, EngineError
from engine.hair.canvas import RANGES
from engine.hair.ladder import Ladder, Rung, School, school_ladder
from engine.hair.reading import canvas_lab
from engine.language import decimals, later, say
from studio.accounts.models import Studio
from studio.ui.locks import Lock, lock_of_colour
from studio.ui.numbers import typed_number, within
from studio.ui.refusal import Refusal
from studio.ui.words import refusal_words

NUMBERS: Final = {"warmth": later("Warmth of level {level}"), "lean": later("Lean of level {level}")}


@dataclass(frozen=True, kw_only=True)
class RungShown:
    """One rung: its level, the word and the numbers in their fields, and hair of it. wrong: which field is refused."""

    level: str
    lock: Lock
    undertone: str
    warmth: str
    lean: str
    wrong: str


@dataclass(frozen=True, kw_only=True)
class LadderPage:
    """The page of the house's ladder. own: whether the house reads by it already."""

    rungs: tuple[RungShown, ...]
    own: bool
    schools: tuple[tuple[str, str], ...]
    error_words: str


def ladder_page(
    studio: Studio,
    school: School | None = None,
    *,
    typed: Mapping[str, str] | None = None,
    refusal: Refusal | None = None,
) -> LadderPage:
    """Gather the page. school: whose rungs it begins from again. typed: what a refused form held, which stays."""
    ladder = school_ladder(school) if school else studio.ladder
    held, field = typed or {}, refusal.field if refusal else ""
    choices = Studio.SchoolChoice
    return LadderPage(
        rungs=tuple(_shown(ladder, rung, held, field) for rung in ladder.rungs),
        own=studio.school == choices.OWN,
        schools=tuple((value, words) for value, words in choices.choices if value != choices.OWN),
        error_words=refusal_words(refusal) if refusal else "",
    )


def _shown(ladder: Ladder, rung: Rung, typed: Mapping[str, str], wrong: str) -> RungShown:
    key = f"{rung.level:g}"
    numbers = {name: typed.get(f"{name}-{key}", decimals(f"{getattr(rung, name):g}")) for name in NUMBERS}
    return RungShown(
        level=key,
        lock=lock_of_colour(tuple(canvas_lab(ladder.canvas(rung.level)).tolist())),
        undertone=typed.get(f"undertone-{key}", str(rung.undertone)),
        warmth=numbers["warmth"],
        lean=numbers["lean"],
        wrong=wrong.removesuffix(f"-{key}") if wrong.endswith(f"-{key}") else "",
    )


def typed_ladder(levels: tuple[float, ...], typed: Mapping[str, str]) -> Ladder:
    """The ladder that a form holds, a rung for each level. Raises Refusal, its field that of the rung that is wrong."""
    rungs = []
    for level in levels:
        key = f"{level:g}"
        warmth, lean = (_number(typed.get(f"{name}-{key}", ""), name, key) for name in NUMBERS)
        word = typed.get(f"undertone-{key}", "").strip()
        rungs.append(Rung(level=level, undertone=word, warmth=warmth, lean=lean))
    try:
        return Ladder(rungs=tuple(rungs))
    except (BadInput, EngineError) as error:
        place = getattr(error, "field", "").split(".")  # ladder.3.undertone
        key = f"{levels[int(place[1])]:g}" if len(place) > 1 and place[1].isdigit() else ""
        raise Refusal("rung_word", f"undertone-{key}", level=key) from None


def _number(typed: str, name: str, key: str) -> float:
    field = f"{name}-{key}"
    try:
        return float(within(typed_number(typed, name, example="0.5"), name, *RANGES[name]))
    except Refusal as refusal:
        raise Refusal(refusal.code, field, **refusal.facts, label=say(NUMBERS[name], level=key)) from None
