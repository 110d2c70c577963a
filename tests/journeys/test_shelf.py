"""A studio that has nothing puts its first line on the shelf and mixes with it at once."""

from typing import Final

from playwright.sync_api import expect

from studio.accounts.models import Studio
from studio.clients.services.add_client import add_client
from studio.head.models import Bowl
from studio.shelf.models import Shade, ShadeLine
from tests.journeys.base import JourneyCase
from tests.journeys.test_taps import COUNTS

PRESSES_MOST: Final = 40  # a list that is pasted counts as one
TWELVE: Final = "\n".join(
    f"{name}\tQ{place}\t\t{tone}\t100\t5.40"
    for place, (name, tone) in enumerate(
        (
            ("Gorse", "yellow"),
            ("Beacon", "orange"),
            ("Rust Bucket", "copper"),
            ("Port Light", "red"),
            ("Sea Pink", "pink"),
            ("Foxglove", "magenta"),
            ("Dusk", "violet"),
            ("Deep Water", "blue"),
            ("Shoal", "turquoise"),
            ("Weed", "green"),
            ("Tar", "black"),
            ("Spring Water", "clear"),
        ),
        1,
    )
)


class FirstLine(JourneyCase):
    def setUp(self) -> None:
        super().setUp()
        self.person.studio = Studio.objects.create(name="Bare Boards", town="Port Sennet")
        self.person.save()
        add_client(self.person, name="Nib Sallow", about="glockenspiel")
        self.page.add_init_script(COUNTS)
        self.sign_in()

    def test_twelve_tubes_are_mixed_with_in_forty_presses_or_fewer(self) -> None:
        page = self.page
        page.evaluate("sessionStorage.setItem('taps', 0)")
        page.get_by_role("link", name="Shelf", exact=True).click()
        self.assert_accessible()
        page.get_by_role("link", name="The first line").click()
        page.get_by_label("Name of the new line").fill("Quayside")
        page.locator("#id_tubes").fill(TWELVE)
        page.get_by_role("button", name="See what it says").click()
        expect(page.get_by_text("12 tubes read")).to_be_visible()
        self.assert_accessible()
        page.get_by_role("button", name="Put 12 on the shelf").click()
        expect(page.get_by_text("Take them off again")).to_be_visible()
        expect(page.locator(".shelf-row")).to_have_count(12)
        self.assert_accessible()
        page.get_by_role("link", name="Cards", exact=True).click()
        page.get_by_role("link", name="Nib Sallow").click()
        self.start_visit()
        page.get_by_role("button", name="Level 10,").click()
        page.get_by_role("link", name="To the Bench").click()
        self.await_bench(page)
        page.locator(".rail-row", has_text="Sea Pink").click()
        page.locator("button[name=by]", has_text="+1").click()
        expect(page.locator(".bowl-pours")).to_contain_text("1.0 g Sea Pink")
        expect(page.locator("#bowl")).to_contain_text("Sea Pink guessed by name")
        presses = int(page.evaluate("sessionStorage.getItem('taps')"))
        self.assertLessEqual(presses, PRESSES_MOST)
        self.assertGreater(presses, 12, "they were counted")
        self.assertEqual(Bowl.objects.get(worktop__visit__client__name="Nib Sallow").line.name, "Quayside")

    def test_by_keys_alone_a_list_is_put_on_set_right_and_taken_off_again(self) -> None:
        page = self.page
        page.goto(f"{self.live_server_url}/shelf/add/")
        self.tab_to(lambda each: each["id"] == "id_line_name")
        page.keyboard.type("Quayside")
        self.tab_to(lambda each: each["id"] == "id_tubes")
        page.keyboard.type("Sea Pink\nLoud;;;noise")
        self.tab_to(lambda each: each["text"].startswith("See what"))
        page.keyboard.press("Enter")
        expect(page.get_by_text("noise")).to_have_count(2)  # told, and still in what was typed
        page.locator("#id_tubes").press("Control+a")
        page.keyboard.type("Sea Pink\nFoam clear")
        self.tab_to(lambda each: each["text"].startswith("Read it again"))
        page.keyboard.press("Enter")
        expect(page.get_by_text("2 tubes read.")).to_be_visible()
        self.tab_to(lambda each: each["text"].startswith("Put 2"))
        page.keyboard.press("Enter")
        expect(page.locator(".shelf-row")).to_have_count(2)
        self.tab_to(lambda each: each["text"].startswith("Sea Pink"))
        page.keyboard.press("Enter")
        expect(page.get_by_role("heading", name="How well it is known")).to_be_visible()
        self.assert_accessible()
        page.get_by_label("Code").fill("Q7")
        page.keyboard.press("Enter")
        expect(page.get_by_role("status").last).to_contain_text("kept")
        self.assertEqual(Shade.objects.get(name="Sea Pink").code, "Q7")
        page.goto(f"{self.live_server_url}/shelf/?taken={ShadeLine.objects.get(name='Quayside').lists.get().pk}")
        self.tab_to(lambda each: each["text"].startswith("Take them off"))
        page.keyboard.press("Enter")
        expect(page.get_by_text("Nothing is on the shelf yet")).to_be_visible()

    def test_a_delivery_is_booked_in_and_counted_on_the_scale(self) -> None:
        page = self.page
        page.goto(f"{self.live_server_url}/shelf/add/")
        page.get_by_label("Name of the new line").fill("Quayside")
        page.locator("#id_tubes").fill("Sea Pink\nFoam clear")
        page.get_by_role("button", name="See what it says").click()
        page.get_by_role("button", name="Put 2 on the shelf").click()
        page.get_by_role("link", name="Sea Pink").click()
        page.locator("#id_tubes").fill("2")
        page.get_by_label("Number on the tube").fill("L77")
        page.get_by_role("button", name="Book in").click()
        expect(page.locator(".tube-stock")).to_contain_text("180 g left")
        page.get_by_role("link", name="Count on the scale").click()
        page.get_by_text("Simulated scale").click()
        page.get_by_role("button", name="10 g", exact=True).click()
        expect(page.locator("#scale")).to_contain_text("10.0 g at rest")
        self.assert_accessible()
        page.get_by_label("Full tubes").fill("2")
        page.get_by_role("button", name="These, and what is on the scale").click()
        expect(page.get_by_role("heading", name="Count Foam clear")).to_be_visible()
        expect(page.get_by_role("status").last).to_contain_text("122 g, -58 g to the record")
        page.get_by_role("button", name="No open tube").click()
        expect(page.get_by_role("heading", name="Shelf")).to_be_visible()
        expect(page.locator(".shelf-row", has_text="Foam")).to_contain_text("running out")
        page.get_by_role("link", name="To order").click()
        expect(page.get_by_role("row", name="Foam clear")).to_contain_text("2 × 60 g")
        self.assert_accessible()
        pink = Shade.objects.get(name="Sea Pink")
        self.assertEqual([move.kind for move in pink.moves.all()], ["counted", "delivered", "delivered"])
