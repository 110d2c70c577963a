"""The Route page, the colour reader, photos of hair, and zones added while reading."""

import io
from datetime import timedelta

from django.urls import reverse
from django.utils import timezone
from PIL import Image

from engine.hair.canvas import Canvas
from engine.hair.reading import canvas_lab
from studio.clients.models import PastWork
from studio.devices.colour_reader import Fault, ReaderFault, SimulatedReader, connected, take_readings
from studio.head.models import Coat
from studio.head.selectors import bench_of
from studio.route.models import ChosenRoute
from studio.shelf.forms import LineForm
from studio.shelf.models import ShadeLine
from studio.shelf.services.set_house import set_line
from studio.visits.models import Consult, Reading, Zone
from studio.visits.selectors import open_zone
from tests.studio.made import TODAY, StudioCase, clear_skin, make_person, make_visit


class RouteCase(StudioCase):
    def route(self, **query: object):
        return self.client.get(reverse("route:route", args=[self.visit.pk]), query)

    def aim(self, lightness: float, chroma: float, hue: float) -> None:
        self.send("aim", lightness=lightness, chroma=chroma, hue=hue)

    def read(self, level: float, **fields: object) -> None:
        after = Reading.objects.filter(zone__visit=self.visit).first().number
        form = {"after": after, "level": level, "warmth": 0, "lean": 0, "porosity": 1, "grey": 0, **fields}
        answer = self.client.post(reverse("visits:read", args=[self.visit.pk]), form)
        self.assertEqual(answer.status_code, 302)

    def choose(self, kind: str):
        return self.client.post(reverse("route:choose", args=[self.visit.pk]), {"route": kind})


class Routing(RouteCase):
    def test_without_an_aim_the_way_to_one_is_told(self) -> None:
        self.assertContains(self.route(), "There is no aim yet")
        self.assertContains(self.choose("deposit"), "no aim yet", status_code=422)

    def test_before_a_reading_the_way_leads_to_read(self) -> None:
        Reading.objects.all().delete()
        self.assertIn("/read/", self.route().url)

    def test_a_pastel_on_level_nine_is_lifted_first_and_the_lift_has_its_numbers(self) -> None:
        self.read(9)
        self.aim(74, 18, 300)
        page = self.route().context["page"]
        self.assertEqual(page.proposed.route.kind, "lift")
        self.assertContains(self.route(), "no way back")
        self.assertContains(self.route(), "check every 5")

    def test_curl_and_earlier_lifts_set_the_limit(self) -> None:
        self.read(6, family="natural")
        self.aim(74, 18, 300)
        for consult, level in (({}, 8), ({"virgin": True}, 10), ({"virgin": True, "curl": "coily"}, 8)):
            with self.subTest(consult=consult):
                Consult.objects.all().delete()
                Consult.objects.create(visit=self.visit, **consult)
                self.assertEqual(self.route().context["page"].lift.stop_level, level)

    def test_a_reading_after_the_lift_takes_the_place_of_its_forecast(self) -> None:
        self.read(9)
        self.aim(66, 28, 5)
        self.read(10, after_lift="1")
        self.assertTrue(Reading.objects.filter(zone__visit=self.visit).first().after_lift)
        page = self.route()
        self.assertContains(page, "read after the lift")
        self.assertEqual(page.context["page"].proposed.route.kind, "deposit")

    def test_hair_that_was_lifted_today_is_not_lifted_again_unasked(self) -> None:
        self.read(8)
        self.read(9, after_lift="1")
        self.aim(74, 18, 300)
        page = self.route().context["page"]
        self.assertEqual(page.proposed.route.kind, "deposit")
        self.assertIn("lift", [each.route.kind for each in page.others])
        self.assertContains(self.route(), "lifted today")

    def test_a_deep_red_on_light_ends_is_filled_and_says_what_happens_without(self) -> None:
        self.aim(33, 32, 20)
        self.assertEqual(self.route().context["page"].proposed.route.kind, "fill")
        fill = self.client.get(reverse("route:fill", args=[self.visit.pk]))
        self.assertContains(fill, "to level")
        self.assertContains(fill, "Without it")

    def test_every_fill_that_a_route_names_has_its_bowl_however_short_the_way_down(self) -> None:
        self.aim(33, 26, 25)
        for level in (7, 8, 9):
            with self.subTest(level=level):
                self.read(level)
                self.assertEqual(self.route().context["page"].proposed.route.kind, "fill")
                self.assertContains(self.client.get(reverse("route:fill", args=[self.visit.pk])), "to level")
                self.choose("fill")
                fills = Coat.objects.filter(purpose=Coat.Purpose.FILL, removed=False)
                self.assertTrue(fills)
                self.assertTrue(all(coat.bowl.pours.exists() for coat in fills))

    def test_where_no_way_fills_no_fill_is_shown(self) -> None:
        self.aim(33, 30, 260)  # a deep blue, which a fill would turn brown
        self.assertContains(self.client.get(reverse("route:fill", args=[self.visit.pk])), "No fill is due")

    def test_toner_levels_show_what_a_wrong_one_would_do(self) -> None:
        toner = self.client.get(reverse("route:toner", args=[self.visit.pk]))
        self.assertContains(toner, "lighter than the hair, it shows least")

    def test_a_route_is_chosen_and_chosen_anew(self) -> None:
        self.read(9)
        self.aim(74, 18, 300)
        clear_skin(self.person, self.visit.client_id, now=timezone.now())
        for kind in ("lift", "deposit"):
            self.assertEqual(self.choose(kind).status_code, 302)
            self.assertEqual(ChosenRoute.objects.get().kind, kind)
        self.assertContains(self.choose("swim"), "one of the routes", status_code=422)

    def test_a_shut_gate_lets_no_route_be_chosen(self) -> None:
        PastWork.objects.create(client=self.visit.client, work="box_dye", done_on=TODAY)
        self.read(9)
        self.aim(74, 18, 300)
        self.assertContains(self.choose("lift"), "safety gate is shut", status_code=422)
        self.assertEqual(self.choose("deposit").status_code, 302)  # direct dye alone meets no peroxide

    def test_developer_is_reckoned_and_what_can_not_be_is_told_beside_its_field(self) -> None:
        blend = {"colour_grams": "40", "parts": "2", "strong_percent": "12", "weak_percent": "3", "wanted_percent": "6"}
        page = self.route(**blend).context["page"].developer
        self.assertAlmostEqual(page.parts.strong_g, 80 / 3)
        for field, typed in (("wanted_percent", "14"), ("parts", "many"), ("colour_grams", "-3")):
            with self.subTest(field=field):
                page = self.route(**{**blend, field: typed}).context["page"].developer
                self.assertEqual(page.wrong_field, field)
                self.assertIn((field, typed), [(name, text) for name, _, text in page.fields])

    def test_another_studios_visit_is_not_there(self) -> None:
        stranger = make_visit(make_person("Salt Row", "salt"), "Nell")
        for name in ("route", "fill", "toner"):
            self.assertEqual(self.client.get(reverse(f"route:{name}", args=[stranger.pk])).status_code, 404)
        for name in ("choose", "gate"):
            self.assertEqual(self.client.post(reverse(f"route:{name}", args=[stranger.pk])).status_code, 404)


