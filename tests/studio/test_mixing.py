"""Bowls that are mixed already, amounts as typed, retries, recipes' limits, and how the bench is looked at."""

from decimal import Decimal

from django.db.models import F, ProtectedError

from studio.head.models import BenchStep, Portion
from studio.head.services.open_bowl import open_bowl
from studio.shelf.models import Shade, ShadeLine
from studio.visits.services.read_hair import read_hair
from tests.studio.made import LEVEL_TEN, StudioCase


class MixingCase(StudioCase):
    def setUp(self) -> None:
        super().setUp()
        self.send("aim", lightness="62", chroma="24", hue="0")
        self.send("pour", shade=self.shade("Orchil").pk, grams="6")
        self.send("pour", shade=self.shade("Clear").pk, grams="54")

    def panel(self, name: str, **more: object):
        return self.client.get(self.on_bench("bench"), {name: 1, **more}).context["page"].panel


class Carriers(MixingCase):
    """A bowl thins with clear, or with what it was begun with. Common practice, no published source."""

    def setUp(self) -> None:
        super().setUp()
        self.clear = self.page()
        self.send("pour", shade=self.shade("Clear").pk, grams="0")
        self.send("pour", shade=self.shade("Soapwort conditioner").pk, grams="54")

    def page(self):
        return self.client.get(self.on_bench("bench")).context["page"]

    def test_gram_for_gram_a_conditioner_thins_more_than_clear(self) -> None:
        thick, thin = self.clear.then, self.page().then
        self.assertLess(thin.chroma, thick.chroma - 1)
        self.assertGreater(thin.lightness, thick.lightness)

    def test_recipes_additions_and_the_wheel_stay_with_the_carrier_in_the_bowl(self) -> None:
        self.assertContains(self.client.get(self.on_bench("bench")), "1 : 9 Soapwort conditioner")
        names = {button.shade.name for button in self.page().middle.wheel.buttons}
        self.assertIn("Soapwort conditioner", names)
        self.assertFalse(names & {"Clear", "Marl mask base"})
        for answer in self.panel("answers").answers.recipes:
            thinned = {name for _, name, _ in answer.pours} & {"Clear", "Marl mask base", "Soapwort conditioner"}
            self.assertEqual(thinned, {"Soapwort conditioner"})


class Looks(MixingCase):
    def test_the_pastel_ladder_is_weighed_forecast_and_taken(self) -> None:
        rungs = self.panel("pastels").pastels
        self.assertEqual([rung.parts for rung in rungs], [1, 2, 4, 8, 16, 32])
        chromas = [rung.lock.chroma for rung in rungs]
        self.assertEqual(chromas, sorted(chromas, reverse=True))
        self.assertEqual(sum(rung.nearest for rung in rungs), 1)
        fine = rungs[3]
        self.assertEqual({name: float(grams) for _, name, grams in fine.pours}, {"Orchil": 6.7, "Clear": 53.3})
        taken = self.send(
            "take", shade_id=[pk for pk, _, _ in fine.pours], weight=[str(grams) for _, _, grams in fine.pours]
        )
        self.assertEqual(taken.status_code, 200)
        then = self.client.get(self.on_bench("bench")).context["page"].then
        self.assertAlmostEqual(then.chroma, fine.lock.chroma, delta=0.01)
        self.assertEqual(self.poured()["Orchil"], Decimal("6.70"))

    def test_what_no_scale_weighs_is_not_offered(self) -> None:
        self.send("wanted", total_grams="8")
        self.assertContains(self.client.get(self.on_bench("bench"), {"pastels": 1}), "Too fine for the scale")
        self.assertTrue(self.panel("pastels").pastels[-1].too_fine)
        self.assertFalse(self.panel("pastels").pastels[0].too_fine)

    def test_what_is_seen_while_it_works_has_words_for_the_chair(self) -> None:
        page = self.client.get(self.on_bench("bench"), {"meanwhile": 1})
        self.assertContains(page, "After 5 minutes")
        self.assertContains(page, "Rinsed, still wet")
        looks = page.context["page"].panel.looks
        self.assertLess(looks[1].lock.lightness, looks[-1].lock.lightness)
        self.assertContains(page, "Rinsed and dry it will be")

    def test_the_head_is_seen_before_and_after_with_strands_as_strands(self) -> None:
        """Two of one panel in turns: their strands are drawn among those that are not taken out."""
        panels = [
            self.visit.zones.create(name=name, part="panel", position=place, pattern=pattern)
            for place, (name, pattern) in enumerate((("first", "alternate_a"), ("second", "weave")), start=1)
        ]
        for panel in panels:
            read_hair(self.person, zone_id=panel.pk, after=0, hair=LEVEL_TEN)
            open_bowl(self.person, zone_id=panel.pk)
        (_, before), (_, after) = self.panel("heads").heads
        drawn = [{strokes.hex for strokes in view.strokes} for view in after]
        plain = [{strokes.hex for strokes in view.strokes} for view in before]
        self.assertEqual(
            [bool(colours - uncoloured) for colours, uncoloured in zip(drawn, plain, strict=True)], [True] * 4
        )
        back, sides = len(after[-1].strokes), len(after[1].strokes)
        self.assertGreater(back, sides, "the panel's strands are seen from behind alone")
        page = self.client.get(self.on_bench("bench"), {"heads": 1, "zone": panels[0].pk})
        self.assertContains(page, 'class="head-strands"', count=8)
        lock = page.context["page"].then
        self.assertEqual((lock.share, lock.beside is None), (0.5, False))
        self.assertContains(page, "50% of the strands among")

    def test_an_empty_bowl_has_no_looks(self) -> None:
        for name in ("Orchil", "Clear"):
            self.send("pour", shade=self.shade(name).pk, grams="0")
        for panel in ("pastels", "meanwhile"):
            with self.subTest(panel=panel):
                self.assertContains(
                    self.client.get(self.on_bench("bench"), {panel: 1}), "bowl is empty", status_code=422
                )


