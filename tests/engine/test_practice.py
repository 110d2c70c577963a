"""Drills are made and graded by the engine: each has one right answer, which its own forecasts bear out.

How practice is spaced follows [CEP06]; which mistake gives which result is common practice, no published source.
"""

import datetime
import unittest
from collections.abc import Mapping

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from engine.bowl.mix import Bowl
from engine.bowl.predict import predict
from engine.colorimetry.difference import delta_e00
from engine.dye.shelf import demo_shelf
from engine.errors import BadInput, OutOfRange, Unknown
from engine.hair.reading import read_hair
from engine.practice.bowls import SPOILT_FROM, AtTheBowl, poured
from engine.practice.cases import Case, what_came_out
from engine.practice.drill import HARDEST, Skill, ToChoose, ToReckon, chosen, reckoned
from engine.practice.make import drill_of
from engine.practice.routing import WAYS
from engine.practice.standing import DAYS, Answered, standing_after
from engine.practice.two_heads import LIGHTENER, OTHERS, Head, Went, went
from engine.practice.wrong import CAUSES, MAKERS

NUMBERS = st.integers(0, 2**31 - 1)
HARD = st.integers(1, HARDEST)
DAY = datetime.date(2026, 12, 1)


def chose(skill: Skill, number: int, difficulty: int) -> ToChoose:
    asked = drill_of(skill, number, difficulty)
    assert isinstance(asked, ToChoose)
    return asked


def at_bowl(skill: Skill, number: int, difficulty: int) -> AtTheBowl:
    asked = drill_of(skill, number, difficulty)
    assert isinstance(asked, AtTheBowl)
    return asked


def off(asked: AtTheBowl, pours: Mapping[str, float]) -> float:
    """How far from the aim a bowl is after pours."""
    return float(delta_e00(asked.target_lab, asked.lab(asked.holds(pours))))


class Choosing(unittest.TestCase):
    @settings(max_examples=36)
    @given(
        st.sampled_from([Skill.READ, Skill.OPPOSITE, Skill.WHICH, Skill.WRONG, Skill.ROUTE, Skill.TWO]), NUMBERS, HARD
    )
    def test_there_is_one_right_answer_among_several(self, skill: Skill, number: int, difficulty: int) -> None:
        asked = chose(skill, number, difficulty)
        scores = sorted((choice.score for choice in asked.choices), reverse=True)
        self.assertGreaterEqual(len(scores), 3)
        self.assertEqual(len({choice.key for choice in asked.choices}), len(scores))
        self.assertEqual(scores[0], 1.0)
        self.assertLess(scores[1], 1.0)
        self.assertGreaterEqual(scores[-1], 0.0)
        grade = chosen(asked, asked.best.key)
        self.assertTrue(grade is not None and grade.is_right and grade.words)
        self.assertIsNone(chosen(asked, "none of them"))

    def test_a_drill_is_the_same_each_time(self) -> None:
        for skill in Skill:
            with self.subTest(skill=skill):
                one, other = drill_of(skill, 7, 3), drill_of(skill, 7, 3)
                self.assertEqual(one.question, other.question)

    @settings(max_examples=24)
    @given(NUMBERS, HARD)
    def test_the_level_that_is_right_is_the_one_that_its_colour_is_read_as(self, number: int, difficulty: int) -> None:
        asked = chose(Skill.READ, number, difficulty)
        read = read_hair(asked.shown[0].lab)
        self.assertAlmostEqual(read.canvas.level, float(asked.best.key.split("-")[0]), delta=0.25)

    @settings(max_examples=24)
    @given(NUMBERS, HARD)
    def test_a_level_that_is_off_is_never_right(self, number: int, difficulty: int) -> None:
        asked = chose(Skill.READ, number, difficulty)
        right = [choice.key for choice in asked.choices if (grade := chosen(asked, choice.key)) and grade.is_right]
        self.assertEqual(right, [asked.best.key])

    @settings(max_examples=16)
    @given(NUMBERS, HARD)
    def test_the_right_opposite_leaves_the_least_colour(self, number: int, difficulty: int) -> None:
        asked = chose(Skill.OPPOSITE, number, difficulty)
        left = {choice.key: float(np.hypot(*choice.lab[1:])) for choice in asked.choices if choice.lab is not None}
        self.assertEqual(min(left, key=lambda key: left[key]), asked.best.key)

    def test_violet_is_it_for_yellow_and_blue_for_orange(self) -> None:
        """F1. Common practice, no published source."""
        found = {}
        for number in range(60):
            asked = chose(Skill.OPPOSITE, number, 2)
            found.setdefault(asked.shown[0].lab[0] > 70, set()).add(asked.best.key)
        self.assertEqual(found[True], {"violet"})
        self.assertIn("blue", found[False])

    @settings(max_examples=16)
    @given(NUMBERS, HARD)
    def test_the_locks_of_a_bowl_can_be_told_apart(self, number: int, difficulty: int) -> None:
        labs = [choice.lab for choice in chose(Skill.WHICH, number, difficulty).choices]
        for at, lab in enumerate(labs):
            for other in labs[at + 1 :]:
                self.assertGreater(float(delta_e00(lab, other)), 4.9)

    def test_every_way_is_the_right_one_of_some_head_and_is_the_one_that_is_proposed(self) -> None:
        found = {}
        for number in range(60):
            asked = chose(Skill.ROUTE, number, 1 + number % HARDEST)
            found.setdefault(asked.best.key, []).append(asked)
        self.assertEqual(set(found), {kind.value for kind in WAYS})
        for asked in (asked for every in found.values() for asked in every[:2]):
            self.assertEqual(sum(choice.score for choice in asked.choices), 1.0)
            self.assertGreater(len(asked.why), 20)

    def test_a_brown_on_light_hair_wants_a_fill_first(self) -> None:
        """F31. Common practice, no published source."""
        browns = [asked for number in range(40) if "brown" in (asked := chose(Skill.ROUTE, number, 1)).question]
        self.assertGreater(len(browns), 3)
        self.assertEqual({asked.best.key for asked in browns}, {"fill"})

    def test_every_mistake_is_one_that_can_be_met_and_named(self) -> None:
        met = {chose(Skill.WRONG, number, 1 + number % HARDEST).best.key for number in range(90)}
        self.assertEqual(met, set(CAUSES))
        self.assertEqual(len(MAKERS), len(CAUSES))

    def test_a_mistake_is_seen(self) -> None:
        for number in range(40):
            aim, result = (each.lab for each in chose(Skill.WRONG, number, 1).shown[-2:])
            self.assertGreater(float(delta_e00(aim, result)), 4.0)


