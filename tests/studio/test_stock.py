"""Every change of a stock leaves a move: deliveries, counts, what is spilt, and what is mixed."""

import csv
import datetime
import io
from decimal import Decimal

from django.db.models import F
from django.urls import reverse
from django.utils import timezone

from studio.pour.services.mix import mix_batch
from studio.pour.services.weigh import weigh
from studio.shelf.models import Shade, ShadeLine, StockMove
from studio.shelf.selectors import numbers_of
from studio.shelf.services.stock import deliver
from tests.studio.made import StudioCase, make_person


class StockCase(StudioCase):
    def shade(self, name: str = "Orchil") -> Shade:
        return super().shade(name)

    def post(self, name: str, shade: Shade | None = None, **fields: object):
        return self.client.post(reverse(name, args=[(shade or self.shade()).pk]), fields)

    def last(self) -> StockMove:
        return StockMove.objects.order_by("-pk")[0]


class Stock(StockCase):
    def test_a_delivery_is_booked_in_with_its_number_and_sets_the_price(self) -> None:
        before = self.shade()
        answer = self.post("shelf:delivery", tubes="2", lot="L7", expires_on="2099-05-01", paid="7.10")
        self.assertEqual(answer.status_code, 302)
        shade, move = self.shade(), self.last()
        self.assertEqual(shade.stock_g, before.stock_g + 120)
        self.assertEqual((shade.tube_price, move.lot, move.grams), (Decimal("7.10"), "L7", Decimal(120)))
        self.assertEqual(move.made_by, self.person)
        self.assertContains(self.client.get(reverse("shelf:tube", args=[shade.pk])), "good until 1 May 2099")
        self.post("shelf:delivery", tubes="1")
        self.assertEqual(self.shade().tube_price, Decimal("7.10"))  # what is not said stays

    def test_a_delivery_that_was_sent_twice_is_booked_once(self) -> None:
        before = self.shade().stock_g
        for _ in range(2):
            self.post("shelf:delivery", tubes="1", token="t1")
        self.assertEqual(self.shade().stock_g, before + 60)

    def test_a_count_says_how_far_the_record_was_off(self) -> None:
        self.post("shelf:count", full_tubes="3", open_g="28", with_tube="on")
        self.assertEqual((self.shade().stock_g, self.last().grams), (Decimal(200), Decimal(-120)))
        self.post("shelf:count", full_tubes="", open_g="")
        self.assertEqual(self.shade().stock_g, 0)
        self.post("shelf:count", open_g="41.5")
        self.assertEqual(self.shade().stock_g, Decimal("41.5"))

    def test_what_is_wrong_is_told_and_changes_nothing(self) -> None:
        before = self.shade().stock_g
        for name, fields, said in (
            ("shelf:delivery", {"tubes": "1", "expires_on": "2020-01-01"}, "has passed"),
            ("shelf:delivery", {"tubes": "-1"}, "greater than or equal to 0.1"),
            ("shelf:delivery", {"tubes": "500"}, "less than or equal to 200"),
            ("shelf:delivery", {"tubes": "1", "paid": "-2"}, "greater than or equal to 0"),
            ("shelf:delivery", {"tubes": "1", "expires_on": "soon"}, "valid date"),
            ("shelf:count", {"open_g": "5", "with_tube": "on"}, "was the tube on the scale"),
            ("shelf:count", {"full_tubes": "-1"}, "greater than or equal to 0"),
            ("shelf:spilt", {"spilt_g": "9000"}, "Count the tube first"),
            ("shelf:spilt", {"spilt_g": ""}, "required"),
        ):
            with self.subTest(name=name, fields=fields):
                answer = self.post(name, **fields)
                self.assertContains(answer, said, status_code=422)
                for typed in filter(None, (value for value in fields.values() if value != "on")):
                    self.assertContains(answer, f'value="{typed}"', status_code=422)
        self.assertEqual(self.shade().stock_g, before)
        self.assertFalse(StockMove.objects.exists())

    def test_what_is_mixed_leaves_by_itself_with_the_number_on_its_tube(self) -> None:
        before = self.shade().stock_g
        self.send("pour", shade=self.shade().pk, grams="30")
        hand = {"zone_id": self.visit.zones.get().pk, "shade_id": self.shade().pk}
        weigh(self.person, version=self.bowl.version, grams=Decimal("32.5"), lot="L9", **hand)  # poured over
        mix_batch(self.person, zone_id=hand["zone_id"], version=self.bowl.version, at=timezone.now())
        move = self.last()
        self.assertEqual((move.kind, move.grams, move.lot), ("mixed", Decimal("-32.5"), "L9"))
        self.assertEqual((self.shade().stock_g, move.left_g), (before - Decimal("32.5"),) * 2)

    def test_a_record_that_held_less_than_was_mixed_goes_to_nothing_and_says_so(self) -> None:
        Shade.objects.filter(pk=self.shade().pk).update(stock_g=5)
        self.send("pour", shade=self.shade().pk, grams="30")
        hand = {"zone_id": self.visit.zones.get().pk, "shade_id": self.shade().pk}
        weigh(self.person, version=self.bowl.version, grams=Decimal(30), **hand)
        mix_batch(self.person, zone_id=hand["zone_id"], version=self.bowl.version, at=timezone.now())
        self.assertEqual((self.last().grams, self.last().left_g), (Decimal(-30), Decimal(0)))

    def test_what_runs_out_is_listed_with_how_much_to_order(self) -> None:
        self.post("shelf:spilt", spilt_g=str(self.shade().stock_g - 20))
        page = self.client.get(reverse("shelf:order"))
        self.assertContains(page, "Orchil")
        rows = list(csv.DictReader(io.StringIO(self.client.get(reverse("shelf:order-csv")).content.decode())))
        orchil = next(row for row in rows if row["name"] == "Orchil")
        self.assertEqual((orchil["left_g"], orchil["tubes"], orchil["cost"]), ("20.0", "2", "13.80"))  # 4 x 30 g - 20 g
        self.assertNotIn("Cochineal", [row["name"] for row in rows])
        Shade.objects.filter(pk=self.shade().pk).update(name="=1+1")
        ShadeLine.objects.filter(pk=self.shade("=1+1").line_id).update(version=99)
        self.assertIn("'=1+1", self.client.get(reverse("shelf:order-csv")).content.decode())

    def test_another_studios_stock_is_not_there(self) -> None:
        mine = self.shade()
        self.client.force_login(make_person("Salt Row", "salt"))
        for name in ("shelf:delivery", "shelf:count", "shelf:spilt", "count:counting"):
            fields = {"tubes": "1", "full_tubes": "1", "spilt_g": "1"}
            self.assertEqual(self.post(name, mine, **fields).status_code, 404, name)
        self.assertEqual(self.client.get(reverse("count:counting", args=[mine.pk])).status_code, 404)


