"""The coats of a zone: their order, their bowls, the hair that each meets, their clocks, and the card."""

import datetime
import json
from decimal import Decimal
from html.parser import HTMLParser

import numpy as np
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db.models import Q
from django.urls import reverse
from django.utils import timezone

from engine.bowl.fade import faded_canvas
from engine.bowl.predict import predict
from engine.hair.canvas import Canvas, lightened
from engine.hair.residue import Family
from studio.cards.models import Formula
from studio.cards.selectors import kept_formulas
from studio.cards.services.judge import judge_zone
from studio.cards.services.repeat_formula import repeat_formula
from studio.cards.services.save_formula import save_formula
from studio.clocks.models import ZoneClock
from studio.formats.card_json import card_document
from studio.head.models import Bowl, Coat
from studio.head.selectors import Bench, bench_of
from studio.head.services.coats import add_coat, set_coat
from studio.head.services.pour import pour
from studio.head.services.undo import undo
from studio.shelf.models import Shade
from studio.shelf.selectors import stocked_line
from studio.ui.refusal import Refusal
from studio.ui.words import REFUSALS
from studio.visits.engine_adapter import canvas_of
from studio.visits.models import Visit, Zone
from studio.visits.selectors import open_zone
from studio.visits.services.read_hair import read_hair
from tests.studio.made import TODAY, StudioCase, clear_skin, make_person, put_on_hair

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
        return pour(self.person, **hand, shade_id=found.pk, typed=grams)


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

    def test_a_reading_between_two_coats_takes_the_place_of_the_forecast(self) -> None:
        self.add("lift")
        self.way("level", of="lift", to_level="9")
        clear_skin(self.person, self.visit.client_id, now=timezone.now())
        put_on_hair(self.person, zone_id=self.zone.pk, kind="lightener", now=timezone.now())
        read = reverse("visits:read", args=[self.visit.pk])
        asked = {"zone": self.zone.pk, "after": 2, "after_lift": 1, "after_coats": 1}
        self.assertContains(self.client.get(read, asked), "Read the lifted hair")
        self.client.post(read, asked | {"level": "8.5"})
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


