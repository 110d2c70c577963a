"""Simulated colourists who send again by the same token what was not answered, as a tablet's outbox does."""

import secrets
import threading
import time
from dataclasses import dataclass, field
from decimal import Decimal
from typing import Final

from django.test import Client as Browser
from django.urls import reverse
from measure_load import Colourist
from measure_pages import CASES, head

from deploy.drill.place import PORTS
from studio.accounts.models import Person, SentOnce
from studio.head.models import Portion
from studio.shelf.models import Shade

RETRY_S: Final = 2.0  # as the outbox asks whether the server is back
PATIENCE_S: Final = 120.0
FULL_G: Final = 150  # then the bowl is emptied again by the gram


@dataclass(frozen=True)
class Wait:
    """One request, from its first sending to its answer. kind: what was asked for. tries: how often it was sent."""

    kind: str
    began: float
    took_s: float
    tries: int
    is_answered: bool


@dataclass
class Hand(Colourist):
    """A colourist who goes on until each request is answered."""

    waits: list[Wait] = field(default_factory=list)
    acknowledged: list[tuple[float, str]] = field(default_factory=list)  # when a change was answered for, and its token
    sent: list[tuple[float, str]] = field(default_factory=list)  # when it was first sent
    down: bool = False
    stop: threading.Event = field(default_factory=threading.Event)

    def pour(self, path: str) -> bool:
        """A gram more, or less once the bowl is full; what is answered for is counted."""
        self.down = self.poured >= FULL_G or (self.down and self.poured > 1)
        by, token = Decimal(-1 if self.down else 1), secrets.token_hex(16)
        fields = {"version": self.version, "shade": self.shade.pk, "by": str(by), "shown": "steer", "token": token}
        self.sent.append((time.time(), token))
        if not self.ask("a pour", path, fields):
            return False
        self.poured += by
        self.acknowledged.append((time.time(), token))
        return True

    def ask(self, kind: str, path: str, fields: dict[str, object] | None = None, *, part: bool = False) -> bool:
        """One request, sent again until it is answered; a refusal is an answer, and a fault of the drill."""
        began, tries, is_made = time.monotonic(), 0, False
        while time.monotonic() - began < PATIENCE_S and not self.stop.is_set():
            tries += 1
            noted = len(self.faults)
            is_made = super().ask(kind, path, fields, part=part)
            if is_made or not self._may_pass():
                break
            del self.faults[noted:]
            time.sleep(RETRY_S)
        self.waits.append(Wait(kind, began, time.monotonic() - began, tries, is_made))
        return is_made

    def _may_pass(self) -> bool:
        """Whether the latest fault is one that an outbox waits out: no answer, a server that rests, too fast."""
        latest = self.faults[-1].rpartition(": ")[2]
        return not latest.isdigit() or int(latest) in (429, 500, 502, 503, 504)

    def check(self) -> tuple[Decimal, int]:
        """What the records lack, or have twice: grams, and tokens that were acknowledged."""
        found = Portion.objects.filter(bowl__worktop__visit=self.visit, shade=self.shade)
        grams = self.poured - sum(found.values_list("grams", flat=True), Decimal(0))
        tokens = [token for _, token in self.acknowledged]
        return grams, len(tokens) - SentOnce.objects.filter(token__in=tokens).count()


def hands(people: list[Person]) -> list[Hand]:
    """Each signed in to a studio of their own, with a head that is aimed at."""
    found = []
    for number, person in enumerate(people):
        browser = Browser(SERVER_NAME="localhost")
        browser.force_login(person)
        browser.get(reverse("clients:new"))
        cookies = {name: morsel.value for name, morsel in browser.cookies.items()}
        shade = Shade.objects.visible_to(person).get(name="Woad", line__name="Ropewalk direct")
        visit = head(person, number % len(CASES), 0)
        found.append(Hand(port=PORTS["WEB_PORT"], cookies=cookies, visit=visit, shade=shade))
    return found


@dataclass
class Shift:
    """Hands at work, in threads, until they are called off."""

    hands: list[Hand]
    threads: list[threading.Thread] = field(default_factory=list)
    over: threading.Event = field(default_factory=threading.Event)

    def begin(self, pause_s: float = 1.0) -> None:
        """Each goes round, none in step with another, so long between an answer and the next tap."""
        for each in self.hands:
            thread = threading.Thread(target=self._work, args=[each, pause_s], daemon=True)
            self.threads.append(thread)
            thread.start()
            time.sleep(1.0 / len(self.hands))

    def _work(self, hand: Hand, pause_s: float) -> None:
        steps = hand.round()
        while not self.over.is_set():
            next(steps)
            self.over.wait(pause_s)
        hand.line.close()

    def end(self) -> None:
        """Let each finish what is on its way."""
        self.over.set()
        for thread in self.threads:
            thread.join(PATIENCE_S)
        self.threads.clear()
        self.over.clear()

    def since(self, began: float) -> list[Wait]:
        """Every request that was under way since a moment of the monotonic clock."""
        return [wait for each in self.hands for wait in list(each.waits) if wait.began + wait.took_s >= began]
