"""Clocks and chairs: started once, called in time, stopped at the pack's most, whatever the server's clock does."""

import datetime
import json
import re
from decimal import Decimal
from unittest.mock import patch

from django.urls import reverse
from django.utils import timezone

from engine.service.lift import MOST_MIN, clock_minutes
from studio.chairs.selectors import chairs_of, clashes_of
from studio.clients.models import SkinTest
from studio.clocks.models import ZoneClock
from studio.clocks.seen import seen
from studio.clocks.selectors import mixed_bowls, running_clocks
from studio.clocks.services.note import take_rinse_back
from studio.clocks.services.run import give_time, rinse
from studio.demo.load import load_demo
from studio.demo.today import seat_today
from studio.head.models import Coat
from studio.head.services.coats import add_coat, set_coat
from studio.head.services.open_bowl import open_bowl
from studio.pour.models import Batch
from studio.route.services.edit_plan import set_begin
from studio.shelf.forms import LineForm
from studio.shelf.models import ShadeLine
from studio.shelf.services.set_house import set_line
from studio.ui.refusal import Refusal
from studio.visits.models import Consult, Reading
from studio.visits.selectors import open_zone
from studio.visits.services.read_hair import read_hair
from studio.visits.services.zones import add_zone
from tests.studio.made import StudioCase, clear_skin, make_person, make_visit, put_on_hair

NOW = datetime.datetime(2026, 11, 24, 14, 0, tzinfo=datetime.UTC)


def after(minutes: float) -> datetime.datetime:
    return NOW + datetime.timedelta(minutes=minutes)


class ClockCase(StudioCase):
    @property
    def zone(self):
        return open_zone(self.person, self.visit.pk).zone

    def start(self, kind: str = "direct", minutes: float = 30, **more: object) -> ZoneClock:
        more.setdefault("now", NOW)
        if kind == "lightener" and not SkinTest.objects.exists():
            clear_skin(self.person, self.visit.client_id, now=more["now"])
        return put_on_hair(self.person, zone_id=self.zone.pk, kind=kind, planned_min=minutes, **more)

    def seen(self, minutes: float):
        return running_clocks(self.person, [self.visit.pk], after(minutes))[0]

    def at(self, name: str) -> str:
        return reverse(f"clocks:{name}", args=[self.visit.pk])


