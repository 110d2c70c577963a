"""How many taps a visit takes, counted in the browser: each press, and each field that is filled."""

import re
from typing import Final

from playwright.sync_api import expect

from studio.visits.models import Visit
from tests.journeys.coat_steps import CoatSteps
from tests.journeys.states import Studio

# By VISIT.md, section 8: from the client to the kept card; the client is known, and the tests are on record.
MOST: Final = {"one bowl": 25, "three-zone melt": 45, "lift, fill and colour": 60}

COUNTS: Final = """
(() => {
  const more = () => sessionStorage.setItem("taps", Number(sessionStorage.getItem("taps") || 0) + 1);
  let pressed = null;
  addEventListener("pointerdown", (event) => { pressed = event.target; more(); }, true);
  addEventListener("focusin", (event) => {
    const typed = event.target.matches("textarea, input:not([type=radio], [type=checkbox], [type=range])");
    if (typed && pressed !== event.target) more();
    pressed = null;
  }, true);
  addEventListener("change", (event) => { if (event.target.matches("select")) more(); }, true);
})();
"""


class Taps(CoatSteps):
    def setUp(self) -> None:
        super().setUp()
        self.page.add_init_script(COUNTS)

    def begin(self, **hair: str) -> Visit:
        """A known client whose tests are on record, with nothing read yet; taps are counted from the Card on."""
        visit = Studio(self.person).read("Bram Selwyn", **hair)
        self.go_to(f"/clients/{visit.client_id}/")
        self.page.evaluate("sessionStorage.setItem('taps', 0)")
        self.page.get_by_role("button", name="Go on with today's visit").click()
        self.page.get_by_role("link", name="Read the hair →").click()
        return visit

    def counted(self, what: str) -> None:
        """Hold what was tapped against what it may take at most."""
        taps = int(self.page.evaluate("sessionStorage.getItem('taps')"))
        self.assertLessEqual(taps, MOST[what])
        self.assertGreater(taps, 12, "they were counted")

    def to(self, step: str) -> None:
        self.page.get_by_role("link", name=step, exact=True).click()
        if step == "Bench":
            self.await_bench(self.page)

    def rung(self, level: int) -> None:
        lock = self.page.get_by_role("button", name=re.compile(rf"^Level {level},"))
        lock.click()
        expect(lock).to_have_attribute("aria-pressed", "true")

    def zone(self, name: str) -> None:
        self.page.locator(".zone-tab", has_text=name).click()
        expect(self.page.locator(".zone-tab[aria-current=true]")).to_contain_text(name)

    def aim_and_hit(self, depth: float, strength: float, hue: float) -> None:
        self.aim(depth, strength, hue)
        self.page.locator("#hit").click()
        self.page.get_by_role("button", name="Use 1", exact=True).click()
        expect(self.page.locator("[data-answers]")).to_have_count(0)

    def pour(self) -> None:
        self.page.get_by_role("link", name="Pour →").click()
        self.pour_all()

    def pour_line(self, grams: str = "") -> None:
        """Just what is asked for, with one press."""
        name = self.page.locator(".pour-name").inner_text()
        self.page.locator("button[name=as_asked]").click()
        expect(self.page.locator(".pour-name")).not_to_have_text(name)

    def test_a_whole_head_in_one_bowl(self) -> None:
        self.sign_in()
        visit = self.begin()
        self.rung(9)
        self.page.get_by_role("link", name="Choose the aim →").click()
        self.await_bench(self.page)
        self.aim_and_hit(60, 26, 355)
        self.pour()
        self.put_on("whole head", "direct", 30)
        self.assertEqual(len(self.keep(visit)), 1)
        self.counted("one bowl")

    def test_a_melt_of_three_zones(self) -> None:
        self.sign_in()
        visit = self.begin()
        page = self.page
        page.get_by_text("Zones", exact=True).click()
        page.get_by_role("button", name="roots, mids, ends").click()
        expect(page.get_by_role("button", name="roots, mids, ends")).to_have_attribute("aria-pressed", "true")
        page.get_by_role("link", name="Choose the aim →").click()
        self.await_bench(page)
        page.locator("#open-zones").click()
        page.get_by_role("button", name="A bowl for each of 3").click()
        page.keyboard.press("Escape")
        for name, depth in (("roots", 40), ("mids", 56), ("ends", 70)):
            if name != "roots":  # which are in hand
                self.zone(name)
            self.tap_aim(depth)
        self.pour()  # of the zone in hand, the ends
        for name in ("roots", "mids"):
            tab = page.get_by_role("navigation", name="Bowls").get_by_role("link", name=name)
            tab.click()
            expect(tab).to_have_attribute("aria-current", "true")
            self.pour_all()
        self.to("Clock")
        page.get_by_role("button", name=re.compile("^Start all 3")).click()
        expect(page.get_by_role("button", name="Rinsed: roots")).to_be_visible()
        page.get_by_role("button", name="Rinsed: all 3").click()
        expect(page.get_by_role("button", name="Rinsed: roots")).to_have_count(0)
        self.assertEqual(len(self.keep(visit)), 3)
        self.counted("three-zone melt")

    def tap_aim(self, depth: float) -> None:
        """A pink by two taps: on the plane for its hue and strength, on the scale beside it for its depth."""
        page = self.page
        page.locator("#mode-aim").click()
        plane, scale = page.locator("#plane"), page.locator("#depth")
        for drawn, x, y in ((plane, 0.62, 0.48), (scale, 0.5, 1 - depth / 100)):
            box = drawn.bounding_box()
            with page.expect_response(re.compile("/aim/")):
                page.mouse.click(box["x"] + x * box["width"], box["y"] + y * box["height"])
            self.await_bench(page)
        page.locator("#hit").click()
        page.get_by_role("button", name="Use 1", exact=True).click()
        expect(page.locator("[data-answers]")).to_have_count(0)

    def test_lift_fill_and_colour(self) -> None:
        self.sign_in()
        visit = self.begin(level="6")
        page = self.page
        page.get_by_role("link", name="Choose the aim →").click()
        self.await_bench(page)
        self.add("lift")
        self.lift_to(9, "30")
        self.pour()
        self.put_on("whole head", "lightener", 30)
        for purpose, aim, clock, minutes in (
            ("fill", (60, 40, 70), "fill", 20),
            ("colour", (38, 26, 40), "direct", 30),
        ):
            self.to("Bench")
            if purpose == "fill":
                self.add("fill")
            else:
                self.take("Colour")
            if page.locator("#mode-aim[aria-current=true]").count() == 0:
                page.locator("#mode-aim").click()
            self.aim_and_hit(*aim)
            self.pour()
            self.put_on("whole head", clock, minutes)
        self.assertEqual([each.purpose for each in self.keep(visit)], ["lift", "fill", "colour"])
        self.counted("lift, fill and colour")
