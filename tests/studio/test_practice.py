"""The practice room: drills begun, answered once, gone on with, and nobody else's."""

import datetime
import json
from decimal import Decimal
from uuid import uuid4

import numpy as np
from django.db import IntegrityError, transaction
from django.http import HttpResponse
from django.urls import reverse
from django.utils import timezone

from engine.practice.drill import Skill
from studio.cards.models import Formula
from studio.cards.services.judge import judge_zone
from studio.practice.models import Drill, SetWork
from studio.practice.services.practise import answer, asked_in, begin
from tests.studio.made import StudioCase, make_person


class PracticeCase(StudioCase):
    def start(self, skill: str) -> Drill:
        self.client.post(reverse("practice:start"), {"skill": skill})
        return Drill.objects.get(skill=skill, answered_at=None)

    def send(self, name: str, drill: Drill, **fields: object) -> HttpResponse:  # type: ignore[override]
        return self.client.post(reverse(f"practice:{name}", args=[drill.pk]), fields, follow=True)

    def see(self, drill: Drill) -> HttpResponse:
        return self.client.get(reverse("practice:drill", args=[drill.pk]))


class Drills(PracticeCase):
    def test_every_skill_is_practised_and_explained(self) -> None:
        page = self.client.get(reverse("practice:practice"))
        self.assertContains(page, "not tried yet", count=len(Skill))
        for skill in Skill:
            with self.subTest(skill=skill):
                drill = self.start(skill.value)
                self.assertEqual(self.see(drill).status_code, 200)
                answered = self.send("reply", drill, leave=1)
                self.assertContains(answered, "this is the answer")
                self.assertEqual(Drill.objects.get(pk=drill.pk).score, 0)

    def test_a_right_choice_counts_and_the_others_are_told(self) -> None:
        drill = self.start("which")
        right = asked_in(drill).best
        page = self.send("reply", drill, given=right.key)
        self.assertContains(page, "Right: 100 of 100")
        self.assertContains(page, "data-right", count=1)
        told = [answer.because for answer in page.context["page"].answers if not answer.is_right]
        self.assertTrue(all(told), "each wrong lock says what it would have been")

    def test_answered_twice_the_first_counts(self) -> None:
        drill = self.start("which")
        asked = asked_in(drill)
        wrong = next(choice.key for choice in asked.choices if choice.score == 0)
        self.send("reply", drill, given=wrong)
        again = self.send("reply", drill, given=asked.best.key)
        self.assertContains(again, "answered already", status_code=422)
        self.assertEqual(Drill.objects.get().score, 0)

    def test_one_that_was_left_is_gone_on_with(self) -> None:
        drill = self.start("hit")
        shade = asked_in(drill).offered[0]
        self.send("pour", drill, pour=f"{shade}:1", seen=0)
        self.assertContains(self.client.get(reverse("practice:practice")), "Go on")
        self.assertEqual(self.start("hit").pk, drill.pk)
        self.assertContains(self.see(drill), "9 pours left")

    def test_two_tablets_do_not_pour_the_same_twice(self) -> None:
        drill = self.start("hit")
        shade = asked_in(drill).offered[0]
        self.send("pour", drill, pour=f"{shade}:1", seen=0)
        other = self.send("pour", drill, pour=f"{shade}:5", seen=0)
        self.assertContains(other, "Another tablet has poured", status_code=422)
        self.assertEqual(Drill.objects.get().pours, [[shade, 1.0]])

    def test_a_bowl_is_poured_and_graded_by_how_near_it_came(self) -> None:
        drill = self.start("hit")
        shade = asked_in(drill).offered[0]
        for seen in range(10):
            self.send("pour", drill, pour=f"{shade}:0.3", seen=seen)
        self.assertContains(self.send("pour", drill, pour=f"{shade}:1", seen=10), "10 pours are used", status_code=422)
        page = self.send("reply", drill)
        self.assertContains(page, "The aim was made from")
        self.assertContains(page, "Next one")

    def test_a_sum_is_refused_until_it_is_a_number_and_late_is_half(self) -> None:
        drill = self.start("sums")
        asked = asked_in(drill)
        self.assertContains(self.send("reply", drill, given="much"), "needs a number", status_code=422)
        self.assertIsNone(Drill.objects.get().score)
        Drill.objects.update(made_at=timezone.now() - datetime.timedelta(seconds=asked.allowed_s + 5))
        self.send("reply", drill, given=f"{asked.right:.4f}")
        self.assertEqual(float(Drill.objects.get().score), 0.5)

    def test_a_sum_that_was_left_is_another_one_when_it_is_gone_on_with(self) -> None:
        drill = self.start("sums")
        self.assertContains(self.see(drill), f'dur="{asked_in(drill).allowed_s}s" begin="-0.')
        self.assertEqual(self.start("sums").number, drill.number, "its time has not run out")
        Drill.objects.update(made_at=timezone.now() - datetime.timedelta(hours=1))
        again = self.start("sums")
        self.assertEqual((again.pk, again.number != drill.number), (drill.pk, True))
        self.send("reply", again, given=f"{asked_in(again).right:.4f}")
        self.assertEqual(float(Drill.objects.get().score), 1.0)

    def test_what_is_no_answer_is_refused(self) -> None:
        drill = self.start("which")
        for given in ("", "z", "x" * 500):
            self.assertContains(self.send("reply", drill, given=given), "Choose one of the answers", status_code=422)
        for pour in ("", "red:1", ":", "red:x"):
            self.assertEqual(self.send("pour", drill, pour=pour, seen=0).status_code, 422)
        drill = self.start("hit")
        shade = asked_in(drill).offered[0]
        for pour in ("gold:1", f"{shade}:7", f"{shade}:-1", f"{shade}:x", "clear"):
            self.assertEqual(self.send("pour", drill, pour=pour, seen=0).status_code, 422)
        self.assertEqual(self.client.post(reverse("practice:start"), {"skill": "juggling"}).status_code, 422)

    def test_it_gets_harder_and_is_due_later(self) -> None:
        for _ in range(2):
            drill = self.start("which")
            self.send("reply", drill, given=asked_in(drill).best.key)
        self.assertEqual(self.start("which").difficulty, 2)
        row = next(
            row for row in self.client.get(reverse("practice:practice")).context["page"].rows if row.skill == "which"
        )
        self.assertEqual((row.standing.difficulty, row.is_due, len(row.plot)), (2, False, 2))

    def test_the_room_asks_a_fixed_number_of_queries(self) -> None:
        with self.assertNumQueries(
            6
        ):  # session and person, answers, what is open, what was set, whether there are cases
            self.client.get(reverse("practice:practice"))


