"""Coats that a route puts on a zone, and the aims of zones that share a bowl."""

from decimal import Decimal

from django.urls import reverse
from django.utils import timezone

from studio.cards.models import Formula
from studio.cards.services.save_formula import save_formula
from studio.head.models import Coat
from studio.head.selectors import bench_of
from studio.shelf.selectors import stocked_line
from studio.visits.engine_adapter import canvas_of
from studio.visits.models import Zone
from studio.visits.selectors import open_zone
from studio.visits.services.read_hair import read_hair
from tests.studio.coat_case import CoatCase
from tests.studio.made import clear_skin


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


class FillsOfAnotherLine(CoatCase):
    """What a colour is mixed from may not be what a fill is mixed from."""

    def test_a_fill_under_a_permanent_colour_has_its_bowls_full(self) -> None:
        read_hair(self.person, zone_id=self.zone.pk, after=2, hair={"level": Decimal(9)}, family="lightened")
        clear_skin(self.person, self.visit.client_id, now=timezone.now())
        permanent = self.person.studio.lines.get(kind="permanent")
        self.send("line", zone=self.zone.pk, line=permanent.pk)
        self.send("aim", zone=self.zone.pk, lightness="28", chroma="16", hue="60", tapped="1")
        shown = self.client.get(reverse("route:fill", args=[self.visit.pk])).content.decode()
        self.assertIn("Mixed from <b>Ropewalk direct</b>", shown)
        self.client.post(reverse("route:choose", args=[self.visit.pk]), {"zone": self.zone.pk, "route": "fill"})
        fills = [coat for coat in self.coats() if coat.purpose == "fill"]
        self.assertGreaterEqual(len(fills), 1)
        for coat in fills:
            self.assertEqual(coat.bowl.line.kind, "direct")
            names = dict(coat.bowl.pours.values_list("shade__name", "grams"))
            self.assertTrue(names)
            for name, grams in names.items():
                self.assertIn(f"{float(grams):g} g {name}", shown)


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
        self.assertContains(page, "Route →")
        self.assertEqual(page.context["page"].here, "aim")
