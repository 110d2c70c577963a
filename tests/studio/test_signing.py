"""What opens a gate, and what is kept of it: signatures, strand tests, what stung, house rules, what goes home."""

import html
import re
from decimal import Decimal

from axes.models import AccessAttempt
from django.db import IntegrityError, transaction
from django.http import HttpResponse
from django.urls import reverse
from django.utils import timezone

from studio.accounts.models import Person, Studio
from studio.clients import models as clients
from studio.clocks.models import ClockCheck, ZoneClock
from studio.shelf.models import ShadeLine
from studio.visits.models import Incident, Signature, Zone
from tests.studio.gate_case import HOUSE, HTMX, GateCase, running, two_lines
from tests.studio.made import make_person, put_on_hair


class Signing(GateCase):
    def sign(self, gate: str, reason: str = "seen, and safe today", **start: object) -> HttpResponse:
        return self.post("clocks:gate", kind="lightener", coat="lightener:", gate=gate, reason=reason, **start)

    def test_only_a_licensed_hand_signs_and_only_with_a_reason(self) -> None:
        self.person.licensed = False
        self.person.save()
        answer = self.sign("too_strong_for_scalp", vol="30")
        self.assertContains(answer, "Only a licensed colourist", status_code=422)
        self.person.licensed = True
        self.person.save()
        self.assertContains(self.sign("too_strong_for_scalp", " ", vol="30"), "reason in words", status_code=422)
        self.assertEqual(self.sign("too_strong_for_scalp", vol="30").status_code, 200)
        signed = Signature.objects.get()
        self.assertEqual((signed.kind, signed.line, signed.zones), ("lightener", "", [self.zone.pk]))
        self.assertEqual(signed.given, {"vol": 30.0})
        self.assertContains(self.sign("too_strong_for_scalp", vol="30"), "signed already", status_code=422)
        self.assertEqual(self.post("clocks:start", kind="lightener", guarded="1", vol="30").status_code, 200)

    def test_a_licensed_hand_signs_on_the_spot_for_an_apprentice(self) -> None:
        hand = Person.objects.create_user(
            username="isolde", password="brass under arches", studio=self.person.studio, licensed=True
        )
        other = make_person("Sail Loft", "sail")
        Person.objects.filter(pk=other.pk).update(licensed=True)
        self.person.role, self.person.licensed = "apprentice", False
        self.person.save()
        offered = self.client.get(self.at("clocks:gates"), {"zone": self.zone.pk, "kind": "lightener", "vol": "30"})
        self.assertContains(offered, "A licensed hand signs")
        self.assertContains(offered, f'<option value="{hand.pk}">')
        self.assertNotContains(offered, f'<option value="{other.pk}">')
        for named, word, told in (
            (hand.pk, "a guess", "not the password of who signs"),
            (hand.pk, "", "not the password of who signs"),
            (other.pk, "salt and rope", "Choose who signs"),
            ("x", "salt and rope", "Choose who signs"),
            ("", "", "Only a licensed colourist"),
        ):
            refused = self.sign("too_strong_for_scalp", vol="30", hand=named, hand_password=word)
            self.assertContains(refused, told, status_code=422)
            self.assertContains(refused, 'value="seen, and safe today"', status_code=422)  # it is not typed again
        self.assertFalse(Signature.objects.exists())
        self.assertEqual(AccessAttempt.objects.get(username="isolde").failures_since_start, 2)  # guesses are counted
        signed = self.sign("too_strong_for_scalp", vol="30", hand=hand.pk, hand_password="brass under arches")
        self.assertEqual(signed.status_code, 200)
        self.assertEqual(Signature.objects.get().signed_by, hand)
        self.assertEqual(self.post("clocks:start", kind="lightener", guarded="1", vol="30").status_code, 200)

    def test_what_was_tried_stays_in_the_form_until_it_is_on(self) -> None:
        typed = {"kind": "lightener", "minutes": "25", "batches": "2", "vol": "30", "damp": "1", "guarded": "1"}
        signed = self.client.post(
            self.at("clocks:gate"),
            {**typed, "zone": self.zone.pk, "coat": "lightener:", "gate": "too_strong_for_scalp", "reason": "seen"},
            headers=HTMX,
        )
        asks = re.search(r'hx-get="([^"]+)" hx-trigger="every 15s', signed.content.decode())
        for page in (signed, self.client.get(html.unescape(asks[1]))):  # as it asks for itself, too
            timed = page.context["page"].zones[0]
            self.assertEqual((timed.kind, timed.minutes, timed.start.batches), ("lightener", "25", 2))
            self.assertEqual((timed.vol, timed.start.damp), ("30", True))
            self.assertIsNone(timed.stop)
        put_on_hair(self.person, zone_id=self.zone.pk, kind="lightener", planned_min=25, now=timezone.now())
        under_way = self.client.get(html.unescape(asks[1]))
        self.assertContains(under_way, f'clock/?zone={self.zone.pk}" hx-trigger')

    def test_what_can_not_be_put_on_is_told_in_the_gates_place(self) -> None:
        for wrong in ({"minutes": "soon"}, {"batches": "0"}, {"vol": "lots"}):
            asked = {"zone": self.zone.pk, "kind": "lightener"} | wrong
            told = self.client.get(self.at("clocks:gates"), asked, headers=HTMX)
            self.assertContains(told, 'role="alert"')
            self.assertNotContains(told, "<main")

    def test_another_kind_is_ticked_as_the_house_does_it(self) -> None:
        asked = {"zone": self.zone.pk, "kind": "demi", "ticked_for": "direct"}
        for more, damp in (({}, True), ({"ticked_for": "demi"}, False), ({"kind": "lightener", "damp": "1"}, False)):
            told = self.client.get(self.at("clocks:gates"), asked | more)
            self.assertEqual(told.context["timed"].start.damp, damp, more)
            self.assertContains(told, f'id="start-ticks-{self.zone.pk}"')

    def test_a_signature_lapses_when_its_facts_get_worse_and_holds_when_they_get_better(self) -> None:
        self.sign("too_strong_for_scalp", vol="25")
        self.assertEqual(self.shut(vol="25"), set())
        self.assertEqual(self.shut(vol="22"), set())
        self.assertEqual(self.shut(vol="30"), {"too_strong_for_scalp"})

    def test_a_signature_opens_no_other_zone_and_no_other_coat(self) -> None:
        self.send("zones", way="two")
        roots, ends = Zone.objects.filter(visit=self.visit, removed=False).order_by("position")
        Zone.objects.filter(pk=ends.pk).update(part="frame")
        for zone in (roots, ends):
            self.assertEqual(self.shut(vol="30", zone=zone.pk), {"too_strong_for_scalp"})
        self.sign("too_strong_for_scalp", vol="30", zone=roots.pk)
        self.assertEqual(self.shut(vol="30", zone=roots.pk), set())
        self.assertEqual(self.shut(vol="30", zone=ends.pk), {"too_strong_for_scalp"})

    def shut(self, **start: object) -> set[str]:
        """The stops of a start that no signature covers."""
        asked = {"zone": self.zone.pk, "kind": "lightener", "to_level": "6", **start}
        page = self.client.get(self.at("clocks:gates"), asked).context["timed"]
        return {seen.gate.code for seen in page.gates if seen.is_shut}

    def test_forty_on_the_scalp_and_other_final_gates_are_never_signed(self) -> None:
        self.assertContains(self.sign("forty_on_scalp", vol="40"), "No signature opens", status_code=422)
        self.consult(reacted="on")
        self.assertContains(self.sign("reacted_before"), "No signature opens", status_code=422)
        self.assertContains(self.sign("heat"), "no longer stands", status_code=422)
        self.assertFalse(Signature.objects.exists())

    def test_a_bowl_is_signed_for_all_that_it_colours(self) -> None:
        self.demi()
        clients.SkinTest.objects.all().delete()
        self.send("zones", way="two")
        answer = self.post(
            "pour:gate", coat="demi:Tidemark toner", gate="sensitivity_test", reason="her doctor's paper"
        )
        self.assertContains(answer, "her doctor&#x27;s paper")
        zones = set(Zone.objects.filter(visit=self.visit, removed=False).values_list("pk", flat=True))
        self.assertEqual(set(Signature.objects.get().zones), zones)
        self.assertEqual(self.send("mix", way="mixed").status_code, 200)
        self.assertEqual(self.post("clocks:start", kind="demi").status_code, 200)

    def test_signatures_are_printed_on_the_card(self) -> None:
        self.sign("too_strong_for_scalp", "one foil only, off the skin", vol="30")
        card = self.client.get(reverse("cards:card", args=[self.visit.client_id]))
        self.assertContains(card, "one foil only")


