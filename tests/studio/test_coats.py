"""The coats of a zone: their order, their bowls, and the hair that each meets."""

from decimal import Decimal

import numpy as np
from django.urls import reverse
from django.utils import timezone

from engine.bowl.fade import faded_canvas
from engine.bowl.predict import predict
from engine.hair.canvas import lightened
from studio.cards.services.save_formula import save_formula
from studio.ui.words import REFUSALS
from studio.visits.engine_adapter import canvas_of
from studio.visits.models import Zone
from tests.studio.coat_case import NATURAL_SIX, CoatCase, Forms
from tests.studio.made import clear_skin, make_person, put_on_hair


class InTheirOrder(CoatCase):
    def test_a_coat_goes_to_its_usual_place_with_a_bowl_of_what_it_is_mixed_from(self) -> None:
        for purpose in ("glaze", "lift", "fill", "seal", "pre_tone"):
            self.assertEqual(self.add(purpose).status_code, 200)
        self.assertEqual(self.purposes(), ["lift", "fill", "pre_tone", "colour", "glaze", "seal"])
        self.assertEqual(self.coat("lift").bowl.line.kind, "lightener")
        self.assertEqual(self.coat("lift").to_level, 8)
        self.assertIsNone(self.coat("seal").bowl)
        bowls = {coat.bowl_id for coat in self.coats() if coat.bowl_id}
        self.assertEqual(len(bowls), 5)

    def test_each_is_moved_and_taken_off_and_undo_brings_it_back(self) -> None:
        self.add("glaze")
        self.add("overlay")
        self.way("earlier", of="glaze")
        self.assertEqual(self.purposes(), ["colour", "glaze", "overlay"])
        self.way("later", of="glaze")
        self.way("remove", of="overlay")
        self.assertEqual(self.purposes(), ["colour", "glaze"])
        self.send("walk", way="undo", zone=self.zone.pk, coat_id=self.coat("glaze").pk)
        self.assertEqual(self.purposes(), ["colour", "overlay", "glaze"])
        self.send("walk", way="redo", zone=self.zone.pk, coat_id=self.coat("glaze").pk)
        self.assertEqual(self.purposes(), ["colour", "glaze"])

    def test_what_can_not_be_is_refused_with_the_reason(self) -> None:
        self.add("lift")
        for sent, words in (
            ({"way": "add", "purpose": "rinse"}, REFUSALS["purpose_unknown"]),
            ({"way": "later", "of": "lift"}, REFUSALS["lift_over_colour"]),
            ({"way": "earlier", "of": "lift"}, REFUSALS["coat_at_end"]),
            ({"way": "level", "to_level": "12", "of": "lift"}, "Level to stop at: 1 to 11 can be taken; 12 was typed."),
            ({"way": "level", "to_level": "9"}, REFUSALS["not_a_lift"]),
            ({"way": "set", "vol": "60", "of": "lift"}, "Developer: 0 to 40 vol can be taken"),
            ({"way": "set", "minutes": "0"}, "Minutes: 0.5 to 240 min can be taken"),
            ({"way": "set", "minutes": "soon"}, "Minutes needs a number"),
            ({"way": "copy", "to_zone": "999999"}, REFUSALS["zone_gone"]),
            ({"way": "turn"}, REFUSALS["purpose_unknown"]),
        ):
            with self.subTest(sent=sent):
                before = self.purposes()
                self.assertContains(self.way(sent.pop("way"), **sent), words, status_code=422)
                self.assertEqual(self.purposes(), before)
        self.way("remove", of="lift")
        self.assertContains(self.way("remove"), REFUSALS["last_coat"], status_code=422)

    def test_a_zone_takes_so_many_and_no_more(self) -> None:
        for _ in range(7):
            self.add("glaze")
        self.assertContains(self.add("glaze"), "at most 8 coats", status_code=422)

    def test_a_coat_is_mixed_from_a_line_that_suits_it(self) -> None:
        self.add("glaze")
        permanent = self.person.studio.lines.get(kind="permanent")
        sent = {"line": permanent.pk, "zone": self.zone.pk}
        answer = self.send("line", **sent, coat_id=self.coat("glaze").pk)
        self.assertContains(answer, "A coat to glaze is not mixed from Capstan permanent.", status_code=422)
        self.assertEqual(self.send("line", **sent, coat_id=self.coat("colour").pk).status_code, 200)

    def test_a_tablet_that_saw_less_is_told_and_changes_nothing(self) -> None:
        old = self.bowl.version
        self.add("lift")
        answer = self.send("coats", way="add", purpose="glaze", zone=self.zone.pk, version=old)
        self.assertContains(answer, "changed in another window: a coat to lift", status_code=409)
        self.assertEqual(self.purposes(), ["lift", "colour"])

    def test_a_coat_that_is_gone_or_not_named_is_not_guessed_at(self) -> None:
        self.add("lift")
        gone = self.coat("lift").pk
        self.way("remove", of="lift")
        sent = {"shade": self.shade("Orchil").pk, "grams": "3", "zone": self.zone.pk}
        self.assertContains(self.send("pour", **sent, coat_id=gone), REFUSALS["coat_gone"][:30], status_code=422)
        self.add("glaze")
        self.assertContains(self.send("pour", **sent), REFUSALS["coat_unsaid"][:40], status_code=422)
        self.assertFalse(any(coat.bowl.pours.exists() for coat in self.coats()))

    def test_another_studios_coat_is_no_ones(self) -> None:
        self.client.force_login(make_person("Ballast Quay", "ballast"))
        self.assertEqual(self.way("add", purpose="glaze").status_code, 404)

    def test_every_form_of_bench_and_pour_says_which_coat_it_is_of(self) -> None:
        """A form that did not would change the zone's last coat, whichever is on the screen."""
        self.add("lift")
        self.pour_in("lift", "Chalk powder", "40")
        hand = {"zone": self.zone.pk, "coat_id": self.coat("lift").pk}
        colour = {"zone": self.zone.pk, "coat_id": self.coat("colour").pk}
        seen = 0
        for name, asked in (
            *(("bench:bench", hand | {panel: 1}) for panel in ("coats", "zones", "none")),
            *(("bench:bench", colour | {panel: 1}) for panel in ("photo", "zones", "none")),
            ("pour:pour", hand),
            ("pour:pour", colour),
        ):
            page = self.client.get(reverse(name, args=[self.visit.pk], query=asked)).content.decode()
            for form in Forms(page).forms:
                if "zone" in form:
                    seen += 1
                    self.assertIn("coat_id", form, name)
            rows = {str(asked["coat_id"])} if "coats" not in asked else {str(coat.pk) for coat in self.coats()}
            self.assertLessEqual({form["coat_id"] for form in Forms(page).forms if "coat_id" in form}, rows)
        self.assertGreater(seen, 30)


