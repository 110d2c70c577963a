"""The census of controls: every one of every main view is pressed, in the states that a visit goes through."""

from datetime import timedelta
from decimal import Decimal

from allauth.account.models import EmailAddress
from django.core import signing
from django.core.files.base import ContentFile
from django.core.files.storage import default_storage
from django.urls import reverse
from django.utils import timezone

from studio.accounts.devices import COOKIE, SALT
from studio.accounts.models import Person, SignedIn
from studio.accounts.models import Studio as StudioRow
from studio.accounts.services.pin import set_pin
from studio.archives.models import Transfer
from studio.archives.places import whole_name
from studio.cards.models import Formula, ZoneResult
from studio.clients.models import Client
from studio.clients.services.history import add_past
from studio.demo.season import load_season
from studio.head.models import Bowl, Coat
from studio.head.services.coats import add_coat
from studio.head.services.undo import redo, undo
from studio.learning.services.learn import learn_anew
from studio.people.models import Invitation
from studio.practice.services.practise import LEFT, answer, begin
from studio.route.services.edit_plan import set_turns
from studio.shelf.list_in import read_list
from studio.shelf.models import Shade
from studio.shelf.services.holding import line_changed
from studio.shelf.services.own_tubes import take_list
from studio.shelf.services.strands import read_strand
from studio.shelf.services.told import take_look
from studio.visits.models import Visit
from studio.visits.services.start_visit import start_visit
from tests.journeys.census import CensusCase
from tests.journeys.declared import BENCH, FRONT, HANDED, KEYS, MASTHEAD, SINK
from tests.journeys.declared_outside import LEARNED, OWN, SHELF
from tests.journeys.states import Studio
from tests.studio.made import put_on_hair
from tests.studio.made_far import picture

DESK, TABLET, PHONE = (1280, 800), (1024, 768), (390, 844)
EVERY = (DESK, TABLET, PHONE)


def used_up(visit: Visit) -> None:
    """A tube of a bowl is out."""
    bowl = Bowl.objects.get(coats__zone__visit=visit)
    shade = bowl.pours.exclude(shade__name="Clear").first().shade
    Shade.objects.filter(pk=shade.pk).update(stock_g=0)
    line_changed(bowl.line_id)


HOUSE_PAGES = (
    *(("chairs", "chairs"), ("house", "shelf"), ("ladder", "shelf"), ("take", "formats"), ("new", "clients")),
    *(("archive", "archives"), ("calendar-page", "formats"), ("programs", "programs")),
)


class VisitCensus(CensusCase):
    def setUp(self) -> None:
        super().setUp()
        self.studio = Studio(self.person)

    def see(self, view: str, name: str, visit: Visit, query: str = "", *, sizes: tuple[tuple[int, int], ...] = (DESK,)):
        self.walk(view, reverse(name, args=[visit.pk]) + query, sizes=sizes)


class Front(VisitCensus):
    declared = FRONT

    def test_consult_read_route_and_plan(self) -> None:
        virgin, read, far = self.studio.fresh(), self.studio.read(), self.studio.six_zones()
        untested = self.studio.untested()
        self.sign_in_rolled_back()
        self.see("consult", "visits:consult", far, sizes=EVERY)
        self.see("consult", "visits:consult", virgin)
        self.see("read", "visits:read", virgin, sizes=EVERY)
        self.see("read", "visits:read", far, sizes=EVERY)
        self.see("read", "visits:read", self.studio.half_read())
        self.see("read", "visits:read", self.studio.yellowed())
        self.see("read-photo", "bench:read-photo", read, sizes=EVERY)
        self.see("route", "route:route", far, sizes=EVERY)
        self.see("route", "route:route", far, f"?zone={far.zones.get(part='ends').pk}")
        self.see("route", "route:route", untested)
        self.see("heads", "route:heads", self.studio.aimed("Kes Marl"))
        set_turns(self.person, visit_id=far.pk, zone_ids=[far.zones.get(part="nape").pk])
        self.see("plan", "route:plan", far, sizes=EVERY)
        self.close_census()


