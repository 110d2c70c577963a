"""A coat that goes on beside another for its last minutes, and one begun later: planned, kept, undone, called."""

import datetime

from django.urls import reverse

from studio.clocks.models import ZoneClock
from studio.clocks.selectors import running_clocks
from studio.head.models import Coat
from studio.head.services.coat_times import work_zone
from studio.head.services.coats import add_coat
from studio.head.services.undo import undo
from studio.route.services.edit_plan import set_begin
from studio.ui.refusal import Refusal
from studio.visits.models import Zone
from tests.studio.made import make_person, make_visit, put_on_hair
from tests.studio.test_clocks import NOW, after
from tests.studio.test_sections import PlannedCase


class JoinedCase(PlannedCase):
    """A head whose crown goes on beside the rest."""

    def setUp(self) -> None:
        super().setUp()
        self.crown = self.second()

    def coat(self, zone: Zone) -> Coat:
        return zone.coats.get(removed=False)

    def join(self, minutes: str = "10", **more: object):
        return self.step(self.crown, joins=str(self.coat(self.zone).pk), minutes=minutes, **more)

    def bars(self, page) -> dict[str, tuple[float, float]]:
        """By lane, where its first bar begins and ends."""
        lanes = {lane.name: lane.bars[0] for lane in page.lanes if lane.name != "basin"}
        return {name: (float(bar.x), float(bar.x) + float(bar.width)) for name, bar in lanes.items()}


class Joined(JoinedCase):
    def test_it_goes_on_beside_the_other_for_its_last_minutes_and_both_are_rinsed_once(self) -> None:
        page = self.join().context["page"]
        bars = self.bars(page)
        self.assertAlmostEqual(bars[self.crown.name][1], bars[self.zone.name][1], places=1)
        self.assertGreater(bars[self.crown.name][0], bars[self.zone.name][0])
        self.assertEqual([row.where for row in page.order if row.words == "Rinse"], [f"{self.zone.name}, crown"])
        (row,) = [row for row in page.order if row.zone == "crown"]
        self.assertEqual((row.joined, row.on_min), (f"colour on {self.zone.name}", "10"))

    def test_unless_said_it_is_ten_minutes(self) -> None:
        """Colour is drawn through for the last ten minutes: common practice, no published source."""
        self.join(minutes="")
        self.assertEqual(self.coat(self.crown).minutes, 10)

    def test_undo_parts_them_and_as_reckoned_does(self) -> None:
        before = self.bars(self.page())
        self.join()
        undo(self.person, zone_id=self.zone.pk, version=self.bowl.version)
        self.assertEqual((self.bars(self.page()), self.coat(self.crown).joins), (before, None))
        self.join()
        self.step(self.crown, forget="1")
        self.assertEqual(self.bars(self.page()), before)

    def test_strands_in_foil_join_nothing_any_more_and_the_plan_says_so(self) -> None:
        self.join()
        Zone.objects.filter(pk=self.zone.pk).update(pattern=Zone.Pattern.WEAVE, strand_share="0.5")
        page = self.page()
        self.assertEqual(page.unjoined, (("crown", self.zone.name),))
        self.assertContains(self.client.get(reverse("route:plan", args=[self.visit.pk])), "set it anew below")

    def test_what_can_not_be_joined_is_said(self) -> None:
        other = make_visit(make_person("elsewhere", "The Other Room")).zones.get()
        strange = str(Coat.objects.filter(zone=other).first().pk)
        own = str(self.coat(self.crown).pk)
        for joins, words in ((strange, "no longer on this head"), (own, "no longer on this head"), ("x", "a number")):
            with self.subTest(joins=joins):
                self.assertContains(self.step(self.crown, joins=joins), words, status_code=422)
        self.join()
        self.assertContains(
            self.step(self.zone, joins=own), "only what stands by itself can be joined", status_code=422
        )
        nape = self.second("nape")
        self.assertContains(self.step(nape, joins=own), "only what stands by itself", status_code=422)
        for field, given in (("sections", "2"), ("rinsed_apart", "1")):
            self.assertContains(
                self.step(self.crown, **{field: given}), "sections or rinsed by itself as well", status_code=422
            )
            self.assertContains(
                self.step(self.zone, **{field: given}), "sections or rinsed by itself as well", status_code=422
            )
        self.step(nape, rinsed_apart="1")
        answer = self.step(nape, joins=str(self.coat(self.zone).pk))
        self.assertContains(answer, "nape can&#x27;t be in foil", status_code=422)
        self.assertEqual(self.page().unjoined, ())

    def test_coats_that_wait_for_one_another_are_told_and_planned_one_by_one(self) -> None:
        """Each zone's first coat joins the other's second: no hand can begin."""
        for zone in (self.zone, self.crown):
            hand = {"zone_id": zone.pk, "coat_id": self.coat(zone).pk, "version": self.bowl.version}
            add_coat(self.person, **hand, purpose="glaze")
        first, second = ({coat.purpose: coat for coat in zone.coats.all()} for zone in (self.zone, self.crown))
        for mine, there in ((first["colour"], second["glaze"]), (second["colour"], first["glaze"])):
            mine.joins = there
            mine.save()
        page = self.page()
        self.assertEqual({name for name, _ in page.unjoined}, {self.zone.name, "crown"})
        self.assertEqual(len([row for row in page.order if row.zone]), 4)

    def test_the_clock_calls_for_it_when_it_is_time(self) -> None:
        self.join()
        clock = put_on_hair(self.person, zone_id=self.zone.pk, kind="direct", now=NOW, planned_min=30)
        self.assertEqual(clock.coat_id, self.coat(self.zone).pk)
        said = {minute: self.called(minute) for minute in (15, 21)}
        self.assertEqual(said, {15: "", 21: "put it on crown, too"})
        put_on_hair(self.person, zone_id=self.crown.pk, kind="direct", now=after(21), planned_min=10)
        self.assertEqual(self.called(22), "")

    def test_the_clock_calls_when_the_plan_begins_it_where_it_takes_long_to_put_on(self) -> None:
        """Lengths that take a quarter of an hour are not begun ten minutes before the basin."""
        for typed in ("15", ""):  # typed, or as the page had reckoned it
            with self.subTest(typed=typed):
                page = self.join(apply_min=typed, reckoned_apply_min="15").context["page"]
                (row,) = [row for row in page.order if row.zone == "crown"]
                self.assertEqual((row.apply_min, row.on_min), ("15", "19"))
        put_on_hair(self.person, zone_id=self.zone.pk, kind="direct", now=NOW, planned_min=30)
        self.assertEqual((self.called(10.5), self.called(11.5)), ("", "put it on crown, too"))

    def test_of_two_that_join_each_is_called_for_in_its_time(self) -> None:
        self.join()
        nape = self.second("nape")
        self.step(nape, joins=str(self.coat(self.zone).pk), minutes="5", apply_min="2")
        put_on_hair(self.person, zone_id=self.zone.pk, kind="direct", now=NOW, planned_min=30)
        self.assertEqual(self.called(21), "put it on crown, too")
        put_on_hair(self.person, zone_id=self.crown.pk, kind="direct", now=after(21), planned_min=10)
        self.assertEqual((self.called(22), self.called(26)), ("", "put it on nape, too"))

    def called(self, minute: float) -> str:
        found = running_clocks(self.person, [self.visit.pk], after(minute))
        return next(each.called_words for each in found if each.clock.zone_id == self.zone.pk)


