"""Visits in coats through the real interface, each from the bowl to the kept card."""

from playwright.sync_api import expect

from studio.cards.models import Formula
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
        seal.get_by_label("Grams").fill("12")
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
        page.get_by_role("button", name="Save to card").click()
        expect(page.locator(".formula")).to_have_count(4)
        kept = Formula.objects.filter(visit=visit).order_by("zone_name", "coat_number")
        seen = [(each.zone_name, each.purpose, float(each.level), round(each.process_min or 0)) for each in kept]
        lifted = [("panel", "lift", 6, 35), ("panel", "colour", 9, 25)]
        self.assertEqual(seen, [*lifted, ("whole head", "fill", 9, 20), ("whole head", "colour", 9, 30)])
        self.assertTrue(kept[3].laid, "the fill lies beneath the colour")