class Bench(VisitCensus):
    declared = BENCH

    def test_the_bench_and_its_panels(self) -> None:
        read, poured, far = self.studio.read(), self.studio.poured(), self.studio.six_zones()
        short = self.studio.poured("Ede Marl")
        used_up(short)
        self.sign_in_rolled_back()
        self.see("bench", "bench:bench", read, sizes=EVERY)
        self.see("bench", "bench:bench", far, sizes=EVERY)
        self.see("bench", "bench:bench", poured, "?mode=aim")
        self.see("bench", "bench:bench", poured, "?mode=list")
        self.see("bench", "bench:bench", self.studio.aimed(), "?mode=aim")
        for panel in ("zones", "answers", "adjust", "warmth", "photo", "heads", "pastels", "meanwhile"):
            self.see("bench", "bench:bench", poured if panel == "answers" else far, f"?{panel}=1", sizes=(DESK, PHONE))
        coats = self.studio.in_coats()
        lift = Coat.objects.get(zone__visit=coats, purpose="lift")
        self.see("bench", "bench:bench", short, "?instead=1")
        self.see("bench", "bench:bench", coats, "?coats=1")
        self.see("bench", "bench:bench", coats, f"?coat_id={lift.pk}", sizes=(PHONE,))
        self.within = "#middle"  # the rest is as on every Bench
        self.see("guess", "bench:bench", poured, "?mode=guess", sizes=EVERY)
        self.close_census()

    def test_every_key_does_what_its_sheet_says(self) -> None:
        far = self.studio.six_zones()
        for purpose in ("glaze", "seal"):  # the second is undone again
            hand = {"zone_id": self.studio.zone(far), "version": self.studio.version(far)}
            add_coat(self.person, **hand, purpose=purpose)
        for step in (undo, undo, redo):
            step(self.person, zone_id=self.studio.zone(far), version=self.studio.version(far))
        self.sign_in_rolled_back()
        address = reverse("bench:bench", args=[far.pk])
        self.open(address)
        said = {each for words in self.page.locator("#keys dt").all_text_contents() for each in words.split(", ")}
        self.assertEqual(said, set(KEYS))
        for keys in KEYS.values():
            for key, does in keys.items():
                with self.subTest(key=key):
                    self.press_key(key, does)


class Sink(VisitCensus):
    declared = SINK

    def test_pour_and_clock(self) -> None:
        far, mixed, rinsed = self.studio.six_zones(), self.studio.mixed(), self.studio.rinsed()
        running, _ = self.studio.running()
        untested = self.studio.untested()
        self.sign_in_rolled_back()
        self.see("pour", "pour:pour", untested)
        self.see("clock", "clocks:clock", untested)
        self.see("pour", "pour:pour", far, sizes=EVERY)
        self.see("pour", "pour:pour", mixed, sizes=EVERY)
        coats = self.studio.in_coats()
        empty = Coat.objects.get(zone__visit=coats, purpose="glaze")
        self.see("pour", "pour:pour", coats, f"?zone={empty.zone_id}&coat_id={empty.pk}")
        both = self.studio.in_coats("Ede Marl")
        nape = both.zones.get(part="nape").pk
        put_on_hair(self.person, zone_id=nape, kind="direct", now=timezone.now())
        for visit in (running, rinsed, self.studio.lifting(), far, both):
            self.see("clock", "clocks:clock", visit, sizes=EVERY)
        self.close_census()