class Later(JoinedCase):
    def test_a_coat_waits_for_its_minute_and_for_its_time_of_day(self) -> None:
        (row,) = [row for row in self.step(self.crown, not_before="40").context["page"].order if row.zone == "crown"]
        self.assertGreaterEqual(float(row.at), 40)
        set_begin(self.person, visit_id=self.visit.pk, begins_at=datetime.time(10, 0))
        (row,) = [row for row in self.step(self.crown, not_before="11:30").context["page"].order if row.zone == "crown"]
        self.assertEqual((row.not_before, self.coat(self.crown).not_before_min), ("11:30", 90))
        self.assertGreaterEqual(row.at, "11:30")

    def test_a_time_that_can_not_be_is_refused(self) -> None:
        self.assertContains(self.step(self.crown, not_before="11:30"), "no time yet", status_code=422)
        set_begin(self.person, visit_id=self.visit.pk, begins_at=datetime.time(10, 0))
        self.assertContains(self.step(self.crown, not_before="09:30"), "earlier than the visit begins", status_code=422)
        self.assertContains(self.step(self.crown, not_before="25:99"), "no time of day", status_code=422)
        self.assertContains(self.step(self.crown, not_before="601"), "0 to 600", status_code=422)

    def test_what_is_on_already_waits_for_nothing(self) -> None:
        put_on_hair(self.person, zone_id=self.crown.pk, kind="direct", now=NOW)
        self.assertContains(self.step(self.crown, not_before="5"), "on the hair already", status_code=422)
        self.assertEqual(ZoneClock.objects.filter(zone=self.crown).count(), 1)


class Parted(PlannedCase):
    """Sections, and what is rinsed by itself, are steps that undo takes back."""

    def test_undo_makes_a_zone_whole_again(self) -> None:
        self.step(sections="2")
        undo(self.person, zone_id=self.zone.pk, version=self.bowl.version)
        self.assertEqual(Zone.objects.get(pk=self.zone.pk).sections, 1)
        self.step(rinsed_apart="1")
        undo(self.person, zone_id=self.zone.pk, version=self.bowl.version)
        self.assertFalse(Zone.objects.get(pk=self.zone.pk).rinsed_apart)

    def test_an_old_page_parts_nothing(self) -> None:
        with self.assertRaises(Refusal):
            work_zone(self.person, zone_id=self.zone.pk, version=self.bowl.version - 1, sections=2)
        self.assertEqual(Zone.objects.get(pk=self.zone.pk).sections, 1)
