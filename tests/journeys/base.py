"""A browser, a signed-in colourist, and the demo studio, for journeys through the real interface."""

import os
import re
import time
from collections.abc import Callable
from functools import cache
from pathlib import Path
from threading import Lock
from typing import Literal

from django.contrib.staticfiles.handlers import StaticFilesHandler
from django.contrib.staticfiles.testing import StaticLiveServerTestCase
from django.core.signals import request_finished, request_started
from django.db import connection
from django.http import HttpRequest
from django.http.response import HttpResponseBase
from django.urls import reverse
from playwright.sync_api import Browser, Error, Page, Playwright, expect, sync_playwright

from tests.browser import browser_path
from tests.demo import PASSWORD, demo_studio, empty_tables

TROUBLE = re.compile(r"Content Security|duplicate ids")  # what a browser says of a page that is not sound
PATIENCE_MS = 30_000  # a busy machine is slow, and that is no fault of the page
# What Playwright turns off itself (a second list takes the place of its own), and what else no page needs: the
# suggestions of the address bar are two pages more in every window, which cost more than many a page of ours.
OFF = (
    "AvoidUnnecessaryBeforeUnloadCheckSync,DestroyProfileOnBrowserClose,HttpsUpgrades,HttpsFirstBalancedModeAutoEnable,"
    "LensOverlay,MediaRouter,PaintHolding,ThirdPartyStoragePartitioning,AvoidCorsURLLoaderRestartOnRedirect,"
    "TcpPortRandomizationWin,OptimizationHints,NetworkTimeServiceQuerying,AimEnabled,PreconnectToSearch,"
    "WebUIOmniboxPopup,WebUIOmniboxAimPopup,SpareRendererForSitePerProcess"
)
UNPAINTED = "--force-gpu-mem-available-mb=0"  # no room to paint in: frames come, and a third of the browser's work goes
FLAGS = (
    UNPAINTED,
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    f"--disable-features={OFF}",
)
PAINTED = tuple(flag for flag in FLAGS if flag != UNPAINTED)  # for what looks at the picture
# What passes is not told, nor by which selector a node is found: two fifths of the checker's work.
CHECKED = """() => axe.run({
  runOnly: ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"], resultTypes: ["violations"], selectors: false,
})"""
# A page that waits for nothing, met so several tasks after one another.
AT_REST = """async (rests) => {
  for (let met = 0; met < rests; met += 1) {
    await new Promise((heard) => setTimeout(heard));
    if (document.readyState !== "complete" || document.querySelector(".htmx-swapping, .htmx-settling")) return false;
  }
  return true;
}"""
RESTS = 6
STEP_S = 0.015
AXE = Path(__file__).resolve().parents[2] / "node_modules" / "axe-core" / "axe.min.js"


class InHand:
    """How many requests the live server is answering."""

    def __init__(self) -> None:
        self.count = 0
        self._lock = Lock()
        request_started.connect(lambda **_: self._add(1), weak=False)
        request_finished.connect(lambda **_: self._add(-1), weak=False)

    def forget(self) -> None:
        """Begin anew: what another test streamed and never read to its end counts as in hand for ever."""
        with self._lock:
            self.count = 0

    def _add(self, by: int) -> None:
        with self._lock:
            self.count = max(0, self.count + by)


IN_HAND = InHand()
SETTLE_S = 0.03


@cache
def axe_source() -> str:
    """The accessibility checker; `tools/css` installs it with the other packages."""
    return AXE.read_text(encoding="utf-8")


@cache
def browser_with(flags: tuple[str, ...]) -> Browser:
    """A Chromium of this process, which ends with it."""
    return driver().chromium.launch(executable_path=browser_path(), args=list(flags))


@cache
def driver() -> Playwright:
    """What drives browsers; it ends them when its process is gone."""
    return sync_playwright().start()


class KeptFiles(StaticFilesHandler):
    """Fonts, styles and scripts, which a browser keeps, as it does those of the application by their names' hashes."""

    def serve(self, request: HttpRequest) -> HttpResponseBase:
        """A file that is not asked for again."""
        answer = super().serve(request)
        answer.headers["Cache-Control"] = "max-age=86400, immutable"
        return answer


