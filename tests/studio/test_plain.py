"""Coats that nothing is mixed for (remover, equaliser, seal): what they are, their clocks and gates, and the card."""

import datetime
from decimal import Decimal
from uuid import uuid4

from django.urls import reverse
from django.utils import timezone

from studio.cards.models import Formula
from studio.cards.services.repeat_formula import repeat_formula
from studio.cards.services.save_formula import save_formula
from studio.clocks.models import ZoneClock
from studio.formats.card_json import card_document
from studio.head.models import Coat
from tests.studio.coat_case import CoatCase
from tests.studio.made import TODAY, clear_skin, put_on_hair


class Plain(CoatCase):
    def setUp(self) -> None:
        super().setUp()
        self.now = timezone.now()
        clear_skin(self.person, self.visit.client_id, now=self.now)
        self.pour_in("colour", "Orchil", "4")

    def coat(self, purpose: str) -> Coat:
        return Coat.objects.get(zone=self.zone, purpose=purpose, removed=False)

    def say(self, purpose: str, status: int = 200, **fields: str) -> str:
        answer = self.send("coats", way="name", of_coat=self.coat(purpose).pk, coat_id=self.coat("colour").pk, **fields)
        self.assertEqual(answer.status_code, status, answer.content[:300])
        return answer.content.decode()

    def test_it_is_named_weighed_and_timed_in_the_panel_and_undo_takes_that_back(self) -> None:
        self.add("equalise")
        page = self.say("equalise", product="Quay rinse", plain_grams="12,5", minutes="4")
        self.assertIn('value="Quay rinse"', page)
        coat = self.coat("equalise")
        self.assertEqual((coat.product, coat.grams, coat.minutes), ("Quay rinse", Decimal("12.5"), Decimal(4)))
        self.send("walk", way="undo")
        self.assertEqual(self.coat("equalise").product, "")
        self.send("walk", way="redo")
        self.assertEqual(self.coat("equalise").grams, Decimal("12.5"))

    def test_what_can_not_be_is_refused_and_nothing_is_lost(self) -> None:
        self.add("remove")
        for fields, said in (
            ({"plain_grams": "5000"}, "Amount"),
            ({"vol": "60"}, "vol"),
            ({"minutes": "400"}, "Minutes"),
            ({"product": "Ebb", "plain_grams": "much"}, "needs a number"),
        ):
            self.assertIn(said, self.say("remove", status=422, **fields))
        self.assertEqual((self.coat("remove").product, self.coat("remove").grams), ("", None))
        page = self.say("remove", status=422, product="Ebb rinse", plain_grams="much")
        self.assertIn('value="Ebb rinse"', page)
        self.assertRegex(page, r'(?s)data-coats>.*role="alert">Amount needs a number')
        colour = self.coat("colour")
        answer = self.send("coats", way="name", of_coat=colour.pk, coat_id=colour.pk, product="Ebb")
        self.assertContains(answer, "weighed on Pour", status_code=422)

    def test_the_clock_opens_on_each_with_its_minutes(self) -> None:
        for purpose, kind, minutes in (("remove", "remover", "20"), ("equalise", "equaliser", "4")):
            self.add(purpose)
            if purpose == "equalise":
                self.say(purpose, minutes=minutes)
            page = self.client.get(reverse("clocks:clock", args=[self.visit.pk])).context["page"]
            self.assertEqual((page.zones[0].kind, page.zones[0].start.planned_min), (kind, Decimal(minutes)))
            clock = put_on_hair(self.person, zone_id=self.zone.pk, kind=kind, now=self.now, planned_min=3)
            self.assertEqual(clock.coat, self.coat(purpose))
            ZoneClock.objects.filter(pk=clock.pk).update(rinsed_at=self.now)
            Coat.objects.filter(pk=clock.coat_id).update(worked_min=Decimal(3))
        self.assertIn("on the hair already", self.say("equalise", status=422, minutes="9"))

    def test_a_remover_with_peroxide_asks_what_peroxide_asks(self) -> None:
        client = self.visit.client
        client.born_on = self.visit.day - datetime.timedelta(days=365 * 14)
        client.save()
        self.add("remove")

        def codes() -> set[str]:
            page = self.client.get(reverse("clocks:clock", args=[self.visit.pk])).context["page"]
            return {gate.gate.code for gate in page.zones[0].gates}

        without = codes()
        self.say("remove", vol="20")
        self.assertTrue(codes() - without)
        self.say("remove", vol="")  # emptied: there is none in it
        self.assertEqual(codes(), without)

    def test_a_fill_without_developer_may_stay_on_for_fifty_minutes(self) -> None:
        self.add("fill")
        start = {"kind": "fill", "minutes": "50", "batches": "1", "zone": self.zone.pk}
        answer = self.client.post(reverse("clocks:start", args=[self.visit.pk]), start, headers={"HX-Request": "true"})
        self.assertEqual(answer.status_code, 200)
        clock = ZoneClock.objects.get()
        self.assertEqual((clock.planned_min, clock.kind), (50, "fill"))
        page = self.client.get(reverse("clocks:clock", args=[self.visit.pk])).context["page"]
        self.assertEqual(page.zones[0].running.calls[-1].at_min, 60)

    def test_the_card_tells_them_and_its_file_goes_round(self) -> None:
        for purpose in ("equalise", "remove", "seal"):
            self.add(purpose)
        self.say("equalise", product="Quay rinse", plain_grams="12")
        Coat.objects.filter(purpose="seal").update(begun=True, worked_min=Decimal(2))
        save_formula(self.person, visit_id=self.visit.pk, version=self.bowl.version)
        formula = Formula.objects.get()
        words = ["before: equalise, Quay rinse, 12 g", "after: seal, 2 min"]
        self.assertEqual(formula.beside_words, words)  # nobody said that the remover was used
        card = self.client.get(reverse("cards:card", args=[self.visit.client_id])).content.decode()
        self.assertIn("Before: equalise, Quay rinse, 12 g", card)
        document = card_document(self.person, self.visit.client_id)
        back = self.taken_elsewhere(document)
        self.assertEqual(back["formulas"], document["formulas"])
        self.assertEqual(len(back["formulas"][0]["beside"]), 2)

    def test_repeated_from_the_card_they_go_on_beside_its_colour_again_but_remover_does_not(self) -> None:
        for purpose in ("equalise", "remove", "seal"):
            self.add(purpose)
        self.say("equalise", product="Quay rinse", plain_grams="12", minutes="4")
        self.say("remove", product="Ebb")
        Coat.objects.filter(purpose="seal").update(begun=True, worked_min=Decimal(2))
        save_formula(self.person, visit_id=self.visit.pk, version=self.bowl.version)
        later = repeat_formula(self.person, formula_id=Formula.objects.get().pk, day=TODAY.replace(year=TODAY.year + 1))
        coats = list(Coat.objects.filter(zone__visit=later, removed=False))
        self.assertEqual([coat.purpose for coat in coats], ["equalise", "colour", "seal"])
        first, colour, last = coats
        self.assertEqual((first.product, first.grams, first.minutes, first.bowl), ("Quay rinse", 12, 4, None))
        self.assertEqual((last.minutes, last.begun), (2, False))
        self.assertIsNotNone(colour.bowl)

    def test_what_two_recipes_of_one_coat_tell_goes_on_once(self) -> None:
        self.add("equalise")
        self.say("equalise", product="Quay rinse")
        save_formula(self.person, visit_id=self.visit.pk, version=self.bowl.version)
        again = Formula.objects.get()
        again.pk, again.uid, again.bowl_number = None, uuid4(), 2
        again.save()
        first = Formula.objects.order_by("pk").first()
        later = repeat_formula(self.person, formula_id=first.pk, day=TODAY.replace(year=TODAY.year + 1))
        purposes = list(Coat.objects.filter(zone__visit=later, removed=False).values_list("purpose", flat=True))
        self.assertEqual(purposes.count("equalise"), 1)

    def test_strands_and_stretch_come_back_from_the_card(self) -> None:
        zone = self.zone
        zone.pattern, zone.strand_share, zone.from_cm, zone.to_cm = "chunky_weave", Decimal("0.4"), 2, 20
        zone.save()
        save_formula(self.person, visit_id=self.visit.pk, version=self.bowl.version)
        later = repeat_formula(self.person, formula_id=Formula.objects.get().pk, day=TODAY.replace(year=TODAY.year + 1))
        again = later.zones.get(removed=False)
        self.assertEqual(
            (again.pattern, again.strand_share, again.from_cm, again.to_cm), ("chunky_weave", Decimal("0.4"), 2, 20)
        )
