"""Gates: every row raised by its own facts and only then, what a signature covers, and what a strand test opens."""

import unittest
from dataclasses import replace

from engine.bowl.cautions import Severity
from engine.errors import OutOfRange
from engine.service.known import House, Known, Scalp, SensitivityTest, StrandTest
from engine.service.past import Earlier, Past, lifts_of
from engine.service.rules import RULES
from engine.service.safety import check, check_all, still_covers
from engine.service.work import Mix, Place, Work, WorkKind

ROOTS, ENDS = Place(part="roots", is_natural=True), Place(part="ends")
LIFT = Work(kind=WorkKind.LIGHTENER, place=ROOTS, vol=20, lift_levels=2)
DEMI = Work(kind=WorkKind.DEMI, place=ENDS, line="Tidemark", vol=7, products=frozenset({"Ochre"}))
DIRECT = Work(kind=WorkKind.DIRECT, place=ENDS, line="Ropewalk", products=frozenset({"Weld", "Woad"}))
HOME = replace(DEMI, kind=WorkKind.HOME)
CLEAR = tuple(SensitivityTest(hours_ago=60, clear=True, line=line) for line in ("", "Tidemark"))
STRANDS = tuple(
    StrandTest(mix=work.mix, part=work.place.part, passed=True, hours_ago=1) for work in (LIFT, DEMI, DIRECT)
)
# Nothing is known against anything: tests are clear, strands passed, virgin hair.
FINE = Known(tests=CLEAR, strand_tests=STRANDS, is_virgin=True, age_years=30)
HENNA = (Past(work=Earlier.HENNA, days_ago=400, part="roots"),)
LIFTED = (Past(work=Earlier.LIFT, days_ago=90, part="roots"),)
THRICE = tuple(Past(work=Earlier.LIFT, days_ago=days, part="roots") for days in (90, 190, 290))

