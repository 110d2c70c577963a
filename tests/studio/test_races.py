"""Two hands at once: real threads and real transactions, each with a connection of its own."""

import datetime
import threading
from collections.abc import Callable
from decimal import Decimal

from django.db import connection, connections
from django.http import HttpResponse
from django.test import Client, TransactionTestCase
from django.urls import reverse
from django.utils import timezone

from studio.accounts.models import Person
from studio.accounts.services.once import made_once
from studio.cards.models import Formula
from studio.cards.services.judge import judge_zone
from studio.clocks.models import ZoneClock
from studio.clocks.services.run import answer_call, rinse
from studio.head.models import BenchStep, Bowl, Coat
from studio.head.services.aim import want
from studio.head.services.coats import add_coat, move_coat, set_coat
from studio.head.services.pour import pour
from studio.head.services.zones import add_to_head, own_bowl
from studio.pour.models import Batch, Weighing
from studio.pour.services.mix import mix_batch, next_batch
from studio.pour.services.weigh import weigh
from studio.shelf.models import Shade
from studio.shelf.services.own_tubes import set_tube
from studio.shelf.services.stock import count, deliver
from studio.ui.refusal import Refusal, Stale
from studio.visits.models import Visit
from studio.visits.selectors import Hand, open_zone
from studio.visits.services.start_visit import start_visit
from tests.demo import empty_tables
from tests.studio.made import TODAY, clear_skin, make_person, make_visit, put_on_hair

HANDS = 6
NOW = datetime.datetime(2026, 11, 24, 12, tzinfo=datetime.UTC)