class FromOtherLines(RouteCase):
    """One aim from each line that the coat may be mixed from."""

    def lines(self):
        answer = self.client.get(reverse("route:lines", args=[self.visit.pk]))
        self.assertEqual(answer.status_code, 200)
        return answer

    def take(self, line: object, **more: object):
        sent = {"version": self.bowl.version, "zone": self.bench.zone.pk, "line": line, **more}
        return self.client.post(reverse("route:line", args=[self.visit.pk]), sent)

    @property
    def bench(self):
        return bench_of(self.person, open_zone(self.person, self.visit.pk))

    def test_each_line_tells_how_near_how_long_and_at_what_cost(self) -> None:
        self.aim(52, 40, 45)
        shown = self.lines().context["lines"]
        self.assertEqual({each.line.kind for each in shown}, {"direct", "demi", "permanent"})
        able = [each for each in shown if not each.wrong]
        self.assertEqual([each.off for each in able], sorted(each.off for each in able))
        by_kind = {each.line.kind: each for each in able}
        self.assertIn("nothing", by_kind["direct"].cost)
        self.assertIn("something", by_kind["permanent"].cost)
        self.assertIn("vol", by_kind["permanent"].developer)
        self.assertEqual(by_kind["direct"].developer, "")
        self.assertEqual([each.line.kind for each in shown if each.is_in_hand], ["direct"])

    def test_the_recipe_is_what_the_bench_finds_in_that_line(self) -> None:
        self.aim(52, 40, 45)
        demi = next(each for each in self.lines().context["lines"] if each.line.kind == "demi")
        self.take(demi.line.pk)
        self.assertEqual((self.bench.bowl.line, self.bench.pours), (demi.line, {}))
        self.assertIsNotNone(self.bench.target_lab)
        after = next(each for each in self.lines().context["lines"] if each.is_in_hand)
        self.assertEqual((after.line, after.pours, after.off), (demi.line, demi.pours, demi.off))

    def test_a_line_of_which_nothing_is_left_says_so_and_offers_nothing(self) -> None:
        self.aim(52, 40, 45)
        demi = ShadeLine.objects.visible_to(self.person).get(kind="demi")
        demi.shades.update(stock_g=0)
        ShadeLine.objects.filter(pk=demi.pk).update(version=demi.version + 1)
        answer = self.lines()
        shown = next(each for each in answer.context["lines"] if each.line == demi)
        self.assertTrue(shown.wrong)
        self.assertNotContains(answer, f"Use {demi.name}")

    def test_what_is_not_a_line_for_the_coat_is_refused(self) -> None:
        lift = ShadeLine.objects.visible_to(self.person).get(kind="lightener")
        self.assertContains(self.take(lift.pk), "not mixed from", status_code=422)
        self.assertEqual(self.take("demi").status_code, 422)
        self.assertEqual(self.take(999999).status_code, 404)

    def test_without_an_aim_there_is_nothing_to_compare(self) -> None:
        self.assertEqual(self.lines().context["lines"], ())


