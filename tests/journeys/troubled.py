"""One trouble between page and server, on and off, for journeys that meet it."""

from collections.abc import Callable
from decimal import Decimal

from playwright.sync_api import Page, Route, expect

from studio.head.models import Portion
from tests.journeys.base import JourneyCase


class Troubled(JourneyCase):
    """One trouble between page and server, on and off."""

    @staticmethod
    def is_late_script(route: Route) -> bool:
        """Whether a page is shown before this comes: all but the one that keeps what is done meanwhile."""
        return route.request.resource_type == "script" and "early" not in route.request.url

    def setUp(self) -> None:
        super().setUp()
        self.sign_in()

    def trouble(self, page: Page, status: int) -> None:
        """Every change is answered with this status from now on, 0 for no answer at all."""

        def answer(route: Route) -> None:
            if route.request.method != "POST" and "/pulse/" not in route.request.url:
                route.continue_()
            elif status == 0:
                route.abort()
            else:
                route.fulfill(status=status, body="<p>resting</p>")

        page.route("**/*", answer)

    def slowly(self, page: Page) -> None:
        """Every change is held back until it is let go."""
        self.hold(page, lambda route: route.request.method == "POST")

    def hold(self, page: Page, which: Callable[[Route], bool]) -> None:
        """What the page asks for is held back, if it is one of these, until it is let go."""
        self.held: list[Route] = []
        self.is_holding = True
        page.route(
            "**/*", lambda route: self.held.append(route) if self.is_holding and which(route) else route.continue_()
        )

    def let_go(self, page: Page) -> None:
        self.is_holding = False  # one that comes while the rest is let go is not forgotten
        for route in self.held:
            route.continue_()
        page.unroute("**/*")

    def grams(self, shade: str) -> Decimal:
        found = Portion.objects.filter(shade__name=shade, bowl__worktop__visit__client__name="Maud Okonjo-Hale")
        return found.order_by("-pk").values_list("grams", flat=True).first() or Decimal(0)

    def expect_grams(self, page: Page, shade: str, shown: str) -> None:
        row = page.locator("#rail .rail-row", has_text=shade)
        expect(row.locator("[data-grams]")).to_have_text(f"{shown} g in")
