"""Take the pictures of docs/screenshots from the demo data, at 1280 x 800.

Start ./run --reset first, then: .venv/bin/python tools/screenshots.py http://127.0.0.1:8000/ lantern PASSWORD
"""

import sys
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

FOLDER = Path(__file__).resolve().parent.parent / "docs" / "screenshots"
FLAGS = ["--no-sandbox", "--disable-gpu", "--disable-quic", "--disable-background-networking", "--disable-sync"]


def keep(page: Page, name: str) -> None:
    """One picture, once the page has come to rest."""
    page.wait_for_load_state("networkidle")
    page.wait_for_timeout(300)
    page.screenshot(path=FOLDER / f"{name}.png")
    print(name)


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
        page.get_by_role("link", name="Ilka Brandt").click()
        keep(page, "card")
        page.get_by_role("button", name="Repeat today").first.click()
        page.goto(page.url)
        for key in ("5", "ArrowUp", "Shift+ArrowUp", "Shift+ArrowUp"):
            page.keyboard.press(key)
        keep(page, "bench")
        page.keyboard.press("h")
        page.wait_for_selector("[data-answers]")
        keep(page, "recipes")
        page.get_by_role("link", name="Read").click()
        keep(page, "read")
        browser.close()


if __name__ == "__main__":
    if len(sys.argv) != 4:
        raise SystemExit(__doc__)
    main(*sys.argv[1:])