class Races(TransactionTestCase):
    person: Person
    visit: Visit

    def _fixture_teardown(self) -> None:
        empty_tables()

    def setUp(self) -> None:
        self.person = make_person()
        self.visit = make_visit(self.person)
        self.zone_id = open_zone(self.person, self.visit.pk).zone.pk
        self.orchil = Shade.objects.get(name="Orchil").pk
        pour(self.person, zone_id=self.zone_id, version=self.version, shade_id=self.orchil, typed="30")

    @property
    def version(self) -> int:
        return Bowl.objects.select_related("worktop").filter(coats__zone=self.zone_id)[0].version

    def at_once(self, *works: Callable[[], object]) -> list[object]:
        """What each work answers, or the refusal or fault that it met, all begun at one moment."""
        found: list[object] = [None] * len(works)
        gate = threading.Barrier(len(works))

        def run(place: int, work: Callable[[], object]) -> None:
            gate.wait()
            try:
                found[place] = work()
            except Exception as met:
                found[place] = met
            finally:
                connections.close_all()

        hands = [threading.Thread(target=run, args=each) for each in enumerate(works)]
        for hand in hands:
            hand.start()
        for hand in hands:
            hand.join(60)
        return found

    def weigh(self, version: int, grams: str = "5") -> Batch:
        return weigh(
            self.person,
            zone_id=self.zone_id,
            version=version,
            shade_id=self.orchil,
            grams=Decimal(grams),
        )

    def test_hands_on_two_bowls_of_one_head_never_wait_for_one_another(self) -> None:
        """One is first and the other is told so; did each hold what the other wants, the database would end one."""
        ends = add_to_head(self.person, zone_id=self.zone_id, version=self.version, name="Ends", part="ends")
        own_bowl(self.person, zone_id=ends.pk, version=self.version)
        for grams in range(1, 9):
            seen = self.version
            at = {"version": seen, "shade_id": self.orchil, "typed": str(grams)}
            met = self.at_once(
                lambda at=at: pour(self.person, zone_id=self.zone_id, **at),
                lambda seen=seen, g=grams: want(self.person, zone_id=ends.pk, version=seen, total_g=Decimal(40 + g)),
                lambda at=at: pour(self.person, zone_id=ends.pk, **at),
                lambda seen=seen, g=grams: want(
                    self.person, zone_id=self.zone_id, version=seen, total_g=Decimal(50 + g)
                ),
            )
            won = [each for each in met if not isinstance(each, Stale)]
            self.assertEqual([type(each).__name__ in ("Bowl", "Poured") for each in won], [True], met)

    def test_of_many_tablets_that_pour_at_once_one_does_and_the_others_are_told(self) -> None:
        version = self.version
        found = self.at_once(*[lambda: self.weigh(version) for _ in range(HANDS)])
        self.assertEqual(sum(isinstance(each, Batch) for each in found), 1)
        self.assertEqual(sum(isinstance(each, Stale) for each in found), HANDS - 1)
        self.assertEqual(Weighing.objects.count(), 1)
        self.assertEqual(Bowl.objects.get().pours.get().mixed_g, Decimal(5))

    def test_steps_are_numbered_without_a_gap_whoever_pours(self) -> None:
        def until_poured() -> None:
            while True:
                try:
                    self.weigh(self.version, "1")
                    return
                except Stale:
                    continue

        self.at_once(*[until_poured] * HANDS)
        numbers = list(BenchStep.objects.order_by("number").values_list("number", flat=True))
        self.assertEqual(numbers, list(range(len(numbers))))
        self.assertEqual(Bowl.objects.get().pours.get().mixed_g, Decimal(HANDS))
        self.assertEqual(Batch.objects.count(), 1)

    def test_a_clock_started_by_many_hands_is_one_clock(self) -> None:
        def start() -> ZoneClock:
            return put_on_hair(self.person, zone_id=self.zone_id, kind="direct", now=timezone.now())

        found = self.at_once(*[start] * HANDS)
        self.assertEqual({getattr(each, "pk", each) for each in found}, {ZoneClock.objects.get().pk})

    def test_of_two_different_starts_at_once_one_wins_and_the_other_hears_why(self) -> None:
        def start(kind: str, minutes: int) -> ZoneClock:
            return put_on_hair(self.person, zone_id=self.zone_id, kind=kind, planned_min=minutes, now=timezone.now())

        found = self.at_once(lambda: start("direct", 30), lambda: start("mask", 5))
        refusals = [each for each in found if isinstance(each, Refusal)]
        self.assertEqual([each.code for each in refusals], ["clock_running"])
        self.assertEqual(ZoneClock.objects.count(), 1)

    def test_answers_and_rinses_that_cross_leave_the_later_answer_and_the_first_rinse(self) -> None:
        clear_skin(self.person, self.visit.client_id, now=NOW)
        clock = put_on_hair(self.person, zone_id=self.zone_id, kind="lightener", now=NOW)
        minutes = [Decimal(minute) for minute in (5, 20, 10, 15)]
        self.at_once(
            *[lambda m=m: answer_call(self.person, clock_id=clock.pk, to_min=m) for m in minutes],
            *[
                lambda m=m: rinse(self.person, clock_id=clock.pk, now=NOW + datetime.timedelta(minutes=m))
                for m in (31, 32)
            ],
        )
        clock.refresh_from_db()
        self.assertEqual(clock.answered_to_min, 20)
        self.assertIn(clock.rinsed_at, (NOW + datetime.timedelta(minutes=31), NOW + datetime.timedelta(minutes=32)))
        again = rinse(self.person, clock_id=clock.pk, now=NOW + datetime.timedelta(minutes=40))
        self.assertEqual(again.rinsed_at, clock.rinsed_at)

    def test_a_batch_mixed_twice_takes_from_the_shelf_once(self) -> None:
        self.weigh(self.version, grams="30")
        stock = Shade.objects.get(pk=self.orchil).stock_g
        version = self.version
        self.at_once(
            *[
                lambda: mix_batch(self.person, zone_id=self.zone_id, version=version, at=timezone.now())
                for _ in range(HANDS)
            ]
        )
        self.assertEqual(Shade.objects.get(pk=self.orchil).stock_g, stock - 30)
        version = self.version
        self.at_once(*[lambda: next_batch(self.person, zone_id=self.zone_id, version=version) for _ in range(HANDS)])
        self.assertEqual(list(Batch.objects.values_list("number", flat=True)), [1, 2])

    def test_hands_on_one_tube_never_wait_for_one_another(self) -> None:
        """A delivery, a count and its label, at once: did each hold what the other wants, the database would
        end one."""
        orchil, today = self.orchil, timezone.localdate()
        for number in range(6):
            met = self.at_once(
                lambda: deliver(self.person, shade_id=orchil, tubes=Decimal(1), today=today),
                lambda n=number: set_tube(self.person, shade_id=orchil, says={"code": f"Q{n}"}),
                lambda: count(self.person, shade_id=orchil, full_tubes=Decimal(2), open_g=Decimal(0)),
            )
            self.assertEqual([type(each).__name__ for each in met], ["StockMove", "Shade", "StockMove"], met)

    def test_two_bowls_of_one_shade_mixed_at_once_both_take_from_the_shelf(self) -> None:
        other = make_visit(self.person, "Cass Row")
        other_zone = open_zone(self.person, other.pk).zone.pk

        def fill(zone_id: int, grams: str) -> int:
            bowl = Bowl.objects.select_related("worktop").get(coats__zone=zone_id)
            if not bowl.pours.exists():
                bowl = pour(self.person, zone_id=zone_id, version=bowl.version, shade_id=self.orchil, typed=grams).bowl
            version = bowl.worktop.version
            weigh(self.person, zone_id=zone_id, version=version, shade_id=self.orchil, grams=Decimal(grams))
            return version + 1

        versions = {self.zone_id: fill(self.zone_id, "30"), other_zone: fill(other_zone, "12")}
        stock = Shade.objects.get(pk=self.orchil).stock_g
        self.at_once(
            *[
                lambda z=zone, v=version: mix_batch(self.person, zone_id=z, version=v, at=timezone.now())
                for zone, version in versions.items()
            ]
        )
        self.assertEqual(Shade.objects.get(pk=self.orchil).stock_g, stock - 42)

    def test_a_visit_started_from_two_tablets_is_one_visit(self) -> None:
        day = TODAY + datetime.timedelta(days=1)
        client_id = self.visit.client_id
        found = self.at_once(*[lambda: start_visit(self.person, client_id=client_id, day=day) for _ in range(HANDS)])
        visits = Visit.objects.filter(day=day)
        self.assertEqual(visits.count(), 1)
        self.assertEqual({getattr(each, "pk", each) for each in found}, {visits.get().pk})
        self.assertEqual(visits.get().zones.count(), 1)

    def test_a_card_kept_by_a_double_tap_is_kept_once(self) -> None:
        def keep() -> HttpResponse:
            tablet = Client()
            tablet.force_login(self.person)
            return tablet.post(reverse("result:keep", args=[self.visit.pk]), {"version": version, "token": "one page"})

        version = self.version
        found = self.at_once(*[keep] * HANDS)
        self.assertEqual({each.status_code for each in found}, {302})
        self.assertEqual(Formula.objects.count(), 1)

    def test_a_change_that_was_refused_may_be_sent_again(self) -> None:
        def refuse() -> None:
            raise Refusal("empty_bowl")

        with self.assertRaises(Refusal):
            made_once(self.person, "a tap", refuse)
        self.assertEqual(made_once(self.person, "a tap", lambda: 5), 5)
        self.assertIsNone(made_once(self.person, "a tap", lambda: 6))

    def test_a_zone_judged_twice_at_once_has_one_result(self) -> None:
        def judge(lightness: float) -> object:
            lab = (lightness, 20.0, 5.0)
            return judge_zone(
                self.person,
                zone_id=self.zone_id,
                lab=lab,
                forecast_lab=lab,
                source="eye",
                dry=True,
                two_lights=True,
            )

        found = self.at_once(*[lambda n=n: judge(50.0 + n) for n in range(HANDS)])
        self.assertFalse([each for each in found if isinstance(each, Exception)])

    def test_a_step_of_the_plan_set_from_two_tablets_has_the_minutes_of_one(self) -> None:
        hand = {"zone_id": self.zone_id, "version": self.version}

        def set_to(minutes: int) -> Hand:
            return set_coat(self.person, **hand, apply_min=Decimal(minutes), minutes=Decimal(minutes))

        found = self.at_once(*[lambda n=n: set_to(n) for n in range(1, HANDS + 1)])
        self.assertEqual(sum(isinstance(each, Stale) for each in found), HANDS - 1)
        coat = Coat.objects.get(zone=self.zone_id)
        self.assertEqual(coat.apply_min, coat.minutes)
        self.assertIsNotNone(coat.minutes)

    def test_of_two_tablets_that_order_coats_at_once_one_does_and_the_other_is_told(self) -> None:
        for purpose in ("overlay", "glaze"):
            add_coat(self.person, zone_id=self.zone_id, version=self.version, purpose=purpose)
        version, glaze = self.version, Coat.objects.get(purpose="glaze").pk
        hand = {"zone_id": self.zone_id, "coat_id": glaze, "version": version}
        found = self.at_once(*[lambda: move_coat(self.person, **hand, by=-1) for _ in range(HANDS)])
        self.assertEqual(sum(isinstance(each, Stale) for each in found), HANDS - 1)
        order = list(Coat.objects.filter(zone=self.zone_id).order_by("order").values_list("purpose", "order"))
        self.assertEqual(order, [("colour", 0), ("glaze", 1), ("overlay", 2)])

    def test_wanted_grams_set_at_once_are_those_of_one_hand(self) -> None:
        version = self.version
        found = self.at_once(
            *[
                lambda n=n: want(self.person, zone_id=self.zone_id, version=version, total_g=Decimal(50 + n))
                for n in range(1, HANDS)
            ]
        )
        self.assertEqual(sum(isinstance(each, Bowl) for each in found), 1)
        with connection.cursor() as cursor:
            cursor.execute("SELECT count(*) FROM bench_worktop")
            self.assertEqual(cursor.fetchone(), (1,))
