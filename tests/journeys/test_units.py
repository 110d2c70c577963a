"""A house that weighs in ounces: set, poured by steps, keys and scale, and on the card, through the real pages."""

from decimal import Decimal

from playwright.sync_api import expect

from studio.cards.models import Formula
from studio.head.models import Portion
from studio.pour.models import Weighing
from tests.journeys.base import JourneyCase


class Ounces(JourneyCase):
    def test_a_bowl_in_ounces_from_the_house_rules_to_the_card(self) -> None:
        page = self.page
        self.sign_in()
        page.get_by_role("link", name="Chairs", exact=True).click()
        page.get_by_role("link", name="House rules").click()
        page.get_by_label("Weights are in").select_option("oz")
        page.get_by_role("button", name="Keep the rules").click()
        expect(page.get_by_role("status")).to_contain_text("The house's rules are kept.")
        page.get_by_role("link", name="Cards", exact=True).click()
        self.open_bench()

        page.get_by_text("Madder").click()
        more, amount = page.get_by_role("button", name="0.05 oz more"), page.get_by_label("Amount of Madder")
        expect(more).to_have_text("+.05")
        more.click()
        expect(amount).to_have_value("0.050")
        page.keyboard.press("Shift+ArrowUp")
        expect(amount).to_have_value("0.055")
        page.get_by_role("button", name="0.005 oz less").click()
        expect(amount).to_have_value("0.050")
        amount.fill("0.1")
        page.get_by_role("button", name="Set", exact=True).click()
        expect(page.locator(".bowl-pours")).to_contain_text("0.100 oz Madder")
        page.get_by_label("Amount wanted").fill("2")
        page.get_by_label("Amount wanted").press("Enter")
        page.get_by_role("button", name="Make 2 oz").click()
        expect(page.locator(".bowl-figures")).to_contain_text("2.00 oz")
        held = Portion.objects.get(shade__name="Madder", bowl__worktop__visit__client__name="Maud Okonjo-Hale")
        self.assertAlmostEqual(held.grams, Decimal("56.70"), delta=Decimal("0.05"))
        self.assert_accessible()

        page.get_by_role("link", name="Pour →").click()
        page.locator("summary", has_text="Simulated scale").click()
        page.get_by_role("button", name="0.353 oz").click()
        expect(page.locator("#scale")).to_contain_text("0.353 oz at rest")
        page.get_by_role("button", name="Add from the scale").click()
        expect(page.locator(".pour-wanted")).to_contain_text("0.353 oz are in")
        page.get_by_role("button", name="Add 1.65 oz").click()
        expect(page.locator(".pour-name")).to_have_text("All in")
        poured = sum(Weighing.objects.values_list("poured_g", flat=True))
        self.assertAlmostEqual(poured, held.grams, delta=Decimal("0.05"))
        page.get_by_role("button", name="It is mixed").click()
        expect(page.locator(".pour-wanted")).to_contain_text("2.00 oz")

        page.go_back()
        self.open_bench_again()
        page.get_by_role("button", name="Keep", exact=True).click()
        expect(page.get_by_role("status")).to_contain_text("Kept on the card")
        expect(page.locator("main")).to_contain_text("2.00 oz Madder")
        formula = Formula.objects.order_by("-id").first()
        self.assertAlmostEqual(formula.pours.get().grams, held.grams, delta=Decimal("0.05"))

    def open_bench_again(self) -> None:
        self.page.get_by_role("link", name="Bench", exact=True).click()
        self.await_bench(self.page)
