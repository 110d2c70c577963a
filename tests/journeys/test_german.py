"""A colourist who reads German: what pages and their scripts say, from the door to weighed grams, by pointer."""

import re

from django.urls import reverse
from playwright.sync_api import expect

from tests.journeys.base import JourneyCase
from tests.journeys.states import Studio


class German(JourneyCase):
    def setUp(self) -> None:
        super().setUp()
        self.sign_in()
        self.page.goto(f"{self.live_server_url}{reverse('you')}")
        self.page.get_by_label("You read").select_option("Deutsch")
        self.page.get_by_role("button", name="Set", exact=True).click()
        expect(self.page.get_by_text("Du liest")).to_be_visible()
        self.assertEqual(self.page.locator("html").get_attribute("lang"), "de")

    def go(self, name: str, visit_id: int) -> None:
        self.page.goto(f"{self.live_server_url}{reverse(name, args=[visit_id])}")

    def test_from_the_chair_to_the_bowl_in_german(self) -> None:
        page, visit = self.page, Studio(self.person).read()
        self.go("bench:bench", visit.pk)
        expect(page.get_by_role("heading", name="Die Schale ist leer")).to_be_visible()
        self.assert_accessible()
        page.get_by_role("link", name="Ziel", exact=True).last.click()
        page.locator("#plane").click(position={"x": 300, "y": 160})
        expect(page.locator("#lock-aim use").first).to_be_attached()
        self.assertRegex(page.locator("#id_hue").input_value(), r"^\d+,\d$")  # as a tap fills it in
        page.get_by_label("Tiefe", exact=True).fill("62,5")
        page.get_by_role("button", name="Hierhin zielen").click()
        expect(page.locator("#id_lightness")).to_have_value(re.compile("^62,5"))
        page.get_by_role("link", name=re.compile("^Rad")).click()
        page.get_by_role("button", name=re.compile("^1, 1 Gramm Weld")).click()
        expect(page.get_by_label("Gramm von Weld")).to_have_value("1,0")
        page.get_by_role("button", name="0,1 Gramm mehr").click()
        expect(page.locator(".bowl-pours")).to_contain_text("1,1 g Weld")
        page.locator("#id_washes").fill("3")
        expect(page.locator("#washes-said")).to_have_text("3 Wäschen")
        page.get_by_role("link", name=re.compile("^Wiegen")).last.click()
        scale = page.locator("[data-scale]")
        expect(scale).to_contain_text("in Ruhe")
        page.get_by_text("Simulierte Waage").click()
        page.get_by_role("button", name="alles davon").click()
        expect(scale).to_contain_text("1,1")
        page.get_by_role("button", name=re.compile("^Von der Waage zugeben")).click()
        expect(page.get_by_text("Alles darin")).to_be_visible()
        self.assert_accessible()

    def test_what_did_not_come_and_what_waits_says_so_in_german(self) -> None:
        page = self.page
        visit, _ = Studio(self.person).kept()
        page.route("**/care/mask/**", lambda route: route.abort())
        self.go("result:care", visit.pk)
        expect(page.get_by_text("Die Maske: das kam nicht.")).to_be_visible()
        expect(page.get_by_role("button", name="Noch einmal fragen")).to_be_visible()
        self.go("bench:bench", Studio(self.person).read("Wren Tallow").pk)
        page.context.set_offline(True)
        page.get_by_role("button", name="1 Gramm mehr", exact=True).click()
        expect(page.get_by_text("+1 g warten")).to_be_visible()
        expect(page.get_by_text("Die Verbindung ist weg.")).to_be_visible()
        page.context.set_offline(False)
        expect(page.locator(".bowl-pours")).to_contain_text("1,0 g")
