"""A mentor sets what somebody is to practise, and signs it off."""

import datetime

from django.db import transaction

from engine.service.roles import Act
from studio.accounts.models import Person
from studio.practice.models import SetWork, SkillChoice
from studio.practice.selectors import standing_of
from studio.ui.refusal import Refusal


@transaction.atomic
def set_work(mentor: Person, *, person_id: int, skill: str, now: datetime.datetime) -> SetWork:
    """Set a skill to somebody, once until it is signed off.

    Raises Refusal not_mentor, skill_unknown; Person.DoesNotExist.
    """
    learner = _learner(mentor, person_id, skill)
    found, _ = SetWork.objects.get_or_create(
        person=learner, skill=skill, signed_at=None, defaults={"set_by": mentor, "set_at": now}
    )
    return found


@transaction.atomic
def sign_off(mentor: Person, *, person_id: int, skill: str, now: datetime.datetime) -> SetWork:
    """Sign a skill off that somebody has practised well enough, whether or not it was set.

    Raises Refusal not_mentor, skill_unknown, own_work, not_ready; Person.DoesNotExist.
    """
    learner = _learner(mentor, person_id, skill)
    if learner.pk == mentor.pk:
        raise Refusal("own_work", "skill")
    if not standing_of(learner, skill).is_ready:
        raise Refusal("not_ready", "skill")
    work = SetWork.objects.filter(person=learner, skill=skill, signed_at=None).first()
    work = work or SetWork(person=learner, skill=skill, set_by=mentor, set_at=now)
    work.signed_by, work.signed_at = mentor, now
    work.save()
    return work


def _learner(mentor: Person, person_id: int, skill: str) -> Person:
    if not mentor.may(Act.SIGN):
        raise Refusal("not_mentor", "skill")
    if skill not in SkillChoice.values:
        raise Refusal("skill_unknown", "skill")
    here = Person.objects.filter(studio=mentor.studio_id, is_active=True).select_for_update(of=("self",))
    return here.get(pk=person_id)
