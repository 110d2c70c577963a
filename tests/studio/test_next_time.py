"""What is to be changed next time gets into the next visit by itself: minutes, strength, and the record of it."""

import datetime
from decimal import Decimal

from django.urls import reverse
from django.utils import timezone

from studio.cards.models import Formula, Tweak
from studio.cards.services.judge import note_tweak
from studio.cards.services.repeat_formula import repeat_formula
from studio.cards.services.save_formula import save_formula
from studio.clocks.models import ZoneClock
from studio.formats.card_json import card_document
from studio.head.models import Coat
from studio.head.services.change_line import change_line
from studio.head.services.pour import pour
from studio.shelf.models import Shade, ShadeLine
from studio.visits.models import Visit
from studio.visits.selectors import open_zone
from studio.visits.services.read_hair import read_hair
from studio.visits.services.start_visit import start_visit
from studio.visits.services.zones import switch_part
from tests.studio.made import TODAY, StudioCase, clear_skin, put_on_hair

LATER = TODAY.replace(day=TODAY.day + 3)


class NextTime(StudioCase):
    """A demi of 30 minutes was kept."""

    def setUp(self) -> None:
        super().setUp()
        self.now = timezone.now()
        clear_skin(self.person, self.visit.client_id, now=self.now)
        self.zone = open_zone(self.person, self.visit.pk).zone
        line = ShadeLine.objects.visible_to(self.person).get(kind="demi")
        change_line(self.person, zone_id=self.zone.pk, version=self.bowl.version, line_id=line.pk)
        shade = Shade.objects.visible_to(self.person).filter(line=line).first()
        pour(self.person, zone_id=self.zone.pk, version=self.bowl.version, shade_id=shade.pk, typed="30")
        on = self.now - datetime.timedelta(minutes=40)
        clock = put_on_hair(self.person, zone_id=self.zone.pk, kind="demi", now=on, planned_min=30)
        ZoneClock.objects.filter(pk=clock.pk).update(rinsed_at=clock.applied_at + datetime.timedelta(minutes=30))
        save_formula(self.person, visit_id=self.visit.pk, version=self.bowl.version)

    def note(self, status: int = 200, **fields: str) -> str:
        answer = self.client.post(
            reverse("result:tweak", args=[self.visit.pk]),
            {"words": "", "minutes_more": "", "vol": "", "zone": self.zone.pk} | fields,
            headers={"HX-Request": "true"},
        )
        self.assertEqual(answer.status_code, status, answer.content[:300])
        return answer.content.decode()

    def next_visit(self) -> tuple[Visit, Coat]:
        visit = start_visit(self.person, client_id=self.visit.client_id, day=LATER)
        zone = open_zone(self.person, visit.pk).zone
        read_hair(self.person, zone_id=zone.pk, after=0, hair={"level": Decimal(6)})
        return visit, Coat.objects.select_related("bowl").get(zone=zone)

    def test_eight_minutes_more_start_the_next_visit_with_thirty_eight(self) -> None:
        self.note(minutes_more="8")
        tweak = Tweak.objects.get()
        self.assertEqual((tweak.words, tweak.minutes_more), ("8 min more", Decimal(8)))
        visit, coat = self.next_visit()
        self.assertEqual(coat.minutes, Decimal(38))
        page = self.client.get(reverse("clocks:clock", args=[visit.pk])).context["page"]
        self.assertEqual(page.zones[0].start.planned_min, Decimal(38))
        tweak.refresh_from_db()
        self.assertEqual((tweak.active, tweak.used_in), (False, visit))
        card = self.client.get(reverse("cards:card", args=[self.visit.client_id])).content.decode()
        self.assertNotIn("8 min more", card)

    def test_a_repeat_takes_it_up_with_the_strength_and_again_when_it_is_repeated(self) -> None:
        self.note(words="warmer, and shorter", minutes_more="\N{MINUS SIGN}5", vol="15")
        for _ in range(2):
            visit = repeat_formula(self.person, formula_id=Formula.objects.get().pk, day=LATER)
            coat = Coat.objects.select_related("bowl").get(zone__visit=visit, removed=False)
            self.assertEqual((coat.minutes, coat.bowl.vol), (Decimal(25), Decimal(15)))
        self.assertEqual(Tweak.objects.get().used_in, visit)

    def test_a_strength_that_other_zones_would_share_is_left_for_a_hand(self) -> None:
        self.note(minutes_more="8", vol="15")
        visit = start_visit(self.person, client_id=self.visit.client_id, day=LATER)
        zone = open_zone(self.person, visit.pk).zone
        nape = switch_part(self.person, zone_id=zone.pk, part="nape")
        read_hair(self.person, zone_id=nape.pk, after=0, hair={"level": Decimal(6)})
        read_hair(self.person, zone_id=zone.pk, after=0, hair={"level": Decimal(6)})
        coat = Coat.objects.select_related("bowl__line").get(zone=zone)
        self.assertEqual((coat.minutes, coat.bowl.own_vol), (Decimal(38), None))
        self.assertTrue(Tweak.objects.get().active)

    def test_words_alone_stay_for_a_hand_to_make(self) -> None:
        self.note(words="a drop less pink")
        _, coat = self.next_visit()
        self.assertIsNone(coat.minutes)
        self.assertTrue(Tweak.objects.get().active)

    def test_what_can_not_be_is_refused_and_with_nothing_it_is_taken_back(self) -> None:
        page = self.note(status=422, minutes_more="90")
        self.assertIn("-60 to 60", page)
        self.assertIn('value="90"', page)
        self.assertIn("1 to 40", self.note(status=422, vol="80"))
        self.assertIn("needs a number", self.note(status=422, minutes_more="a bit"))
        self.assertFalse(Tweak.objects.exists())
        self.note(minutes_more="4")
        self.note()
        self.assertFalse(Tweak.objects.exists())

    def test_it_stands_in_the_cards_file(self) -> None:
        note_tweak(
            self.person,
            visit_id=self.visit.pk,
            zone_name=self.zone.name,
            words="",
            minutes_more=Decimal(8),
            vol=Decimal(15),
        )
        document = card_document(self.person, self.visit.client_id)
        back = self.taken_elsewhere(document)
        self.assertEqual(back["change_next_time"], document["change_next_time"])
        self.assertEqual(back["change_next_time"][0]["minutes_more"], 8)
