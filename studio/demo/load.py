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
from studio.cards.services.save_formula import save_formula
from studio.clients.models import Client, PastWork
from studio.clients.services.add_client import add_client
from studio.clients.services.history import add_past, record_skin_test
from studio.head.selectors import bench_of
from studio.head.services.aim import aim, want
from studio.head.services.change_line import change_line
from studio.head.services.open_bowl import open_bowl
from studio.head.services.take_recipe import take_recipe
from studio.head.services.zones import own_bowl, set_blend, split_head
from studio.shelf.models import Shade, ShadeBand, ShadeLine
from studio.supplies.services.stock import add_supply
from studio.visits.models import Zone
from studio.visits.selectors import open_zone
from studio.visits.services.read_hair import read_hair
from studio.visits.services.start_visit import start_visit

SCENARIO = Path(__file__).with_name("lantern_street.toml")
HAIR_START = {"level": 9, "warmth": 0, "lean": 0, "porosity": 1, "grey": 0, "yellowing": 0}


@transaction.atomic
def load_demo(password: str) -> Person:
    """Make the demo studio, its person, shelf, clients and cards; returns the person who signs in."""
    scenario = tomllib.loads(SCENARIO.read_text(encoding="utf-8"))
    studio = Studio.objects.create(**scenario["studio"])
    person = Person.objects.create_user(**scenario["person"], studio=studio, password=password)
    stock_shelf(studio)
    for supply in scenario["supply"]:
        given: dict[str, Any] = {
            name: Decimal(str(each)) if isinstance(each, int | float) else each for name, each in supply.items()
        }
        add_supply(person, **given)
    for entry in scenario["client"]:
        client = add_client(person, name=entry["name"], about=entry["about"], notes=entry["notes"])
        _history(person, client, entry)
        for visit in entry["visits"]:
            _visit(person, client, visit)
    return person


def _exact(given: Any) -> Any:
    """A number of the scenario as the database keeps it; a word as it is."""
    return Decimal(str(given)) if isinstance(given, int | float) else given


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
            keyboard_key=given.get("key", ""),
            thins=Decimal(str(given.get("thins", 1))),
            strength=Decimal(str(given.get("strength", 8 if bands else 0))),
            stock_g=given["stock_g"],
            tube_price=Decimal(str(given.get("tube_price", 0))),
        )
        ShadeBand.objects.bulk_create(
            ShadeBand(shade=shade, centre_nm=centre, sigma_nm=sigma, weight=Decimal(str(weight)))
            for centre, sigma, weight in bands
        )


def _history(person: Person, client: Client, entry: dict[str, Any]) -> None:
    """What was done to the client before, and the sensitivity tests, by days before today."""
    now = timezone.now()
    for past in entry.get("past", []):
        done_on = timezone.localdate() - datetime.timedelta(days=past["days_ago"])
        add_past(
            person,
            client_id=client.pk,
            work=past["work"],
            part=past.get("part", PastWork.Part.WHOLE),
            done_on=done_on,
            today=timezone.localdate(),
            note=past.get("note", ""),
        )
    for test in entry.get("skin_tests", []):
        line = ShadeLine.objects.visible_to(person).get(name=test["line"]) if "line" in test else None
        tested_at = now - datetime.timedelta(days=test["days_ago"])
        record_skin_test(
            person,
            client_id=client.pk,
            line_id=line.pk if line else None,
            tested_at=tested_at,
            clear=test["clear"],
            now=now,
        )


def _visit(person: Person, client: Client, entry: dict[str, Any]) -> None:
    now = timezone.now() - datetime.timedelta(days=entry["days_ago"])
    visit = start_visit(person, client_id=client.pk, day=timezone.localdate(now))
    zone_id = open_zone(person, visit.pk).zone.pk
    parts = entry.get("zones", [entry])
    read_zone(person, zone_id, parts[0]["hair"], after=0)
    bowl = open_bowl(person, zone_id=zone_id)
    bowl = want(person, zone_id=zone_id, version=bowl.version, total_g=Decimal(entry["wanted_g"]))
    version = bowl.version
    if len(parts) > 1:
        split_head(person, zone_id=zone_id, version=version, into="three")
    for zone, part in zip(open_zone(person, visit.pk).zones, parts, strict=True):
        version = _mix_zone(person, zone, part, alone=len(parts) == 1)
    save_formula(person, visit_id=visit.pk, version=version, note=entry["note"], at=now)


def read_zone(person: Person, zone_id: int, hair: dict[str, float], *, after: int) -> None:
    """Read a zone's hair; what is not named is as usual."""
    numbers = {name: Decimal(str(number)) for name, number in {**HAIR_START, **hair}.items()}
    read_hair(person, zone_id=zone_id, after=after, hair=numbers)


def _mix_zone(person: Person, zone: Zone, part: dict[str, Any], *, alone: bool) -> int:
    """Read, aim and mix for one zone, in a bowl of its own; returns the worktop's version."""
    at = open_bowl(person, zone_id=zone.pk).version
    if not alone:
        read_zone(person, zone.pk, part["hair"], after=1)
        at = own_bowl(person, zone_id=zone.pk, version=at).version
        at = set_blend(person, zone_id=zone.pk, version=at, percent=Decimal(part["blend"])).version
    if "aim" in part:
        depth, chroma, hue = map(Decimal, part["aim"])
        aimed = aim(person, zone_id=zone.pk, version=at, nearest=True, lightness=depth, chroma=chroma, hue=hue)
        at = aimed.version
    if "line" in part:
        line = ShadeLine.objects.visible_to(person).get(name=part["line"])
        at = change_line(person, zone_id=zone.pk, version=at, line_id=line.pk).version
    bench = bench_of(person, open_zone(person, zone.visit_id, zone.pk))
    if "grams" in part:
        ids = {shade.name: shade.pk for shade in bench.stocked.shades}
        grams = {ids[name]: Decimal(str(weight)) for name, weight in part["grams"].items()}
    else:
        grams = {shade_id: weight for shade_id, _, weight in answers_of(bench, Limits()).recipes[0].pours}
    return take_recipe(person, zone_id=zone.pk, version=at, grams=grams).version