class JourneyCase(StaticLiveServerTestCase):
    """A context and a page at 1280 x 800 a test. A page error or a request elsewhere fails the test."""

    flags = FLAGS
    static_handler = KeptFiles
    service_workers: Literal["allow", "block"] = "block"  # what a page asks for is met by its test, not by its worker

    @classmethod
    def setUpClass(cls) -> None:
        os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "true"  # Playwright's loop runs while the ORM is used here
        # A browser keeps its connections to the server, and their threads theirs to the database: to sign in to that
        # takes as long as many a page. A thread ends, and closes it, with the context that it answered.
        connection.settings_dict["CONN_MAX_AGE"] = None
        cls.addClassCleanup(connection.settings_dict.update, CONN_MAX_AGE=0)
        super().setUpClass()
        expect.set_options(timeout=PATIENCE_MS)
        cls.browser = browser_with(cls.flags)

    def _fixture_teardown(self) -> None:
        empty_tables()

    def setUp(self) -> None:
        IN_HAND.forget()
        self.person = demo_studio()
        self.troubles: list[str] = []
        self.context = self.browser.new_context(
            viewport={"width": 1280, "height": 800}, service_workers=self.service_workers
        )
        self.addCleanup(self._leave)
        self.page = self.new_page()

    def _leave(self) -> None:
        """Close the browser's pages, and wait until the server has answered what they still asked: the tables are
        emptied next, which a request in its middle would lock."""
        self.context.close()
        time.sleep(SETTLE_S)
        deadline = time.monotonic() + PATIENCE_MS / 1000
        while IN_HAND.count and time.monotonic() < deadline:
            time.sleep(SETTLE_S)
        self.assertEqual(IN_HAND.count, 0, "the server has not answered")

    def new_page(self) -> Page:
        page = self.context.new_page()
        page.set_default_timeout(PATIENCE_MS)
        page.on("pageerror", lambda error: self.troubles.append(f"error: {error}"))
        page.on("console", lambda line: self.troubles.append(line.text) if TROUBLE.search(line.text) else None)
        page.on("request", lambda request: self._note_elsewhere(request.url))
        return page

    def tearDown(self) -> None:
        self.assertEqual(self.troubles, [])
        super().tearDown()

    def _note_elsewhere(self, url: str) -> None:
        if not url.startswith((self.live_server_url, "data:")):
            self.troubles.append(f"a request went elsewhere: {url}")

    def sign_in(self) -> None:
        """Stand before the cards, signed in by the page's own view, whose cookies the browser is given."""
        self.client.post(reverse("sign-in"), {"username": "lantern", "password": PASSWORD})
        for cookie in self.client.cookies.values():
            self.context.add_cookies([{"name": cookie.key, "value": cookie.value, "url": self.live_server_url}])
        self.page.goto(self.live_server_url)
        expect(self.page.get_by_role("heading", name="Cards")).to_be_visible()

    def sign_in_by_hand(self) -> None:
        self.page.goto(self.live_server_url)
        self.page.get_by_label("Name").fill("lantern")
        self.page.get_by_label("Password").fill(PASSWORD)
        self.page.get_by_role("button", name="Sign in").click()
        expect(self.page.get_by_role("heading", name="Cards")).to_be_visible()

    def go_to(self, address: str) -> None:
        """Open an address of the studio as by its links, which wait until every change is answered."""
        self.page.wait_for_function(
            "() => !window.early && !Object.keys(localStorage).some((name) => name.startsWith('outbox:'))"
        )
        self.page.goto(f"{self.live_server_url}{address}")

    def open_bench(self, client: str = "Maud Okonjo-Hale") -> None:
        """From the cards to the Bench, keeping the reading as it stands."""
        self.page.get_by_role("link", name=client).click()
        self.start_visit()
        self.page.get_by_role("button", name="Level 10,").click()
        self.page.get_by_role("link", name="To the Bench").click()
        self.await_bench(self.page)

    def start_visit(self) -> None:
        """From a card through the consult to Read."""
        self.page.get_by_role("button", name="today's visit").click()
        self.page.get_by_role("link", name="Read the hair").click()

    def await_bench(self, page: Page) -> None:
        """The Bench is there, and its keys count."""
        expect(page.locator("[data-bench]")).to_be_visible()
        expect(page.locator("body[data-keys]")).to_be_attached()

    def aim(self, depth: float, strength: float, hue: float) -> None:
        for name, number in (("Depth", depth), ("Strength", strength), ("Hue°", hue)):
            self.page.get_by_label(name, exact=True).fill(str(number))
        self.page.get_by_role("button", name="Aim here").click()
        expect(self.page.locator("#lock-aim use").first).to_be_attached()

    def forecast_colours(self) -> list[str]:
        """The colours in which the forecast lock is drawn."""
        stops = self.page.locator("#lock-then stop").evaluate_all("all => all.map(s => s.getAttribute('stop-color'))")
        return list(stops)

    def tab_to(self, found: Callable[[dict[str, str]], bool], most: int = 80) -> None:
        """Press Tab until the focused element is the one looked for."""
        for _ in range(most):
            self.page.keyboard.press("Tab")
            focused = self.page.evaluate(
                "() => { const e = document.activeElement;"
                " return { id: e.id, text: e.textContent.trim(), label: e.getAttribute('aria-label') ?? '' } }"
            )
            if found(focused):
                return
        self.fail("Tab never reached what was looked for")

    def settle(self, waits: Callable[[], bool] = lambda: False) -> None:
        """Until nothing is asked any more, and parts that come by themselves are there. waits: for what else."""
        deadline = time.monotonic() + PATIENCE_MS / 1000
        while IN_HAND.count or waits() or not self._rests() or IN_HAND.count or waits():
            if time.monotonic() > deadline:
                raise AssertionError("it never came to rest")
            self.page.wait_for_timeout(1000 * STEP_S)

    def _rests(self) -> bool:
        """Whether the page has done what it had to do when it was asked, and htmx swaps nothing."""
        try:
            return bool(self.page.evaluate(AT_REST, RESTS))
        except Error:  # the page is being left
            return False

    def assert_accessible(self) -> None:
        """axe finds nothing wrong with the page by WCAG 2.2 A and AA."""
        self.assertEqual(self.inaccessible(), [])

    def inaccessible(self) -> list[tuple[str, list[str]]]:
        """What axe finds wrong with the page."""
        self.page.evaluate(axe_source())
        found = self.page.evaluate(CHECKED)
        return [(wrong["id"], [node["html"][:160] for node in wrong["nodes"]]) for wrong in found["violations"]]