class OpensOnItsCoat(ClockCase):
    """The clock proposes what the zone's route does next, with its minutes."""

    def proposed(self) -> tuple[str, str]:
        timed = self.client.get(self.at("clock")).context["page"].zones[0]
        return timed.kind, timed.lift_min

    def test_a_planned_lift_comes_first_for_as_long_as_it_may_take(self) -> None:
        clear_skin(self.person, self.visit.client_id, now=NOW)
        level = self.zone_read().level
        hand = add_coat(self.person, zone_id=self.zone.pk, version=self.bowl.version, purpose="lift")
        set_coat(self.person, zone_id=self.zone.pk, coat_id=hand.coat_id, version=self.bowl.version, to_level=level + 1)
        kind, minutes = self.proposed()
        self.assertEqual((kind, minutes), ("lightener", f"{clock_minutes(1, 20, float(self.zone_read().porosity)):g}"))
        self.assertTrue(5 <= float(minutes) < MOST_MIN)
        form = {"zone": self.zone.pk, "kind": "lightener", "minutes": "", "lift_min": minutes, "vol": 20, "guarded": 1}
        self.client.post(self.at("start"), {**form, "to_level": level + 1})
        clock = ZoneClock.objects.get()
        self.assertEqual(float(clock.planned_min), float(minutes))
        rinse(self.person, clock_id=clock.pk, now=timezone.now())
        self.assertEqual(self.proposed()[0], "direct")

    def test_half_time_is_called_only_where_something_joins(self) -> None:
        fill = self.start("fill", 20)
        self.assertNotIn("half time", self.seen(11).called_words)
        fill.delete()
        self.start("direct", 30)
        self.assertNotIn("half time", self.seen(16).called_words)
        ends = add_zone(self.person, like_zone_id=self.zone.pk, part="ends", name="ends")
        open_bowl(self.person, zone_id=ends.pk)
        self.assertIn("half time", self.seen(16).called_words)
        put_on_hair(self.person, zone_id=ends.pk, kind="direct", planned_min=15, now=after(15))
        self.assertNotIn("half time", self.seen(16).called_words)

    def test_lifted_hair_is_read_once_and_the_colour_comes_next(self) -> None:
        clear_skin(self.person, self.visit.client_id, now=NOW)
        hand = add_coat(self.person, zone_id=self.zone.pk, version=self.bowl.version, purpose="lift")
        self.send("pour", shade=self.shade("Orchil").pk, grams="3", zone=self.zone.pk)
        lift = put_on_hair(self.person, zone_id=self.zone.pk, kind="lightener", planned_min=20, now=after(0))
        self.assertEqual(lift.coat_id, hand.coat_id)
        rinse(self.person, clock_id=lift.pk, now=after(20))
        page = self.client.get(self.at("clock")).context["page"]
        self.assertTrue(page.is_lifted)
        self.assertFalse(page.starts_next)
        number = self.zone_read().number
        lifted = {"level": Decimal("10.5")}
        read_hair(self.person, zone_id=self.zone.pk, after=number, hair=lifted, after_lift=True, after_coats=1)
        page = self.client.get(self.at("clock")).context["page"]
        self.assertEqual((page.is_lifted, page.starts_next, page.zones[0].kind), (False, True, "direct"))

    def test_a_result_is_judged_when_no_mixed_coat_is_to_come(self) -> None:
        self.send("pour", shade=self.shade("Orchil").pk, grams="3", zone=self.zone.pk)
        colour = self.start("direct", 20)
        add_coat(self.person, zone_id=self.zone.pk, version=self.bowl.version, purpose="glaze")
        rinse(self.person, clock_id=colour.pk, now=after(20))
        page = self.client.get(self.at("clock")).context["page"]
        self.assertEqual((page.waits, page.judges_next), (False, True))  # nothing is mixed for the glaze
        glaze = Coat.objects.get(purpose="glaze")
        hand = {"zone": self.zone.pk, "coat_id": glaze.pk}
        shade = glaze.bowl.line.shades.first()
        self.send("pour", shade=shade.pk, grams="2", **hand)
        answer = self.client.get(self.at("clock"))
        page = answer.context["page"]
        self.assertEqual((page.waits, page.judges_next, page.starts_next), (True, False, True))
        self.assertContains(answer, "Judge the result")  # what was passed over need not be put on

    def test_a_fill_comes_before_the_colour(self) -> None:
        add_coat(self.person, zone_id=self.zone.pk, version=self.bowl.version, purpose="fill")
        self.assertEqual(self.proposed()[0], "fill")
        rinse(self.person, clock_id=self.start("fill", 20).pk, now=after(20))
        self.assertEqual(self.proposed()[0], "direct")

    def test_a_lift_that_is_off_is_history_and_one_that_is_on_still_is_not(self) -> None:
        past = self.visit.client.past.filter(work="lift")
        clock = self.start("lightener", 30)
        self.assertFalse(past.exists())
        rinse(self.person, clock_id=clock.pk, now=after(20))
        rinse(self.person, clock_id=clock.pk, now=after(21))
        lift = past.get()
        self.assertEqual((lift.part, lift.done_on), ("whole", self.visit.day))
        self.assertIn("to level", lift.note)
        take_rinse_back(self.person, clock_id=clock.pk)
        self.assertFalse(past.exists())

    def zone_read(self) -> Reading:
        reading = open_zone(self.person, self.visit.pk).reading
        assert reading is not None
        return reading


