"""What is a person's own: where they are signed in, their PIN, the lock, and work in several studios."""

import datetime
from urllib.parse import quote

from django.conf import settings
from django.test import Client as Browser
from django.urls import reverse
from django.utils import timezone

from studio.accounts.models import Person, SignedIn
from studio.accounts.services.pin import WRONG_MOST, set_pin
from studio.clocks.models import ZoneClock
from studio.people.services.hire import join_as, renew_password
from studio.people.services.part import part
from studio.ui.refusal import Refusal
from studio.visits.models import Incident
from studio.visits.selectors import open_zone
from tests.studio.made import make_person, make_visit, put_on_hair
from tests.studio.test_people import PASSWORD, PeopleCase

CHAIRS, YOU = "/chairs/", "/you/"
PIN = "4827"
TABLET = "Mozilla/5.0 (Linux; Android 14; SM) AppleWebKit/537.36"
PHONE = "Mozilla/5.0 (Linux; Android 14) AppleWebKit/537.36 Mobile Safari/537.36"


class YouCase(PeopleCase):
    def setUp(self) -> None:
        super().setUp()
        self.person.set_password(PASSWORD)
        self.person.save()
        SignedIn.objects.all().delete()
        self.client = self.sign_in(self.person)

    def sign_in(self, person: Person, agent: str = TABLET) -> Browser:
        browser = Browser(HTTP_USER_AGENT=agent)
        self.assertEqual(self.door(person.sign_in_name, PASSWORD, browser).status_code, 302)
        return browser

    def door(self, name: str, word: str, browser: Browser | None = None):
        return (browser or Browser()).post(reverse("sign-in"), {"username": name, "password": word})

    def own(self, way: str, **fields: object):
        return self.client.post(reverse("you-act"), {"way": way, **fields})

    def back_by(self, **passed: float) -> None:
        """As if nobody had touched anything for so long."""
        SignedIn.objects.update(touched_at=timezone.now() - datetime.timedelta(**passed))


class SignIns(YouCase):
    def test_each_is_listed_by_its_machine_and_never_by_its_key(self) -> None:
        phone = self.sign_in(self.person, PHONE)
        page = self.client.get(YOU)
        self.assertContains(page, "A tablet")
        self.assertContains(page, "A phone")
        self.assertContains(page, "this one", count=1)
        for browser in (self.client, phone):
            self.assertNotContains(page, browser.session.session_key)

    def test_one_or_all_others_are_ended_at_once_and_only_ones_own(self) -> None:
        other = self.browser(self.colleague())
        other.get(CHAIRS)
        phone, second = self.sign_in(self.person, PHONE), self.sign_in(self.person, PHONE)
        stolen = SignedIn.objects.get(session_key=phone.session.session_key)
        self.own("end", of=stolen.mark)
        self.assertEqual(phone.get(CHAIRS).status_code, 302)
        self.assertEqual(second.get(CHAIRS).status_code, 200)
        self.assertContains(self.own("end", of=stolen.mark), "ended already", status_code=422)
        theirs = SignedIn.objects.get(session_key=other.session.session_key)
        self.assertEqual(self.own("end", of=theirs.mark).status_code, 422)
        self.own("end_others")
        self.assertEqual(second.get(CHAIRS).status_code, 302)
        self.assertEqual([each.get(CHAIRS).status_code for each in (self.client, other)], [200, 200])

    def test_a_session_that_nobody_touched_for_half_a_day_has_ended(self) -> None:
        self.back_by(hours=settings.IDLE_HOURS - 0.1)
        self.assertEqual(self.client.get(CHAIRS).status_code, 200)  # a touch
        self.assertLess(timezone.now() - SignedIn.objects.get().touched_at, datetime.timedelta(seconds=30))
        self.back_by(hours=settings.IDLE_HOURS - 0.1)
        self.client.get(CHAIRS, HTTP_HX_REQUEST="true")  # asked by the page itself
        self.back_by(hours=settings.IDLE_HOURS + 0.1)
        self.assertEqual(self.client.get(CHAIRS).status_code, 302)

    def test_what_a_page_asks_by_itself_is_no_touch(self) -> None:
        self.back_by(minutes=30)
        self.client.get(CHAIRS, HTTP_HX_REQUEST="true")
        self.assertGreater(timezone.now() - SignedIn.objects.get().touched_at, datetime.timedelta(minutes=29))

    def test_a_touch_is_noted_once_a_minute_and_keeps_when_it_began(self) -> None:
        began = SignedIn.objects.get().began_at
        self.back_by(minutes=5)
        for is_noted in (True, False):
            before = SignedIn.objects.get().touched_at
            self.client.get(YOU)
            self.assertEqual(SignedIn.objects.get().touched_at != before, is_noted)
        session = self.client.session
        session["other"] = 1
        session.save()
        self.assertEqual(SignedIn.objects.get().began_at, began)