class Mixed(MixingCase):
    def test_what_is_mixed_can_not_come_out_but_more_can_go_in(self) -> None:
        self.assertContains(self.send("mix", way="mixed"), 'aria-pressed="true"')
        orchil = self.shade("Orchil").pk
        for fields in ({"grams": "5"}, {"by": "-1"}, {"grams": "0"}):
            answer = self.send("pour", shade=orchil, **fields)
            self.assertContains(answer, "mixed in already", status_code=422)
        self.send("pour", shade=orchil, by="0.5")
        self.assertEqual(self.poured()["Orchil"], Decimal("6.50"))
        self.send("mix", way="open")
        self.send("pour", shade=orchil, grams="1")
        self.assertEqual(self.poured()["Orchil"], Decimal("1.00"))

    def test_an_adjustment_plans_additions_only_and_adding_them_does_what_it_said(self) -> None:
        self.send("mix", way="mixed")
        mending = self.panel("adjust").mending
        self.assertTrue(mending.additions)
        self.assertEqual(mending.plan.keep_fraction, 1)
        answer = self.send(
            "add",
            keep=mending.keep,
            shade_id=[pk for pk, _, _ in mending.additions],
            weight=[str(grams) for _, _, grams in mending.additions],
        )
        self.assertEqual(answer.status_code, 200)
        off = self.client.get(self.on_bench("bench")).context["page"].delta_e00
        self.assertAlmostEqual(float(off), mending.plan.delta_e00, delta=0.1)
        for name, grams in {"Orchil": 6, "Clear": 54}.items():
            self.assertGreaterEqual(self.poured()[name], grams)

    def test_a_part_may_be_kept_and_stays_mixed(self) -> None:
        self.send("mix", way="mixed")
        self.send("add", keep="0.5", shade_id=[self.shade("Clear").pk], weight=["10"])
        self.assertEqual(self.poured(), {"Orchil": Decimal("3.00"), "Clear": Decimal("37.00")})
        self.assertEqual(Portion.objects.get(shade__name="Orchil").mixed_g, Decimal(3))
        self.send("walk", way="undo")
        self.assertEqual(Portion.objects.get(shade__name="Orchil").mixed_g, Decimal(6))

    def test_a_bowl_too_strong_for_its_pot_is_told_to_keep_a_part_or_start_afresh(self) -> None:
        self.send("aim", lightness="78", chroma="6", hue="0")
        mending = self.panel("adjust").mending
        self.assertNotEqual(mending.fresh_waste, "")
        self.assertIn(mending.plan.way.value, ("keep_part", "cannot"))

    def test_scaling_keeps_the_proportions(self) -> None:
        self.send("wanted", total_grams="30")
        self.send("mix", way="scale")
        self.assertEqual(self.poured(), {"Orchil": Decimal("3.00"), "Clear": Decimal("27.00")})

    def test_bad_additions_are_refused(self) -> None:
        weld = self.shade("Weld").pk
        for keep, weights, words in (
            ("1", [], "bowl is empty"),
            ("1", ["0"], "bowl is empty"),
            ("0", ["1"], "Part kept: 0 to 1"),
            ("2", ["1"], "Part kept: 0 to 1"),
            ("x", ["1"], "Part kept needs a number"),
            ("1", ["-1"], "be negative"),
        ):
            with self.subTest(keep=keep, weights=weights):
                answer = self.send("add", keep=keep, shade_id=[weld] * len(weights), weight=weights)
                self.assertContains(answer, words, status_code=422)
        stranger = self.shade("Selenite").pk
        self.assertEqual(self.send("add", shade_id=[stranger], weight=["1"]).status_code, 422)
        self.assertEqual(self.poured(), {"Orchil": Decimal("6.00"), "Clear": Decimal("54.00")})

    def test_an_empty_bowl_is_not_mixed_scaled_or_adjusted(self) -> None:
        self.send("line", line=ShadeLine.objects.visible_to(self.person).get(kind="demi").pk)
        for way in ("mixed", "scale"):
            self.assertContains(self.send("mix", way=way), "bowl is empty", status_code=422)
        answer = self.client.get(self.on_bench("bench"), {"adjust": 1})
        self.assertContains(answer, "bowl is empty", status_code=422)

    def test_without_an_aim_steering_still_tells_the_way_to_one(self) -> None:
        self.send("walk", way="undo")
        self.send("walk", way="undo")
        self.send("walk", way="undo")
        self.send("pour", shade=self.shade("Weld").pk, grams="2")
        for panel in ("answers", "adjust", "warmth"):
            answer = self.client.get(self.on_bench("bench"), {panel: 1})
            self.assertContains(answer, "There is no aim yet", status_code=422)


