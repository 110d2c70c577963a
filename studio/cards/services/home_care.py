"""Note a client's habits, what went home, and when they come again."""

import datetime
from decimal import Decimal
from typing import Final

from django.db import transaction

from engine.service.aftercare import WASHES_A_WEEK
from studio.accounts.models import Person
from studio.cards.models import HomeCare
from studio.ui.numbers import within
from studio.ui.refusal import Refusal
from studio.visits.models import Visit

AHEAD_MOST: Final = datetime.timedelta(days=730)


@transaction.atomic
def keep_home_care(
    person: Person,
    *,
    visit_id: int,
    washes_a_week: Decimal,
    hot_water: bool,
    pool: bool,
    sun: bool,
    given: str,
    next_on: datetime.date | None,
) -> HomeCare:
    """Keep it with the visit. Raises Refusal out_of_range, next_before_visit; Visit.DoesNotExist."""
    visit = Visit.objects.visible_to(person).get(pk=visit_id)
    within(washes_a_week, "washes_a_week", *WASHES_A_WEEK)
    if next_on and not visit.day < next_on <= visit.day + AHEAD_MOST:
        raise Refusal("next_before_visit", "next_on")
    care, _ = HomeCare.objects.update_or_create(
        visit=visit,
        defaults={
            "washes_a_week": washes_a_week,
            "hot_water": hot_water,
            "pool": pool,
            "sun": sun,
            "given": given.strip()[:200],
            "next_on": next_on,
        },
    )
    return care
