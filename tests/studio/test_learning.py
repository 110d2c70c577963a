"""Results that are kept teach by themselves: records, versions, switches, misfits, and the worker."""

import datetime
import re
from decimal import Decimal
from unittest.mock import patch

import numpy as np
from django.db import connection
from django.test import TransactionTestCase
from django.urls import reverse
from django.utils import timezone
from procrastinate.contrib.django.models import ProcrastinateJob
from procrastinate.exceptions import ConnectorException

from engine.colorimetry.difference import delta_e00
from engine.hair.source import Source
from engine.learning.learn import learn
from studio.accounts.models import Person
from studio.accounts.services.language import read_in
from studio.bench.answers import Limits, answers_of
from studio.cards.models import Formula, FormulaPour, LaterLook, ZoneResult
from studio.cards.services.save_formula import save_formula
from studio.clients.services.history import record_strand_test
from studio.demo.season import load_season
from studio.head.engine_adapter import forecast_of, spread_of
from studio.head.selectors import bench_of
from studio.head.services.take_recipe import take_recipe
from studio.head.strands import bowl_tested
from studio.learning.lessons import lessons_of
from studio.learning.services.learn import learn_anew
from studio.learning.services.queue import SILENT_S, is_learning, missed, take_up
from studio.learning.services.set import mend, set_client_teaches, set_learns, set_teaches, unmend
from studio.shelf.selectors import stocked_line
from studio.shelf.services.own_tubes import take_off
from studio.shelf.services.strands import forget_strand, read_strand
from studio.taught.models import KnowledgeVersion
from studio.taught.services.ask import ask_to_learn
from studio.ui.refusal import Refusal
from studio.visits.selectors import open_zone
from studio.visits.services.read_hair import read_hair
from studio.visits.services.start_visit import start_visit
from tests.demo import empty_tables
from tests.studio.made import LEVEL_TEN, TODAY, StudioCase, let_the_worker_work, make_person, make_visit

SLIP = {"Orchil": 16, "Clear": 24}  # of the season's card that names another shade than was in the bowl


class LearningCase(StudioCase):
    """A studio with last season's results, and a head in the chair."""

    @classmethod
    def setUpTestData(cls) -> None:
        super().setUpTestData()
        load_season(cls.person)

    def setUp(self) -> None:
        super().setUp()
        self.send("pour", shade=self.shade("Orchil").pk, grams="3")
        self.send("pour", shade=self.shade("Clear").pk, grams="57")

    @property
    def bench(self):
        return bench_of(self.person, open_zone(self.person, self.visit.pk))

    def learned(self) -> KnowledgeVersion:
        version = learn_anew(self.person.studio_id)
        assert version is not None
        return version

    def page(self):
        return self.client.get(reverse("learning:learned")).context["page"]

    def slip(self) -> str:
        pours = FormulaPour.objects.filter(shade_name="Orchil", grams=SLIP["Orchil"])
        formula = pours.get(formula__client__name="Ottilie Sand").formula
        return f"result-{ZoneResult.objects.get(zone__visit=formula.visit).pk}"


