"""The gate table: every rule fires and rests through a page, every fact is fed by one, and all pages say the same."""

import datetime
import re
from collections.abc import Callable
from dataclasses import fields
from decimal import Decimal
from unittest.mock import patch

from axes.models import AccessAttempt
from django.db import IntegrityError, transaction
from django.http import HttpResponse
from django.urls import reverse
from django.utils import timezone

from engine.bowl.cautions import Severity
from engine.service.known import House, Known, SensitivityTest, StrandTest
from engine.service.rules import RULES
from engine.service.safety import check_all
from engine.service.work import Mix, Place, Work
from studio.accounts.models import Person, Studio
from studio.clients import models as clients
from studio.clocks.models import ClockCheck, ZoneClock
from studio.head.models import Coat
from studio.shelf.models import ShadeLine
from studio.shelf.selectors import forget_lines
from studio.ui.words import GATE_NAMES
from studio.visits import gates
from studio.visits.models import Consult, Incident, Signature, Zone
from studio.visits.selectors import open_zone
from tests.studio.made import StudioCase, clear_skin, make_person, put_on_hair

CHOSEN = {
    "setting": "work",
    "upkeep": "little",
    "nerve": "calm",
    "scalp": "sound",
    "length": "medium",
    "density": "medium",
    "texture": "medium",
    "curl": "straight",
    "lay": "open",
}
HTMX = {"HX-Request": "true"}

HOUSE = {"school": "yellow_gold_at_8", "watch": "by_kind", "strong_lift": "steps", "colour_from_years": 16}
HOUSE |= {
    "test_hours": 48,
    "scalp_vol": 20,
    "lock_min": 15,
    "paper": "A4",
    "language": "en-gb",
    "fill_from": "two_levels",
    "lay": "foil",
    "unit": "g",
    "check_min": 5,
    "bowl_min": 15,
    "deposit_on": "by_kind",
    "how_light": "needed",
    "toner_level": "two_darker",
    "pre_tone": "nearer",
    "carrier": "clear",
    "heat": "none",
    "clean_up": "once",
    "begin_at": "nape",
    "water": "cool",
}
HOUSE |= {"photos_months": 0, "traces_months": 36, "signed_years": 0}


