"""Change a visit's plan: when it begins, which zone goes first, and how many pairs of hands there are."""

import datetime
from decimal import Decimal

from django.db import transaction

from engine.service.schedule.work import HANDS_MOST
from studio.accounts.models import Person
from studio.route.models import VisitPlan
from studio.ui.numbers import within
from studio.visits.models import Visit, Zone


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
def set_hands(person: Person, *, visit_id: int, hands: Decimal) -> VisitPlan:
    """How many pairs of hands there are. Raises Refusal out_of_range; Visit.DoesNotExist."""
    within(hands, "hands", 1, HANDS_MOST)
    visit = Visit.objects.visible_to(person).get(pk=visit_id)
    plan, _ = VisitPlan.objects.update_or_create(visit=visit, defaults={"hands": int(hands)})
    return plan
