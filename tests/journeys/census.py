"""The census of controls: what a page offers is pressed, one after another, and does what it is declared to do."""

import re
import time
from collections.abc import Mapping
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any
from urllib.parse import urlsplit

from django.conf import settings
from django.test import override_settings
from playwright.sync_api import Error as PlaywrightError
from playwright.sync_api import FileChooser, Request

from tests.journeys.base import FLAGS, OFF, STEP_S, JourneyCase
from tests.journeys.rolled_back import COOKIE, HOLDING
from tests.journeys.sent import Sent, fields_of, view_of

SCRIPT = Path(__file__).with_name("census.js").read_text(encoding="utf-8")
WAIT_S = 8.0
TAP_LEAST = 20  # pixels that a control is high at the least
SAMPLES = {"next_on": "2031-05-06", "done_on": "2026-01-02", "tested_on": "2026-01-02", "born_on": "1990-01-02"}
SAMPLES |= {
    "expires_on": "2099-05-06",
    "ends_on": "2099-05-06",
    "since": "2026-01-01",
    "until": "2026-01-02",
    "tested_at": "10:15",
    "begins_at": "10:15",
    "at": "08:15",
}
TYPED = re.compile(r"input:(text|search|date|time|number|password|email)|textarea")
LEAVES = "post sign-out"  # held back, so that the next control finds her signed in


@dataclass
class Tally:
    """What was met in a view, by declaration, and what went wrong."""

    met: set[str] = field(default_factory=set)
    wrong: list[str] = field(default_factory=list)
    pressed: set[str] = field(default_factory=set)


