"""Keep what was agreed with the client before the work starts, and when it changes."""

from decimal import Decimal

from django.db import transaction

from studio.accounts.models import Person
from studio.head.selectors import bench_of
from studio.route.agreed import materials_of, work_of
from studio.route.models import PRICE_MOST, Agreement
from studio.route.planned import planned_of
from studio.ui.numbers import within
from studio.ui.refusal import Refusal
from studio.visits.gates import asked_of
from studio.visits.selectors import open_zone


@transaction.atomic
def agree(person: Person, *, visit_id: int, price: Decimal | None) -> Agreement:
    """Note that the client agreed to the work as it is planned now, at a price; an earlier one stays as a trace.

    Raises Refusal out_of_range, nothing_planned; Zone.DoesNotExist for another studio's visit.
    """
    if price is not None:
        within(price, "price", 0, PRICE_MOST)
    opened = open_zone(person, visit_id)
    bench = bench_of(person, opened)
    work = work_of(bench, planned_of(person, bench, asked_of(person, opened.visit)))
    if not work:
        raise Refusal("nothing_planned", "price")
    return Agreement.objects.create(
        visit_id=visit_id, work=list(work), price=price, materials=materials_of(bench), noted_by=person
    )
