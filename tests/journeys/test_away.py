"""An hour at the bowl without connection: the page in hand, and its neighbours, go on; afterwards all of it is told."""

import re
from datetime import timedelta
from decimal import Decimal

from django.urls import reverse
from django.utils import timezone
from playwright.sync_api import expect

from studio.clocks.models import ZoneClock
from studio.pour.models import Batch, Weighing
from tests.journeys.base import JourneyCase
from tests.journeys.states import Studio

KEPT = """async (path) => {
  for (const name of await caches.keys()) {
    if (name.startsWith("kept:") && await (await caches.open(name)).match(path, { ignoreSearch: true })) return true;
  }
  return false;
}"""


class Away(JourneyCase):
    service_workers = "allow"

    def setUp(self) -> None:
        super().setUp()
        self.sign_in()

    def open_and_keep(self, name: str, visit_id: int, *others: str) -> None:
        """Open a page, until the tablet keeps it and its neighbours."""
        address = reverse(name, args=[visit_id])
        self.page.goto(self.live_server_url + address)
        for kept in (address, *(reverse(other, args=[visit_id]) for other in others)):
            for _ in range(200):
                if self.page.evaluate(KEPT, kept):
                    break
                self.page.wait_for_timeout(100)
            else:
                self.fail(f"{kept} is not kept")

    def weighings(self) -> list[tuple[str, Decimal]]:
        found = Weighing.objects.order_by("pk").values_list("shade__name", "poured_g")
        return [(name, grams) for name, grams in found]


class Pouring(Away):
    def test_a_whole_bowl_is_poured_and_its_clock_started_without_connection(self) -> None:
        visit = Studio(self.person).poured()
        self.open_and_keep("pour:pour", visit.pk, "clocks:clock")
        page = self.page
        lines = page.locator("[data-line]")
        wanted = [(row.get_attribute("data-name"), Decimal(row.get_attribute("data-left"))) for row in lines.all()]
        self.context.set_offline(True)
        for place, (name, grams) in enumerate(wanted):
            expect(page.locator(".pour-name")).to_have_text(name)
            page.locator("[name=as_asked]").click()
            expect(lines.nth(place).locator(".rail-waiting")).to_contain_text(f"+{grams:.1f} g waiting")
        banner = page.locator("#outbox")
        expect(banner).to_contain_text("The connection is lost")
        expect(banner).to_contain_text(re.compile(r"the forecast too, is as of\s+\d\d:\d\d"))
        expect(page.locator(".pour-name")).to_have_text("All in")
        expect(page.locator("#typed-form")).to_be_hidden()
        page.get_by_role("button", name="It is mixed →").click()
        page.get_by_role("link", name="To the Clock →").click()
        expect(page.get_by_role("heading", name="Clock")).to_be_visible()
        expect(page.locator("html[data-kept]")).to_be_attached()
        expect(banner).to_contain_text("It is mixed")
        page.get_by_role("button", name="Start").first.click()
        expect(banner).to_contain_text("Start")
        expect(page.locator("[data-alone]")).to_have_text(re.compile(r"^0:\d\d$"))
        expect(page.get_by_role("button", name="Start")).to_have_count(0)
        page.reload()  # the tablet was turned off and on
        expect(banner).to_contain_text(f"Add {wanted[0][1]:.1f} g · {wanted[0][0]} at")
        self.assertFalse(Weighing.objects.exists())
        self.context.set_offline(False)
        expect(banner).to_be_hidden()
        expect(page.locator("html[data-kept]")).to_have_count(0)
        expect(page.locator("[data-applied]")).to_be_visible()
        self.assertEqual(self.weighings(), [(name, grams) for name, grams in wanted])
        self.assertIsNotNone(Batch.objects.get().mixed_at)
        self.assertEqual(ZoneClock.objects.count(), 1)

    def test_the_same_amount_twice_counts_twice_and_a_line_is_picked_by_hand(self) -> None:
        visit = Studio(self.person).poured()
        self.open_and_keep("pour:pour", visit.pk)
        page = self.page
        self.context.set_offline(True)
        page.get_by_label("Typed").fill("1")
        page.get_by_role("button", name="Add", exact=True).click()
        expect(page.locator(".rail-waiting").first).to_contain_text("+1.0 g")
        page.wait_for_timeout(1200)  # longer than a hand that shakes
        page.get_by_label("Typed").fill("1")
        page.get_by_role("button", name="Add", exact=True).click()
        expect(page.locator(".rail-waiting").first).to_contain_text("+2.0 g")
        page.get_by_label("Typed").fill("2 drops")  # how much that is only the records know
        page.get_by_role("button", name="Add", exact=True).click()
        expect(page.locator(".rail-waiting").first).to_have_text("+2.0 g + 2 drops waiting")
        picked = page.locator("a[data-picks]").last
        name = page.locator("[data-line]", has=picked).get_attribute("data-name")
        picked.click()
        expect(page.locator(".pour-name")).to_have_text(name)
        page.get_by_label("Typed").fill("3")
        page.get_by_role("button", name="Add", exact=True).click()
        self.context.set_offline(False)
        expect(page.locator("#outbox")).to_be_hidden()
        expect(page.locator(".pour-line .figure").first).not_to_have_text(re.compile("^(0|1|2).0$"))
        expect(page.locator(".pour-line .figure").last).to_have_text("3.0")
        grams = [grams for _, grams in self.weighings()]
        self.assertEqual((grams[0], grams[1], grams[3]), (1, 1, 3))
        self.assertEqual(self.weighings()[-1][0], name)


