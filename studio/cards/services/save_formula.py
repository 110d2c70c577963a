"""Keep today's mixes on the client's card."""

import datetime
from collections import Counter
from dataclasses import dataclass
from decimal import Decimal

from django.db import transaction
from django.utils import timezone

from engine.arrays import FloatArray
from engine.bowl.mix import Bowl
from engine.bowl.predict import Aim, predict
from engine.colorimetry.lights import Light
from engine.hair.canvas import lightened
from engine.hair.reading import canvas_lab
from engine.language import say
from studio.accounts.models import Person
from studio.cards.fillings import Filling, fillings_of, zones_worked
from studio.cards.models import Formula, FormulaPour, Tweak
from studio.clocks.models import ZoneClock
from studio.head.models import Bowl as BowlRow
from studio.head.models import Coat
from studio.head.selectors import Bench, ZoneBench, bench_of, target_of
from studio.head.services.changing import locked_bowl
from studio.head.standing import bowl_process
from studio.head.stock import stock_of
from studio.shelf.selectors import stocked_line
from studio.supplies.services.stock import developer_cost
from studio.taught.services.ask import ask_to_learn
from studio.ui.refusal import Refusal
from studio.visits.engine_adapter import canvas_of
from studio.visits.models import HAIR_NAMES, Reading, Zone
from studio.visits.selectors import open_zone

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
    locked_bowl(person, zone_id=opened.zone.pk, version=version, attempt=say("save to the card"), whole=True)
    bench = bench_of(person, opened)
    moment = at or timezone.now()
    tweaks = dict(Tweak.objects.visible_to(person).filter(visit=visit_id).values_list("zone_name", "words"))
    in_hand: Formula | None = None
    first: Formula | None = None
    numbers: dict[tuple[int, int], int] = {}
    for zone in zones_worked(person, bench):
        recipes: Counter[int] = Counter()  # of each bowl: it may have been filled with another after the first
        for filling in fillings_of(person, bench, zone):
            number = numbers.setdefault((filling.bowl.pk, recipes[filling.bowl.pk]), len(numbers) + 1)
            recipes[filling.bowl.pk] += 1
            own = note if note and zone.pk == opened.zone.pk else tweaks.get(zone.name, "")
            for coat in _coats(bench, zone, filling):
                kept = _keep(person, zone, _Kept(filling, coat, number, own[:200]), moment)
                first = first or kept
                in_hand = kept if zone.pk == opened.zone.pk else in_hand
    if first is None:
        raise Refusal("empty_bowl", "grams")
    ask_to_learn(person.studio_id)
    return in_hand or first


@dataclass(frozen=True)
class _Kept:
    """A recipe as it is kept: the coat of its zone that it was for, if it is one still, its bowl's number, its note."""

    filling: Filling
    coat: ZoneBench | None
    bowl_number: int
    note: str


def _coats(bench: Bench, zone: Zone, filling: Filling) -> list[ZoneBench | None]:
    """The coats of a zone that a recipe was for; one that serves it no more was for what is not known any more."""
    own = [each for each in bench.coats if each.zone.pk == zone.pk and each.bowl.pk == filling.bowl.pk]
    return [*own] or [None]


def _keep(person: Person, zone: Zone, kept: _Kept, moment: datetime.datetime) -> Formula:
    """One recipe on one zone, with its pours, and the forecast of it at full time on dry hair."""
    filling, coat = kept.filling, kept.coat.coat if kept.coat else None
    bowl, clock = filling.bowl, _clock(coat, filling.bowl) or filling.clock
    reading = kept.coat.reading if kept.coat else _reading(zone)
    lab, aim = _forecast(kept, reading)
    lightness, a, b = (round(Decimal(float(part)), 3) for part in lab)
    formula = Formula.objects.create(
        client=zone.visit.client,
        visit=zone.visit,
        zone_name=zone.name,
        zone_part=zone.part,
        zone_position=zone.position,
        blend_percent=coat.blend_percent if coat else 0,
        pattern=zone.pattern,
        strand_share=zone.strand_share,
        from_cm=zone.from_cm,
        to_cm=zone.to_cm,
        sections=clock.sections if clock else zone.sections,
        rinsed_apart=zone.rinsed_apart,
        coat_number=coat.order + 1 if coat else 1,
        purpose=coat.purpose if coat else Coat.Purpose.COLOUR,
        beside=_beside(coat) if coat else [],
        to_level=coat.to_level if coat else None,
        developer_vol=bowl.vol,
        developer_parts=bowl.parts,
        bowl_number=kept.bowl_number,
        line=filling.line,
        wanted_g=bowl.wanted_g,
        **{name: getattr(reading, name) for name in HAIR_NAMES},
        **{name: getattr(kept.coat.aim_row if kept.coat else bowl, name) for name in TARGET},
        forecast_l=lightness,
        forecast_a=a,
        forecast_b=b,
        delta_e00=None if aim is None else round(Decimal(aim.delta_e00), 3),
        knowledge_version=stocked_line(filling.line).version,
        light=Light.DAYLIGHT.value,
        note=kept.note,
        developer_g=round(filling.developer_g, 1),
        batches=filling.batches,
        mixed_at=filling.mixed_at,
        applied_at=clock.section_applied_at if clock else None,
        rinsed_at=clock.rinsed_at if clock else None,
        damp=bool(clock and clock.damp),
        heat=bool(clock and clock.heat),
        cost=round(_cost(filling) + _developer_cost(filling), 2),
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
            shade_version=shade.version,
        )
        for shade, grams in filling.poured
    )
    return formula


