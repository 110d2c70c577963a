"""What pages cost, as ratios to a yardstick in the same run: tools/measure_pages sets up and calls this.

The yardstick is a fixed loop, as long as a trivial signed-in page took when the budgets were set. The page itself has
become cheaper since, and against it every saving that all pages share would look like a loss.

Twenty heads, each read, aimed at and poured for; each page is asked for once a head, in the order of a visit,
so that no more is remembered than in life, and between turns of the yardstick. All heads come twice, a little
different, and the lesser ratio of each counts. Exits non-zero when a ratio is over
its budget.
"""

import statistics
import sys
import time
from collections.abc import Callable
from dataclasses import dataclass
from decimal import Decimal
from functools import partial
from itertools import count
from typing import Any

from django.test import Client as Browser
from django.urls import reverse
from django.utils import timezone

import studio.wsgi  # noqa: F401 - sets Django up and is warmed up as a server is
from engine.dye.guess import tone_words
from studio.accounts.models import Person
from studio.clients.services.add_client import add_client
from studio.head.models import Worktop
from studio.head.services.aim import aim
from studio.head.services.change_line import change_line
from studio.head.services.open_bowl import open_bowl
from studio.head.services.pour import pour
from studio.shelf.list_in import Tube
from studio.shelf.models import Shade
from studio.shelf.services.own_tubes import NewLine, take_list
from studio.visits.models import Visit
from studio.visits.selectors import open_zone
from studio.visits.services.read_hair import read_hair
from studio.visits.services.start_visit import start_visit

POUR_MOST = 5.0
PAGE_MOST = 8.0
FORECAST_MOST = 25.0
YARDSTICK = 85_000  # squares that are added up: 3.1 ms where a trivial page took as long
SPARE_TURNS = 5  # of the yardstick round each measure
# Level, warmth, lean, porosity, grey, and an aim's lightness, chroma and hue: from deep to white, near and far.
CASES = (
    ("10", "0", "0", "1", "0", 66, 25, 0),
    ("10", "1", "2", "1.3", "0", 70, 20, 310),
    ("9", "0", "0", "1", "0", 55, 45, 20),
    ("9", "2", "5", "1.4", "0", 60, 30, 250),
    ("8", "1", "5", "1.2", "0", 45, 40, 30),
    ("8", "-1", "0", "0.8", "0", 40, 30, 340),
    ("7", "0", "0", "1", "0", 35, 35, 40),
    ("7", "2", "8", "1.5", "0", 72, 18, 350),
    ("6", "0", "0", "1", "0", 30, 25, 60),
    ("6", "1", "3", "1", "0.3", 75, 15, 300),
    ("5", "0", "0", "1", "0", 25, 12, 70),
    ("5", "0", "0", "0.6", "0.6", 50, 35, 320),
    ("4", "0", "0", "1", "0.8", 28, 14, 20),
    ("11", "0", "0", "1.6", "0", 80, 15, 180),
    ("11", "0", "0", "1", "0", 40, 45, 275),
    ("10", "2", "9", "1.1", "0", 30, 10, 70),
    ("9", "-2", "0", "1", "0", 22, 6, 270),
    ("8", "0", "0", "1", "0", 66, 40, 85),
    ("3", "0", "0", "1", "0", 60, 30, 0),
    ("10", "0", "0", "1", "1", 50, 60, 330),
)
NAMES = count(1)
HAIR = ("level", "warmth", "lean", "porosity", "grey")
POROSITY = HAIR.index("porosity")
TURNS = 2  # of all heads; what else the machine does disturbs an answer now and then, seldom the same twice
POUR = "A pour"
# What is asked for in the order of a visit: its words, the most that it may cost, whether the worst head counts or the
# middle one, and where it is. A page that brings a forecast with it is counted as that forecast.
STEPS = (
    ("Consult", PAGE_MOST, False, "visits:consult", ""),
    ("Read", PAGE_MOST, False, "visits:read", ""),
    ("Route with its fill", FORECAST_MOST, True, "route:route", ""),
    ("Plan", PAGE_MOST, False, "route:plan", ""),
    ("Bench, aiming", PAGE_MOST, False, "bench:bench", "?mode=aim"),
    ("Bench, steering", PAGE_MOST, False, "bench:bench", "?mode=steer"),
    (POUR, POUR_MOST, False, "bench:pour", ""),
    ("Hit", FORECAST_MOST, True, "bench:bench", "?answers=1"),
    ("Adjust", FORECAST_MOST, True, "bench:bench", "?adjust=1"),
    ("Warmth", FORECAST_MOST, True, "bench:bench", "?warmth=1"),
    ("Zones", PAGE_MOST, False, "bench:bench", "?zones=1"),
    ("Pour", PAGE_MOST, False, "pour:pour", ""),
    ("Clock", PAGE_MOST, False, "clocks:clock", ""),
    ("Result", PAGE_MOST, False, "result:result", ""),
    ("Care", PAGE_MOST, False, "result:care", ""),
    ("Care's mask", FORECAST_MOST, True, "result:mask", ""),
    ("Hand-out", PAGE_MOST, False, "result:handout", ""),
    ("Put it right", FORECAST_MOST, True, "result:correct", "?trouble=too_dark"),
)
LARGE = 192  # tubes on one line
LARGE_STEPS = (("Bench", "?mode=aim"), ("Hit", "?answers=1"))
LARGE_MOST = {f"Hit, {LARGE} tubes": FORECAST_MOST}
HOUSE = (
    ("A trivial page", "clients:new"),
    ("Cards", "cards:list"),
    ("Chairs", "chairs:chairs"),
    ("House rules", "shelf:house"),
    ("Shelf", "shelf:shelf"),
    ("To order", "shelf:order"),
    ("Take in", "formats:take"),
)


