"""From the door to the card and back the next day, through the real interface."""

import re

from playwright.sync_api import expect

from studio.cards.models import Formula
from studio.head.models import Portion
from studio.visits.models import Visit
from tests.demo import PASSWORD
from tests.journeys.base import JourneyCase


class ByHand(JourneyCase):
    def test_a_first_colour_from_the_door_to_the_card_and_repeated(self) -> None:
        page = self.page
        self.sign_in_by_hand()
        self.assert_accessible()
        page.get_by_role("link", name="Maud Okonjo-Hale").click()
        self.start_visit()

        page.get_by_role("button", name="Level 9, yellow").click()
        expect(page.get_by_role("button", name="Level 9, yellow")).to_have_attribute("aria-pressed", "true")
        page.get_by_role("button", name="porous").click()
        expect(page.get_by_label("Porosity")).to_have_value("1.3")
        page.get_by_label("Level", exact=True).fill("9.5")
        page.get_by_label("Warmth", exact=True).focus()
        expect(page.get_by_text("Level 9.5")).to_be_visible()
        self.assert_accessible()
        page.get_by_role("link", name="To the Bench").click()
        self.await_bench(page)

        page.locator("#plane").click(position={"x": 300, "y": 160})
        expect(page.locator("#lock-aim use").first).to_be_attached()
        before = self.forecast_colours()
        page.get_by_text("Madder").click()
        page.get_by_role("button", name="1 g more", exact=True).click()
        expect(page.get_by_label("Amount of Madder")).to_have_value("1.0")
        self.assertNotEqual(self.forecast_colours(), before)
        self.assert_accessible()

        page.get_by_label("Note", exact=True).fill("first time: gently")
        page.get_by_role("button", name="1 g less", exact=True).click()
        expect(page.get_by_label("Amount of Madder")).to_have_value("")

        page.get_by_role("link", name="Hit").click()
        page.get_by_role("button", name="Use 1").click()
        expect(page.locator("[data-answers]")).to_have_count(0)
        mauds = Portion.objects.filter(bowl__worktop__visit__client__name="Maud Okonjo-Hale")
        poured = dict(mauds.values_list("shade__name", "grams"))
        self.assertAlmostEqual(float(sum(poured.values())), 60)
        page.get_by_role("button", name="Keep", exact=True).click()

        expect(page.get_by_role("status")).to_contain_text("Kept on the card")
        formula = Formula.objects.order_by("-id").first()
        self.assertEqual(dict(formula.pours.values_list("shade_name", "grams")), poured)
        self.assertEqual(formula.note, "first time: gently")
        self.assert_accessible()

        page.get_by_role("link", name="Cards").click()
        page.get_by_role("searchbox").fill("maud")
        expect(page.locator("#cards li")).to_have_count(1)
        Visit.objects.filter(pk=formula.visit_id).update(day="2026-01-05")
        page.get_by_role("link", name="Maud Okonjo-Hale").click()
        page.get_by_role("button", name=re.compile("^Repeat today")).first.click()
        expect(page.locator("[data-bench]")).to_be_visible()
        again = Visit.objects.order_by("-day").first()
        self.assertNotEqual(again.pk, formula.visit_id)
        self.assertEqual(dict(again.worktop.bowls.get().pours.values_list("shade__name", "grams")), poured)

    def test_depth_is_set_on_the_ladder_and_undo_takes_it_back(self) -> None:
        self.sign_in()
        self.open_bench()
        self.aim(60, 20, 10)
        box = self.page.locator("#depth").bounding_box()
        self.page.mouse.click(box["x"] + box["width"] * 0.65, box["y"] + box["height"] * 0.85)
        expect(self.page.get_by_label("Depth", exact=True)).not_to_have_value("60.0")
        self.assertLess(float(self.page.get_by_label("Depth", exact=True).input_value()), 35)
        self.page.locator("#undo").click()
        expect(self.page.get_by_label("Depth", exact=True)).to_have_value("60.0")

    def test_what_was_typed_wrongly_stays_beside_its_message(self) -> None:
        self.sign_in()
        self.open_bench()
        grams = self.page.locator("#id_grams")
        grams.fill("-4")
        grams.press("Enter")
        expect(self.page.get_by_role("alert").filter(has_text="negative")).to_be_visible()
        expect(grams).to_have_value("-4")
        grams.fill("4")
        grams.press("Enter")
        expect(self.page.get_by_text("negative")).to_have_count(0)
        expect(self.page.locator("#bowl")).to_contain_text("4.0 g")

    def test_two_tabs_on_one_bowl_the_second_is_told_and_nothing_is_lost(self) -> None:
        self.sign_in()
        self.open_bench()
        other = self.new_page()
        other.goto(self.page.url)
        self.await_bench(other)
        self.page.keyboard.press("4")
        self.page.keyboard.press("ArrowUp")
        expect(self.page.locator("#bowl")).to_contain_text("1.0 g Madder")
        other.keyboard.press("1")
        other.keyboard.press("ArrowUp")
        expect(other.get_by_role("alert").filter(has_text="another window")).to_be_visible()
        expect(other.locator("#bowl")).to_contain_text("1.0 g Madder")
        other.keyboard.press("ArrowUp")
        expect(other.locator("#bowl")).to_contain_text("1.0 g Weld")
        self.assertEqual(Portion.objects.filter(bowl__worktop__visit__client__name="Maud Okonjo-Hale").count(), 2)


