"""Take the pictures of docs/screenshots from the demo data, at 1280 x 800.

Start ./run --reset first, then: .venv/bin/python tools/screenshots.py http://127.0.0.1:8000/ lantern PASSWORD
"""

import re
import sys
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

sys.path.insert(0, str(Path(__file__).resolve().parent.parent))
from tests.browser import browser_path

FOLDER = Path(__file__).resolve().parent.parent / "docs" / "screenshots"
FLAGS = ["--no-sandbox", "--disable-gpu", "--disable-quic", "--disable-background-networking", "--disable-sync"]


def keep(page: Page, name: str) -> None:
    """One picture, once the page has come to rest."""
    page.wait_for_load_state("networkidle")
    page.wait_for_timeout(400)
    page.screenshot(path=FOLDER / f"{name}.png")
    print(name)


def on_bench(page: Page, client: str) -> None:
    """Repeat a client's newest formula, and leave the message about it behind."""
    page.get_by_role("link", name="Cards").first.click()
    page.get_by_role("link", name=client).click()
    page.get_by_role("button", name="Repeat today").first.click()
    page.goto(page.url)


def one_zone(page: Page) -> None:
    """Ilka's pastel: the Bench, its recipes, the aim."""
    on_bench(page, "Ilka Brandt")
    for key in ("5", "ArrowUp", "4", *["Shift+ArrowUp"] * 4):
        page.keyboard.press(key)
    keep(page, "bench")
    page.keyboard.press("h")
    page.wait_for_selector("[data-answers]")
    keep(page, "recipes")
    page.keyboard.press("Escape")
    page.wait_for_selector("#panel", state="detached")
    page.keyboard.press("d")
    page.wait_for_selector("#aim-form")
    page.wait_for_timeout(2000)  # a picture of the plane and what the aim needs come by themselves
    keep(page, "aim")


def six_zones(page: Page) -> None:
    """Odalys' melt, with a face frame, crown and nape."""
    on_bench(page, "Odalys Finch")
    for count, part in enumerate(("frame", "crown", "nape"), start=4):
        if not page.locator("[data-zones]").count():
            page.locator("#open-zones").click()
            page.wait_for_selector("[data-zones]")
        page.locator("#id_part").select_option(part)
        page.get_by_role("button", name="Add zone").click()
        page.wait_for_function("n => document.querySelectorAll('.zone-tab').length === n", arg=count)
    page.keyboard.press("Escape")
    page.wait_for_selector("#panel", state="detached")
    page.locator(".zone-tab").nth(1).click()
    page.wait_for_function("() => document.querySelectorAll('.zone-tab')[1].ariaCurrent === 'true'")
    keep(page, "bench-six-zones")
    page.locator("#open-heads").click()
    page.get_by_role("link", name="To turn to the client").click()
    page.wait_for_selector(".portrait-row")
    keep(page, "head")


def shelf(page: Page) -> None:
    """What was learned, and the Shelf."""
    page.get_by_role("link", name="Learned", exact=True).click()
    page.get_by_text("half of this studio's forecasts").wait_for()
    keep(page, "learned")
    page.get_by_role("link", name="Shelf", exact=True).click()
    page.wait_for_selector(".shelf-row")
    keep(page, "shelf")


def practice(page: Page) -> None:
    """A bowl that got too much of one shade, and two pours into it."""
    page.get_by_role("link", name="Practice", exact=True).click()
    page.get_by_role("button", name="Practise: Rescue the bowl").click()
    for _ in range(2):
        page.locator(".drill-shade").last.get_by_role("button").nth(2).click()
        page.wait_for_load_state("networkidle")
    keep(page, "practice")


def aim_at(page: Page, depth: str, strength: str, hue: str) -> None:
    """Aim by typing, and go to the route."""
    page.get_by_role("link", name="Bench", exact=True).click()
    page.wait_for_selector("body[data-keys]")
    for name, number in (("lightness", depth), ("chroma", strength), ("hue", hue)):
        page.locator(f"#id_{name}").fill(number)
    page.get_by_role("button", name="Aim here").click()
    page.wait_for_selector("#lock-aim use", state="attached")
    page.get_by_role("link", name="Route", exact=True).click()
    page.wait_for_selector("[data-way]")