class GateCase(StudioCase):
    """A virgin head at level 5 with clear tests of everything, an aim, and a direct bowl."""

    def setUp(self) -> None:
        super().setUp()
        self.person.licensed = True
        self.person.save()
        clear_skin(self.person, self.visit.client_id, now=timezone.now())
        self.post("visits:read", after=1, level="5", family="natural")
        self.consult(virgin="on")
        self.send("aim", lightness="60", chroma="30", hue="350")
        self.send("pour", shade=self.shade("Orchil").pk, grams="3")
        self.send("pour", shade=self.shade("Clear").pk, grams="57")

    @property
    def zone(self) -> Zone:
        return open_zone(self.person, self.visit.pk).zone

    def at(self, name: str) -> str:
        return reverse(name, args=[self.visit.pk])

    def post(self, name: str, **sent: object) -> HttpResponse:
        return self.client.post(self.at(name), {"zone": self.zone.pk, **sent}, headers=HTMX)

    def consult(self, **sent: object) -> None:
        kept = Consult.objects.filter(visit=self.visit).first()
        answer = self.post(
            "visits:consult", **{**CHOSEN, "virgin": "on", "version": kept.version if kept else 0, **sent}
        )
        self.assertEqual(answer.status_code, 200, answer.content[:400])

    def past(self, work: str, days: int, part: str = "whole") -> None:
        day = self.visit.day - datetime.timedelta(days=days)
        self.assertEqual(self.post("visits:past", work=work, part=part, done_on=day).status_code, 200)

    def skin(self, line: str, clear: str, *, hours: float) -> None:
        then = timezone.localtime(timezone.now() - datetime.timedelta(hours=hours))
        found = ShadeLine.objects.visible_to(self.person).filter(name=line).first()
        answer = self.post(
            "visits:skin-test",
            line=found.pk if found else "",
            clear=clear,
            tested_on=then.date(),
            tested_at=f"{then:%H:%M}",
        )
        self.assertEqual(answer.status_code, 200)

    def house(self, **sent: object) -> None:

        self.assertEqual(self.client.post(reverse("shelf:house"), HOUSE | sent).status_code, 302)

    def pack(self, line: str, **says: object) -> None:
        found = ShadeLine.objects.visible_to(self.person).get(name=line)
        names = ("developer_vol", "test_lasts_days", "empty_tube_g")  # what the page's form sends besides
        given = {name: getattr(found, name) for name in names} | says
        self.assertEqual(self.client.post(reverse("shelf:line", args=[found.pk]), given).status_code, 302)

    def demi(self) -> None:
        line = ShadeLine.objects.visible_to(self.person).get(kind="demi")
        self.send("line", line=line.pk)
        self.send("pour", shade=self.shade("Ochre").pk, grams="20")

    def rename(self, name: str) -> None:
        self.send("zones", way="rename", name=name)

    def part(self, part: str) -> None:
        Zone.objects.filter(visit=self.visit).update(part=part)

    def strand(self, passed: str, **start: object) -> None:
        sent = {"kind": "lightener", "coat": "lightener:", "strand": "1", "strand_min": "20", "passed": passed, **start}
        if passed == "yes":
            sent["stretch_held"] = "1"
        self.assertEqual(self.post("clocks:gate", **sent).status_code, 200)

    def born(self, years: int) -> None:
        born = self.visit.day.replace(year=self.visit.day.year - years) - datetime.timedelta(days=20)
        self.consult(born_on=born)

    def codes(self, answer: HttpResponse) -> set[str]:
        self.assertEqual(answer.status_code, 200, answer.content[:300])
        return set(re.findall(r'data-gate="([a-z_]+)"', answer.content.decode()))

    def on_consult(self) -> set[str]:
        return self.codes(self.client.get(self.at("visits:consult")))

    def on_pour(self) -> set[str]:
        return self.codes(self.client.get(self.at("pour:pour")))

    def on_route(self) -> set[str]:
        return self.codes(self.client.get(self.at("route:route")))

    def on_clock(self) -> set[str]:
        return self.codes(self.client.get(self.at("clocks:clock")))

    def on_care(self) -> set[str]:
        return self.codes(self.client.get(self.at("result:care")))

    def of_start(self, **start: object) -> set[str]:
        """What the Clock says of a start before it is made; by default lightener, guarded, to level 6 at 20 vol."""
        usual = {"kind": "lightener", "to_level": "6", "vol": "20", "guard_asked": "1", "guarded": "1"}
        asked = {"zone": self.zone.pk, **usual, **start}
        return self.codes(self.client.get(self.at("clocks:gates"), asked))

    def on_fixes(self) -> set[str]:
        return self.codes(self.client.get(self.at("result:fixes")))


def at_clock(prepare: Callable[[GateCase], object] | None = None, **start: object) -> Callable[[GateCase], set[str]]:
    """What the Clock says of a start, after something was prepared."""

    def say(case: GateCase) -> set[str]:
        if prepare:
            prepare(case)
        return case.of_start(**start)

    return say


def then(prepare: Callable[[GateCase], object], page: str) -> Callable[[GateCase], set[str]]:
    """What a page says after something was prepared."""

    def say(case: GateCase) -> set[str]:
        prepare(case)
        return getattr(case, page)()

    return say


def _both(*steps: Callable[[GateCase], object]) -> Callable[[GateCase], object]:
    return lambda case: [step(case) for step in steps]


def _running(kind: str, minutes: float, **more: object) -> Callable[[GateCase], object]:
    def start(case: GateCase) -> None:
        now = timezone.now() - datetime.timedelta(minutes=minutes)
        put_on_hair(case.person, zone_id=case.zone.pk, kind=kind, now=now, **more)

    return start


def _act(**sent: object) -> Callable[[GateCase], object]:
    return lambda case: case.post("clocks:act", clock=ZoneClock.objects.latest("pk").pk, **sent)


def _stung(case: GateCase) -> None:
    _both(_running("direct", 5), _act(stings="1"))(case)