@dataclass(frozen=True, kw_only=True)
class Ratio:
    """What a page cost against the yardstick, head by head, and the most that the middle or the worst may."""

    name: str
    ratios: list[float]
    most: float
    by_worst: bool = False

    @property
    def counts(self) -> float:
        """The ratio that the budget is for."""
        return max(self.ratios) if self.by_worst else statistics.median(self.ratios)

    def __str__(self) -> str:
        over = "  OVER" if self.counts > self.most else ""
        middle = statistics.median(self.ratios)
        return f"{self.name:28} median {middle:5.1f}  worst {max(self.ratios):5.1f}  of at most {self.most:g}{over}"


def head(person: Person, number: int, turn: int) -> Visit:
    """A case as a visit: read, aimed at, and with something in the bowl; each turn a little elsewhere."""
    *hair, lightness, chroma, hue = CASES[number]
    hair[POROSITY] = str(Decimal(hair[POROSITY]) + Decimal("0.01") * (turn - 1))
    client = add_client(person, name=f"Head {next(NAMES)}")
    visit = start_visit(person, client_id=client.pk, day=timezone.localdate())
    zone = open_zone(person, visit.pk).zone
    read = {name: Decimal(str(value)) for name, value in zip(HAIR, hair, strict=True)}
    read_hair(person, zone_id=zone.pk, after=0, hair=read)
    open_bowl(person, zone_id=zone.pk)
    depth = lightness + Decimal("0.2") * turn
    aim(
        person,
        zone_id=zone.pk,
        version=version(visit),
        lightness=depth,
        chroma=Decimal(chroma),
        hue=Decimal(hue),
        nearest=True,
    )
    for name, grams in (("Orchil", "4"), ("Clear", "50")):
        found = Shade.objects.visible_to(person).get(name=name, line__name="Ropewalk direct")
        pour(person, zone_id=zone.pk, version=version(visit), shade_id=found.pk, typed=grams)
    return visit


def version(visit: Visit) -> int:
    """What the worktop of a visit stands at."""
    return Worktop.objects.get(visit=visit).version


def took(ask: Callable[[], Any]) -> float:
    """Seconds of one answer. Raises RuntimeError when it is none."""
    start = time.perf_counter()
    answer = ask()
    spent = time.perf_counter() - start
    if answer.status_code != 200:
        raise RuntimeError(f"an answer of {answer.status_code}")
    return spent


def ratio(browser: Browser, ask: Callable[[], Any]) -> float:
    """One answer against the yardstick, right before and after. A server is at work, so that trivial pages go first."""
    before = [yardstick() for _ in range(SPARE_TURNS)]
    for _ in range(SPARE_TURNS):
        browser.get(reverse("clients:new"))
    spent = took(ask)
    after = [yardstick() for _ in range(SPARE_TURNS)]
    return spent / statistics.median(before + after)


