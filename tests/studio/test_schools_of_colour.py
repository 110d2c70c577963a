"""How the house fills, evens, aims past and roots, where its people meet it."""

from decimal import Decimal

from django.test import Client as Browser
from django.urls import reverse

from engine.colorimetry.lab import lch_of
from engine.hair.residue import level_of_lightness
from studio.accounts.models import Studio
from studio.head.engine_adapter import aims_of
from studio.head.models import Bowl, Coat
from studio.head.selectors import target_of
from studio.people.forms import StudioForm
from studio.visits.models import Reading, Zone
from studio.visits.services.read_hair import read_hair
from tests.studio.coat_case import CoatCase
from tests.studio.gate_case import Licensed
from tests.studio.made import StudioCase


class House(Licensed, CoatCase):
    def choose(self, route: str) -> None:
        answer = self.client.post(reverse("route:choose", args=[self.visit.pk]), {"zone": self.zone.pk, "route": route})
        self.assertLess(answer.status_code, 400)

    def test_a_route_fills_as_the_house_does_and_says_so(self) -> None:
        read_hair(self.person, zone_id=self.zone.pk, after=2, hair={"level": Decimal(10)}, family="lightened")
        self.send("aim", zone=self.zone.pk, lightness="26", chroma="14", hue="50", tapped="1")
        hues = {}
        for school in ("gold_neutral", "direct_red"):
            self.keep(fill_with=school)
            self.choose("fill")
            hues[school] = float(lch_of(target_of(self.coat("fill").bowl))[2])
            told = self.client.get(reverse("route:fill", args=[self.visit.pk]))
            self.assertContains(told, "(as the house fills)", count=1)
            self.assertTrue(self.coat("fill").bowl.pours.exists())
        self.assertGreater(hues["gold_neutral"], hues["direct_red"] + 20)
        self.keep(fill_with="missing")
        self.assertNotContains(self.client.get(reverse("route:fill", args=[self.visit.pk])), "as the house fills")

    def test_a_route_evens_porous_hair_first_where_the_house_does(self) -> None:
        read_hair(
            self.person,
            zone_id=self.zone.pk,
            after=2,
            hair={"level": Decimal(10), "porosity": Decimal("1.6")},
            family="lightened",
        )
        self.send("aim", zone=self.zone.pk, lightness="60", chroma="30", hue="10", tapped="1")
        plan = reverse("route:plan", args=[self.visit.pk])
        self.choose("deposit")
        self.assertEqual(self.purposes(), ["colour"])
        short = self.client.get(plan).context["page"].total
        self.keep(condition="equalise")
        self.assertContains(self.client.get(reverse("route:route", args=[self.visit.pk])), "Even porous hair")
        self.choose("deposit")
        self.assertEqual(self.purposes(), ["equalise", "colour"])
        self.assertEqual(float(self.bench("colour").reading.porosity), 1.3)  # what the colour meets
        self.assertNotEqual(self.client.get(plan).context["page"].total, short)
        self.choose("deposit")
        self.assertEqual(self.purposes(), ["equalise", "colour"])  # once

    def test_a_fill_is_mixed_for_hair_that_is_evened_before_it(self) -> None:
        porous = {"level": Decimal(10), "porosity": Decimal("1.6")}
        read_hair(self.person, zone_id=self.zone.pk, after=2, hair=porous, family="lightened")
        self.send("aim", zone=self.zone.pk, lightness="26", chroma="14", hue="50", tapped="1")
        filled = {}
        for condition in ("clean", "equalise"):
            self.keep(condition=condition)
            self.choose("fill")
            coat = self.coat("fill")
            filled[condition] = dict(coat.bowl.pours.values_list("shade__name", "grams"))
        self.assertEqual(self.purposes()[:2], ["equalise", "fill"])
        self.assertEqual(float(self.bench("fill").reading.porosity), 1.3)
        self.assertNotEqual(filled["clean"], filled["equalise"])  # evened hair takes less: the bowl is stronger

    def test_a_bowl_is_steered_past_its_aim_and_told_by_it(self) -> None:
        Reading.objects.filter(zone__visit=self.visit).update(level=10, family="lightened")
        self.send("aim", zone=self.zone.pk, lightness="58", chroma="34", hue="8", tapped="1")
        panel = {"answers": 1, "zone": self.zone.pk}
        on = self.client.get(self.on_bench("bench"), panel).context["page"].panel.answers
        self.keep(over_tone="past")
        over = self.client.get(self.on_bench("bench"), panel)
        self.assertContains(over, "slightly past the aim, as the house does")
        found = over.context["page"].panel.answers
        self.assertNotEqual(found.recipes[0].pours, on.recipes[0].pours)
        self.assertGreater(found.recipes[0].delta_e00, on.recipes[0].delta_e00)
        aim = aims_of(self.bench("colour"))[0]
        self.assertLess(float(aim.steer_lab[0]), float(aim.target_lab[0]))
        self.add("pre_tone")
        self.send("aim", zone=self.zone.pk, coat_id=self.coat("pre_tone").pk, lightness="80", chroma="8", hue="60")
        self.assertIsNone(aims_of(self.bench("pre_tone"))[0].steer_lab)  # what is covered is on its aim


