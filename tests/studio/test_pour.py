"""Pouring: what is poured is the truth, over-pours and their ways out, batches, the scale and its faults."""

from decimal import Decimal

from django.urls import reverse

from studio.head.models import Portion
from studio.pour.models import Batch, Weighing
from studio.shelf.models import Shade
from tests.studio.made import StudioCase, make_person, make_visit


class PourCase(StudioCase):
    grams = {"Orchil": "3", "Clear": "57"}

    def setUp(self) -> None:
        super().setUp()
        self.send("aim", lightness="66", chroma="25", hue="0")
        for name, grams in self.grams.items():
            self.send("pour", shade=self.shade(name).pk, grams=grams)

    def at(self, name: str) -> str:
        return reverse(f"pour:{name}", args=[self.visit.pk])

    def page(self):
        return self.client.get(self.at("pour")).context["page"]

    def do(self, name: str, **fields: object):
        fields.setdefault("version", self.bowl.version)
        return self.client.post(self.at(name), fields, headers={"HX-Request": "true"})

    def weigh(self, shade: str, grams: str, **fields: object):
        return self.do("weigh", line=self.shade(shade).pk, grams=grams, **fields)

    def line(self, name: str):
        return next(line for line in self.page().lines if line.name == name)


class Pouring(PourCase):
    def test_a_line_is_planned_until_it_is_poured(self) -> None:
        self.assertEqual([line.name for line in self.page().lines], ["Orchil", "Clear"])
        self.assertEqual(self.page().hand.name, "Orchil")
        self.weigh("Orchil", "3", lot="B7")
        line = self.line("Orchil")
        self.assertTrue(line.is_done)
        self.assertEqual(line.lots, ("B7",))
        self.assertEqual(self.page().hand.name, "Clear")

    def test_what_is_poured_is_the_truth_for_the_forecast(self) -> None:
        before = self.page().then.hex
        self.weigh("Orchil", "6")
        self.assertEqual(self.poured()["Orchil"], Decimal(6))
        self.assertNotEqual(self.page().then.hex, before)

    def test_less_than_planned_leaves_the_rest_to_pour_until_it_is_called_enough(self) -> None:
        self.weigh("Orchil", "2")
        self.assertEqual(self.line("Orchil").left_g, Decimal(1))
        self.do("line", line=self.shade("Orchil").pk, enough="1")
        self.assertTrue(self.line("Orchil").is_done)
        self.assertEqual(self.poured()["Orchil"], Decimal(2))

    def test_an_over_pour_has_two_ways_out_and_more_of_everything_keeps_the_recipe(self) -> None:
        self.weigh("Orchil", "4.5")
        over = self.page().over
        self.assertEqual(over.factor, "1.5000")
        self.assertNotEqual(over.kept.hex, over.left.hex)
        more = {"shade_id": [row[0] for row in over.more], "weight": [row[2] for row in over.more]}
        self.do("keep", factor=over.factor, **more)
        self.assertEqual(self.line("Clear").left_g, Decimal("85.5"))
        self.assertIsNone(self.page().over)

    def test_a_note_made_by_mistake_is_taken_back(self) -> None:
        self.weigh("Orchil", "30")
        self.do("line", line=self.shade("Orchil").pk, take_back="1")
        line = self.line("Orchil")
        self.assertEqual((line.poured_g, line.aimed_g), (Decimal(0), Decimal(3)))
        self.assertTrue(Weighing.objects.get().taken_back)

    def test_drops_and_squeezes_count_with_their_doubt(self) -> None:
        self.weigh("Orchil", "2 squeezes")
        pour = Portion.objects.get(shade__name="Orchil")
        self.assertGreater(pour.mixed_g, 0)
        self.assertGreater(pour.doubt_g, 0)
        self.assertContains(self.weigh("Orchil", "3 pinches"), "squeezes", status_code=422)

    def test_no_undo_takes_out_what_was_weighed_in(self) -> None:
        self.weigh("Orchil", "4.5")
        for _ in range(3):
            self.send("walk", way="undo")
        pour = Portion.objects.get(shade__name="Orchil")
        self.assertEqual((pour.grams, pour.mixed_g, pour.weighed_g), (Decimal("4.5"),) * 3)
        self.assertEqual(self.line("Orchil").poured_g, Decimal("4.5"))

    def test_what_was_weighed_in_stays_mixed_and_is_kept_in_part_with_the_bowl(self) -> None:
        self.weigh("Orchil", "3")
        self.send("mix", mixed="0")
        self.assertEqual(Portion.objects.get(shade__name="Orchil").mixed_g, Decimal(3))
        self.send("add", shade_id=self.shade("Clear").pk, weight="10", keep="0.5")
        pour = Portion.objects.get(shade__name="Orchil")
        self.assertEqual((pour.grams, pour.weighed_g), (Decimal("1.5"), Decimal("1.5")))

    def test_a_recipe_that_is_taken_anew_is_a_fresh_bowl(self) -> None:
        self.weigh("Orchil", "3")
        self.send("take", shade_id=self.shade("Woad").pk, weight="5")
        self.assertEqual(self.poured(), {"Woad": Decimal(5)})

    def test_an_undo_that_would_put_it_into_another_line_is_refused(self) -> None:
        toner = Shade.objects.get(name="Selenite", line__studio=self.person.studio)
        self.send("line", line=toner.line_id)
        self.send("line", line=self.shade("Orchil").line_id)
        self.send("pour", shade=self.shade("Orchil").pk, grams="3")
        self.weigh("Orchil", "3")
        answers = [self.send("walk", way="undo") for _ in range(3)]
        self.assertContains(answers[-1], "another line", status_code=422)
        self.assertEqual(self.poured()["Orchil"], Decimal(3))

    def test_a_double_tap_pours_once(self) -> None:
        version = self.bowl.version
        for _ in range(2):
            self.weigh("Orchil", "1", version=version, token="same-tap")
        self.assertEqual(Weighing.objects.count(), 1)

    def test_two_tablets_pouring_one_bowl_do_not_pour_twice(self) -> None:
        seen_by_both = self.bowl.version
        self.weigh("Orchil", "3", version=seen_by_both, token="one")
        answer = self.weigh("Orchil", "3", version=seen_by_both, token="other")
        self.assertContains(answer, "changed in another window", status_code=409)
        self.assertEqual(self.poured()["Orchil"], Decimal(3))

    def test_bad_grams_and_strange_lines_are_refused_and_nothing_is_lost(self) -> None:
        for grams, said in (
            ("", "needs a number"),
            ("0", "Nothing was poured"),
            ("-1", "be negative"),
            ("2000", "at most 1000"),
        ):
            self.assertContains(self.weigh("Orchil", grams), said, status_code=422)
        self.assertContains(self.weigh("Weld", "1"), "not in this recipe", status_code=422)
        self.assertFalse(Weighing.objects.exists())
        self.assertContains(self.weigh("Orchil", "two"), 'value="two"', status_code=422)

    def test_mixing_starts_the_bowls_life_and_takes_from_the_shelf(self) -> None:
        stock = self.shade("Orchil").stock_g
        self.assertContains(self.do("mix"), "The bowl is empty", status_code=422)
        self.weigh("Orchil", "3")
        self.assertContains(self.do("mix"), "Nothing of Clear is in yet", status_code=422)
        self.weigh("Clear", "57")
        self.do("mix")
        self.assertIsNotNone(Batch.objects.get().mixed_at)
        self.assertEqual(self.shade("Orchil").stock_g, stock - 3)
        self.assertContains(self.weigh("Orchil", "1"), "This batch is mixed", status_code=422)

    def test_the_next_batch_is_the_same_again_and_the_last_stays_on_record(self) -> None:
        self.assertContains(self.do("mix", next="1"), "not mixed yet", status_code=422)
        self.weigh("Orchil", "3")
        self.weigh("Clear", "57")
        self.do("mix")
        self.do("mix", next="1")
        self.assertEqual(self.page().number, 2)
        self.assertEqual([line.left_g for line in self.page().lines], [Decimal(3), Decimal(57)])
        self.assertEqual(Weighing.objects.filter(batch__number=1).count(), 2)

    def test_another_studios_bowl_is_not_found(self) -> None:
        other = make_visit(make_person("Ballast Quay", "ballast"))
        self.assertEqual(self.client.get(reverse("pour:pour", args=[other.pk])).status_code, 404)
        self.assertEqual(self.client.post(reverse("pour:mix", args=[other.pk]), {"version": 0}).status_code, 404)