class TimedAndKept(CoatCase):
    def setUp(self) -> None:
        super().setUp()
        self.now = timezone.now()
        clear_skin(self.person, self.visit.client_id, now=self.now)
        self.add("lift")
        self.pour_in("lift", "Chalk powder", "40")
        self.pour_in("colour", "Orchil", "4")
        self.pour_in("colour", "Clear", "40")

    def clock(self) -> str:
        return self.client.get(reverse("clocks:clock", args=[self.visit.pk])).content.decode()

    def start(self, kind: str, ago_min: float) -> ZoneClock:
        on = self.now - datetime.timedelta(minutes=ago_min)
        return put_on_hair(self.person, zone_id=self.zone.pk, kind=kind, now=on, planned_min=20)

    def rinse(self, clock: ZoneClock) -> None:
        ZoneClock.objects.filter(pk=clock.pk).update(boot_id="")
        self.client.post(reverse("clocks:act", args=[self.visit.pk]), {"zone": self.zone.pk, "clock": clock.pk})

    def test_the_clock_opens_on_the_coat_that_is_next(self) -> None:
        self.assertRegex(self.clock(), r'value="lightener"\s+selected')
        clock = self.start("lightener", 30)
        self.assertEqual((clock.coat_id, clock.bowl_id), (self.coat("lift").pk, self.coat("lift").bowl_id))
        self.rinse(clock)
        self.assertRegex(self.clock(), r'value="direct"\s+selected')
        colour = self.start("direct", 10)
        self.assertEqual(colour.coat_id, self.coat("colour").pk)

    def test_the_scale_opens_on_the_bowl_that_is_next_and_tells_the_bowls_apart(self) -> None:
        page = self.client.get(reverse("pour:pour", args=[self.visit.pk])).context["page"]
        self.assertEqual(page.bench.coat, self.coat("lift"))
        self.assertEqual([words for _, words, _ in page.bowls], ["1 Lift", "2 Colour"])
        self.start("lightener", 5)
        page = self.client.get(reverse("pour:pour", args=[self.visit.pk])).context["page"]
        self.assertEqual(page.bench.coat, self.coat("colour"))

    def test_a_coat_that_was_passed_over_has_left_nothing_and_is_not_due_any_more(self) -> None:
        add_coat(self.person, **self.hand("colour"), purpose="glaze")
        self.assertEqual(self.bench("colour").reading.level, 8)
        self.rinse(self.start("direct", 20))  # colour went on and the lift never did
        self.assertEqual((self.bench("colour").reading.level, self.bench("glaze").reading.level), (6, 6))
        self.assertEqual(self.bench("glaze").coats_on, 2)
        self.assertRegex(self.clock(), r'value="direct"\s+selected')
        save_formula(self.person, visit_id=self.visit.pk, version=self.bowl.version)
        self.assertEqual(Formula.objects.get(purpose="colour").level, 6)

    def test_developer_of_a_bowl_that_is_on_other_hair_stays_as_it_was_mixed(self) -> None:
        self.send("zones", way="add", part="nape", name="nape", zone=self.zone.pk, coat_id=self.coat("colour").pk)
        self.start("lightener", 5)
        nape = Zone.objects.get(name="nape")
        sent = {"zone": nape.pk, "coat_id": self.coat("lift", nape).pk, "vol": "40"}
        self.assertContains(self.send("coats", way="set", **sent), REFUSALS["coat_begun"], status_code=422)

    def test_a_coat_takes_the_minutes_that_are_set_for_it(self) -> None:
        set_coat(self.person, **self.hand("lift"), minutes=Decimal(18))
        self.assertRegex(self.clock(), r'name="lift_min" value="18"')

    def hand(self, purpose: str) -> dict[str, object]:
        return {"zone_id": self.zone.pk, "coat_id": self.coat(purpose).pk, "version": self.bowl.version}

    def test_what_is_on_the_hair_neither_moves_nor_goes(self) -> None:
        clock = self.start("lightener", 5)
        for way in ("remove", "later"):
            self.assertContains(self.way(way, of="lift"), REFUSALS["coat_begun"], status_code=422)
        for _ in range(4):
            answer = self.send("walk", way="undo", zone=self.zone.pk, coat_id=self.coat("colour").pk)
        self.assertContains(answer, REFUSALS["coat_begun"], status_code=422)
        self.client.post(
            reverse("clocks:act", args=[self.visit.pk]), {"zone": self.zone.pk, "clock": clock.pk, "forget": 1}
        )
        self.assertEqual(self.way("remove", of="lift").status_code, 200)

    def test_the_next_coat_meets_what_the_clock_has_left(self) -> None:
        add_coat(self.person, **self.hand("colour"), purpose="overlay")
        full = canvas_of(self.bench("overlay").reading).old[0].k_s
        self.rinse(self.start("lightener", 40))
        self.rinse(self.start("direct", 4))
        self.assertAlmostEqual(float(self.coat("colour").worked_min), 4, delta=0.2)
        self.assertLess(canvas_of(self.bench("overlay").reading).old[0].k_s, 0.75 * full)

    def test_the_card_keeps_each_coat_on_the_hair_that_it_met(self) -> None:
        save_formula(self.person, visit_id=self.visit.pk, version=self.bowl.version)
        lift, colour = Formula.objects.order_by("coat_number")
        self.assertEqual((lift.purpose, lift.to_level, lift.level, lift.developer_vol), ("lift", 8, 6, 20))
        self.assertEqual((colour.purpose, colour.coat_number, colour.level), ("colour", 2, 8))
        self.assertEqual(dict(lift.pours.values_list("shade_name", "grams")), {"Chalk powder": Decimal(40)})
        self.assertGreater(lift.forecast_l, 60)
        page = self.client.get(reverse("cards:card", args=[self.visit.client_id]))
        self.assertContains(page, "Lift to level 8")
        self.assertContains(page, "</span> g Chalk powder")

    def test_a_card_of_coats_goes_round_into_another_studio(self) -> None:
        save_formula(self.person, visit_id=self.visit.pk, version=self.bowl.version)
        document = card_document(self.person, self.visit.client_id)
        self.assertEqual(document["version"], 3)
        other = make_person("Ballast Quay", "ballast")
        self.client.force_login(other)
        file = SimpleUploadedFile("card.json", json.dumps(document).encode())
        answer = self.client.post(reverse("formats:take"), {"file": file}, follow=True)
        self.assertEqual(answer.status_code, 200)
        back = card_document(other, other.studio.clients.get(name="Pim Harrow").pk)
        self.assertEqual(back["formulas"], document["formulas"])


