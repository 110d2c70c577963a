"""Who works in a studio: how they come, what each may open, and how they go."""

import datetime
import re

from django.db import IntegrityError, transaction
from django.test import Client as Browser
from django.test import override_settings
from django.urls import resolve, reverse
from django.utils import timezone

from engine.service.roles import Act, Role, may
from studio.accounts.devices import COOKIE
from studio.accounts.models import Person, SignedIn, Studio
from studio.cards.services.save_formula import save_formula
from studio.head.services.pour import pour
from studio.people.doors import FOR_ALL, WORDS, asks_for
from studio.people.models import HOLDS_FOR, Invitation
from studio.people.services.hire import join
from studio.people.services.part import part
from studio.ui.refusal import Refusal
from tests.laws.addresses import ANY, addresses
from tests.studio.made import TODAY, StudioCase, make_person, make_visit

PASSWORD = "lanterns over low water"
NEW = {"name": "Maeve Orrin", "username": "maeve", "password": PASSWORD}


class PeopleCase(StudioCase):
    def setUp(self) -> None:
        super().setUp()
        self.person.role = Role.OWNER
        self.person.save()

    def act(self, way: str, **fields: object):
        return self.client.post(reverse("people:act"), {"way": way, **fields})

    def page(self):
        return self.client.get(reverse("people:people"))

    def link(self, **fields: object) -> str:
        """The address of a new link, as the page tells it this once."""
        made = self.act(**{"way": "invite", "role": "apprentice", **fields})
        self.assertRedirects(made, reverse("people:people"), fetch_redirect_response=False)
        told = re.search(r'value="http://[^/]+(/join/[^"]+)"', self.page().content.decode())
        return told[1]

    def colleague(self, role: str = "apprentice", name: str = "maeve", *, licensed: bool = False) -> Person:
        return Person.objects.create_user(
            username=name, password=PASSWORD, studio=self.person.studio, role=role, licensed=licensed
        )

    def browser(self, person: Person) -> Browser:
        browser = Browser()
        browser.force_login(person)
        return browser


