"""One aim on several heads of a day, each with its own route."""

import datetime
from decimal import Decimal

from django.urls import reverse

from studio.clients.services.history import add_past
from studio.head.models import Bowl, Portion
from studio.head.services.aim import aim
from studio.head.services.pour import pour
from studio.visits.models import Visit
from studio.visits.selectors import open_zone
from studio.visits.services.read_hair import read_hair
from studio.visits.services.start_visit import start_visit
from tests.studio.made import TODAY, StudioCase, make_person, make_visit


class OneAim(StudioCase):
    """Box dye over 5, old red on 6, very light 10, and a natural 7: one parade scarlet for all."""

    @classmethod
    def setUpTestData(cls) -> None:
        super().setUpTestData()
        cls.light = make_visit(cls.person, "Ansa Korr")
        cls.boxed = cls.head("Bram Selwyn", "5")
        cls.red = cls.head("Odo Fenn", "6", old_shade="red")
        cls.natural = cls.head("Kes Marl", "7", family="natural")
        day = TODAY - datetime.timedelta(days=60)
        past = {"work": "box_dye", "part": "whole", "done_on": day, "today": TODAY}
        add_past(cls.person, client_id=cls.boxed.client_id, **past)
        before = make_visit(cls.person, "Tib Corr", TODAY - datetime.timedelta(days=1))
        start_visit(cls.person, client_id=before.client_id, day=TODAY)

    @classmethod
    def head(cls, name: str, level: str, **more: str) -> Visit:
        visit = make_visit(cls.person, name)
        read_hair(cls.person, zone_id=visit.zones.get().pk, after=1, hair={"level": Decimal(level)}, **more)
        return visit

    def page(self):
        return self.client.get(reverse("route:heads", args=[self.visit.pk]))

    def there(self, of_visit: object):
        headers = {"HX-Request": "true", "HX-Target": "main"}
        address = reverse("route:aim-there", args=[self.visit.pk])
        return self.client.post(address, {"of_visit": of_visit}, headers=headers)

    def targets(self) -> set[int]:
        aimed = Bowl.objects.filter(target_l__isnull=False, worktop__visit__day=TODAY)
        return set(aimed.values_list("worktop__visit", flat=True))

    def test_before_there_is_an_aim_the_way_leads_to_the_route(self) -> None:
        self.assertRedirects(self.page(), f"{reverse('route:route', args=[self.visit.pk])}?zone={self.zone_id}")

    @property
    def zone_id(self) -> int:
        return open_zone(self.person, self.visit.pk).zone.pk

    def test_each_head_has_its_own_route_and_what_stops_it(self) -> None:
        self.send("aim", lightness="42", chroma="60", hue="34")
        shown = {head.visit.pk: head for head in self.page().context["page"].heads}
        self.assertEqual(set(shown), {self.light.pk, self.boxed.pk, self.red.pk, self.natural.pk})
        self.assertTrue(shown[self.light.pk].reaches)
        self.assertNotIn("Lift", shown[self.light.pk].title)
        self.assertGreater(shown[self.natural.pk].off, shown[self.light.pk].off)
        self.assertEqual(shown[self.boxed.pk].title, "Lift, then colour")
        self.assertTrue(any("strand test" in stop.lower() for stop in shown[self.boxed.pk].stops))
        self.assertFalse(shown[self.light.pk].stops)
        self.assertContains(self.page(), "Not read yet: Tib Corr")

    def test_the_aim_is_taken_to_one_head_or_to_all_that_nothing_stops(self) -> None:
        self.send("aim", lightness="42", chroma="60", hue="34")
        self.assertEqual(self.there(self.light.pk).status_code, 200)
        self.assertEqual(self.targets(), {self.visit.pk, self.light.pk})
        self.assertContains(self.page(), "Has this aim")
        self.there("all")
        stopped = {head.visit.pk for head in self.page().context["page"].heads if head.stops}
        self.assertIn(self.boxed.pk, stopped)
        self.assertEqual(self.targets(), {self.visit.pk, self.light.pk, self.red.pk, self.natural.pk} - stopped)

    def test_a_head_with_an_aim_of_its_own_or_a_mixed_bowl_keeps_it(self) -> None:
        """What is chosen for all leaves other aims alone; what is mixed isn't aimed anew even by name."""
        self.send("aim", lightness="42", chroma="60", hue="34")
        for visit, mixed in ((self.light, False), (self.natural, True)):
            zone, bowl = open_zone(self.person, visit.pk).zone, Bowl.objects.get(worktop__visit=visit)
            hand = {"zone_id": zone.pk, "version": bowl.version}
            aim(self.person, **hand, lightness=Decimal(70), chroma=Decimal(20), hue=Decimal(350))
            if mixed:
                hand["version"] = Bowl.objects.get(pk=bowl.pk).version
                pour(self.person, **hand, shade_id=self.shade("Clear").pk, typed="30")
                Portion.objects.filter(bowl=bowl).update(mixed_g=30)
        self.there("all")
        kept = {visit.pk: Bowl.objects.get(worktop__visit=visit).target_l for visit in (self.light, self.natural)}
        self.assertEqual(set(kept.values()), {Decimal(70)})
        self.assertContains(self.there(self.natural.pk), "its bowl is mixed", status_code=422)
        self.assertContains(self.page(), "Keeps its aim: its bowl is mixed")
        self.there(self.light.pk)
        self.assertLess(Bowl.objects.get(worktop__visit=self.light).target_l, 50)

    def test_another_studios_head_is_no_head_of_today(self) -> None:
        self.send("aim", lightness="42", chroma="60", hue="34")
        strange = make_visit(make_person("Ballast Quay", "ballast"), "Anon Brill")
        self.assertContains(self.there(strange.pk), "No such visit of today", status_code=422)
        self.assertNotIn(strange.pk, self.targets())
        self.assertEqual(self.there("horse").status_code, 422)
