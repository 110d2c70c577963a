"""Taps and typing that meet a lost connection, a resting database, a signed-out session or a slow answer arrive."""

import re
from collections.abc import Callable
from decimal import Decimal

from django.urls import reverse
from django.utils import timezone
from playwright.sync_api import Route, expect

from studio.accounts.models import Person, SignedIn
from studio.cards.models import Formula
from studio.head.models import Bowl
from studio.pour.models import Batch, Weighing
from tests.demo import PASSWORD
from tests.journeys.states import Studio
from tests.journeys.troubled import Troubled


class Parts(Troubled):
    def missing(self, where: str, trouble: Callable[[Route], None]) -> list[Route]:
        """From now on a part does not come; returns each time that it was asked for."""
        asked: list[Route] = []
        self.page.route(where, lambda route: (asked.append(route), trouble(route)))
        return asked

    def test_missed_corrections_and_cautions_come_by_key_and_by_tap(self) -> None:
        self.open_bench()
        self.aim(60, 25, 5)
        self.page.get_by_role("link", name="Wheel").click()
        for place, said in (("fixes", "Quick corrections"), ("gates", "What to take care of")):
            asked = self.missing(f"**/bench/{place}/**", lambda route: route.fulfill(status=500, body="broken"))
            if place == "gates":
                self.page.reload()
            self.page.keyboard.press("4")
            self.page.keyboard.press("ArrowUp")
            missed = self.page.locator(".missed", has_text=said)
            again = missed.get_by_role("button")
            expect(again).to_have_text("Ask again")
            self.page.wait_for_load_state("networkidle")  # a pour's answer asks for them once more
            times = len(asked)
            again.press("Enter")
            expect(again).to_have_text("Ask again")
            expect(again).to_be_focused()
            self.assertEqual(len(asked), times + 1)
            self.page.unroute(f"**/bench/{place}/**")
            if place == "fixes":
                again.press("Enter")
                expect(self.page.locator(".fixes .fix").first).to_be_enabled()
            else:
                again.click()
            expect(missed).to_have_count(0)

    def test_a_part_that_did_not_come_says_so_and_is_asked_for_again(self) -> None:
        visit, _ = Studio(self.person).kept()
        gone = '<!DOCTYPE html><html><body><main id="main">There is nothing here</main></body></html>'
        for trouble in (
            lambda route: route.abort(),
            lambda route: route.fulfill(status=500, body="broken"),
            lambda route: route.fulfill(status=404, body=gone, content_type="text/html"),
        ):
            asked = self.missing("**/care/mask/**", trouble)
            self.page.goto(f"{self.live_server_url}{reverse('result:care', args=[visit.pk])}")
            again = self.page.get_by_role("button", name="Ask again")
            expect(again).to_be_visible()
            expect(self.page.get_by_text("The mask: this did not come.")).to_be_visible()
            expect(self.page.get_by_text("Being reckoned")).to_have_count(0)
            expect(self.page.locator("#main")).to_have_count(1)  # no page in the page
            again.click()
            expect(again).to_have_text("Ask again")
            self.assertEqual(len(asked), 2)
            self.page.unroute("**/care/mask/**")
            again.click()
            expect(self.page.get_by_text("Direct dye in conditioner")).to_be_visible()
            expect(again).to_have_count(0)

    def test_the_second_tap_of_a_double_tap_does_not_take_the_next_screens_step(self) -> None:
        """The first led from the Clock to the Result; there the next step, which keeps a card, is under the finger."""
        visit = Studio(self.person).rinsed()
        self.page.goto(f"{self.live_server_url}{reverse('clocks:clock', args=[visit.pk])}")
        self.page.get_by_role("link", name="Judge the result").click()
        keep = self.page.get_by_role("button", name="Keep, and hand over")
        expect(keep).to_be_visible()
        box = keep.bounding_box()
        at = [box["x"] + box["width"] / 2, box["y"] + box["height"] / 2]
        led_here = """([x, y, sinceMs]) => {
          sessionStorage.setItem("next", JSON.stringify([performance.timeOrigin - 100, x, y]));
          Date.now = () => performance.timeOrigin - 100 + sinceMs;
        }"""
        self.page.evaluate(led_here, [*at, 300])
        keep.click()
        self.page.wait_for_timeout(300)
        self.assertFalse(Formula.objects.filter(visit=visit).exists())
        self.page.reload()
        self.page.evaluate(led_here, [*at, 1000])
        keep.click()
        expect(self.page.get_by_role("heading", name="Care")).to_be_visible()
        self.assertTrue(Formula.objects.filter(visit=visit).exists())

    def test_nothing_moves_under_a_finger_that_is_down(self) -> None:
        visit = Studio(self.person).rinsed()
        page, held = self.page, self.missing("**/result/fixes/**", lambda route: None)
        page.goto(f"{self.live_server_url}{reverse('result:result', args=[visit.pk])}")
        page.get_by_label("What to do otherwise").fill("a little less pink")
        box = page.get_by_role("button", name="Note", exact=True).bounding_box()
        page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
        page.mouse.down()
        with page.expect_response("**/result/fixes/**"):
            held[0].continue_()
        page.wait_for_timeout(200)
        expect(page.locator("#fixes")).to_contain_text("Reckoning")
        page.unroute("**/result/fixes/**")
        page.mouse.up()
        expect(page.get_by_role("button", name="Noted: change it")).to_be_visible()
        expect(page.locator("#fixes")).not_to_contain_text("Reckoning")

    def test_a_part_that_was_shown_whole_meanwhile_is_not_filled_again(self) -> None:
        self.open_bench()
        self.aim(60, 25, 5)
        held = self.missing("**/bench/fixes/**", lambda route: None)
        self.page.keyboard.press("6")
        with self.page.expect_request("**/bench/fixes/**"):
            self.page.keyboard.press("ArrowUp")
        self.page.get_by_role("link", name="Salon", exact=True).click()
        expect(self.page.locator(".fixes .fix").first).to_be_visible()
        with self.page.expect_response("**/bench/fixes/**"):
            held[0].continue_()
        expect(self.page.locator(".fixes")).to_have_count(1)

    def test_an_answer_whose_link_is_gone_takes_the_place_of_the_page(self) -> None:
        """On a busy machine another answer takes the link away first; the page came inside of the page then."""
        self.open_bench()
        self.hold(self.page, lambda route: "light=" in route.request.url)
        with self.page.expect_request("**/bench/**light=*"):
            self.page.get_by_role("link", name="Salon", exact=True).click()
        self.page.evaluate("document.querySelectorAll('[data-light]').forEach((link) => link.remove())")
        self.let_go(self.page)
        expect(self.page.locator("[data-light][aria-current=true]")).to_have_text("Salon")
        expect(self.page.locator("main main")).to_have_count(0)


