"""What every screen promises: it fits, it is grey but for hair, it can be read and tapped at arm's length."""

import datetime
import re

from playwright.sync_api import expect

from studio.clocks.models import ZoneClock
from studio.demo.today import seat_today
from studio.visits.models import Consult, Visit
from tests.journeys.base import JourneyCase

OF_A_VISIT = ("consult", "read", "route", "plan", "bench", "pour", "clock", "result", "care")
TAPPED = ("plan", "pour", "clock", "result", "care")
NEXT = {
    "consult": "Read the hair",
    "read": "To the Bench",
    "plan": "To the Bench",
    "bench": "Pour →",
    "pour": "Add from the scale",
    "result": "Keep, and hand over",
    "care": "To the card",
}
LEAST_TEXT_PX = 14
LEAST_TARGET_PX = 44  # 48 by the brief for what is tapped beside the bowl; chips in dense rows are a little less

# Elements whose own colours are not neutral greys; drawings of hair are what colour is for.
COLOURED = """() => [...document.querySelectorAll('body, body *')]
  .filter((each) => !each.closest('svg, img, input[type=image]'))
  .flatMap((each) => {
    const style = getComputedStyle(each);
    return [style.color, style.backgroundColor, style.borderTopColor].map((colour) => [each.tagName, colour]);
  })
  .filter(([, colour]) => {
    const parts = colour.match(/[\\d.]+/g).map(Number);
    return parts[3] !== 0 && !(parts[0] === parts[1] && parts[1] === parts[2]);
  })"""
SMALL_TEXT = """(least) => [...document.querySelectorAll('body *')]
  .filter((each) => !each.closest('svg, .sr-only, option') && each.offsetParent !== null
    && [...each.childNodes].some((node) => node.nodeType === 3 && node.textContent.trim())
    && parseFloat(getComputedStyle(each).fontSize) < least)
  .map((each) => each.outerHTML.slice(0, 120))"""
SMALL_TARGETS = """(least) => [...document.querySelectorAll('main :is(button, select, a.button, a.button-next)')]
  .filter((each) => each.offsetParent !== null && !each.closest('.sr-only'))
  .map((each) => [each.outerHTML.slice(0, 100), each.getBoundingClientRect()])
  .filter(([, box]) => box.width > 0 && (box.height < least || box.width < 24)).map(([html]) => html)"""
TOO_WIDE = "() => document.documentElement.scrollWidth - document.documentElement.clientWidth"
TOO_TALL = "() => document.documentElement.scrollHeight - document.documentElement.clientHeight"