class Coming(PeopleCase):
    def test_a_link_lets_one_in_once_as_what_they_were_asked_to_come_as(self) -> None:
        address = self.link(role="colourist", licensed="1")
        self.assertNotContains(self.page(), "/join/")  # it is told once
        stranger = Browser()
        self.assertContains(stranger.get(address), "as colourist with a licence")
        self.assertRedirects(stranger.post(address, NEW), reverse("chairs:chairs"))
        came = Person.objects.get(username="maeve")
        self.assertEqual(
            (came.role, came.licensed, came.studio, str(came)), ("colourist", True, self.person.studio, "Maeve Orrin")
        )
        self.assertEqual(stranger.get(reverse("chairs:chairs")).wsgi_request.user, came)
        again = Browser().post(address, NEW | {"username": "other"})
        self.assertContains(again, "was used, withdrawn", status_code=410)
        self.assertFalse(Person.objects.filter(username="other").exists())

    def test_a_link_that_is_withdrawn_old_unknown_or_of_an_owner_who_left_lets_nobody_in(self) -> None:
        for spoil in (
            lambda made: self.act("withdraw", of=made.pk),
            lambda made: Invitation.objects.update(made_at=timezone.now() - HOLDS_FOR),
            lambda made: Person.objects.filter(pk=self.person.pk).update(role="colourist"),
            lambda made: Person.objects.filter(pk=self.person.pk).update(role="owner", is_active=False),
        ):
            Person.objects.filter(pk=self.person.pk).update(role="owner")
            address = self.link()
            spoil(Invitation.objects.first())
            for answer in (Browser().get(address), Browser().post(address, NEW)):
                self.assertContains(answer, "Ask for a new one", status_code=410)
        self.assertContains(Browser().get("/join/a-guess/"), "Ask for a new one", status_code=410)
        self.assertFalse(Person.objects.filter(username="maeve").exists())

    def test_who_comes_by_a_link_is_known_at_that_machine(self) -> None:
        stranger = Browser()
        stranger.post(self.link(), NEW)
        self.assertIn(COOKIE, stranger.cookies)

    def test_logs_tell_no_key(self) -> None:
        address = self.link()
        with self.assertLogs("rainshade.requests", "INFO") as logged:
            Browser().get(address)
        self.assertEqual(logged.records[0].told["path"], "/join/…/")

    def test_only_a_hash_of_the_key_is_kept(self) -> None:
        key = self.link().strip("/").partition("/")[2]
        self.assertGreater(len(key), 40)
        kept = str(Invitation.objects.values().get())
        self.assertNotIn(key, kept)
        sessions = "".join(str(each.get_decoded()) for each in SignedIn.objects.all())
        self.assertNotIn(key, sessions)

    def test_what_is_wrong_is_told_beside_its_field_and_the_link_stays_open(self) -> None:
        address = self.link()
        for wrong, told in (
            ({"username": self.person.username.upper()}, "signs in by this name already"),
            ({"username": "two words"}, "valid username"),
            ({"username": ""}, "required"),
            ({"password": "short"}, "at least 10"),
            ({"password": "password123"}, "too common"),
            ({"username": "lanternlady", "password": "lanternlady"}, "too similar"),
            ({"name": "x" * 81}, "at most 80"),
        ):
            with self.subTest(told):
                answer = Browser().post(address, NEW | wrong)
                self.assertContains(answer, told, status_code=422)
                self.assertNotContains(answer, f'value="{PASSWORD}"', status_code=422)
        self.assertRedirects(Browser().post(address, NEW), reverse("chairs:chairs"))

    def test_a_forgotten_password_is_made_anew_and_ends_what_was_open(self) -> None:
        maeve = self.colleague()
        elsewhere = self.browser(maeve)
        self.act("password", of=maeve.pk)
        address = re.search(r'(/join/[^"]+)"', self.page().content.decode())[1]
        stranger = Browser()
        self.assertContains(stranger.get(address), "signs in as <b>maeve</b>")
        self.assertRedirects(stranger.post(address, {"password": "brass under the arches"}), reverse("chairs:chairs"))
        maeve.refresh_from_db()
        self.assertTrue(maeve.check_password("brass under the arches"))
        self.assertEqual(elsewhere.get(reverse("chairs:chairs")).status_code, 302)
        self.assertEqual(Browser().post(address, {"password": PASSWORD}).status_code, 410)

    def test_a_link_that_another_hand_used_meanwhile_lets_nobody_in(self) -> None:
        key = self.link().strip("/").partition("/")[2]
        join(key, now=timezone.now(), **NEW)
        with self.assertRaises(Refusal) as refused:
            join(key, now=timezone.now(), **NEW | {"username": "other"})
        self.assertEqual(refused.exception.code, "invitation_over")

    def test_a_new_studio_begins_with_nothing_and_its_owner_hires(self) -> None:
        stranger, address = Browser(), reverse("people:begin")
        asked = NEW | {"studio": "Tar Barrel Row", "town": "Port Sennet", "time_zone": "Europe/Lisbon"}
        asked |= {"language": "en-gb", "unit": "g", "school": Studio.SchoolChoice.ORANGE.value}
        self.assertContains(stranger.post(address, asked | {"studio": "ropery lane"}), "has this name", status_code=422)
        self.assertContains(stranger.post(address, asked | {"time_zone": "Moon/Base"}), "Type a place", status_code=422)
        self.assertFalse(Studio.objects.filter(name="Tar Barrel Row").exists())
        self.assertRedirects(stranger.post(address, asked), reverse("shelf:shelf"))
        owner = Person.objects.get(username="maeve")
        self.assertEqual((owner.role, owner.licensed, owner.studio.time_zone), ("owner", False, "Europe/Lisbon"))
        self.assertContains(stranger.get(reverse("shelf:shelf")), "Nothing is on the shelf yet")
        self.assertContains(stranger.get(reverse("people:people")), "Maeve Orrin")
        self.assertNotContains(stranger.get(reverse("people:people")), "ropery")
        self.assertContains(stranger.get(reverse("cards:list")), "Cards")

    @override_settings(NEW_STUDIOS=False)
    def test_where_strangers_may_begin_none_there_is_no_such_page(self) -> None:
        for answer in (Browser().get(reverse("people:begin")), Browser().post(reverse("people:begin"), NEW)):
            self.assertEqual(answer.status_code, 404)
        self.assertNotContains(Browser().get(reverse("sign-in")), reverse("people:begin"))