class WhatIsLearned(LearningCase):
    def test_twenty_results_forecast_this_studio_better_than_the_first_day(self) -> None:
        before = forecast_of(self.bench).forecast.lab
        version = self.learned()
        self.assertGreaterEqual(version.records, 20)
        self.assertLess(version.after_half, version.before_half / 2)
        self.assertLess(version.after_most, version.before_most)
        page = self.page()
        self.assertEqual(len(page.now), version.records)
        self.assertGreater(sum(each.after for each in page.by_hue), 2 * sum(each.before for each in page.by_hue))
        self.assertGreaterEqual(page.covered, 0.75 * version.records)
        self.assertGreater(float(delta_e00(before, forecast_of(self.bench).forecast.lab)), 1)

    def test_what_is_drawn_is_what_is_forecast(self) -> None:
        self.learned()
        seen = forecast_of(self.bench)
        self.assertLess(float(delta_e00(seen.then.lab, seen.forecast.lab)), 0.01)

    def test_a_forecast_is_surer_of_tubes_that_results_told_of(self) -> None:
        first_day = spread_of(self.bench).within_90
        self.learned()
        self.assertLess(spread_of(self.bench).within_90, first_day)

    def test_bowls_stay_as_they_are_and_cards_keep_the_version_they_were_forecast_with(self) -> None:
        def kept() -> Formula:
            return save_formula(self.person, visit_id=self.visit.pk, version=self.bowl.version)

        plain = kept()
        poured = self.poured()
        version = self.learned()
        self.assertEqual(self.poured(), poured)
        again = kept()
        plain.refresh_from_db()
        self.assertEqual([plain.knowledge_version, again.knowledge_version], [None, version.number])
        self.assertNotEqual(plain.forecast_a, again.forecast_a)

    def test_hitting_the_aim_aims_with_what_was_learned(self) -> None:
        self.learned()
        self.send("aim", lightness="58", chroma="36", hue="352")
        best = answers_of(self.bench, Limits()).recipes[0]
        grams = {shade: grams for shade, _, grams in best.pours}
        take_recipe(self.person, zone_id=self.bench.zone.pk, version=self.bowl.version, grams=grams)
        aim = forecast_of(self.bench).forecast.aim
        self.assertAlmostEqual(aim.delta_e00, best.delta_e00, delta=0.05)

    def test_the_aim_and_the_route_ask_for_the_same_level(self) -> None:
        self.learned()
        zone = self.visit.zones.get()
        number = zone.readings.order_by("number").last().number
        read_hair(self.person, zone_id=zone.pk, after=number, hair={"level": Decimal(6)}, family="natural")
        self.send("aim", lightness="60", chroma="38.6", hue="16.2", tapped="1")
        said = [self.client.get(reverse(name, args=[self.visit.pk])) for name in ("bench:needs", "route:route")]
        levels = [re.search(r"(?:Lift to|needs) level ([\d.]+)", each.content.decode()) for each in said]
        self.assertEqual(*(each and each[1] for each in levels))
        self.assertIsNotNone(levels[0])

    def test_the_same_results_teach_another_studio_nothing(self) -> None:
        other = make_person("Ballast Quay", "ballast")
        visit = make_visit(other)
        self.learned()
        line = bench_of(other, open_zone(other, visit.pk)).bowl.line
        self.assertIsNone(stocked_line(line).taught)
        self.assertEqual(lessons_of(other.studio_id), [])
        self.client.force_login(other)
        self.assertIsNone(self.page().version)

    def test_what_is_learned_of_a_tube_goes_when_the_tube_is_known_anew(self) -> None:
        self.learned()
        orchil = self.shade("Orchil")
        strand = {"shade_id": orchil.pk, "level": LEVEL_TEN["level"], "source": "reader"}
        for share, lab in (("1", (32, 52, -18)), ("0.2", (48, 52, -14))):
            made = read_strand(self.person, **strand, share=share, lab=lab)
        stocked = stocked_line(self.bench.bowl.line)
        self.assertIn(str(orchil.pk), stocked.taught.forgotten)
        self.assertNotIn(str(self.shade("Madder").pk), stocked.taught.forgotten)
        self.learned()
        self.assertFalse(stocked_line(self.bench.bowl.line).taught.forgotten)
        forget_strand(self.person, strand_id=made.pk)
        self.assertEqual([each.number for each in orchil.versions.all()], [3, 2, 1])

    def test_a_card_that_was_kept_twice_and_one_judged_twice_teach_once(self) -> None:
        count = len(lessons_of(self.person.studio_id))
        formula = Formula.objects.filter(client__name="Dov Marlowe").first()
        zone = open_zone(self.person, formula.visit_id).zone
        version = bench_of(self.person, open_zone(self.person, formula.visit_id)).bowl.version
        save_formula(self.person, visit_id=formula.visit_id, version=version, zone_id=zone.pk)
        lessons = lessons_of(self.person.studio_id)
        self.assertEqual(len(lessons), count)
        self.assertTrue(all(len(each.noted.coats) == 1 for each in lessons))

    def test_a_result_says_by_whom_and_by_what_hair_and_colour_were_told(self) -> None:
        lessons = lessons_of(self.person.studio_id)
        self.assertEqual({each.record.read_by for each in lessons}, {Source.EYE})
        self.assertEqual({each.record.reader for each in lessons}, {str(self.person.pk)})
        self.assertEqual({each.record.judged_by for each in lessons}, {Source.EYE, Source.READER})

    def test_learning_the_same_again_counts_no_version_and_old_ones_keep_their_number_alone(self) -> None:
        first = self.learned()
        self.assertEqual(self.learned().pk, first.pk)
        with patch("studio.learning.services.learn.WHOLE_MOST", 1):
            set_teaches(self.person, key=self.slip(), teaches=False)
            self.assertEqual(self.learned().number, 2)
            set_teaches(self.person, key=self.slip(), teaches=True)
            self.assertEqual(self.learned().number, 3)
        first.refresh_from_db()
        self.assertEqual((first.held, first.records), ({}, 24))
        self.assertContains(self.client.get(reverse("learning:learned")), "in force")

    def test_a_client_s_strand_that_was_read_teaches_too(self) -> None:
        count = len(lessons_of(self.person.studio_id))
        mixed = bowl_tested(self.bench, self.bench.bowl.pk)
        zone, minutes = self.bench.zone, Decimal(20)
        seen_lab = [float(part) for part in forecast_of(self.bench).forecast.lab]
        record_strand_test(
            self.person,
            client_id=self.visit.client_id,
            line_name=mixed.line,
            part=zone.part,
            products=["Orchil"],
            vol=0,
            minutes=minutes,
            colour_seen="",
            stretch_held=True,
            passed=True,
            now=timezone.now(),
            worked=mixed.worked_on(zone, minutes),
            seen_lab=seen_lab,
        )
        lessons = lessons_of(self.person.studio_id)
        self.assertEqual(len(lessons), count + 1)
        strand = lessons[0]
        self.assertEqual((strand.kind, strand.where), ("strand", "a strand, whole head"))
        ((bowl, process),) = strand.record.worked.coats
        self.assertEqual({shade.name: grams for shade, grams in bowl.grams.items()}, {"Orchil": 3, "Clear": 57})
        self.assertEqual((process.minutes, strand.record.worked.canvas.level), (20, 10))
        self.assertEqual(self.learned().records, count + 1)
        self.client.post(reverse("learning:record", args=[strand.key]), {"act": "leave"})
        self.assertEqual(self.learned().records, count)