# SAFETY's rows: what raises each, and what is all but that. Common practice of the trade, no published source.
FIRES = {
    "under_age": ((LIFT, replace(FINE, age_years=15)), (DIRECT, replace(FINE, age_years=15))),
    "reacted_before": ((LIFT, replace(FINE, black_henna_tattoo=True)), (DIRECT, replace(FINE, reacted=True))),
    "test_reacted": (
        (DEMI, replace(FINE, tests=(SensitivityTest(hours_ago=60, clear=False, line="Ochre line"),))),
        (DIRECT, replace(FINE, tests=(SensitivityTest(hours_ago=60, clear=False, line="Tidemark"),))),
    ),
    "allergy": (
        (replace(DEMI, declares=frozenset({"resorcinol", "ammonia"})), replace(FINE, sensitivities=("Resorcinol",))),
        (replace(DEMI, declares=frozenset({"coconut oil"})), replace(FINE, sensitivities=("nut",))),
    ),
    "stung_today": ((DEMI, replace(FINE, stung_today=True)), (DIRECT, replace(FINE, stung_today=True))),
    "scalp_broken": ((LIFT, replace(FINE, scalp=Scalp.BROKEN)), (DEMI, replace(FINE, scalp=Scalp.BROKEN))),
    "forty_on_scalp": ((replace(LIFT, vol=40), FINE), (replace(LIFT, vol=40, place=ENDS), FINE)),
    "too_strong": ((replace(LIFT, vol=41, place=ENDS), FINE), (replace(LIFT, vol=40, place=ENDS), FINE)),
    "unknown_chemistry": (
        (LIFT, replace(FINE, past=HENNA, strand_tests=())),
        (DEMI, replace(FINE, past=HENNA, strand_tests=())),
    ),
    "strand_failed": (
        (LIFT, replace(FINE, strand_tests=(replace(STRANDS[0], passed=False),))),
        (replace(LIFT, vol=10), replace(FINE, strand_tests=(replace(STRANDS[0], passed=False),))),
    ),
    "going": ((LIFT, replace(FINE, going_today=True)), (DEMI, replace(FINE, going_today=True))),
    "colour_over_lightener": (
        (replace(DEMI, place=replace(ENDS, beneath=frozenset({WorkKind.LIGHTENER}))), FINE),
        (replace(DEMI, place=replace(ENDS, beneath=frozenset({WorkKind.MASK}))), FINE),
    ),
    "past_pack_time": (
        (replace(LIFT, minutes=51, pack_most_min=50), FINE),
        (replace(LIFT, minutes=50, pack_most_min=50), FINE),
    ),
    "near_eyes": (
        (replace(DIRECT, place=Place(part="frame", name="left eyebrow")), FINE),
        (replace(DIRECT, place=Place(part="frame", name="face frame")), FINE),
    ),
    "mixed_kept": ((HOME, FINE), (replace(DIRECT, kind=WorkKind.HOME), FINE)),
    "sensitivity_test": ((DEMI, replace(FINE, tests=CLEAR[:1])), (DIRECT, replace(FINE, tests=()))),
    "scalp_not_sound": ((LIFT, replace(FINE, scalp=Scalp.SUNBURNT)), (DEMI, replace(FINE, scalp=Scalp.SORE))),
    "too_strong_for_scalp": ((replace(LIFT, vol=30), FINE), (replace(LIFT, vol=30, place=ENDS), FINE)),
    "lift_too_much": (
        (replace(LIFT, lift_levels=3), replace(FINE, past=THRICE)),
        (replace(LIFT, lift_levels=3), replace(FINE, past=LIFTED)),
    ),
    "heat_on_fragile": (
        (replace(LIFT, heat=True), replace(FINE, is_fragile=True)),
        (replace(LIFT, heat=True), replace(FINE, is_fragile=False)),
    ),
    "minor_stopped": (
        (DIRECT, replace(FINE, age_years=17, house=House(minors_stop=True))),
        (DIRECT, replace(FINE, age_years=17, house=House(minors_stop=True), guardian_consents=True)),
    ),
    "health_stopped": (
        (DIRECT, replace(FINE, pregnant=True, house=House(health_stops=True))),
        (DIRECT, replace(FINE, house=House(health_stops=True))),
    ),
    "minor": ((DIRECT, replace(FINE, age_years=17)), (DIRECT, replace(FINE, age_years=18))),
    "health": (
        (DIRECT, replace(FINE, doctors_note=True)),
        (replace(DIRECT, kind=WorkKind.HOME), replace(FINE, ill=True)),
    ),
    "sensitive": ((DIRECT, replace(FINE, sensitivities=("nickel",))), (DIRECT, FINE)),
    "scalp_tingles": ((LIFT, replace(FINE, scalp=Scalp.TINGLING)), (DEMI, replace(FINE, scalp=Scalp.TINGLING))),
    "strand_test": ((DIRECT, replace(FINE, strand_tests=())), (DIRECT, FINE)),
    "lift_much": ((replace(LIFT, lift_levels=4.5), FINE), (replace(LIFT, lift_levels=4), FINE)),
    "relaxed": (
        (LIFT, replace(FINE, past=(Past(work=Earlier.PERM, days_ago=60, part="roots"),))),
        (LIFT, replace(FINE, past=(Past(work=Earlier.PERM, days_ago=60, part="ends"),))),
    ),
    "warm_lightener": ((replace(LIFT, covered=True), FINE), (replace(DEMI, covered=True), FINE)),
    "lightener_over_colour": (
        (replace(LIFT, place=replace(ROOTS, beneath=frozenset({WorkKind.DEMI}))), FINE),
        (replace(LIFT, place=replace(ROOTS, beneath=frozenset({WorkKind.SEAL}))), FINE),
    ),
    "stung_before": (
        (replace(DIRECT, place=ROOTS), replace(FINE, stung_today=True)),
        (DIRECT, replace(FINE, stung_today=True)),
    ),
    "metal_bowl": ((replace(LIFT, has_metal_bowl=True), FINE), (replace(DIRECT, has_metal_bowl=True), FINE)),
    "lines_mixed": (
        (replace(DEMI, lines_beside=frozenset({"Tidemark", "Ropewalk"})), FINE),
        (replace(DEMI, lines_beside=frozenset({"Tidemark"})), FINE),
    ),
    "lines_stopped": (
        (replace(DEMI, lines_beside=frozenset({"Ropewalk"})), replace(FINE, house=House(lines_apart=True))),
        (replace(DEMI, lines_beside=frozenset({"Ropewalk"})), FINE),
    ),
    "other_developer": ((replace(DEMI, other_developer=True), FINE), (replace(DIRECT, other_developer=True), FINE)),
    "powder": ((replace(LIFT, unguarded=True), FINE), (replace(DEMI, unguarded=True), FINE)),
    "bath": ((replace(DIRECT, kind=WorkKind.BATH), FINE), (DIRECT, FINE)),
    "bleeding": ((DIRECT, FINE), (DEMI, FINE)),
    "after": ((DEMI, FINE), (DIRECT, FINE)),
    "processing_look": ((DEMI, FINE), (DIRECT, FINE)),
}


