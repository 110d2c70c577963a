"""Begin a drill, pour in it, answer it."""

import datetime
import secrets
from dataclasses import replace
from decimal import Decimal
from typing import Final

from django.db import transaction

from engine.errors import EngineError
from engine.practice.bowls import STEPS_G, AtTheBowl, poured
from engine.practice.drill import Graded, Skill, ToChoose, ToReckon, chosen, reckoned
from engine.practice.make import Asked, drill_of
from studio.accounts.models import Person
from studio.practice.cases import asked_of_case, drawn_case
from studio.practice.models import Drill, SkillChoice
from studio.practice.selectors import standing_of
from studio.ui.numbers import typed_number
from studio.ui.refusal import Refusal

NUMBERS: Final = 2**31 - 1
LEFT: Final = "left"  # given where the answer was asked for instead


@transaction.atomic
def begin(person: Person, *, skill: str, now: datetime.datetime) -> Drill:
    """The drill of a skill that was begun and not answered, else a new one, as hard as its person is good.

    A sum whose time has run out meanwhile is another sum: nobody is late for having been called away.
    Raises Refusal skill_unknown, no_cases.
    """
    if skill not in SkillChoice.values:
        raise Refusal("skill_unknown", "skill")
    Person.objects.select_for_update().get(pk=person.pk)  # two tablets begin one drill
    if begun := Drill.objects.filter(person=person, skill=skill, answered_at=None).first():
        if skill == Skill.SUMS and seconds_left(begun, now) <= 0:
            begun.number, begun.made_at = secrets.randbelow(NUMBERS), now
            begun.save(update_fields=["number", "made_at"])
        return begun
    case = drawn_case(person) if skill == SkillChoice.CASE else None
    if skill == SkillChoice.CASE and case is None:
        raise Refusal("no_cases", "skill")
    return Drill.objects.create(
        person=person,
        skill=skill,
        difficulty=standing_of(person, skill).difficulty,
        number=secrets.randbelow(NUMBERS),
        made_at=now,
        case=case,
    )


@transaction.atomic
def pour_in(person: Person, *, drill_id: int, shade: str, typed: str, seen: int) -> Drill:
    """One more pour. seen: how many the page shows, so that two tablets don't pour the same twice.

    Raises Refusal drill_answered, drill_moved_on, drill_pours_used, drill_pour; Drill.DoesNotExist.
    """
    drill = _open(person, drill_id)
    asked = asked_in(drill)
    if not isinstance(asked, AtTheBowl):
        raise Refusal("drill_pour", "grams")
    if seen != len(drill.pours):
        raise Refusal("drill_moved_on", "grams")
    if len(drill.pours) >= asked.pours_most:
        raise Refusal("drill_pours_used", "grams", most=asked.pours_most)
    grams = float(typed_number(typed, "grams", example="2.5"))
    if grams not in STEPS_G:
        raise Refusal("drill_pour", "grams")
    drill.pours = [*drill.pours, [shade, grams]]
    try:
        asked.holds(poured_in(drill))
    except EngineError:
        raise Refusal("drill_pour", "grams") from None
    drill.save(update_fields=["pours"])
    return drill


@transaction.atomic
def answer(person: Person, *, drill_id: int, given: str, now: datetime.datetime) -> Drill:
    """Answer a drill, once. given: a choice's key, a number, nothing for a bowl; LEFT to see the answer instead.

    Raises Refusal drill_answered, choice_unknown, not_a_number; Drill.DoesNotExist.
    """
    drill = _open(person, drill_id)
    drill.given = given[: Drill._meta.get_field("given").max_length or 40]
    drill.answered_at = now
    grade = grade_of(drill)
    drill.score = Decimal(str(round(grade.score, 3)))
    drill.save()
    return drill


def asked_in(drill: Drill) -> Asked:
    """What a drill asks, made anew."""
    if drill.case is not None:
        return asked_of_case(drill.case, drill.number, drill.difficulty)
    return drill_of(Skill(drill.skill), drill.number, drill.difficulty)


def seconds_left(drill: Drill, now: datetime.datetime) -> float:
    """Of the time that a sum allows; 0 and less once it counts as late, and of what has no clock."""
    asked = asked_in(drill)
    allowed_s = asked.allowed_s if isinstance(asked, ToReckon) else 0
    return allowed_s - (now - drill.made_at).total_seconds()


def poured_in(drill: Drill) -> dict[str, float]:
    """Grams by shade of all pours in a drill."""
    grams: dict[str, float] = {}
    for shade, each in drill.pours:
        grams[shade] = round(grams.get(shade, 0.0) + each, 1)
    return grams


def grade_of(drill: Drill) -> Graded:
    """How an answered drill was answered, with why. Raises Refusal choice_unknown, not_a_number."""
    asked, given = asked_in(drill), drill.given
    if isinstance(asked, AtTheBowl):
        grade = poured(asked, poured_in(drill), len(drill.pours))
    elif isinstance(asked, ToChoose):
        found = chosen(asked, asked.best.key if given == LEFT else given)
        if found is None:
            raise Refusal("choice_unknown", "choice")
        grade = found
    else:
        seconds = ((drill.answered_at or drill.made_at) - drill.made_at).total_seconds()
        number = asked.right if given == LEFT else float(typed_number(given, "number", example="60"))
        grade = reckoned(asked, number, seconds)
    return replace(grade, score=0.0) if given == LEFT else grade


def _open(person: Person, drill_id: int) -> Drill:
    drill = Drill.objects.visible_to(person).filter(person=person).select_for_update(of=("self",)).get(pk=drill_id)
    if drill.answered_at is not None:
        raise Refusal("drill_answered", "choice")
    return drill