class Going(PeopleCase):
    def test_who_leaves_is_signed_out_at_once_and_stays_on_what_they_did(self) -> None:
        maeve = self.colleague("colourist")
        browser = self.browser(maeve)
        self.assertEqual(browser.get(reverse("chairs:chairs")).status_code, 200)
        self.act("part", of=maeve.pk)
        self.assertEqual(browser.get(reverse("chairs:chairs")).status_code, 302)
        self.assertContains(
            Browser().post(reverse("sign-in"), {"username": "maeve", "password": PASSWORD}), "belong together"
        )
        self.assertContains(self.page(), "has left")
        self.act("back", of=maeve.pk)
        self.assertEqual(self.browser(maeve).get(reverse("chairs:chairs")).status_code, 200)

    def test_the_last_owner_neither_leaves_nor_is_anything_else(self) -> None:
        for way, fields in (("part", {}), ("set", {"role": "colourist"})):
            answer = self.act(way, of=self.person.pk, **fields)
            self.assertContains(answer, "Somebody must own the studio", status_code=422)
        self.act("set", of=self.colleague().pk, role="owner")
        self.assertEqual(self.act("part", of=self.person.pk).status_code, 302)
        self.assertFalse(Person.objects.get(pk=self.person.pk).is_active)

    def test_of_two_owners_who_part_from_each_other_one_stays(self) -> None:
        other = self.colleague("owner")
        part(self.person, of=other.pk)
        other.refresh_from_db()
        with self.assertRaises(Refusal) as refused:
            part(self.person, of=self.person.pk)
        self.assertEqual(refused.exception.code, "last_owner")

    def test_another_studios_people_and_links_are_not_found(self) -> None:
        other = make_person("Sail Loft", "sail")
        Person.objects.filter(pk=other.pk).update(role="owner")
        mine = self.link()
        theirs = Invitation.objects.get()
        Invitation.objects.filter(pk=theirs.pk).update(studio=other.studio, made_by=other)
        for way in ("part", "set", "password", "back"):
            self.assertEqual(self.act(way, of=other.pk, role="desk").status_code, 404, way)
        self.assertEqual(self.act("withdraw", of=theirs.pk).status_code, 404)
        self.assertTrue(Person.objects.get(pk=other.pk).is_active)
        self.assertEqual(Browser().get(mine).status_code, 200)

    def test_a_licence_belongs_to_those_who_may_hold_one(self) -> None:
        maeve = self.colleague()
        answer = self.act("set", of=maeve.pk, role="apprentice", licensed="1")
        self.assertContains(answer, "hold no licence", status_code=422)
        with self.assertRaises(IntegrityError), transaction.atomic():
            Person.objects.filter(pk=maeve.pk).update(licensed=True)
        self.act("set", of=maeve.pk, role="colourist", licensed="1")
        maeve.refresh_from_db()
        self.assertTrue(maeve.may(Act.SIGN))
        self.assertContains(self.act("set", of=maeve.pk, role="queen"), "from the list", status_code=422)
        self.assertContains(self.act("juggle"), "not of this page", status_code=422)


