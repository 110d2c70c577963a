"""The gate table: every rule fires and rests through a page, every fact is fed by one, and all pages say the same."""

import datetime
import re
from collections.abc import Callable
from dataclasses import fields
from unittest.mock import patch

from django.db import transaction
from django.utils import timezone

from engine.bowl.cautions import Severity
from engine.service.known import House, Known, SensitivityTest, StrandTest
from engine.service.rules import RULES
from engine.service.safety import check_all
from engine.service.work import Mix, Place, Work
from studio.clients import models as clients
from studio.clocks.models import ZoneClock
from studio.head.models import Coat
from studio.shelf.models import ShadeLine
from studio.shelf.selectors import forget_lines
from studio.ui.words import GATE_NAMES
from studio.visits import gates
from tests.studio.gate_case import GateCase, act, running, split, stung, together, two_lines


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


LIFTED_5 = lambda case: case.past("lift", 5)  # noqa: E731
LIFTED_3X = together(*[lambda case, d=days: case.past("lift", d) for days in (60, 120, 180)])
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
            together(
                DEMI,
                lambda c: c.pack("Tidemark toner", declares="resorcinol, ammonia"),
                lambda c: c.consult(sensitivities="nickel, Resorcinol"),
            ),
            "on_pour",
        ),
        then(together(DEMI, lambda c: c.consult(sensitivities="nickel")), "on_pour"),
    ),
    "stung_today": (at_clock(stung), at_clock(stung, kind="direct")),
    "scalp_broken": (
        at_clock(lambda c: c.consult(scalp="broken")),
        at_clock(together(lambda c: c.part("ends"), lambda c: c.consult(scalp="broken"))),
    ),
    "forty_on_scalp": (at_clock(vol="40"), at_clock(lambda c: c.part("ends"), vol="40")),
    "too_strong": (at_clock(vol="45"), at_clock(vol="40")),
    "unknown_chemistry": (
        at_clock(lambda c: c.past("box_dye", 60)),
        at_clock(together(lambda c: c.past("box_dye", 60), lambda c: c.strand("yes", vol="20"))),
    ),
    "strand_failed": (
        at_clock(lambda c: c.strand("no", vol="20")),
        at_clock(lambda c: c.strand("no", vol="30")),
    ),
    "going": (
        at_clock(together(running("lightener", 12), act(seen="going"), act(rinse="1"))),
        at_clock(together(running("lightener", 12), act(seen="under"), act(rinse="1"))),
    ),
    "colour_over_lightener": (
        at_clock(running("lightener", 5), kind="direct"),
        at_clock(together(running("lightener", 5), act(rinse="1")), kind="direct"),
    ),
    "past_pack_time": (
        then(running("direct", 61), "on_clock"),
        then(running("direct", 59), "on_clock"),
    ),
    "near_eyes": (then(lambda c: c.rename("eyebrows"), "on_pour"), then(lambda c: c.rename("fringe"), "on_pour")),
    "mixed_kept": (then(DEMI, "on_care"), GateCase.on_care),
    "sensitivity_test": (at_clock(NO_TEST), at_clock(NO_TEST, kind="direct")),
    "scalp_not_sound": (
        at_clock(lambda c: c.consult(scalp="sunburnt")),
        at_clock(together(lambda c: c.part("ends"), lambda c: c.consult(scalp="sore"))),
    ),
    "too_strong_for_scalp": (at_clock(vol="30"), at_clock(lambda c: c.part("ends"), vol="30")),
    "lift_too_much": (at_clock(together(LIFTED_5, POROUS)), at_clock(LIFTED_5)),
    "heat_on_fragile": (at_clock(lambda c: c.consult(fragile="on"), heat="1"), at_clock(heat="1")),
    "minor_stopped": (
        then(together(lambda c: c.house(minors_stop="on"), lambda c: c.born(17)), "on_pour"),
        then(lambda c: c.born(17), "on_pour"),
    ),
    "health_stopped": (
        then(together(lambda c: c.house(health_stops="on"), lambda c: c.consult(pregnant="on")), "on_pour"),
        then(lambda c: c.house(health_stops="on"), "on_pour"),
    ),
    "minor": (
        then(lambda c: c.born(17), "on_pour"),
        then(together(lambda c: c.born(17), lambda c: c.consult(guardian_consents="on")), "on_pour"),
    ),
    "health": (then(lambda c: c.consult(doctors_note="on"), "on_pour"), GateCase.on_pour),
    "sensitive": (then(lambda c: c.consult(sensitivities="nickel"), "on_pour"), GateCase.on_pour),
    "scalp_tingles": (
        at_clock(lambda c: c.consult(scalp="tingling")),
        at_clock(together(lambda c: c.part("ends"), lambda c: c.consult(scalp="tingling"))),
    ),
    "strand_test": (at_clock(), at_clock(lambda c: c.strand("yes", vol="20"))),
    "lift_much": (at_clock(to_level="9.5"), at_clock(to_level="9")),
    "relaxed": (at_clock(lambda c: c.past("relaxer", 90)), at_clock(lambda c: c.past("direct", 90))),
    "warm_lightener": (at_clock(lambda c: c.consult(lay="foil")), at_clock(lambda c: c.consult(lay="open"))),
    "lightener_over_colour": (
        at_clock(running("direct", 5)),
        at_clock(together(running("direct", 5), act(rinse="1"))),
    ),
    "stung_before": (
        at_clock(stung, kind="direct"),
        at_clock(together(lambda c: c.part("ends"), stung), kind="direct"),
    ),
    "metal_bowl": (at_clock(in_metal="1"), at_clock(in_metal="1", kind="direct")),
    "lines_mixed": (then(two_lines, "on_pour"), GateCase.on_pour),
    "lines_stopped": (
        then(together(two_lines, lambda c: c.house(lines_apart="on")), "on_pour"),
        then(lambda c: c.house(lines_apart="on"), "on_pour"),
    ),
    "other_developer": (
        then(together(DEMI, lambda c: c.post("pour:mixing", other_developer="1", version=c.bowl.version)), "on_pour"),
        then(together(DEMI, lambda c: c.post("pour:mixing", version=c.bowl.version)), "on_pour"),
    ),
    "powder": (at_clock(guarded=""), at_clock()),
    "bath": (then(running("direct", 5), "on_fixes"), GateCase.on_route),
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
    at_clock(split("roots"), to_level="7"),
    at_clock(together(lambda c: c.part("roots"), lambda c: c.strand("yes", vol="20"))),
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