class Pins(YouCase):
    def test_it_is_set_by_the_password_and_kept_as_a_hash(self) -> None:
        for fields, told in (
            ({"pin": "12"}, "4 to 8 digits"),
            ({"pin": "48 27"}, "4 to 8 digits"),
            ({"pin": "٤٨٢٧"}, "4 to 8 digits"),
            ({"pin": "4444"}, "tried first"),
            ({"pin": "6543"}, "tried first"),
            ({"pin": PIN, "password": "a guess"}, "not your password"),
        ):
            with self.subTest(fields):
                answer = self.own("pin", **({"password": PASSWORD} | fields))
                self.assertContains(answer, told, status_code=422)
                self.assertEqual(Person.objects.get(pk=self.person.pk).pin, "")
        self.own("pin", pin=PIN, password=PASSWORD)
        kept = Person.objects.get(pk=self.person.pk).pin
        self.assertTrue(kept)
        self.assertNotIn(PIN, kept)
        self.own("no_pin", password=PASSWORD)
        self.assertEqual(Person.objects.get(pk=self.person.pk).pin, "")

    def test_guesses_at_the_password_count_as_at_the_door(self) -> None:
        codes = [self.own("pin", pin=PIN, password=f"guess {each}").status_code for each in range(12)]
        self.assertIn(429, codes)


