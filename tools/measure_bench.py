"""Measure the Bench on this machine: from a key press to the new picture, and the time of a match.

Start ./run first, then: .venv/bin/python tools/measure_bench.py http://127.0.0.1:8000/ lantern PASSWORD [PRESSES]
Prints milliseconds at the median and the 95th percentile, and both as a share of the budget of 100 ms.
"""

import statistics
import sys
import time
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parent.parent))

import numpy as np
from playwright.sync_api import Page, sync_playwright

from engine.bowl.match import match
from engine.bowl.predict import predict
from engine.bowl.weigh import Scale
from engine.dye.shelf import demo_shelf
from engine.hair.canvas import Canvas
from tests.browser import browser_path

PRESSES = 200
PAUSE_MS = 120  # between a picture and the next press: about the quickest that a hand presses on purpose
BUDGET_MS = 100
FLAGS = ["--no-sandbox", "--disable-gpu", "--disable-quic", "--disable-background-networking", "--disable-sync"]
# From the key event itself to the end of the frame after a pour's last swap, when the new picture has been painted.
LISTEN = """() => {
  window.took = [];
  window.parts = [];
  let pressed = 0, sent = 0, answered = 0, swapped = 0, frame = 0;
  const painted = () => { swapped = performance.now(); cancelAnimationFrame(frame);
    frame = requestAnimationFrame(() => setTimeout(() => {
    const end = performance.now();
    if (pressed) window.took.push(end - pressed);
    if (pressed) window.parts.push([sent - pressed, answered - sent, swapped - answered, end - swapped]);
    pressed = 0;
  })); };
  const pour = (event) => event.detail.requestConfig.path.endsWith('/bench/pour/');
  document.body.addEventListener('htmx:beforeSend', (event) => { if (pour(event)) sent = performance.now(); });
  document.body.addEventListener('htmx:beforeSwap', (event) => { if (pour(event)) answered = performance.now(); });
  document.body.addEventListener('htmx:afterRequest', (event) => { if (pour(event)) painted(); });
  const press = (event) => { if (event.key.startsWith('Arrow')) pressed = performance.now(); };
  document.addEventListener('keydown', press, true);
}"""
WAIT = """count => new Promise((done) => {
  const look = () => (window.took.length > count ? done() : setTimeout(look, 5));
  look();
})"""


def told(name: str, took_ms: list[float]) -> None:
    """Print one line of figures."""
    middle, slow = statistics.median(took_ms), sorted(took_ms)[int(len(took_ms) * 0.95)]
    share = slow / BUDGET_MS
    print(f"{name}: median {middle:.1f} ms, 95 % within {slow:.1f} ms, {share:.2f} of the {BUDGET_MS} ms budget")


def loop_ms() -> float:
    """What a loop of a million takes here and now, so that figures of a busy machine can be told from slow code."""
    start = time.perf_counter()
    for _ in range(1_000_000):
        pass
    return 1000 * (time.perf_counter() - start)


def measure_keys(page: Page, presses: int) -> list[float]:
    """Press up and down with shades in the bowl, one press at a time."""
    page.evaluate(LISTEN)
    print(f"a Python loop of a million takes {loop_ms():.0f} ms")
    for press in range(presses):
        if press % 20 == 0:
            page.keyboard.press("123456789"[press // 20 % 9])
        page.keyboard.press("ArrowUp" if press % 4 else "ArrowDown")
        page.evaluate(WAIT, press)
        page.wait_for_timeout(PAUSE_MS)
    names = ("press to request", "server's answer", "swap", "paint")
    parts = zip(*page.evaluate("() => window.parts"), strict=True)
    print(", ".join(f"{name} {statistics.median(part):.0f} ms" for name, part in zip(names, parts, strict=True)))
    return list(page.evaluate("() => window.took"))


def six_zones_seven_shades(page: Page) -> None:
    """Split the head, add three more zones, and pour seven shades."""
    for way in ("three", "frame", "crown", "nape"):
        if not page.locator("[data-zones]").count():
            page.locator("#open-zones").click()
            page.wait_for_selector("[data-zones]")
        zones = page.locator(".zone-tab").count()
        if way == "three" and not page.get_by_role("button", name="Split into roots, mids, ends").count():
            continue  # split by an earlier measure
        if way == "three":
            page.get_by_role("button", name="Split into roots, mids, ends").click()
        else:
            page.locator("#id_part").select_option(way)
            page.get_by_role("button", name="Add zone").click()
        page.wait_for_function("count => document.querySelectorAll('.zone-tab').length > count", arg=zones)
    page.locator("#leave-panel").click()
    page.wait_for_selector("#panel", state="detached")
    for key in "1234567":
        page.keyboard.press(key)
        page.keyboard.press("ArrowUp")
    page.wait_for_function("() => document.querySelectorAll('.bowl-pours li').length >= 7")
    page.reload()  # the listener of the first measure goes with the page


def main(address: str, name: str, password: str, *, presses: int = PRESSES) -> None:
    """Sign in, repeat a formula, measure."""
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=browser_path(), args=FLAGS)
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(address)
        page.get_by_label("Name").fill(name)
        page.get_by_label("Password").fill(password)
        page.get_by_role("button", name="Sign in").click()
        page.locator("#cards a").first.click()
        page.get_by_role("button", name="Repeat").first.click()
        page.wait_for_selector("[data-bench]")
        told(f"one zone: key press to new picture, {presses} presses", measure_keys(page, presses))
        six_zones_seven_shades(page)
        told(f"six zones, seven shades: the same, {presses} presses", measure_keys(page, presses))
        browser.close()

    shelf, canvas, target = list(demo_shelf().values()), Canvas(level=9.7), np.array([62.0, 25.0, 8.0])
    for shades in (2, 3, 4):
        took = []
        for _ in range(7):
            start = time.perf_counter()
            found = match(canvas, shelf, target, scale=Scale(), max_shades=shades)
            took.append(1000 * (time.perf_counter() - start))
        told(f"match over {found.sets_tried} sets of up to {shades} of 13 shades", took)
    took = []
    for _ in range(300):
        start = time.perf_counter()
        predict(canvas, found.recipes[0].bowl)
        took.append(1000 * (time.perf_counter() - start))
    told("predict one zone", took)


if __name__ == "__main__":
    if len(sys.argv) not in (4, 5):
        raise SystemExit(__doc__)
    main(*sys.argv[1:4], presses=int(sys.argv[4]) if len(sys.argv) == 5 else PRESSES)
