"""What was changed is kept by the database itself: by whom, and until a client is forgotten."""

import datetime

import pghistory.models
from django.apps import apps
from django.db import connection, transaction
from django.urls import reverse
from django.utils import timezone

from studio.accounts.models import Person, Studio
from studio.clients.models import Client, PastWork
from studio.clients.services.add_client import add_client
from studio.clients.services.history import add_past
from studio.clocks.models import ZoneClock
from studio.formats.services.erase import erase_client
from studio.shelf.models import Shade
from studio.trace.selectors import OF_CLIENT, traces_of_client
from studio.visits.selectors import open_zone
from tests.studio.made import TODAY, StudioCase, make_person, make_visit, put_on_hair

DAY = datetime.date(2026, 1, 2)


def of_client(client_id: int) -> int:
    """How many traces tell of a client by herself."""
    return sum(
        apps.get_model(name)._default_manager.filter(**{by: client_id}).count()
        for name, by in OF_CLIENT
        if by in ("pgh_obj_id", "client_id") and not (by == "pgh_obj_id" and name != "clients.ClientEvent")
    )


class Traced(StudioCase):
    def setUp(self) -> None:
        super().setUp()
        self.card = add_client(self.person, name="Ivo Lark", about="flugelhorn")
        self.page = reverse("trace:client", args=[self.card.pk])

    def edit(self, **fields: str):
        given = {"name": "Ivo Lark", "about": "flugelhorn", "notes": ""} | fields
        version = {f"seen-{name}": getattr(self.card, name) for name in ("name", "about", "notes")}
        return self.client.post(reverse("clients:edit", args=[self.card.pk]), version | given)

    def test_a_change_is_told_with_its_hand_and_what_it_was_before(self) -> None:
        self.edit(notes="comes by the early boat")
        page = self.client.get(self.page)
        self.assertContains(page, "notes: – → comes by the early boat")
        newest = traces_of_client(self.person, self.card.pk)[0]
        self.assertEqual((newest.who, newest.did), (str(self.person), "changed"))

    def test_what_no_hand_asked_for_is_rainshades_own(self) -> None:
        Client.objects.filter(pk=self.card.pk).update(about="cornet")  # as a command or the worker would
        self.assertEqual(traces_of_client(self.person, self.card.pk)[0].who, "")
        self.assertContains(self.client.get(self.page), "Rainshade itself")

    def test_no_way_around_it_leaves_no_trace(self) -> None:
        """By SQL alone: it is the database that keeps it."""
        with connection.cursor() as cursor:
            cursor.execute("UPDATE clients_client SET about = 'horn' WHERE id = %s", [self.card.pk])
            cursor.execute("UPDATE clients_client SET about = 'horn' WHERE id = %s", [self.card.pk])  # nothing changes
        parts = [trace.parts for trace in traces_of_client(self.person, self.card.pk) if trace.did == "changed"]
        self.assertEqual([(part.before, part.after) for (part,) in parts], [("flugelhorn", "horn")])

    def test_a_change_that_was_rolled_back_leaves_none_and_the_next_is_its_hands(self) -> None:
        before = of_client(self.card.pk)
        with self.assertRaises(RuntimeError), transaction.atomic():
            Client.objects.filter(pk=self.card.pk).update(about="lost")
            raise RuntimeError
        self.assertEqual(of_client(self.card.pk), before)

    def test_earlier_work_that_was_deleted_is_brought_back_once_and_as_it_was(self) -> None:
        work = add_past(self.person, client_id=self.card.pk, work="henna", part="ends", done_on=DAY, today=TODAY)
        number = work.pk
        work.delete()
        trace = next(each for each in traces_of_client(self.person, self.card.pk) if each.did == "deleted")
        self.assertContains(self.client.get(self.page), "Bring it back")
        back = reverse("trace:back", args=[self.card.pk])
        self.client.post(back, {"number": trace.number})
        self.assertEqual(PastWork.objects.values_list("pk", "work", "part").get(), (number, "henna", "ends"))
        self.assertContains(self.client.post(back, {"number": trace.number}), "there already", status_code=422)
        self.assertEqual(self.client.post(back, {"number": "9" * 19}).status_code, 422)

    def test_a_clock_that_was_never_started_has_its_trace(self) -> None:
        visit = make_visit(self.person, "Ivo Lark")
        clock = put_on_hair(
            self.person, zone_id=open_zone(self.person, visit.pk).zone.pk, kind="direct", now=timezone.now()
        )
        ZoneClock.objects.get(pk=clock.pk).delete()
        told = [(each.label, each.did) for each in traces_of_client(self.person, self.card.pk)]
        self.assertIn(("zone clock", "deleted"), told)
        self.assertIn(("reading", "made"), told)

    def test_another_studio_sees_nothing_and_brings_nothing_back(self) -> None:
        other = make_person("Sail Loft", "sail")
        self.client.force_login(other)
        self.assertEqual(self.client.get(self.page).status_code, 404)
        self.assertEqual(self.client.post(reverse("trace:back", args=[self.card.pk]), {"number": "1"}).status_code, 404)

    def test_who_is_forgotten_leaves_no_trace_whether_mixes_stay_or_not(self) -> None:
        for keeps in (True, False):
            card = add_client(self.person, name=f"Gone {keeps}", about="drum")
            visit = make_visit(self.person, card.name)
            add_past(self.person, client_id=card.pk, work="henna", part="ends", done_on=DAY, today=TODAY)
            Client.objects.filter(pk=card.pk).update(notes="a secret of hers")
            self.assertGreater(of_client(card.pk), 3)
            erase_client(self.person, client_id=card.pk, typed=card.name, keeps_mixes=keeps)
            self.assertEqual(of_client(card.pk), 0)
            for name, by in OF_CLIENT:
                if by == "visit_id":
                    self.assertFalse(apps.get_model(name)._default_manager.filter(visit_id=visit.pk).exists(), name)
            self.assertFalse(pghistory.models.Context.objects.filter(metadata__icontains="Gone").exists())


class OfTheHouse(StudioCase):
    def setUp(self) -> None:
        super().setUp()
        Person.objects.filter(pk=self.person.pk).update(role="owner")
        self.page = reverse("trace:house")

    def test_rules_people_and_tubes_are_told_to_an_owner_alone(self) -> None:
        Studio.objects.filter(pk=self.person.studio_id).update(minors_stop=True)
        Shade.objects.filter(line__studio=self.person.studio, name="Madder").update(tube_price=7)
        page = self.client.get(self.page)
        self.assertContains(page, "minors stop: no → yes")
        self.assertContains(page, "Madder")
        self.assertContains(page, "role: colourist → owner")
        Person.objects.filter(pk=self.person.pk).update(role="colourist")
        self.assertEqual(self.client.get(self.page).status_code, 403)

    def test_no_password_and_no_pin_is_in_a_trace(self) -> None:
        fields = {field.name for field in apps.get_model("accounts.PersonEvent")._meta.fields}
        self.assertFalse(fields & {"password", "pin", "email", "username"})

    def test_a_bowl_that_takes_from_a_tube_leaves_no_trace_of_its_own(self) -> None:
        events = apps.get_model("shelf.ShadeEvent")._default_manager
        shade = Shade.objects.filter(line__studio=self.person.studio).first()
        before = events.count()
        Shade.objects.filter(pk=shade.pk).update(stock_g=shade.stock_g + 1)
        self.assertEqual(events.count(), before)