def codes(work: Work, known: Known) -> dict[str, Severity]:
    return {gate.code: gate.severity for gate in check(work, known)}


class TheBook(unittest.TestCase):
    def test_every_rule_is_raised_by_its_own_facts_and_only_then(self) -> None:
        self.assertEqual(set(FIRES), {rule.code for rule in RULES})
        for code, (fires, rests) in FIRES.items():
            with self.subTest(code=code):
                self.assertIn(code, codes(*fires))
                self.assertNotIn(code, codes(*rests))

    def test_a_good_case_raises_notes_alone(self) -> None:
        for work in (LIFT, DEMI, DIRECT):
            self.assertEqual(set(codes(work, FINE).values()), {Severity.NOTE})

    def test_final_gates_are_those_that_no_hand_may_open(self) -> None:
        signable = {rule.code for rule in RULES if rule.severity is Severity.STOP and not rule.final}
        self.assertEqual(
            signable,
            {
                "sensitivity_test",
                "scalp_not_sound",
                "too_strong_for_scalp",
                "lift_too_much",
                "lines_stopped",
                "heat_on_fragile",
                "minor_stopped",
                "health_stopped",
            },
        )

    def test_a_girl_of_14_with_a_reaction_and_a_tattoo_is_stopped_for_lightener_too(self) -> None:
        known = Known(age_years=14, reacted=True, black_henna_tattoo=True)
        stops = {gate.code for gate in check(replace(LIFT, lift_levels=3), known) if gate.stops}
        self.assertLessEqual({"under_age", "reacted_before"}, stops)
        self.assertFalse(any(gate.may_be_signed for gate in check(LIFT, known) if gate.code in stops))