@override_settings(MIDDLEWARE=[*settings.MIDDLEWARE, "tests.journeys.rolled_back.RolledBack"])
class CensusCase(JourneyCase):
    """Walks a view in a state: presses by pointer what the server answers, and by key what is held back from it.

    declared: by view, what each control does, by a pattern of its kind and its name, or its words.
    """

    # Nothing is drawn: what is pressed is asked for, not looked at. A link to where another has just led counts, too.
    flags = (*FLAGS, "--disable-threaded-compositing", f"--disable-features={OFF},IgnoreDuplicateNavs")
    declared: Mapping[str, Mapping[str, str]] = {}

    def setUp(self) -> None:
        super().setUp()
        self.sent: list[Sent] = []
        HOLDING.end()
        self.addCleanup(HOLDING.end)
        self.tallies: dict[str, Tally] = {}
        self.asked: set[Request] = set()  # that nobody has answered yet
        self.page.on("request", self._note)
        for end in ("requestfinished", "requestfailed"):
            self.page.on(end, lambda request: self.asked.discard(request))
        self.choosers: list[FileChooser] = []  # heard from the start: to listen at the press may be too late
        self.page.on("filechooser", lambda chooser: self.choosers.append(chooser))

    def sign_in_rolled_back(self) -> None:
        """From now on every change is undone after its answer."""
        self.sign_in()
        self.context.add_cookies([{"name": COOKIE, "value": "1", "url": self.live_server_url}])

    def _note(self, request: Request) -> None:
        own = request.url.startswith(self.live_server_url)
        path = urlsplit(request.url).path
        if own and not path.startswith("/static/") and path != "/pulse/" and request.resource_type != "image":
            self.asked.add(request)
            self.sent.append(Sent(request.method, view_of(request.url), fields_of(request)))

    address = ""
    within = "main"

    def walk(self, view: str, address: str, *, sizes: tuple[tuple[int, int], ...] = ((1280, 800),)) -> None:
        """Press everything that a page offers in the state that it is in, and was not pressed in this view before."""
        tally = self.tallies.setdefault(view, Tally())
        for size in reversed(sizes):  # at the first of them it is pressed
            self.page.set_viewport_size({"width": size[0], "height": size[1]})
            self.open(address)
            controls = self._controls()
            places = self.page.evaluate("() => census.controls.map((_, index) => census.reach(index))")
            for control in controls:
                self._reach(view, control, places[control["index"]], tally, size)
        tally.wrong += [f"{view}: {rule}: {where}" for rule, where in self.inaccessible()]
        for control in controls:
            found = self._declaration(view, control, tally)
            if found is None or control["disabled"] or self._mark(control) in tally.pressed:
                continue
            if control["kind"] == "input:radio" and control["checked"]:
                continue  # as it stands: another of its group says that they are heard
            tally.pressed.add(self._mark(control))
            self._press(control, found, tally, view)

    def _mark(self, control: Mapping[str, Any]) -> str:
        return re.sub(r"\d+", "N", f"{control['kind']} {control['name']} {control['text']}") + (
            f" {control['value']}" if control["name"] and control["kind"] == "button" else ""
        )

    def open(self, address: str) -> None:
        """Load a page; nothing is pressed any more."""
        self.address = address
        self.asked.clear()
        HOLDING.end()
        self.page.goto(f"{self.live_server_url}{address}")
        self._settle()
        self.page.evaluate(SCRIPT)

    def _again(self) -> None:
        """The page as it was before the press."""
        self.open(self.address)
        self._controls()

    def _settle(self) -> None:
        self.settle(lambda: bool(self.asked))

    def _answered(self) -> None:
        """Until what was pressed is answered: where that is held back, nothing more comes of it."""
        if HOLDING.changes:
            self._await(lambda: not self.asked, "it was not answered")
        else:
            self._settle()

    def _controls(self) -> list[dict[str, Any]]:
        found = self.page.evaluate("within => census.list(within)", self.within)
        if self.asked:  # what a panel holds comes once it is open
            self._settle()
            found = self.page.evaluate("within => census.list(within)", self.within)
        return list(found)

    def _declaration(self, view: str, control: Mapping[str, Any], tally: Tally) -> str | None:
        kind, name, text = control["kind"], control["name"], control["text"]
        label = f"{kind} {name or text}"
        for pattern, does in self.declared.get(view, {}).items():
            if re.fullmatch(pattern, label) or re.fullmatch(pattern, f"{kind} {name}: {text}"):
                tally.met.add(pattern)
                return does
        tally.wrong.append(f"{view}: nothing is declared of {label!r} ({control['text'][:40]!r} {control['leads']})")
        return None

    def _reach(
        self, view: str, control: Mapping[str, Any], where: Mapping[str, Any], tally: Tally, size: tuple[int, int]
    ) -> None:
        """A finger has to meet it, wherever it must be scrolled to. where: as the page says."""
        told = f"{view} {size[0]}x{size[1]}: {control['kind']} {control['name'] or control['text'][:40]!r}"
        if where["unseen"]:
            return  # for keys alone
        if where["covered"]:
            tally.wrong.append(f"{told} lies under {where['covered'][:60]}")
        elif where["height"] < TAP_LEAST and control["kind"] not in ("a", "summary"):
            tally.wrong.append(f"{told} is only {where['height']:.0f} pixels high")

    def _press(self, control: dict[str, Any], does: str, tally: Tally, view: str) -> None:
        told = f"{view}: {control['kind']} {control['name'] or control['text'][:40]!r} ({control['value'][:20]!r})"
        if does == "nothing":
            return
        try:
            if does.startswith(("with ", "change ", "type")):
                self._fill(control, does)
            elif does == "file":
                self._choose_file(control)
            else:
                self._by_pointer(control, does)
                self._by_key(control, does)
        except AssertionError as wrong:
            tally.wrong.append(f"{told}: {wrong}")
            self._again()

    def _by_pointer(self, control: dict[str, Any], does: str) -> None:
        where = self.page.evaluate("index => census.reach(index)", control["index"])
        if where["unseen"]:
            return
        leaves = does == LEAVES
        self._begin(control, held=leaves)
        self.page.mouse.click(where["x"], where["y"])
        self._expect(control, does, changes=not leaves)
        if does.startswith("post") or (does == "local" and control["kind"] != "summary"):
            self._again()

    def _by_key(self, control: dict[str, Any], does: str) -> None:
        if control["name"] in ("plane", "depth"):
            return  # a place on a picture: its keys are those of the page
        focused = (
            "index => { const each = census.controls[index]; each.focus(); return document.activeElement === each; }"
        )
        self._sure(self.page.evaluate(focused, control["index"]), "it takes no focus")
        self._begin(control, held=True)
        self.page.keyboard.press("Space" if re.match(r"input:(checkbox|radio)", control["kind"]) else "Enter")
        self._expect(control, does, changes=False)
        if does == "local":
            self._again()

    def press_key(self, key: str, does: str) -> None:
        """Press a key of the page that is open, its changes held back. Raises AssertionError when it does otherwise."""
        self.page.evaluate("() => document.activeElement.blur()")
        self._begin({"index": -1}, held=True)
        self.page.keyboard.press(key)
        try:
            self._expect({"index": -1, "kind": "key", "name": key}, does, changes=False)
        except AssertionError as wrong:
            self.fail(f"{key}: {wrong}")

    def _begin(self, control: Mapping[str, Any], *, held: bool = False) -> None:
        self.page.evaluate("index => census.watch(index)", control["index"])
        self.sent.clear()
        HOLDING.begin(changes=held)

    def _expect(self, control: Mapping[str, Any], does: str, *, changes: bool) -> None:
        """A request as it is declared, with the name and value of what was pressed, and a change on the page."""
        if does == "local":
            self._await(
                lambda: self.page.evaluate("index => census.changed(index)", control["index"]), "nothing changed"
            )
            posted = any(each.method == "POST" for each in self.sent)
            self._sure(not posted, f"it was to stay on the page and sent {self._said()}")
            return
        self._await(lambda: any(each.said == does for each in self.sent), lambda: f"not {does}, but {self._said()}")
        self._answered()
        request = next(each for each in self.sent if each.said == does)
        if control["kind"] == "input:image" and request.method == "POST":
            self._sure(f"{control['name']}.x" in request.fields, f"where it was tapped was not sent: {request.fields}")
        elif control["kind"] == "button" and control["name"] and request.method == "POST":
            wanted = {control["name"]: control["value"]}
            if control["name"] == "tap":  # a step of a shade, as the keys send it
                wanted = dict(zip(("shade", "by"), control["value"].split(":"), strict=True))
            for name, value in wanted.items():
                given = request.fields.get(name, [])
                self._sure(value in given, f"{name}={value!r} was not sent: {given}")
        if changes and does.startswith("post"):
            self._await(lambda: self._has_changed(control), "the page did not change")

    def _has_changed(self, control: Mapping[str, Any]) -> bool:
        try:
            return bool(self.page.evaluate("index => !window.census || census.changed(index)", control["index"]))
        except PlaywrightError:  # the page is being left, which is a change
            return True

    def _fill(self, control: dict[str, Any], does: str) -> None:
        """Type or choose, and see it sent: at once, or with the form."""
        self._begin(control, held=True)
        value = self._give(control)
        taken = control["kind"] == "input:checkbox" and control["checked"]
        way, _, said = does.partition(" ")
        if does == "type":
            self._expect(control, "local", changes=True)
            if control["kind"] == "select":  # what it shows is kept on the tablet
                back = "([index, value]) => { const each = census.controls[index]; each.value = value;"
                back += " each.dispatchEvent(new Event('change', {bubbles: true})); }"
                self.page.evaluate(back, [control["index"], control["value"]])
            self._again()
            return
        if way == "change":
            self.page.keyboard.press("Tab")
        elif way == "with":
            submit = "index => { const each = census.controls[index]; each.form.requestSubmit(); }"
            self.page.evaluate(submit, control["index"])
        told = "sent though it was taken away" if taken else "not sent"

        def says_it(each: Sent) -> bool:  # what was typed before may be sent late, as it leaves its field
            return each.said == said and (value in each.fields.get(control["name"], [])) is not taken

        def otherwise() -> str:
            return f"{control['name']}={value!r} was {told} by {said}, but {self._said()}"

        self._await(lambda: any(says_it(each) for each in self.sent), otherwise)
        self._answered()  # else what is held back next would let it through
        if way == "with" and control["kind"] == "select":  # what is chosen may take other fields away
            back = "([index, value]) => { census.controls[index].value = value; }"
            self.page.evaluate(back, [control["index"], control["value"]])

    def _give(self, control: dict[str, Any]) -> str:
        index, kind = control["index"], control["kind"]
        if TYPED.fullmatch(kind):
            value = SAMPLES.get(control["name"], "3" if control["value"] != "3" else "4")
            self.page.evaluate("index => census.controls[index].focus()", index)
            self.page.evaluate("index => census.controls[index].select()", index)
            if control["name"] in SAMPLES:
                self.page.evaluate(
                    "([index, value]) => { const each = census.controls[index]; each.value = value;"
                    " each.dispatchEvent(new Event('input', {bubbles: true}));"
                    " each.dispatchEvent(new Event('change', {bubbles: true})); }",
                    [index, value],
                )
            else:
                self.page.keyboard.type(value)
            return value
        if kind == "select":
            other = (
                "index => { const each = census.controls[index];"
                " const found = [...each.options].find(o => !o.selected) ?? each.options[0];"
                " each.value = found.value; each.dispatchEvent(new Event('input', {bubbles: true}));"
                " each.dispatchEvent(new Event('change', {bubbles: true})); return each.value; }"
            )
            return str(self.page.evaluate(other, index))
        if kind == "input:range":
            self.page.evaluate("index => census.controls[index].focus()", index)
            self.page.keyboard.press("ArrowRight")
            return str(self.page.evaluate("index => census.controls[index].value", index))
        on = "index => { census.face(index).click(); return census.controls[index].value; }"
        return str(self.page.evaluate(on, index))

    def _choose_file(self, control: Mapping[str, Any]) -> None:
        HOLDING.end()
        where = self.page.evaluate("index => census.reach(index)", control["index"])
        self.choosers.clear()
        self.page.mouse.click(where["x"], where["y"])
        self._await(lambda: self.choosers, "no file was asked for")

    def _said(self) -> str:
        return ", ".join(each.said for each in self.sent) or "nothing was sent"

    def _await(self, found: Any, otherwise: Any) -> None:
        deadline = time.monotonic() + WAIT_S
        while time.monotonic() < deadline:
            if found():
                return
            self.page.wait_for_timeout(1000 * STEP_S)
        raise AssertionError(otherwise() if callable(otherwise) else otherwise)

    def _sure(self, holds: object, otherwise: str) -> None:
        """Raise AssertionError with its words."""
        if not holds:
            raise AssertionError(otherwise)

    def close_census(self) -> None:
        """Everything was declared, everything declared was met, and everything did it."""
        wrong = [each for tally in self.tallies.values() for each in dict.fromkeys(tally.wrong)]
        for view, tally in self.tallies.items():
            wrong += [
                f"{view}: {pattern} was never met"
                for pattern in self.declared.get(view, {})
                if pattern not in tally.met
            ]
        self.assertEqual(wrong, [], "\n" + "\n".join(wrong))
