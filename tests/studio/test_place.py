"""Where zones lie, and what follows for amounts, plan, bowls and the card."""

from decimal import Decimal

from django.urls import reverse
from django.utils import timezone

from studio.cards.models import Formula
from studio.cards.services.save_formula import save_formula
from studio.visits.models import Consult, Zone
from tests.studio.made import clear_skin, make_person
from tests.studio.test_zones import ZoneCase

FIELDS = ("length_cm", "regrowth_cm", "from_cm", "to_cm", "area_percent", "strand_percent")


class Places(ZoneCase):
    def place(self, zone: str = "whole head", **given: object):
        sent = dict.fromkeys(FIELDS, "") | {"pattern": "all", "zone": self.zone(zone).pk} | given
        return self.client.post(
            reverse("visits:place", args=[self.visit.pk]), sent, headers={"HX-Request": "true", "HX-Target": "main"}
        )

    def needs(self) -> dict[str, str]:
        page = self.client.get(reverse("route:plan", args=[self.visit.pk])).context["page"]
        return {row.zones: row.needs for row in page.bowls}

    def test_centimetres_of_hair_and_regrowth_take_the_place_of_words(self) -> None:
        Consult.objects.create(visit=self.visit, length="long", density="thick")
        self.zones("two")
        self.send("zones", way="own", zone=self.zone("roots").pk)
        answer = self.place("roots", length_cm="45", regrowth_cm="2,5")
        self.assertContains(answer, 'value="2.5"')
        self.assertEqual(Consult.objects.get().regrowth_cm, Decimal("2.5"))
        needs = {name: int(grams.removesuffix(" g")) for name, grams in self.needs().items()}
        self.assertEqual(sum(needs.values()), 144)
        self.assertTrue(100 <= needs["lengths"] <= 120, needs)

    def test_half_a_head_is_half_and_a_weave_its_share(self) -> None:
        Consult.objects.create(visit=self.visit, length="long", density="medium")
        self.place(area_percent="50")
        self.assertEqual(self.needs(), {"whole head": "60 g"})
        self.place(pattern="weave", strand_percent="30")
        self.assertEqual(self.needs(), {"whole head": "36 g"})
        self.assertEqual(self.zone("whole head").get_pattern_display(), "weave")

    def test_what_is_left_alone_is_out_of_bowl_plan_clock_and_card(self) -> None:
        self.send("aim", lightness="60", chroma="25", hue="0")
        self.send("pour", shade=self.shade("Orchil").pk, grams="4")
        self.zones("two")
        clear_skin(self.person, self.visit.client_id, now=timezone.now())
        self.assertContains(self.place("roots", left_alone="1"), "left alone")
        self.assertEqual(list(self.needs()), ["lengths"])
        self.assertNotContains(self.client.get(reverse("clocks:clock", args=[self.visit.pk])), "Start roots")
        bench = self.client.get(self.on_bench("bench"), {"zone": self.zone("lengths").pk}).context["page"].bench
        self.assertEqual([each.zone.name for each in bench.served], ["lengths"])
        save_formula(self.person, visit_id=self.visit.pk, version=self.bowl.version)
        self.assertEqual([formula.zone_name for formula in Formula.objects.all()], ["lengths"])
        self.place("roots")
        self.assertFalse(self.zone("roots").left_alone)

    def test_the_card_keeps_the_stretch_and_the_strands(self) -> None:
        self.send("pour", shade=self.shade("Orchil").pk, grams="4")
        self.place(length_cm="40", from_cm="5", to_cm="20", pattern="slices")
        kept = save_formula(self.person, visit_id=self.visit.pk, version=self.bowl.version)
        self.assertEqual((kept.from_cm, kept.to_cm, kept.pattern), (5, 20, "slices"))

    def test_what_can_not_be_is_refused_beside_its_field_and_nothing_is_kept(self) -> None:
        for given, words in (
            ({"from_cm": "5"}, "A stretch has both ends"),
            ({"from_cm": "9", "to_cm": "4"}, "ends further from the scalp"),
            ({"length_cm": "20", "from_cm": "5", "to_cm": "30"}, "The hair is 20 cm long"),
            ({"length_cm": "900"}, "Length, cm: 1 to 150 cm can be taken; 900 was typed."),
            ({"strand_percent": "140"}, "Strands, %: 1 to 100 %"),
            ({"area_percent": "half"}, "needs a number"),
            ({"pattern": "zigzag"}, "Choose which strands"),
        ):
            with self.subTest(given=given):
                self.assertContains(self.place(**given), words, status_code=422)
        zone = self.zone("whole head")
        self.assertEqual((zone.from_cm, zone.strand_share, zone.pattern), (None, None, "all"))

    def test_strands_of_one_part_leave_room_for_one_another(self) -> None:
        self.zones("add", part="panel", name="first")
        self.zones("add", part="panel", name="second")
        self.place("first", pattern="alternate_a", strand_percent="60")
        over = self.place("second", pattern="alternate_b", strand_percent="50")
        self.assertContains(over, "The strands of panel would come to 110 %", status_code=422)

    def test_another_studios_zone_is_not_there(self) -> None:
        self.client.force_login(make_person("Salt Row", "salt"))
        self.assertEqual(self.place().status_code, 404)
        self.assertFalse(Zone.objects.filter(left_alone=True).exists())
