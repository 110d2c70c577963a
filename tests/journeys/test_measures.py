"""What can be measured of every screen, in the browser, at every size: targets, overlap, cut text, contrast."""

from decimal import Decimal
from pathlib import Path
from typing import Any

from django.test import override_settings
from django.urls import reverse
from django.utils import timezone
from playwright.sync_api import expect

from engine.practice.drill import Skill
from studio.clients.models import Client
from studio.head.models import Bowl
from studio.head.services.aim import aim
from studio.head.services.pour import pour
from studio.practice.services.practise import answer, begin
from studio.shelf.models import Shade
from studio.visits.models import Visit, Zone
from tests.journeys.base import JourneyCase
from tests.journeys.states import Studio

SCRIPT = Path(__file__).with_name("measures.js").read_text(encoding="utf-8")
LAPTOP, TABLET, PHONE, ENLARGED = (1280, 800), (1024, 768), (390, 844), (640, 400)  # the last: the laptop at 200 %
TARGET_PX = 48
TEXT, LARGE_TEXT = 4.5, 3.0  # contrast by WCAG 2.2, 1.4.3
FORTY_LETTERS = "Maximiliane Theodora von Hohenwald-Okonjo"
OF_A_VISIT = (
    "consult",
    "read",
    "route",
    "plan",
    "bench",
    "pour",
    "clock",
    "result",
    "care",
    "hand-out",
    "correct",
    "head",
)

MEASURES = f"""() => ({{
  "can be tapped with gloves on": measures.small({TARGET_PX}),
  "no control lies over another": measures.overlapping(2),
  "no text is cut": measures.cut(2),
  "no words lie on others": measures.colliding(3),
  "words can be read": measures.faint({TEXT}, {LARGE_TEXT}),
  "nothing is wider than the screen": measures.tooWide(),
  "no column is squeezed": measures.squeezed(10),
  "words in drawings have room": measures.drawnOut(3),
  "words stand within their button": measures.spilled(1),
  "words keep the margin": measures.overMargin(1),
  "a field says beside it what it is for": measures.unnamed(),
  "one next step, low and to the right": innerWidth >= 1024 ? measures.astray() : [],
}})"""


# Press a control and say what shows as pressed a moment later, by the page's own clock.
PRESSED = """async (name) => {
  const controls = [...document.querySelectorAll("main a, main button")];
  controls.find((each) => each.textContent.trim().startsWith(name)).click();
  await new Promise((heard) => setTimeout(heard, 50));
  return [...document.querySelectorAll("[data-pressed]")].map((each) => each.textContent.trim().split(/\\s/)[0]);
}"""


MODES = ("aim", "steer")


class MeasureCase(JourneyCase):
    """Opens pages and measures each."""

    def setUp(self) -> None:
        super().setUp()
        self.studio = Studio(self.person)

    def places(self) -> dict[str, str]:
        """The pages outside of a visit."""
        shade = Shade.objects.visible_to(self.person).filter(line__kind="direct").first()
        client = Client.objects.visible_to(self.person).get(name="Ilka Brandt")
        names = (
            "chairs:chairs",
            "cards:list",
            "clients:new",
            "shelf:shelf",
            "shelf:house",
            "shelf:order",
            "shelf:ladder",
        )
        more = {name: reverse(name) for name in (*names, "supplies:supplies", "learning:learned")}
        return more | {
            "take": "/cards/take-in/",
            "card": reverse("cards:card", args=[client.pk]),
            "edit": reverse("clients:edit", args=[client.pk]),
            "password": reverse("password"),
            "people": reverse("people:people"),
            "new studio": reverse("people:begin"),
            "erase": reverse("formats:erase", args=[client.pk]),
            "tube": reverse("shelf:tube", args=[shade.pk]),
            "strands": reverse("shelf:strands", args=[shade.pk]),
            "swatch": reverse("readings:swatch", args=[shade.pk]),
        }

    def of(self, visit: Visit, *names: str) -> dict[str, str]:
        """The pages of a visit."""
        return {f"{name} of {visit.client.name}": f"/visits/{visit.pk}/{name}/" for name in names or OF_A_VISIT}

    def measure(self, pages: dict[str, str], *sizes: tuple[int, int]) -> None:
        """Every page at every size, and once in forced colours. All that is wrong is told at once."""
        wrong: list[str] = []
        for width, height in sizes:
            self.page.set_viewport_size({"width": width, "height": height})
            for name, address in pages.items():
                self.show(address)
                found: dict[str, list[Any]] = self.page.evaluate(MEASURES)
                self.page.emulate_media(forced_colors="active")
                found["what is chosen shows in forced colours"] = self.page.evaluate("() => measures.unchosen()")
                self.page.emulate_media(forced_colors="none")
                wrong += [f"{name} at {width}: {promise}: {each}" for promise, all_ in found.items() for each in all_]
        self.assertEqual(wrong, [])

    def show(self, address: str) -> None:
        self.page.goto(self.live_server_url + address)
        expect(self.page.locator("#main")).to_be_visible()
        self.settle()
        self.page.evaluate(SCRIPT)