class TwoHeads(unittest.TestCase):
    HEADS = (
        Head(kind=LIGHTENER, apply_min=15, works_min=30),
        Head(kind=OTHERS[0], apply_min=20, works_min=30),
    )

    def test_hands_are_at_one_chair_at_a_time(self) -> None:
        """By hand: on 0-15 and 15-35, off 45-55 and 65-75; one after the other 15, 45-55, then 75, 105-115."""
        at_once = ((0, True), (1, True), (0, False), (1, False))
        self.assertEqual(went(self.HEADS, at_once), Went(total_min=75, late_min=(0, 0)))
        one_by_one = ((0, True), (0, False), (1, True), (1, False))
        self.assertEqual(went(self.HEADS, one_by_one), Went(total_min=115, late_min=(0, 0)))
        left_on = ((0, True), (1, True), (1, False), (0, False))
        self.assertEqual(went(self.HEADS, left_on), Went(total_min=85, late_min=(27, 0)))

    @settings(max_examples=24)
    @given(NUMBERS, HARD)
    def test_the_right_order_leaves_no_lightener_on_and_is_told_with_its_minutes(self, number: int, hard: int) -> None:
        asked = chose(Skill.TWO, number, hard)
        self.assertNotIn("too long", asked.why)
        self.assertTrue(all("done after" in choice.because for choice in asked.choices))


class FromCards(unittest.TestCase):
    def test_what_came_out_is_among_others_that_can_be_told_from_it(self) -> None:
        for lab in ((60.0, 20.0, 5.0), (20.0, 2.0, 1.0), (92.0, 1.0, 4.0), (50.0, 60.0, 30.0)):
            for difficulty in range(1, HARDEST + 1):
                result = np.array(lab)
                case = Case(level=9, bowl="3 g red", before_lab=result, forecast_lab=result, result_lab=result)
                asked = what_came_out(case, np.random.default_rng(difficulty), difficulty)
                with self.subTest(lab=lab, difficulty=difficulty):
                    self.assertGreaterEqual(len(asked.choices), 3)
                    np.testing.assert_array_equal(asked.best.lab, result)
                    for choice in asked.choices:
                        if choice is not asked.best:
                            self.assertGreater(float(delta_e00(choice.lab, result)), 3.9)


class Reckoning(unittest.TestCase):
    def test_right_and_in_time_is_full_and_late_is_half(self) -> None:
        asked = drill_of(Skill.SUMS, 3, 2)
        assert isinstance(asked, ToReckon)
        self.assertEqual(reckoned(asked, asked.right, asked.allowed_s).score, 1.0)
        self.assertEqual(reckoned(asked, asked.right, asked.allowed_s + 1).score, 0.5)
        self.assertEqual(reckoned(asked, asked.right * 1.2 + 1, 1).score, 0.0)

    @settings(max_examples=36)
    @given(NUMBERS, HARD)
    def test_its_explanation_ends_in_its_answer(self, number: int, difficulty: int) -> None:
        asked = drill_of(Skill.SUMS, number, difficulty)
        assert isinstance(asked, ToReckon)
        told = float(asked.why.rsplit("=", 1)[1].strip(" .").split()[0])
        self.assertAlmostEqual(told, asked.right, delta=0.051)
        self.assertGreater(asked.right, 0)


