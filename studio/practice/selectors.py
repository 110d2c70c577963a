"""How people stand in what they practise."""

from django.utils import timezone

from engine.practice.standing import Answered, Standing, standing_after
from studio.accounts.models import Person
from studio.practice.models import Drill, SetWork


def answers_of(person: Person) -> dict[str, list[Drill]]:
    """A person's answered drills by skill, the oldest first. One query."""
    found: dict[str, list[Drill]] = {}
    rows = Drill.objects.visible_to(person).filter(person=person, answered_at__isnull=False).defer("case", "pours")
    for drill in rows.order_by("answered_at", "pk"):
        found.setdefault(drill.skill, []).append(drill)
    return found


def standing_of(person: Person, skill: str) -> Standing:
    """Where a person stands in a skill. One query."""
    rows = Drill.objects.visible_to(person).filter(person=person, skill=skill, answered_at__isnull=False)
    return standing(list(rows.order_by("answered_at", "pk")))


def standing(drills: list[Drill]) -> Standing:
    """Where answered drills of one skill leave their person, the oldest first."""
    return standing_after(
        Answered(on=timezone.localdate(drill.answered_at), difficulty=drill.difficulty, score=float(drill.score or 0))
        for drill in drills
    )


def open_skills(person: Person) -> set[str]:
    """Skills of which a drill was begun and not answered. One query."""
    rows = Drill.objects.visible_to(person).filter(person=person, answered_at=None)
    return set(rows.values_list("skill", flat=True))


def set_to(person: Person) -> dict[str, SetWork]:
    """What was set to a person, by skill: the newest of each. One query."""
    rows = SetWork.objects.visible_to(person).filter(person=person).select_related("set_by", "signed_by")
    return {row.skill: row for row in rows.order_by("set_at", "pk")}