def yardstick() -> float:
    """Seconds of the yardstick."""
    start = time.perf_counter()
    sum(number * number for number in range(YARDSTICK))
    return time.perf_counter() - start


def pour_one(browser: Browser, visit: Visit, shade: Shade) -> Callable[[], Any]:
    """One gram of a shade into the bowl, as the Bench sends it."""
    fields = {"version": version(visit), "shade": shade.pk, "by": "1", "shown": "steer"}
    return partial(browser.post, reverse("bench:pour", args=[visit.pk]), fields, headers={"HX-Request": "true"})


def measured(person: Person) -> list[Ratio]:
    """Every ratio: each head's pages are asked for once, in the order of a visit."""
    browser = Browser(SERVER_NAME="localhost")
    browser.force_login(person)
    for _ in range(3 * SPARE_TURNS):
        browser.get(reverse("clients:new"))
    shade = Shade.objects.visible_to(person).get(name="Woad", line__name="Ropewalk direct")
    walk(browser, head(person, 0, TURNS), shade)  # code and templates are loaded
    turns = [every_head(browser, person, shade, 0)]
    house = {}
    for said, name in HOUSE:  # while as many heads are in the chairs as there are cases
        house[said] = [ratio(browser, partial(browser.get, reverse(name))) for _ in range(SPARE_TURNS)]
    turns += [every_head(browser, person, shade, turn) for turn in range(1, TURNS)]
    found = []
    for said, most, by_worst, *_ in STEPS:
        ratios = [min(ratios[said] for ratios in same) for same in zip(*turns, strict=True)]
        found.append(Ratio(name=said, ratios=ratios, most=most, by_worst=by_worst))
    house |= with_large_shelf(browser, person)
    return found + [
        Ratio(name=said, ratios=ratios, most=LARGE_MOST.get(said, PAGE_MOST)) for said, ratios in house.items()
    ]


def with_large_shelf(browser: Browser, person: Person) -> dict[str, list[float]]:
    """What a line of many tubes costs: each page asked for some times, as in a day."""
    tones = sorted(tone_words())
    tubes = [
        Tube(row=number, name=f"Tube {number}", code=f"T{number}", tones=(tones[number % len(tones)],))
        for number in range(LARGE)
    ]
    tubes.append(Tube(row=LARGE, name="Large clear", thins=Decimal(1)))
    zero = Decimal(0)
    new = NewLine(name="Large", kind="direct", developer_parts=zero, developer_vol=zero, tube_g=Decimal(60))
    line = take_list(person, line=new, tubes=tubes).line
    visit = head(person, 0, TURNS + 1)
    change_line(person, zone_id=visit.zones.get().pk, version=version(visit), line_id=line.pk)
    pages = (
        ("Shelf", reverse("shelf:shelf")),
        *((said, address("bench:bench", visit) + query) for said, query in LARGE_STEPS),
    )
    return {
        f"{said}, {LARGE} tubes": [ratio(browser, partial(browser.get, where)) for _ in range(SPARE_TURNS)]
        for said, where in pages
    }


def every_head(browser: Browser, person: Person, shade: Shade, turn: int) -> list[dict[str, float]]:
    """The ratios of all cases, one after the other."""
    return [walk(browser, head(person, number, turn), shade) for number in range(len(CASES))]


def walk(browser: Browser, visit: Visit, shade: Shade) -> dict[str, float]:
    """The ratios of one head, by step."""
    found = {}
    for said, _, _, name, query in STEPS:
        ask = pour_one(browser, visit, shade) if said == POUR else partial(browser.get, address(name, visit) + query)
        found[said] = ratio(browser, ask)
    return found


def address(name: str, visit: Visit) -> str:
    """Where a step's page is."""
    return reverse(name, args=[visit.pk])


def main() -> int:
    """Print every ratio; how many are over their budget."""
    found = measured(Person.objects.get(username="lantern"))
    print("\n".join(map(str, found)))
    return sum(each.counts > each.most for each in found)


if __name__ == "__main__":
    sys.exit(min(main(), 1))