class Again(CoatCase):
    """A card of coats repeated on another day."""

    def kept(self, part: str = "whole") -> Visit:
        """Lift, colour and glaze on the card, repeated: the new visit."""
        self.zone.part = part
        self.zone.save(update_fields=["part"])
        for purpose in ("lift", "glaze"):
            self.add(purpose)
        self.way("set", of="lift", vol="12", parts="1.5")
        for purpose, shade in (("lift", "Chalk powder"), ("colour", "Orchil"), ("glaze", "Smalt")):
            self.pour_in(purpose, shade, "4")
        formula = save_formula(self.person, visit_id=self.visit.pk, version=self.bowl.version)
        return repeat_formula(self.person, formula_id=formula.pk, day=TODAY.replace(day=TODAY.day + 4))

    def test_colour_and_glaze_go_on_again_and_lightener_does_not(self) -> None:
        visit = self.kept()
        zone = visit.zones.get(removed=False)
        self.assertEqual(self.purposes(zone), ["colour", "glaze"])
        poured = [dict(coat.bowl.pours.values_list("shade__name", "grams")) for coat in self.coats(zone)]
        self.assertEqual(poured, [{"Orchil": Decimal(4)}, {"Smalt": Decimal(4)}])

    def test_on_roots_the_lift_goes_on_again_with_its_developer(self) -> None:
        zone = self.kept("roots").zones.get(removed=False)
        self.assertEqual(self.purposes(zone), ["lift", "colour", "glaze"])
        lift = self.coat("lift", zone)
        self.assertEqual((lift.to_level, lift.bowl.vol, lift.bowl.parts), (8, 12, Decimal("1.5")))

    def test_it_is_one_undo_away_and_never_takes_off_what_is_on(self) -> None:
        visit = self.kept()
        zone, bowl = visit.zones.get(removed=False), visit.worktop.bowls.first()
        undo(self.person, zone_id=zone.pk, version=bowl.version)
        self.assertEqual(self.purposes(zone), ["colour"])
        Coat.objects.filter(zone=zone, removed=False).update(begun=True)
        formula = Formula.objects.first()
        with self.assertRaises(Refusal) as refused:
            repeat_formula(self.person, formula_id=formula.pk, day=visit.day)
        self.assertEqual(refused.exception.code, "coat_begun")

    def test_how_it_turned_out_stands_beside_its_last_coat(self) -> None:
        self.kept()
        lab = (Decimal(50), Decimal(20), Decimal(5))
        result = {"lab": lab, "forecast_lab": lab, "source": "eye", "dry": True, "two_lights": True}
        judge_zone(self.person, zone_id=self.zone.pk, **result)
        found = kept_formulas(self.person, Q(visit=self.visit))
        self.assertEqual([(each.formula.purpose, bool(each.result)) for each in found][-1], ("glaze", True))
        self.assertEqual(sum(bool(each.result) for each in found), 1)


