"""Seat the band: the demo studio's heads of today, in the middle of their visits."""

import datetime
import tomllib
from decimal import Decimal
from typing import Any
from zoneinfo import ZoneInfo

from django.db import transaction
from django.utils import timezone

from engine.service.timing import ClockKind
from studio.accounts.models import Person
from studio.bench.answers import Limits, answers_of
from studio.clients.models import Client
from studio.clocks.coats import Start
from studio.clocks.services.run import answer_call, start_clock
from studio.demo.load import SCENARIO, read_zone
from studio.head.selectors import bench_of
from studio.head.services.aim import aim, want
from studio.head.services.open_bowl import open_bowl
from studio.head.services.take_recipe import take_recipe
from studio.pour.services.mix import mix_batch
from studio.pour.services.weigh import weigh
from studio.route.services.edit_plan import set_begin
from studio.visits.models import Visit
from studio.visits.selectors import open_zone
from studio.visits.services.start_visit import start_visit


@transaction.atomic
def seat_today(person: Person, *, now: datetime.datetime) -> list[Visit]:
    """Begin the scenario's visits of today, unless the studio has any today already."""
    with timezone.override(ZoneInfo(person.studio.time_zone)):
        return _seat_all(person, now)


def _seat_all(person: Person, now: datetime.datetime) -> list[Visit]:
    today = timezone.localdate(now)
    if Visit.objects.visible_to(person).filter(day=today).exists():
        return []
    scenario = tomllib.loads(SCENARIO.read_text(encoding="utf-8"))
    return [_seat(person, entry, now) for entry in scenario["today"]]


def _seat(person: Person, entry: dict[str, Any], now: datetime.datetime) -> Visit:
    client = Client.objects.visible_to(person).get(name=entry["client"])
    visit = start_visit(person, client_id=client.pk, day=timezone.localdate(now))
    begins = timezone.localtime(now - datetime.timedelta(minutes=entry["began_min_ago"]))
    set_begin(person, visit_id=visit.pk, begins_at=begins.time().replace(second=0, microsecond=0))
    zone_id = open_zone(person, visit.pk).zone.pk
    read_zone(person, zone_id, entry["hair"], after=0)
    version = open_bowl(person, zone_id=zone_id).version
    version = want(person, zone_id=zone_id, version=version, total_g=Decimal(entry["wanted_g"])).version
    depth, chroma, hue = map(Decimal, entry["aim"])
    aimed = aim(person, zone_id=zone_id, version=version, nearest=True, lightness=depth, chroma=chroma, hue=hue)
    version = aimed.version
    best = answers_of(bench_of(person, open_zone(person, visit.pk, zone_id)), Limits()).recipes[0]
    grams = {shade_id: weight for shade_id, _, weight in best.pours}
    version = take_recipe(person, zone_id=zone_id, version=version, grams=grams).version
    if "poured_min_ago" in entry:
        for shade_id, weight in grams.items():
            weigh(person, zone_id=zone_id, version=version, shade_id=shade_id, grams=weight)
            version += 1
        mixed_at = now - datetime.timedelta(minutes=entry["poured_min_ago"])
        mix_batch(person, zone_id=zone_id, version=version, at=mixed_at)
    if "clock" in entry:
        _start(person, zone_id, entry["clock"], now)
    return visit


def _start(person: Person, zone_id: int, entry: dict[str, Any], now: datetime.datetime) -> None:
    start = Start(kind=ClockKind(entry["kind"]), planned_min=Decimal(entry["minutes"]), batches=entry.get("batches", 1))
    applied_at = now - datetime.timedelta(minutes=entry["applied_min_ago"])
    clock = start_clock(person, zone_id=zone_id, start=start, now=applied_at)
    if "answered_to_min" in entry:
        answer_call(person, clock_id=clock.pk, to_min=Decimal(entry["answered_to_min"]))
