"""What stands beside the tubes: developers that leave as they are poured, foils and gloves by count."""

import csv
from decimal import Decimal

from django.urls import reverse
from django.utils import timezone

from studio.cards.models import Formula
from studio.pour.services.mix import mix_batch
from studio.pour.services.weigh import weigh
from studio.shelf.models import ShadeLine
from studio.supplies.models import Supply
from studio.supplies.services.stock import add_supply
from studio.visits.selectors import open_zone
from tests.studio.made import StudioCase, clear_skin, make_person


class Supplies(StudioCase):
    def setUp(self) -> None:
        super().setUp()
        self.twenty = add_supply(
            self.person,
            kind="developer",
            name="Tideline 20 vol",
            unit="g",
            vol=Decimal(20),
            pack=Decimal(1000),
            packs=Decimal(1),
            pack_price=Decimal(10),
            reorder_at=Decimal(960),
        )
        self.foils = add_supply(
            self.person, kind="foil", name="Foils", unit="pieces", pack=Decimal(500), packs=Decimal("0.2")
        )
        self.at = reverse("supplies:supplies")

    def left(self, supply: Supply) -> Decimal:
        return Supply.objects.get(pk=supply.pk).stock

    def move(self, supply: Supply, **fields: object):
        return self.client.post(reverse("supplies:move", args=[supply.pk]), fields, follow=True)

    def test_something_is_added_with_what_is_there(self) -> None:
        sent = {"kind": "gloves", "name": "Gloves, small", "unit": "pieces", "pack": "100", "packs": "1.5"}
        self.assertContains(self.client.post(self.at, sent, follow=True), "Gloves, small: on the shelf.")
        gloves = Supply.objects.get(name="Gloves, small")
        self.assertEqual((gloves.stock, gloves.vol), (150, None))

    def test_packs_come_in_are_counted_and_used_and_each_leaves_a_trace(self) -> None:
        self.move(self.foils, act="came", amount="2", paid="12.50")
        self.assertEqual(self.left(self.foils), 1100)
        self.move(self.foils, act="used", amount="48")
        self.move(self.foils, act="there", amount="1000")
        self.assertEqual(self.left(self.foils), 1000)
        moves = [(move.kind, move.amount) for move in self.foils.moves.all()]
        self.assertEqual(moves[:3], [("counted", -52), ("used", -48), ("delivered", 1000)])
        self.assertEqual(Supply.objects.get(pk=self.foils.pk).pack_price, Decimal("12.50"))

    def test_what_is_sent_twice_is_made_once(self) -> None:
        for _ in range(2):
            self.move(self.foils, act="used", amount="10", token="a tap")
        self.assertEqual(self.left(self.foils), 90)

    def test_what_is_wrong_is_said_beside_it_and_nothing_changes(self) -> None:
        for fields, words in (
            ({"act": "used", "amount": "101"}, "100 pieces are left"),
            ({"act": "used", "amount": "0"}, "left by the record"),
            ({"act": "used", "amount": "some"}, "12"),
            ({"act": "there", "amount": "-1"}, "0 to 99999"),
            ({"act": "came", "amount": "5000"}, "0.1 to 1000"),
            ({"act": "came", "amount": "1000"}, "0 to 99999"),
            ({"act": "came", "amount": "1", "paid": "much"}, "9.50"),
        ):
            with self.subTest(fields):
                self.assertContains(self.move(self.foils, **fields), words, status_code=422)
        self.assertEqual(self.left(self.foils), 100)
        for sent, words in (
            ({"kind": "developer", "name": "No strength", "unit": "g", "pack": "1000"}, "needs its strength"),
            (
                {"kind": "foil", "name": "Strong foil", "unit": "pieces", "pack": "9", "vol": "20"},
                "nothing else has one",
            ),
            ({"kind": "foil", "name": "Foils", "unit": "pieces", "pack": "9"}, "on the shelf already"),
            ({"kind": "foil", "name": "Empty", "unit": "pieces", "pack": "0"}, "greater than or equal to 1"),
        ):
            self.assertContains(self.client.post(self.at, sent), words, status_code=422)

    def test_developer_leaves_as_it_is_poured_and_costs_what_was_paid(self) -> None:
        line = ShadeLine.objects.visible_to(self.person).get(name="Capstan permanent")
        clear_skin(self.person, self.visit.client_id, now=timezone.now())
        self.send("line", line=line.pk)
        walnut = line.shades.get(name="Walnut")
        self.send("pour", shade=walnut.pk, grams="40")
        zone = open_zone(self.person, self.visit.pk).zone
        poured = {"zone_id": zone.pk, "shade_id": walnut.pk, "grams": Decimal(40)}
        weigh(self.person, version=self.bowl.version, **poured)
        mix_batch(self.person, zone_id=zone.pk, version=self.bowl.version, at=timezone.now())
        self.assertEqual(self.left(self.twenty), 960)
        self.send("save", note="")
        formula = Formula.objects.latest("pk")
        shades = walnut.tube_price / line.tube_g * 40
        self.assertEqual(formula.cost, round(shades + Decimal("0.40"), 2))

    def test_what_runs_out_is_listed_to_order(self) -> None:
        self.move(self.twenty, act="used", amount="50")
        answer = self.client.get(reverse("shelf:order"))
        self.assertContains(answer, "Tideline 20 vol")
        self.assertNotContains(answer, "Foils")  # of what has no point of ordering, none is ordered
        text = self.client.get(reverse("shelf:order-csv")).content.decode()
        row = next(row for row in csv.reader(text.splitlines()) if row[2] == "Tideline 20 vol")
        self.assertEqual((row[3], row[4]), ("950.0", "3"))

    def test_it_leaves_the_shelf_and_comes_back(self) -> None:
        self.move(self.foils, act="off")
        self.assertContains(self.client.get(self.at), "Put it on again")
        self.move(self.foils, act="back")
        self.assertFalse(Supply.objects.get(pk=self.foils.pk).off_shelf)

    def test_another_studio_has_none_of_it(self) -> None:
        self.client.force_login(make_person("Ballast Quay", "ballast"))
        self.assertNotContains(self.client.get(self.at), "Tideline")
        self.assertEqual(self.move(self.foils, act="used", amount="1").status_code, 404)
