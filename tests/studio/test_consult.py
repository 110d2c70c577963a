"""The consult, its gates and signatures."""

import datetime

from django.urls import reverse
from django.utils import timezone

from studio.clients.models import PastWork, SkinTest
from studio.head.models import Coat, Worktop
from studio.head.services.open_bowl import open_bowl
from studio.shelf.models import ShadeLine
from studio.visits.models import Consult
from studio.visits.selectors import open_zone
from tests.studio.made import TODAY, StudioCase, make_person, make_visit

CHOSEN = {
    "setting": "work",
    "upkeep": "little",
    "nerve": "frightened",
    "scalp": "sound",
    "length": "long",
    "density": "thick",
    "texture": "fine",
    "curl": "curly",
    "lay": "foil",
}


class ConsultCase(StudioCase):
    def at(self, name: str) -> str:
        return reverse(f"visits:{name}", args=[self.visit.pk])

    def post(self, name: str, **fields: object):
        return self.client.post(self.at(name), fields, headers={"HX-Request": "true"})

    def consult(self, **fields: object):
        kept = Consult.objects.filter(visit=self.visit).first()
        return self.post("consult", **{**CHOSEN, "version": kept.version if kept else 0, **fields})


class Asking(ConsultCase):
    def test_what_is_asked_is_kept_and_the_clients_part_with_the_client(self) -> None:
        answer = self.consult(wish="like dusk", born_on="1990-05-04", sensitivities="nickel", reacted="on")
        self.assertEqual(answer.status_code, 200)
        kept = Consult.objects.get(visit=self.visit)
        self.assertEqual((kept.wish, kept.curl, kept.version), ("like dusk", "curly", 1))
        self.visit.client.refresh_from_db()
        self.assertEqual(self.visit.client.born_on, datetime.date(1990, 5, 4))
        self.assertTrue(self.visit.client.reacted)

    def test_a_bowl_for_the_whole_head_asks_for_what_such_a_head_takes(self) -> None:
        """180 g of very long, thick hair: the head's own grams of the design; 60 g of a usual one."""
        for length, density, grams in (("very_long", "thick", 180), ("short", "thin", 24), ("medium", "medium", 60)):
            visit = make_visit(self.person, f"{length} {density}")
            Coat.objects.filter(zone__visit=visit).delete()  # no bowl is open yet when the consult is held
            Worktop.objects.filter(visit=visit).delete()
            Consult.objects.create(visit=visit, length=length, density=density)
            bowl = open_bowl(self.person, zone_id=open_zone(self.person, visit.pk).zone.pk)
            self.assertEqual(bowl.wanted_g, grams)

    def test_a_kept_change_swaps_the_gates_and_leaves_the_form_to_the_hand(self) -> None:
        answer = self.consult(wish="like dusk")
        self.assertContains(answer, 'id="consult-version"')
        self.assertContains(answer, 'id="consult-kept"')
        self.assertNotContains(answer, "like dusk")
        self.assertNotIn("HX-Retarget", answer.headers)
        self.assertEqual(self.consult(curl="knotted").headers["HX-Retarget"], "#main")

    def test_a_birthday_to_come_is_refused_beside_its_field_and_the_rest_is_still_there(self) -> None:
        for born_on in ("2031-01-01", "1850-01-01"):
            answer = self.consult(wish="like dusk", born_on=born_on)
            self.assertContains(answer, "no birthday", status_code=422)
            self.assertContains(answer, "like dusk", status_code=422)
        self.assertFalse(Consult.objects.filter(visit=self.visit, version__gt=0).exists())

    def test_an_unknown_choice_is_refused(self) -> None:
        self.assertEqual(self.consult(curl="knotted").status_code, 422)

    def test_two_windows_the_second_is_told(self) -> None:
        self.consult(wish="like dusk")
        answer = self.consult(wish="like dawn", version=0)
        self.assertContains(answer, "changed in another window", status_code=422)
        self.assertEqual(Consult.objects.get(visit=self.visit).wish, "like dusk")

    def test_another_studios_visit_is_not_there(self) -> None:
        stranger = make_visit(make_person("Salt Row", "salt"), "Nell")
        for name in ("consult", "past", "skin-test"):
            answer = self.client.post(reverse(f"visits:{name}", args=[stranger.pk]), CHOSEN)
            self.assertEqual(answer.status_code, 404)

    def test_without_script_a_change_ends_in_a_redirect(self) -> None:
        answer = self.client.post(self.at("consult"), {**CHOSEN, "version": 0})
        self.assertRedirects(answer, f"{self.at('consult')}?zone={self.visit.zones.get().pk}")

    def test_the_consult_costs_a_fixed_number_of_queries(self) -> None:
        for days in (10, 20, 30):
            self.post("past", work="lift", part="whole", done_on=TODAY - datetime.timedelta(days=days))
        # session, person; zones, readings; what there is of all that was asked, and of it the past work; lines
        with self.assertNumQueries(8):
            self.client.get(self.at("consult"))


