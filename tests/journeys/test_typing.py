"""What is typed, ticked or opened while an answer or the page's own scripts are still on their way."""

import datetime
import re
from decimal import Decimal

from django.urls import reverse
from playwright.sync_api import Route, expect

from studio.clients.models import Client
from studio.visits.models import Consult, Reading
from tests.journeys.states import Studio
from tests.journeys.troubled import Troubled


class Typing(Troubled):
    def test_what_is_typed_on_consult_stays_while_an_add_is_answered(self) -> None:
        self.page.get_by_role("link", name="Maud Okonjo-Hale").click()
        self.page.get_by_role("button", name="today's visit").click()
        self.slowly(self.page)
        self.page.locator("#id_done_on").fill("2026-01-05")
        self.page.get_by_role("button", name="Add", exact=True).click()
        wish = self.page.get_by_label("Their wish")
        wish.press_sequentially("like the quay at dusk")
        self.let_go(self.page)
        expect(self.page.locator(".past").first).to_contain_text("5 Jan 2026")
        expect(wish).to_have_value("like the quay at dusk")
        wish.blur()
        expect(self.page.locator("#consult-version")).not_to_have_value("0")
        self.assertEqual(Consult.objects.get(visit__client__name="Maud Okonjo-Hale").wish, "like the quay at dusk")

    def test_what_is_typed_at_a_gate_stays_when_its_gates_are_asked_for_again(self) -> None:
        person = self.person
        person.licensed = True
        person.save()
        visit = Studio(person).untested()
        self.go_to(reverse("clocks:clock", args=[visit.pk]))
        page = self.page
        self.hold(page, lambda route: "/clock/gates/" in route.request.url)
        page.locator("select[name=kind]").first.select_option("lightener")
        gate = page.locator("[data-gate=sensitivity_test]").first
        reason = gate.get_by_label("Reason, if you sign")
        reason.press_sequentially("her doctor's paper")
        self.let_go(page)
        expect(gate).to_contain_text("Lightener")
        expect(reason).to_have_value("her doctor's paper")
        expect(reason).to_be_focused()
        gate.get_by_role("button", name="Sign").click()
        expect(gate).to_contain_text("her doctor's paper")
        expect(page.locator("select[name=kind]").first).to_have_value("lightener")

    def test_a_start_that_is_pressed_out_of_its_minutes_counts(self) -> None:
        """The gates are asked for as the minutes are left, and come while the finger is down."""
        visit = Studio(self.person).poured()
        self.go_to(reverse("clocks:clock", args=[visit.pk]))
        page = self.page
        page.get_by_label("Minutes").first.fill("600")
        box = page.get_by_role("button", name=re.compile("^Start")).first.bounding_box()
        page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
        self.hold(page, lambda route: "/clock/gates/" in route.request.url)
        with page.expect_request("**/clock/gates/**"):
            page.mouse.down()
        with page.expect_response("**/clock/gates/**"):
            self.let_go(page)
        page.wait_for_timeout(200)
        self.assertEqual(page.locator("[data-gate=past_pack_time]").count(), 0)  # nothing moves under it
        page.mouse.up()
        expect(page.locator(".clock-time, [data-gate=past_pack_time]").first).to_be_visible()

    def test_a_form_that_is_sent_before_the_page_listens_takes_nothing_along(self) -> None:
        def is_slow(route: Route) -> bool:
            return route.request.method == "POST" or self.is_late_script(route)

        self.page.get_by_role("link", name="Maud Okonjo-Hale").click()
        self.page.get_by_role("button", name="today's visit").click()
        expect(self.page.locator("#consult-version")).to_be_attached()
        self.hold(self.page, is_slow)
        self.page.goto(self.page.url, wait_until="commit")
        self.page.locator("#id_done_on").fill("2026-01-05")
        self.page.get_by_role("button", name="Add", exact=True).evaluate(
            "button => button.click()"
        )  # waits for nothing
        wish = self.page.get_by_label("Their wish")
        wish.press_sequentially("like the quay at dusk")
        self.let_go(self.page)
        expect(self.page.locator(".past").first).to_contain_text("5 Jan 2026")
        expect(wish).to_have_value("like the quay at dusk")

    def test_a_birthday_is_sent_once_its_year_is_whole(self) -> None:
        self.page.get_by_role("link", name="Maud Okonjo-Hale").click()
        self.page.get_by_role("button", name="today's visit").click()
        expect(self.page.locator("#consult-version")).to_be_attached()
        sent: list[str] = []
        self.page.on("request", lambda request: sent.append(request.url) if request.method == "POST" else None)
        born = self.page.get_by_label("Born on")
        born.press_sequentially("03021961")
        expect(born).to_have_value("1961-03-02")
        born.blur()
        expect(self.page.locator("#consult-version")).not_to_have_value("0")
        self.assertEqual(Client.objects.get(name="Maud Okonjo-Hale").born_on, datetime.date(1961, 3, 2))
        self.assertEqual(len(sent), 1)
        expect(self.page.locator("main [role=alert]")).to_have_count(0)

    def test_what_went_home_stays_when_washes_are_changed_just_before(self) -> None:
        self.open_bench()
        self.page.keyboard.press("6")
        self.page.keyboard.press("ArrowUp")
        self.expect_grams(self.page, "Orchil", "1.0")
        self.page.get_by_role("link", name="Care", exact=True).click()
        self.slowly(self.page)
        self.fill_in_care()

    def fill_in_care(self) -> None:
        """Washes, then what went home; what was held back is let go, and both stand there."""
        self.page.get_by_label("Washes a week").fill("4")
        given = self.page.get_by_label("What went home")
        given.press_sequentially("mask, 60 g")
        self.let_go(self.page)
        expect(self.page.get_by_label("Washes a week")).to_have_attribute("value", "4")
        expect(given).to_have_value("mask, 60 g")

    def test_what_is_done_before_the_page_listens_counts(self) -> None:
        self.open_bench()
        self.hold(self.page, self.is_late_script)
        self.page.get_by_role("link", name="Care", exact=True).click()
        self.fill_in_care()

    def test_what_is_looked_for_before_the_page_listens_is_found(self) -> None:
        self.hold(self.page, self.is_late_script)
        self.page.goto(self.live_server_url, wait_until="commit")
        self.page.get_by_role("searchbox").press_sequentially("Maud")
        self.let_go(self.page)
        expect(self.page.get_by_role("link", name="Ilka Brandt")).to_have_count(0)
        expect(self.page.get_by_role("link", name="Maud Okonjo-Hale")).to_be_visible()

    def test_a_panel_that_was_opened_stays_open_while_an_answer_arrives(self) -> None:
        self.page.get_by_role("link", name="Maud Okonjo-Hale").click()
        self.start_visit()
        self.slowly(self.page)
        self.page.get_by_role("button", name="Level 8,").click()
        self.page.locator("#colour-reader summary").click()
        self.page.get_by_label("Lock of level").select_option("7")
        self.let_go(self.page)
        expect(self.page.get_by_role("button", name="Level 8,")).to_have_attribute("aria-pressed", "true")
        expect(self.page.locator("#colour-reader")).to_have_attribute("open", "")
        expect(self.page.get_by_label("Lock of level")).to_have_value("7")
        self.page.get_by_role("button", name="Take 5 readings").click()
        expect(self.page.get_by_role("region", name="What was read")).to_be_visible()

    def test_taps_on_read_that_come_fast_all_count(self) -> None:
        self.page.get_by_role("link", name="Maud Okonjo-Hale").click()
        self.start_visit()
        for name in ("Level 8,", "Warmth warm", "natural", "porous"):
            self.page.get_by_role("button", name=name, exact=not name.endswith(",")).click()
        expect(self.page.get_by_role("button", name="porous", exact=True)).to_have_attribute("aria-pressed", "true")
        client = Client.objects.get(name="Maud Okonjo-Hale")
        newest = Reading.objects.filter(zone__visit__client=client).order_by("-zone__visit__day", "-number").first()
        self.assertEqual(
            (newest.level, newest.warmth, newest.family, newest.porosity), (8, 1, "natural", Decimal("1.3"))
        )
