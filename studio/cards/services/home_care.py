"""Note a client's habits, what went home, and when they come again."""

import datetime
from decimal import Decimal
from typing import Final

from django.db import transaction
from django.db.models import Sum

from engine.service.aftercare import WASHES_A_WEEK
from engine.service.work import WorkKind
from studio.accounts.models import Person
from studio.cards.models import HomeCare, Leftover
from studio.head.coats import bowl_coat
from studio.head.models import Bowl
from studio.head.selectors import bench_of
from studio.pour.models import Weighing
from studio.ui.numbers import within
from studio.ui.refusal import Refusal
from studio.visits.coats import How
from studio.visits.gates import asked_of, refuse_shut
from studio.visits.models import Visit
from studio.visits.selectors import open_zone

AHEAD_MOST: Final = datetime.timedelta(days=730)
HOME: Final = How(kind=WorkKind.HOME)


@transaction.atomic
def keep_home_care(
    person: Person,
    *,
    visit_id: int,
    washes_a_week: Decimal,
    hot_water: bool,
    pool: bool,
    sun: bool,
    weekly_mask: bool,
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
            "weekly_mask": weekly_mask,
            "given": given.strip()[:200],
            "next_on": next_on,
        },
    )
    return care


@transaction.atomic
def take_home(person: Person, *, visit_id: int, bowl_id: int, goes: bool) -> Leftover | None:
    """Say that what is left of a bowl of the visit goes home, or does not after all.

    Raises Refusal gate_shut for what has touched developer, empty_bowl; Bowl.DoesNotExist for another visit's bowl.
    """
    bowl = Bowl.objects.visible_to(person).get(pk=bowl_id, worktop__visit=visit_id)
    if not goes:
        Leftover.objects.filter(bowl=bowl).update(goes_home=False)
        return None
    visit = Visit.objects.visible_to(person).select_related("client").get(pk=visit_id)
    served = bowl.coats.filter(removed=False, zone__removed=False).values_list("zone", "pk").first()
    if served is None:
        raise Refusal("empty_bowl", "grams")
    bench = bench_of(person, open_zone(person, visit_id, *served))
    if not bench.pours:
        raise Refusal("empty_bowl", "grams")
    asked = asked_of(person, visit)
    refuse_shut(asked, bowl_coat(asked, bench, HOME))
    kept, _ = Leftover.objects.update_or_create(
        bowl=bowl, defaults={"goes_home": True}, create_defaults={"goes_home": True, "noted_by": person}
    )
    return kept


@transaction.atomic
def weigh_back(person: Person, *, visit_id: int, bowl_id: int, left_g: Decimal, needed_g: Decimal) -> Leftover:
    """Keep what was left of a bowl, with what had been poured and what its hair was reckoned to need.

    needed_g: without developer, which is counted in here, since what is left holds its part of it.
    Raises Refusal empty_bowl before anything was weighed, out_of_range for more than that; Bowl.DoesNotExist.
    """
    bowl = Bowl.objects.visible_to(person).get(pk=bowl_id, worktop__visit=visit_id)
    of_shades = Weighing.objects.filter(batch__bowl=bowl, shade__isnull=False, taken_back=False)
    weighed = of_shades.aggregate(all=Sum("poured_g"))["all"]
    if not weighed:
        raise Refusal("empty_bowl", "grams")
    with_developer = 1 + bowl.parts
    poured_g = round(weighed * with_developer, 1)
    within(left_g, "left_g", 0, poured_g, " g")
    told = {"left_g": round(left_g, 1), "poured_g": poured_g, "needed_g": round(needed_g * with_developer, 1)}
    kept, _ = Leftover.objects.update_or_create(bowl=bowl, defaults=told, create_defaults=told | {"noted_by": person})
    return kept
