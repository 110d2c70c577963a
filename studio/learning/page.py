"""What the page of what was learned shows: how far forecasts lay off on the first day and now, and why."""

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any, Final

import numpy as np

from engine.bowl.spread import HARDLY_OFF
from engine.bowl.sureness import TWO_SIDED_90
from engine.colorimetry.lab import lch_of
from engine.colorimetry.words import hue_word
from engine.language import say
from studio.accounts.models import Person
from studio.learning.lessons import Lesson, lessons_of
from studio.learning.services.queue import is_learning
from studio.shelf.models import Shade
from studio.taught.models import KnowledgeVersion
from studio.taught.words import strength_words
from studio.ui.locks import Lock, lock_of_colour

PLANE: Final = 320  # of the drawn plane, in pixels
PLANE_LEAST: Final = 40.0  # of its half-width in a* and b*
GREY_BELOW: Final = 8.0  # chroma under which a colour is of no hue
SCALE_MOST: Final = math.log(2.5)  # of the drawn factors: from 0.4 to 2.5 times
READS_OFF: Final = 0.1  # levels from which a bias of the eye is worth a word
VERSIONS_SHOWN: Final = 12


@dataclass(frozen=True, kw_only=True)
class Mark:
    """A result on the plane: where its forecast stood, where it came out, and its colour."""

    from_x: float
    from_y: float
    x: float
    y: float
    hex: str
    is_hit: bool


@dataclass(frozen=True, kw_only=True)
class Hits:
    """Of the results of one kind, how many were hardly off: by the engine's own physics, and by what was learned."""

    words: str
    count: int
    before: int
    after: int


@dataclass(frozen=True, kw_only=True)
class FactorShown:
    """How much stronger a tube works than its line says, with the band that holds nine cases of ten, in percent."""

    shade: Shade
    words: str
    low: float
    high: float
    at: float


@dataclass(frozen=True, kw_only=True, eq=False)
class LessonShown:
    """A record as the page lists it; off: what is in force has it, else nothing."""

    lesson: Lesson
    lock: Lock
    before_off: float | None
    after_off: float | None
    misfit: str
    can_mend: bool


@dataclass(frozen=True, kw_only=True, eq=False)
class LearnedPage:
    """What was learned as its template takes it. version: what is in force; None before there is any."""

    learns: bool
    is_learning: bool
    version: KnowledgeVersion | None
    versions: tuple[KnowledgeVersion, ...]
    first_day: tuple[Mark, ...]
    now: tuple[Mark, ...]
    by_hue: tuple[Hits, ...]
    by_base: tuple[Hits, ...]
    covered: int
    factors: tuple[FactorShown, ...]
    readers: tuple[str, ...]
    misfits: tuple[LessonShown, ...]
    lessons: tuple[LessonShown, ...]
    plane: int = PLANE

    @property
    def waiting(self) -> int:
        """Records that nothing was learned from yet."""
        return sum(1 for each in self.lessons if each.lesson.teaches and each.after_off is None)


def learned_page(person: Person) -> LearnedPage:
    """Gather it: what is in force beside every record that the studio's rows make."""
    versions = KnowledgeVersion.objects.visible_to(person)
    newest = versions.filter(in_force=True).defer("held").first()
    shown: Mapping[str, Any] = newest.shown if newest else {"records": {}, "misfits": {}, "shades": {}, "readers": {}}
    lessons = tuple(_lesson(each, shown) for each in lessons_of(person.studio_id))
    told = [each for each in lessons if each.lesson.key in shown["records"]]
    return LearnedPage(
        learns=person.studio.learns,
        is_learning=is_learning(person.studio_id),
        version=newest,
        versions=tuple(versions.defer("held", "shown")[:VERSIONS_SHOWN]),
        first_day=_marks(shown["records"], "before"),
        now=_marks(shown["records"], "after"),
        by_hue=_hits(told, shown["records"], lambda each: _hue_of(shown["records"][each.lesson.key]["actual"])),
        by_base=_hits(
            told, shown["records"], lambda each: say("level {level:.0f}", level=each.lesson.noted.canvas.level)
        ),
        covered=sum(each["covered"] for each in shown["records"].values()),
        factors=_factors(person, shown["shades"]),
        readers=_readers(person, shown["readers"]),
        misfits=tuple(each for each in lessons if each.misfit),
        lessons=lessons,
    )


