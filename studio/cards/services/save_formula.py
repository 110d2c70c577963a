"""Keep today's mixes on the client's card."""

import datetime
from decimal import Decimal

from django.db import transaction
from django.utils import timezone

from engine.bowl.mix import Bowl
from engine.bowl.predict import predict
from studio.accounts.models import Person
from studio.cards.fillings import Filling, fillings_of, zones_worked
from studio.cards.models import Formula, FormulaPour, Tweak
from studio.head.models import Serving
from studio.head.selectors import bench_of, target_of
from studio.head.services.changing import locked_bowl
from studio.shelf.selectors import stocked_line
from studio.ui.refusal import Refusal
from studio.visits.engine_adapter import canvas_of
from studio.visits.models import Reading, Zone
from studio.visits.selectors import open_zone

HAIR = ("level", "warmth", "lean", "porosity", "grey", "family", "old_shade", "old_k_s", "laid")
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
    """Write hair, aim, grams and forecast to the card: of every zone each recipe that was mixed for it, or what stands.

    zone_id: the zone in hand, whose formula is returned if it has one, and takes the note; every other zone takes what
    is to be changed on it next time. at: the moment, now by default.
    Raises Refusal empty_bowl, zone_gone; Stale when the bench was changed since it was seen; Zone.DoesNotExist.
    """
    opened = open_zone(person, visit_id, zone_id)
    locked_bowl(person, zone_id=opened.zone.pk, version=version, attempt="save to the card")
    bench = bench_of(person, opened)
    moment = at or timezone.now()
    tweaks = dict(Tweak.objects.visible_to(person).filter(visit=visit_id).values_list("zone_name", "words"))
    in_hand: Formula | None = None
    first: Formula | None = None
    numbers: dict[tuple[int, int], int] = {}
    for zone in zones_worked(person, bench):
        for place, filling in enumerate(fillings_of(person, bench, zone)):
            number = numbers.setdefault((filling.bowl.pk, place), len(numbers) + 1)
            own = note if note and zone.pk == opened.zone.pk else tweaks.get(zone.name, "")
            kept = _keep(person, zone, filling, number, own[:200], moment)
            first = first or kept
            in_hand = kept if zone.pk == opened.zone.pk else in_hand
    if first is None:
        raise Refusal("empty_bowl", "grams")
    return in_hand or first


def _keep(
    person: Person, zone: Zone, filling: Filling, bowl_number: int, note: str, moment: datetime.datetime
) -> Formula:
    """One recipe on one zone, with its pours, and the forecast of it at full time on dry hair."""
    serving, bowl, clock = _serving(zone), filling.bowl, filling.clock
    reading = _reading(zone, is_beneath=serving is not None and serving.bowl_id != bowl.pk)
    target_lab = target_of(bowl)
    forecast = predict(canvas_of(reading), engine_bowl_of(filling), target_lab=target_lab)
    lightness, a, b = (round(Decimal(float(part)), 3) for part in forecast.lab)
    formula = Formula.objects.create(
        client=zone.visit.client,
        visit=zone.visit,
        zone_name=zone.name,
        zone_part=zone.part,
        zone_position=zone.position,
        blend_percent=serving.blend_percent if serving else 0,
        bowl_number=bowl_number,
        line=filling.line,
        wanted_g=bowl.wanted_g,
        **{name: getattr(reading, name) for name in HAIR},
        **{name: getattr(bowl, name) for name in TARGET},
        forecast_l=lightness,
        forecast_a=a,
        forecast_b=b,
        delta_e00=None if forecast.aim is None else round(Decimal(forecast.aim.delta_e00), 3),
        light=forecast.light.value,
        note=note,
        developer_g=round(filling.developer_g, 1),
        batches=filling.batches,
        mixed_at=filling.mixed_at,
        applied_at=clock.applied_at if clock else None,
        rinsed_at=clock.rinsed_at if clock else None,
        damp=bool(clock and clock.damp),
        heat=bool(clock and clock.heat),
        cost=round(_cost(filling), 2),
        saved_by=person,
        saved_at=moment,
    )
    FormulaPour.objects.bulk_create(
        FormulaPour(
            formula=formula,
            shade=shade,
            shade_name=shade.name,
            grams=grams,
            planned_g=filling.planned.get(shade.pk),
            lot=filling.lots.get(shade.pk, ""),
        )
        for shade, grams in filling.poured
    )
    return formula


def _serving(zone: Zone) -> Serving | None:
    return Serving.objects.filter(zone=zone).first()


def _reading(zone: Zone, *, is_beneath: bool) -> Reading:
    """The reading in force of a zone; of what lies beneath a later coat the one before that was laid.

    Raises Reading.DoesNotExist.
    """
    readings = list(zone.readings.all())
    bare = next((each for each in readings if not each.laid), None) if is_beneath else None
    found = bare or next(iter(readings), None)
    if found is None:
        raise Reading.DoesNotExist
    return found


def engine_bowl_of(filling: Filling) -> Bowl:
    """A filling as the engine's bowl."""
    dyes = stocked_line(filling.line).dyes
    return Bowl(grams={dyes[pk]: float(grams) for pk, grams in filling.grams.items() if pk in dyes})


def _cost(filling: Filling) -> Decimal:
    """What all its fillings took, by the price of a tube."""
    shades = {shade.pk: shade for shade in stocked_line(filling.line).shades}
    tube_g = filling.line.tube_g
    return sum((shades[pk].tube_price * g / tube_g for pk, g in filling.used.items() if pk in shades), Decimal(0))