class Whose(PracticeCase):
    def test_nobody_sees_or_answers_anothers(self) -> None:
        drill = self.start("which")
        colleague = make_person(self.person.studio.name, "colleague")
        for other in (colleague, make_person("Sail Loft", "sail")):
            self.client.force_login(other)
            self.assertEqual(self.see(drill).status_code, 404)
            self.assertEqual(self.send("reply", drill, given="a").status_code, 404)
            self.assertContains(self.client.get(reverse("practice:practice")), "not tried yet", count=len(Skill))

    def test_the_desk_practises_nothing(self) -> None:
        self.person.role = "desk"
        self.person.save()
        self.assertEqual(self.client.get(reverse("practice:practice")).status_code, 403)

    def test_there_is_one_open_drill_of_a_skill(self) -> None:
        drill = begin(self.person, skill="hit", now=timezone.now())
        with self.assertRaises(IntegrityError), transaction.atomic():
            Drill.objects.create(person=self.person, skill="hit", number=1, made_at=drill.made_at)


class Mentors(PracticeCase):
    def setUp(self) -> None:
        super().setUp()
        self.person.licensed = True
        self.person.save()
        self.learner = make_person(self.person.studio.name, "learner")

    def act(self, way: str, of: int | str | None = None, skill: str = "which") -> HttpResponse:
        fields = {"way": way, "of": self.learner.pk if of is None else of, "skill": skill}
        return self.client.post(reverse("practice:mentor"), fields, follow=True)

    def practised(self, times: int = 6) -> None:
        now = timezone.now()
        for _ in range(times):
            drill = begin(self.learner, skill="which", now=now)
            answer(self.learner, drill_id=drill.pk, given=asked_in(drill).best.key, now=now)

    def test_work_is_set_and_seen_and_signed_off_once_it_is_good_enough(self) -> None:
        self.assertContains(self.act("set"), "Set by ropery")
        self.client.force_login(self.learner)
        page = self.client.get(reverse("practice:practice"))
        self.assertContains(page, "Set by ropery")
        self.assertEqual(page.context["page"].next, "which")
        self.client.force_login(self.person)
        self.assertContains(self.act("sign"), "Not ready", status_code=422)
        self.practised()
        self.assertContains(self.act("sign"), "Signed off by ropery")
        self.act("set")
        self.assertEqual([bool(work.signed_at) for work in SetWork.objects.order_by("pk")], [True, False])

    def test_set_twice_it_is_set_once(self) -> None:
        self.act("set")
        self.act("set")
        self.assertEqual(SetWork.objects.count(), 1)

    def test_nobody_signs_themselves_off_or_whom_they_do_not_know(self) -> None:
        self.assertContains(self.act("sign", self.person.pk), "their own work", status_code=422)
        other = make_person("Sail Loft", "sail")
        self.assertEqual(self.act("set", other.pk).status_code, 404)
        self.assertEqual(self.act("set", "x").status_code, 422)
        self.assertEqual(self.act("set", skill="juggling").status_code, 422)
        self.assertFalse(SetWork.objects.exists())

    def test_only_a_licensed_colleague_may(self) -> None:
        self.client.force_login(self.learner)
        self.assertEqual(self.client.get(reverse("practice:mentor")).status_code, 422)
        self.assertEqual(self.act("set", self.person.pk).status_code, 422)
        self.assertNotContains(self.client.get(reverse("practice:practice")), "Set and sign off")


