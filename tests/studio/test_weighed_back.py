"""What is left of a bowl is weighed back, and the next visit reckons with what the head took."""

from decimal import Decimal

from django.db import IntegrityError, transaction
from django.urls import reverse

from studio.cards.models import Leftover
from studio.cards.selectors import habit_of
from studio.head.models import Bowl
from studio.head.selectors import bench_of
from studio.head.services.change_line import change_line
from studio.pour.services.weigh import weigh
from studio.route.planned import needed_of, usual_need_of_bowl
from studio.shelf.models import ShadeLine
from studio.visits.gates import asked_of
from studio.visits.models import Visit
from studio.visits.selectors import open_zone
from tests.studio.made import TODAY, StudioCase, make_person, make_visit


class WeighedBack(StudioCase):
    def setUp(self) -> None:
        super().setUp()
        self.pour({"Orchil": 3, "Clear": 57})

    def pour(self, grams: dict[str, int]) -> None:
        zone = open_zone(self.person, self.visit.pk).zone
        for name, each in grams.items():
            self.send("pour", shade=self.shade(name).pk, grams=str(each))
        for name, each in grams.items():
            weigh(
                self.person,
                zone_id=zone.pk,
                version=self.bowl.version,
                shade_id=self.shade(name).pk,
                grams=Decimal(each),
                source="typed",
            )

    def back(self, left_g: object, bowl: Bowl | None = None):
        sent = {"bowl": (bowl or self.bowl).pk, "left_g": left_g, "weigh": "1"}
        at = reverse("result:leftover", args=[self.visit.pk])
        return self.client.post(at, sent, headers={"HX-Request": "true"})

    def need(self, visit: Visit) -> float:
        bench = bench_of(self.person, open_zone(self.person, visit.pk))
        return needed_of(self.person, bench, bench, asked_of(self.person, visit)).grams

    def later(self) -> Visit:
        return make_visit(self.person, client=self.visit.client, day=TODAY.replace(year=TODAY.year + 1))

    def test_the_next_visit_needs_what_the_head_took(self) -> None:
        usual = self.need(self.visit)
        self.back("12")
        left = Leftover.objects.get()
        self.assertEqual((left.left_g, left.poured_g, float(left.needed_g)), (12, 60, round(usual, 1)))
        self.assertFalse(left.goes_home)
        self.assertAlmostEqual(self.need(self.later()), 48, places=1)
        self.assertAlmostEqual(self.need(self.visit), usual)

    def test_what_was_learned_is_not_learned_twice(self) -> None:
        self.back("12")
        later = self.later()
        bench = bench_of(self.person, open_zone(self.person, later.pk))
        asked = asked_of(self.person, later)
        self.assertAlmostEqual(usual_need_of_bowl(bench, asked, bench.bowl.pk), self.need(self.visit))

    def test_the_plan_says_so_and_the_label_has_what_is_left(self) -> None:
        self.assertContains(self.back("12"), "48 g of 60 g were used")
        labels = self.client.get(reverse("result:care", args=[self.visit.pk])).context["page"].leftovers
        self.assertEqual(labels[0].pours, (("Orchil", "0.6 g"), ("Clear", "11.4 g")))
        later = self.later()
        self.assertContains(self.client.get(reverse("route:plan", args=[later.pk])), "when its bowls were last weighed")
        self.assertNotContains(self.client.get(reverse("route:plan", args=[self.visit.pk])), "last weighed back")

    def test_what_goes_home_stays_so_when_it_is_weighed_and_the_other_way_round(self) -> None:
        at = reverse("result:leftover", args=[self.visit.pk])
        self.client.post(at, {"bowl": self.bowl.pk, "goes": "1"})
        self.back("5")
        self.assertTrue(Leftover.objects.get().goes_home)
        self.client.post(at, {"bowl": self.bowl.pk, "stays": "1"})
        left = Leftover.objects.get()
        self.assertEqual((left.goes_home, left.left_g), (False, 5))

    def test_of_a_bowl_with_developer_its_part_is_counted(self) -> None:
        zone = open_zone(self.person, self.visit.pk).zone
        demi = ShadeLine.objects.visible_to(self.person).get(kind="demi")
        change_line(self.person, zone_id=zone.pk, version=self.bowl.version, line_id=demi.pk)
        shade = demi.shades.filter(bands__isnull=False).distinct().first()
        self.send("pour", shade=shade.pk, grams="20")
        line = {"zone_id": zone.pk, "version": self.bowl.version, "shade_id": shade.pk, "grams": Decimal(20)}
        weigh(self.person, **line, source="typed")
        self.back("10")
        left = Leftover.objects.get()
        poured = Decimal(80) * (1 + demi.developer_parts)  # what was poured of the other line into this bowl, too
        self.assertEqual(left.poured_g, poured)

    def test_bad_grams_are_refused_and_strangers_find_nothing(self) -> None:
        for left_g, said in (("61", "0 to 60"), ("-1", "0 to 60"), ("some", "needs a number"), ("", "needs a number")):
            with self.subTest(left_g=left_g):
                self.assertContains(self.back(left_g), said, status_code=422)
        other = make_visit(make_person("elsewhere", "The Other Room"))
        self.assertEqual(self.back("1", bowl=Bowl.objects.get(worktop__visit=other)).status_code, 404)
        self.assertFalse(Leftover.objects.exists())
        with self.assertRaises(IntegrityError), transaction.atomic():
            Leftover.objects.create(bowl=self.bowl, left_g=2, poured_g=1, noted_by=self.person)

    def test_before_anything_is_weighed_back_nothing_is_learned(self) -> None:
        self.assertIsNone(habit_of(self.person, self.later()))
