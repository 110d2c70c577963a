"""Steps of a visit in coats, by pointer, for journeys through several of them."""

import datetime

from playwright.sync_api import expect

from studio.cards.models import Formula
from studio.clocks.models import ZoneClock
from studio.clocks.services.note import set_moment
from studio.visits.models import Visit
from tests.journeys.base import JourneyCase
from tests.journeys.states import Studio
from tests.journeys.test_visit import Pouring


class CoatSteps(Pouring, JourneyCase):
    """What a colourist does on Bench, Pour and Clock for one coat after another."""

    def setUp(self) -> None:
        super().setUp()
        self.studio = Studio(self.person)

    def bench(self, visit: Visit, zone: str = "") -> None:
        """The Bench, with a zone's tab pressed."""
        self.go_to(f"/visits/{visit.pk}/bench/")
        self.await_bench(self.page)
        if zone:
            self.page.locator(".zone-tab", has_text=zone).click()
            expect(self.page.locator(".zone-tab[aria-current=true]")).to_contain_text(zone)

    def add(self, purpose: str) -> None:
        """A further coat of the zone in hand, which is in hand then."""
        self.page.locator("#open-coats").click()
        self.page.locator(f"button[name=purpose][value={purpose}]").click()
        expect(self.page.locator("#panel")).to_have_count(0)
        expect(self.page.locator(".coat-step[aria-current=true]")).to_be_visible()

    def take(self, purpose: str) -> None:
        """The coat for a purpose in hand."""
        self.page.locator(".coat-step", has_text=purpose).first.click()
        expect(self.page.locator(".coat-step[aria-current=true]")).to_contain_text(purpose)

    def hit(self, depth: float, strength: float, hue: float) -> None:
        self.page.locator("#mode-aim").click()
        self.aim(depth, strength, hue)
        self.page.locator("#hit").click()
        self.page.get_by_role("button", name="Use 1", exact=True).click()
        expect(self.page.locator("[data-answers]")).to_have_count(0)

    def pour_bowl(self) -> None:
        """Weigh in all of the bowl in hand, and back to the Bench."""
        self.page.get_by_role("link", name="Pour →").click()
        self.pour_all()
        self.page.get_by_role("link", name="Bench", exact=True).click()
        self.await_bench(self.page)

    def put_on(self, zone: str, what: str, minutes: float) -> None:
        """Start what the Clock has ready for a zone, and see it rinsed after its time."""
        page = self.page
        page.get_by_role("link", name="Clock", exact=True).click()
        form = page.locator(".clock-idle").filter(has_text=zone).first
        expect(form.locator("select[name=kind] option:checked")).to_contain_text(what)
        page.get_by_role("button", name=f"Start {zone}").click()
        expect(page.get_by_role("button", name=f"Rinsed: {zone}")).to_be_visible()
        clock = ZoneClock.objects.get(zone__name=zone, rinsed_at=None)
        now = datetime.datetime.now(datetime.UTC)
        ZoneClock.objects.filter(pk=clock.pk).update(boot_id="")
        ago = datetime.timedelta(minutes=minutes)
        set_moment(self.person, clock_id=clock.pk, moment="applied_at", at=now - ago, now=now)
        page.get_by_role("button", name=f"Rinsed: {zone}").click()
        expect(page.get_by_role("button", name=f"Rinsed: {zone}")).to_have_count(0)

    def plain(self, purpose: str, product: str, grams: str, minutes: str) -> None:
        """A coat that nothing is mixed for, named and weighed."""
        page = self.page
        page.locator("#open-coats").click()
        page.locator(f"button[name=purpose][value={purpose}]").click()
        expect(page.locator("#panel")).to_have_count(0)
        page.locator("#open-coats").click()
        line = page.locator("li", has=page.locator(f".coat-line b:has-text('{purpose.capitalize()}')"))
        line.get_by_label("Product").fill(product)
        line.get_by_label("Amount, g").fill(grams)
        line.get_by_label("Minutes").fill(minutes)
        line.get_by_role("button", name="Set", exact=True).click()
        expect(line.get_by_label("Product")).to_have_value(product)
        page.keyboard.press("Escape")
        expect(page.locator("#panel")).to_have_count(0)

    def lift_to(self, level: int, grams: str) -> None:
        """Where the lift in hand stops, and lightener for it."""
        page = self.page
        page.get_by_role("button", name=f"Stop at level {level}").click()
        expect(page.locator(".bowl-words h1")).to_contain_text(f"to {level}")
        page.locator("#id_grams").fill(grams)
        page.locator("#set-grams").click()
        expect(page.locator(".bowl-pours")).to_contain_text(f"{grams}.0 g Chalk powder")

    def minutes(self, minutes: str) -> None:
        """How long the coat in hand stays on."""
        page = self.page
        page.locator("#open-coats").click()
        page.locator("#id_minutes").fill(minutes)
        page.locator(".zone-work", has=page.locator("#id_minutes")).get_by_role("button", name="Set").click()
        expect(page.locator("#id_minutes")).to_have_value(minutes)
        page.keyboard.press("Escape")
        expect(page.locator("#panel")).to_have_count(0)

    def keep(self, visit: Visit) -> list[Formula]:
        """Judge nothing, keep all of it, and read what stands on the card."""
        page = self.page
        page.get_by_role("link", name="Result", exact=True).click()
        page.get_by_role("button", name="Keep, and hand over").click()
        expect(page.get_by_role("heading", name="Care", exact=True)).to_be_visible()
        return list(Formula.objects.filter(visit=visit).order_by("zone_position", "coat_number", "pk"))

    def own_bowl(self) -> None:
        """A bowl of its own for the coat in hand."""
        page = self.page
        page.locator("#open-zones").click()
        page.get_by_role("button", name="A bowl of its own").click()
        expect(page.get_by_role("button", name="A bowl of its own")).to_have_count(0)
        page.keyboard.press("Escape")

    def line(self, name: str) -> None:
        """Mix the bowl in hand from another line of the shelf."""
        button = self.page.get_by_role("button", name=name, exact=True)
        button.click()
        expect(button).to_have_attribute("aria-pressed", "true")

    def zones(self, visit: Visit, *wanted: str) -> None:
        """Part the head on Read: by a usual parting, or part by part."""
        page = self.page
        self.go_to(f"/visits/{visit.pk}/read/")
        page.get_by_text("Zones", exact=True).click()
        for each in wanted:
            page.get_by_role("button", name=each, exact=True).click()
            expect(page.get_by_role("button", name=each, exact=True)).to_have_attribute("aria-pressed", "true")

    def read_zone(self, name: str) -> None:
        """Take a zone in hand on Read."""
        link = self.page.get_by_role("link", name=name, exact=True)
        link.click()
        expect(link).to_have_attribute("aria-current", "true")