class Locked(YouCase):
    def setUp(self) -> None:
        super().setUp()
        set_pin(self.person, pin=PIN)
        self.visit = make_visit(self.person, "Wren Tallow", timezone.localdate())
        zone = open_zone(self.person, self.visit.pk).zone
        self.clock = put_on_hair(self.person, zone_id=zone.pk, kind="direct", now=timezone.now())

    def lock(self):
        return self.client.post(reverse("chairs:lock"), {"next": CHAIRS})

    def open(self, word: str, who: Person | None = None):
        return self.client.post(
            reverse("chairs:unlock"),
            {"who": (who or self.person).pk, "word": word, "next": f"/visits/{self.visit.pk}/bench/"},
        )

    def is_locked(self) -> bool:
        return self.client.get(CHAIRS).status_code == 302

    def test_every_page_leads_to_the_lock_and_a_part_is_told_it_is_signed_out(self) -> None:
        self.lock()
        for page in (CHAIRS, YOU, f"/visits/{self.visit.pk}/bench/", "/people/"):
            self.assertRedirects(self.client.get(page), f"/locked/?next={quote(page, safe='/')}")
        self.assertEqual(self.client.get(CHAIRS, HTTP_HX_REQUEST="true").status_code, 401)
        self.assertEqual(self.client.get(reverse("pulse")).status_code, 401)
        poured = self.client.post(f"/visits/{self.visit.pk}/bench/pour/", {}, HTTP_HX_REQUEST="true")
        self.assertEqual(poured.status_code, 401)

    def test_clocks_are_seen_without_a_name_and_end_without_a_pin(self) -> None:
        self.lock()
        page = self.client.get("/locked/")
        self.assertContains(page, "data-applied")
        self.assertNotContains(page, "Wren")
        self.assertNotContains(page, "Tallow")
        told = self.client.post(reverse("chairs:come-off"), {"clock": self.clock.pk, "stings": "1"})
        self.assertContains(told, "plenty of lukewarm water")
        self.clock.refresh_from_db()
        self.assertIsNotNone(self.clock.rinsed_at)
        self.assertEqual(Incident.objects.get().kind, "stung")
        self.assertTrue(self.is_locked())

    def test_rinsed_needs_no_pin_and_another_studios_clock_is_not_there(self) -> None:
        self.lock()
        other = make_person("Sail Loft", "sail")
        zone = open_zone(other, make_visit(other).pk).zone
        theirs = put_on_hair(other, zone_id=zone.pk, kind="direct", now=timezone.now())
        self.assertEqual(self.client.post(reverse("chairs:come-off"), {"clock": theirs.pk}).status_code, 404)
        self.client.post(reverse("chairs:come-off"), {"clock": self.clock.pk})
        again = self.client.post(reverse("chairs:come-off"), {"clock": self.clock.pk})  # a glove that taps twice
        self.assertEqual(again.status_code, 302)
        self.assertEqual(ZoneClock.objects.filter(rinsed_at=None).get(), theirs)

    def test_the_pin_opens_where_one_was_and_the_password_does(self) -> None:
        for word in (PIN, PASSWORD):
            self.lock()
            self.assertTrue(self.is_locked())
            self.assertRedirects(self.open(word), f"/visits/{self.visit.pk}/bench/", fetch_redirect_response=False)
            self.assertFalse(self.is_locked())

    def test_it_never_leads_out_of_the_house(self) -> None:
        self.lock()
        opened = self.client.post(
            reverse("chairs:unlock"), {"who": self.person.pk, "word": PIN, "next": "//elsewhere.example/"}
        )
        self.assertRedirects(opened, CHAIRS)

    def test_a_pin_that_is_guessed_at_is_shut_until_the_password_is_typed(self) -> None:
        self.lock()
        for each in range(WRONG_MOST - 1):
            self.assertContains(self.open(f"90{each}1"), "not their PIN", status_code=422)
        for word in ("9999", PIN):
            self.assertContains(self.open(word), "is shut", status_code=422)
        self.assertTrue(self.is_locked())
        self.open(PASSWORD)
        self.assertFalse(self.is_locked())
        self.lock()
        self.open(PIN)
        self.assertFalse(self.is_locked())

    def test_a_colleague_whom_the_tablet_knows_takes_it_over(self) -> None:
        maeve = self.colleague()
        set_pin(maeve, pin="7391")
        self.lock()
        self.assertContains(self.open("7391", maeve), "Choose who", status_code=422)  # never signed in here
        self.client.post(reverse("sign-out"))
        for person in (maeve, self.person):
            self.client.post(reverse("sign-in"), {"username": person.username, "password": PASSWORD})
            self.client.post(reverse("sign-out")) if person == maeve else None
        self.lock()
        self.assertContains(self.client.get("/locked/"), "maeve")
        self.assertEqual(self.open(PASSWORD, maeve).status_code, 422)  # a colleague's password is for the door
        self.open("7391", maeve)
        self.assertEqual(self.client.get(CHAIRS).wsgi_request.user, maeve)
        self.assertEqual(SignedIn.objects.filter(person=self.person).count(), 0)

    def test_it_locks_by_itself_after_what_the_house_says_and_only_with_a_pin(self) -> None:
        self.back_by(minutes=14)
        self.assertFalse(self.is_locked())
        self.back_by(minutes=16)
        self.assertTrue(self.is_locked())
        self.open(PIN)
        for change in ({"lock_min": 0}, {"lock_min": 5}):
            type(self.person.studio).objects.update(**change)
            self.back_by(minutes=16)
            self.assertEqual(self.is_locked(), bool(change["lock_min"]))
            self.open(PIN)
        set_pin(self.person, pin="")
        self.back_by(minutes=16)
        self.assertFalse(self.is_locked())

    def test_a_session_that_is_saved_while_it_is_locked_stays_locked(self) -> None:
        self.lock()
        session = self.client.session
        session["other"] = 1
        session.save()
        self.assertTrue(self.is_locked())