class AllAtOnce(CoatCase):
    """Several zones put on, and rinsed, by one press."""

    def setUp(self) -> None:
        super().setUp()
        clear_skin(self.person, self.visit.client_id, now=timezone.now())
        self.send("zones", way="three", zone=self.zone.pk)

    def post(self, name: str, **fields: object):
        return self.client.post(reverse(f"clocks:{name}", args=[self.visit.pk]), fields, headers={"HX-Request": "true"})

    def test_all_zones_that_are_due_for_one_kind_start_and_are_rinsed_together(self) -> None:
        page = self.client.get(reverse("clocks:clock", args=[self.visit.pk]))
        self.assertContains(page, "Start all 3: direct")
        self.assertContains(self.post("start", all="direct"), "Rinsed: all 3")
        self.assertEqual(set(ZoneClock.objects.values_list("kind", "planned_min")), {("direct", Decimal(30))})
        self.assertEqual(ZoneClock.objects.filter(coat__begun=True).count(), 3)
        self.post("act", rinse_all="1")
        self.assertFalse(ZoneClock.objects.filter(rinsed_at=None).exists())
        self.assertEqual(Coat.objects.filter(worked_min__isnull=False, removed=False).count(), 3)

    def test_none_starts_where_one_may_not_and_nothing_is_due_twice(self) -> None:
        self.assertContains(self.post("start", all="lightener"), REFUSALS["nothing_to_start"], status_code=422)
        self.assertContains(self.post("start", all="soup"), REFUSALS["nothing_to_start"], status_code=422)
        self.assertContains(self.post("act", rinse_all="1"), REFUSALS["clock_stopped"], status_code=422)
        self.post("start", all="direct")
        self.assertContains(self.post("start", all="direct"), REFUSALS["nothing_to_start"], status_code=422)
        self.assertEqual(ZoneClock.objects.count(), 3)


class ByRoute(CoatCase):
    def test_a_route_that_is_chosen_puts_its_coats_on_the_zone(self) -> None:
        self.send("aim", zone=self.zone.pk, lightness="75", chroma="30", hue="0", tapped="1")
        address = reverse("route:choose", args=[self.visit.pk])
        page = self.client.get(reverse("route:route", args=[self.visit.pk])).content.decode()
        self.assertIn('value="lift"', page)
        clear_skin(self.person, self.visit.client_id, now=timezone.now())
        self.client.post(address, {"zone": self.zone.pk, "route": "lift"})
        self.assertEqual(self.purposes(), ["lift", "colour"])
        level = self.coat("lift").to_level
        self.assertGreater(level, 6)
        self.assertEqual(canvas_of(self.bench("colour").reading).level, float(level))
        self.client.post(address, {"zone": self.zone.pk, "route": "deposit"})
        self.assertEqual(self.purposes(), ["colour"])

    def test_a_fill_is_a_coat_for_each_of_its_steps_with_warm_shades_alone(self) -> None:
        read_hair(self.person, zone_id=self.zone.pk, after=2, hair={"level": Decimal(10)}, family="lightened")
        self.send("aim", zone=self.zone.pk, lightness="26", chroma="14", hue="50", tapped="1")
        page = self.client.get(reverse("route:route", args=[self.visit.pk])).content.decode()
        self.assertIn('value="fill"', page)
        self.client.post(reverse("route:choose", args=[self.visit.pk]), {"zone": self.zone.pk, "route": "fill"})
        fills = [coat for coat in self.coats() if coat.purpose == "fill"]
        self.assertGreaterEqual(len(fills), 1)
        for coat in fills:
            self.assertIsNotNone(coat.bowl.target_l)
            names = set(coat.bowl.pours.values_list("shade__name", flat=True))
            self.assertTrue(names)
            self.assertFalse(names & {"Smalt", "Woad", "Verdigris", "Malachite", "Alkanet", "Logwood"})
        asked = {"zone": self.zone.pk, "coat_id": self.coat("colour").pk}
        self.assertNotContains(self.client.get(self.on_bench("needs"), asked), "Lift")  # it would undo the fill
        dyes = stocked_line(self.coat("colour").bowl.line).dyes
        self.assertLess(len(canvas_of(self.bench("fill").reading).old), len(dyes))
        self.assertTrue(canvas_of(self.bench("colour").reading).old)