class Doors(PeopleCase):
    def test_every_address_opens_for_those_whom_it_is_for_and_says_why_not(self) -> None:
        """The addresses come from the resolver: a new page is for those who work until it is said otherwise."""
        everybody = {
            Role.OWNER: self.person,
            Role.COLOURIST: self.colleague("colourist", "col"),
            Role.APPRENTICE: self.colleague("apprentice", "app"),
            Role.DESK: self.colleague("desk", "des"),
        }
        refused = 0
        for role, person in everybody.items():
            browser = self.browser(person)
            for address in addresses(ANY | {"visit_id": self.visit.pk, "client_id": self.visit.client_id}):
                name = address.name.removeprefix(":")
                act = asks_for(name)
                if act is None or may(role, act):
                    if name != "people:act" and not name.startswith("looks:"):
                        self.assertNotEqual(browser.get(address.path).status_code, 403, f"{role} at {name}")
                    continue
                with self.subTest(role=role, name=name):
                    for answer in (browser.get(address.path), browser.post(address.path)):
                        self.assertEqual(answer.status_code, 403)
                    refused += 1
        self.assertGreater(refused, 100)

    def test_a_table_of_doors_names_no_page_that_is_gone(self) -> None:
        known = {each.name.removeprefix(":") for each in addresses(ANY)}
        self.assertLessEqual(FOR_ALL, known)
        self.assertEqual(set(WORDS), {Act.WORK, Act.HAND_OUT, Act.HIRE})

    def test_the_desk_sees_the_day_and_the_cards_and_no_health(self) -> None:
        self.visit.client.notes = "takes blood thinners"
        self.visit.client.save()
        card = reverse("cards:card", args=[self.visit.client_id])
        self.assertContains(self.client.get(card), "blood thinners")
        desk = self.browser(self.colleague("desk"))
        seen = desk.get(card)
        self.assertContains(seen, self.visit.client.name)
        for hidden in ("blood thinners", "Forget this client", "All that is kept", "Start today", "Shelf"):
            self.assertNotContains(seen, hidden)
        self.assertEqual(desk.get(reverse("chairs:chairs")).status_code, 200)
        told = desk.get(reverse("visits:consult", args=[self.visit.pk]))
        self.assertContains(told, "for those who work at a chair", status_code=403)
        made = desk.post(reverse("clients:new"), {"name": "Walk In", "about": "", "notes": ""})
        self.assertEqual(made.status_code, 302)

    def test_no_control_of_the_desk_leads_to_what_is_not_for_it(self) -> None:
        for visit in (self.visit, make_visit(self.person, day=TODAY - datetime.timedelta(days=30))):
            zone = visit.zones.get()
            pour(self.person, zone_id=zone.pk, version=0, shade_id=self.shade("Orchil").pk, typed="3")
            save_formula(self.person, visit_id=visit.pk, version=1)
        desk = self.browser(self.colleague("desk"))
        away = desk.get(reverse("visits:consult", args=[self.visit.pk])).content.decode()  # where a refusal leads
        pages = [reverse("chairs:chairs"), reverse("cards:list"), reverse("cards:card", args=[self.visit.client_id])]
        found = set(re.findall(r'(?:href|action)="(/[^"#?]*)', away))
        for page in pages:
            found |= set(re.findall(r'(?:href|action)="(/[^"#?]*)', desk.get(page).content.decode()))
        led = {path for path in found if not path.startswith("/static/")}
        self.assertGreater(len(led), 4)
        self.assertEqual({path for path in led if asks_for(resolve(path).view_name) is not None}, set())

    def test_a_page_that_is_open_while_its_role_goes_is_left_with_the_reason(self) -> None:
        browser = self.browser(self.colleague("desk"))
        tap = browser.post(self.on_bench("pour"), {"version": 0}, headers={"HX-Request": "true"})
        self.assertEqual((tap.status_code, tap.headers["HX-Redirect"]), (200, reverse("chairs:chairs")))
        self.assertContains(browser.get(reverse("chairs:chairs")), "This is for those who work at a chair.")

    def test_a_role_counts_from_the_next_tap(self) -> None:
        maeve = self.colleague("colourist")
        browser, bench = self.browser(maeve), reverse("bench:bench", args=[self.visit.pk])
        self.assertEqual(browser.get(bench).status_code, 200)
        self.act("set", of=maeve.pk, role="desk")
        self.assertEqual(browser.get(bench).status_code, 403)
        self.act("set", of=maeve.pk, role="apprentice")
        self.assertEqual(browser.get(bench).status_code, 200)
        self.assertEqual(browser.get(reverse("formats:erase", args=[self.visit.client_id])).status_code, 403)


class Links(PeopleCase):
    def test_a_link_is_open_for_a_week(self) -> None:
        address = self.link()
        self.assertContains(self.page(), "Links that are open")
        Invitation.objects.update(made_at=timezone.now() - HOLDS_FOR + datetime.timedelta(minutes=1))
        self.assertEqual(Browser().get(address).status_code, 200)
