"""Keep today's mix on the client's card."""

import datetime
from decimal import Decimal

from django.db import transaction
from django.utils import timezone

from studio.accounts.models import Person
from studio.bench.engine_adapter import forecast_of
from studio.bench.selectors import bench_of
from studio.bench.services.changing import locked_bowl
from studio.cards.models import Formula, FormulaPour
from studio.ui.refusal import Refusal
from studio.visits.selectors import open_zone

HAIR = ("level", "warmth", "lean", "porosity", "grey")
TARGET = ("target_l", "target_a", "target_b")


@transaction.atomic
def save_formula(
    person: Person, *, visit_id: int, version: int, note: str = "", at: datetime.datetime | None = None
) -> Formula:
    """Write hair, aim, grams and forecast to the card as they stand; `at` is the moment, now by default.

    Raises Refusal empty_bowl; Stale when the bowl was changed since it was seen; Zone.DoesNotExist.
    """
    opened = open_zone(person, visit_id)
    bowl = locked_bowl(person, zone_id=opened.zone.pk, version=version, attempt="save to the card")
    bench = bench_of(person, opened)
    if not bench.grams:
        raise Refusal("empty_bowl", "grams")
    seen = forecast_of(bench).forecast
    lightness, a, b = (round(Decimal(float(part)), 3) for part in seen.lab)
    formula = Formula.objects.create(
        client=opened.visit.client,
        visit=opened.visit,
        zone_name=opened.zone.name,
        line_id=bowl.line_id,
        wanted_g=bowl.wanted_g,
        **{name: getattr(bench.reading, name) for name in HAIR},
        **{name: getattr(bowl, name) for name in TARGET},
        forecast_l=lightness,
        forecast_a=a,
        forecast_b=b,
        delta_e00=None if seen.aim is None else round(Decimal(seen.aim.delta_e00), 3),
        light=seen.light.value,
        note=note[:200],
        saved_by=person,
        saved_at=at or timezone.now(),
    )
    FormulaPour.objects.bulk_create(
        FormulaPour(formula=formula, shade=shade, shade_name=shade.name, grams=grams) for shade, grams in bench.poured
    )
    return formula