class Running(ClockCase):
    def test_started_twice_it_is_one_clock_and_something_else_waits_for_the_rinse(self) -> None:
        first, again = self.start(), self.start(now=after(1))
        self.assertEqual((first.pk, again.applied_at), (again.pk, NOW))
        with self.assertRaises(Refusal) as refused:
            self.start("mask", 5)
        self.assertEqual(refused.exception.code, "clock_running")
        rinse(self.person, clock_id=first.pk, now=after(30))
        self.assertNotEqual(self.start("mask", 5, now=after(31)).pk, first.pk)

    def test_it_calls_rinse_and_stop(self) -> None:
        self.start()
        self.assertEqual(self.seen(29).called_words, "")
        self.assertIn("in 1 min", self.seen(29).coming_words)
        self.assertEqual(self.seen(31).called_words, "rinse")
        self.assertTrue(self.seen(61).standing.is_alarm)

    def test_a_start_without_minutes_takes_those_that_its_coat_was_given(self) -> None:
        set_coat(self.person, zone_id=self.zone.pk, version=self.bowl.version, minutes=Decimal(22))
        offers = self.client.get(self.at("clock"))
        self.assertContains(offers, "direct, 22 min")
        self.assertContains(offers, "toner, 10 min")  # what is no toner's coat says nothing of how long one is on
        self.client.post(self.at("start"), {"zone": self.zone.pk, "kind": "direct", "minutes": ""})
        self.assertEqual(ZoneClock.objects.get().planned_min, 22)

    def test_a_lines_own_pack_says_how_long_and_when_it_stops(self) -> None:
        self.person.licensed = True
        self.person.save()
        line = self.bowl.line
        fields = {name: getattr(line, name) for name in LineForm.Meta.fields}
        given = {**fields, "pack_usual_min": "15", "pack_most_min": "20"}
        answer = self.client.post(reverse("shelf:line", args=[line.pk]), given)
        self.assertEqual(answer.status_code, 302)
        self.assertContains(self.client.get(self.at("clock")), "direct, 15 min")
        with self.assertRaises(Refusal):
            self.start("direct", 21)
        clock = self.start("direct", 15)
        self.assertEqual(self.seen(16).called_words, "rinse")
        self.assertTrue(self.seen(20).standing.is_alarm)
        with self.assertRaises(Refusal):
            give_time(self.person, clock_id=clock.pk, minutes=Decimal(6))
        # The pack is set right while it is on: it stops by the new most, and the page goes on.
        set_line(self.person, line_id=line.pk, says={**given, "pack_usual_min": None, "pack_most_min": Decimal(12)})
        self.assertTrue(self.seen(12).standing.is_alarm)
        wrong = self.client.post(reverse("shelf:line", args=[line.pk]), {**given, "pack_usual_min": "25"})
        self.assertContains(wrong, "asks for more minutes than it allows", status_code=422)

    def test_an_answered_call_is_silent_and_the_next_one_is_not(self) -> None:
        clock = self.start("lightener", 30)
        self.client.post(self.at("act"), {"clock": clock.pk, "answer": self.seen(6).answer_min})
        self.assertFalse(self.seen(7).standing.called)
        self.assertTrue(self.seen(11).standing.called)

    def test_after_a_lift_the_way_leads_to_reading_and_after_a_colour_to_judging(self) -> None:
        rinse(self.person, clock_id=self.start("lightener", 30).pk, now=after(25))
        self.assertContains(self.client.get(self.at("clock")), "Read the lifted hair")
        self.assertEqual(chairs_of(self.person, self.visit.day, after(26))[0].stage, "read")
        rinse(self.person, clock_id=self.start("direct", 30, now=after(30)).pk, now=after(55))
        self.assertContains(self.client.get(self.at("clock")), "Judge the result")

    def test_the_zone_that_was_rinsed_last_is_judged_whichever_is_in_hand(self) -> None:
        ends = add_zone(self.person, like_zone_id=self.zone.pk, part="ends", name="lower half")
        self.assertNotEqual(self.zone.pk, ends.pk)
        clock = put_on_hair(self.person, zone_id=ends.pk, kind="direct", planned_min=30, now=NOW)
        rinse(self.person, clock_id=clock.pk, now=after(30))
        leads = f'href="{reverse("result:result", args=[self.visit.pk])}?zone={ends.pk}">Judge the result'
        self.assertContains(self.client.get(self.at("clock")), leads)

    def test_more_time_goes_up_to_the_packs_most(self) -> None:
        clock = self.start("lightener", 45)
        answer = self.client.post(self.at("act"), {"clock": clock.pk, "more": "5"}, headers={"HX-Request": "true"})
        self.assertEqual(answer.status_code, 200)
        answer = self.client.post(self.at("act"), {"clock": clock.pk, "more": "5"}, headers={"HX-Request": "true"})
        self.assertContains(answer, "Minutes: 0.5 to 50", status_code=422)

    def test_rinsed_twice_the_first_moment_stands(self) -> None:
        clock = self.start()
        rinse(self.person, clock_id=clock.pk, now=after(20))
        self.assertEqual(rinse(self.person, clock_id=clock.pk, now=after(25)).rinsed_at, after(20))

    def test_a_start_by_mistake_is_taken_back(self) -> None:
        clock = self.start()
        self.client.post(self.at("act"), {"clock": clock.pk, "forget": "1"})
        self.assertFalse(ZoneClock.objects.exists())

    def test_a_server_clock_that_was_put_back_shows_nothing_less_than_nothing(self) -> None:
        clock = self.start()
        self.assertEqual(seen(clock, NOW - datetime.timedelta(hours=1)).shown, "0:00")
        self.assertEqual(rinse(self.person, clock_id=clock.pk, now=NOW - datetime.timedelta(hours=1)).rinsed_at, NOW)

    def test_a_machine_whose_clock_is_set_back_holds_no_clock_still(self) -> None:
        real = timezone.now()
        clock = self.start(now=real - datetime.timedelta(minutes=12))
        with patch("django.utils.timezone.now", lambda: real - datetime.timedelta(hours=1)):
            self.assertAlmostEqual(seen(clock, timezone.now()).minutes, 12, delta=0.2)
            rinsed = rinse(self.person, clock_id=clock.pk, now=timezone.now())
        self.assertAlmostEqual((rinsed.rinsed_at - rinsed.applied_at).total_seconds(), 720, delta=10)

    def test_summer_time_ending_under_a_clock_adds_no_hour(self) -> None:
        before = datetime.datetime(2026, 10, 25, 0, 50, tzinfo=datetime.UTC)  # 01:50 by the wall in much of Europe
        clock = self.start(now=before)
        later = before + datetime.timedelta(minutes=25)
        with timezone.override("Europe/Lisbon"):
            self.assertAlmostEqual(seen(clock, later).minutes, 25)

    def test_it_survives_whatever_happens_to_the_page(self) -> None:
        self.start(now=timezone.now() - datetime.timedelta(minutes=12))
        for _ in range(2):
            self.assertContains(self.client.get(self.at("clock")), "12 min")

    def test_peroxide_waits_for_the_gates_and_damp_is_noted(self) -> None:
        answer = self.client.post(
            self.at("start"), {"kind": "demi", "zone": self.zone.pk}, headers={"HX-Request": "true"}
        )
        self.assertContains(answer, "safety gate is shut", status_code=422)
        Consult.objects.create(visit=self.visit, scalp="broken", version=1)
        answer = self.client.post(
            self.at("start"), {"kind": "direct", "zone": self.zone.pk}, headers={"HX-Request": "true"}
        )
        self.assertContains(answer, "safety gate is shut", status_code=422)
        Consult.objects.update(scalp="sound")
        self.client.post(self.at("start"), {"kind": "direct", "zone": self.zone.pk, "damp": "1"})
        self.assertTrue(ZoneClock.objects.get().damp)

    def test_bad_input_is_refused_and_strangers_find_nothing(self) -> None:
        for fields, said in (
            ({"kind": "soap"}, "Choose what goes on"),
            ({"kind": "direct", "minutes": "long"}, "needs a number"),
            ({"kind": "direct", "minutes": "400"}, "Minutes: "),
            ({"kind": "direct", "batches": "9"}, "Batches: "),
        ):
            answer = self.client.post(self.at("start"), fields, headers={"HX-Request": "true"})
            self.assertContains(answer, said, status_code=422)
        clock = self.start()
        self.client.force_login(make_person("Ballast Quay", "ballast"))
        self.assertEqual(self.client.get(self.at("clock")).status_code, 404)
        mine = make_visit(make_person("Ropewalk End", "end"))
        self.client.force_login(mine.colourist)
        answer = self.client.post(reverse("clocks:act", args=[mine.pk]), {"clock": clock.pk, "rinse": "1"})
        self.assertEqual(answer.status_code, 404)
        self.assertIsNone(ZoneClock.objects.get(pk=clock.pk).rinsed_at)


