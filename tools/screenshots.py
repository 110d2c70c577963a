"""Take the pictures of docs/screenshots from the demo data, at 1280 x 800 and, for the tablet, 1024 x 768.

Start ./run --reset first, then: .venv/bin/python tools/screenshots.py http://127.0.0.1:8000/ lantern PASSWORD
"""

import io
import re
import sys
from pathlib import Path

from PIL import Image, ImageDraw
from playwright.sync_api import Page, sync_playwright

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


def wish() -> bytes:
    """A drawn wish: white paper and a pink lock under a yellow lamp."""
    image = Image.new("RGB", (500, 310), (92, 80, 66))
    draw = ImageDraw.Draw(image)
    draw.rectangle((30, 40, 215, 275), fill=(240, 220, 184))
    draw.rectangle((248, 24, 470, 292), fill=(200, 118, 100))
    for strand in range(250, 466):
        tone = (strand * 37) % 23 - 11
        draw.line(
            (strand, 24, strand - 8 + (strand * 13) % 17, 292), fill=(204 + tone, 122 + tone, 104 + tone), width=2
        )
    kept = io.BytesIO()
    image.save(kept, "PNG")
    return kept.getvalue()


def one_zone(page: Page) -> None:
    """Ilka's pastel: the Bench, its recipes, the aim, an adjustment, a photo."""
    on_bench(page, "Ilka Brandt")
    for key in ("5", "ArrowUp", "4", *["Shift+ArrowUp"] * 4):
        page.keyboard.press(key)
    keep(page, "bench")
    page.keyboard.press("h")
    page.wait_for_selector("[data-answers]")
    keep(page, "recipes")
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Mixed").click()
    page.keyboard.press("a")
    page.wait_for_selector("[data-mending]")
    keep(page, "adjust")
    page.keyboard.press("Escape")
    page.wait_for_selector("#panel", state="detached")
    page.keyboard.press("d")
    page.wait_for_selector("#aim-form")
    page.wait_for_timeout(2000)  # a picture of the plane and what the aim needs come by themselves
    keep(page, "aim")
    page.locator("#open-photo").click()
    page.locator("#id_photo").set_input_files({"name": "wish.png", "mimeType": "image/png", "buffer": wish()})
    page.get_by_role("button", name="Take this photo").click()
    page.locator(".photo-tap").click(position={"x": 120, "y": 150})
    page.get_by_text("Tap the hair.").wait_for()
    keep(page, "photo")


def six_zones(page: Page) -> None:
    """Odalys' melt, with a face frame, crown and nape; then the same on a tablet."""
    on_bench(page, "Odalys Finch")
    for count, part in enumerate(("frame", "crown", "nape"), start=4):
        if not page.locator("[data-zones]").count():
            page.locator("#open-zones").click()
            page.wait_for_selector("[data-zones]")
        page.locator("#id_part").select_option(part)
        page.get_by_role("button", name="Add zone").click()
        page.wait_for_function("n => document.querySelectorAll('.zone-tab').length === n", arg=count)
    keep(page, "zones")
    page.keyboard.press("Escape")
    page.wait_for_selector("#panel", state="detached")
    page.locator(".zone-tab").nth(1).click()
    page.wait_for_function("() => document.querySelectorAll('.zone-tab')[1].ariaCurrent === 'true'")
    keep(page, "bench-six-zones")
    page.set_viewport_size({"width": 1024, "height": 768})
    keep(page, "bench-tablet")
    page.set_viewport_size({"width": 1280, "height": 800})


def main(address: str, name: str, password: str) -> None:
    """Walk through the main views."""
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(address)
        keep(page, "sign-in")
        page.get_by_label("Name").fill(name)
        page.get_by_label("Password").fill(password)
        page.get_by_role("button", name="Sign in").click()
        keep(page, "cards")
        page.get_by_role("link", name=re.compile("Odalys Finch")).click()
        keep(page, "card")
        one_zone(page)
        six_zones(page)
        page.get_by_role("link", name="Read").click()
        keep(page, "read")
        browser.close()


if __name__ == "__main__":
    if len(sys.argv) != 4:
        raise SystemExit(__doc__)
    main(*sys.argv[1:])
