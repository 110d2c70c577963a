"""What a client agrees to, what goes when she does not any more, and what is let go of in time."""

import datetime
import io
import json
import zipfile

from django.apps import apps
from django.core.cache import cache
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import IntegrityError, connection, transaction
from django.urls import reverse
from django.utils import timezone
from procrastinate.contrib.django import app

from studio.accounts.models import SentOnce, SignedIn, Studio
from studio.clients.models import Client, Consent, SkinTest
from studio.clients.services.history import record_skin_test
from studio.formats.services.consent import give_consent
from studio.formats.services.erase import erase_client
from studio.formats.services.housekeep import housekeep
from studio.formats.tasks import keep_house
from studio.photos.models import Photo
from studio.photos.services.photo import take_photo
from studio.ui.refusal import Refusal
from studio.visits.models import Consult
from studio.visits.services.consult import save_consult
from tests.studio.made import StudioCase, make_person, make_visit
from tests.studio.made_far import bring_far
from tests.studio.test_forget import rows_that_say
from tests.studio.test_photo import picture


class ConsentCase(StudioCase):
    def setUp(self) -> None:
        super().setUp()
        self.one = self.visit.client
        self.now = timezone.now()

    def say(self, way: str, of: str):
        return self.client.post(reverse("formats:consent", args=[self.one.pk]), {"way": way, "of": of})

    def card(self):
        return self.client.get(reverse("cards:card", args=[self.one.pk]))

    def photo(self) -> Photo:
        return take_photo(self.person, visit_id=self.visit.pk, upload=SimpleUploadedFile("hair.png", picture()))

    def consult(self, **health: object) -> Consult:
        kept = Consult.objects.filter(visit=self.visit).first()
        client = {"sensitivities": health.pop("sensitivities", "")}
        return save_consult(
            self.person, visit_id=self.visit.pk, version=kept.version if kept else 0, consult=health, client=client
        )

    def refused(self, act) -> str:
        with self.assertRaises(Refusal) as refusal:
            act()
        return refusal.exception.code


class Agreeing(ConsentCase):
    def test_it_is_noted_with_its_day_and_its_hand_and_said_twice_counts_once(self) -> None:
        self.assertContains(self.card(), "not asked yet", count=2)
        for _ in range(2):
            self.say("give", "photos")
        self.assertContains(self.card(), f"noted by {self.person}", count=1)
        self.assertEqual(Consent.objects.count(), 1)

    def test_the_database_holds_one_that_stands(self) -> None:
        give_consent(self.person, client_id=self.one.pk, of="photos", now=self.now)
        with self.assertRaises(IntegrityError), transaction.atomic():
            Consent.objects.create(client=self.one, of="photos", given_at=self.now, noted_by=self.person)

    def test_photos_go_with_their_traces_and_none_is_taken_until_she_agrees_again(self) -> None:
        self.say("give", "photos")
        self.photo()
        self.say("withdraw", "photos")
        self.assertFalse(Photo.objects.exists())
        self.assertFalse(apps.get_model("photos.PhotoEvent")._default_manager.exists())
        self.assertEqual(self.refused(self.photo), "consent_withdrawn")
        self.assertContains(self.card(), "withdrawn ")
        self.say("give", "photos")
        self.assertTrue(self.photo().pk)
        self.assertEqual(Consent.objects.count(), 2)  # what was withdrawn stays on record

    def test_health_facts_go_from_card_consults_and_traces(self) -> None:
        self.consult(pregnant=True, sensitivities="Zirconia")
        self.say("withdraw", "health")  # never asked: she does not agree
        self.assertEqual(rows_that_say("Zirconia"), [])
        self.assertFalse(Consult.objects.get().pregnant)
        self.assertEqual(self.refused(lambda: self.consult(ill=True)), "consent_withdrawn")
        self.assertEqual(self.refused(lambda: self.consult(sensitivities="nickel")), "consent_withdrawn")
        self.assertEqual(self.consult(wish="like dusk").wish, "like dusk")

    def test_a_house_that_asks_first_keeps_nothing_before(self) -> None:
        Studio.objects.filter(pk=self.person.studio_id).update(consent_first=True)
        self.person.studio.refresh_from_db()
        self.assertEqual(self.refused(self.photo), "consent_unasked")
        self.assertEqual(self.refused(lambda: self.consult(pregnant=True)), "consent_unasked")
        for of in ("photos", "health"):
            self.say("give", of)
        self.assertTrue(self.photo().pk)
        self.assertTrue(self.consult(pregnant=True).pregnant)

    def test_another_studios_client_is_not_there_and_nothing_unknown_is_agreed_to(self) -> None:
        self.assertEqual(self.say("give", "secrets").status_code, 422)
        self.client.force_login(make_person("Sail Loft", "sail"))
        for way in ("give", "withdraw"):
            self.assertEqual(self.say(way, "photos").status_code, 404)
        self.assertFalse(Consent.objects.exists())

    def test_the_archive_tells_what_she_agreed_to_and_what_was_changed(self) -> None:
        self.say("give", "photos")
        self.say("withdraw", "photos")
        Client.objects.filter(pk=self.one.pk).update(notes="likes tea")
        body = self.client.get(reverse("formats:everything", args=[self.one.pk])).content
        with zipfile.ZipFile(io.BytesIO(body)) as archive:
            (consent,) = json.loads(archive.read("consent.json"))
            changes = json.loads(archive.read("changes.json"))
        self.assertEqual(consent["of"], "photos")
        self.assertIsNotNone(consent["withdrawn_at"])
        self.assertIn("likes tea", str(changes))


