"""The zones of a head set at once from Read, and what follows for the bench."""

import datetime
from decimal import Decimal

from django.urls import reverse
from django.utils import timezone

from studio.cards.models import Formula
from studio.cards.services.save_formula import save_formula
from studio.clocks.models import ZoneClock
from studio.clocks.services.run import rinse
from studio.head.models import Coat, Worktop
from studio.head.services.coats import add_coat
from studio.visits.models import Reading, Zone
from studio.visits.selectors import open_zone
from studio.visits.services.read_hair import read_hair
from studio.visits.services.start_visit import start_visit
from studio.visits.services.zones import switch_part
from tests.studio.made import TODAY, clear_skin, put_on_hair
from tests.studio.test_zones import ZoneCase


class ZoneSets(ZoneCase):
    def set(self, zone: str = "whole head", status: int = 200, **fields: str):
        answer = self.client.post(
            reverse("visits:zones", args=[self.visit.pk]),
            {"zone": self.zone(zone).pk} | fields,
            headers={"HX-Request": "true", "HX-Target": "main"},
        )
        self.assertEqual(answer.status_code, status, answer.content[:300])
        return answer

    def test_one_press_parts_the_head_and_its_panel_stays_open(self) -> None:
        answer = self.set(parting="three")
        self.assertEqual(self.names(), ["roots", "mids", "ends"])
        self.assertRegex(answer.content.decode(), r'(?s)id="add-zone"[^>]*\bopen\b')
        self.assertEqual({self.bowl_of(name).pk for name in self.names()}, {self.bowl.pk})

    def test_roots_that_come_later_still_stand_before_the_lengths(self) -> None:
        self.set(switch="frame")
        self.set("face frame", switch="roots")
        self.assertEqual(self.names(), ["roots", "lengths", "face frame"])
        self.set("lengths", switch="mids")
        self.assertEqual(self.names(), ["roots", "mids", "ends", "face frame"])
        self.set("ends", parting="whole")
        self.assertEqual(self.names(), ["whole head", "face frame"])

    def test_mids_are_of_the_lengths_whichever_zone_is_in_hand(self) -> None:
        self.set(parting="two")
        lengths = self.zone("lengths")
        read_hair(self.person, zone_id=lengths.pk, after=1, hair={"level": Decimal(6)})
        self.set("roots", switch="mids")
        self.assertEqual(self.zone("mids").readings.first().level, 6)

    def test_lengths_keep_their_name_where_ends_stand_beside_them(self) -> None:
        self.set(parting="two")
        self.send("zones", way="add", zone=self.zone("lengths").pk, part="ends", name="ends")
        self.set("roots", switch="mids")
        self.assertEqual(sorted(self.names()), ["ends", "lengths", "mids", "roots"])

    def test_a_part_is_switched_off_again_and_one_zone_stays(self) -> None:
        self.set(switch="nape")
        self.set("nape", switch="nape")
        self.assertEqual(self.names(), ["whole head"])
        self.assertContains(self.set(switch="whole", status=422), "only zone of the head", status_code=422)
        self.assertContains(self.set(switch="fringe", status=422), "Choose which part", status_code=422)
        self.assertEqual(self.names(), ["whole head"])

    def test_halves_are_half_each_of_what_the_frame_leaves(self) -> None:
        self.set(parting="halves")
        self.set("left half", switch="frame")
        needs = [
            row.needs for row in self.client.get(reverse("route:plan", args=[self.visit.pk])).context["page"].bowls
        ]
        self.assertEqual(self.names(), ["face frame", "left half", "right half"])
        self.assertEqual(len(needs), 1)

    def test_each_half_is_drawn_on_its_side_of_the_head(self) -> None:
        self.set(parting="halves")
        right = self.zone("right half")
        read_hair(self.person, zone_id=right.pk, after=1, hair={"level": Decimal(3)})
        views = {view.name: view for view in self.set("right half", parting="halves").context["page"].head}
        hexes = {name: {strokes.hex for strokes in view.strokes} for name, view in views.items()}
        self.assertEqual(len(hexes["left side"] & hexes["right side"]), 0)
        self.assertEqual(hexes["front"], hexes["left side"] | hexes["right side"])
        chosen = {region.path for region in views["front"].regions if region.chosen}
        self.assertTrue(chosen and len(chosen) < len(views["front"].regions))

    def test_undo_brings_the_whole_head_back(self) -> None:
        self.set(parting="two")
        self.send("walk", way="undo", zone=self.zone("roots").pk)
        self.assertEqual(self.names(), ["whole head"])

    def test_a_head_that_was_lifted_is_parted_with_its_lift(self) -> None:
        hand = add_coat(self.person, zone_id=self.zone("whole head").pk, version=self.bowl.version, purpose="lift")
        Coat.objects.filter(pk=hand.coat_id).update(begun=True, worked_min=Decimal(25))
        read_hair(self.person, zone_id=hand.zone_id, after=1, hair={"level": Decimal(11)}, after_coats=1)
        self.set(parting="two")
        for name in ("roots", "lengths"):
            lift, colour = self.zone(name).coats.all()
            self.assertEqual((lift.purpose, lift.begun, lift.worked_min), ("lift", True, Decimal(25)))
            self.assertFalse(colour.begun)
            self.assertEqual([each.after_coats for each in self.zone(name).readings.all()], [1, 0])
        self.set("roots", switch="nape")  # hair from elsewhere has nothing on yet
        self.assertFalse(self.zone("nape").coats.filter(begun=True).exists())

    def test_the_card_tells_how_long_it_was_on_before_the_head_was_parted(self) -> None:
        now = timezone.now()
        clear_skin(self.person, self.visit.client_id, now=now)
        whole = self.zone("whole head")
        self.send("pour", zone=whole.pk, shade=self.shade("Orchil").pk, grams="3")
        ago = now - datetime.timedelta(minutes=40)
        clock = put_on_hair(self.person, zone_id=whole.pk, kind="direct", now=ago, planned_min=25)
        ZoneClock.objects.filter(pk=clock.pk).update(boot_id="")
        rinse(self.person, clock_id=clock.pk, now=ago + datetime.timedelta(minutes=24))
        self.set(parting="two")
        save_formula(self.person, visit_id=self.visit.pk, version=self.bowl.version)
        kept = {each.zone_name: each.process_min for each in Formula.objects.all()}
        self.assertEqual(kept, {"roots": 24, "lengths": 24})

    def test_hair_that_was_worked_on_is_not_made_one_with_other_hair(self) -> None:
        self.set(parting="two")
        Coat.objects.filter(zone=self.zone("roots")).update(begun=True, worked_min=Decimal(20))
        for fields in ({"parting": "whole"}, {"switch": "roots"}):
            self.assertContains(self.set("roots", status=422, **fields), "roots has been worked on", status_code=422)
        self.assertEqual(self.names(), ["roots", "lengths"])
        self.set("lengths", switch="mids")  # beside it nothing is lost
        self.assertEqual(self.names(), ["roots", "mids", "ends"])

    def test_what_is_on_the_hair_now_keeps_its_zone(self) -> None:
        Coat.objects.filter(zone=self.zone("whole head")).update(begun=True)
        self.assertContains(self.set(parting="two", status=422), "rinse it before the zones", status_code=422)
        self.assertEqual(self.names(), ["whole head"])

    def test_hair_that_is_first_read_has_its_bowl_at_once_and_looking_opens_none(self) -> None:
        visit = start_visit(self.person, client_id=self.visit.client_id, day=TODAY.replace(day=TODAY.day + 6))
        zone = open_zone(self.person, visit.pk).zone
        switch_part(self.person, zone_id=zone.pk, part="roots")
        self.assertFalse(Worktop.objects.filter(visit=visit).exists())
        roots, lengths = Zone.objects.filter(visit=visit, removed=False)
        for zone in (roots, lengths):
            read_hair(self.person, zone_id=zone.pk, after=0, hair={"level": Decimal(9)})
        before = list(Coat.objects.filter(zone__visit=visit).values_list("zone", "bowl"))
        self.assertEqual([zone for zone, _ in before], [roots.pk, lengths.pk])
        for name in ("bench:bench", "pour:pour", "route:plan", "clocks:clock"):
            self.assertEqual(self.client.get(reverse(name, args=[visit.pk])).status_code, 200)
        self.assertEqual(list(Coat.objects.filter(zone__visit=visit).values_list("zone", "bowl")), before)

    def test_the_card_tells_the_zones_from_root_to_end(self) -> None:
        self.set(switch="roots")
        self.send("pour", zone=self.zone("roots").pk, shade=self.shade("Orchil").pk, grams="3")
        save_formula(self.person, visit_id=self.visit.pk, version=self.bowl.version)
        kept = Formula.objects.order_by("zone_position").values_list("zone_name", flat=True)
        self.assertEqual(list(kept), ["roots", "lengths"])
        self.assertEqual(Reading.objects.filter(zone__visit=self.visit, zone__removed=False).count(), 2)