def _split(part: str) -> Callable[[GateCase], object]:
    """The head in two zones, the ends lightened already, and one of the parts in hand."""

    def cut(case: GateCase) -> None:
        case.send("zones", way="two")
        ends = Zone.objects.get(visit=case.visit, part="ends", removed=False)
        read = {"zone": ends.pk, "after": ends.readings.count(), "level": "8", "family": "lightened"}
        case.client.post(case.at("visits:read"), read, headers=HTMX)

    return cut


def _two_lines(case: GateCase) -> None:
    case.send("zones", way="two")
    ends = Zone.objects.get(visit=case.visit, part="ends", removed=False)
    case.send("zones", way="own", zone=ends.pk)
    demi = ShadeLine.objects.visible_to(case.person).get(kind="demi")
    case.send("line", line=demi.pk, zone=ends.pk)
    case.send("pour", shade=case.shade("Ochre").pk, grams="20", zone=ends.pk)


LIFTED_5 = lambda case: case.past("lift", 5)  # noqa: E731
LIFTED_3X = _both(*[lambda case, d=days: case.past("lift", d) for days in (60, 120, 180)])
DEMI = lambda case: case.demi()  # noqa: E731
NO_TEST = lambda case: clients.SkinTest.objects.all().delete()  # noqa: E731
POROUS = lambda case: case.post("visits:read", after=2, porosity="1.5")  # noqa: E731
LIGHT = {"kind": "direct"}

