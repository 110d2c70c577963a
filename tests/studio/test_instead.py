"""A tube that runs out: what makes the bowl instead, on this hair."""

from decimal import Decimal

from django.urls import reverse

from engine.bowl.mix import Bowl
from engine.bowl.predict import predict
from engine.bowl.substitute import substitutes
from engine.bowl.weigh import Scale
from engine.colorimetry.difference import delta_e00
from engine.dye.shelf import demo_shelf
from engine.hair.canvas import Canvas
from studio.head.engine_adapter import forecast_of
from studio.head.selectors import bench_of
from studio.shelf.models import Shade
from studio.shelf.services.holding import line_changed
from studio.visits.selectors import open_zone
from tests.studio.made import StudioCase


class Instead(StudioCase):
    def setUp(self) -> None:
        super().setUp()
        for name, grams in (("Alkanet", "6"), ("Clear", "54")):
            self.send("pour", shade=self.shade(name).pk, grams=grams)

    def left(self, name: str, grams: str) -> None:
        shade = self.shade(name)
        Shade.objects.filter(pk=shade.pk).update(stock_g=Decimal(grams))
        line_changed(shade.line_id)

    def panel(self):
        return self.client.get(self.on_bench("bench"), {"instead": "1"})

    def test_nothing_is_said_while_the_shelf_holds_it(self) -> None:
        self.assertEqual(self.client.get(self.on_bench("bench")).context["page"].shorts, ())
        self.assertContains(self.panel(), "holds all that goes into this bowl", status_code=422)

    def test_a_tube_that_is_out_is_made_from_others_and_taken(self) -> None:
        before = forecast_of(bench_of(self.person, open_zone(self.person, self.visit.pk))).forecast.lab
        self.left("Alkanet", "0")
        page = self.client.get(self.on_bench("bench")).context["page"]
        self.assertEqual(page.shorts, ("Alkanet is out",))
        instead = self.panel().context["page"].panel.instead
        best = instead.stands[0]
        self.assertLess(best.off, 3)
        self.assertNotIn("Alkanet", [name for _, name, _ in best.pours])
        self.assertLess(float(delta_e00(before, instead.wanted.lab)), 0.01)
        self.assertContains(self.panel(), "off on this hair")
        ids, weights = [pk for pk, _, _ in best.pours], [str(grams) for _, _, grams in best.pours]
        self.send("take", of_line=self.bowl.line_id, shade_id=ids, weight=weights)
        after = forecast_of(bench_of(self.person, open_zone(self.person, self.visit.pk))).forecast.lab
        self.assertAlmostEqual(float(delta_e00(before, after)), best.off, delta=0.1)

    def test_of_a_tube_that_is_short_what_is_left_is_used(self) -> None:
        self.left("Alkanet", "2.5")
        page = self.client.get(self.on_bench("bench")).context["page"]
        self.assertEqual(page.shorts, ("Alkanet: 6 g go in, 2.5 g are left",))
        for stand in self.panel().context["page"].panel.instead.stands:
            self.assertLessEqual(sum(grams for _, name, grams in stand.pours if name == "Alkanet"), Decimal("2.5"))

    def test_a_bowl_that_is_begun_is_finished_and_adjusted(self) -> None:
        self.send("mix", way="mixed")
        self.left("Alkanet", "0")
        self.send("pour", shade=self.shade("Alkanet").pk, grams="8")
        self.assertContains(self.panel(), "Adjust it", status_code=422)

    def test_a_shelf_with_nothing_left_says_so(self) -> None:
        for shade in self.bowl.line.shades.all():
            self.left(shade.name, "0")
        self.assertContains(self.panel(), "too little is left", status_code=422)

    def test_the_plan_says_it_too_before_there_is_an_aim(self) -> None:
        self.left("Alkanet", "0")
        answer = self.client.get(reverse("route:plan", args=[self.visit.pk]))
        self.assertContains(answer, "the shelf holds 0.0 g")
        self.assertContains(answer, "off what it was to be")

    def test_the_engine_stands_in_as_near_as_the_search_comes(self) -> None:
        shelf = demo_shelf()
        bowl = Bowl(grams={shelf["violet"]: 6, shelf["clear"]: 54})
        others = [shade for shade in shelf.values() if shade.name != "violet"]
        found = substitutes(Canvas(level=10), bowl, others, scale=Scale(total_g=60))
        self.assertLess(float(delta_e00(predict(Canvas(level=10), bowl).lab, found.wanted_lab)), 1e-9)
        self.assertLess(found.recipes[0].delta_e00, 3)
        whole = substitutes(Canvas(level=10), bowl, list(shelf.values()), scale=Scale(total_g=60))
        self.assertLessEqual(whole.recipes[0].delta_e00, found.recipes[0].delta_e00)
