"""The Bench through the real interface: steering, lifting advice, mending, zones, photos, two tablets."""

import io
import re

from PIL import Image
from playwright.sync_api import expect

from studio.guesses.models import Guess
from studio.head.models import Bowl, Coat, Portion
from studio.visits.models import Reading
from tests.journeys.base import JourneyCase

FIELDS = {"Depth": "id_lightness", "Strength": "id_chroma", "Hue°": "id_hue"}


def photo() -> bytes:
    """White paper in yellow light on the left, pink hair on the right."""
    image = Image.new("RGB", (500, 300), (205, 118, 92))
    image.paste((236, 214, 176), (0, 0, 240, 300))
    kept = io.BytesIO()
    image.save(kept, "PNG")
    return kept.getvalue()


class Bench(JourneyCase):
    def heading(self):
        return self.page.get_by_role("heading", level=1)

    def poured(self) -> dict[str, float]:
        rows = Portion.objects.filter(bowl__worktop__visit__client__name="Maud Okonjo-Hale")
        return {name: float(grams) for name, grams in rows.values_list("shade__name", "grams")}

    def read_level(self, level: str) -> None:
        self.page.get_by_role("link", name="Maud Okonjo-Hale").click()
        self.start_visit()
        self.page.get_by_role("button", name=f"Level {level},").click()
        self.page.get_by_role("link", name="To the Bench").click()
        self.await_bench(self.page)

    def test_a_cool_pastel_on_a_warm_level_nine_is_told_to_lift_and_what_the_warmth_does(self) -> None:
        self.sign_in()
        self.read_level("9")
        self.aim(76, 14, 315)
        expect(self.page.locator(".need")).to_contain_text(re.compile(r"Lift to level (9\.\d|1\d)"))
        self.page.keyboard.press("7")
        self.page.keyboard.press("ArrowUp")
        expect(self.page.locator(".bowl-why")).to_contain_text("the yellow left at level 9")
        expect(self.page.locator("#wheel")).to_be_visible()
        self.assert_accessible()
        self.page.locator("#open-warmth").click()
        expect(self.page.locator("[data-ways] .answer")).to_have_count(3)
        expect(self.page.locator("[data-ways]")).to_contain_text("Tone first")
        self.assert_accessible()
        self.page.keyboard.press("Escape")
        expect(self.page.locator("[data-ways]")).to_have_count(0)

    def test_a_key_pressed_before_the_script_is_there_still_pours(self) -> None:
        self.sign_in()
        self.open_bench()
        held = []
        self.page.route("**/bench.js", lambda route: held.append(route))
        self.page.reload(wait_until="commit")
        expect(self.page.locator("#bowl")).to_be_visible()
        self.page.keyboard.press("5")
        self.page.keyboard.press("ArrowUp")
        self.assertEqual(len(held), 1)
        held[0].continue_()
        expect(self.page.locator(".bowl-pours")).to_contain_text("1.0 g Cochineal")
        self.assertEqual(self.poured(), {"Cochineal": 1.0})

    def test_an_over_pink_bowl_is_mended_by_additions_only(self) -> None:
        self.sign_in()
        self.open_bench()
        self.aim(70, 22, 15)
        for key, grams in (("6", "3"), ("c", "57")):
            self.page.keyboard.press(key)
            expect(self.page.locator("#id_grams")).to_have_value("")
            self.page.locator("#id_grams").fill(grams)
            self.page.locator("#id_grams").press("Enter")
            expect(self.page.locator(".bowl-pours")).to_contain_text(f"{grams}.0 g")
            self.page.locator("#id_grams").blur()
        self.page.get_by_role("button", name="It is mixed").click()
        expect(self.page.get_by_role("button", name="It is mixed")).to_have_attribute("aria-pressed", "true")
        self.page.keyboard.press("6")
        self.page.keyboard.press("ArrowDown")
        expect(self.page.get_by_role("alert").filter(has_text="mixed in already")).to_be_visible()
        self.page.keyboard.press("a")
        expect(self.page.locator("[data-mending]")).to_contain_text("g Clear")
        self.assert_accessible()
        self.page.keyboard.press("1")
        expect(self.page.locator("[data-mending]")).to_have_count(0)
        after = self.poured()
        self.assertEqual(after["Orchil"], 3)
        self.assertGreater(after["Clear"], 57)
        self.page.keyboard.press("u")
        expect(self.page.locator(".bowl-pours")).to_contain_text("57.0 g Clear")

    def test_by_keys_alone_a_guess_is_written_down_before_the_forecast_is_seen(self) -> None:
        self.sign_in()
        self.open_bench()
        self.page.keyboard.press("g")
        expect(self.page.locator("#figure-then")).to_contain_text("You expect")
        expect(self.page.locator("#uncover")).to_be_disabled()
        self.page.keyboard.press("6")
        self.page.keyboard.press("ArrowUp")
        expect(self.heading()).to_have_text("What will it give?")
        expect(self.page.locator(".fix, #wheel, #hit, .mark-way")).to_have_count(0)
        self.assert_accessible()
        for name, number in (("Depth", "40"), ("Strength", "45"), ("Hue°", "345")):
            self.tab_to(lambda focused, name=name: focused["id"] == FIELDS[name])
            self.page.keyboard.type(number)
        self.page.keyboard.press("Enter")
        expect(self.page.locator("#lock-then use").first).to_be_attached()
        self.tab_to(lambda focused: focused["id"] == "uncover")
        self.page.keyboard.press("Enter")
        expect(self.page.locator(".bowl-why")).to_contain_text("You expected it")
        expect(self.page.locator("#figure-then")).to_contain_text("Forecast")
        guess = Guess.objects.get()
        self.assertEqual(float(guess.expected_l), 40.0)
        self.assertIsNotNone(guess.shown_at)

    def test_escape_leaves_a_field_and_keys_count_again(self) -> None:
        self.sign_in()
        self.open_bench()
        self.page.keyboard.press("d")
        depth = self.page.get_by_label("Depth", exact=True)
        depth.fill("35")
        depth.press("Escape")
        self.page.keyboard.press("s")
        expect(self.page.locator("#wheel")).to_be_visible()

    def test_a_three_zone_melt_from_a_deep_root_to_pale_ends(self) -> None:
        self.sign_in()
        self.open_bench()
        self.aim(68, 24, 5)
        self.page.keyboard.press("h")
        expect(self.page.locator("[data-answers]")).to_be_visible()
        self.page.keyboard.press("1")
        expect(self.page.locator("[data-answers]")).to_have_count(0)
        self.page.locator("#open-zones").click()
        self.page.get_by_role("button", name="Split into roots, mids, ends").click()
        expect(self.page.locator(".zone-tab")).to_have_count(3)
        self.assert_accessible()
        self.page.get_by_role("link", name="Read its hair").click()
        self.page.get_by_role("button", name="Level 7,").click()
        expect(self.page.get_by_role("button", name="Level 7,")).to_have_attribute("aria-pressed", "true")
        self.page.get_by_role("link", name="To the Bench").click()
        self.await_bench(self.page)
        expect(self.page.locator("#tress-labels")).to_contain_text("roots")
        self.page.locator("#open-zones").click()
        self.page.get_by_role("button", name="A bowl of its own").click()
        expect(self.page.locator(".zone-tab").first).to_contain_text("A")
        expect(self.page.locator(".zone-tab").nth(1)).to_contain_text("B")
        self.page.get_by_label("Seam below it").fill("30")
        self.page.get_by_role("button", name="Set seam").click()
        expect(self.page.get_by_label("Seam below it")).to_have_value("30")
        self.page.keyboard.press("Escape")
        expect(self.page.locator("#panel")).to_have_count(0)
        before = self.forecast_colours()
        self.page.get_by_role("button", name="1 g of Logwood").click()
        expect(self.page.locator(".bowl-pours")).to_contain_text("1.0 g Logwood")
        self.assertNotEqual(self.forecast_colours(), before)
        self.page.keyboard.press("z")
        expect(self.page.locator(".zone-tab[aria-current=true]")).to_contain_text("mids")
        expect(self.page.locator(".bowl-pours")).not_to_contain_text("Logwood")
        self.page.keyboard.press("l")
        expect(self.page.locator("[data-light][aria-current=true]")).to_have_text("Salon")
        self.assert_accessible()
        self.page.get_by_role("button", name="Keep", exact=True).click()
        expect(self.page.locator(".formula")).to_have_count(3)
        self.assertEqual(
            Coat.objects.get(zone__name="roots", zone__visit__client__name__startswith="Maud").blend_percent, 30
        )
        self.assertEqual(Bowl.objects.filter(worktop__visit__client__name="Maud Okonjo-Hale").count(), 2)
        levels = Reading.objects.filter(zone__visit__client__name="Maud Okonjo-Hale", zone__removed=False)
        self.assertEqual({float(level) for level in levels.values_list("level", flat=True)}, {7.0, 10.0})

    def test_a_photo_with_white_paper_gives_the_aim(self) -> None:
        self.sign_in()
        self.open_bench()
        self.page.locator("#open-photo").click()
        self.page.locator("#id_photo").set_input_files({"name": "wish.png", "mimeType": "image/png", "buffer": photo()})
        self.page.get_by_role("button", name="Take this photo").click()
        expect(self.page.locator("[data-photo]")).to_contain_text("Tap the white paper")
        self.assert_accessible()
        self.page.locator(".photo-tap").click(position={"x": 100, "y": 150})
        expect(self.page.locator("[data-photo]")).to_contain_text("Tap the hair")
        self.page.locator(".photo-tap").click(position={"x": 400, "y": 150})
        expect(self.page.locator("#lock-aim use").first).to_be_attached()
        self.assertGreater(float(self.page.get_by_label("Strength", exact=True).input_value()), 10)

    def test_a_quick_correction_is_a_tap_away_and_follows_every_pour(self) -> None:
        self.sign_in()
        self.open_bench()
        self.aim(66, 26, 0)
        self.page.keyboard.press("6")
        for _ in range(3):
            self.page.keyboard.press("ArrowUp")
        expect(self.page.locator("[data-fix='1']:enabled")).to_contain_text("Clear")
        self.page.locator("[data-fix='1']").click()
        expect(self.page.locator(".bowl-pours")).to_contain_text("Clear")
        expect(self.page.locator(".fixes[data-pending]")).to_have_count(0)
        self.assertGreater(self.poured()["Clear"], 3)

    def test_an_earlier_colour_of_the_client_becomes_the_aim(self) -> None:
        self.sign_in()
        self.open_bench("Ilka Brandt")
        self.page.locator(".earlier-aim").first.click()
        expect(self.page.locator("#lock-aim use").first).to_be_attached()

    def test_washes_are_dragged_and_the_shelf_is_searched(self) -> None:
        self.sign_in()
        self.open_bench()
        self.page.keyboard.press("/")
        self.page.keyboard.type("wo")
        expect(self.page.locator(".rail-row:visible")).to_have_count(
            3
        )  # Woad, Logwood, and the conditioner of soapwort
        self.page.keyboard.press("Enter")
        expect(self.page.locator(".rail-row:visible")).to_have_count(14)
        expect(self.page.locator("#stepper-name")).to_have_text("Woad")
        self.page.keyboard.press("ArrowUp")
        expect(self.page.locator(".bowl-pours")).to_contain_text("1.0 g Woad")
        fresh = self.forecast_colours()
        self.page.get_by_label("After", exact=True).fill("10")
        expect(self.heading()).to_contain_text("After 10 washes")
        self.assertNotEqual(self.forecast_colours(), fresh)
        self.page.keyboard.press("?")
        expect(self.page.locator("#keys")).to_be_visible()
        self.page.keyboard.press("Escape")
        expect(self.page.locator("#keys")).to_be_hidden()

    def test_an_answer_that_was_lost_on_the_way_pours_nothing_twice(self) -> None:
        self.sign_in()
        self.open_bench()
        lost = []

        def lose(route) -> None:
            if lost:
                route.continue_()
            else:
                lost.append(route.fetch())  # the server has poured, its answer gets lost
                route.abort()

        self.page.route("**/pour/", lose)
        self.page.keyboard.press("4")
        self.page.keyboard.press("ArrowUp")
        expect(self.page.locator("#outbox")).to_be_visible()
        self.page.keyboard.press("ArrowUp")
        expect(self.page.locator(".bowl-pours")).to_contain_text("2.0 g Madder")
        expect(self.page.locator("#outbox")).to_be_hidden()
        expect(self.page.get_by_role("alert").filter(has_text="another window")).to_have_count(0)
        self.assertEqual(self.poured(), {"Madder": 2.0})

    def test_two_tablets_on_one_head_are_told_of_one_another(self) -> None:
        self.sign_in()
        self.open_bench()
        other = self.new_page()
        other.goto(self.page.url)
        self.await_bench(other)
        self.page.locator("#open-zones").click()
        self.page.get_by_role("button", name="Split into roots, lengths").click()
        expect(self.page.locator(".zone-tab")).to_have_count(2)
        other.keyboard.press("4")
        other.keyboard.press("ArrowUp")
        expect(other.get_by_role("alert").filter(has_text="no longer on this head")).to_be_visible()
        expect(other.locator(".zone-tab")).to_have_count(2)
        self.assertEqual(self.poured(), {})

    def test_the_bench_fits_a_tablet_and_a_laptop_without_scrolling(self) -> None:
        self.sign_in()
        self.open_bench()
        for width, height in ((1280, 800), (1024, 768)):
            self.page.set_viewport_size({"width": width, "height": height})
            over = self.page.evaluate(
                "() => { const e = document.documentElement;"
                " return [e.scrollWidth - innerWidth, e.scrollHeight - innerHeight] }"
            )
            self.assertLessEqual(max(over), 0, (width, over))