class Waiting(Away):
    def test_a_clock_goes_on_by_its_own_time_and_calls_though_the_page_was_kept_a_while_ago(self) -> None:
        visit, clock = Studio(self.person).running()
        due = timezone.now() - timedelta(minutes=float(clock.planned_min), seconds=-25)
        ZoneClock.objects.filter(pk=clock.pk).update(applied_at=due, boot_id="", boot_s=None)
        self.open_and_keep("clocks:clock", visit.pk)
        self.context.set_offline(True)
        self.page.wait_for_timeout(4000)
        self.page.reload()
        expect(self.page.locator("html[data-kept]")).to_be_attached()
        expect(self.page.locator("#main[data-offset]")).to_be_attached()  # it ticks
        elapsed = self.page.locator(f"#clock-{clock.pk} [data-elapsed]").inner_text()
        minutes, _, seconds = elapsed.partition(":")
        shown = int(minutes.split()[0]) * 60 + int(seconds or 0)
        self.assertAlmostEqual(shown, (timezone.now() - due).total_seconds(), delta=60 if not seconds else 3)
        words = self.page.locator(f"#clock-{clock.pk} .clock-words")
        expect(words).to_contain_text("Now:")
        self.assertIn(self.page.locator("#main").get_attribute("data-calling"), ("call", "alarm"))

    def test_what_is_not_kept_says_so_and_what_was_kept_goes_with_who_signed_in(self) -> None:
        visit = Studio(self.person).poured()
        self.open_and_keep("pour:pour", visit.pk)
        self.context.set_offline(True)
        self.page.goto(self.live_server_url + reverse("cards:list"))
        expect(self.page.get_by_role("heading", name="There is no connection")).to_be_visible()
        self.page.go_back()
        expect(self.page.locator("html[data-kept]")).to_be_attached()
        self.context.set_offline(False)
        expect(self.page.locator("html[data-kept]")).to_have_count(0)
        self.page.get_by_role("button", name="Sign out").click()
        expect(self.page.get_by_role("heading", name="Rainshade")).to_be_visible()
        self.page.wait_for_function("async () => !(await caches.keys()).some((name) => name.startsWith('kept:'))")
        self.context.set_offline(True)
        self.page.goto(self.live_server_url + reverse("pour:pour", args=[visit.pk]))
        expect(self.page.get_by_role("heading", name="There is no connection")).to_be_visible()

    def test_it_can_be_installed(self) -> None:
        address = self.page.locator("link[rel=manifest]").get_attribute("href")
        told = self.page.evaluate("async (address) => (await fetch(address)).json()", address)
        self.assertEqual((told["name"], told["display"], told["scope"]), ("Rainshade", "standalone", "/"))
        for icon in told["icons"]:
            answer = self.page.request.get(self.live_server_url + icon["src"])
            self.assertEqual((answer.status, answer.headers["content-type"]), (200, "image/png"))