class AimsOfZones(CoatCase):
    """An aim belongs to its zone, and is shared when that is asked."""

    def setUp(self) -> None:
        super().setUp()
        self.send("aim", lightness="60", chroma="25", hue="0", zone=self.zone.pk)
        self.send("zones", way="add", part="nape", name="nape", zone=self.zone.pk)
        self.nape = Zone.objects.get(name="nape")

    def aims(self) -> dict[str, float]:
        """Depth of each zone's aim."""
        bench = bench_of(self.person, open_zone(self.person, self.visit.pk))
        return {each.zone.name: round(float(each.target_lab[0])) for each in bench.zones if each.target_lab is not None}

    def aim(self, depth: int, **more: object) -> None:
        sent = {"lightness": depth, "chroma": "20", "hue": "300", "tapped": "1", "zone": self.nape.pk} | more
        self.assertEqual(self.send("aim", **sent).status_code, 200)

    def test_an_aim_set_on_one_zone_leaves_the_others_theirs(self) -> None:
        self.assertEqual(self.aims(), {"whole head": 60, "nape": 60})
        self.aim(40)
        self.assertEqual(self.aims(), {"whole head": 60, "nape": 40})
        self.send("walk", way="undo", zone=self.nape.pk)
        self.assertEqual(self.aims(), {"whole head": 60, "nape": 60})
        self.send("walk", way="redo", zone=self.nape.pk)
        self.assertEqual(self.aims(), {"whole head": 60, "nape": 40})

    def test_it_is_shared_when_that_is_asked(self) -> None:
        self.aim(40)
        self.aim(50, everywhere="1")
        self.assertEqual(self.aims(), {"whole head": 50, "nape": 50})
        self.assertFalse(Coat.objects.filter(target_l__isnull=False).exists())

    def test_one_bowl_is_matched_to_the_aims_of_both(self) -> None:
        self.aim(40)
        page = self.client.get(self.on_bench("bench"), {"zone": self.nape.pk, "answers": 1}).context["page"]
        self.assertEqual(len(page.panel.answers.recipes[0].locks), 2)

    def test_a_bowl_of_its_own_takes_its_aim_along_and_the_card_keeps_it(self) -> None:
        self.aim(40)
        self.send("zones", way="own", zone=self.nape.pk)
        self.assertEqual(self.aims(), {"whole head": 60, "nape": 40})
        for zone in (self.zone, self.nape):
            self.send("pour", shade=self.shade("Orchil").pk, grams="3", zone=zone.pk)
        save_formula(self.person, visit_id=self.visit.pk, version=self.bowl.version)
        kept = dict(Formula.objects.values_list("zone_name", "target_l"))
        self.assertEqual({name: round(depth) for name, depth in kept.items()}, {"whole head": 60, "nape": 40})

    def test_no_aim_takes_both_away(self) -> None:
        self.aim(40)
        self.send("aim", clear="1", zone=self.nape.pk)
        self.assertEqual(self.aims(), {})

    def test_the_way_from_read_leads_over_the_aim_with_the_wish_to_the_route(self) -> None:
        self.client.post(reverse("visits:consult", args=[self.visit.pk]), {"wish": "a foxglove, not too loud"})
        read = self.client.get(reverse("visits:read", args=[self.visit.pk]))
        self.assertContains(read, "Choose the aim")
        page = self.client.get(self.on_bench("bench"), {"mode": "aim", "zone": self.zone.pk})
        self.assertContains(page, "Find the route")
        self.assertEqual(page.context["page"].here, "aim")