class Switches(LearningCase):
    def test_off_is_the_engine_s_own_physics_at_once_and_on_learns_again(self) -> None:
        before = forecast_of(self.bench).forecast.lab
        self.learned()
        self.client.post(reverse("learning:switch"), {"learns": "0"})
        np.testing.assert_allclose(forecast_of(self.bench).forecast.lab, before)
        self.assertIsNone(learn_anew(self.person.studio_id))
        self.assertContains(self.client.get(reverse("learning:learned")), "Results do not teach")
        self.client.post(reverse("learning:switch"), {"learns": "1"})
        self.assertIsNotNone(learn_anew(self.person.studio_id))

    def test_off_while_it_is_reckoned_stays_off(self) -> None:
        def off(records):
            set_learns(self.person, learns=False)
            return learn(records)

        with patch("studio.learning.services.learn.learn", off):
            self.assertIsNone(learn_anew(self.person.studio_id))
        self.assertFalse(KnowledgeVersion.objects.filter(in_force=True).exists())

    def test_a_record_and_a_client_are_left_out_and_taken_again(self) -> None:
        whole = self.learned().records
        key = self.slip()
        address = reverse("learning:record", args=[key])
        self.client.post(address, {"act": "leave"})
        self.assertEqual(self.learned().records, whole - 1)
        self.client.post(address, {"act": "take"})
        self.assertEqual(self.learned().records, whole)
        client = ZoneResult.objects.get(pk=key.split("-")[1]).zone.visit.client
        self.client.post(reverse("learning:client", args=[client.pk]), {"teaches": "0"})
        without = self.learned()
        self.assertEqual(without.records, whole - 4)
        self.assertNotIn(str(client.pk), without.held["clients"])
        set_client_teaches(self.person, client_id=client.pk, teaches=True)
        self.assertEqual(self.learned().records, whole)

    def test_what_does_not_fit_is_told_with_its_cause_and_mended_in_one_tap(self) -> None:
        self.learned()
        key = self.slip()
        (misfit,) = self.page().misfits
        self.assertEqual(misfit.lesson.key, key)
        self.assertEqual(misfit.misfit, "It looks as if Cochineal was in the bowl, and not Orchil.")
        read_in(self.person, language="de")  # the worker, who learned it, reads English
        (misfit,) = self.page().misfits
        self.assertEqual(misfit.misfit, "Es sieht aus, als wäre Cochineal in der Schale gewesen und nicht Orchil.")
        self.client.post(reverse("learning:record", args=[key]), {"act": "mend"})
        mended = self.learned()
        self.assertLess(mended.shown["records"][key]["after_off"], 4)
        self.assertEqual(self.page().misfits, ())
        names = {pour.shade_name for pour in FormulaPour.objects.filter(formula__client__name="Ottilie Sand", grams=16)}
        self.assertIn("Orchil", names)  # the card is as it was written
        unmend(self.person, key=key)
        self.assertGreater(self.learned().shown["records"][key]["after_off"], 8)

    def test_another_studio_s_records_and_none_at_all_are_refused(self) -> None:
        key = self.slip()
        other = make_person("Ballast Quay", "ballast")
        for act in (
            lambda: set_teaches(other, key=key, teaches=False),
            lambda: mend(other, key=key),
            lambda: unmend(self.person, key="result-999999"),
            lambda: unmend(self.person, key="nothing-1"),
            lambda: unmend(self.person, key="result-" + "9" * 40),
            lambda: mend(self.person, key=key),  # nothing was learned yet
        ):
            with self.assertRaises(Refusal):
                act()
        answer = self.client.post(reverse("learning:record", args=[key]), {"act": "eat"}, follow=True)
        self.assertContains(answer, "no longer here as it was")

    def test_a_studio_without_results_is_told_what_to_do(self) -> None:
        other = make_person("Ballast Quay", "ballast")
        self.client.force_login(other)
        self.assertContains(self.client.get(reverse("learning:learned")), "keep a card and judge its result")
        self.assertIsNone(learn_anew(other.studio_id))
        self.assertIsNone(learn_anew(0))


