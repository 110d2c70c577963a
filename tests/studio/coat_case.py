"""A head on which coats are put one over the other, for tests of the pages that know them."""

from decimal import Decimal
from html.parser import HTMLParser

from engine.hair.canvas import Canvas
from engine.hair.residue import Family
from studio.head.models import Bowl, Coat
from studio.head.selectors import Bench, bench_of
from studio.head.services.pour import pour
from studio.shelf.models import Shade
from studio.visits.models import Zone
from studio.visits.selectors import open_zone
from studio.visits.services.read_hair import read_hair
from tests.studio.made import StudioCase

NATURAL_SIX = Canvas(level=6.0, family=Family.NATURAL)


class Forms(HTMLParser):
    """The hidden fields of each form of a page."""

    def __init__(self, page: str) -> None:
        super().__init__()
        self.forms: list[dict[str, str]] = []
        self._open = False
        self.feed(page)

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        given = dict(attrs)
        if tag == "form":
            self.forms.append({})
            self._open = True
        elif tag == "input" and self._open and given.get("type") == "hidden":
            self.forms[-1][given.get("name") or ""] = given.get("value") or ""

    def handle_endtag(self, tag: str) -> None:
        self._open = self._open and tag != "form"


class CoatCase(StudioCase):
    """Natural level 6 with an empty bowl to colour from."""

    def setUp(self) -> None:
        super().setUp()
        self.zone = open_zone(self.person, self.visit.pk).zone
        read_hair(self.person, zone_id=self.zone.pk, after=1, hair={"level": Decimal(6)}, family="natural")

    def coats(self, zone: Zone | None = None) -> list[Coat]:
        return list((zone or self.zone).coats.filter(removed=False).select_related("bowl__line"))

    def purposes(self, zone: Zone | None = None) -> list[str]:
        return [coat.purpose for coat in self.coats(zone)]

    def coat(self, purpose: str, zone: Zone | None = None) -> Coat:
        return next(coat for coat in self.coats(zone) if coat.purpose == purpose)

    def bench(self, purpose: str) -> Bench:
        return bench_of(self.person, open_zone(self.person, self.visit.pk, self.zone.pk, self.coat(purpose).pk))

    def way(self, way: str, *, of: str = "colour", **fields: object):
        return self.send("coats", way=way, coat_id=self.coat(of).pk, zone=self.zone.pk, **fields)

    def add(self, purpose: str, *, of: str = "colour"):
        return self.way("add", of=of, purpose=purpose)

    def pour_in(self, purpose: str, shade: str, grams: str) -> Bowl:
        found = Shade.objects.visible_to(self.person).get(name=shade)
        hand = {"zone_id": self.zone.pk, "coat_id": self.coat(purpose).pk, "version": self.bowl.version}
        return pour(self.person, **hand, shade_id=found.pk, typed=grams).bowl
