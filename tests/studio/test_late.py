"""What was weighed at a tablet without connection is taken in, whatever was planned since; only plans can conflict."""

import datetime
from decimal import Decimal

from django.utils import timezone

from studio.accounts.models import Person
from studio.head.models import Portion
from studio.pour.models import Batch, Weighing
from tests.studio.test_pour import PourCase

LATE = {"late": "1"}


class Late(PourCase):
    """One tablet goes on by what it has seen; another hand changes the plan."""

    def setUp(self) -> None:
        super().setUp()
        self.seen = self.bowl.version
        self.other = Person.objects.create_user(username="ana", password="salt and rope", studio=self.person.studio)

    def late(self, shade: str, grams: str, minutes: float = 20, **fields: object):
        return self.weigh(shade, grams, version=self.seen, waited_s=minutes * 60, **LATE, **fields)

    def by_another(self, name: str, **fields: object) -> None:
        self.client.force_login(self.other)
        self.send(name, **fields)
        self.client.force_login(self.person)

    def test_it_is_in_with_its_moment_and_says_what_was_changed_meanwhile(self) -> None:
        self.by_another("pour", shade=self.shade("Orchil").pk, grams="8")
        answer = self.late("Orchil", "3")
        self.assertEqual(answer.status_code, 200)
        noted = Weighing.objects.get()
        self.assertAlmostEqual((timezone.now() - noted.weighed_at).total_seconds(), 1200, delta=30)
        self.assertIn("ana: ", noted.meanwhile)
        self.assertContains(answer, "The recipe was changed while a tablet was away (ana:")
        self.assertContains(answer, "3.0 g Orchil")
        self.assertEqual((self.line("Orchil").poured_g, self.line("Orchil").left_g), (Decimal(3), Decimal(5)))

    def test_with_nothing_changed_nothing_is_said(self) -> None:
        self.assertNotContains(self.late("Orchil", "3"), "while a tablet was away")
        self.assertEqual(Weighing.objects.get().meanwhile, "")

    def test_a_shade_that_was_taken_out_of_the_plan_is_in_the_bowl_all_the_same(self) -> None:
        self.by_another("pour", shade=self.shade("Orchil").pk, grams="0")
        self.assertEqual(self.weigh("Orchil", "3", version=self.seen).status_code, 409)  # in time, it is asked about
        self.assertEqual(self.late("Orchil", "3").status_code, 200)
        held = Portion.objects.get(shade=self.shade("Orchil"))
        self.assertEqual((held.grams, held.mixed_g, held.weighed_g), (3, 3, 3))

    def test_what_went_into_a_batch_before_it_was_mixed_elsewhere_is_of_that_batch(self) -> None:
        for name, grams in self.grams.items():
            self.weigh(name, grams)
        stock = self.shade("Orchil").stock_g
        self.do("mix")
        self.assertEqual(self.weigh("Orchil", "1").status_code, 422)
        self.assertEqual(self.late("Orchil", "1").status_code, 200)
        batch = Batch.objects.get()
        self.assertEqual(Decimal(batch.held[str(self.shade("Orchil").pk)]), 4)
        self.assertEqual(self.shade("Orchil").stock_g, stock - 4)
        self.do("mix", next="1")
        self.assertEqual(self.late("Orchil", "1", minutes=30).status_code, 200)
        batch.refresh_from_db()
        self.assertEqual(Decimal(batch.held[str(self.shade("Orchil").pk)]), 5)
        self.assertEqual(self.line("Orchil").poured_g, 0)  # of the filling that is in hand nothing is in yet

    def test_a_bowl_that_was_mixed_meanwhile_was_mixed_without_what_others_added_to_the_plan(self) -> None:
        self.by_another("pour", shade=self.shade("Madder").pk, grams="2")
        for name, grams in self.grams.items():
            self.late(name, grams)
        self.assertEqual(self.do("mix", version=self.seen, waited_s=300, **LATE).status_code, 200)
        self.assertEqual(set(Batch.objects.get().held), {str(self.shade(name).pk) for name in self.grams})
        mixed = Batch.objects.get().mixed_at
        self.assertLess(mixed, timezone.now() - datetime.timedelta(minutes=4))

    def test_a_note_is_taken_back_and_a_line_called_enough_whatever_was_planned(self) -> None:
        self.late("Orchil", "2")
        self.by_another("pour", shade=self.shade("Clear").pk, grams="50")
        orchil = self.shade("Orchil").pk
        self.assertEqual(self.do("line", line=orchil, enough="1", version=self.seen, **LATE).status_code, 200)
        self.assertTrue(self.line("Orchil").is_done)
        self.assertEqual(self.do("line", line=orchil, take_back="1", version=self.seen, **LATE).status_code, 200)
        self.assertEqual(self.line("Orchil").poured_g, 0)

    def test_a_tablet_that_comes_back_after_a_day_tells_it_as_of_now_and_once(self) -> None:
        for _ in range(2):
            answer = self.late("Orchil", "3", minutes=26 * 60, token="a day ago")
            self.assertEqual(answer.status_code, 200)
        self.assertAlmostEqual((timezone.now() - Weighing.objects.get().weighed_at).total_seconds(), 0, delta=30)

    def test_what_is_no_weight_is_refused_late_too(self) -> None:
        self.assertEqual(self.late("Orchil", "-3").status_code, 422)
        self.assertFalse(Weighing.objects.exists())