class Planning(RouteCase):
    def plan(self):
        return self.client.get(reverse("route:plan", args=[self.visit.pk]))

    def test_before_an_aim_there_is_nothing_to_plan_and_it_says_so(self) -> None:
        self.assertContains(self.plan(), "No aim yet for whole head")

    def test_lanes_amounts_and_order_follow_from_routes_and_consult(self) -> None:
        Consult.objects.create(visit=self.visit, length="long", density="thick")
        self.read(9)
        self.aim(74, 18, 300)
        self.send("zones", way="two")
        page = self.plan().context["page"]
        self.assertEqual([lane.name for lane in page.lanes], ["roots", "lengths", "basin"])
        self.assertEqual([bar.words for bar in page.lanes[0].bars], ["Lift", "Colour"])
        (bowl,) = page.bowls
        self.assertEqual((bowl.zones, bowl.needs), ("roots, lengths", "144 g"))
        self.assertIn("lengths 110 g", bowl.shared)  # about a hundred for the lengths of long thick hair
        self.assertEqual(bowl.asked, "160 g")
        starts = [int(step.at) for step in page.order]
        self.assertEqual(starts, sorted(starts))
        (broken,) = page.broken  # the lengths take as long to put on as the lightener may stay
        self.assertIn("Lightener on lengths would stay on", broken.words)

    def test_a_chosen_route_is_what_is_planned(self) -> None:
        self.read(9)
        self.aim(74, 18, 300)
        self.choose("deposit")
        page = self.plan().context["page"]
        self.assertEqual([bar.words for bar in page.lanes[0].bars], ["Colour"])

    def test_what_the_shelf_lacks_and_a_bowl_too_small_is_told(self) -> None:
        self.aim(60, 25, 0)
        shade = self.shade("Malachite")
        self.send("pour", shade=shade.pk, grams="20")
        self.assertContains(self.plan(), "too little")
        self.send("pour", shade=shade.pk, grams=shade.stock_g + 40)
        self.assertContains(self.plan(), "Malachite: the bowls take")

    def post(self, name: str, **fields: object):
        address = reverse(f"route:{name}", args=[self.visit.pk])
        return self.client.post(address, {"version": self.bowl.version, **fields}, headers={"HX-Request": "true"})

    def hand(self) -> dict[str, int]:
        coat = self.bowl.coats.get()
        return {"of_zone": coat.zone_id, "of_coat": coat.pk}

    def test_a_bowl_is_set_to_its_need_with_its_recipe(self) -> None:
        self.aim(60, 25, 0)
        self.send("pour", shade=self.shade("Orchil").pk, grams="10")
        coat = self.bowl.coats.get()
        self.assertContains(self.plan(), "the need and a tenth over")
        self.post("bowl", zone=coat.zone_id, coat_id=coat.pk, total_grams="65")
        self.assertEqual((self.bowl.wanted_g, self.poured()), (65, {"Orchil": 65}))
        self.assertNotContains(self.plan(), "too little")

    def test_a_coats_minutes_are_set_and_are_as_usual_again(self) -> None:
        self.aim(60, 25, 0)
        self.post("step", **self.hand(), apply_min="20", minutes="45")
        coat = self.bowl.coats.get()
        self.assertEqual((coat.apply_min, coat.minutes), (20, 45))
        colour = self.plan().context["page"].order[0]
        self.assertEqual((colour.apply_min, colour.on_min), ("20", "45"))
        self.assertContains(self.post("step", **self.hand(), apply_min="20", minutes="900"), "240", status_code=422)
        self.post("step", **self.hand(), forget="1")
        self.assertIsNone(self.bowl.coats.get().minutes)

    def test_a_colour_is_planned_for_as_long_as_its_pack_asks(self) -> None:
        self.aim(60, 25, 0)
        self.person.licensed = True
        self.person.save()
        says = {name: getattr(self.bowl.line, name) for name in LineForm.Meta.fields}
        for asks in (25, 40):
            set_line(self.person, line_id=self.bowl.line_id, says={**says, "pack_usual_min": asks, "pack_most_min": 50})
            self.assertEqual(self.plan().context["page"].order[0].on_min, str(asks))

    def test_lightener_that_one_pair_of_hands_can_not_rinse_in_time_is_said(self) -> None:
        Consult.objects.create(visit=self.visit, length="very_long", density="thick")
        self.read(9)
        self.send("coats", way="add", purpose="lift")
        lift = self.visit.zones.get().coats.get(purpose="lift")
        self.send("coats", way="level", to_level="9.5", zone=lift.zone_id, coat_id=lift.pk)
        answer = self.plan()
        self.assertContains(answer, "Lightener on whole head would stay on")
        self.assertContains(answer, "sections, each rinsed in its turn")
        self.assertContains(self.post("hands", hands="9"), "1 to 3", status_code=422)
        self.post("hands", hands="3")
        self.assertEqual(self.plan().context["page"].hands, 3)

    def test_the_list_tells_what_every_pair_of_hands_does(self) -> None:
        self.aim(60, 25, 0)
        self.send("zones", way="three")
        for hands in (1, 2, 3):
            self.post("hands", hands=hands)
            applied = [row.zone for row in self.plan().context["page"].order if row.zone]
            self.assertEqual(sorted(applied), ["ends", "mids", "roots"], hands)

    def test_hair_that_is_left_alone_takes_nothing(self) -> None:
        self.aim(60, 25, 0)
        self.send("zones", way="two")
        self.visit.zones.filter(name="roots").update(left_alone=True)
        page = self.plan().context["page"]
        self.assertEqual([lane.name for lane in page.lanes], ["lengths", "basin"])
        self.assertEqual([row.zones for row in page.bowls], ["lengths"])

    def test_the_starting_side_alternates_from_visit_to_visit(self) -> None:
        before = self.plan().context["page"].side
        self.visit.client.visits.create(day=TODAY - timedelta(days=30), colourist=self.person)
        self.assertNotEqual(self.plan().context["page"].side, before)

    def test_another_studios_plan_is_not_there(self) -> None:
        stranger = make_visit(make_person("Salt Row", "salt"), "Nell")
        self.assertEqual(self.client.get(reverse("route:plan", args=[stranger.pk])).status_code, 404)


