"""Visits in coats through the real interface, each from the bowl to the kept card."""

from playwright.sync_api import expect

from studio.cards.models import Formula
from studio.head.models import Coat
from studio.head.services.zones import add_to_head
from studio.visits.models import Visit
from tests.journeys.coat_steps import CoatSteps


class InCoats(CoatSteps):
    def test_a_panel_is_lifted_and_coloured_while_the_rest_is_filled(self) -> None:
        self.sign_in()
        visit = self.studio.read(level="9")
        self.natural_panel(visit)
        self.lightener_on_the_panel(visit)
        self.bench(visit, "whole head")
        self.add("fill")
        self.hit(48, 40, 60)
        self.pour_bowl()
        self.put_on("whole head", "fill", 20)
        self.blue_on_what_was_lifted(visit)
        self.bench(visit, "whole head")
        self.take("Colour")
        self.hit(28, 20, 40)
        self.pour_bowl()
        self.put_on("whole head", "direct", 30)
        self.on_the_card(visit)

    def test_a_line_of_the_panel_changes_its_own_coat_whichever_is_in_hand(self) -> None:
        page = self.page
        self.sign_in()
        visit = self.studio.in_coats()  # a lift that is on, colour, and a glaze in hand; then a seal
        self.bench(visit)
        self.take("Glaze")
        page.locator("#open-coats").click()
        lines = page.locator(".coat-line b")
        page.get_by_role("button", name="Seal earlier").click()
        expect(lines.nth(2)).to_have_text("Seal")
        expect(lines.nth(3)).to_have_text("Glaze, in hand")
        seal = page.locator(".plain-form")
        seal.get_by_label("Product").fill("Quay rinse")
        seal.get_by_label("Amount, g").fill("12")
        seal.get_by_label("Minutes").fill("2")
        seal.get_by_role("button", name="Set").click()
        expect(seal.get_by_label("Product")).to_have_value("Quay rinse")
        expect(lines.nth(3)).to_have_text("Glaze, in hand")
        page.get_by_role("button", name="Colour later").click()
        expect(lines.nth(1)).to_have_text("Seal")
        page.get_by_role("button", name="Remove Seal").click()
        expect(lines).to_have_count(3)
        expect(page.locator(".plain-form")).to_have_count(0)
        expect(lines.nth(2)).to_have_text("Glaze, in hand")
        page.get_by_role("button", name="Remove Glaze").click()
        expect(lines).to_have_count(2)
        expect(page.locator(".coat-line b", has_text="in hand")).to_have_text("Colour, in hand")

    def test_two_tablets_that_reorder_coats_at_once_move_one_and_the_other_is_told(self) -> None:
        self.sign_in()
        visit = self.studio.in_coats()
        other = self.new_page()
        for page in (self.page, other):
            page.goto(f"{self.live_server_url}/visits/{visit.pk}/bench/?coats=1")
            expect(page.locator(".coat-line b")).to_have_count(4)
        self.page.get_by_role("button", name="Seal earlier").click()
        expect(self.page.locator(".coat-line b").nth(2)).to_contain_text("Seal")
        other.get_by_role("button", name="Glaze earlier").click()
        expect(other.get_by_role("alert").first).to_contain_text("changed in another window")
        expect(other.locator(".coat-line b").nth(2)).to_contain_text("Seal")
        order = [coat.purpose for coat in Coat.objects.filter(zone=self.studio.zone(visit), removed=False)]
        self.assertEqual(order, ["lift", "colour", "seal", "glaze"])
        other.get_by_role("button", name="Glaze earlier").click()  # now from what it sees
        expect(other.locator(".coat-line b").nth(2)).to_contain_text("Glaze")

    def test_a_second_zone_joins_the_first_for_its_last_ten_minutes(self) -> None:
        page = self.page
        self.sign_in()
        visit = self.studio.poured("Rua Selkirk")
        hand = {"zone_id": self.studio.zone(visit), "version": self.studio.version(visit)}
        add_to_head(self.person, **hand, name="", part="nape")
        self.go_to(f"/visits/{visit.pk}/plan/")
        rows = page.locator(".plan-order > li")
        nape = rows.filter(has_text="Colour, nape")
        nape.locator("summary").click()
        nape.get_by_label("Goes on beside").select_option(label="colour on whole head")
        nape.get_by_label("On the hair").fill("10")
        nape.get_by_role("button", name="Set", exact=True).click()
        expect(nape.locator("summary")).to_contain_text("on for 10, joins colour on whole head")
        self.go_to(f"/visits/{visit.pk}/clock/")
        page.get_by_role("button", name="Start whole head").click()
        running = page.locator(".clock-card").filter(has_text="whole head").first
        expect(running).to_contain_text("put it on nape, too in")

    def natural_panel(self, visit: Visit) -> None:
        page = self.page
        self.bench(visit)
        page.locator("#open-zones").click()
        page.get_by_role("button", name="Add zone").click()
        expect(page.locator(".zone-tab[aria-current=true]")).to_contain_text("panel")
        page.get_by_role("link", name="Read its hair").click()
        page.get_by_role("button", name="natural", exact=True).click()
        expect(page.get_by_role("button", name="natural", exact=True)).to_have_attribute("aria-pressed", "true")
        page.get_by_role("button", name="Level 6,").click()
        expect(page.get_by_role("button", name="Level 6,")).to_have_attribute("aria-pressed", "true")

    def lightener_on_the_panel(self, visit: Visit) -> None:
        page = self.page
        self.bench(visit, "panel")
        self.add("lift")
        self.assert_accessible()
        self.lift_to(10, "30")
        self.pour_bowl()
        self.take("Colour")
        page.locator("#open-zones").click()
        page.get_by_role("button", name="A bowl of its own").click()
        expect(page.get_by_role("button", name="A bowl of its own")).to_have_count(0)
        page.keyboard.press("Escape")
        expect(page.locator("#panel")).to_have_count(0)
        self.hit(45, 30, 265)

    def blue_on_what_was_lifted(self, visit: Visit) -> None:
        page = self.page
        self.put_on("panel", "lightener", 35)
        page.get_by_role("link", name="Read the lifted hair").click()
        page.get_by_role("button", name="Level 9,").click()
        expect(page.get_by_role("button", name="Level 9,")).to_have_attribute("aria-pressed", "true")
        self.bench(visit, "panel")
        self.take("Colour")
        expect(page.locator(".booth-locks")).to_contain_text("level 9")
        self.pour_bowl()
        self.put_on("panel", "direct", 25)

    def on_the_card(self, visit: Visit) -> None:
        page = self.page
        self.bench(visit)
        page.locator("#open-coats").click()
        self.assert_accessible()
        page.keyboard.press("Escape")
        page.get_by_role("button", name="Keep", exact=True).click()
        expect(page.locator(".formula")).to_have_count(4)
        kept = Formula.objects.filter(visit=visit).order_by("zone_name", "coat_number")
        seen = [(each.zone_name, each.purpose, float(each.level), round(each.process_min or 0)) for each in kept]
        lifted = [("panel", "lift", 6, 35), ("panel", "colour", 9, 25)]
        self.assertEqual(seen, [*lifted, ("whole head", "fill", 9, 20), ("whole head", "colour", 9, 30)])
        self.assertTrue(kept[3].laid, "the fill lies beneath the colour")