class Taps(Troubled):
    def setUp(self) -> None:
        super().setUp()
        self.open_bench()

    def tap(self, key: str, times: int = 1) -> None:
        self.page.keyboard.press(key)
        for _ in range(times):
            self.page.keyboard.press("ArrowUp")

    def test_taps_while_the_records_rest_are_told_kept_and_poured(self) -> None:
        for status in (0, 500, 503, 429):
            with self.subTest(status=status):
                before = self.grams("Orchil")
                self.trouble(self.page, status)
                self.tap("6", 3)
                expect(self.page.locator("#outbox")).to_be_visible()
                expect(self.page.locator("#outbox li")).to_contain_text([re.compile("g Orchil")])
                self.page.unroute("**/*")
                expect(self.page.locator("#outbox")).to_be_hidden()
                self.expect_grams(self.page, "Orchil", f"{before + 3:.1f}")
                self.assertEqual(self.grams("Orchil"), before + 3)

    def test_taps_after_signing_out_elsewhere_lead_to_sign_in_and_back_and_are_poured(self) -> None:
        SignedIn.objects.all().delete()
        self.tap("6", 2)
        banner = self.page.locator("#outbox")
        expect(banner.get_by_text("You are signed out")).to_be_visible()
        self.tap("c", 5)
        banner.get_by_role("link", name="Sign in").click()
        self.page.get_by_label("Name").fill("lantern")
        self.page.get_by_label("Password").fill(PASSWORD)
        self.page.get_by_role("button", name="Sign in").click()
        self.await_bench(self.page)
        self.expect_grams(self.page, "Orchil", "2.0")
        self.expect_grams(self.page, "Clear", "5.0")
        expect(self.page.locator("#outbox")).to_be_hidden()

    def test_signing_in_anew_in_another_tab_is_enough(self) -> None:
        SignedIn.objects.all().delete()
        self.tap("6")
        expect(self.page.locator("#outbox").get_by_text("You are signed out")).to_be_visible()
        other, self.page = self.page, self.new_page()
        self.sign_in()
        expect(other.locator("#outbox")).to_be_hidden()
        self.expect_grams(other, "Orchil", "1.0")

    def test_what_one_person_tapped_is_never_sent_for_another(self) -> None:
        Person.objects.create_user(username="harbour", password=PASSWORD, studio=self.person.studio)
        SignedIn.objects.all().delete()
        self.tap("6")
        self.page.locator("#outbox").get_by_role("link", name="Sign in").click()
        self.page.get_by_label("Name").fill("harbour")
        self.page.get_by_label("Password").fill(PASSWORD)
        self.page.get_by_role("button", name="Sign in").click()
        self.await_bench(self.page)
        expect(self.page.locator("#outbox p:visible")).to_contain_text("Isolde Tamm")
        self.assertEqual(self.grams("Orchil"), 0)

    def test_a_tab_that_was_closed_leaves_its_taps_to_the_next_one(self) -> None:
        address = self.page.url
        self.trouble(self.page, 0)
        self.tap("6", 2)
        expect(self.page.locator("#outbox")).to_be_visible()
        fresh = self.new_page()
        self.page.close()
        fresh.goto(address)
        self.expect_grams(fresh, "Orchil", "2.0")

    def test_a_refused_tap_does_not_take_the_next_ones_with_it(self) -> None:
        self.slowly(self.page)
        self.page.locator("#id_grams").fill("2000")
        self.page.locator("#set-grams").click()
        self.tap("c", 4)
        self.let_go(self.page)
        self.expect_grams(self.page, "Clear", "4.0")

    def test_steps_tapped_before_anothers_change_was_seen_are_asked_about(self) -> None:
        self.slowly(self.page)
        self.tap("6", 1)
        self.tap("c", 7)
        other = self.new_page()
        other.goto(self.page.url)
        self.await_bench(other)
        other.keyboard.press("4")
        other.keyboard.press("ArrowUp")
        self.expect_grams(other, "Madder", "1.0")
        self.let_go(self.page)
        banner = self.page.locator("#outbox")
        expect(banner.get_by_text("another hand")).to_be_visible()
        expect(banner.locator("li")).to_have_text([re.compile(r"^\+7 g Clear at \d\d:\d\d$")])
        banner.get_by_role("button", name="Make them").click()
        self.expect_grams(self.page, "Clear", "7.0")
        self.assertEqual(self.grams("Orchil"), 0)

    def test_a_fault_of_ours_that_stays_can_be_let_go(self) -> None:
        self.page.route("**/bench/pour/", lambda route: route.fulfill(status=500, body="broken"))
        self.tap("6")
        banner = self.page.locator("#outbox")
        expect(banner.locator("li")).to_have_text([re.compile(r"^\+1 g Orchil at \d\d:\d\d$")])
        expect(banner.get_by_text("again and again")).to_be_visible()
        banner.get_by_role("button", name="Let them go").click()
        expect(banner).to_be_hidden()
        self.page.unroute("**/bench/pour/")
        self.tap("c")
        self.expect_grams(self.page, "Clear", "1.0")