class Amounts(MixingCase):
    def test_drops_and_squeezes_have_a_weight_and_an_error_that_the_forecast_carries(self) -> None:
        weighed = self.client.get(self.on_bench("bench")).context["page"].wander
        self.send("pour", shade=self.shade("Woad").pk, grams="3 drops")
        self.assertEqual(self.poured()["Woad"], Decimal("0.15"))
        self.send("pour", shade=self.shade("Orchil").pk, grams="4 squeezes")
        self.assertEqual(self.poured()["Orchil"], Decimal("6.00"))
        self.assertGreater(Portion.objects.get(shade__name="Orchil").doubt_g, Decimal(1))
        squeezed = self.client.get(self.on_bench("bench")).context["page"].wander
        self.assertGreater(float(squeezed), float(weighed))

    def test_a_unit_that_nobody_knows_is_refused_with_those_that_are(self) -> None:
        answer = self.send("pour", shade=self.shade("Woad").pk, grams="3 buckets")
        self.assertContains(answer, "squeezes, drops or tubes", status_code=422)
        self.assertContains(answer, "3 buckets", status_code=422)

    def test_the_bowl_is_told_in_ounces_millilitres_and_tubes_with_the_errors_of_what_was_not_weighed(self) -> None:
        self.send("pour", shade=self.shade("Orchil").pk, grams="4 squeezes")
        page = self.client.get(self.on_bench("bench"))
        self.assertContains(page, "2.12 oz · 60.0 ml · 1.00 tube")
        self.assertContains(page, "±1.2")

    def test_a_bowl_larger_than_the_largest_pot_is_refused(self) -> None:
        self.send("pour", shade=self.shade("Clear").pk, grams="1000")
        answer = self.send("pour", shade=self.shade("Weld").pk, grams="600")
        self.assertContains(answer, "The largest pot takes 1500 g", status_code=422)
        more = self.send("add", shade_id=[self.shade("Weld").pk], weight=["600"])
        self.assertContains(more, "The largest pot", status_code=422)
        self.assertNotIn("Weld", self.poured())