class Reader(StudioCase):
    def take(self, **fields: object):
        form = {"held_level": "9", "count": "5", "fault": "none", **fields}
        return self.client.post(reverse("visits:reader", args=[self.visit.pk]), form)

    def test_readings_become_a_level_with_its_certainty_and_are_kept_only_when_wanted(self) -> None:
        found = self.take().context["page"].found
        self.assertAlmostEqual(float(found.level), 9, delta=0.2)
        self.assertEqual(Reading.objects.count(), 1)
        form = {**dict(found.fields), "after": 1, "source": found.source, "family": "lightened"}
        self.client.post(reverse("visits:read", args=[self.visit.pk]), form)
        kept = Reading.objects.filter(zone__visit=self.visit).first()
        self.assertEqual((kept.number, kept.source), (2, "reader"))
        self.assertAlmostEqual(float(kept.level), 9, delta=0.2)

    def test_an_outlier_is_refused_and_said(self) -> None:
        self.assertContains(self.take(fault="slips"), "4 readings, 1 refused")

    def test_a_reader_that_fails_keeps_nothing_and_says_why(self) -> None:
        for fault, words in (("stops", "half way"), ("garbage", "no colour"), ("unplugged", "does not answer")):
            with self.subTest(fault=fault):
                self.assertContains(self.take(fault=fault), words, status_code=422)
        self.assertEqual(Reading.objects.count(), 1)

    def test_what_is_typed_wrongly_is_refused(self) -> None:
        for fields in ({"count": "2"}, {"count": "x"}, {"held_level": "12"}, {"held_level": ""}):
            self.assertEqual(self.take(**fields).status_code, 422)

    def test_the_stand_in_reads_near_the_truth_and_is_always_let_go(self) -> None:
        canvas = Canvas(level=8)
        readings = take_readings(SimulatedReader(canvas, seed=3), 9)
        mean = sum(reading[0] for reading in readings) / 9
        self.assertAlmostEqual(mean, float(canvas_lab(canvas)[0]), delta=0.5)
        closed = []
        reader = SimulatedReader(canvas, seed=3, fault=Fault.STOPS)
        reader.close = lambda: closed.append(True)
        with self.assertRaises(ReaderFault), connected(reader) as held:
            for _ in range(9):
                held.read()
        self.assertEqual(closed, [True])


