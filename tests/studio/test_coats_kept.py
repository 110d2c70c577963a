"""The coats of a zone at the clock, on the card, and repeated from it."""

import datetime
from decimal import Decimal

from django.db.models import Q
from django.urls import reverse
from django.utils import timezone

from studio.cards.models import Formula
from studio.cards.selectors import kept_formulas
from studio.cards.services.judge import judge_zone
from studio.cards.services.repeat_formula import repeat_formula
from studio.cards.services.save_formula import save_formula
from studio.clocks.models import ZoneClock
from studio.formats.card_json import VERSION, card_document
from studio.head.models import Coat
from studio.head.services.coats import add_coat, set_coat
from studio.head.services.undo import undo
from studio.ui.refusal import Refusal
from studio.ui.words import REFUSALS
from studio.visits.engine_adapter import canvas_of
from studio.visits.models import Visit, Zone
from tests.studio.coat_case import CoatCase
from tests.studio.made import TODAY, clear_skin, put_on_hair


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
        self.assertEqual(document["version"], VERSION)
        back = self.taken_elsewhere(document)
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