# Rule: a page that says it, and one that is all but that and does not. SAFETY.md, row by row.
SCENES: dict[str, tuple[Callable[[GateCase], set[str]], Callable[[GateCase], set[str]]]] = {
    "under_age": (at_clock(lambda c: c.born(14)), at_clock(lambda c: c.born(14), kind="direct")),
    "reacted_before": (
        at_clock(lambda c: c.consult(black_henna_tattoo="on")),
        at_clock(lambda c: c.consult(reacted="on"), kind="direct"),
    ),
    "test_reacted": (
        at_clock(lambda c: c.skin("Tidemark toner", "0", hours=80)),
        at_clock(lambda c: c.skin("Tidemark toner", "0", hours=80), kind="direct"),
    ),
    "allergy": (
        then(
            _both(
                DEMI,
                lambda c: c.pack("Tidemark toner", declares="resorcinol, ammonia"),
                lambda c: c.consult(sensitivities="nickel, Resorcinol"),
            ),
            "on_pour",
        ),
        then(_both(DEMI, lambda c: c.consult(sensitivities="nickel")), "on_pour"),
    ),
    "stung_today": (at_clock(_stung), at_clock(_stung, kind="direct")),
    "scalp_broken": (
        at_clock(lambda c: c.consult(scalp="broken")),
        at_clock(_both(lambda c: c.part("ends"), lambda c: c.consult(scalp="broken"))),
    ),
    "forty_on_scalp": (at_clock(vol="40"), at_clock(lambda c: c.part("ends"), vol="40")),
    "too_strong": (at_clock(vol="45"), at_clock(vol="40")),
    "unknown_chemistry": (
        at_clock(lambda c: c.past("box_dye", 60)),
        at_clock(_both(lambda c: c.past("box_dye", 60), lambda c: c.strand("yes", vol="20"))),
    ),
    "strand_failed": (
        at_clock(lambda c: c.strand("no", vol="20")),
        at_clock(lambda c: c.strand("no", vol="30")),
    ),
    "going": (
        at_clock(_both(_running("lightener", 12), _act(seen="going"), _act(rinse="1"))),
        at_clock(_both(_running("lightener", 12), _act(seen="under"), _act(rinse="1"))),
    ),
    "colour_over_lightener": (
        at_clock(_running("lightener", 5), kind="direct"),
        at_clock(_both(_running("lightener", 5), _act(rinse="1")), kind="direct"),
    ),
    "past_pack_time": (
        then(_running("direct", 61), "on_clock"),
        then(_running("direct", 59), "on_clock"),
    ),
    "near_eyes": (then(lambda c: c.rename("eyebrows"), "on_pour"), then(lambda c: c.rename("fringe"), "on_pour")),
    "mixed_kept": (then(DEMI, "on_care"), GateCase.on_care),
    "sensitivity_test": (at_clock(NO_TEST), at_clock(NO_TEST, kind="direct")),
    "scalp_not_sound": (
        at_clock(lambda c: c.consult(scalp="sunburnt")),
        at_clock(_both(lambda c: c.part("ends"), lambda c: c.consult(scalp="sore"))),
    ),
    "too_strong_for_scalp": (at_clock(vol="30"), at_clock(lambda c: c.part("ends"), vol="30")),
    "lift_too_much": (at_clock(_both(LIFTED_5, POROUS)), at_clock(LIFTED_5)),
    "heat_on_fragile": (at_clock(lambda c: c.consult(fragile="on"), heat="1"), at_clock(heat="1")),
    "minor_stopped": (
        then(_both(lambda c: c.house(minors_stop="on"), lambda c: c.born(17)), "on_pour"),
        then(lambda c: c.born(17), "on_pour"),
    ),
    "health_stopped": (
        then(_both(lambda c: c.house(health_stops="on"), lambda c: c.consult(pregnant="on")), "on_pour"),
        then(lambda c: c.house(health_stops="on"), "on_pour"),
    ),
    "minor": (
        then(lambda c: c.born(17), "on_pour"),
        then(_both(lambda c: c.born(17), lambda c: c.consult(guardian_consents="on")), "on_pour"),
    ),
    "health": (then(lambda c: c.consult(doctors_note="on"), "on_pour"), GateCase.on_pour),
    "sensitive": (then(lambda c: c.consult(sensitivities="nickel"), "on_pour"), GateCase.on_pour),
    "scalp_tingles": (
        at_clock(lambda c: c.consult(scalp="tingling")),
        at_clock(_both(lambda c: c.part("ends"), lambda c: c.consult(scalp="tingling"))),
    ),
    "strand_test": (at_clock(), at_clock(lambda c: c.strand("yes", vol="20"))),
    "lift_much": (at_clock(to_level="9.5"), at_clock(to_level="9")),
    "relaxed": (at_clock(lambda c: c.past("relaxer", 90)), at_clock(lambda c: c.past("direct", 90))),
    "warm_lightener": (at_clock(lambda c: c.consult(lay="foil")), at_clock(lambda c: c.consult(lay="open"))),
    "lightener_over_colour": (
        at_clock(_running("direct", 5)),
        at_clock(_both(_running("direct", 5), _act(rinse="1"))),
    ),
    "stung_before": (
        at_clock(_stung, kind="direct"),
        at_clock(_both(lambda c: c.part("ends"), _stung), kind="direct"),
    ),
    "metal_bowl": (at_clock(in_metal="1"), at_clock(in_metal="1", kind="direct")),
    "lines_mixed": (then(_two_lines, "on_pour"), GateCase.on_pour),
    "lines_stopped": (
        then(_both(_two_lines, lambda c: c.house(lines_apart="on")), "on_pour"),
        then(lambda c: c.house(lines_apart="on"), "on_pour"),
    ),
    "other_developer": (
        then(_both(DEMI, lambda c: c.post("pour:mixing", other_developer="1", version=c.bowl.version)), "on_pour"),
        then(_both(DEMI, lambda c: c.post("pour:mixing", version=c.bowl.version)), "on_pour"),
    ),
    "powder": (at_clock(guarded=""), at_clock()),
    "bath": (then(_running("direct", 5), "on_fixes"), GateCase.on_route),
    "bleeding": (GateCase.on_route, then(DEMI, "on_route")),
    "after": (then(DEMI, "on_route"), GateCase.on_care),
    "processing_look": (then(DEMI, "on_route"), GateCase.on_care),
}