class Tests(unittest.TestCase):
    def test_a_test_counts_in_hours_for_its_own_line_and_as_long_as_the_pack_says(self) -> None:
        for hours, line, days, opens in (
            (47.9, "Tidemark", 183, False),
            (48, "Tidemark", 183, True),
            (24 * 183, "Tidemark", 183, True),
            (24 * 183 + 1, "Tidemark", 183, False),
            (24 * 40, "Tidemark", 30, False),
            (60, "Ropewalk", 183, False),
            (60, "", 183, False),
        ):
            with self.subTest(hours=hours, line=line):
                known = replace(FINE, tests=(SensitivityTest(hours_ago=hours, clear=True, line=line),))
                work = replace(DEMI, test_lasts_days=days)
                self.assertEqual("sensitivity_test" not in codes(work, known), opens)

    def test_a_house_may_wait_longer_and_be_gentler_and_never_the_other_way(self) -> None:
        known = replace(FINE, tests=(SensitivityTest(hours_ago=60, clear=True, line="Tidemark"),))
        self.assertNotIn("sensitivity_test", codes(DEMI, known))
        self.assertIn("sensitivity_test", codes(DEMI, replace(known, house=House(test_least_h=72))))
        strong = replace(LIFT, vol=15)
        self.assertNotIn("too_strong_for_scalp", codes(strong, FINE))
        self.assertIn("too_strong_for_scalp", codes(strong, replace(FINE, house=House(scalp_most_vol=10))))
        for laxer in ({"test_least_h": 24}, {"scalp_most_vol": 30}):
            with self.assertRaises(OutOfRange):
                House(**laxer)

    def test_a_direct_line_asks_for_a_test_only_when_its_pack_does(self) -> None:
        self.assertNotIn("sensitivity_test", codes(DIRECT, replace(FINE, tests=CLEAR)))
        self.assertIn("sensitivity_test", codes(replace(DIRECT, asks_test=True), FINE))

    def test_a_strand_test_opens_only_what_it_tested(self) -> None:
        boxed = replace(FINE, past=(Past(work=Earlier.BOX_DYE, days_ago=30),), strand_tests=STRANDS[:1])
        self.assertNotIn("unknown_chemistry", codes(LIFT, boxed))
        for other in (replace(LIFT, vol=30), replace(LIFT, place=replace(ROOTS, part="mids")), DEMI):
            self.assertIn("unknown_chemistry", codes(other, boxed))

    def test_the_newest_strand_test_counts(self) -> None:
        failed, passed = replace(STRANDS[0], passed=False, hours_ago=5), replace(STRANDS[0], hours_ago=2)
        self.assertNotIn("strand_failed", codes(LIFT, replace(FINE, strand_tests=(failed, passed))))
        newer = replace(failed, hours_ago=1)
        self.assertIn("strand_failed", codes(LIFT, replace(FINE, strand_tests=(newer, passed))))

    def test_a_mix_covers_no_more_products_and_no_stronger_developer(self) -> None:
        mix = Mix(kind=WorkKind.DEMI, line="T", products=frozenset({"a", "b"}), vol=10)
        self.assertTrue(mix.covers(replace(mix, products=frozenset({"a"}), vol=7)))
        self.assertFalse(mix.covers(replace(mix, products=frozenset({"a", "c"}))))
        self.assertFalse(mix.covers(replace(mix, vol=20)))

    def test_box_dye_on_the_mids_shuts_no_root(self) -> None:
        boxed = replace(FINE, past=(Past(work=Earlier.BOX_DYE, days_ago=30, part="mids"),), strand_tests=())
        self.assertNotIn("unknown_chemistry", codes(LIFT, boxed))
        self.assertIn("unknown_chemistry", codes(replace(LIFT, place=replace(ROOTS, part="mids")), boxed))