def photograph(paper: tuple[int, int, int] = (236, 214, 176)) -> io.BytesIO:
    image = Image.new("RGB", (500, 300), (205, 160, 92))
    image.paste(paper, (0, 0, 240, 300))
    kept = io.BytesIO()
    image.save(kept, "PNG")
    kept.seek(0)
    kept.name = "hair.png"
    return kept


class ByPhoto(StudioCase):
    def post(self, **fields: object):
        return self.client.post(reverse("bench:read-photo", args=[self.visit.pk]), fields)

    def tap(self, x: int, picking: str):
        return self.post(picking=picking, **{"at.x": x, "at.y": 150})

    def test_paper_then_hair_gives_a_reading(self) -> None:
        self.post(photo=photograph())
        self.assertEqual(self.tap(100, "paper").status_code, 302)
        answer = self.tap(400, "hair")
        found = answer.context["found"]
        self.assertTrue(7 < float(found.level) < 11)
        self.assertContains(answer, "sure to about")
        self.assertEqual(Reading.objects.count(), 1)

    def test_the_same_hair_under_two_lights_reads_alike(self) -> None:
        levels = []
        for tint in ((1.0, 1.0, 1.0), (1.0, 0.93, 0.8)):
            image = Image.new("RGB", (500, 300), tuple(int(c * t) for c, t in zip((205, 170, 110), tint, strict=True)))
            image.paste(tuple(int(235 * t) for t in tint), (0, 0, 240, 300))
            kept = io.BytesIO()
            image.save(kept, "PNG")
            kept.seek(0)
            kept.name = "hair.png"
            self.post(photo=kept)
            self.tap(100, "paper")
            levels.append(float(self.tap(400, "hair").context["found"].level))
        self.assertAlmostEqual(levels[0], levels[1], delta=0.4)

    def test_without_paper_or_with_bad_paper_it_refuses_with_the_reason(self) -> None:
        self.post(photo=photograph())
        self.assertContains(self.tap(400, "hair"), "Tap the white paper first", status_code=422)
        for paper, words in (((60, 60, 60), "shadow"), ((255, 255, 255), "burnt out"), ((250, 60, 60), "coloured")):
            with self.subTest(words=words):
                self.post(photo=photograph(paper))
                self.assertContains(self.tap(100, "paper"), words, status_code=422)

    def test_no_photo_is_asked_for(self) -> None:
        self.assertContains(self.post(), "Choose a photo", status_code=422)


class AddedZones(StudioCase):
    def add(self, **fields: object):
        return self.client.post(reverse("visits:add-zone", args=[self.visit.pk]), {"part": "nape", **fields})

    def test_a_zone_added_while_reading_has_the_hair_of_its_neighbour_and_shares_the_bowl(self) -> None:
        self.add()
        nape = Zone.objects.get(part="nape")
        self.assertEqual(nape.readings.get().level, 10)
        self.client.get(self.on_bench("bench"))
        self.assertEqual(Coat.objects.get(zone=nape).bowl, self.bowl)
        self.send("walk", way="undo")
        nape.refresh_from_db()
        self.assertTrue(nape.removed)

    def test_bad_zones_are_refused_in_words(self) -> None:
        self.add()
        for fields, words in (
            ({}, "of that name already"),
            ({"part": "whole"}, "which part"),
            ({"part": "tail"}, "which part"),
        ):
            with self.subTest(fields=fields):
                self.assertContains(self.add(**fields), words, status_code=422)

    def test_the_outline_leads_to_zones_and_to_adding_one(self) -> None:
        self.add()
        page = self.client.get(reverse("visits:read", args=[self.visit.pk])).context["page"]
        self.assertEqual([view.name for view in page.head], ["front", "left side", "right side", "back"])
        words = {region.words: region.href for view in page.head for region in view.regions}
        self.assertIn("zone=", words["nape"])
        self.assertIn("part=crown", words["add crown"])