class Places(MeasureCase):
    def test_what_stands_outside_of_a_visit(self) -> None:
        self.studio.running()
        self.sign_in()
        self.measure(self.places(), LAPTOP, TABLET, PHONE, ENLARGED)


class Practised(MeasureCase):
    def test_the_practice_room(self) -> None:
        now = timezone.now()
        drills = [begin(self.person, skill=skill.value, now=now) for skill in Skill]
        done = begin(self.person, skill="hit", now=now)
        answer(self.person, drill_id=done.pk, given="", now=now)
        self.sign_in()
        pages = {drill.skill: reverse("practice:drill", args=[drill.pk]) for drill in drills}
        rooms = {name: reverse(f"practice:{name}") for name in ("practice", "mentor")}
        self.measure(pages | rooms, LAPTOP, TABLET, PHONE, ENLARGED)
        self.assert_accessible()


class Looks(MeasureCase):
    """The components with all their states, for those who build them."""

    def test_every_component_in_every_state_keeps_what_is_measured(self) -> None:
        self.sign_in()
        with override_settings(DEBUG=True):
            self.measure({"looks": reverse("looks:looks")}, LAPTOP, TABLET, PHONE, ENLARGED)
            self.assert_accessible()

    def test_outside_of_debugging_there_is_no_such_page_and_two_places_are_near(self) -> None:
        self.sign_in()
        self.page.goto(self.live_server_url + reverse("looks:looks"))
        expect(self.page.get_by_role("heading", name="There is nothing here")).to_be_visible()
        self.page.locator(".near").get_by_role("link", name="Chairs").click()
        expect(self.page.get_by_role("heading", name="Chairs")).to_be_visible()


class OneZone(MeasureCase):
    def test_a_visit_of_one_zone(self) -> None:
        visit, _ = self.studio.kept()
        self.sign_in()
        self.measure(self.of(visit) | {"aim": f"/visits/{visit.pk}/bench/?mode=aim"}, LAPTOP, TABLET)

    def test_a_visit_of_one_zone_on_a_phone_and_enlarged(self) -> None:
        visit, _ = self.studio.kept()
        self.sign_in()
        self.measure(self.of(visit), PHONE, ENLARGED)


class Portrayed(MeasureCase):
    def test_the_photo_of_a_head_to_draw_on_and_to_look_at(self) -> None:
        visit = self.studio.six_zones()
        empty = self.studio.poured("Ede Marl")
        self.studio.portrayed(visit)
        self.sign_in()
        photo = {query: f"/visits/{visit.pk}/head/photo/?{query}" for query in ("", "beside=1", "tool=hair")}
        self.measure(photo | {"none": f"/visits/{empty.pk}/head/photo/"}, LAPTOP, TABLET, PHONE, ENLARGED)
        self.assert_accessible()


class Unpoured(MeasureCase):
    def test_a_bowl_that_is_empty_before_and_after_its_aim_has_one_next_step(self) -> None:
        read, aimed = self.studio.read(), self.studio.aimed()
        self.sign_in()
        bench = {f"{mode} of {of.pk}": f"/visits/{of.pk}/bench/?mode={mode}" for of in (read, aimed) for mode in MODES}
        self.measure(bench, LAPTOP, TABLET)
        for of, mode, said in ((read, "aim", "Aim here"), (aimed, "aim", "Route →"), (aimed, "steer", "Hit the aim H")):
            self.show(bench[f"{mode} of {of.pk}"])
            expect(self.page.locator("main .button-next")).to_have_text(said)


class Crowded(MeasureCase):
    def crowd(self) -> Visit:
        """Six zones, a name of forty letters, eight shades in the bowl, and a stop."""
        visit = self.studio.six_zones()
        Client.objects.filter(pk=visit.client_id).update(name=FORTY_LETTERS)
        zone = self.studio.zone(visit)
        for name in ("Weld", "Annatto", "Realgar", "Madder", "Cochineal", "Woad"):
            shade = self.studio.shade(name).pk
            pour(self.person, zone_id=zone, version=self.studio.version(visit), shade_id=shade, typed="2")
        return Visit.objects.select_related("client").get(pk=visit.pk)

    def test_a_crowded_visit(self) -> None:
        visit = self.crowd()
        self.sign_in()
        self.measure(self.of(visit, "consult", "read", "plan", "bench", "pour", "clock"), LAPTOP, TABLET, PHONE)

    def test_aims_at_the_ends_of_the_ladder_stand_on_it(self) -> None:
        visit = self.studio.poured()
        self.sign_in()
        for lightness in (12, 95):
            numbers = {"lightness": Decimal(lightness), "chroma": Decimal(3), "hue": Decimal(90)}
            version = Bowl.objects.get(worktop__visit=visit).version
            zone = Zone.objects.get(visit=visit)
            aim(self.person, zone_id=zone.pk, version=version, nearest=False, **numbers)
            self.measure({f"bench, aim at {lightness}": f"/visits/{visit.pk}/bench/"}, LAPTOP)
            mark = self.page.locator("#depth-marks .mark-aim").bounding_box()
            rungs = self.page.locator("#depth .depth-word").all()
            boxes = {rung.text_content(): rung.bounding_box() for rung in rungs}
            near, beyond = ("20", "10") if lightness < 50 else ("90", "100")
            middles = [boxes[each]["y"] + boxes[each]["height"] / 2 for each in (near, beyond)]
            at = mark["y"] + mark["height"] / 2
            self.assertGreater(at, min(middles) - 1)
            self.assertLess(at, max(middles) + 1)


