"""The back half of a visit through the real interface: plan, pour, clock, judge, keep, hand over, and again."""

import datetime
import re

from playwright.sync_api import expect

from studio.cards.models import Formula, HomeCare, Tweak, ZoneResult
from studio.clocks.models import ZoneClock
from studio.demo.today import seat_today
from studio.pour.models import Weighing
from studio.visits.models import Visit
from tests.journeys.base import JourneyCase


class Pouring:
    """Weighing in through the Pour page."""

    def pour_line(self, grams: str = "") -> None:
        """Note what the line in hand asks for, or other grams."""
        page = self.page
        name = page.locator(".pour-name").inner_text()
        page.locator("#id_grams").fill(grams or page.locator("[name=as_asked]").get_attribute("value") or "")
        page.get_by_role("button", name="Add", exact=True).click()
        expect(page.locator(".pour-name")).not_to_have_text(name)

    def pour_all(self) -> None:
        expect(self.page.locator(".pour-name")).to_be_visible()  # the Bench, which is left, has grams to type, too
        while self.page.locator("#id_grams").count():
            self.pour_line()
        self.page.get_by_role("button", name="It is mixed").click()
        expect(self.page.locator(".pour-name")).to_have_text("Mixed")


class TheVisit(Pouring, JourneyCase):
    def to(self, step: str) -> None:
        self.page.get_by_role("link", name=step, exact=True).click()

    def repeat(self, client: str) -> None:
        self.page.get_by_role("link", name=client).click()
        self.page.get_by_role("button", name="Repeat today").first.click()
        self.await_bench(self.page)

    def test_a_visit_with_an_over_pour_from_the_bowl_to_the_hand_out_and_again_a_month_later(self) -> None:
        self.sign_in()
        self.repeat("Ilka Brandt")
        self.pour_too_much()
        self.time_it()
        self.judge_it()
        self.hand_over()
        self.come_again()

    def pour_too_much(self) -> None:
        page = self.page
        page.get_by_role("link", name="Pour →").click()
        expect(page.locator(".pour-name")).to_have_text("Orchil")
        self.assert_accessible()
        self.pour_line("4.5")
        expect(page.get_by_role("region", name="Over-pour")).to_contain_text("Keep the recipe")
        self.assert_accessible()
        page.get_by_role("button", name="Make more").click()
        expect(page.get_by_role("region", name="Over-pour")).to_have_count(0)
        expect(page.locator(".pour-wanted")).to_contain_text("108.0")
        self.pour_all()
        self.assertEqual(Weighing.objects.first().planned_g * 10, 32)

    def time_it(self) -> None:
        page = self.page
        page.get_by_role("link", name="To the Clock").click()
        page.get_by_role("button", name="Start whole head").click()
        expect(page.locator(".clock-time")).to_be_visible()
        self.assert_accessible()
        began = datetime.datetime.now(datetime.UTC) - datetime.timedelta(minutes=31)
        ZoneClock.objects.update(applied_at=began, boot_id="")
        page.reload()  # a sleeping tablet, or another one: the clock is the server's
        expect(page.locator(".clock-time")).to_contain_text("31 min")
        expect(page.get_by_role("alert")).to_contain_text("rinse")
        page.get_by_role("button", name="Seen").click()
        expect(page.get_by_text("the pack's most in 29 min")).to_be_visible()
        page.get_by_role("button", name="Rinsed: whole head").click()

    def judge_it(self) -> None:
        page = self.page
        page.get_by_role("link", name="Judge the result").click()
        expect(page.locator("#fixes")).not_to_contain_text("Reckoning")
        self.assert_accessible()
        page.get_by_text("dry", exact=True).click()
        page.get_by_text("in two lights").click()
        page.get_by_role("button", name="deeper", exact=True).click()
        expect(page.locator(".result-locks")).to_contain_text("Deeper")
        page.get_by_label("What to do otherwise").fill("a little less pink")
        page.get_by_role("button", name="Note", exact=True).click()
        expect(page.get_by_role("button", name="Noted: change it")).to_be_visible()
        page.get_by_role("button", name="Keep, and hand over").click()

    def hand_over(self) -> None:
        page = self.page
        expect(page.get_by_role("heading", name="Care")).to_be_visible()
        self.assert_accessible()
        page.get_by_text("swims in pools").click()
        next_on = datetime.date.today() + datetime.timedelta(days=30)
        page.locator("#id_next_on").fill(next_on.isoformat())
        page.get_by_role("button", name="Keep", exact=True).click()
        expect(page.locator("#id_next_on")).to_have_value(next_on.isoformat())
        page.get_by_role("link", name="Hand-out").click()
        expect(page.get_by_role("heading", name="Your colour, Ilka Brandt")).to_be_visible()
        self.assert_accessible()
        kept = Formula.objects.filter(client__name="Ilka Brandt").first()
        self.assertEqual(round(kept.process_min), 31)
        result = ZoneResult.objects.get()
        self.assertTrue(result.dry and result.two_lights)
        self.assertTrue(HomeCare.objects.get().pool)

    def come_again(self) -> None:
        page, kept = self.page, Formula.objects.filter(client__name="Ilka Brandt").first()
        Visit.objects.filter(pk=kept.visit_id).update(day=datetime.date.today() - datetime.timedelta(days=30))
        self.go_to(f"/clients/{kept.client_id}/")
        expect(page.get_by_text("a little less pink").first).to_be_visible()
        self.assert_accessible()
        page.get_by_role("button", name="today's visit").click()
        expect(page.locator("#last-card")).to_contain_text("a little less pink")
        page.get_by_role("link", name="Start with the change").click()
        expect(page.get_by_role("button", name="Use With the change")).to_be_visible()
        self.assert_accessible()
        page.get_by_role("button", name="Use With the change").click()
        self.await_bench(page)
        self.assertFalse(Tweak.objects.get().active)

    def test_three_zones_run_on_clocks_of_their_own_while_a_panel_lifts(self) -> None:
        page = self.page
        self.sign_in()
        self.repeat("Odalys Finch")
        self.to("Plan")
        page.get_by_label("Begins at").fill("14:30")
        page.get_by_label("Begins at").press("Enter")
        expect(page.get_by_text("ends about")).to_be_visible()
        page.locator(".plan-edit summary").first.click()
        page.locator(".plan-edit[open] input[name=minutes]").fill("40")
        page.locator(".plan-edit[open]").get_by_role("button", name="Set").click()
        expect(page.locator(".plan-edit").first).to_contain_text("on for 40")
        self.assert_accessible()
        self.to("Clock")
        page.locator(".clock-idle").filter(has_text="roots").locator("select[name=kind]").select_option("fill")
        page.get_by_role("button", name="Start roots").click()
        expect(page.locator(".clock-time")).to_have_count(1)
        mids = page.locator("form.clock-idle").filter(has_text="mids")
        mids.locator("select[name=kind]").select_option("mask")
        mids.locator("input[name=minutes]").fill("9")
        page.get_by_role("button", name="Start mids").click()
        expect(page.locator(".clock-time")).to_have_count(2)
        expect(page.locator(".clock-card").nth(1)).to_contain_text("rinse in 9 min")
        page.get_by_role("button", name="Not started").first.click()
        expect(page.locator(".clock-time")).to_have_count(1)
        self.assertEqual(ZoneClock.objects.get().kind, "mask")
        self.go_to("/chairs/")
        expect(page.locator(".wall-row")).to_contain_text("mids")
        self.assert_accessible()

    def test_the_scale_is_unplugged_in_mid_line_and_the_hand_goes_on(self) -> None:
        page = self.page
        self.sign_in()
        self.repeat("Ilka Brandt")
        self.to("Pour")
        page.get_by_text("Simulated scale").click()
        page.get_by_role("button", name="a squeeze").click()
        expect(page.locator(".pour-weight")).to_have_text(re.compile(r"1\.0.*at rest", re.DOTALL))
        page.get_by_role("button", name="Add from the scale").click()
        expect(page.locator(".pour-wanted")).to_contain_text("g are in")
        page.get_by_role("button", name="is unplugged").click()
        expect(page.locator(".pour-fault")).to_contain_text("does not answer")
        page.get_by_role("button", name="Add from the scale").click()
        expect(page.get_by_role("alert")).to_contain_text("type the weight")
        self.pour_line()
        expect(page.locator(".pour-name")).to_have_text("Clear")
        self.assertEqual(set(Weighing.objects.values_list("source", flat=True)), {"scale", "typed"})

    def test_a_week_later_it_is_too_bright_for_work(self) -> None:
        page = self.page
        self.sign_in()
        self.repeat("Ilka Brandt")
        page.goto(re.sub(r"/bench/.*", "/correct/?trouble=tone_down", page.url))
        expect(page.get_by_role("heading", name="Put it right")).to_be_visible()
        expect(page.locator(".correct-ask")).to_contain_text("after about")
        expect(page.locator(".way").first).to_contain_text("off what is wanted")
        self.assert_accessible()
        page.get_by_role("button", name="To the Bench").first.click()
        self.await_bench(page)
        expect(page.locator("#lock-aim use").first).to_be_attached()

    def test_cards_are_found_by_colour_and_compared(self) -> None:
        page = self.page
        self.sign_in()
        page.get_by_text("By colour, level, date").click()
        for name, number in (("Depth", "66"), ("Strength", "28"), ("Hue°", "5")):
            page.get_by_label(name).fill(number)
        page.get_by_role("button", name="Find").click()
        expect(page.locator(".card-line").first).to_contain_text("away")
        expect(page.locator(".card-line").first).to_contain_text("Ilka Brandt")
        self.assert_accessible()
        page.get_by_role("link", name="Ilka Brandt").click()
        for box in page.get_by_label("compare").all():
            box.check()
        page.get_by_role("button", name="Compare two").click()
        expect(page.get_by_role("heading", name="Compared")).to_be_visible()
        self.assert_accessible()

    def test_the_band_is_in_the_chairs(self) -> None:
        seat_today(self.person, now=datetime.datetime.now(datetime.UTC))
        self.sign_in()
        self.to("Chairs")
        expect(self.page.locator(".wall-row").first).to_contain_text("Tobiah Merrow")
        expect(self.page.locator(".chair-calls")).to_have_count(1)
        self.page.get_by_role("link", name=re.compile("Clock.*Tobiah Merrow")).click()
        self.page.get_by_role("button", name="Seen").click()
        expect(self.page.get_by_text("the pack's most in")).to_be_visible()
        self.to("Cards")
        self.page.get_by_role("link", name="Take cards in").click()
        self.page.locator("#id_file").set_input_files(
            {"name": "bad.csv", "mimeType": "text/csv", "buffer": b"client,saved_at,line,pours,level\nA,x,y,z,9"}
        )
        self.page.get_by_role("button", name="Take in").click()
        expect(self.page.get_by_role("status").last).to_contain_text("1 with something wrong")
        self.assert_accessible()
