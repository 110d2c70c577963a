"""Two tablets on one head, hands without a mouse, and a connection that goes away."""

import re

from playwright.sync_api import Page, expect

from studio.clocks.models import ZoneClock
from studio.pour.models import Weighing
from tests.journeys.base import JourneyCase
from tests.journeys.states import Studio


class TwoTablets(JourneyCase):
    def at_pour(self) -> str:
        """Ilka's bowl on the Pour page; its address."""
        self.sign_in()
        self.page.get_by_role("link", name="Ilka Brandt").click()
        self.page.get_by_role("button", name="Repeat today").first.click()
        self.await_bench(self.page)
        self.page.get_by_role("link", name="Pour", exact=True).click()
        expect(self.page.locator(".pour-name")).to_have_text("Orchil")
        return self.page.url

    def note(self, page: Page, grams: str) -> None:
        page.locator("#id_grams").fill(grams)
        page.get_by_role("button", name="Add", exact=True).click()

    def test_what_one_pours_the_other_is_told_of_and_nothing_is_poured_twice(self) -> None:
        address = self.at_pour()
        other = self.new_page()
        other.goto(address)
        expect(other.locator(".pour-name")).to_have_text("Orchil")
        self.note(self.page, "3.2")
        expect(self.page.locator(".pour-name")).to_have_text("Clear")
        self.note(other, "3.2")
        expect(other.get_by_role("alert")).to_contain_text("changed in another window")
        expect(other.locator(".pour-name")).to_have_text("Clear")
        self.assertEqual(Weighing.objects.count(), 1)

    def test_a_clock_that_one_starts_the_other_sees(self) -> None:
        address = re.sub(r"/pour/.*", "/clock/", self.at_pour())
        other = self.new_page()
        for page in (self.page, other):
            page.goto(address)
            expect(page.get_by_role("button", name="Start whole head")).to_be_visible()
        self.page.get_by_role("button", name="Start whole head").click()
        expect(self.page.locator(".clock-time")).to_be_visible()
        other.get_by_role("button", name="Start whole head").click()
        expect(other.locator(".clock-time")).to_be_visible()
        self.assertEqual(ZoneClock.objects.count(), 1)
        self.page.get_by_role("button", name="Rinsed: whole head").click()
        expect(self.page.get_by_role("button", name="Start whole head")).to_be_visible()
        other.evaluate("document.querySelector('#main').dispatchEvent(new Event('due'))")
        expect(other.get_by_role("button", name="Start whole head")).to_be_visible()

    def test_a_hand_on_the_keyboard_goes_on_where_the_pressed_button_was(self) -> None:
        address = re.sub(r"/pour/.*", "/clock/", self.at_pour())
        page = self.page
        page.goto(address)
        start = page.get_by_role("button", name="Start whole head")
        start.focus()
        page.keyboard.press("Enter")
        expect(page.locator(".clock-time")).to_be_visible()
        expect(page.locator(".clock-grid :focus")).to_be_visible()
        page.get_by_role("button", name="Rinsed: whole head").focus()
        page.keyboard.press("Enter")
        expect(start).to_be_visible()
        expect(page.locator(".clock-grid :focus")).to_be_visible()
        page.goto(address.replace("/clock/", "/pour/"))
        page.locator("#id_grams").fill("3.2")
        page.get_by_role("button", name="Add", exact=True).focus()
        page.keyboard.press("Enter")
        expect(page.locator(".pour-name")).to_have_text("Clear")
        expect(page.locator("#main :focus")).to_be_visible()

    def test_what_is_being_typed_survives_a_page_that_brings_itself_up_to_date(self) -> None:
        address = re.sub(r"/pour/.*", "/clock/", self.at_pour())
        self.page.goto(address)
        self.page.locator("select[name=kind]").select_option("mask")
        self.page.locator("input.field[name=minutes]").fill("7")
        with self.page.expect_response(lambda answer: "/clock/" in answer.url):
            self.page.evaluate("document.querySelector('#main').dispatchEvent(new Event('due'))")
        expect(self.page.locator("input.field[name=minutes]")).to_have_value("7")
        expect(self.page.locator("select[name=kind]")).to_have_value("mask")

    def test_a_bowl_is_poured_and_timed_without_a_mouse(self) -> None:
        page = self.page
        self.at_pour()
        for name in ("Orchil", "Clear"):
            expect(page.locator(".pour-name")).to_have_text(name)
            self.tab_to(lambda focused: focused["id"] == "id_grams")
            page.keyboard.type(page.locator("[name=as_asked]").get_attribute("value") or "")
            page.keyboard.press("Enter")
            expect(page.locator(".pour-name")).not_to_have_text(name)
        self.tab_to(lambda focused: focused["text"].startswith("It is mixed"))
        page.keyboard.press("Enter")
        expect(page.locator(".pour-name")).to_have_text("Mixed")
        self.tab_to(lambda focused: focused["text"].startswith("To the Clock"))
        page.keyboard.press("Enter")
        expect(page.get_by_role("heading", name="Clock")).to_be_visible()
        self.tab_to(lambda focused: focused["label"] == "Start whole head")
        page.keyboard.press("Enter")
        expect(page.locator(".clock-time")).to_be_visible()

    def test_a_clock_goes_on_ticking_and_calls_while_the_connection_is_away(self) -> None:
        address = re.sub(r"/pour/.*", "/clock/", self.at_pour())
        self.page.goto(address)
        self.page.get_by_role("button", name="Start whole head").click()
        expect(self.page.locator(".clock-time")).to_be_visible()
        self.context.set_offline(True)
        shown = self.page.locator(".clock-time").inner_text()
        expect(self.page.locator(".clock-time")).not_to_have_text(shown)
        self.context.set_offline(False)
        self.page.get_by_role("button", name="Rinsed: whole head").click()
        expect(self.page.get_by_role("button", name="Start whole head")).to_be_visible()
        self.assertIsNotNone(ZoneClock.objects.get().rinsed_at)

    def test_what_is_noted_without_a_connection_is_sent_when_it_is_back_and_counts_once(self) -> None:
        page = self.page
        self.at_pour()
        self.context.set_offline(True)
        self.note(page, "3.2")
        expect(page.locator("#outbox")).to_be_visible()
        self.assertEqual(Weighing.objects.count(), 0)
        self.context.set_offline(False)
        expect(page.locator(".pour-name")).to_have_text("Clear")
        expect(page.locator("#outbox")).to_be_hidden()
        self.assertEqual(Weighing.objects.count(), 1)

    def test_a_link_waits_for_a_tap_that_is_on_its_way(self) -> None:
        page = self.page
        self.at_pour()
        page.locator("#id_grams").fill("3.2")
        page.route("**/pour/weigh/", lambda route: (page.wait_for_timeout(400), route.continue_()))
        page.get_by_role("button", name="Add", exact=True).click()
        page.get_by_role("link", name="Bench", exact=True).click()
        self.await_bench(page)
        self.assertEqual(Weighing.objects.count(), 1)

    def test_a_link_pressed_while_zones_are_set_leads_to_one_that_is_there(self) -> None:
        """A quick hand parts the head and goes on before the answer is there."""
        page = self.page
        self.sign_in()
        visit = Studio(self.person).read()
        whole = visit.zones.get().pk
        for link in ("Bench", "Choose the aim →"):
            with self.subTest(link=link):
                visit.zones.exclude(pk=whole).delete()
                visit.zones.update(removed=False)
                self.go_to(f"/visits/{visit.pk}/read/")
                page.route("**/zones/**", lambda route: (page.wait_for_timeout(400), route.continue_()))
                page.locator("summary", has_text="Zones").first.click()
                page.get_by_role("button", name="roots, lengths", exact=True).click()
                page.get_by_role("link", name=link, exact=True).first.click()
                self.await_bench(page)
                self.assertNotIn(f"zone={whole}", page.url)
                expect(page.get_by_text("no longer on this head")).to_have_count(0)