class LaterVisits(LearningCase):
    """What has become of a colour, and what has changed since a card was kept."""

    def setUp(self) -> None:
        super().setUp()
        self.earlier = Formula.objects.filter(client__name="Nessa Quill").first()
        self.today = start_visit(self.person, client_id=self.earlier.client_id, day=TODAY)
        self.address = reverse("learning:lasted", args=[self.today.pk])

    def lasted(self):
        (zone,) = self.client.get(self.address).context["page"].zones
        return zone

    def note(self, **fields: object):
        return self.client.post(self.address, {"zone": self.lasted().zone.pk, "washes": "12", **fields}, follow=True)

    def test_the_last_colour_is_forecast_as_washed_and_what_is_seen_teaches(self) -> None:
        count = len(lessons_of(self.person.studio_id))
        fresh = self.client.post(self.address, {"zone": self.lasted().zone.pk, "washes": "0", "washed": "1"})
        self.assertFalse(LaterLook.objects.exists())  # that was a look
        (zone,) = fresh.context["page"].zones
        kept = (float(part) for part in (self.earlier.forecast_l, self.earlier.forecast_a, self.earlier.forecast_b))
        self.assertLess(float(delta_e00(np.array([*kept]), zone.lab)), 0.01)
        self.assertGreater(float(delta_e00(zone.lab, self.lasted().lab)), 5)
        for _ in range(2):  # seen again on the same visit it is one
            self.assertContains(self.note(place="1-2"), "noted, and it teaches")
        look = LaterLook.objects.get()
        self.assertEqual((look.washes, look.source, look.zone_id), (12, "eye", zone.zone.pk))
        lessons = lessons_of(self.person.studio_id)
        self.assertEqual(len(lessons), count + 1)
        (later,) = (each for each in lessons if each.kind == "later")
        self.assertEqual((later.record.worked.washes, later.where), (12, f"{zone.zone}, after 12 washes"))
        self.assertEqual(self.learned().records, count + 1)

    def test_the_reader_reads_it(self) -> None:
        self.note(reader="1")
        look = LaterLook.objects.get()
        self.assertEqual(look.source, "reader")
        self.assertLess(float(delta_e00(np.array(look.lab), self.lasted().lab)), 4)
        self.assertIn("off", self.lasted().seen_words)

    def test_what_is_wrong_is_told_where_it_was_typed_and_nothing_is_lost(self) -> None:
        for fields, words in (
            ({"washes": "many"}, "12"),
            ({"washes": "90"}, "60"),
            ({"place": "9-9"}, "lock"),
            ({"reader": "1", "fault": "unplugged"}, "colour reader"),
            ({"washes": "12"}, "lock"),
            ({"zone": "0"}, "no longer here"),
        ):
            with self.subTest(fields):
                answer = self.note(**fields)
                self.assertEqual(answer.status_code, 422)
                self.assertContains(answer, words, status_code=422)
        self.assertFalse(LaterLook.objects.exists())
        answer = self.note(washes="many")
        self.assertContains(answer, 'value="many"', status_code=422)

    def test_another_studio_s_visit_is_not_found(self) -> None:
        self.client.force_login(make_person("Ballast Quay", "ballast"))
        self.assertEqual(self.client.get(self.address).status_code, 404)

    def test_a_client_without_an_earlier_card_is_told(self) -> None:
        address = reverse("learning:lasted", args=[self.visit.pk])
        self.assertContains(self.client.get(address), "Nothing was kept of an earlier visit")

    def again(self) -> str:
        answer = self.client.get(reverse("cards:again", args=[self.earlier.pk]))
        return " ".join(answer.context["page"].since)

    def test_a_repeat_says_what_has_changed_since(self) -> None:
        self.assertEqual(self.again(), "")
        pour = self.earlier.pours.exclude(shade_name="Clear").first()
        strand = {"shade_id": pour.shade_id, "level": LEVEL_TEN["level"], "source": "reader"}
        for share, lab in (("1", (20, 30, -20)), ("0.2", (30, 40, -20))):
            read_strand(self.person, **strand, share=share, lab=lab)
        self.assertIn(f"{pour.shade_name} is known anew since: measured now.", self.again())
        self.assertIn("The same amounts on the same hair are forecast", self.again())
        self.learned()
        self.assertIn("It was forecast before anything was learned from results.", self.again())
        take_off(self.person, shade_id=pour.shade_id)
        self.assertIn(f"{pour.shade_name} is off the shelf.", self.again())

    def test_a_tube_shows_what_it_was_what_it_is_here_and_its_neighbours(self) -> None:
        orchil = self.shade("Orchil")
        address = reverse("shelf:tube", args=[orchil.pk])
        self.assertEqual(self.client.get(address).context["page"].works, "")
        self.learned()
        page = self.client.get(address).context["page"]
        self.assertRegex(page.works, r"18% stronger than its line says, 1.0\d to 1.3\d times in nine cases of ten")
        self.assertEqual(len(page.neighbours), 11)
        self.assertIn("violet", {each.words.split()[-1] for each in page.neighbours})
        strand = {"shade_id": orchil.pk, "level": LEVEL_TEN["level"], "source": "reader"}
        for share, lab in (("1", (32, 52, -18)), ("0.2", (48, 52, -14))):
            read_strand(self.person, **strand, share=share, lab=lab)
        page = self.client.get(address).context["page"]
        self.assertEqual([each.version.number for each in page.versions], [2, 1])
        self.assertEqual(page.works, "")  # of another absorption nothing was learned yet


