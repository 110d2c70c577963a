"""A colourist who reads German: what pages and their scripts say, from the door to weighed grams, by pointer."""

import re

from django.urls import reverse
from playwright.sync_api import expect

from engine.service.roles import Role
from studio.accounts.models import Person
from tests.demo import PASSWORD
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
        page.get_by_role("button", name=re.compile("^1, 1 g Weld")).click()
        expect(page.get_by_label("Menge von Weld")).to_have_value("1,0")
        page.get_by_role("button", name="0,1 g mehr").click()
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
        page.get_by_role("button", name="1 g mehr", exact=True).click()
        expect(page.get_by_text("+1 g warten")).to_be_visible()
        expect(page.get_by_text("Die Verbindung ist weg.")).to_be_visible()
        page.context.set_offline(False)
        expect(page.locator(".bowl-pours")).to_contain_text("1,0 g")

    def be(self, role: Role) -> None:
        """Work as what one is, from the next page on."""
        self.person.refresh_from_db()
        self.person.role, self.person.licensed = role, role is Role.OWNER
        self.person.save()

    def test_each_role_is_led_and_stopped_in_german(self) -> None:
        page, visit = self.page, Studio(self.person).untested()
        licensed = Person.objects.create_user(
            "maeve", password=PASSWORD, studio=self.person.studio, role=Role.COLOURIST
        )
        licensed.licensed, licensed.first_name = True, "Maeve"
        licensed.save()
        page.goto(f"{self.live_server_url}{reverse('people:people')}")
        page.get_by_label("Jemand Neues, als").select_option("desk")
        page.get_by_role("button", name="Den Link machen").click()
        expect(page.get_by_label(re.compile("kommen soll"))).to_have_value(re.compile("^http"))

        self.be(Role.APPRENTICE)
        self.go("clocks:clock", visit.pk)
        expect(page.get_by_role("link", name="Leute")).to_have_count(0)
        page.locator("select[name=kind]").first.select_option("lightener")
        page.get_by_role("link", name=re.compile("^Halt: ")).first.click()
        gate = page.locator("[data-gate=sensitivity_test]")
        expect(gate).to_contain_text("Blondierung")  # of what it is to be signed, and not of what was due
        gate.get_by_label("Eine Hand mit Lizenz unterschreibt").select_option(label="Maeve")
        gate.get_by_label("Grund").fill("der Befund liegt in der Mappe")
        for word in ("geraten", PASSWORD):
            gate.get_by_label("mit ihrem Passwort").fill(word)
            gate.get_by_role("button", name="Unterschreiben").click()
            if word != PASSWORD:
                expect(page.get_by_role("alert").first).to_contain_text("nicht das Passwort der Person")
        expect(gate).to_contain_text("Maeve: der Befund")

        self.be(Role.DESK)
        self.go("bench:bench", visit.pk)
        expect(page.get_by_role("heading", name="Das wurde nicht gemacht")).to_be_visible()
        expect(page.get_by_role("alert").first).to_contain_text("an einem Platz arbeiten")
        page.get_by_role("link", name="Karten", exact=True).first.click()
        page.get_by_role("link", name="Maud Okonjo-Hale").click()
        expect(page.get_by_role("heading", name="Maud Okonjo-Hale")).to_be_visible()
        expect(page.get_by_text("Empfindlich gegen")).to_have_count(0)
        self.assert_accessible()
