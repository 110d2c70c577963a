"""Whole visits on grey, long, and once brilliant hair, each from the reading to the kept card."""

import re

from playwright.sync_api import expect

from engine.colorimetry.difference import delta_e00
from studio.cards.models import Formula
from studio.shelf.models import Shade
from studio.visits.models import Visit
from tests.journeys.coat_steps import CoatSteps


class MoreDays(CoatSteps):
    def test_raw_roots_and_old_toned_lengths_meet_in_one_dusty_peach(self) -> None:
        page = self.page
        self.sign_in()
        visit = self.studio.read(level="10", family="natural")
        self.zones(visit, "roots, lengths")
        page.get_by_text("Where it lies").click()
        page.get_by_role("button", name="Length, cm: 65").click()
        expect(page.locator("#id_length_cm")).to_have_value("65")
        page.get_by_role("button", name="Regrowth, cm: 4").click()
        expect(page.locator("#id_regrowth_cm")).to_have_value("4")
        self.old_toner_on_the_lengths()
        self.bench(visit, "lengths")
        self.own_bowl()
        for zone in ("roots", "lengths"):
            self.bench(visit, zone)
            self.hit(66, 24, 50)
        wanted = [self.need_g(visit, zone) for zone in ("roots", "lengths")]
        self.assertGreater(wanted[1], 2 * wanted[0])
        for zone in ("roots", "lengths"):
            self.bench(visit, zone)
            self.pour_bowl()
            self.put_on(zone, "direct", 25)
        root, lengths = self.keep(visit)
        self.assertEqual(lengths.old_name, "Umber")
        for each in (root, lengths):
            self.assertLess(float(delta_e00(lab_of(each), target_of(each))), 2.0)
        self.assertLess(float(delta_e00(lab_of(root), lab_of(lengths))), 2.0)
        expect(page.get_by_role("link", name="Labels")).to_be_visible()

    def old_toner_on_the_lengths(self) -> None:
        page = self.page
        self.read_zone("lengths")
        page.get_by_role("button", name="lightened", exact=True).click()
        expect(page.get_by_role("button", name="lightened", exact=True)).to_have_attribute("aria-pressed", "true")
        umber = Shade.objects.visible_to(self.person).get(name="Umber")
        page.locator("#id_old_shade").select_option(str(umber.pk))
        expect(page.get_by_role("button", name="some", exact=True)).to_have_attribute("aria-pressed", "true")
        page.get_by_role("button", name="trace", exact=True).click()
        expect(page.get_by_role("button", name="trace", exact=True)).to_have_attribute("aria-pressed", "true")

    def need_g(self, visit: Visit, zone: str) -> float:
        """What the Plan says that a zone takes."""
        page = self.page
        self.go_to(f"/visits/{visit.pk}/plan/")
        row = page.locator("tr, li", has_text=re.compile(rf"\b{zone}\b")).filter(has_text=re.compile(r"\d+ g")).first
        return float(re.search(r"(\d+) g", row.inner_text())[1])

    def test_yellowed_grey_takes_two_silvers_in_turns_and_is_never_bleached_first(self) -> None:
        page = self.page
        self.sign_in()
        visit = self.studio.yellowed("Hob Salter")
        self.zones(visit, "panel", "crown")
        for zone, pattern in (("panel", "alternate_a"), ("crown", "alternate_b")):
            self.read_zone(zone)
            page.get_by_text("Where it lies").click()
            page.locator("#id_pattern").select_option(pattern)
            page.locator("#place").get_by_role("button", name="Set it").last.click()
            expect(page.locator("#id_pattern")).to_have_value(pattern)
        for zone, aim in (("crown", (62, 4, 280)), ("panel", (52, 4, 280))):
            self.bench(visit, zone)
            self.own_bowl()
            self.line("demi")
            self.hit(*aim)
            page.get_by_role("link", name="Route", exact=True).click()
            expect(page.locator("[data-way]").first).not_to_contain_text("Lift")
            self.bench(visit, zone)
            page.get_by_role("link", name="Meanwhile").click()
            expect(page.locator(".pastel").nth(1)).to_contain_text("Rinsed and dry it will be")
            page.locator("#leave-panel").click()
            page.get_by_role("link", name="Head", exact=True).click()
            expect(page.locator("#panel .head-strands path").first).to_be_attached()
            page.locator("#leave-panel").click()
            expect(page.locator("#panel")).to_have_count(0)
            self.pour_bowl()
            self.put_on(zone, "demi", 30)
        kept = self.keep(visit)
        self.assertEqual(
            {(each.zone_name, each.pattern) for each in kept}, {("panel", "alternate_a"), ("crown", "alternate_b")}
        )
        self.assertEqual(
            {(float(each.grey), float(each.yellowing), each.family) for each in kept}, {(0.7, 0.5, "natural")}
        )
        self.assertFalse(visit.client.past.filter(work="lift").exists())

    def test_a_brilliant_red_is_toned_down_over_what_is_left_of_it(self) -> None:
        page = self.page
        self.sign_in()
        visit = self.studio.read(level="7", old_k_s="0.8")
        self.go_to(f"/visits/{visit.pk}/read/")
        page.locator("#id_old_shade").select_option("red")
        expect(page.locator("#id_old_shade")).to_have_value("red")
        self.go_to(f"/visits/{visit.pk}/correct/?trouble=tone_down")
        bleach = page.locator(".way", has_text="Bleach wash")
        expect(bleach).to_contain_text("counts as a lift")
        expect(bleach).to_contain_text("Stretch a wet strand")
        page.get_by_role("button", name="It goes back").click()
        expect(bleach).not_to_contain_text("Stretch a wet strand")
        expect(page.locator(".way").first).to_contain_text("costs the hair nothing")
        expect(page.locator(".way .answer-pours").first).to_contain_text(" g ")
        over = (
            page.locator(".way", has=page.get_by_role("heading", name="Colour over it", exact=True)).locator("b").first
        )
        promised = float(over.inner_text())
        page.get_by_role("button", name="To the Bench: Colour over it", exact=True).click()
        self.await_bench(page)
        page.locator("#hit").click()
        page.get_by_role("button", name="Use 1", exact=True).click()
        expect(page.locator("[data-answers]")).to_have_count(0)
        self.pour_bowl()
        self.put_on("whole head", "direct", 25)
        kept = self.keep(visit)
        self.assertEqual(kept[-1].old_name, "red")
        self.assertLess(float(delta_e00(lab_of(kept[-1]), target_of(kept[-1]))), promised + 0.5)
        self.assertFalse(visit.client.past.filter(work="lift").exists())


def lab_of(formula: Formula) -> list[float]:
    """The forecast of a kept formula."""
    return [float(part) for part in (formula.forecast_l, formula.forecast_a, formula.forecast_b)]


def target_of(formula: Formula) -> list[float]:
    """What it was aimed at."""
    return [float(part or 0) for part in (formula.target_l, formula.target_a, formula.target_b)]