class InTime(ConsentCase):
    def rule(self, **rules: int) -> None:
        Studio.objects.filter(pk=self.person.studio_id).update(**rules)

    def in_months(self, months: float) -> datetime.datetime:
        return self.now + datetime.timedelta(days=30.5 * months)

    def test_photos_go_when_the_house_says_and_only_hers(self) -> None:
        self.photo()
        other = make_person("Sail Loft", "sail")
        take_photo(other, visit_id=make_visit(other).pk, upload=SimpleUploadedFile("hair.png", picture()))
        housekeep(self.in_months(30))
        self.assertEqual(Photo.objects.count(), 2)
        self.rule(photos_months=12)
        housekeep(self.in_months(10))
        self.assertEqual(Photo.objects.count(), 2)
        housekeep(self.in_months(14))
        self.assertEqual(Photo.objects.get().visit.client.studio, other.studio)

    def test_traces_go_when_the_house_says_and_whose_they_were(self) -> None:
        events = apps.get_model("clients.ClientEvent")._default_manager
        self.client.post(
            reverse("clients:edit", args=[self.one.pk]),
            {
                "name": self.one.name,
                "about": "x",
                "notes": "",
                "seen-name": self.one.name,
                "seen-about": self.one.about,
            },
        )
        hers = events.exclude(pgh_context=None)
        self.assertEqual(hers.count(), 1)
        housekeep(self.in_months(35))
        self.assertEqual(hers.count(), 1)
        self.rule(traces_months=0)
        housekeep(self.in_months(400))
        self.assertEqual(hers.count(), 1)
        self.rule(traces_months=36)
        housekeep(self.in_months(37))
        self.assertEqual(events.count(), 0)
        self.assertFalse(apps.get_model("pghistory.Context")._default_manager.exists())

    def test_tests_of_who_is_forgotten_stay_without_a_name_as_long_as_the_house_says(self) -> None:
        for years, stays in ((0, False), (3, True)):
            visit = make_visit(self.person, f"Rue {years}")
            self.rule(signed_years=years)
            self.person.studio.refresh_from_db()
            record_skin_test(
                self.person, client_id=visit.client_id, line_id=None, tested_at=self.now, clear=True, now=self.now
            )
            nameless = erase_client(self.person, client_id=visit.client_id, typed=f"Rue {years}", keeps_mixes=True)
            self.assertEqual(SkinTest.objects.filter(client=nameless).exists(), stays)
        housekeep(self.in_months(35))
        self.assertTrue(SkinTest.objects.filter(client=nameless).exists())
        housekeep(self.in_months(37))
        self.assertFalse(SkinTest.objects.filter(client=nameless).exists())

    def test_a_client_who_is_called_no_name_is_not_forgotten(self) -> None:
        visit = make_visit(self.person, "No name yet")
        record_skin_test(
            self.person, client_id=visit.client_id, line_id=None, tested_at=self.now, clear=True, now=self.now
        )
        housekeep(self.in_months(60))
        self.assertTrue(SkinTest.objects.filter(client=visit.client).exists())

    def test_what_no_program_needs_any_more_goes(self) -> None:
        cache.clear()  # guesses that journeys have counted in this process
        SentOnce.objects.create(person=self.person, token="t", made_at=self.now)
        SignedIn.objects.update(expire_date=self.now + datetime.timedelta(hours=1))
        with connection.cursor() as cursor:
            cursor.execute("INSERT INTO kept_for_a_while (cache_key, value, expires) VALUES ('k', 'v', %s)", [self.now])
        gone = housekeep(self.now)
        self.assertEqual((gone["sent"], gone["sessions"], gone["counted"]), (0, 0, 0))
        gone = housekeep(self.now + datetime.timedelta(days=8))
        self.assertEqual((gone["sent"], gone["sessions"], gone["counted"]), (1, 1, 1))

    def test_a_visit_that_came_far_survives_a_night(self) -> None:
        bring_far(self.person, self.visit)
        before = {model: model._default_manager.count() for model in (Client, Photo, SkinTest, Consult)}
        housekeep(self.in_months(1))
        self.assertEqual({model: model._default_manager.count() for model in before}, before)

    def test_the_worker_does_it_each_night(self) -> None:
        crons = {each.task.name: each.cron for each in app.periodic_registry.periodic_tasks.values()}
        self.assertEqual(crons["housekeep"], "20 3 * * *")
        SentOnce.objects.create(person=self.person, token="t", made_at=self.now - datetime.timedelta(days=30))
        keep_house(0)
        self.assertFalse(SentOnce.objects.exists())