class OverOneAnother(CoatCase):
    def test_colour_meets_the_hair_as_lightener_is_to_leave_it(self) -> None:
        self.add("lift")
        self.way("level", of="lift", to_level="9")
        self.assertEqual(canvas_of(self.bench("lift").reading), NATURAL_SIX)
        self.assertEqual(canvas_of(self.bench("colour").reading), lightened(NATURAL_SIX, 9.0))

    def test_an_overlay_meets_what_the_colour_has_left(self) -> None:
        self.add("overlay")
        self.pour_in("colour", "Madder", "6")
        self.pour_in("colour", "Clear", "54")
        mix = self.bench("colour").mix
        beneath = canvas_of(self.bench("overlay").reading)
        truly = faded_canvas(NATURAL_SIX, mix, 0)
        self.assertEqual(len(beneath.old), 1)
        self.assertAlmostEqual(beneath.old[0].k_s, truly.old[0].k_s)
        self.pour_in("overlay", "Orchil", "3")
        forecast = predict(truly, self.bench("overlay").mix).lab
        page = self.client.get(self.on_bench("bench"), {"zone": self.zone.pk, "coat_id": self.coat("overlay").pk})
        kept = save_formula(self.person, visit_id=self.visit.pk, version=self.bowl.version)
        self.assertContains(page, "Before it")
        np.testing.assert_allclose(
            [float(part) for part in (kept.forecast_l, kept.forecast_a, kept.forecast_b)], forecast, atol=2e-3
        )

    def test_a_lift_to_where_the_hair_is_already_changes_nothing(self) -> None:
        self.add("lift")
        self.way("level", of="lift", to_level="5")
        self.assertEqual(canvas_of(self.bench("colour").reading), NATURAL_SIX)

    def test_powder_is_weighed_in_no_millilitres_and_thins_nothing(self) -> None:
        self.add("lift")
        self.pour_in("lift", "Chalk powder", "60")
        hand = {"zone": self.zone.pk, "coat_id": self.coat("lift").pk}
        page = self.client.get(self.on_bench("bench"), hand).context["page"]
        self.assertEqual((page.parts, page.measures), ("", "2.12 oz · 0.12 tube"))

    def test_a_reading_between_two_coats_takes_the_place_of_the_forecast(self) -> None:
        self.add("lift")
        self.way("level", of="lift", to_level="9")
        clear_skin(self.person, self.visit.client_id, now=timezone.now())
        put_on_hair(self.person, zone_id=self.zone.pk, kind="lightener", now=timezone.now())
        read = reverse("visits:read", args=[self.visit.pk])
        asked = {"zone": self.zone.pk, "after": 2, "after_lift": 1, "after_coats": 1}
        lifted = self.client.get(read, asked)
        self.assertContains(lifted, "Read the lifted hair")
        self.assertEqual(lifted.context["page"].next_step, "keep")  # what it was before says nothing of it now
        self.client.post(read, asked | {"level": "8.5"})
        self.assertEqual(self.client.get(read, asked).context["page"].next_step, "bench")
        newest = self.zone.readings.first()
        self.assertEqual((newest.after_coats, newest.family, newest.level), (1, "lightened", Decimal("8.5")))
        self.assertEqual(canvas_of(self.bench("lift").reading), NATURAL_SIX)
        self.assertEqual(canvas_of(self.bench("colour").reading).level, 8.5)

    def test_a_stronger_developer_lifts_more_beneath_a_permanent(self) -> None:
        permanent = self.person.studio.lines.get(kind="permanent")
        hand = {"zone": self.zone.pk, "coat_id": self.coat("colour").pk}
        self.send("line", line=permanent.pk, **hand)
        self.pour_in("colour", "Safflower", "60")
        looks = []
        for vol in ("10", "40"):
            self.way("set", vol=vol, parts="1.5")
            bench = self.bench("colour")
            self.assertEqual((bench.bowl.vol, bench.developer_g), (Decimal(vol), Decimal(90)))
            looks.append(predict(canvas_of(bench.reading), bench.mix, process=bench.process).lab[0])
        self.assertGreater(looks[1], looks[0] + 1)
        self.send("walk", way="undo", **hand)
        self.assertEqual(self.bench("colour").bowl.vol, 10)


