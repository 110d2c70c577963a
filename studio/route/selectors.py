"""What a page needs to know of the routes that were chosen."""

import datetime

from studio.accounts.models import Person
from studio.route.models import ChosenRoute, VisitPlan
from studio.visits.models import Visit


def chosen_by_zone(person: Person, visit: Visit) -> dict[int, ChosenRoute]:
    """The chosen routes of a visit by zone id. One query."""
    return {row.zone_id: row for row in ChosenRoute.objects.visible_to(person).filter(zone__visit=visit)}


def begin_of(person: Person, visit_id: int) -> datetime.time | None:
    """When a visit begins, if that was said. One query."""
    plan = VisitPlan.objects.visible_to(person).filter(visit=visit_id).first()
    return plan.begins_at if plan else None