class HandedOver(VisitCensus):
    declared = HANDED

    def test_result_care_and_what_is_outside_of_a_visit(self) -> None:
        far, rinsed = self.studio.six_zones(), self.studio.rinsed()
        self.studio.fresh()
        self.studio.read()
        self.studio.mixed()
        self.studio.running()
        kept, formula = self.studio.kept()
        asked = self.studio.asked(kept.client_id)
        Person.objects.create_user(username="maeve", studio=self.person.studio)
        self.sign_in_rolled_back()
        self.see("result", "result:result", far, sizes=EVERY)
        self.see("result", "result:result", kept)
        self.see("head", "portrait:head", kept, sizes=EVERY)
        self.see("talk", "route:talk", self.studio.aimed(), sizes=EVERY)
        self.see("head-photo", "portrait:photo", rinsed)
        self.studio.portrayed(far)
        self.see("head-photo", "portrait:photo", far, sizes=EVERY)
        self.see("head-photo", "portrait:photo", far, "?tool=hair")
        self.see("head-photo", "portrait:photo", far, "?beside=1")
        self.see("care", "result:care", kept, sizes=EVERY)
        self.see("correct", "result:correct", rinsed, sizes=EVERY)
        self.studio.marked(rinsed)
        self.see("correct", "result:correct", rinsed)
        self.see("spots", "result:spots", rinsed, sizes=EVERY)
        self.see("story", "result:story", kept, sizes=EVERY)
        self.walk("cards", reverse("cards:list"), sizes=EVERY)
        self.walk("card", reverse("cards:card", args=[kept.client_id]), sizes=EVERY)
        repeated = Formula.objects.filter(visit__client__name="Odalys Finch").first()
        self.walk("card", reverse("cards:card", args=[repeated.visit.client_id]))
        self.walk("again", reverse("cards:again", args=[formula.pk]), sizes=EVERY)
        self.archives()
        self.walk("intake", reverse("formats:intake", args=[asked.pk]), sizes=EVERY)
        for view, name in HOUSE_PAGES:
            self.walk(view, reverse(f"{name}:{view}"), sizes=EVERY)
        self.close_census()

    def test_the_practice_room(self) -> None:
        now = timezone.now()
        drills = {skill: begin(self.person, skill=skill, now=now) for skill in ("which", "hit", "sums")}
        done = begin(self.person, skill="wrong", now=now)
        answer(self.person, drill_id=done.pk, given=LEFT, now=now)
        self.sign_in_rolled_back()
        self.walk("practice", reverse("practice:practice"), sizes=EVERY)
        Person.objects.create_user(username="maeve", studio=self.person.studio)
        self.walk("mentor", reverse("practice:mentor"), sizes=EVERY)
        for drill in (*drills.values(), done):
            self.walk("drill", reverse("practice:drill", args=[drill.pk]), sizes=EVERY)

    def archives(self) -> None:
        """One that can be fetched, and one that was brought; a program that reads."""
        done = {"studio": self.person.studio, "person": self.person, "finished_at": timezone.now()}
        made = Transfer.objects.create(way="out", size=4, asked_for_at=timezone.now(), **done)
        default_storage.save(whole_name(made.uid), ContentFile(b"file"))
        Transfer.objects.create(way="in", size=4, asked_for_at=timezone.now(), **done)
        key = {"may": ["clients", "cards"], "per_minute": 30, "tail": "abcd", "key_hash": "0" * 64}
        self.person.studio.program_keys.create(name="Till", made_by=self.person, made_at=timezone.now(), **key)

    def test_an_archive_is_brought_into_an_empty_studio(self) -> None:
        bare = StudioRow.objects.create(name="Sail Loft")
        Person.objects.filter(pk=self.person.pk).update(studio=bare)
        self.sign_in_rolled_back()
        self.walk("bring", reverse("archives:archive"), sizes=EVERY)
        self.close_census()

    def test_who_works_here(self) -> None:
        gone = Person.objects.create_user(username="gone", studio=self.person.studio, is_active=False)
        made = {"studio": gone.studio, "made_by": self.person, "role": "apprentice", "made_at": timezone.now()}
        Invitation.objects.create(key_hash="0" * 64, **made)
        self.sign_in_rolled_back()
        self.walk("people", reverse("people:people"), sizes=EVERY)
        self.close_census()


class Own(VisitCensus):
    declared = OWN

    def test_what_is_a_persons_own_and_the_lock(self) -> None:
        set_pin(self.person, pin="4827")
        running, _ = self.studio.running()
        colleague = Person.objects.create_user(username="maeve", studio=self.person.studio, pin="x")
        there = StudioRow.objects.create(name="Sail Loft")
        Person.objects.create_user(username="elsewhere", studio=there, same_as=self.person)
        add_past(
            self.person,
            client_id=running.client_id,
            work="henna",
            part="ends",
            done_on=timezone.localdate(),
            today=timezone.localdate(),
        ).delete()
        self.sign_in_rolled_back()
        SignedIn.objects.create(
            session_key="a" * 32,
            person=self.person,
            began_at=timezone.now(),
            touched_at=timezone.now(),
            expire_date=timezone.now() + timedelta(days=1),
        )
        self.walk("you", reverse("you"), sizes=EVERY)
        EmailAddress.objects.create(user=self.person, email="orla@quay.example")
        for view, name in (("mail", "account_email"), ("second", "mfa_index"), ("again", "account_reauthenticate")):
            self.walk(view, reverse(name), sizes=(DESK, PHONE))
        self.walk("trace", reverse("trace:client", args=[running.client_id]), sizes=EVERY)
        known = signing.dumps([(colleague.pk, "k")], salt=SALT)
        self.context.add_cookies([{"name": COOKIE, "value": known, "url": self.live_server_url}])
        SignedIn.objects.update(locked_at=timezone.now())
        self.walk("locked", reverse("chairs:locked"), sizes=EVERY)
        self.close_census()


