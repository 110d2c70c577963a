"""A visit told on one page, as it was noted."""

import datetime
from decimal import Decimal

from django.db import connection
from django.test.utils import CaptureQueriesContext
from django.urls import reverse
from django.utils import timezone

from studio.cards.services.judge import judge_zone, note_tweak
from studio.cards.services.save_formula import save_formula
from studio.clients.services.history import record_strand_test
from studio.clocks.models import ZoneClock
from studio.clocks.services.note import it_stings, note_check, set_moment
from studio.clocks.services.run import rinse
from studio.head.services.pour import pour
from studio.visits.models import Consult, Reading
from studio.visits.selectors import open_zone
from studio.visits.services.read_hair import read_hair
from tests.studio.made import StudioCase, clear_skin, make_person, put_on_hair


class Story(StudioCase):
    def setUp(self) -> None:
        super().setUp()
        self.now = timezone.now()
        self.zone = open_zone(self.person, self.visit.pk).zone
        clear_skin(self.person, self.visit.client_id, now=self.now)

    def told(self) -> str:
        answer = self.client.get(reverse("result:story", args=[self.visit.pk]))
        self.assertEqual(answer.status_code, 200)
        self.moments = [moment.words for moment in answer.context["story"].moments]
        return answer.content.decode()

    def live_through(self) -> None:
        """A visit from the wish to what was told, with a sting, a check and a moment set right."""
        Consult.objects.create(visit=self.visit, wish="ink at the root", resistant="temples")
        pour(
            self.person,
            zone_id=self.zone.pk,
            version=self.bowl.version,
            shade_id=self.shade("Woad").pk,
            typed="12",
        )
        on = self.now - datetime.timedelta(minutes=30)
        clock = put_on_hair(self.person, zone_id=self.zone.pk, kind="direct", now=on, planned_min=25)
        ZoneClock.objects.filter(pk=clock.pk).update(boot_id="")
        note_check(
            self.person, clock_id=clock.pk, depth="under", is_going=False, now=on + datetime.timedelta(minutes=10)
        )
        it_stings(self.person, clock_id=clock.pk, now=on + datetime.timedelta(minutes=12))
        rinse(self.person, clock_id=clock.pk, now=on + datetime.timedelta(minutes=26))
        set_moment(
            self.person,
            clock_id=clock.pk,
            moment="rinsed_at",
            at=on + datetime.timedelta(minutes=28),
            now=self.now,
        )
        lab = (Decimal(40), Decimal(-5), Decimal(-20))
        save_formula(self.person, visit_id=self.visit.pk, version=self.bowl.version)
        judge_zone(
            self.person, zone_id=self.zone.pk, lab=lab, forecast_lab=lab, source="eye", dry=True, two_lights=True
        )
        note_tweak(self.person, visit_id=self.visit.pk, zone_name=self.zone.name, words="", minutes_more=Decimal(3))

    def test_everything_that_was_noted_is_told_in_its_order(self) -> None:
        self.live_through()
        page = self.told()
        for words in (
            "Wished: ink at the root",
            "Resistant: temples",
            "direct on, for 25 min",
            "looked at after 10 min: not there yet",
            "it stings, itches or burns, direct, after 12 min",
            "direct rinsed after 28 min",
            "set right: rinsed",
            "kept on the card: 12 g Woad",
            "in two lights",
            "Next time, whole head: 3 min more",
        ):
            self.assertIn(words, page)
        order = [
            next(i for i, said in enumerate(self.moments) if words in said)
            for words in ("on, for", "looked at", "rinsed after")
        ]
        self.assertEqual(order, sorted(order))

    def test_a_strand_test_of_that_day_is_told_and_one_of_another_is_not(self) -> None:
        day = timezone.make_aware(datetime.datetime.combine(self.visit.day, datetime.time(11)))
        for days, colour in ((0, "a cold teal"), (9, "a grass green")):
            record_strand_test(
                self.person,
                client_id=self.visit.client_id,
                line_name="Ropewalk direct",
                part="whole",
                products=["Woad"],
                vol=0.0,
                minutes=Decimal(20),
                colour_seen=colour,
                stretch_held=True,
                passed=True,
                now=day - datetime.timedelta(days=days),
            )
        page = self.told()
        self.assertIn("a cold teal", page)
        self.assertNotIn("a grass green", page)

    def test_only_the_last_word_of_a_reading_is_told(self) -> None:
        for after, level in ((1, 8), (2, 9)):
            read_hair(self.person, zone_id=self.zone.pk, after=after, hair={"level": Decimal(level)})
        page = self.told()
        self.assertIn("at level 9", page)
        self.assertNotIn("at level 8", page)

    def test_a_visit_of_which_nothing_was_noted_says_so(self) -> None:
        Reading.objects.filter(zone__visit=self.visit).delete()
        page = self.told()
        self.assertIn("No consult was noted", page)
        self.assertIn("Nothing has been noted yet", page)

    def test_the_card_leads_to_it_and_another_studio_does_not_see_it(self) -> None:
        self.live_through()
        address = reverse("result:story", args=[self.visit.pk])
        self.assertContains(self.client.get(reverse("cards:card", args=[self.visit.client_id])), address)
        self.client.force_login(make_person("Ballast Quay", "ballast"))
        self.assertEqual(self.client.get(address).status_code, 404)

    def test_more_zones_ask_the_database_no_more_often(self) -> None:
        self.live_through()
        self.told()
        with CaptureQueriesContext(connection) as before:
            self.told()
        asked = len(before)
        self.send("zones", way="add", part="nape", name="nape")
        with self.assertNumQueries(asked):
            self.told()