class TheTable(GateCase):
    def test_every_rule_fires_and_rests_through_a_page(self) -> None:
        self.assertEqual(set(SCENES), {rule.code for rule in RULES})
        for code, (fires, rests) in SCENES.items():
            with self.subTest(code=code):
                self.assertIn(code, self.apart(fires))
                self.assertNotIn(code, self.apart(rests))

    def test_every_stop_has_a_name_on_its_button(self) -> None:
        self.assertEqual(set(GATE_NAMES), {rule.code for rule in RULES if rule.severity is Severity.STOP})

    def apart(self, say: Callable[[GateCase], set[str]]) -> set[str]:
        """What is said, with nothing left of what was prepared for it."""
        mark = transaction.savepoint()
        found = say(self)
        transaction.savepoint_rollback(mark)
        forget_lines()  # their versions are given back
        self.person.studio.refresh_from_db()
        return found

    def test_every_fact_is_fed_by_a_page(self) -> None:
        """A fact that never takes a second value is fed by nobody, and its rules can't fire."""
        met: dict[tuple[str, str], set[object]] = {}

        def note(thing: object) -> None:
            for each in fields(thing):  # type: ignore[arg-type]
                given = getattr(thing, each.name)
                met.setdefault((type(thing).__name__, each.name), set()).add(repr(given))
                for part in given if isinstance(given, (list, tuple)) else [given]:
                    if isinstance(part, (Place, House, SensitivityTest, StrandTest, Mix)):
                        note(part)

        def noted(works, known):
            for thing in (*works, *known):
                note(thing)
            return check_all(works, known)

        with patch.object(gates, "check_all", noted):
            for fires, rests in SCENES.values():
                self.apart(fires)
                self.apart(rests)
            for more in FED_BESIDE:
                self.apart(more)
        known = {
            (kind.__name__, each.name)
            for kind in (Work, Place, Known, House, SensitivityTest, StrandTest, Mix)
            for each in fields(kind)
        }
        self.assertEqual({fact for fact in known if len(met.get(fact, ())) < 2}, set())


# Facts that no rule turns on by itself, each through its page.
FED_BESIDE: tuple[Callable[[GateCase], object], ...] = (
    then(lambda c: c.pack("Ropewalk direct", asks_test="on", test_lasts_days=30), "on_pour"),
    then(lambda c: c.house(strong_lift="two", colour_from_years=18, test_hours=72, scalp_vol=10), "on_consult"),
    then(lambda c: c.consult(ill="on", curl="coily", curl_loosened="on", stretch_failed="on", virgin=""), "on_consult"),
    at_clock(_split("roots"), to_level="7"),
    at_clock(_both(lambda c: c.part("roots"), lambda c: c.strand("yes", vol="20"))),
    at_clock(lambda c: c.post("visits:read", after=2, level="6", after_lift="1", family="lightened")),
    then(
        lambda c: c.post("pour:gate", coat="direct:Ropewalk direct", strand="1", strand_min="9", passed="no"), "on_pour"
    ),
)