class OnTheScale(StockCase):
    def test_the_open_tube_is_weighed_and_the_next_one_comes(self) -> None:
        answer = self.post("count:counting", full_tubes="2", by_scale="1", weighed="31.4")
        self.assertRedirects(answer, reverse("count:counting", args=[self.shade("Alkanet").pk]))
        self.assertEqual(self.shade().stock_g, Decimal("143.4"))
        self.post("count:counting", self.shade("Alkanet"), full_tubes="1")
        self.assertEqual(self.shade("Alkanet").stock_g, 60)

    def test_what_is_no_weight_is_told_and_what_was_typed_stays(self) -> None:
        before = self.shade().stock_g
        for weighed, words in (("", "number"), ("5.0", "empty tube"), ("-5.0", "less than nothing")):
            answer = self.post("count:counting", full_tubes="3", by_scale="1", weighed=weighed)
            self.assertContains(answer, 'value="3"', status_code=422)
            self.assertContains(answer, words, status_code=422)
        self.assertContains(self.post("count:counting", full_tubes="many"), "number", status_code=422)
        self.assertEqual(self.shade().stock_g, before)


class AtTheBowl(StockCase):
    """What is known of the tubes' numbers stands where the number is noted."""

    def setUp(self) -> None:
        super().setUp()
        self.send("pour", shade=self.shade("Orchil").pk, grams="3")
        today = timezone.localdate()
        for lot, day in (("L1", None), ("L2", today), ("L3", today)):
            deliver(self.person, shade_id=self.shade().pk, tubes=Decimal(1), today=today, lot=lot, expires_on=day)

    def page(self):
        return self.client.get(reverse("pour:pour", args=[self.visit.pk])).context["page"]

    def test_numbers_are_offered_and_what_is_past_its_date_is_told(self) -> None:
        today = timezone.localdate()
        StockMove.objects.filter(lot="L2").update(expires_on=today)
        StockMove.objects.filter(lot="L3").update(expires_on=today - datetime.timedelta(days=1))
        page = self.page()
        self.assertEqual((page.numbers, [lot for lot, _ in page.past]), (("L2", "L1"), ["L3"]))
        answer = self.client.get(reverse("pour:pour", args=[self.visit.pk]))
        self.assertContains(answer, "Past its date")
        self.assertContains(answer, '<option value="L2">')

    def test_a_number_that_came_again_is_good_for_the_later_date(self) -> None:
        today = timezone.localdate()
        StockMove.objects.filter(lot__in=("L2", "L3")).update(lot="L9")
        first, last = StockMove.objects.filter(lot="L9").order_by("pk")
        for move, days in ((first, 30), (last, -3)):
            StockMove.objects.filter(pk=move.pk).update(expires_on=today + datetime.timedelta(days=days))
        self.assertEqual((self.page().numbers, self.page().past), (("L9", "L1"), ()))

    def test_what_was_used_up_is_told_no_more(self) -> None:
        """First in, first out: of three tubes that came one is left, and it is the last."""
        today = timezone.localdate()
        StockMove.objects.filter(lot__in=("L1", "L2")).update(expires_on=today - datetime.timedelta(days=9))
        Shade.objects.filter(pk=self.shade().pk).update(stock_g=50)
        ShadeLine.objects.filter(pk=self.bowl.line_id).update(version=F("version") + 1)
        self.assertEqual((self.page().numbers, self.page().past), (("L3",), ()))

    def test_another_studios_numbers_are_not_there(self) -> None:
        other = make_person("Ballast Quay", "ballast")
        self.assertEqual(numbers_of(other, self.shade("Orchil")), [])