class StrandTests(GateCase):
    def test_a_strand_test_is_a_record_and_a_failed_one_can_be_written_down(self) -> None:
        self.past("box_dye", 60)
        self.post(
            "clocks:gate",
            kind="lightener",
            coat="lightener:",
            vol="20",
            strand="1",
            strand_min="25",
            colour_seen="orange, even",
            stretch_held="1",
            passed="yes",
        )
        kept = clients.StrandTest.objects.get()
        self.assertEqual((kept.part, kept.vol, kept.minutes), ("whole", Decimal(20), Decimal(25)))
        self.assertEqual((kept.colour_seen, kept.stretch_held, kept.passed), ("orange, even", True, True))
        self.assertNotIn("unknown_chemistry", self.of_start(vol="20"))
        self.assertIn("unknown_chemistry", self.of_start(vol="30"))
        self.assertContains(self.client.get(self.at("visits:consult")), "passed")

    def test_it_opens_only_the_mix_that_it_tested(self) -> None:
        self.past("box_dye", 60)
        self.demi()
        coat = {"coat": "demi:Tidemark toner", "strand": "1", "strand_min": "20", "stretch_held": "1", "passed": "yes"}
        self.post("pour:gate", **coat)
        self.assertNotIn("unknown_chemistry", self.on_pour())
        self.send("pour", shade=self.shade("Umber").pk, grams="5")
        self.assertIn("unknown_chemistry", self.on_pour())
        self.assertIn("unknown_chemistry", self.of_start())

    def test_what_can_not_be_is_refused(self) -> None:
        for sent, words in (
            ({"strand_min": "0", "passed": "yes", "stretch_held": "1"}, "Minutes: "),
            ({"strand_min": "20", "passed": "yes"}, "gave has not passed"),
            ({"strand_min": "20", "passed": "maybe"}, "passed or failed"),
            ({"strand_min": "20", "passed": "no", "coat": "demi:nothing"}, "no longer stands"),
        ):
            with self.subTest(sent=sent):
                answer = self.post("clocks:gate", **{"kind": "lightener", "coat": "lightener:", "strand": "1", **sent})
                self.assertContains(answer, words, status_code=422)
        self.assertFalse(clients.StrandTest.objects.exists())


