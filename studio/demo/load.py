"""Load the demo studio through the same services that people use."""

import datetime
import tomllib
from decimal import Decimal
from pathlib import Path
from typing import Any

from django.db import transaction
from django.utils import timezone

from engine.dye.shelf import demo_shelf
from studio.accounts.models import Person, Studio
from studio.bench.answers import Limits, answers_of
from studio.bench.selectors import bench_of
from studio.bench.services.aim import aim, want
from studio.bench.services.change_line import change_line
from studio.bench.services.open_bowl import open_bowl
from studio.bench.services.take_recipe import take_recipe
from studio.cards.services.save_formula import save_formula
from studio.clients.models import Client
from studio.clients.services.add_client import add_client
from studio.shelf.models import Shade, ShadeBand, ShadeLine
from studio.visits.selectors import open_zone
from studio.visits.services.read_hair import read_hair
from studio.visits.services.start_visit import start_visit

SCENARIO = Path(__file__).with_name("lantern_street.toml")
HAIR_START = {"level": 9, "warmth": 0, "lean": 0, "porosity": 1, "grey": 0}


@transaction.atomic
def load_demo(password: str) -> Person:
    """Make the demo studio, its person, shelf, clients and cards; returns the person who signs in."""
    scenario = tomllib.loads(SCENARIO.read_text(encoding="utf-8"))
    studio = Studio.objects.create(**scenario["studio"])
    person = Person.objects.create_user(**scenario["person"], studio=studio, password=password)
    stock_shelf(studio)
    for entry in scenario["client"]:
        client = add_client(person, name=entry["name"], about=entry["about"], notes=entry["notes"])
        for visit in entry["visits"]:
            _visit(person, client, visit)
    return person


def stock_shelf(studio: Studio) -> None:
    """Put the scenario's lines on a studio's shelf."""
    for position, line in enumerate(tomllib.loads(SCENARIO.read_text(encoding="utf-8"))["line"]):
        _stock(studio, position, line)


def _stock(studio: Studio, position: int, entry: dict[str, Any]) -> None:
    shades = entry.pop("shades")
    line = ShadeLine.objects.create(studio=studio, position=position, **entry)
    for place, given in enumerate(shades):
        spectrum = demo_shelf()[given["spectrum"]].bands if "spectrum" in given else ()
        bands = given.get("bands", [(b.centre_nm, b.sigma_nm, b.weight) for b in spectrum])
        shade = Shade.objects.create(
            line=line,
            name=given["name"],
            position=place,
            keyboard_key=given["key"],
            strength=Decimal(str(given.get("strength", 8 if bands else 0))),
            stock_g=given["stock_g"],
            tube_price=Decimal(str(given.get("tube_price", 0))),
        )
        ShadeBand.objects.bulk_create(
            ShadeBand(shade=shade, centre_nm=centre, sigma_nm=sigma, weight=Decimal(str(weight)))
            for centre, sigma, weight in bands
        )


def _visit(person: Person, client: Client, entry: dict[str, Any]) -> None:
    now = timezone.now() - datetime.timedelta(days=entry["days_ago"])
    visit = start_visit(person, client_id=client.pk, day=timezone.localdate(now))
    opened = open_zone(person, visit.pk)
    zone_id = opened.zone.pk
    hair = {name: Decimal(str(number)) for name, number in {**HAIR_START, **entry["hair"]}.items()}
    read_hair(person, zone_id=zone_id, after=0, hair=hair)
    bowl = open_bowl(person, zone_id=zone_id)
    bowl = want(person, zone_id=zone_id, version=bowl.version, total_g=Decimal(entry["wanted_g"]))
    if "aim" in entry:
        aimed = dict(zip(("lightness", "chroma", "hue"), map(Decimal, entry["aim"]), strict=True))
        bowl = aim(person, zone_id=zone_id, version=bowl.version, nearest=True, **aimed)
        best = answers_of(bench_of(person, open_zone(person, visit.pk)), Limits()).recipes[0]
        grams = {shade_id: weight for shade_id, _, weight in best.pours}
    else:
        line = ShadeLine.objects.visible_to(person).get(name=entry["line"])
        bowl = change_line(person, zone_id=zone_id, version=bowl.version, line_id=line.pk)
        ids = dict(line.shades.values_list("name", "pk"))
        grams = {ids[name]: Decimal(str(weight)) for name, weight in entry["grams"].items()}
    bowl = take_recipe(person, zone_id=zone_id, version=bowl.version, grams=grams)
    save_formula(person, visit_id=visit.pk, version=bowl.version, note=entry["note"], at=now)