def front_half(page: Page) -> None:
    """Maud's first visit: consult with a henna history, reading, and two routes."""
    page.get_by_role("link", name="Cards").first.click()
    page.get_by_role("link", name="Maud Okonjo-Hale").click()
    page.get_by_role("button", name="today's visit").click()
    page.get_by_label("Their wish, in their words").fill("A breath of lavender, nothing loud; she plays indoors too.")
    page.get_by_text("frightened").click()
    page.locator("#id_work").select_option("henna")
    page.locator("#id_done_on").fill("2026-02-14")
    page.get_by_role("button", name="Add", exact=True).click()
    page.wait_for_selector("[data-gate=unknown_chemistry]")
    keep(page, "consult")
    page.get_by_role("link", name="Read the hair").click()
    page.get_by_role("button", name="Level 9,").click()
    page.wait_for_selector("button[value='9'][aria-pressed=true]")
    keep(page, "read")
    aim_at(page, "74", "18", "300")
    keep(page, "route")


def planned(page: Page) -> None:
    """Odalys' melt with ends that lag behind: lanes, order and amounts."""
    on_bench(page, "Odalys Finch")
    page.get_by_role("link", name="Read", exact=True).click()
    page.get_by_role("link", name="ends", exact=True).click()
    page.get_by_role("button", name="Level 8,").click()
    page.wait_for_selector("button[value='8'][aria-pressed=true]")
    page.get_by_role("link", name="Plan", exact=True).click()
    page.wait_for_selector(".lane-bar")
    keep(page, "plan")


def back_half(page: Page) -> None:
    """Ilka's pastel again: an over-pour, the result, the hand-out, and the card with all of it."""
    on_bench(page, "Ilka Brandt")
    page.get_by_role("link", name="Pour →").click()
    page.wait_for_selector("#id_grams")
    page.locator("#id_grams").fill("4.5")
    page.get_by_label("Number on the tube").fill("B1207")
    page.get_by_role("button", name="Add", exact=True).click()
    page.wait_for_selector(".pour-over")
    keep(page, "pour")
    page.get_by_role("button", name="Make more").click()
    page.wait_for_selector(".pour-over", state="detached")
    page.locator("#id_grams").fill(page.locator("[name=as_asked]").get_attribute("value") or "")
    page.get_by_role("button", name="Add", exact=True).click()
    page.get_by_role("button", name="It is mixed").click()
    page.get_by_role("link", name="To the Clock").wait_for()
    page.get_by_role("link", name="Result", exact=True).click()
    page.get_by_text("dry", exact=True).click()
    page.get_by_text("in two lights").click()
    page.get_by_role("button", name="deeper", exact=True).click()
    page.wait_for_selector("#lock-actual use")
    page.wait_for_selector(".result-fix, #fixes li")
    keep(page, "result")
    page.get_by_role("button", name="Note", exact=True).click()
    page.get_by_role("button", name="Noted: change it").wait_for()
    page.get_by_role("button", name="Keep, and hand over").click()
    page.get_by_text("swims in pools").click()
    page.get_by_role("link", name="Hand-out").click()
    page.wait_for_selector(".handout")
    keep(page, "hand-out")
    page.get_by_role("link", name="Ilka Brandt").click()
    page.wait_for_selector(".formulas")
    keep(page, "card")


def main(address: str, name: str, password: str) -> None:
    """Walk through the main views."""
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=browser_path(), args=FLAGS)
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(address)
        page.get_by_label("Name").fill(name)
        page.get_by_label("Password").fill(password)
        page.get_by_role("button", name="Sign in").click()
        keep(page, "cards")
        page.get_by_role("link", name="Chairs", exact=True).click()
        page.wait_for_selector(".wall-row")
        keep(page, "chairs")
        page.get_by_role("link", name=re.compile("Clock.*Jory Pennick")).click()
        page.wait_for_selector(".clock-time")
        keep(page, "clock")
        page.goto(address)
        shelf(page)
        page.goto(address)
        one_zone(page)
        six_zones(page)
        practice(page)
        page.goto(address)
        front_half(page)
        planned(page)
        back_half(page)
        browser.close()


if __name__ == "__main__":
    if len(sys.argv) != 4:
        raise SystemExit(__doc__)
    main(*sys.argv[1:])