class AtBowls(unittest.TestCase):
    @settings(max_examples=16)
    @given(NUMBERS, HARD)
    def test_the_aim_can_be_hit_with_what_is_offered(self, number: int, difficulty: int) -> None:
        asked = at_bowl(Skill.HIT, number, difficulty)
        grade = poured(asked, asked.hidden, len(asked.hidden))
        self.assertTrue(grade.is_right)
        self.assertLess(off(asked, asked.hidden), 0.01)

    @settings(max_examples=15)
    @given(NUMBERS, HARD)
    def test_a_rescue_is_possible_by_adding(self, number: int, difficulty: int) -> None:
        """By what is missing of the others beside so much of the one; and the bowl holds that."""
        asked = at_bowl(Skill.RESCUE, number, difficulty)
        times = max(asked.held[name] / asked.hidden[name] for name in asked.held)
        missing = {name: max(times * grams - asked.held[name], 0.0) for name, grams in asked.hidden.items()}
        self.assertLess(off(asked, missing), 0.5)
        self.assertGreaterEqual(off(asked, {}), SPOILT_FROM)

    def test_a_bowl_that_hardly_shows_its_mistake_is_none_to_rescue(self) -> None:
        """Of these numbers, the first bowls that are drawn lie within half a delta E00 of their aims."""
        for number, difficulty in ((335, 1), (298, 4), (790, 2)):
            asked = at_bowl(Skill.RESCUE, number, difficulty)
            self.assertGreaterEqual(off(asked, {}), SPOILT_FROM)
            self.assertFalse(poured(asked, {}, 0).is_right)

    def test_pours_and_waste_cost_a_little(self) -> None:
        asked = at_bowl(Skill.HIT, 5, 1)
        once, often = poured(asked, asked.hidden, 2), poured(asked, asked.hidden, 9)
        double = poured(asked, {name: 2 * grams for name, grams in asked.hidden.items()}, 2)
        self.assertGreater(once.score, often.score)
        self.assertGreater(once.score, double.score)

    def test_what_can_not_be_poured_is_refused(self) -> None:
        asked = at_bowl(Skill.HIT, 5, 1)
        with self.assertRaises(Unknown):
            poured(asked, {"gold": 1.0}, 1)
        with self.assertRaises(OutOfRange):
            poured(asked, {"clear": -1.0}, 1)
        with self.assertRaises(BadInput):
            poured(asked, {"clear": 100.0, asked.offered[0]: 100.0}, 1)
        with self.assertRaises(OutOfRange):
            drill_of(Skill.HIT, 5, 6)

    def test_what_it_says_would_come_next_comes_nearer(self) -> None:
        asked = at_bowl(Skill.RESCUE, 11, 3)
        grade = poured(asked, {}, 0)
        self.assertEqual(len(grade.notes), 1)
        self.assertIn("then", grade.notes[0])

    def test_the_look_of_the_bowl_is_the_engines_forecast(self) -> None:
        asked = at_bowl(Skill.HIT, 5, 1)
        shelf = demo_shelf()
        grams = {asked.offered[0]: 2.0, "clear": 38.0}
        expected = predict(asked.canvas, Bowl(grams={shelf[name]: each for name, each in grams.items()})).lab
        np.testing.assert_array_equal(asked.lab(grams), expected)


class Standings(unittest.TestCase):
    def after(self, *scores: float, apart: int = 0) -> tuple[int, int | None]:
        """Difficulty, and in how many days it is due, after answers so many days apart."""
        answers, difficulty = [], 1
        for at, score in enumerate(scores):
            answers.append(Answered(on=DAY + datetime.timedelta(days=at * apart), difficulty=difficulty, score=score))
            difficulty = standing_after(answers).difficulty
        found = standing_after(answers)
        return found.difficulty, (found.due_on - answers[-1].on).days if found.due_on else None

    def test_two_right_ones_are_harder_and_a_failure_is_easier(self) -> None:
        self.assertEqual(self.after(1, 1)[0], 2)
        self.assertEqual(self.after(1, 0.5, 1)[0], 1)
        self.assertEqual(self.after(1, 1, 0.1)[0], 1)
        self.assertEqual(self.after(*[1.0] * 20)[0], HARDEST)

    def test_what_went_well_comes_again_later_and_later_and_what_did_not_tomorrow(self) -> None:
        self.assertEqual([self.after(*[1.0] * days, apart=1)[1] for days in range(1, 7)], list(DAYS[1:]))
        self.assertEqual(self.after(1, 1, 1, 0.3, apart=1)[1], 1)

    def test_as_much_in_one_day_counts_as_one_day(self) -> None:
        self.assertEqual(self.after(*[1.0] * 9)[1], 1)

    def test_before_any_answer_it_is_due(self) -> None:
        self.assertTrue(standing_after([]).is_due(DAY))