class OneBowlForSeveral(CoatCase):
    def setUp(self) -> None:
        super().setUp()
        self.add("glaze")
        self.send("zones", way="add", part="nape", name="nape", zone=self.zone.pk, coat_id=self.coat("glaze").pk)
        self.nape = Zone.objects.get(name="nape")

    def test_a_zone_that_is_added_has_the_same_coats_from_the_same_bowls(self) -> None:
        self.assertEqual(self.purposes(self.nape), ["colour", "glaze"])
        self.assertEqual({coat.bowl_id for coat in self.coats(self.nape)}, {coat.bowl_id for coat in self.coats()})

    def test_a_bowl_of_its_own_is_of_that_coat_alone(self) -> None:
        glaze = self.coat("glaze", self.nape)
        self.send("zones", way="own", zone=self.nape.pk, coat_id=glaze.pk)
        self.assertNotEqual(self.coat("glaze", self.nape).bowl_id, self.coat("glaze").bowl_id)
        self.assertEqual(self.coat("colour", self.nape).bowl_id, self.coat("colour").bowl_id)

    def test_a_coat_goes_on_another_zone_too_and_not_twice(self) -> None:
        self.add("pre_tone")
        copied = self.way("copy", of="pre_tone", to_zone=self.nape.pk)
        self.assertEqual(copied.status_code, 200)
        self.assertEqual(self.purposes(self.nape), ["pre_tone", "colour", "glaze"])
        again = self.way("copy", of="pre_tone", to_zone=self.nape.pk)
        self.assertContains(again, "nape has a coat from this bowl already", status_code=422)

    def test_lightener_and_colour_never_share_a_bowl(self) -> None:
        self.add("lift")
        self.send("zones", way="remove", zone=self.nape.pk, coat_id=self.coat("glaze", self.nape).pk)
        self.send("walk", way="undo", zone=self.zone.pk, coat_id=self.coat("lift").pk)
        sent = {"way": "share", "other": self.nape.pk, "zone": self.zone.pk, "coat_id": self.coat("lift").pk}
        self.assertContains(self.send("zones", **sent), "One bowl can&#x27;t be for both", status_code=422)