class Lifting(unittest.TestCase):
    def test_strong_virgin_hair_goes_as_far_as_the_house_says_and_other_hair_two_levels(self) -> None:
        three = replace(LIFT, lift_levels=3)
        self.assertNotIn("lift_much", codes(three, FINE))
        for known in (
            replace(FINE, house=House(strong_hair_levels=2)),
            replace(FINE, is_virgin=False),
            replace(FINE, is_curly=True),
            replace(FINE, past=LIFTED),
        ):
            self.assertIn("lift_much", codes(three, known))
        self.assertIn("lift_much", codes(replace(three, place=replace(ROOTS, is_natural=False)), FINE))

    def test_todays_lifts_add_up(self) -> None:
        self.assertIn("lift_much", codes(LIFT, replace(FINE, lifted_today=2.5)))

    def test_a_relift_within_two_weeks_is_told_and_on_worn_hair_stopped(self) -> None:
        soon = replace(FINE, past=(Past(work=Earlier.LIFT, days_ago=5, part="roots"),))
        self.assertIn("lift_much", codes(replace(LIFT, lift_levels=1), soon))
        porous = replace(LIFT, lift_levels=1, place=replace(ROOTS, porosity=1.5))
        self.assertIn("lift_too_much", codes(porous, soon))
        fortnight = replace(FINE, past=(Past(work=Earlier.LIFT, days_ago=14, part="roots"),))
        self.assertNotIn("lift_much", codes(replace(LIFT, lift_levels=1), fortnight))

    def test_a_lift_of_today_is_no_earlier_lift(self) -> None:
        today = replace(FINE, past=(Past(work=Earlier.LIFT, days_ago=0, part="roots"),))
        self.assertEqual(today.lifts_before(ROOTS), [])

    def test_a_failed_stretch_stops_the_lift_alone(self) -> None:
        failed = replace(FINE, stretch_failed=True)
        self.assertIn("lift_too_much", codes(LIFT, failed))
        self.assertNotIn("lift_too_much", codes(DEMI, failed))

    def test_lifts_are_counted_where_they_were_done(self) -> None:
        past = [
            Past(work=Earlier.LIFT, days_ago=90, part="ends"),
            Past(work=Earlier.LIFT, days_ago=30),
            Past(work=Earlier.DIRECT, days_ago=5),
        ]
        self.assertEqual([each.days_ago for each in lifts_of(past, "ends")], [30, 90])
        self.assertEqual([each.days_ago for each in lifts_of(past, "roots")], [30])

    def test_what_can_not_be_is_refused(self) -> None:
        with self.assertRaises(OutOfRange):
            Past(work=Earlier.LIFT, days_ago=-1)
        with self.assertRaises(OutOfRange):
            replace(LIFT, vol=-1)
        with self.assertRaises(OutOfRange):
            replace(LIFT, lift_levels=11)


class Signing(unittest.TestCase):
    def gate(self, work: Work, known: Known, code: str):
        return next(gate for gate in check(work, known) if gate.code == code)

    def test_a_signature_lapses_when_any_of_its_facts_gets_worse(self) -> None:
        signed = self.gate(replace(LIFT, vol=25), FINE, "too_strong_for_scalp").given
        self.assertTrue(still_covers(signed, self.gate(replace(LIFT, vol=22), FINE, "too_strong_for_scalp")))
        self.assertFalse(still_covers(signed, self.gate(replace(LIFT, vol=30), FINE, "too_strong_for_scalp")))
        self.assertFalse(still_covers({}, self.gate(replace(LIFT, vol=22), FINE, "too_strong_for_scalp")))

    def test_a_scalp_that_was_signed_sore_is_not_signed_sunburnt(self) -> None:
        signed = self.gate(LIFT, replace(FINE, scalp=Scalp.SORE), "scalp_not_sound").given
        self.assertFalse(still_covers(signed, self.gate(LIFT, replace(FINE, scalp=Scalp.SUNBURNT), "scalp_not_sound")))

    def test_one_coat_on_several_places_is_told_once_with_the_worst_of_each(self) -> None:
        thin, porous = (replace(LIFT, vol=25, place=replace(ROOTS, porosity=p)) for p in (1.0, 1.5))
        known = replace(FINE, past=THRICE)
        found = [gate for gate in check_all([thin, porous], [known, known]) if gate.code == "lift_too_much"]
        self.assertEqual(len(found), 0)
        much = [replace(each, lift_levels=3) for each in (thin, porous)]
        found = [gate for gate in check_all(much, [known, known]) if gate.code == "lift_too_much"]
        self.assertEqual([gate.given["porosity"] for gate in found], [1.5])

    def test_every_gate_that_may_be_signed_has_facts_to_be_signed_for(self) -> None:
        for code, (fires, _) in FIRES.items():
            gate = self.gate(*fires, code)
            if gate.may_be_signed:
                with self.subTest(code=code):
                    self.assertTrue(gate.given)
                    self.assertTrue(still_covers(gate.given, gate))