class FastLinks(Troubled):
    def test_links_of_the_bench_tapped_before_the_page_came_all_count(self) -> None:
        self.open_bench()
        held: list[Route] = []
        self.page.route("**/bench/?mode=aim**", lambda route: held.append(route))
        with self.page.expect_request("**/bench/?mode=aim**"):
            self.page.keyboard.press("d")
        self.page.keyboard.press("l")
        self.page.locator("#open-zones").click()
        held[0].continue_()
        expect(self.page.locator("#panel")).to_be_visible()
        expect(self.page.locator("#plane")).to_have_count(1)
        expect(self.page.locator("[data-light][aria-current]")).to_have_text("Salon")

    def test_keys_count_no_sooner_than_links_are_asked_for_by_script(self) -> None:
        self.open_bench()
        self.page.add_init_script("""
          Object.defineProperty(navigator, "locks", { value: undefined }); // nothing is waited for but the scripts
          new MutationObserver((_, watch) => {
            if (!document.body?.dataset.keys) return;
            watch.disconnect();
            document.body.dispatchEvent(new KeyboardEvent("keydown", { key: "d", bubbles: true }));
          }).observe(document, { subtree: true, attributes: true, attributeFilter: ["data-keys"] });
        """)
        with self.page.expect_request(re.compile("mode=aim")) as asked:
            self.page.reload()
        self.assertEqual(asked.value.headers.get("hx-request"), "true")