class BowlsAndChairs(ClockCase):
    def test_a_bowl_with_developer_ages_and_direct_dye_does_not(self) -> None:
        bowl = self.bowl
        Batch.objects.create(bowl=bowl, mixed_at=NOW)
        self.assertEqual(mixed_bowls(self.person, [self.visit.pk], after(40)), [])
        bowl.line = ShadeLine.objects.visible_to(self.person).get(kind="demi")
        bowl.save()
        words = [mixed_bowls(self.person, [self.visit.pk], after(m))[0].words for m in (5, 29, 35, 50)]
        self.assertEqual(words, ["fresh", "about to pass its best", "past its best", "spent: throw it away"])

    def test_the_head_that_calls_first_is_on_top_whatever_number_there_are(self) -> None:
        for number in range(3):
            make_visit(self.person, f"Client {number}")
        with self.assertNumQueries(6):  # heads, what has happened at each; clocks, bowls, aims of coats, of bowls
            chairs_of(self.person, self.visit.day, NOW)
        self.start()
        chairs = chairs_of(self.person, self.visit.day, after(31))
        self.assertEqual(chairs[0].visit.pk, self.visit.pk)
        self.assertTrue(chairs[0].is_calling)
        self.assertEqual(chairs[0].stage, "on the clock")
        self.assertEqual(chairs[1].stage, "read")

    def test_one_pair_of_hands_wanted_at_two_chairs_is_told(self) -> None:
        other = make_visit(self.person, "Cass Row")
        for visit in (self.visit, other):
            self.visit = visit
            self.send("aim", lightness="60", chroma="25", hue="0")
            set_begin(self.person, visit_id=visit.pk, begins_at=datetime.time(14, 0))
        found = clashes_of(self.person, other.day)
        self.assertEqual([clash.start for clash in found], ["14:00", "14:30"])  # to put it on, and at the basin
        set_begin(self.person, visit_id=other.pk, begins_at=datetime.time(18, 0))
        self.assertEqual(clashes_of(self.person, other.day), [])

    def test_days_and_hours_are_those_of_the_studios_own_zone(self) -> None:
        self.start(now=datetime.datetime(2026, 11, 24, 23, 30, tzinfo=datetime.UTC))
        rinse(
            self.person, clock_id=ZoneClock.objects.get().pk, now=datetime.datetime(2026, 11, 25, tzinfo=datetime.UTC)
        )
        self.assertContains(self.client.get(self.at("clock")), "23:30 to 00:00")
        self.client.post(reverse("chairs:time-zone"), {"time_zone": "Asia/Tokyo"})
        self.assertContains(self.client.get(self.at("clock")), "08:30 to 09:00")
        refused = self.client.post(reverse("chairs:time-zone"), {"time_zone": "Atlantis"}, follow=True)
        self.assertContains(refused, "No such time zone")
        self.person.studio.refresh_from_db()
        self.assertEqual(self.person.studio.time_zone, "Asia/Tokyo")

    def test_the_demo_seats_the_band_once_a_day(self) -> None:
        person = load_demo("a fresh password")
        now = timezone.now()
        self.assertEqual(len(seat_today(person, now=now)), 3)
        self.assertEqual(seat_today(person, now=now), [])
        stages = {chair.visit.client.name: chair for chair in chairs_of(person, timezone.localdate(now), now)}
        self.assertTrue(stages["Tobiah Merrow"].is_calling)
        self.assertFalse(stages["Jory Pennick"].is_calling)
        self.client.force_login(person)
        self.assertContains(self.client.get(reverse("chairs:chairs")), "Wren Castellane")


class TheZoneInHand(ClockCase):
    """Whoever rinses a zone goes on with that zone, and not with the first of the head."""

    def test_a_running_clock_acts_for_its_own_zone(self) -> None:
        nape = add_zone(self.person, like_zone_id=self.zone.pk, part="nape", name="")
        clock = put_on_hair(self.person, zone_id=nape.pk, kind="direct", now=NOW)
        page = self.client.get(self.at("clock")).content.decode()
        form = next(each for each in page.split("<form")[1:] if "clock-acts" in each)
        fields = dict(re.findall(r'type="hidden" name="(zone|clock)" value="(\d+)"', form))
        self.assertEqual(fields, {"zone": str(nape.pk), "clock": str(clock.pk)})
        sent = fields | {"rinse": "1"}
        answer = self.client.post(reverse("clocks:act", args=[self.visit.pk]), sent, headers={"HX-Request": "true"})
        self.assertEqual(json.loads(answer.headers["HX-Trigger"])["zone"]["pk"], nape.pk)
