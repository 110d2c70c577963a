"""Last season's results: enough of them, judged, for the studio to have something to learn from."""

import datetime
import tomllib
from decimal import Decimal
from pathlib import Path
from typing import Any, Final

import numpy as np
from django.db import transaction
from django.utils import timezone

from studio.accounts.models import Person
from studio.cards.models import ZoneResult
from studio.cards.services.judge import judge_zone
from studio.cards.services.save_formula import save_formula
from studio.clients.models import Client
from studio.clients.services.add_client import add_client
from studio.demo.load import read_zone
from studio.guesses.services.guess import show_forecast, write_down
from studio.head.engine_adapter import finish_lab
from studio.head.selectors import bench_of
from studio.head.services.aim import want
from studio.head.services.open_bowl import open_bowl
from studio.head.services.take_recipe import take_recipe
from studio.shelf.models import Shade
from studio.visits.selectors import open_zone
from studio.visits.services.start_visit import start_visit

SEASON: Final = Path(__file__).with_name("season.toml")


@transaction.atomic
def load_season(person: Person) -> list[ZoneResult]:
    """Keep and judge last season's visits, through the services that people use."""
    season = tomllib.loads(SEASON.read_text(encoding="utf-8"))
    here = Shade.objects.visible_to(person).filter(line__name=season["line"])
    shades = {shade.name: shade.pk for shade in here}
    results = []
    for entry in season["client"]:
        client = add_client(person, name=entry["name"], about=entry["about"])
        results += [_visit(person, client, visit, shades) for visit in entry["visits"]]
    return results


def _visit(person: Person, client: Client, entry: dict[str, Any], shades: dict[str, int]) -> ZoneResult:
    now = timezone.now() - datetime.timedelta(days=entry["days_ago"])
    visit = start_visit(person, client_id=client.pk, day=timezone.localdate(now))
    zone = open_zone(person, visit.pk).zone
    read_zone(person, zone.pk, {"level": entry["level"], "porosity": entry["porosity"]}, after=0)
    grams = {shades[name]: Decimal(str(weight)) for name, weight in entry["grams"].items()}
    version = open_bowl(person, zone_id=zone.pk).version
    version = want(person, zone_id=zone.pk, version=version, total_g=sum(grams.values(), Decimal(0))).version
    version = take_recipe(person, zone_id=zone.pk, version=version, grams=grams).version
    forecast_lab = finish_lab(bench_of(person, open_zone(person, visit.pk)))
    if "guessed" in entry:
        depth, chroma, hue = map(Decimal, entry["guessed"])
        write_down(
            person,
            zone_id=zone.pk,
            version=version,
            level=Decimal(str(entry["level"])),
            lightness=depth,
            chroma=chroma,
            hue=hue,
            nearest=True,
        )
        show_forecast(person, zone_id=zone.pk, version=version, forecast_lab=forecast_lab, now=now)
    save_formula(person, visit_id=visit.pk, version=version, at=now)
    return judge_zone(
        person,
        zone_id=zone.pk,
        lab=np.array(entry["came_out"]),
        forecast_lab=forecast_lab,
        source=entry["source"],
        dry=True,
        two_lights=True,
    )