class ByKeyboard(JourneyCase):
    def test_the_whole_way_without_a_pointer(self) -> None:
        keys = self.page.keyboard
        self.page.goto(self.live_server_url)
        expect(self.page.get_by_label("Name")).to_be_focused()
        keys.type("lantern")
        keys.press("Tab")
        keys.type(PASSWORD)
        keys.press("Enter")
        expect(self.page.get_by_role("heading", name="Cards")).to_be_visible()
        self.tab_to(lambda it: it["text"].startswith("Maud"))
        keys.press("Enter")
        expect(self.page.get_by_role("heading", name="Maud")).to_be_visible()
        self.tab_to(lambda it: it["text"].startswith("Start today"))
        keys.press("Enter")
        expect(self.page.get_by_role("heading", name="Consult")).to_be_visible()
        self.tab_to(lambda it: it["text"].startswith("Read the hair"))
        keys.press("Enter")
        expect(self.page.get_by_role("heading", name="Read the hair")).to_be_visible()
        self.tab_to(lambda it: it["label"].startswith("Level 10,"))
        keys.press("Enter")
        expect(self.page.get_by_role("button", name="Level 10,")).to_have_attribute("aria-pressed", "true")
        self.tab_to(lambda it: it["text"].startswith("To the Bench"))
        keys.press("Enter")
        self.await_bench(self.page)
        self.tab_to(lambda it: it["id"] == "id_lightness")
        for number in ("62", "24", "10"):
            keys.type(number)
            keys.press("Tab")
        keys.press("Enter")
        expect(self.page.locator("#lock-aim use").first).to_be_attached()
        keys.press("h")
        expect(self.page.locator("[data-answers]")).to_be_visible()
        keys.press("1")
        expect(self.page.locator("[data-answers]")).to_have_count(0)
        expect(self.page.get_by_role("heading", level=1)).to_contain_text(re.compile("on the aim|little", re.I))
        self.tab_to(lambda it: it["id"] == "save")
        keys.press("Enter")
        expect(self.page.get_by_role("status")).to_contain_text("Kept on the card")
        self.assertTrue(Formula.objects.filter(client__name="Maud Okonjo-Hale").exists())

    def test_quick_keys_on_several_shades_lose_no_gram(self) -> None:
        self.sign_in()
        self.open_bench()
        keys = self.page.keyboard
        for key, presses in (("1", 3), ("4", 2), ("9", 4), ("1", 1)):
            keys.press(key)
            for _ in range(presses):
                keys.press("ArrowUp")
        keys.press("Shift+ArrowDown")
        expect(self.page.locator(".bowl-pours")).to_contain_text("3.9 g Weld")
        expect(self.page.locator("#stepper-name")).to_have_text("Weld")
        poured = Portion.objects.filter(bowl__worktop__visit__client__name="Maud Okonjo-Hale")
        self.assertEqual(
            {name: float(grams) for name, grams in poured.values_list("shade__name", "grams")},
            {"Weld": 3.9, "Madder": 2, "Smalt": 4},
        )

    def test_a_lost_connection_is_told_and_the_pour_arrives_when_it_is_back(self) -> None:
        self.sign_in()
        self.open_bench()
        self.page.route("**/pour/", lambda route: route.abort())
        self.page.keyboard.press("4")
        self.page.keyboard.press("ArrowUp")
        expect(self.page.locator("#outbox")).to_be_visible()
        self.page.keyboard.press("ArrowUp")
        self.page.unroute("**/pour/")
        expect(self.page.locator(".bowl-pours")).to_contain_text("2.0 g Madder")
        expect(self.page.locator("#outbox")).to_be_hidden()
