"""People come, work as what they are, have a licensed hand sign beside them, and go: by pointer, and by keyboard."""

import re

from playwright.sync_api import Page, expect

from studio.accounts.house import SCHOOLS
from studio.accounts.models import Person
from studio.visits.models import Signature
from tests.demo import PASSWORD
from tests.journeys.base import JourneyCase
from tests.journeys.states import Studio
from tests.studio.test_second_factor import code

OWN = "lanterns over low water"


class People(JourneyCase):
    def setUp(self) -> None:
        super().setUp()
        self.sign_in()

    def guest(self) -> Page:
        """Somebody else's tablet."""
        self.elsewhere = self.browser.new_context(viewport={"width": 1280, "height": 800})
        self.addCleanup(self.elsewhere.close)
        ours, self.context = self.context, self.elsewhere
        page = self.new_page()
        self.context = ours
        return page

    def come(self, page: Page, link: str) -> None:
        page.goto(link)
        page.get_by_label("Your name").fill("Maeve Orrin")
        page.get_by_label("Name to sign in by").fill("maeve")
        page.get_by_label("Password").fill(OWN)
        page.get_by_role("button", name="Come in").click()
        expect(page.get_by_role("heading", name="Chairs")).to_be_visible()

    def test_an_apprentice_comes_is_signed_for_and_goes(self) -> None:
        page = self.page
        page.get_by_role("link", name="Chairs", exact=True).click()
        page.get_by_role("link", name="People").click()
        page.get_by_label("Somebody new, as").select_option("apprentice")
        page.get_by_role("button", name="Make the link").click()
        link = page.get_by_label(re.compile("who is to come")).input_value()
        maeve = self.guest()
        self.come(maeve, link)
        expect(maeve.get_by_role("link", name="People")).to_have_count(0)
        maeve.goto(link)  # a second time it lets nobody in
        expect(maeve.get_by_role("alert")).to_contain_text("Ask for a new one")

        visit = Studio(self.person).untested()
        maeve.goto(f"{self.live_server_url}/visits/{visit.pk}/clock/")
        maeve.get_by_label("What").first.select_option("lightener")
        maeve.get_by_role("link", name="Stop: sensitivity test").click()
        gate = maeve.locator("[data-gate=sensitivity_test]")
        gate.get_by_label("A licensed hand signs").select_option(label=str(self.person))
        for word in ("a guess at it", PASSWORD):
            gate.get_by_label("with their password").fill(word)
            reason = gate.get_by_label("Reason")
            if not reason.input_value():
                reason.fill("her doctor's paper is in the file")
            gate.get_by_role("button", name="Sign").click()
            if word != PASSWORD:
                expect(maeve.get_by_role("alert").first).to_contain_text("not the password of who signs")
        expect(gate).to_contain_text(f"{self.person}: her doctor's paper")
        self.assertEqual(Signature.objects.get(visit=visit).signed_by, self.person)

        maeve.goto(f"{self.live_server_url}/visits/{Studio(self.person).poured().pk}/bench/")
        self.await_bench(maeve)
        page.reload()
        page.get_by_label("What Maeve Orrin is", exact=True).select_option("desk")
        page.get_by_role("button", name="Set what Maeve Orrin is").click()
        expect(page.get_by_label("What Maeve Orrin is", exact=True)).to_have_value("desk")
        maeve.keyboard.press("ArrowUp")  # in the middle of a visit
        expect(maeve.get_by_role("heading", name="Chairs")).to_be_visible()
        expect(maeve.get_by_role("alert").first).to_contain_text("for those who work at a chair")
        expect(maeve.locator("#outbox")).to_be_hidden()

        page.get_by_role("button", name="Maeve Orrin has left").click()
        expect(page.get_by_text("Maeve Orrin has left and is signed out everywhere.")).to_be_visible()
        maeve.get_by_role("link", name="Chairs", exact=True).click()
        expect(maeve.get_by_role("button", name="Sign in")).to_be_visible()

    def test_a_studio_begins_from_nothing_by_keyboard_alone(self) -> None:
        page = self.guest()
        page.goto(self.live_server_url)
        page.get_by_role("link", name="A new studio").press("Enter")
        expect(page.get_by_role("heading", name="A new studio")).to_be_visible()
        page.get_by_label("Name of the studio").focus()
        for typed in ("Tar Barrel Row", "Port Sennet", "", "€", "ounces", "Deutsch", "Maeve Orrin", "maeve", OWN):
            page.keyboard.type(typed)
            page.keyboard.press("Tab")
        page.keyboard.press("Enter")  # how the house works
        page.keyboard.press("Tab")
        page.keyboard.type("mostly")
        for _ in SCHOOLS:
            page.keyboard.press("Tab")
        page.keyboard.press("Enter")
        expect(page.get_by_role("heading", name="Noch ist nichts im Regal")).to_be_visible()
        owner = Person.objects.get(username="maeve")
        house = owner.studio
        told = (house.name, house.time_zone, house.currency, house.unit, house.language, house.school, owner.role)
        self.assertEqual(told, ("Tar Barrel Row", "UTC", "€", "oz", "de", "orange_at_8", "owner"))
        page.get_by_role("link", name="Karten", exact=True).press("Enter")
        expect(page.get_by_text("Maud Okonjo-Hale")).to_have_count(0)