class Masthead(MeasureCase):
    def test_the_next_step_and_where_one_is_are_told_on_a_phone(self) -> None:
        visit = self.studio.poured()
        self.sign_in()
        self.page.set_viewport_size({"width": PHONE[0], "height": PHONE[1]})
        self.show(f"/visits/{visit.pk}/plan/")
        steps = self.page.get_by_role("button", name="Plan, 5 of 10")
        steps.click()
        expect(self.page.get_by_role("link", name="Read", exact=True)).to_be_visible()
        self.assert_accessible()
        self.page.keyboard.press("Escape")
        expect(self.page.get_by_role("link", name="Read", exact=True)).not_to_be_visible()
        self.page.get_by_role("button", name="Menu").click()
        self.page.get_by_role("link", name="Shelf").click()
        expect(self.page.get_by_role("heading", name="Shelf")).to_be_visible()

    def test_a_press_shows_before_its_answer_comes(self) -> None:
        visit = self.studio.poured()
        self.sign_in()
        self.show(f"/visits/{visit.pk}/bench/")
        self.page.route("**/bench/**", lambda route: None)  # never answered
        for name in ("Evening", "Undo"):
            pressed = self.page.evaluate(PRESSED, name)
            self.assertIn(name, pressed)

    def test_offline_what_waits_is_told_on_its_shade(self) -> None:
        visit = self.studio.poured()
        self.sign_in()
        self.show(f"/visits/{visit.pk}/bench/")
        self.context.set_offline(True)
        self.page.keyboard.press("2")
        self.page.keyboard.press("ArrowUp")
        annatto = self.page.locator(".rail-row", has_text="Annatto")
        expect(annatto).to_contain_text("+1 g waiting")
        self.context.set_offline(False)
        expect(annatto).to_contain_text("1.0 g in")
        expect(annatto).not_to_contain_text("waiting")


class OnAPhone(MeasureCase):
    def test_the_bench_is_asked_for_once_and_steers_by_the_list_until_the_wheel_is_chosen(self) -> None:
        visit = self.studio.aimed()
        address = f"{self.live_server_url}/visits/{visit.pk}/bench/"
        self.page.set_viewport_size({"width": PHONE[0], "height": PHONE[1]})
        self.sign_in()
        self.page.goto(f"{self.live_server_url}/chairs/")  # any page before tells what screen it is
        self.page.goto(address)
        self.page.locator("#more-1").click()
        expect(self.page.locator(".steers-row").first).to_be_visible()
        asked: list[str] = []
        self.page.on("request", lambda sent: asked.append(sent.url) if sent.url.split("?")[0] == address else None)
        self.page.goto(address)
        expect(self.page.locator(".steers-row").first).to_be_visible()
        self.settle()
        self.assertEqual(asked, [address])
        self.page.locator("#mode-steer").click()
        expect(self.page.locator("#wheel")).to_be_visible()
        self.page.goto(address)
        expect(self.page.locator("#wheel")).to_be_visible()
        expect(self.page.locator(".steers-row")).to_have_count(0)


class ByEar(MeasureCase):
    def test_a_bowl_is_mixed_to_its_aim_without_the_plane(self) -> None:
        """By the list alone: what it says first is taken, until nothing brings it nearer."""
        visit = self.studio.aimed()
        self.sign_in()
        self.show(f"/visits/{visit.pk}/bench/?mode=list")
        offs: list[float] = []
        for _ in range(40):
            first = self.page.locator(".steers-row").first
            said = first.inner_text().replace("\n", " ")
            if offs and "nearer" not in said:
                break
            offs.append(float(said.split(" left")[0].split()[-1]))
            version = self.page.locator("#seen input[name=seen]").input_value()
            first.focus()
            self.page.keyboard.press("Enter")
            expect(self.page.locator("#seen input[name=seen]")).not_to_have_value(version)
        self.assertEqual(offs, sorted(offs, reverse=True))
        self.assertLess(offs[-1], 5)
        expect(self.page.locator(".bowl-words")).to_have_attribute("aria-live", "polite")
        self.assert_accessible()
