"""A head whose gates are asked for through the pages, and what is done to it on the way."""

import datetime
import re
from collections.abc import Callable

from django.http import HttpResponse
from django.urls import reverse
from django.utils import timezone

from studio.accounts.models import Person
from studio.clocks.models import ZoneClock
from studio.shelf.models import ShadeLine
from studio.visits.models import Consult, Zone
from studio.visits.selectors import open_zone
from tests.studio.made import StudioCase, clear_skin, put_on_hair

CHOSEN = {
    "setting": "work",
    "upkeep": "little",
    "nerve": "calm",
    "scalp": "sound",
    "length": "medium",
    "density": "medium",
    "texture": "medium",
    "curl": "straight",
    "lay": "open",
}
HTMX = {"HX-Request": "true"}

HOUSE = {"school": "yellow_gold_at_8", "watch": "by_kind", "strong_lift": "steps", "colour_from_years": 16}
HOUSE |= {
    "test_hours": 48,
    "scalp_vol": 20,
    "lock_min": 15,
    "paper": "A4",
    "language": "en-gb",
    "fill_from": "two_levels",
    "lay": "foil",
    "unit": "g",
    "check_min": 5,
    "bowl_min": 15,
    "deposit_on": "by_kind",
    "how_light": "needed",
    "toner_level": "two_darker",
    "pre_tone": "nearer",
    "carrier": "clear",
    "heat": "none",
    "clean_up": "once",
    "begin_at": "nape",
    "water": "cool",
    "fill_with": "missing",
    "condition": "clean",
    "root_look": "shadow",
    "over_tone": "on_aim",
}
HOUSE |= {"photos_months": 0, "traces_months": 36, "signed_years": 0}


class Licensed(StudioCase):
    """A licensed hand, who sets the house's rules."""

    def setUp(self) -> None:
        super().setUp()
        self.person.licensed = True
        self.person.save()

    def keep(self, **rules: str) -> None:
        self.assertRedirects(self.client.post(reverse("shelf:house"), HOUSE | rules), reverse("shelf:house"))
        self.person = Person.objects.select_related("studio").get(pk=self.person.pk)