def _lesson(lesson: Lesson, shown: Mapping[str, Any]) -> LessonShown:
    record, misfit = shown["records"].get(lesson.key), shown["misfits"].get(lesson.key)
    return LessonShown(
        lesson=lesson,
        lock=lock_of_colour(tuple(lesson.record.actual_lab.tolist())),
        before_off=record["before_off"] if record else None,
        after_off=record["after_off"] if record else None,
        misfit=_told(misfit) if misfit and lesson.teaches and not lesson.is_mended else "",
        can_mend=bool(misfit and misfit.get("mending")),
    )


def _told(misfit: Mapping[str, Any]) -> str:
    """What the worker found, which knows no reader's language; what was learned before it kept that is English."""
    said = misfit.get("said")
    return say(said["text"], **said["parts"]) if said else str(misfit["sentence"])


def _marks(records: Mapping[str, Any], when: str) -> tuple[Mark, ...]:
    """Results on the plane of red against green and yellow against blue, with hairlines from where forecasts stood."""
    told = [each[name] for each in records.values() for name in ("before", "after", "actual")]
    most = max([PLANE_LEAST, *(abs(part) for _, a, b in told for part in (a, b))]) * 1.05

    def place(lab: Sequence[float]) -> tuple[float, float]:
        return round(PLANE * (0.5 + lab[1] / most / 2), 1), round(PLANE * (0.5 - lab[2] / most / 2), 1)

    marks = []
    for each in records.values():
        (from_x, from_y), (x, y) = place(each[when]), place(each["actual"])
        hex_code = lock_of_colour(tuple(each["actual"])).hex
        is_hit = each[f"{when}_off"] <= HARDLY_OFF
        marks.append(Mark(from_x=from_x, from_y=from_y, x=x, y=y, hex=hex_code, is_hit=is_hit))
    return tuple(marks)


def _hue_of(lab: Sequence[float]) -> str:
    _, chroma, hue = (float(part) for part in lch_of(np.array(lab)))
    return say("greyed") if chroma < GREY_BELOW else hue_word(hue)


def _hits(
    told: Sequence[LessonShown], records: Mapping[str, Any], kind_of: Callable[[LessonShown], str]
) -> tuple[Hits, ...]:
    """How many of each kind were hardly off, the most frequent first."""
    kinds: dict[str, list[Mapping[str, Any]]] = {}
    for each in told:
        kinds.setdefault(kind_of(each), []).append(records[each.lesson.key])
    found = [
        Hits(
            words=words,
            count=len(of_it),
            before=sum(each["before_off"] <= HARDLY_OFF for each in of_it),
            after=sum(each["after_off"] <= HARDLY_OFF for each in of_it),
        )
        for words, of_it in kinds.items()
    ]
    return tuple(sorted(found, key=lambda each: (-each.count, each.words)))


def _factors(person: Person, shades: Mapping[str, Any]) -> tuple[FactorShown, ...]:
    """The tubes that results told of, the farthest from their line first."""
    rows = {str(row.pk): row for row in Shade.objects.visible_to(person).filter(pk__in=shades).select_related("line")}
    found = [(rows[key], each) for key, each in shades.items() if key in rows]
    found.sort(key=lambda pair: -abs(math.log(pair[1]["factor"])))
    return tuple(_factor(row, each["factor"], each["doubt"], each["shift_nm"]) for row, each in found)


def _factor(row: Shade, factor: float, doubt: float, shift_nm: float) -> FactorShown:
    low, high = (math.log(factor) + sign * TWO_SIDED_90 * doubt for sign in (-1, 1))
    words = strength_words(factor)
    if abs(shift_nm) >= 1:
        words += say(
            ", {shift_nm:.0f} nm nearer {told}",
            shift_nm=abs(shift_nm),
            told=say("red") if shift_nm > 0 else say("blue"),
        )
    return FactorShown(shade=row, words=words, low=_along(low), high=_along(high), at=_along(math.log(factor)))


def _along(log: float) -> float:
    """A factor's place on its scale, in percent."""
    return round(50 + 50 * min(max(log / SCALE_MOST, -1), 1), 1)


def _readers(person: Person, readers: Mapping[str, float]) -> tuple[str, ...]:
    """Whose eye reads otherwise than the results say, in words."""
    names = {str(each.pk): str(each) for each in Person.objects.filter(studio=person.studio_id)}
    return tuple(
        say(
            "{names} reads hair by eye about {off:.1f} levels too {told}.",
            names=names[key],
            off=abs(off),
            told=say("light") if off > 0 else say("dark"),
        )
        for key, off in readers.items()
        if key in names and abs(off) >= READS_OFF
    )