class Unasked(ConsultCase):
    """What nobody asked is reckoned as usual, is said to be so, and is no answer."""

    def kept(self) -> Consult:
        return Consult.objects.get(visit=self.visit)

    def test_a_choice_that_was_not_made_is_dashed_and_told(self) -> None:
        page = self.client.get(self.at("consult"))
        self.assertContains(page, "Not asked yet:")
        self.assertContains(page, "data-usual", count=len(Consult.CHOICES))
        self.post("consult", version=0, wish="like dusk")
        self.assertEqual((self.kept().answered, self.kept().length), ([], "medium"))

    def test_what_is_usual_is_an_answer_once_it_is_pressed_and_stays_one(self) -> None:
        answer = self.post("consult", version=0, length="medium", scalp="sound")
        self.assertContains(answer, "setting, upkeep, nerve, density, texture, curl")
        self.post("consult", version=1, wish="like dusk")
        self.assertEqual(self.kept().answered, ["scalp", "length"])
        self.assertContains(self.client.get(self.at("consult")), "data-usual", count=len(Consult.CHOICES) - 2)

    def test_all_asked_leaves_nothing_to_say(self) -> None:
        self.assertNotContains(self.consult(), "Not asked yet")
        self.assertNotContains(self.client.get(self.at("consult")), "data-usual")

    def test_a_refused_form_keeps_what_was_pressed_and_what_was_not(self) -> None:
        answer = self.post("consult", version=0, curl="straight", born_on="2031-01-01")
        self.assertContains(answer, "data-usual", count=len(Consult.CHOICES) - 1, status_code=422)

    def test_the_plan_says_what_it_takes_for_usual(self) -> None:
        plan = reverse("route:plan", args=[self.visit.pk])
        self.assertContains(self.client.get(plan), "Nobody asked for length and density: reckoned as medium")
        self.post("consult", version=0, density="medium")
        self.assertContains(self.client.get(plan), "Nobody asked for length: reckoned as medium")
        Consult.objects.update(length_cm=40)
        self.assertNotContains(self.client.get(plan), "Nobody asked")

    def test_the_story_tells_only_what_was_asked(self) -> None:
        self.post("consult", version=0, scalp="sound")
        story = self.client.get(reverse("result:story", args=[self.visit.pk]))
        self.assertContains(story, "Scalp sound")
        self.assertNotContains(story, "upkeep")


class History(ConsultCase):
    def past(self, **fields: object):
        return self.post("past", **{"work": "henna", "part": "whole", "done_on": "2026-03-01", **fields})

    def test_earlier_work_is_noted_and_can_be_taken_off(self) -> None:
        self.assertContains(self.past(), "henna")
        row = PastWork.objects.get()
        self.assertNotContains(self.post("past", remove=row.pk), "1 Mar 2026")
        self.assertFalse(PastWork.objects.exists())

    def test_impossible_histories_are_refused_in_words(self) -> None:
        for done_on, words in (
            (TODAY + datetime.timedelta(days=1), "after this visit"),
            ("1980-01-01", "too long ago"),
            ("soon", "Type a day"),
            ("", "Type the day"),
        ):
            with self.subTest(done_on=done_on):
                self.assertContains(self.past(done_on=done_on), words, status_code=422)
        self.assertEqual(self.past(work="magic").status_code, 422)
        self.assertFalse(PastWork.objects.exists())

    def test_nothing_happened_to_hair_before_its_owner_was_born(self) -> None:
        self.consult(born_on="2005-01-01")
        self.assertContains(self.past(done_on="2004-12-31"), "too long ago", status_code=422)

    def test_another_studios_row_can_not_be_taken_off(self) -> None:
        stranger = make_visit(make_person("Salt Row", "salt"), "Nell")
        row = PastWork.objects.create(client=stranger.client, work="henna", done_on=TODAY)
        self.assertEqual(self.post("past", remove=row.pk).status_code, 404)
        self.assertTrue(PastWork.objects.filter(pk=row.pk).exists())


class Tests(ConsultCase):
    def test_a_test_of_lightener_is_recorded_one_way_only(self) -> None:
        """By its line it would open no gate: lightener is asked for whatever it is sold as."""
        page = self.client.get(reverse("visits:consult", args=[self.visit.pk]))
        self.assertNotContains(page, "Chalkcliff lightener")
        self.assertContains(page, "Capstan permanent")

    def test_a_test_of_tomorrow_or_of_a_strangers_line_is_refused(self) -> None:
        line = ShadeLine.objects.visible_to(self.person).get(kind="demi")
        late = timezone.localdate() + datetime.timedelta(days=2)
        answer = self.post("skin-test", line=line.pk, clear="1", tested_on=late)
        self.assertContains(answer, "still to come", status_code=422)
        stranger = ShadeLine.objects.visible_to(make_person("Salt Row", "salt")).first()
        answer = self.post("skin-test", line=stranger.pk, clear="1", tested_on=self.visit.day)
        self.assertEqual(answer.status_code, 422)
        self.assertFalse(SkinTest.objects.exists())