class OneAnswer(GateCase):
    """The same work is described alike on every page, so that all of them give one answer."""

    def test_a_relift_after_five_days_on_porous_hair_is_stopped_on_route_and_at_the_clock(self) -> None:
        LIFTED_5(self)
        POROUS(self)
        self.assertIn("lift_too_much", self.on_route())
        answer = self.post("clocks:start", kind="lightener", guarded="1")
        self.assertContains(answer, "been through too much", status_code=422)
        self.assertIn("lift_too_much", re.findall(r'data-gate="([a-z_]+)"', answer.content.decode()))

    def test_another_lines_test_opens_nothing_at_the_clock(self) -> None:
        self.demi()
        clients.SkinTest.objects.filter(line__kind="demi").delete()
        for answer in (self.post("clocks:start", kind="demi"), self.send("mix", way="mixed")):
            self.assertContains(answer, "No clear sensitivity test of this line", status_code=422)

    def test_forty_eight_hours_are_hours(self) -> None:
        self.demi()
        for hours, opens in ((47.5, False), (49, True)):
            clients.SkinTest.objects.filter(line__kind="demi").delete()
            self.skin("Tidemark toner", "1", hours=hours)
            self.assertEqual("sensitivity_test" not in self.on_pour(), opens, hours)

    def test_a_test_without_its_hour_counts_from_the_end_of_its_day(self) -> None:
        day = timezone.localdate() - datetime.timedelta(days=3)
        line = ShadeLine.objects.visible_to(self.person).first()
        self.post("visits:skin-test", line=line.pk, clear="1", tested_on=day)
        kept = clients.SkinTest.objects.latest("pk")
        self.assertEqual(f"{timezone.localtime(kept.tested_at):%H:%M}", "23:59")
        self.assertContains(self.client.get(self.at("visits:consult")), "counts from")

    def test_a_direct_bowl_needs_no_test_and_box_dye_on_the_mids_shuts_no_root(self) -> None:
        clients.SkinTest.objects.all().delete()
        self.past("box_dye", 60, "mids")
        self.part("roots")
        self.assertEqual(self.send("mix", way="mixed").status_code, 200)
        self.assertNotIn("unknown_chemistry", self.of_start())
        self.part("mids")
        self.assertIn("unknown_chemistry", self.of_start())

    def test_heat_at_the_clock_is_asked_of_the_gates(self) -> None:
        self.consult(fragile="on")
        answer = self.post("clocks:start", kind="lightener", guarded="1", heat="1", vol="7")
        self.assertContains(answer, "Heat with lightener on fragile hair", status_code=422)

    def test_a_whole_virgin_head_is_never_offered_more_than_twenty_vol(self) -> None:
        self.send("aim", lightness="74", chroma="18", hue="300")
        self.assertLessEqual(self.client.get(self.at("route:route")).context["page"].lift.vol, 20)

    def test_the_clock_takes_level_and_strength_from_the_route_that_was_chosen(self) -> None:
        self.send("aim", lightness="74", chroma="18", hue="300")
        self.assertEqual(self.post("route:choose", route="lift").status_code, 200)
        plan = Coat.objects.get(purpose="lift")
        self.assertEqual(self.post("clocks:start", kind="lightener", guarded="1").status_code, 200)
        clock = ZoneClock.objects.get()
        self.assertEqual((clock.to_level, clock.vol), (plan.to_level, plan.bowl.vol))
        self.post("route:choose", route="deposit")
        self.assertFalse(Coat.objects.filter(purpose="lift", begun=False, removed=False).exists())

    def test_the_plan_and_the_bench_say_what_stops(self) -> None:
        self.demi()
        clients.SkinTest.objects.all().delete()
        self.assertContains(self.client.get(self.at("route:plan")), "Stop, whole head")
        self.assertContains(self.client.get(self.at("bench:gates")), "No clear sensitivity test")

    def test_each_coat_of_a_zone_has_its_own_stop_on_the_bench(self) -> None:
        colour = Coat.objects.get()
        self.send("coats", way="add", purpose="lift")
        lift = Coat.objects.get(purpose="lift")
        self.send("coats", way="level", to_level="9", zone=lift.zone_id, coat_id=lift.pk)
        clients.SkinTest.objects.all().delete()
        for coat, stops in ((lift, True), (colour, False)):
            hand = f"?zone={coat.zone_id}&coat_id={coat.pk}"
            page = self.client.get(self.at("bench:bench") + hand)
            self.assertContains(page, f'<div id="gates-{coat.pk}-')
            told = self.client.get(self.at("bench:gates") + hand).content.decode()
            self.assertIn(f'id="next-{coat.pk}"', told)
            self.assertEqual("Stop: " in told, stops, told)


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
        _running("direct", 12)(self)
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
        _running("lightener", 12)(self)
        clock = ZoneClock.objects.get()
        answer = self.post("clocks:act", clock=clock.pk, seen="going")
        self.assertContains(answer, "stretch or curl is going: rinse")
        self.assertContains(answer, "clock-alarm")
        self.assertEqual(ClockCheck.objects.get().minute, 12)
        self.post("clocks:act", clock=clock.pk, rinse="1")
        self.assertContains(self.post("clocks:start", kind="lightener"), "no more lift", status_code=422)

    def test_what_a_check_saw_is_kept_with_its_minute(self) -> None:
        _running("lightener", 7)(self)
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
        from tests.studio.made import make_person

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
        _two_lines(self)
        ends = Zone.objects.get(visit=self.visit, part="ends", removed=False)
        bowl = ends.coats.get().bowl_id
        answer = self.post("result:leftover", bowl=bowl, goes="1")
        self.assertContains(answer, "never closed in a bottle", status_code=422)
        self.assertContains(self.client.get(self.at("result:care")), "never closed in a bottle")