class SeveralStudios(YouCase):
    def setUp(self) -> None:
        super().setUp()
        self.owner = make_person("Sail Loft", "sail")
        Person.objects.filter(pk=self.owner.pk).update(role="owner")
        self.hers = self.browser(self.owner)

    def invite(self, **fields: str) -> str:
        self.hers.post(reverse("people:act"), {"way": "invite", "role": "colourist"} | fields)
        told = self.hers.get(reverse("people:people")).content.decode()
        return told.partition("/join/")[2].partition("/")[0]

    def come_along(self) -> Person:
        self.client.post(reverse("people:join", args=[self.invite()]), {"as_me": "1"})
        return Person.objects.get(same_as=self.person)

    def test_one_person_comes_to_a_second_studio_and_chooses(self) -> None:
        there = self.come_along()
        self.assertEqual((there.studio, there.role), (self.owner.studio, "colourist"))
        self.assertContains(self.client.get(CHAIRS), "Sail Loft")
        mine = make_visit(self.person, "Ivo Lark")
        self.assertEqual(self.client.get(f"/visits/{mine.pk}/bench/").status_code, 404)
        self.own("place", of=self.person.pk)
        self.assertEqual(self.client.get(f"/visits/{mine.pk}/bench/").status_code, 200)
        self.assertEqual(self.client.get(reverse("people:people")).status_code, 200)  # an owner here, and not there
        self.own("place", of=there.pk)
        self.assertEqual(self.client.get(reverse("people:people")).status_code, 403)
        self.assertEqual(self.own("place", of=self.owner.pk).status_code, 404)  # another human

    def test_she_signs_in_by_the_same_name_where_she_was_last_and_one_password_ends_all(self) -> None:
        there = self.come_along()
        again = self.sign_in(self.person)
        self.assertEqual(again.get(CHAIRS).wsgi_request.user, there)
        self.assertEqual(again.get(reverse("password")).status_code, 403)
        self.assertEqual(self.door(there.username, PASSWORD).status_code, 200)  # the form once more
        self.person.set_password("other lanterns on the sea")
        self.person.save()
        self.assertEqual(again.get(CHAIRS).status_code, 302)

    def test_a_link_is_used_up_and_brings_nobody_twice(self) -> None:
        key = self.invite()
        address = reverse("people:join", args=[key])
        self.client.post(address, {"as_me": "1"})
        self.assertContains(Browser().get(address), "Ask for a new one", status_code=410)
        with self.assertRaises(Refusal) as refused:
            join_as(self.person, self.invite(), now=timezone.now())
        self.assertEqual(refused.exception.code, "is_here")

    def test_no_owner_takes_over_who_works_elsewhere_too(self) -> None:
        there = self.come_along()
        for way in ("password", "second"):
            refused = self.hers.post(reverse("people:act"), {"way": way, "of": there.pk})
            self.assertContains(refused, "theirs alone", status_code=422)

    def test_a_link_that_an_owner_made_before_they_came_elsewhere_opens_nothing(self) -> None:
        key = renew_password(self.person, of=self.person.pk, now=timezone.now()).key
        self.come_along()
        answer = Browser().post(reverse("people:join", args=[key]), {"password": "other lanterns on the sea"})
        self.assertContains(answer, "theirs alone", status_code=410)
        self.assertTrue(Person.objects.get(pk=self.person.pk).check_password(PASSWORD))

    def test_who_leaves_the_first_studio_signs_in_for_the_other_as_before(self) -> None:
        there = self.come_along()
        second = self.colleague("owner", "second")
        part(second, of=self.person.pk)
        self.assertEqual(self.sign_in(self.person).get(CHAIRS).wsgi_request.user, there)
        left = Person.objects.get(pk=self.person.pk)
        self.assertEqual((left.same_as, left.is_active), (there, False))
        self.assertEqual(str(left), self.person.username)

    def test_her_sign_ins_in_both_are_hers_to_end(self) -> None:
        self.come_along()
        other = self.sign_in(self.person, PHONE)
        other.post(reverse("you-act"), {"way": "place", "of": self.person.pk})
        self.assertContains(self.client.get(YOU), "A phone")
        self.own("end_others")
        self.assertEqual(other.get(CHAIRS).status_code, 302)