class Cases(PracticeCase):
    def judged(self) -> None:
        for name, grams in (("Orchil", "3"), ("Clear", "57")):
            StudioCase.send(self, "pour", shade=self.shade(name).pk, grams=grams)
        self.client.post(reverse("bench:save", args=[self.visit.pk]), {"version": self.bowl.version})
        lab = (Decimal(60), Decimal(20), Decimal(5))
        zone = self.visit.zones.get()
        judge_zone(self.person, zone_id=zone.pk, lab=lab, forecast_lab=lab, source="eye", dry=True, two_lights=False)

    def test_what_came_out_here_is_practised_and_tells_nobody(self) -> None:
        self.assertNotContains(self.client.get(reverse("practice:practice")), "What came out here")
        answer = self.client.post(reverse("practice:start"), {"skill": "case"})
        self.assertContains(answer, "has been judged yet", status_code=422)
        self.judged()
        self.assertContains(self.client.get(reverse("practice:practice")), "What came out here")
        drill = self.start("case")
        page = self.see(drill)
        self.assertContains(page, "3 g Orchil")
        self.assertNotContains(page, "Pim Harrow")
        self.assertNotIn("Pim", json.dumps(drill.case))
        right = asked_in(drill).best
        np.testing.assert_allclose(right.lab, (60, 20, 5))
        self.assertContains(self.send("reply", drill, given=right.key), "Right: 100 of 100")

    def test_a_bowl_that_another_went_over_is_no_case(self) -> None:
        self.judged()
        over = Formula.objects.get()
        over.pk, over.uid, over.coat_number, over.purpose = None, uuid4(), 2, "glaze"
        over.save()
        self.assertNotContains(self.client.get(reverse("practice:practice")), "What came out here")

    def test_a_case_stays_when_its_card_is_gone(self) -> None:
        self.judged()
        drill = self.start("case")
        Formula.objects.all().delete()
        self.assertEqual(self.see(drill).status_code, 200)

    def test_no_other_studio_s_work_is_a_case(self) -> None:
        self.judged()
        self.client.force_login(make_person("Sail Loft", "sail"))
        self.assertNotContains(self.client.get(reverse("practice:practice")), "What came out here")
        self.assertEqual(self.client.post(reverse("practice:start"), {"skill": "case"}).status_code, 422)
