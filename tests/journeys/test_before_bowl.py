"""The front half of a visit through the real interface: consult, gates, reading, route."""

import io
import re

from PIL import Image
from playwright.sync_api import expect

from studio.clients.models import StrandTest
from studio.route.models import ChosenRoute
from studio.visits.models import Consult, Reading, Signature
from tests.journeys.base import JourneyCase


class BeforeTheBowl(JourneyCase):
    def open_consult(self, client: str) -> None:
        self.page.get_by_role("link", name=client).click()
        self.page.get_by_role("button", name="today's visit").click()
        expect(self.page.get_by_role("heading", name="Consult")).to_be_visible()

    def to_route(self) -> None:
        self.page.get_by_role("link", name="Route", exact=True).click()
        expect(self.page.locator("[data-way]").first).to_be_visible()

    def aim_on_bench(self, depth: float, strength: float, hue: float) -> None:
        self.page.get_by_role("link", name="Bench", exact=True).click()
        self.await_bench(self.page)
        self.aim(depth, strength, hue)

    def test_a_frightened_first_timer_gets_to_a_diluted_pastel(self) -> None:
        page = self.page
        self.sign_in()
        self.open_consult("Maud Okonjo-Hale")
        page.get_by_text("frightened").click()
        page.get_by_label("Their wish, in their words").fill("a breath of pink, nothing loud")
        page.get_by_text("curly").click()
        expect(page.locator("input[name=curl][value=curly]")).to_be_checked()
        expect(page.get_by_text("first time")).to_be_visible()
        self.assert_accessible()
        page.get_by_role("link", name="Read the hair").click()
        page.get_by_role("button", name="Level 10,").click()
        page.get_by_text("Colour reader").click()
        page.locator("#id_held_level").select_option("10")
        page.get_by_role("button", name="Take 5 readings").click()
        expect(page.get_by_text("sure to about")).to_be_visible()
        self.assert_accessible()
        page.get_by_role("button", name="Keep it").click()
        self.aim_on_bench(70, 18, 30)
        self.to_route()
        self.assert_accessible()
        expect(page.locator("[data-way]").first).to_contain_text("Colour only")
        page.get_by_role("button", name="Use Colour only").click()
        expect(page.get_by_role("button", name="In use Colour only")).to_be_visible()
        page.get_by_role("link", name="To the Bench").click()
        self.await_bench(page)
        page.locator("#hit").click()
        page.get_by_role("button", name="Use 1").click()
        expect(page.locator(".bowl-pours")).to_contain_text("Clear")
        kept = Consult.objects.get(visit__client__name="Maud Okonjo-Hale")
        self.assertEqual((kept.nerve, kept.curl, kept.wish), ("frightened", "curly", "a breath of pink, nothing loud"))
        self.assertEqual(Reading.objects.filter(zone__visit=kept.visit).first().source, "reader")

    def test_light_ends_go_to_a_deep_red_by_a_fill(self) -> None:
        page = self.page
        self.sign_in()
        self.open_consult("Odalys Finch")
        expect(page.locator("#last-card")).to_contain_text("Change next time")
        page.get_by_role("link", name="Read the hair").click()
        page.get_by_role("button", name="Level 10,").click()
        expect(page.get_by_role("button", name="Level 10,")).to_have_attribute("aria-pressed", "true")
        page.get_by_text("Zones", exact=True).click()
        page.locator("#id_part").select_option("ends")
        page.get_by_role("button", name="Add", exact=True).click()
        expect(page.get_by_role("link", name="ends", exact=True)).to_have_attribute("aria-current", "true")
        self.aim_on_bench(33, 32, 20)
        self.to_route()
        expect(page.locator("[data-way]").first).to_contain_text("Fill, then colour")
        expect(page.get_by_text("Without it")).to_be_visible()
        expect(page.locator(".fill-steps li").first).to_contain_text("to level")
        self.assert_accessible()
        page.get_by_role("button", name="Use Fill").click()
        expect(page.get_by_role("button", name="In use Fill")).to_be_visible()
        self.assertEqual(ChosenRoute.objects.get().kind, "fill")
        page.get_by_role("link", name="Plan", exact=True).click()
        expect(page.get_by_role("heading", name="Plan")).to_be_visible()
        expect(page.locator(".plan-order")).to_contain_text("Fill, ends")
        self.assert_accessible()

    def test_a_henna_history_stops_until_it_is_tested_or_signed(self) -> None:
        page = self.page
        self.sign_in()
        self.open_consult("Maud Okonjo-Hale")
        page.locator("#id_work").select_option("henna")
        page.locator("#id_done_on").fill("2026-02-01")
        page.get_by_role("button", name="Add", exact=True).click()
        expect(page.get_by_role("list", name="Earlier work")).to_contain_text("henna")
        page.get_by_role("link", name="Read the hair").click()
        page.get_by_role("button", name="Level 8,").click()
        self.aim_on_bench(74, 18, 300)
        self.to_route()
        stop = page.locator("[data-gate=unknown_chemistry]")
        expect(stop).to_contain_text("Stop")
        expect(page.get_by_role("link", name="To the Bench")).to_have_count(0)
        page.get_by_role("button", name=re.compile("^Use Lift")).click()
        expect(page.get_by_role("alert")).to_contain_text("gate is shut")
        self.assertFalse(ChosenRoute.objects.exists())
        expect(stop.get_by_label("Reason")).to_have_count(0)  # no signature opens what only a strand can tell
        stop.locator("summary").click()
        stop.get_by_label("Colour seen").fill("clean gold")
        stop.get_by_role("button", name="Passed").click()
        expect(stop).to_have_count(0)
        untested = page.locator(".gate").filter(has_text="No clear sensitivity test")
        untested.get_by_label("Reason").fill("tested with the pack last week, card lost")
        untested.get_by_role("button", name="Sign").click()
        expect(untested).to_contain_text("Signed")
        page.get_by_role("button", name=re.compile("^Use Lift")).click()
        expect(page.get_by_role("button", name=re.compile("^In use Lift"))).to_be_visible()
        expect(page.get_by_role("link", name="To the Bench")).to_be_visible()
        self.assertEqual(StrandTest.objects.get().colour_seen, "clean gold")
        self.assertEqual(Signature.objects.get().reason, "tested with the pack last week, card lost")

    def test_a_photo_with_white_paper_is_read(self) -> None:
        page = self.page
        self.sign_in()
        self.open_consult("Maud Okonjo-Hale")
        page.get_by_role("link", name="Read the hair").click()
        page.get_by_role("link", name="From a photo").click()
        image = Image.new("RGB", (500, 300), (200, 165, 108))
        image.paste((236, 214, 176), (0, 0, 240, 300))
        kept = io.BytesIO()
        image.save(kept, "PNG")
        page.locator("#id_photo").set_input_files({"name": "w.png", "mimeType": "image/png", "buffer": kept.getvalue()})
        page.get_by_role("button", name="Take this photo").click()
        page.locator(".photo-tap").click(position={"x": 100, "y": 150})
        expect(page.get_by_text("Tap the hair")).to_be_visible()
        page.locator(".photo-tap").click(position={"x": 400, "y": 150})
        expect(page.get_by_text("sure to about")).to_be_visible()
        self.assert_accessible()
        page.get_by_role("button", name="Keep it").click()
        expect(page.get_by_role("heading", name="Read the hair")).to_be_visible()
        self.assertEqual(Reading.objects.order_by("-id").first().source, "photo")