class FastTaps(Troubled):
    """Taps on the Pour page that come before the answer to the one before: that page's changes are made once each."""

    def setUp(self) -> None:
        super().setUp()
        self.visit = Studio(self.person).poured()
        self.page.goto(f"{self.live_server_url}{reverse('pour:pour', args=[self.visit.pk])}")

    def weighed(self) -> list[tuple[str, Decimal, bool]]:
        found = Weighing.objects.filter(batch__bowl__worktop__visit=self.visit).order_by("pk")
        return list(found.values_list("shade__name", "poured_g", "taken_back"))

    def test_a_change_tapped_twice_is_made_once_and_another_is_made_too(self) -> None:
        self.slowly(self.page)
        grams, note = self.page.get_by_label("Typed"), self.page.get_by_role("button", name="Add", exact=True)
        for typed in ("3", "3", "1"):
            grams.fill(typed)
            note.click()
        self.let_go(self.page)
        expect(self.page.locator(".pour-line .figure").first).to_have_text("4.0")
        self.assertEqual(self.weighed(), [("Orchil", Decimal(3), False), ("Orchil", Decimal(1), False)])

    def test_a_weight_that_the_server_does_not_take_lies_on_the_scale_as_before(self) -> None:
        page, alert = self.page, self.page.locator("[data-scale-error]")
        page.locator("summary", has_text="Simulated scale").click()
        page.get_by_role("button", name="a squeeze", exact=True).click()
        expect(page.locator("#scale")).to_contain_text("at rest")
        elsewhere = Batch.objects.create(
            bowl=Bowl.objects.get(worktop__visit=self.visit), number=1, mixed_at=timezone.now()
        )
        page.get_by_role("button", name="Add from the scale").click()
        expect(page.get_by_role("alert").first).to_be_visible()
        elsewhere.delete()
        page.reload()
        expect(page.locator("[data-grams]")).to_have_text("1.0")
        page.locator("summary", has_text="Simulated scale").click()
        for fault, words in (("never settles", "not come to rest"), ("is unplugged", "does not answer")):
            page.get_by_role("button", name=fault).click()
            page.get_by_role("button", name="Add from the scale").click()
            expect(alert).to_contain_text(words)
            self.assertEqual(alert.inner_text().count("type the weight"), 1)
        page.get_by_role("button", name="works", exact=True).click()
        expect(page.locator("#scale")).to_contain_text("at rest")
        button = page.get_by_role("button", name="Add from the scale")
        button.dblclick()
        expect(page.locator(".pour-wanted")).to_contain_text("g are in")
        expect(page.locator("[data-grams]")).to_have_text("0.0")
        self.assertEqual(self.weighed(), [("Orchil", Decimal("1.0"), False)])

    def test_weights_that_the_server_has_not_answered_are_off_the_scale_and_each_is_kept(self) -> None:
        self.trouble(self.page, 503)
        self.page.locator("summary", has_text="Simulated scale").click()
        for _ in range(2):  # the same weight twice is two squeezes
            self.page.get_by_role("button", name="a squeeze", exact=True).click()
            expect(self.page.locator("#scale")).to_contain_text("1.0 g at rest")
            self.page.get_by_role("button", name="Add from the scale").click()
            expect(self.page.locator("[data-grams]")).to_have_text("0.0")
        expect(self.page.locator("#outbox")).to_contain_text("Add from the scale")
        self.page.unroute_all()
        expect(self.page.locator(".pour-line .figure").first).to_have_text("2.0")
        expect(self.page.locator("#outbox")).to_be_hidden()
        self.assertEqual(self.weighed(), [("Orchil", Decimal("1.0"), False)] * 2)
        expect(self.page.locator("[data-grams]")).to_have_text("0.0")

    def test_every_squeeze_on_the_simulated_scale_counts(self) -> None:
        self.page.locator("summary", has_text="Simulated scale").click()
        self.slowly(self.page)
        for name in ("a squeeze", "a squeeze", "a drop", "a squeeze"):
            self.page.get_by_role("button", name=name, exact=True).click()
        self.let_go(self.page)
        expect(self.page.locator("#scale")).to_contain_text("3.1")
        self.page.reload()
        expect(self.page.locator("#scale")).to_contain_text("3.1")  # what lies on it lies there, whatever the page does