class UsedShades(MixingCase):
    def test_a_shade_in_a_bowl_can_not_leave_the_shelf_and_one_that_left_is_not_brought_back_by_undo(self) -> None:
        weld = self.shade("Weld")
        self.send("pour", shade=weld.pk, grams="2")
        with self.assertRaises(ProtectedError):
            Shade.objects.get(pk=weld.pk).delete()
        self.send("pour", shade=weld.pk, grams="0")
        Shade.objects.get(pk=weld.pk).delete()
        ShadeLine.objects.filter(studio=self.person.studio).update(version=9)
        answer = self.send("walk", way="undo")
        self.assertEqual(answer.status_code, 200)
        self.assertEqual(set(self.poured()), {"Orchil", "Clear"})


class Retries(MixingCase):
    def test_a_pour_whose_answer_was_lost_is_made_once(self) -> None:
        weld, version = self.shade("Weld").pk, self.bowl.version
        for _ in range(2):
            answer = self.send("pour", shade=weld, by="1", version=version, token="a1b2")
            self.assertEqual(answer.status_code, 200)
            self.assertNotContains(answer, "another window")
        self.assertEqual(self.poured()["Weld"], Decimal("1.00"))

    def test_another_pour_on_the_same_old_view_is_still_told(self) -> None:
        weld, version = self.shade("Weld").pk, self.bowl.version
        self.send("pour", shade=weld, by="1", version=version, token="a1b2")
        answer = self.send("pour", shade=weld, by="1", version=version, token="c3d4")
        self.assertContains(answer, "another window", status_code=409)

    def test_a_tap_on_the_wheel_pours_its_shade(self) -> None:
        self.send("pour", tap=f"{self.shade('Smalt').pk}:1", shade=self.shade("Weld").pk)
        self.send("pour", tap=f"{self.shade('Clear').pk}:10")
        self.assertEqual((self.poured()["Smalt"], self.poured()["Clear"]), (Decimal(1), Decimal(64)))
        for tap in ("x:1", f"{self.shade('Smalt').pk}:lots"):
            self.assertEqual(self.send("pour", tap=tap).status_code, 422)


class RecipeLimits(MixingCase):
    def test_recipes_keep_to_shades_steps_and_stock(self) -> None:
        for most in (1, 2):
            for recipe in self.panel("answers", max_shades=most).answers.recipes:
                colours = [name for _, name, _ in recipe.pours if name != "Clear"]
                self.assertTrue(1 <= len(colours) <= most, colours)
        for recipe in self.panel("answers", step="1").answers.recipes:
            self.assertTrue(all(grams == int(grams) for _, _, grams in recipe.pours))
        Shade.objects.filter(line__studio=self.person.studio, name="Orchil").update(stock_g=1)
        ShadeLine.objects.filter(studio=self.person.studio).update(version=7)
        for recipe in self.panel("answers").answers.recipes:
            self.assertLessEqual({name: g for _, name, g in recipe.pours}.get("Orchil", 0), 1)
        best = self.panel("answers", stock="any").answers.recipes[0]
        self.assertGreater({name: g for _, name, g in best.pours}["Orchil"], 1)

    def test_recipes_of_any_line_name_theirs_and_taking_one_changes_the_line(self) -> None:
        self.send("aim", lightness="74", chroma="10", hue="60")
        found = self.panel("answers", lines="any").answers.recipes
        self.assertEqual(len({recipe.line.pk for recipe in found}), 3)
        other = next(recipe for recipe in found if recipe.line.kind == "demi")
        self.send(
            "take",
            of_line=other.line.pk,
            shade_id=[pk for pk, _, _ in other.pours],
            weight=[str(grams) for _, _, grams in other.pours],
        )
        self.assertEqual(self.bowl.line.kind, "demi")
        self.send("walk", way="undo")
        self.assertEqual(self.bowl.line.kind, "direct")

    def test_three_ways_to_meet_the_warmth_stand_side_by_side(self) -> None:
        ways = self.panel("warmth").ways
        self.assertEqual(len(ways), 3)
        self.assertEqual([way.delta_e00 for way in ways], sorted(way.delta_e00 for way in ways))

    def test_no_way_takes_more_than_the_shelf_holds(self) -> None:
        Shade.objects.filter(line__studio=self.person.studio, line__kind="direct").exclude(name="Clear").update(
            stock_g=Decimal(1)
        )
        ShadeLine.objects.filter(studio=self.person.studio).update(version=F("version") + 1)
        for way in self.panel("warmth").ways:
            for _, name, grams in (*way.toner, *way.pours):
                self.assertTrue(grams <= 1 or name == "Clear", (name, grams))

    def test_the_toner_of_a_way_becomes_a_coat_before_the_colour(self) -> None:
        way = next(way for way in self.panel("warmth").ways if way.toner)
        sent = {
            "shade_id": [pk for pk, _, _ in way.pours],
            "weight": [str(grams) for _, _, grams in way.pours],
            "toner_id": [pk for pk, _, _ in way.toner],
            "toner_weight": [str(grams) for _, _, grams in way.toner],
        }
        zone = self.visit.zones.get()
        for _ in range(2):  # taken again, it goes into the same coat
            colour = zone.coats.get(purpose="colour", removed=False)
            self.send("take", zone=zone.pk, coat_id=colour.pk, **sent)
        purposes = list(zone.coats.filter(removed=False).values_list("purpose", flat=True))
        self.assertEqual(purposes, ["pre_tone", "colour"])
        toner = dict(zone.coats.get(purpose="pre_tone").bowl.pours.values_list("shade", "grams"))
        self.assertEqual(toner, {pk: grams for pk, _, grams in way.toner})


