"""Change a visit's plan: when it begins, which zones are taken up in turn, and how many pairs of hands there are."""

import datetime
from collections.abc import Sequence
from decimal import Decimal

from django.db import transaction

from engine.service.schedule.work import HANDS_MOST
from studio.accounts.models import Person
from studio.route.models import VisitPlan
from studio.ui.numbers import within
from studio.ui.refusal import Refusal
from studio.visits.models import Visit, Zone


@transaction.atomic
def set_begin(person: Person, *, visit_id: int, begins_at: datetime.time | None) -> VisitPlan:
    """Say when the visit begins. Raises Visit.DoesNotExist for another studio's visit."""
    visit = Visit.objects.visible_to(person).get(pk=visit_id)
    plan, _ = VisitPlan.objects.update_or_create(visit=visit, defaults={"begins_at": begins_at})
    return plan


@transaction.atomic
def set_turns(person: Person, *, visit_id: int, zone_ids: Sequence[int]) -> VisitPlan:
    """Take zones up in this order, before any others; of none, the plan decides again.

    Raises Refusal turns_unknown for what is not one of its zones, or twice the same; Visit.DoesNotExist.
    """
    visit = Visit.objects.visible_to(person).get(pk=visit_id)
    own = set(Zone.objects.filter(visit=visit, removed=False).values_list("pk", flat=True))
    if len(set(zone_ids)) != len(zone_ids) or not set(zone_ids) <= own:
        raise Refusal("turns_unknown", "turns")
    plan, _ = VisitPlan.objects.update_or_create(visit=visit, defaults={"turns": list(zone_ids)})
    return plan


@transaction.atomic
def set_hands(person: Person, *, visit_id: int, hands: Decimal) -> VisitPlan:
    """How many pairs of hands there are. Raises Refusal out_of_range; Visit.DoesNotExist."""
    within(hands, "hands", 1, HANDS_MOST)
    visit = Visit.objects.visible_to(person).get(pk=visit_id)
    plan, _ = VisitPlan.objects.update_or_create(visit=visit, defaults={"hands": int(hands)})
    return plan