class ByTheScale(PourCase):
    def test_what_it_weighed_is_noted_as_weighed_and_to_its_tenth(self) -> None:
        self.do("weigh", line=self.shade("Orchil").pk, by_scale="1", weighed="3.1")
        weighing = Weighing.objects.get()
        self.assertEqual((weighing.source, weighing.poured_g), ("scale", Decimal("3.1")))

    def test_a_double_tap_takes_once_and_says_nothing_and_the_tubes_number_goes_along(self) -> None:
        sent = {"line": self.shade("Orchil").pk, "by_scale": "1", "token": "tap", "lot": "B7", "weighed": "3.0"}
        version = self.bowl.version
        for _ in range(2):
            self.assertEqual(self.do("weigh", version=version, **sent).status_code, 200)
        self.assertEqual(Weighing.objects.get().lot, "B7")

    def test_what_is_no_weight_is_refused_and_typing_goes_on(self) -> None:
        wrong = {"": "number", "heavy": "number", "-0.4": "Nothing", "0.0": "Nothing", "99999": "most"}
        for weighed, words in wrong.items():
            answer = self.do("weigh", line=self.shade("Orchil").pk, by_scale="1", weighed=weighed)
            self.assertContains(answer, words, status_code=422)
        self.assertFalse(Weighing.objects.exists())
        self.weigh("Orchil", "3")
        self.assertTrue(self.line("Orchil").is_done)


class WithDeveloper(PourCase):
    grams: dict[str, str] = {}

    def setUp(self) -> None:
        super().setUp()
        toner = Shade.objects.get(name="Selenite", line__studio=self.person.studio)
        self.send("line", line=toner.line_id)
        self.send("pour", shade=toner.pk, grams="15")

    def test_developer_is_a_line_of_its_own_and_the_gates_stand_before_it(self) -> None:
        developer = self.page().lines[-1]
        self.assertEqual((developer.name, developer.left_g), ("Developer", Decimal(30)))
        answer = self.weigh("Selenite", "15")
        self.assertContains(answer, "safety gate is shut", status_code=422)
        self.assertEqual(Portion.objects.get().mixed_g, 0)