class WhileItWorks(GateCase):
    def test_it_stings_ends_the_clock_and_is_on_record_with_what_to_do(self) -> None:
        running("direct", 12)(self)
        clock = ZoneClock.objects.get()
        answer = self.post("clocks:act", clock=clock.pk, stings="1")
        self.assertContains(answer, "It stung at minute 12")
        self.assertContains(answer, "Rinse with plenty of lukewarm water")
        clock.refresh_from_db()
        self.assertIsNotNone(clock.rinsed_at)
        self.post("clocks:act", clock=clock.pk, stings="1")
        self.assertEqual(Incident.objects.get().minute, 12)
        self.assertContains(self.post("clocks:start", kind="lightener"), "stung or burnt", status_code=422)

    def test_going_calls_until_it_is_rinsed_and_stops_further_lifts(self) -> None:
        running("lightener", 12)(self)
        clock = ZoneClock.objects.get()
        answer = self.post("clocks:act", clock=clock.pk, seen="going")
        self.assertContains(answer, "stretch or curl is going: rinse")
        self.assertContains(answer, "clock-alarm")
        self.assertEqual(ClockCheck.objects.get().minute, 12)
        self.post("clocks:act", clock=clock.pk, rinse="1")
        self.assertContains(self.post("clocks:start", kind="lightener"), "no more lift", status_code=422)

    def test_what_a_check_saw_is_kept_with_its_minute(self) -> None:
        running("lightener", 7)(self)
        answer = self.post("clocks:act", clock=ZoneClock.objects.get().pk, seen="under")
        self.assertContains(answer, "minute 7: under")
        self.assertContains(
            self.post("clocks:act", clock=ZoneClock.objects.get().pk, seen="lovely"),
            "under, on or over",
            status_code=422,
        )


