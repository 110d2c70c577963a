"""Learn from what a studio has kept, and put what was learned in force."""

from collections.abc import Sequence
from decimal import Decimal
from typing import Any, Final

from django.db import transaction
from django.db.models import F
from django.utils import timezone

from engine.arrays import FloatArray
from engine.knowledge.stored import stored
from engine.learning.learn import Learned, learn
from engine.learning.misfits import Misfit
from studio.accounts.models import Studio
from studio.learning.lessons import Lesson, lessons_of
from studio.learning.mending import mending_of
from studio.shelf.models import ShadeLine
from studio.taught.models import KnowledgeVersion

WHOLE_MOST: Final = 30  # versions of which more than their numbers is kept


def learn_anew(studio_id: int) -> KnowledgeVersion | None:
    """A new version of what a studio's results say, in force from one moment to the next; None where nothing teaches,
    and the one that is in force where they say the same.

    Nothing is held while it is reckoned: bowls are poured meanwhile. Whoever stops it half-way leaves all as it was.
    """
    studio = Studio.objects.filter(pk=studio_id).first()
    if studio is None:
        return None
    lessons = [lesson for lesson in lessons_of(studio_id) if lesson.teaches] if studio.learns else []
    learned = learn([lesson.record for lesson in lessons]) if lessons else None
    return _put_in_force(studio_id, learned if learned and learned.held else None, lessons)


def forget_for_now(studio_id: int) -> None:
    """Forecast by the engine's own physics, at once; what was learned stays written down."""
    _put_in_force(studio_id, None, ())


@transaction.atomic
def _put_in_force(studio_id: int, learned: Learned | None, lessons: Sequence[Lesson]) -> KnowledgeVersion | None:
    """All of it becomes visible at once: forecasts are kept under the version of a line, and each counts up."""
    studio = Studio.objects.select_for_update().get(pk=studio_id)
    if not studio.learns:  # it was switched off while it was reckoned
        learned = None
    own = KnowledgeVersion.objects.filter(studio=studio_id)
    if learned and (same := own.filter(in_force=True).first()) and same.held == stored(learned.knowledge):
        return _told_anew(same, learned, lessons)
    was = own.filter(in_force=True).update(in_force=False)
    version = None if learned is None else _kept(studio_id, learned, lessons)
    if was or version:
        lines = ShadeLine.objects.filter(studio=studio_id).order_by("pk").select_for_update()
        ShadeLine.objects.filter(pk__in=[line.pk for line in lines]).update(version=F("version") + 1)
    return version


def _kept(studio_id: int, learned: Learned, lessons: Sequence[Lesson]) -> KnowledgeVersion:
    own = KnowledgeVersion.objects.filter(studio=studio_id)
    newest = own.first()
    if newest is not None:  # cards know a version by its number; what the oldest held is forgotten
        own.filter(number__lte=newest.number - WHOLE_MOST).exclude(held={}).update(held={}, shown={})
    return KnowledgeVersion.objects.create(
        studio_id=studio_id,
        number=newest.number + 1 if newest else 1,
        in_force=True,
        held=stored(learned.knowledge),
        **_said(learned, lessons),
    )


def _told_anew(same: KnowledgeVersion, learned: Learned, lessons: Sequence[Lesson]) -> KnowledgeVersion:
    """Of a version that is learned again what a person reads of it, such as of a record that was mended since: no
    forecast moves, so none is counted."""
    for name, given in _said(learned, lessons).items():
        setattr(same, name, given)
    same.save()
    return same


def _said(learned: Learned, lessons: Sequence[Lesson]) -> dict[str, Any]:
    return {
        "records": len(learned.held),
        "before_half": _number(learned.before.median),
        "before_most": _number(learned.before.most),
        "after_half": _number(learned.after.median),
        "after_most": _number(learned.after.most),
        "shown": _shown(learned, lessons),
        "made_at": timezone.now(),
    }


def _shown(learned: Learned, lessons: Sequence[Lesson]) -> dict[str, Any]:
    """What a person may read of it, by the rows' keys: see `studio.learning.page`."""
    knowledge = learned.knowledge
    return {
        "model": knowledge.model,
        "records": {
            lessons[each.record].key: {
                "before": _lab(each.before_lab),
                "after": _lab(each.after_lab),
                "actual": _lab(lessons[each.record].record.actual_lab),
                "before_off": round(each.before_off, 3),
                "after_off": round(each.after_off, 3),
                "covered": each.is_covered,
            }
            for each in learned.held
        },
        "misfits": {lessons[each.record].key: _misfit(each, lessons[each.record]) for each in learned.misfits},
        "shades": {
            each.name: {
                "factor": round(each.factor, 4),
                "doubt": round(each.doubt, 4),
                "shift_nm": round(each.shift_nm, 2),
            }
            for each in knowledge.told_of_shades
        },
        "readers": {name: round(knowledge.level_offset(name), 3) for name in knowledge.readers},
    }


def _misfit(misfit: Misfit, lesson: Lesson) -> dict[str, Any]:
    found: dict[str, Any] = {
        "cause": misfit.cause.value,
        "chance": round(misfit.chance, 3),
        "sentence": misfit.sentence,
        "said": {"text": misfit.sentence.text, "parts": dict(misfit.sentence.parts)},
        "off": round(misfit.delta_e00, 2),
    }
    if misfit.mended is not None:
        found["mending"] = mending_of(lesson.record.worked, misfit.mended)
    return found


def _lab(lab: FloatArray) -> list[float]:
    return [round(float(part), 3) for part in lab]


def _number(off: float) -> Decimal:
    return Decimal(str(round(min(off, 999.0), 3)))