class Worker(TransactionTestCase):
    """The queue and who works on it, with transactions that are real."""

    person: Person

    def setUp(self) -> None:
        self.addCleanup(empty_tables)
        self.person = make_person()
        load_season(self.person)

    def in_force(self) -> int | None:
        return KnowledgeVersion.objects.filter(in_force=True).values_list("number", flat=True).first()

    def test_kept_results_are_learned_from_in_the_background(self) -> None:
        self.assertEqual(ProcrastinateJob.objects.count(), 1)  # forty-eight times asked for, and one waits
        self.assertTrue(is_learning(self.person.studio_id))
        let_the_worker_work()
        self.assertEqual(self.in_force(), 1)
        self.assertFalse(is_learning(self.person.studio_id))

    def test_a_worker_that_dies_half_way_leaves_all_as_it_was_and_the_next_one_does_it(self) -> None:
        let_the_worker_work()
        first = ZoneResult.objects.order_by("pk")[0]
        set_teaches(self.person, key=f"result-{first.pk}", teaches=False)
        killed = patch("studio.learning.services.learn._kept", side_effect=KeyboardInterrupt)
        with killed, self.assertRaises(KeyboardInterrupt):
            learn_anew(self.person.studio_id)
        self.assertEqual(self.in_force(), 1)
        with connection.cursor() as cursor:  # as it stands when the power goes
            cursor.execute("UPDATE procrastinate_jobs SET status = 'doing'")
        let_the_worker_work()
        self.assertEqual(self.in_force(), 2)
        self.assertEqual(take_up(), 0)

    def at_it(self, silent_s: float) -> None:
        """What waits is being done by a worker that was heard of so long ago."""
        with connection.cursor() as cursor:
            cursor.execute(
                "WITH one AS (INSERT INTO procrastinate_workers (last_heartbeat)"
                " VALUES (now() - %s * interval '1 second') RETURNING id)"
                " UPDATE procrastinate_jobs SET status = 'doing', worker_id = (SELECT id FROM one)",
                [silent_s],
            )

    def test_a_worker_that_starts_leaves_others_theirs_and_takes_up_what_a_silent_one_had(self) -> None:
        self.at_it(SILENT_S - 15)
        self.assertEqual(take_up(), 0)
        self.assertEqual(ProcrastinateJob.objects.get().status, "doing")
        self.at_it(SILENT_S + 15)
        ask_to_learn(self.person.studio_id)  # the same is asked for again meanwhile
        self.assertEqual(take_up(), 1)
        self.assertEqual(ProcrastinateJob.objects.get().status, "todo")
        self.at_it(SILENT_S + 15)
        self.assertEqual((take_up(), take_up()), (1, 0))
        self.assertEqual(ProcrastinateJob.objects.get().status, "todo")

    def test_who_asked_in_vain_is_found_until_it_is_learned(self) -> None:
        ProcrastinateJob.objects.all().delete()
        now = timezone.now()
        self.assertEqual(missed(now), {self.person.studio_id})
        self.assertEqual(missed(now + datetime.timedelta(days=3)), set())
        ask_to_learn(self.person.studio_id)
        let_the_worker_work()
        self.assertEqual(missed(timezone.now()), set())

    def test_a_queue_that_fails_keeps_no_result_from_being_kept(self) -> None:
        down = patch("studio.taught.services.ask.app.configure_task", side_effect=ConnectorException)
        with down, self.assertLogs("studio.taught.services.ask", "ERROR"):
            ask_to_learn(self.person.studio_id)