class GateCase(StudioCase):
    """A virgin head at level 5 with clear tests of everything, an aim, and a direct bowl."""

    def setUp(self) -> None:
        super().setUp()
        self.person.licensed = True
        self.person.save()
        clear_skin(self.person, self.visit.client_id, now=timezone.now())
        self.post("visits:read", after=1, level="5", family="natural")
        self.consult(virgin="on")
        self.send("aim", lightness="60", chroma="30", hue="350")
        self.send("pour", shade=self.shade("Orchil").pk, grams="3")
        self.send("pour", shade=self.shade("Clear").pk, grams="57")

    @property
    def zone(self) -> Zone:
        return open_zone(self.person, self.visit.pk).zone

    def at(self, name: str) -> str:
        return reverse(name, args=[self.visit.pk])

    def post(self, name: str, **sent: object) -> HttpResponse:
        return self.client.post(self.at(name), {"zone": self.zone.pk, **sent}, headers=HTMX)

    def consult(self, **sent: object) -> None:
        kept = Consult.objects.filter(visit=self.visit).first()
        answer = self.post(
            "visits:consult", **{**CHOSEN, "virgin": "on", "version": kept.version if kept else 0, **sent}
        )
        self.assertEqual(answer.status_code, 200, answer.content[:400])

    def past(self, work: str, days: int, part: str = "whole") -> None:
        day = self.visit.day - datetime.timedelta(days=days)
        self.assertEqual(self.post("visits:past", work=work, part=part, done_on=day).status_code, 200)

    def skin(self, line: str, clear: str, *, hours: float) -> None:
        then = timezone.localtime(timezone.now() - datetime.timedelta(hours=hours))
        found = ShadeLine.objects.visible_to(self.person).filter(name=line).first()
        answer = self.post(
            "visits:skin-test",
            line=found.pk if found else "",
            clear=clear,
            tested_on=then.date(),
            tested_at=f"{then:%H:%M}",
        )
        self.assertEqual(answer.status_code, 200)

    def house(self, **sent: object) -> None:

        self.assertEqual(self.client.post(reverse("shelf:house"), HOUSE | sent).status_code, 302)

    def pack(self, line: str, **says: object) -> None:
        found = ShadeLine.objects.visible_to(self.person).get(name=line)
        names = ("developer_vol", "test_lasts_days", "empty_tube_g")  # what the page's form sends besides
        given = {name: getattr(found, name) for name in names} | says
        self.assertEqual(self.client.post(reverse("shelf:line", args=[found.pk]), given).status_code, 302)

    def demi(self) -> None:
        line = ShadeLine.objects.visible_to(self.person).get(kind="demi")
        self.send("line", line=line.pk)
        self.send("pour", shade=self.shade("Ochre").pk, grams="20")

    def rename(self, name: str) -> None:
        self.send("zones", way="rename", name=name)

    def part(self, part: str) -> None:
        Zone.objects.filter(visit=self.visit).update(part=part)

    def strand(self, passed: str, **start: object) -> None:
        sent = {"kind": "lightener", "coat": "lightener:", "strand": "1", "strand_min": "20", "passed": passed, **start}
        if passed == "yes":
            sent["stretch_held"] = "1"
        self.assertEqual(self.post("clocks:gate", **sent).status_code, 200)

    def born(self, years: int) -> None:
        born = self.visit.day.replace(year=self.visit.day.year - years) - datetime.timedelta(days=20)
        self.consult(born_on=born)

    def codes(self, answer: HttpResponse) -> set[str]:
        self.assertEqual(answer.status_code, 200, answer.content[:300])
        return set(re.findall(r'data-gate="([a-z_]+)"', answer.content.decode()))

    def on_consult(self) -> set[str]:
        return self.codes(self.client.get(self.at("visits:consult")))

    def on_pour(self) -> set[str]:
        return self.codes(self.client.get(self.at("pour:pour")))

    def on_route(self) -> set[str]:
        return self.codes(self.client.get(self.at("route:route")))

    def on_clock(self) -> set[str]:
        return self.codes(self.client.get(self.at("clocks:clock")))

    def on_care(self) -> set[str]:
        return self.codes(self.client.get(self.at("result:care")))

    def of_start(self, **start: object) -> set[str]:
        """What the Clock says of a start before it is made; by default lightener, guarded, to level 6 at 20 vol."""
        usual = {"kind": "lightener", "to_level": "6", "vol": "20", "guard_asked": "1", "guarded": "1"}
        asked = {"zone": self.zone.pk, **usual, **start}
        return self.codes(self.client.get(self.at("clocks:gates"), asked))

    def on_fixes(self) -> set[str]:
        return self.codes(self.client.get(self.at("result:fixes")))


def together(*steps: Callable[[GateCase], object]) -> Callable[[GateCase], object]:
    return lambda case: [step(case) for step in steps]


def running(kind: str, minutes: float, **more: object) -> Callable[[GateCase], object]:
    def start(case: GateCase) -> None:
        now = timezone.now() - datetime.timedelta(minutes=minutes)
        put_on_hair(case.person, zone_id=case.zone.pk, kind=kind, now=now, **more)

    return start


def act(**sent: object) -> Callable[[GateCase], object]:
    return lambda case: case.post("clocks:act", clock=ZoneClock.objects.latest("pk").pk, **sent)


def stung(case: GateCase) -> None:
    together(running("direct", 5), act(stings="1"))(case)


def split(part: str) -> Callable[[GateCase], object]:
    """The head in two zones, the ends lightened already, and one of the parts in hand."""

    def cut(case: GateCase) -> None:
        case.send("zones", way="two")
        ends = Zone.objects.get(visit=case.visit, part="ends", removed=False)
        read = {"zone": ends.pk, "after": ends.readings.count(), "level": "8", "family": "lightened"}
        case.client.post(case.at("visits:read"), read, headers=HTMX)

    return cut


def two_lines(case: GateCase) -> None:
    case.send("zones", way="two")
    ends = Zone.objects.get(visit=case.visit, part="ends", removed=False)
    case.send("zones", way="own", zone=ends.pk)
    demi = ShadeLine.objects.visible_to(case.person).get(kind="demi")
    case.send("line", line=demi.pk, zone=ends.pk)
    case.send("pour", shade=case.shade("Ochre").pk, grams="20", zone=ends.pk)
