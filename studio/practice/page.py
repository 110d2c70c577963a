"""What the practice room shows: where one stands in each skill, and a drill with its answer."""

import datetime
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Final

from django.utils import timezone

from engine.language import begun, later, say
from engine.practice.bowls import STEPS_G, AtTheBowl
from engine.practice.drill import HARDEST, Graded, Shown, Skill, ToChoose, ToReckon
from engine.practice.looking import shade_word
from engine.practice.make import Asked
from engine.practice.standing import Standing
from engine.service.roles import Act
from studio.accounts.models import Person
from studio.practice.cases import has_cases
from studio.practice.models import Drill, SetWork, SkillChoice
from studio.practice.selectors import answers_of, open_skills, set_to, standing
from studio.practice.services.practise import LEFT, asked_in, grade_of, poured_in
from studio.ui.days import day_words
from studio.ui.locks import Lock, lock_of_colour
from studio.ui.numbers import brief_weight, shown_weight
from studio.ui.refusal import Refusal
from studio.ui.words import refusal_words

SKILLS: Final[Mapping[str, str]] = {
    Skill.READ: later("Name level and warmth of a lock."),
    Skill.OPPOSITE: later("Which shade takes the warmth out."),
    Skill.WHICH: later("Which of four locks a bowl gives."),
    Skill.HIT: later("Mix a colour with ten pours."),
    Skill.RESCUE: later("Bring a bowl back by adding alone."),
    Skill.SUMS: later("Ratios and developer, against the clock."),
    Skill.ROUTE: later("See the hair and the wish, choose the way."),
    Skill.WRONG: later("Green, hollow, hot root: what was it?"),
    Skill.TWO: later("In which order, with one pair of hands."),
    SkillChoice.CASE: later("Bowls that were mixed here, nobody named."),
}
PLOTTED: Final = 20  # answers in a plot
PLOT: Final = (160.0, 40.0)  # its width and height


@dataclass(frozen=True, kw_only=True)
class SkillRow:
    """A skill and where one stands in it. plot: where the last answers stand; said: the same in words."""

    skill: str
    name: str
    words: str
    standing: Standing
    is_due: bool
    due: str
    is_open: bool
    plot: tuple[tuple[str, str], ...]
    said: str
    work: SetWork | None

    @property
    def is_set(self) -> bool:
        """Whether a mentor has set it and not signed it off yet."""
        return self.work is not None and self.work.signed_at is None


@dataclass(frozen=True, kw_only=True)
class PracticePage:
    """The practice room. next: the skill to go on with. mentors: whether its person sets work to others."""

    rows: tuple[SkillRow, ...]
    next: str
    mentors: bool
    hardest: int = HARDEST


@dataclass(frozen=True, kw_only=True)
class Learner:
    """Somebody whom a mentor looks after, and where they stand."""

    person: Person
    rows: tuple[SkillRow, ...]


@dataclass(frozen=True, kw_only=True)
class Picture:
    """A lock with its caption. key: its own on the page."""

    key: str
    words: str
    lock: Lock


@dataclass(frozen=True, kw_only=True)
class Answer:
    """One of the answers to choose from. because: what it would have been; is_right, is_given: once it was answered."""

    key: str
    words: str
    because: str
    lock: Lock | None
    is_right: bool
    is_given: bool


@dataclass(frozen=True, kw_only=True)
class DrillPage:
    """A drill as its template takes it. kind: choose, reckon or bowl. gone_s: since it was begun. grade: once it was
    answered.
    """

    drill: Drill
    kind: str
    question: str
    pictures: tuple[Picture, ...]
    answers: tuple[Answer, ...]
    unit: str
    allowed_s: int
    gone_s: str
    shades: tuple[tuple[str, str, str], ...]
    pours_left: int
    grade: Graded | None
    outcome: str
    error_words: str
    typed: str

    @property
    def steps(self) -> tuple[tuple[str, str], ...]:
        """What a press pours: in grams, and in the house's unit."""
        return tuple((f"{step:g}", brief_weight(step)) for step in STEPS_G)


def practice_page(person: Person, today: datetime.date) -> PracticePage:
    """Gather where one stands. Four queries."""
    rows = _rows(person, today)
    due = [row for row in rows if row.is_due] or list(rows)
    following = min(
        due, key=lambda row: (not row.is_open, not row.is_set, row.standing.due_on or today, row.standing.count)
    )
    return PracticePage(rows=rows, next=following.skill, mentors=person.may(Act.SIGN))


def learners_of(mentor: Person, today: datetime.date) -> tuple[Learner, ...]:
    """Who else works here, and where each stands. Four queries each."""
    return tuple(Learner(person=each, rows=_rows(each, today)) for each in mentor.colleagues)


