"""A line of which nothing is left: every page of a visit stands, and says what is short."""

from decimal import Decimal

from django.db.models import F
from django.urls import reverse

from studio.shelf.models import Shade, ShadeLine
from studio.visits.services.read_hair import read_hair
from tests.studio.coat_case import CoatCase

PANELS = ("answers", "adjust", "warmth", "pastels", "meanwhile", "heads", "coats", "zones")


class UsedUp(CoatCase):
    def setUp(self) -> None:
        super().setUp()
        read_hair(self.person, zone_id=self.zone.pk, after=2, hair={"level": Decimal(10)}, family="lightened")
        self.send("aim", zone=self.zone.pk, lightness="26", chroma="18", hue="50", tapped="1")

    def use_up(self, **of: object) -> None:
        Shade.objects.filter(line__studio=self.person.studio, **of).update(stock_g=0)
        ShadeLine.objects.filter(studio=self.person.studio).update(version=F("version") + 1)

    def at(self, name: str, query: str = "") -> str:
        return reverse(name, args=[self.visit.pk]) + query

    def stands(self) -> None:
        for name in ("route:route", "route:fill", "route:toner", "route:lines", "route:plan", "bench:bench"):
            with self.subTest(page=name):
                self.assertEqual(self.client.get(self.at(name)).status_code, 200)
        for name in ("pour:pour", "clocks:clock", "result:result", "result:correct", "result:care", "visits:read"):
            with self.subTest(page=name):
                self.assertEqual(self.client.get(self.at(name)).status_code, 200)
        for panel in PANELS:
            with self.subTest(panel=panel):
                self.assertLess(self.client.get(self.at("bench:bench", f"?{panel}=1")).status_code, 500)

    def test_an_empty_bowl_of_a_line_that_is_used_up(self) -> None:
        self.use_up(line=self.bowl.line)
        self.stands()
        self.assertContains(self.client.get(self.at("route:route")), "Fill, then colour")
        answers = self.client.get(self.at("bench:bench", "?answers=1"))
        self.assertContains(answers, "too little is left on the shelf", status_code=200)

    def test_a_full_bowl_of_a_shelf_that_is_used_up(self) -> None:
        self.send("pour", zone=self.zone.pk, shade=self.shade("Orchil").pk, grams="3")
        self.use_up()
        self.stands()
        self.assertContains(
            self.client.get(self.at("route:plan")), "Orchil: the bowls take 3.0 g, the shelf holds 0.0 g"
        )

    def test_carriers_alone_are_left(self) -> None:
        self.use_up(bands__isnull=False)
        self.stands()
