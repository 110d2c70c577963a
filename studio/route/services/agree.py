"""Keep what was agreed with the client before the work starts, and when it changes."""

from decimal import Decimal

from django.db import transaction

from engine.language import say
from studio.accounts.models import Person
from studio.head.selectors import bench_of
from studio.head.services.changing import locked_coat
from studio.route.agreed import work_of
from studio.route.models import PRICE_MOST, Agreement
from studio.route.planned import planned_of
from studio.ui.numbers import within
from studio.ui.refusal import Refusal
from studio.visits.gates import asked_of
from studio.visits.selectors import open_zone


@transaction.atomic
def agree(person: Person, *, zone_id: int, version: int, price: Decimal | None) -> Agreement:
    """Note that the client agreed to the work of a zone's visit as it was seen, at a price; an earlier one stays as a
    trace.

    Raises Refusal out_of_range, nothing_planned; Stale; Bowl.DoesNotExist for another studio's zone.
    """
    if price is not None:
        within(price, "price", 0, PRICE_MOST)
    held = locked_coat(person, zone_id=zone_id, version=version, attempt=say("what was agreed"), whole=True)
    opened = open_zone(person, held.worktop.visit_id)
    bench = bench_of(person, opened)
    work = work_of(bench, planned_of(person, bench, asked_of(person, opened.visit)))
    if not work:
        raise Refusal("nothing_planned", "price")
    return Agreement.objects.create(visit=opened.visit, work=list(work), price=price, noted_by=person)