def _rows(person: Person, today: datetime.date) -> tuple[SkillRow, ...]:
    answered, open_, works = answers_of(person), open_skills(person), set_to(person)
    shown = [skill for skill in SKILLS if skill != SkillChoice.CASE or skill in answered or has_cases(person)]
    return tuple(_row(skill, answered.get(skill, []), open_, works.get(skill), today) for skill in shown)


def _row(skill: str, drills: list[Drill], open_: set[str], work: SetWork | None, today: datetime.date) -> SkillRow:
    where = standing(drills)
    scores = [float(drill.score or 0) for drill in drills[-PLOTTED:]]
    return SkillRow(
        skill=str(skill),
        name=str(SkillChoice(skill).label),
        words=str(SKILLS[skill]),
        standing=where,
        is_due=where.is_due(today),
        due="" if where.due_on is None or where.due_on <= today else day_words(where.due_on),
        is_open=skill in open_,
        work=work,
        plot=_plot(scores),
        said=say(
            "the last {count} answers, of 100: {scores}",
            count=len(scores),
            scores=", ".join(f"{100 * each:.0f}" for each in scores),
        ),
    )


def _plot(scores: list[float]) -> tuple[tuple[str, str], ...]:
    """Where each answer stands, from left to right, a right one high."""
    width, height = PLOT
    step = (width - 8) / (PLOTTED - 1)
    return tuple((f"{4 + at * step:.1f}", f"{4 + (height - 8) * (1 - score):.1f}") for at, score in enumerate(scores))


def drill_page(drill: Drill, refusal: Refusal | None = None, typed: str = "") -> DrillPage:
    """Gather a drill, and its answer once it has one."""
    asked = asked_in(drill)
    grade = grade_of(drill) if drill.answered_at else None
    return DrillPage(
        drill=drill,
        kind="bowl" if isinstance(asked, AtTheBowl) else "choose" if isinstance(asked, ToChoose) else "reckon",
        question=begun(asked.question),
        pictures=_pictures(asked, drill),
        answers=_answers(asked, drill) if isinstance(asked, ToChoose) else (),
        unit=asked.unit if isinstance(asked, ToReckon) else "",
        allowed_s=asked.allowed_s if isinstance(asked, ToReckon) else 0,
        gone_s="" if grade else f"{_gone_s(drill):.1f}",
        shades=_shades(asked, drill) if isinstance(asked, AtTheBowl) else (),
        pours_left=asked.pours_most - len(drill.pours) if isinstance(asked, AtTheBowl) else 0,
        grade=grade,
        outcome=_outcome(drill, grade) if grade else "",
        error_words=refusal_words(refusal) if refusal else "",
        typed=typed,
    )


def _gone_s(drill: Drill) -> float:
    """How long ago a drill was begun."""
    return max((timezone.now() - drill.made_at).total_seconds(), 0.0)


def _pictures(asked: Asked, drill: Drill) -> tuple[Picture, ...]:
    """What is seen with the question."""
    if isinstance(asked, AtTheBowl):
        now = asked.lab(asked.holds(poured_in(drill)))
        return _drawn("seen", (Shown(words=say("aim"), lab=asked.target_lab), Shown(words=say("yours"), lab=now)))
    if isinstance(asked, ToReckon):
        return ()
    return _drawn("seen", asked.shown)


def _drawn(name: str, shown: Iterable[Shown]) -> tuple[Picture, ...]:
    return tuple(
        Picture(key=f"{name}-{at}", words=each.words, lock=lock_of_colour(tuple(each.lab.tolist())))
        for at, each in enumerate(shown)
    )


def _answers(asked: ToChoose, drill: Drill) -> tuple[Answer, ...]:
    is_over = drill.answered_at is not None
    return tuple(
        Answer(
            key=each.key,
            words=each.words,
            because=each.because if is_over else "",
            lock=lock_of_colour(tuple(each.lab.tolist()))
            if each.lab is not None and (each.is_seen or is_over)
            else None,
            is_right=is_over and each.key == asked.best.key,
            is_given=is_over and each.key == drill.given,
        )
        for each in asked.choices
    )


def _shades(asked: AtTheBowl, drill: Drill) -> tuple[tuple[str, str, str], ...]:
    """What may be poured: key, name, and grams that the bowl holds of it."""
    grams = asked.holds(poured_in(drill))
    return tuple((name, shade_word(name), shown_weight(grams.get(name, 0.0))) for name in asked.offered)


def _outcome(drill: Drill, grade: Graded) -> str:
    if drill.given == LEFT:
        return say("Left: this is the answer.")
    told = say("right") if grade.is_right else say("not quite") if grade.score > 0 else say("wrong")
    return say("{told}: {score:.0f} of 100", told=told, score=100 * grade.score)