class Screens(JourneyCase):
    def setUp(self) -> None:
        super().setUp()
        seat_today(self.person, now=datetime.datetime.now(datetime.UTC))
        self.sign_in()
        self.visit = Visit.objects.get(client__name="Wren Castellane", day=datetime.datetime.now(datetime.UTC).date())

    def pages(self) -> dict[str, str]:
        visit = {name: f"/visits/{self.visit.pk}/{name}/" for name in OF_A_VISIT}
        card = f"/clients/{self.visit.client_id}/"
        own = {"you": "/you/", "mail": "/you/mail/", "second": "/you/second/", "trace": f"{card}trace/"}
        return {"chairs": "/chairs/", "cards": "/", "card": card, "take": "/cards/take-in/", **own, **visit}

    def show(self, address: str) -> None:
        self.page.goto(self.live_server_url + address)
        expect(self.page.locator("#main, [data-bench]").first).to_be_visible()
        self.page.wait_for_load_state("load")

    def test_every_page_keeps_its_promises_on_a_laptop(self) -> None:
        """Each page is opened once, and every promise is looked at there."""
        extra = {"hand-out": f"/visits/{self.visit.pk}/hand-out/", "correct": f"/visits/{self.visit.pk}/correct/"}
        for name, address in {**self.pages(), **extra}.items():
            self.show(address)
            with self.subTest(page=name, promise="nothing but hair has a colour"):
                self.assertEqual(self.page.evaluate(COLOURED), [])
            with self.subTest(page=name, promise="every word can be read"):
                self.assertEqual(self.page.evaluate(SMALL_TEXT, LEAST_TEXT_PX), [])
            with self.subTest(page=name, promise="nothing is wider than the screen"):
                self.assertLessEqual(self.page.evaluate(TOO_WIDE), 0)
            if name in TAPPED:
                with self.subTest(page=name, promise="it can be tapped with gloves on"):
                    self.assertEqual(self.page.evaluate(SMALL_TARGETS, LEAST_TARGET_PX), [])
            if name in OF_A_VISIT:
                with self.subTest(page=name, promise="the work is one page"):
                    self.assertLessEqual(self.page.evaluate(TOO_TALL), 0)
            if name in NEXT:
                with self.subTest(page=name, promise="the next action is in sight, on the right"):
                    way = self.page.locator("main a, main button").filter(has_text=NEXT[name]).last
                    expect(way).to_be_visible()
                    box = way.evaluate("each => each.getBoundingClientRect().toJSON()")
                    self.assertLessEqual(box["bottom"], 800)
                    self.assertGreater((box["left"] + box["right"]) / 2, 640)

    def test_nothing_is_wider_than_a_tablet_and_the_new_pages_stack_on_a_phone(self) -> None:
        for width, height, names in ((1024, 768, self.pages()), (420, 900, ("chairs", "cards", *TAPPED))):
            self.page.set_viewport_size({"width": width, "height": height})
            for name in names:
                with self.subTest(page=name, width=width):
                    self.show(self.pages()[name])
                    self.assertLessEqual(self.page.evaluate(TOO_WIDE), 0)

    def test_the_hand_out_prints_without_the_masthead(self) -> None:
        self.show(f"/visits/{self.visit.pk}/hand-out/")
        expect(self.page.locator(".masthead")).to_be_visible()
        self.page.emulate_media(media="print")
        expect(self.page.locator(".masthead")).not_to_be_visible()
        expect(self.page.get_by_role("heading", name=re.compile("Your colour"))).to_be_visible()

    def test_sound_is_on_from_a_touch_and_stays_chosen(self) -> None:
        self.show(self.pages()["clock"])
        button = self.page.get_by_role("button", name="Sound")
        expect(button).to_have_attribute("aria-pressed", "false")
        button.click()
        expect(button).to_have_attribute("aria-pressed", "true")
        self.page.reload()
        self.page.locator("h1").click()  # any touch: a browser lets no page sound without one
        expect(self.page.get_by_role("button", name="Sound")).to_have_attribute("aria-pressed", "true")

    def test_files_are_kept_by_the_browser_under_names_that_say_what_they_are(self) -> None:
        self.show(self.pages()["card"])
        for button, name in (
            ("Card as PDF", "wren-castellane.pdf"),
            ("JSON", "wren-castellane.json"),
            ("Palette", "wren-castellane.gpl"),
            ("Spectra (CGATS)", "wren-castellane.cgats.txt"),
        ):
            with self.subTest(file=name), self.page.expect_download() as waited:
                self.page.get_by_role("link", name=button).click()
            self.assertEqual(waited.value.suggested_filename, name)
        self.show("/")
        with self.page.expect_download() as waited:
            self.page.get_by_role("link", name="Logbook as CSV").click()
        self.assertEqual(waited.value.suggested_filename, "logbook.csv")

    def test_a_card_goes_out_and_comes_back_in(self) -> None:
        self.show(self.pages()["card"])
        with self.page.expect_download() as waited:
            self.page.get_by_role("link", name="JSON").click()
        self.show("/cards/take-in/")
        self.page.locator("#id_file").set_input_files(waited.value.path())
        self.page.get_by_role("button", name="Take in").click()
        expect(self.page.get_by_role("status").last).to_contain_text("here already")

    def test_a_shut_gate_is_the_next_step_on_the_bench_and_where_a_zone_is_started(self) -> None:
        page, consult = self.page, Consult.objects.get_or_create(visit=self.visit)[0]
        consult.scalp, consult.version = Consult.ScalpSeen.BROKEN, 1
        consult.save()
        page.goto(f"{self.live_server_url}/visits/{self.visit.pk}/bench/")
        stop = page.locator(".acts .button-next")
        expect(stop).to_contain_text("Stop: ")
        page.locator("#more-1").click()
        expect(page.locator("#id_grams")).not_to_have_value("")
        expect(stop).to_contain_text("Stop: ")  # a pour takes nothing away that still stands
        stop.click()
        expect(page.locator("#pour-gates")).to_be_visible()
        page.goto(f"{self.live_server_url}/visits/{self.visit.pk}/clock/")
        start = page.locator("[id^=start-next-]").first
        expect(start.get_by_role("link")).to_contain_text("Stop: ")
        expect(start.get_by_role("button")).to_have_count(0)
        consult.scalp = Consult.ScalpSeen.SOUND
        consult.save()
        page.locator("select[name=kind]").first.select_option("mask")
        expect(start.get_by_role("button", name="Start")).to_be_visible()
        start.get_by_role("button").click()
        expect(page.get_by_role("button", name="Rinsed").first).to_be_visible()
        self.assertTrue(ZoneClock.objects.filter(zone__visit=self.visit).exists())
