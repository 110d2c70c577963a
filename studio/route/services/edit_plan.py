"""Change a visit's plan: when it begins, which zone goes first, and how long a step takes."""

import datetime
from decimal import Decimal
from typing import Final

from django.db import transaction

from studio.accounts.models import Person
from studio.route.models import PlannedStep, VisitPlan
from studio.ui.numbers import within
from studio.ui.refusal import Refusal
from studio.visits.models import Visit, Zone

STEP_MOST_MIN: Final = 240


@transaction.atomic
def set_begin(person: Person, *, visit_id: int, begins_at: datetime.time | None) -> VisitPlan:
    """Say when the visit begins. Raises Visit.DoesNotExist for another studio's visit."""
    visit = Visit.objects.visible_to(person).get(pk=visit_id)
    plan, _ = VisitPlan.objects.update_or_create(visit=visit, defaults={"begins_at": begins_at})
    return plan


@transaction.atomic
def set_first(person: Person, *, zone_id: int) -> VisitPlan:
    """Take a zone up first; asked again, the plan decides again. Raises Zone.DoesNotExist."""
    zone = Zone.objects.visible_to(person).get(pk=zone_id, removed=False)
    plan, _ = VisitPlan.objects.get_or_create(visit=zone.visit)
    plan.first_zone = None if plan.first_zone_id == zone.pk else zone
    plan.save(update_fields=["first_zone"])
    return plan


@transaction.atomic
def set_minutes(person: Person, *, zone_id: int, kind: str, apply_min: Decimal, process_min: Decimal) -> PlannedStep:
    """How long a step of a zone is applied and processes. Raises Refusal step_unknown, out_of_range."""
    zone = Zone.objects.visible_to(person).get(pk=zone_id, removed=False)
    if kind not in PlannedStep.Kind.values:
        raise Refusal("step_unknown")
    within(apply_min, "apply_min", 0, STEP_MOST_MIN, " min")
    within(process_min, "process_min", 0, STEP_MOST_MIN, " min")
    step, _ = PlannedStep.objects.update_or_create(
        zone=zone, kind=kind, defaults={"apply_min": apply_min, "process_min": process_min}
    )
    return step


@transaction.atomic
def forget_minutes(person: Person, *, zone_id: int, kind: str) -> None:
    """Let the plan reckon a step's minutes again."""
    PlannedStep.objects.visible_to(person).filter(zone=zone_id, kind=kind).delete()