class Roots(Licensed):
    def setUp(self) -> None:
        super().setUp()
        self.send("zones", way="two")

    def zone(self, name: str) -> Zone:
        return Zone.objects.get(visit=self.visit, name=name, removed=False)

    def bowl_of(self, name: str) -> Bowl:
        return Coat.objects.select_related("bowl").get(zone=self.zone(name), removed=False).bowl

    def give(self, look: str, zone: str = "roots", status: int = 200) -> str:
        answer = self.send("zones", way="root", root=look, zone=self.zone(zone).pk)
        self.assertEqual(answer.status_code, status)
        return answer.content.decode()

    def aim(self) -> None:
        self.send("aim", lightness="62", chroma="40", hue="10", zone=self.zone("lengths").pk, everywhere="1")

    def test_a_shadow_needs_the_lengths_aim_and_gets_a_bowl_of_its_own_below_it(self) -> None:
        self.assertIn("Aim the lengths first", self.give("shadow", status=422))
        self.assertEqual(self.bowl_of("roots"), self.bowl_of("lengths"))
        self.aim()
        self.give("shadow")
        self.assertNotEqual(self.bowl_of("roots"), self.bowl_of("lengths"))
        root, lengths = (level_of_lightness(target_of(self.bowl_of(name))[0]) for name in ("roots", "lengths"))
        self.assertAlmostEqual(float(lengths) - float(root), 2.0, places=1)
        self.send("walk", way="undo", zone=self.zone("roots").pk)
        self.assertEqual(self.bowl_of("roots"), self.bowl_of("lengths"))

    def test_a_tap_reaches_two_centimetres_and_solid_is_the_lengths_again(self) -> None:
        self.aim()
        self.give("tap")
        self.assertEqual((self.zone("roots").from_cm, self.zone("roots").to_cm), (0, 2))
        self.give("solid")
        self.assertEqual(self.bowl_of("roots"), self.bowl_of("lengths"))
        self.assertIsNone(self.zone("roots").to_cm)

    def test_a_natural_root_gets_nothing_until_it_is_given_something(self) -> None:
        self.aim()
        self.give("natural")
        self.assertTrue(self.zone("roots").left_alone)
        self.give("solid")
        self.assertFalse(self.zone("roots").left_alone)

    def test_a_stretch_that_was_typed_stays(self) -> None:
        Zone.objects.filter(pk=self.zone("roots").pk).update(from_cm=0, to_cm=4)
        self.aim()
        self.give("shadow")
        self.assertEqual(self.zone("roots").to_cm, 4)

    def test_what_can_not_be_is_told(self) -> None:
        self.aim()
        self.assertIn("Choose what the root gets", self.give("glitter", status=422))
        self.assertIn("Only a root that has lengths", self.give("shadow", "lengths", status=422))

    def test_the_house_s_look_is_proposed_for_roots_alone(self) -> None:
        self.keep(root_look="tap")
        panel = {"zones": 1, "zone": self.zone("roots").pk}
        proposed = self.client.get(self.on_bench("bench"), panel).content.decode()
        self.assertRegex(proposed, r'<option value="tap"\s+selected>')
        panel["zone"] = self.zone("lengths").pk
        self.assertNotContains(self.client.get(self.on_bench("bench"), panel), 'name="root"')


class ANewStudio(StudioCase):
    def typed(self, **more: str) -> dict[str, str]:
        form = StudioForm()
        usual = {field.name: field.value() or "" for field in form}
        mine = {"studio": "Tar Barrel Row", "time_zone": "UTC", "language": "en-gb", "unit": "g", "name": "Maeve Orrin"}
        return usual | mine | {"username": "maeve", "password": "herring by lantern light"} | more

    def test_its_schools_are_asked_with_what_is_usual_and_kept(self) -> None:
        browser = Browser()
        page = browser.get(reverse("people:begin"))
        self.assertContains(page, "How your house works")
        self.assertNotContains(page, "our own ladder")
        chosen = {"school": "orange_at_8", "root_look": "natural", "fill_with": "brown", "bowl_min": "30"}
        self.assertEqual(browser.post(reverse("people:begin"), self.typed(**chosen)).status_code, 302)
        house = Studio.objects.get(name="Tar Barrel Row")
        self.assertEqual({name: str(getattr(house, name)) for name in chosen}, chosen)
        self.assertEqual((house.over_tone, house.check_min), ("on_aim", 5))

    def test_a_school_that_nobody_has_is_refused(self) -> None:
        for wrong in ({"school": "own"}, {"root_look": "glitter"}, {"bowl_min": "1"}):
            answer = Browser().post(reverse("people:begin"), self.typed(**wrong))
            self.assertContains(answer, 'role="alert"', status_code=422)
            self.assertRegex(answer.content.decode(), r"<details[^>]* open>")
            usual = "15" if "bowl_min" not in wrong else "5"  # what was right stays chosen
            self.assertRegex(answer.content.decode(), rf'<option value="{usual}"\s+selected>')
        self.assertFalse(Studio.objects.filter(name="Tar Barrel Row").exists())