def _beside(coat: Coat) -> list[dict[str, object]]:
    """The coats of a zone that nothing was mixed for and that went on right before one, and after it if it was last.

    One that was neither timed nor named is taken for one that was left out. Two queries.
    """
    mixed = Coat.objects.filter(zone=coat.zone_id, removed=False, bowl__isnull=False)
    ahead = mixed.filter(order__lt=coat.order).order_by("-order").first()
    plain = Coat.objects.filter(zone=coat.zone_id, removed=False, bowl=None, order__gt=ahead.order if ahead else -1)
    if mixed.filter(order__gt=coat.order).exists():
        plain = plain.filter(order__lt=coat.order)
    return [_plain(each) for each in plain if each.begun or each.product]


def _plain(coat: Coat) -> dict[str, object]:
    minutes = coat.minutes if coat.worked_min is None else coat.worked_min
    known = {"grams": coat.grams, "vol": coat.own_vol, "minutes": minutes}
    told: dict[str, object] = {"coat": coat.order + 1, "purpose": coat.purpose}
    if coat.product:
        told["product"] = coat.product
    return told | {name: float(number) for name, number in known.items() if number}


def _clock(coat: Coat | None, bowl: BowlRow) -> ZoneClock | None:
    """The last clock of a coat from a bowl, where one was started for it, or for the zone that its hair was part of."""
    if coat is None:
        return None
    clocks = ZoneClock.objects.filter(bowl=bowl)
    own = clocks.filter(coat=coat).last()
    if own is None and coat.begun:  # it was on before the zone was parted
        return clocks.filter(zone__removed=True, coat__purpose=coat.purpose).last()
    return own


def _forecast(kept: _Kept, reading: Reading) -> tuple[FloatArray, Aim | None]:
    """The look L*a*b* (3,) after a coat, and how far it is from its aim; of a lift the hair as it is to end."""
    canvas, coat = canvas_of(reading), kept.coat.coat if kept.coat else None
    if coat is not None and coat.to_level is not None:
        return canvas_lab(lightened(canvas, max(float(coat.to_level), canvas.level))), None
    process = bowl_process(kept.filling.bowl)
    target_lab = kept.coat.target_lab if kept.coat else target_of(kept.filling.bowl)
    forecast = predict(
        canvas, engine_bowl_of(kept.filling, reading.zone.visit.client_id), process=process, target_lab=target_lab
    )
    return forecast.lab, forecast.aim


def _reading(zone: Zone) -> Reading:
    """The reading of a zone beneath what serves it no more: the last before anything was laid on it.

    Raises Reading.DoesNotExist.
    """
    readings = list(zone.readings.all())
    found = next((each for each in readings if not each.laid), next(iter(readings), None))
    if found is None:
        raise Reading.DoesNotExist
    return found


def engine_bowl_of(filling: Filling, client_id: int) -> Bowl:
    """A filling as the engine's bowl on a client's hair."""
    dyes = stocked_line(filling.line, str(client_id)).dyes
    return Bowl(grams={dyes[pk]: float(grams) for pk, grams in filling.grams.items() if pk in dyes})


def _developer_cost(filling: Filling) -> Decimal:
    """What the developer of all its fillings costs."""
    bowl = filling.bowl
    if not bowl.parts:
        return Decimal(0)
    return developer_cost(filling.line.studio_id, bowl.vol, filling.developer_g * filling.batches)


def _cost(filling: Filling) -> Decimal:
    """What all its fillings took, by the price of a tube."""
    stocked = stocked_line(filling.line)
    used = {stocked.dyes[pk]: float(grams) for pk, grams in filling.used.items() if pk in stocked.dyes}
    return Decimal(str(stock_of(stocked, limited=False).cost(used)))