class Looking(MixingCase):
    def page(self, **asked: object):
        return self.client.get(self.on_bench("bench"), asked).context["page"]

    def test_the_light_changes_the_tress_and_not_the_numbers(self) -> None:
        day, evening = self.page(), self.page(light="A")
        self.assertNotEqual(day.then.hex, evening.then.hex)
        self.assertEqual(day.delta_e00, evening.delta_e00)

    def test_washes_fade_the_forecast_and_draw_the_path(self) -> None:
        fresh, worn = self.page(), self.page(washes=12)
        self.assertGreater(worn.then.lightness, fresh.then.lightness)
        self.assertIn("After 12 washes", worn.words)
        self.assertTrue(worn.middle.wheel.fade)
        self.assertFalse(fresh.middle.wheel.fade)

    def test_odd_looks_count_as_the_usual_ones(self) -> None:
        for asked in ({"light": "moon"}, {"washes": "-1"}, {"washes": "9999"}, {"mode": "fly"}, {"washes": "²"}):
            with self.subTest(asked=asked):
                self.assertEqual(self.client.get(self.on_bench("bench"), asked).status_code, 200)

    def test_the_wheel_has_a_button_for_every_shade_none_over_another(self) -> None:
        buttons = self.page().middle.wheel.buttons
        self.assertEqual(len(buttons), 12)  # Verdigris is used up
        places = [(float(each.x), float(each.y)) for each in buttons]
        for index, (x, y) in enumerate(places):
            for other_x, other_y in places[index + 1 :]:
                self.assertGreater(((x - other_x) ** 2 + (y - other_y) ** 2) ** 0.5, 46)

    def test_the_trail_is_where_the_bowl_has_been(self) -> None:
        self.assertEqual(len(self.page().middle.wheel.trail.split()), 3)  # hair, one shade, with clear
        self.send("walk", way="undo")
        self.assertEqual(len(self.page().middle.wheel.trail.split()), 2)

    def test_why_it_looks_so_is_said_from_the_engines_own_sums(self) -> None:
        self.assertIn("left at level 10", self.page().why)

    def test_aiming_shows_what_is_in_reach_and_what_it_would_take(self) -> None:
        self.send("aim", lightness="74", chroma="18", hue="300")
        page = self.page(mode="aim")
        self.assertTrue(page.middle.reach)
        self.assertContains(self.client.get(self.on_bench("needs")), "Lift to level")

    def test_after_a_pour_the_corrections_follow_by_themselves(self) -> None:
        answer = self.send("pour", shade=self.shade("Weld").pk, by="1")
        self.assertContains(answer, "data-pending")
        self.assertIsNone(answer.context["page"].corrections)
        later = self.client.get(self.on_bench("fixes"))
        self.assertContains(later, "data-fix")
        self.assertNotContains(later, "data-pending")

    def test_quick_corrections_stand_on_the_page_and_can_be_sent(self) -> None:
        fixes = self.page().corrections.fixes
        self.assertTrue(fixes)
        steps = BenchStep.objects.count()
        self.send("add", shade_id=[pk for pk, _ in fixes[0].additions], weight=[g for _, g in fixes[0].additions])
        self.assertEqual(BenchStep.objects.count(), steps + 1)
        self.assertAlmostEqual(float(self.page().delta_e00), float(fixes[0].then), delta=0.1)