class TheTablet(JourneyCase):
    """One tablet, several hands: locked, opened by a PIN with keys that gloves can press, and a second factor."""

    def setUp(self) -> None:
        super().setUp()
        self.sign_in()

    def set_a_pin(self, pin: str) -> None:
        page = self.page
        page.goto(f"{self.live_server_url}/you/")
        page.get_by_label("New PIN").fill(pin)
        page.get_by_label("Your password").fill(PASSWORD)
        page.get_by_role("button", name="Keep the PIN").click()
        expect(page.get_by_text("Your PIN is kept.")).to_be_visible()

    def test_by_pointer_it_is_locked_a_clock_ends_without_a_pin_and_a_pin_opens_where_it_was(self) -> None:
        page, (visit, _) = self.page, Studio(self.person).running()
        self.set_a_pin("4827")
        page.goto(f"{self.live_server_url}/visits/{visit.pk}/clock/")
        page.get_by_role("button", name="Lock").click()
        expect(page.get_by_role("heading", name="Locked")).to_be_visible()
        expect(page.get_by_text(visit.client.name)).to_have_count(0)
        page.goto(self.live_server_url)
        expect(page.get_by_role("heading", name="Locked")).to_be_visible()
        page.go_back()  # nothing is kept of what was seen before
        page.go_back()
        expect(page.get_by_role("heading", name="Locked")).to_be_visible()
        page.get_by_role("button", name=re.compile("^Rinsed")).first.click()
        expect(page.get_by_role("heading", name="Locked")).to_be_visible()
        for keys in ("9136", "4827"):
            for key in keys:
                page.get_by_role("button", name=key, exact=True).click()
            page.get_by_role("button", name="Open").click()
            if keys == "9136":
                expect(page.get_by_role("alert")).to_contain_text("not their PIN")
        expect(page.locator("[data-running]")).to_be_visible()  # the Clock, where it was

    def test_by_keys_it_locks_itself_and_opens_and_what_was_tapped_meanwhile_is_poured(self) -> None:
        page, visit = self.page, Studio(self.person).poured()
        self.set_a_pin("4827")
        page.goto(f"{self.live_server_url}/chairs/")
        page.get_by_role("button", name="Sound").click()
        page.goto(f"{self.live_server_url}/visits/{visit.pk}/bench/")
        self.await_bench(page)
        page.keyboard.press("b")  # a hand was here
        page.evaluate("() => localStorage.setItem('touched', '0')")  # as if nobody had touched it for hours
        expect(page.get_by_role("heading", name="Locked")).to_be_visible()
        expect(page.get_by_role("button", name="Sound")).to_have_attribute("aria-pressed", "true")  # it goes on calling
        page.keyboard.type("4827")  # the field is in focus
        page.keyboard.press("Enter")
        self.await_bench(page)

    def test_a_second_factor_is_turned_on_and_asked_for(self) -> None:
        page = self.page
        page.goto(f"{self.live_server_url}/you/")
        page.get_by_role("link", name="Turn it on").click()
        page.get_by_role("link", name="Turn it on →").click()
        page.get_by_label("Password").fill(PASSWORD)
        page.get_by_role("button", name="Go on").click()
        secret = page.locator("code.code").inner_text()
        page.get_by_label("Code").fill(code(secret))
        page.get_by_role("button", name="Turn it on").click()
        kept = page.locator("li.code").all_inner_texts()
        self.assertEqual(len(kept), 10)
        self.assert_accessible()
        page.get_by_role("link", name="They are kept").click()
        page.get_by_role("button", name="Sign out").click()
        page.get_by_label("Name").fill("lantern")
        page.get_by_label("Password").fill(PASSWORD)
        page.get_by_role("button", name="Sign in").click()
        self.assert_accessible()
        page.get_by_label("Code").fill(kept[0])
        page.get_by_role("button", name="Sign in").click()
        expect(page.get_by_role("heading", name="Cards")).to_be_visible()