class HouseRules(GateCase):
    def test_only_a_licensed_hand_sets_them_and_bad_ones_are_refused(self) -> None:
        for sent in (
            {"colour_from_years": 12},
            {"strong_lift": "six"},
            {"watch": ""},
            {"test_hours": 24},
            {"scalp_vol": 30},
        ):
            self.assertEqual(self.client.post(reverse("shelf:house"), HOUSE | sent).status_code, 422)
        demi = ShadeLine.objects.visible_to(self.person).get(kind="demi")
        address = reverse("shelf:line", args=[demi.pk])
        good = {"developer_vol": 10, "test_lasts_days": 90, "empty_tube_g": 8}
        for says in ({"developer_vol": 0}, {"developer_vol": 60}, {"empty_tube_g": -1}):
            self.assertEqual(self.client.post(address, good | says).status_code, 422)
        self.person.licensed = False
        self.person.save()
        answer = self.client.post(address, good)
        self.assertContains(answer, "Only a licensed colourist", status_code=422)
        demi.refresh_from_db()
        self.assertEqual(demi.test_lasts_days, 183)

    def test_the_database_holds_no_laxer_house(self) -> None:
        for laxer in ({"test_hours": 24}, {"scalp_vol": 30}):
            with self.assertRaises(IntegrityError), transaction.atomic():
                Studio.objects.filter(pk=self.person.studio_id).update(**laxer)

    def test_another_studios_line_is_not_there(self) -> None:
        stranger = ShadeLine.objects.visible_to(make_person("Salt Row", "salt")).first()
        says = {"developer_vol": 10, "test_lasts_days": 90, "empty_tube_g": 8}
        self.assertEqual(self.client.post(reverse("shelf:line", args=[stranger.pk]), says).status_code, 404)


class TakingHome(GateCase):
    def test_direct_dye_goes_home_under_the_label_of_that_very_bowl(self) -> None:
        answer = self.post("result:leftover", bowl=self.bowl.pk, goes="1")
        self.assertContains(answer, "3.0 g Orchil, 57.0 g Clear")
        paper = self.client.get(self.at("result:handout"))
        self.assertContains(paper, "what was left of Ropewalk direct")
        self.assertContains(paper, "3.0 g Orchil")
        self.post("result:leftover", bowl=self.bowl.pk, stays="1")
        self.assertNotContains(self.client.get(self.at("result:handout")), "what was left of")

    def test_what_has_touched_developer_never_does_whatever_zone_is_in_hand(self) -> None:
        two_lines(self)
        ends = Zone.objects.get(visit=self.visit, part="ends", removed=False)
        bowl = ends.coats.get().bowl_id
        answer = self.post("result:leftover", bowl=bowl, goes="1")
        self.assertContains(answer, "never closed in a bottle", status_code=422)
        self.assertContains(self.client.get(self.at("result:care")), "never closed in a bottle")
