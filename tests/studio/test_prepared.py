"""Queries that are put into SQL once: they find what Django's own find, and mix up nobody's rows."""

import datetime
from threading import Thread

from django.db import connection
from django.db.transaction import TransactionManagementError, atomic
from django.test import TestCase, TransactionTestCase
from django.utils import timezone

from studio.accounts.models import Person, SignedIn
from studio.accounts.prepared import Prepared
from studio.accounts.sessions import SessionStore
from studio.visits.models import Visit, Zone
from tests.studio.made import make_person, make_visit

DAY = datetime.date(2026, 12, 1)
ZONES = Prepared(
    lambda studio, visits: (
        Zone.objects.of_studio(studio)
        .filter(visit__among=visits, removed=False)
        .select_related("visit__client", "visit__consult")
        .order_by("pk")
    ),
    studio=int,
    visits=list,
)
DAYS = Prepared(lambda day: Visit.objects.filter(day=day).order_by("pk"), day=datetime.date)
LOCKED = Prepared(lambda person: Person.objects.filter(pk=person).select_for_update(), person=int)


class Found(TestCase):
    def setUp(self) -> None:
        self.person = make_person()
        self.visits = [make_visit(self.person, f"Head {each}", DAY) for each in range(3)]

    def test_it_finds_what_the_same_query_finds_with_what_is_joined(self) -> None:
        ids = [each.pk for each in self.visits[:2]]
        with self.assertNumQueries(1):
            found = ZONES(studio=self.person.studio_id, visits=ids)
            names = [each.visit.client.name for each in found]
        plain = Zone.objects.filter(visit__in=ids).order_by("pk")
        self.assertEqual(found, list(plain))
        self.assertEqual(names, [each.visit.client.name for each in plain])

    def test_each_time_it_is_asked_for_something_else(self) -> None:
        for each in self.visits:
            found = ZONES(studio=self.person.studio_id, visits=[each.pk])
            self.assertEqual({zone.visit_id for zone in found}, {each.pk})
        self.assertEqual(ZONES(studio=self.person.studio_id, visits=[]), [])

    def test_a_number_that_no_row_can_have_finds_none(self) -> None:
        self.client.force_login(self.person)
        for number in (2**31, 2**63, 10**30):
            for page in ("bench", "read", "clock"):
                self.assertEqual(self.client.get(f"/visits/{number}/{page}/").status_code, 404, number)

    def test_another_studio_sees_nothing(self) -> None:
        other = make_person("Sail Loft", "sail")
        self.assertEqual(ZONES(studio=other.studio_id, visits=[each.pk for each in self.visits]), [])

    def test_a_day_is_asked_for_as_it_is(self) -> None:
        self.assertEqual(DAYS(day=DAY), self.visits)
        self.assertEqual(DAYS(day=DAY + datetime.timedelta(days=1)), [])

    def test_a_session_is_found_until_it_ends_and_for_its_own_key_alone(self) -> None:
        self.client.force_login(self.person)
        key, page = self.client.session.session_key, "/chairs/"
        with self.assertNumQueries(1):
            self.assertEqual(SessionStore(key)["_auth_user_id"], str(self.person.pk))
        for other in (key[:-1] + "?", "'; --" * 3, "-1000001"):
            self.assertEqual(SessionStore(other).load(), {})
        self.assertEqual(self.client.get(page).status_code, 200)
        SignedIn.objects.update(expire_date=timezone.now() - datetime.timedelta(seconds=1))
        self.assertEqual(self.client.get(page).status_code, 302)

    def test_what_it_is_asked_must_have_its_names(self) -> None:
        with self.assertRaisesRegex(TypeError, "visits"):
            ZONES(studio=self.person.studio_id)


class Apart(TransactionTestCase):
    def test_threads_ask_at_once_each_through_its_own_connection(self) -> None:
        made = make_person()
        visits = [make_visit(made, f"Head {each}", DAY) for each in range(4)]
        wrong: list[int] = []

        def ask(own: int) -> None:
            try:
                for _ in range(30):
                    found = ZONES(studio=made.studio_id, visits=[own])
                    if {zone.visit_id for zone in found} != {own}:
                        wrong.append(own)
            finally:
                connection.close()

        threads = [Thread(target=ask, args=[each.pk]) for each in visits]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        self.assertEqual(wrong, [])

    def test_a_lock_is_asked_for_in_a_transaction_only(self) -> None:
        made = make_person()
        with atomic():
            self.assertEqual(LOCKED(person=made.pk), [made])
        with self.assertRaises(TransactionManagementError):
            LOCKED(person=made.pk)