class Shelf(VisitCensus):
    declared = SHELF

    def test_the_shelf_a_list_and_a_tube(self) -> None:
        tubes = read_list("Sea Pink\tP1\t\tpink", letters={}, is_oxidative=False).tubes
        line = self.person.studio.lines.get(kind="direct")
        listed = take_list(self.person, line=line.pk, tubes=tubes)
        used = line.shades.get(name="Woad")
        used.off_shelf = True
        used.save()
        self.sign_in_rolled_back()
        self.walk("shelf", f"{reverse('shelf:shelf')}?taken={listed.pk}&q=sea+pink", sizes=EVERY)
        self.walk("add", reverse("shelf:add"), sizes=EVERY)
        self.walk("line-file", reverse("shelf:take"), sizes=EVERY)
        self.walk("tube", reverse("shelf:tube", args=[listed.shades.get().pk]), sizes=EVERY)
        self.walk("tube", reverse("shelf:tube", args=[used.pk]))
        pink = listed.shades.get().pk
        lab = (Decimal(60), Decimal(20), Decimal(5))
        for share in ("0.2", "0.05"):
            read_strand(self.person, shade_id=pink, level=Decimal(10), share=Decimal(share), lab=lab, source="reader")
        self.walk("strands", reverse("shelf:strands", args=[pink]), sizes=EVERY)
        strand = {"level": 10, "share": 0.5, "x": 4, "y": 4, "lab": [50, 30, 0]}
        photo = {"jpeg": picture(), "width": 80, "height": 80, "paper_x": 1, "paper_y": 1}
        listed.shades.get().sheets.create(**photo, strands=[strand], taken_by=self.person)
        self.walk("sheet", reverse("readings:sheet", args=[pink]), sizes=(DESK, PHONE))
        take_look(self.person, shade_id=pink, lab=(50, 30, 0), level=Decimal(10))
        self.walk("swatch", reverse("readings:swatch", args=[pink]))
        self.walk("swatch", reverse("readings:swatch", args=[used.pk]), sizes=(PHONE,))
        self.walk("spectrum", reverse("readings:spectrum", args=[pink]), sizes=(DESK, PHONE))
        self.walk("supplies", reverse("supplies:supplies"), sizes=(DESK, PHONE))
        self.walk("count", reverse("count:counting", args=[line.shades.first().pk]), sizes=EVERY)
        self.walk("order", reverse("shelf:order"), sizes=EVERY)
        self.close_census()


class Learned(VisitCensus):
    declared = LEARNED

    def test_what_was_learned_and_how_it_lasted(self) -> None:
        few = load_season(self.person)
        ZoneResult.objects.exclude(pk__in=[few[each].pk for each in (4, 9, 14)]).delete()
        client = Client.objects.get(name="Ottilie Sand")
        today = start_visit(self.person, client_id=client.pk, day=timezone.localdate())
        learn_anew(self.person.studio_id)
        self.sign_in_rolled_back()
        self.walk("learned", reverse("learning:learned"), sizes=(DESK, PHONE))
        self.see("lasted", "learning:lasted", today, sizes=(DESK, PHONE))
        self.close_census()


class Masthead(VisitCensus):
    declared = MASTHEAD

    def test_the_door(self) -> None:
        self.walk("door", reverse("sign-in"), sizes=EVERY)
        self.walk("begin", reverse("people:begin"), sizes=EVERY)
        self.walk("forgotten", reverse("account_reset_password"), sizes=EVERY)
        self.close_census()

    def test_the_steps_of_a_visit_and_the_way_out(self) -> None:
        visit, _ = self.studio.kept()
        set_pin(self.person, pin="4827")
        self.sign_in_rolled_back()
        self.within = "header.masthead"
        for name in ("bench:bench", "result:care", "clocks:clock"):
            self.see("masthead", name, visit, sizes=EVERY)
        self.walk("masthead", reverse("cards:list"), sizes=EVERY)
        self.close_census()
