"""Keep today's mixes on the client's card."""

import datetime
from decimal import Decimal

from django.db import transaction
from django.utils import timezone

from studio.accounts.models import Person
from studio.bench.engine_adapter import ZoneSeen, forecast_of
from studio.bench.selectors import ZoneBench, bench_of
from studio.bench.services.changing import locked_bowl
from studio.cards.models import Formula, FormulaPour, Tweak
from studio.cards.worked import Worked, worked_on
from studio.shelf.models import Shade
from studio.ui.refusal import Refusal
from studio.visits.models import Visit
from studio.visits.selectors import open_zone

HAIR = ("level", "warmth", "lean", "porosity", "grey", "family", "old_shade", "old_k_s")
TARGET = ("target_l", "target_a", "target_b")


@transaction.atomic
def save_formula(
    person: Person,
    *,
    visit_id: int,
    version: int,
    zone_id: int | None = None,
    note: str = "",
    at: datetime.datetime | None = None,
) -> Formula:
    """Write hair, aim, grams and forecast of every zone that has a colour to the card, as they stand.

    zone_id: the zone in hand, whose formula is returned if it has one, and takes the note; every other zone takes what
    is to be changed on it next time. at: the moment, now by default.
    Raises Refusal empty_bowl, zone_gone; Stale when the bench was changed since it was seen; Zone.DoesNotExist.
    """
    opened = open_zone(person, visit_id, zone_id)
    locked_bowl(person, zone_id=opened.zone.pk, version=version, attempt="save to the card")
    bench = bench_of(person, opened)
    seen = forecast_of(bench)
    moment = at or timezone.now()
    tweaks = dict(Tweak.objects.visible_to(person).filter(visit=visit_id).values_list("zone_name", "words"))
    numbers = {pk: number for number, pk in enumerate(dict.fromkeys(each.bowl.pk for each in bench.zones), start=1)}
    kept = {
        zone.bench.zone.pk: _keep(
            person,
            bench.visit,
            zone,
            numbers[zone.bench.bowl.pk],
            (note if zone.bench.zone.pk == opened.zone.pk and note else tweaks.get(zone.bench.zone.name, ""))[:200],
            moment,
        )
        for zone in seen.zones
        if zone.bench.pours
    }
    if not kept:
        raise Refusal("empty_bowl", "grams")
    return kept.get(opened.zone.pk) or next(iter(kept.values()))


def _keep(
    person: Person,
    visit: Visit,
    seen: ZoneSeen,
    bowl_number: int,
    note: str,
    moment: datetime.datetime,
) -> Formula:
    """One zone's formula with its pours."""
    bench, forecast = seen.bench, seen.forecast
    worked = worked_on(person, bench)
    lightness, a, b = (round(Decimal(float(part)), 3) for part in forecast.lab)
    formula = Formula.objects.create(
        client=visit.client,
        visit=visit,
        zone_name=bench.zone.name,
        zone_part=bench.zone.part,
        zone_position=bench.zone.position,
        blend_percent=bench.serving.blend_percent,
        bowl_number=bowl_number,
        line=bench.bowl.line,
        wanted_g=bench.bowl.wanted_g,
        **{name: getattr(bench.reading, name) for name in HAIR},
        **{name: getattr(bench.bowl, name) for name in TARGET},
        forecast_l=lightness,
        forecast_a=a,
        forecast_b=b,
        delta_e00=None if forecast.aim is None else round(Decimal(forecast.aim.delta_e00), 3),
        light=forecast.light.value,
        note=note,
        **worked.noted,
        cost=round(sum((cost_of(shade, grams, bench) for shade, grams in bench.poured), Decimal(0)), 2),
        saved_by=person,
        saved_at=moment,
    )
    _keep_pours(formula, bench, worked)
    return formula


def _keep_pours(formula: Formula, bench: ZoneBench, worked: Worked) -> None:
    """The formula's grams, with what was planned and the tubes' numbers."""
    FormulaPour.objects.bulk_create(
        FormulaPour(
            formula=formula,
            shade=shade,
            shade_name=shade.name,
            grams=grams,
            planned_g=worked.planned.get(shade.pk),
            lot=worked.lots.get(shade.pk, ""),
        )
        for shade, grams in bench.poured
    )


def cost_of(shade: Shade, grams: Decimal, bench: ZoneBench) -> Decimal:
    """What grams of a shade cost, by the price of its tube."""
    return shade.tube_price * grams / bench.stocked.line.tube_g
