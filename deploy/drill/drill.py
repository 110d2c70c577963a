"""The drill: colourists at work in many studios, three rounds of faults, a roll-out, a restore; nothing is lost."""

import datetime
import time
from collections.abc import Callable
from typing import Final

from django.db import OperationalError, close_old_connections, connection
from django.urls import reverse
from django.utils import timezone
from measure_load import cpu_s

from deploy.drill.chain import Chain, awaited, say
from deploy.drill.faults import (
    end_restored,
    fill_standby,
    kill_app,
    kill_pooler,
    kill_primary,
    restore_to,
    roll_out,
    set_clock_ahead,
    split_brain,
)
from deploy.drill.hands import Shift, hands
from deploy.drill.ledger import Ledger, machine, p95_ms, row_of
from deploy.drill.place import NODES, ROOT
from deploy.drill.studios import STUDIOS, await_workers, load_studios
from studio.accounts.models import Person
from studio.archives.services.asking import ask_for_archive

TURNS: Final = 3
HANDS: Final = 20
CALM_S, SETTLED_S, WARM_S, PACE_S, FULL_LOAD_S = 15.0, 3.0, 15.0, 45.0, 15.0
PRIMARY_MOST_S, OTHER_MOST_S = 30.0, 12.0
CPU_MOST, TIMES_LEAST = 1.1, 1.7
ARCHIVES: Final = 6
PAGE: Final = ROOT / "docs" / "operations" / "drill.md"
HEAD: Final = """# The drill

Printed by `tools/far drill {turns}` on {day:%Y-%m-%d}; {machine}; all of it on loopback, the {hands} colourists who
drive it on the same cores. What each part is: [chain.md](chain.md).

A colourist taps once a second in a studio of their own. What is not answered is sent again by the same token every two
seconds, as a tablet's outbox does; *longest wait* is from the first sending to the answer.

"""
Fault = Callable[[Chain], str]


class Drill:
    """One drill of a chain that is up."""

    def __init__(self, chain: Chain) -> None:
        self.chain = chain
        self.ledger = Ledger()
        self.turn = 0
        self.moment = 0.0  # to which it is restored
        self.archives: list[int] = []

    def run(self, turns: int = TURNS) -> int:
        """All of it; how much is not as it should be."""
        began = time.monotonic()
        say(f"Loading {STUDIOS} studios, by archives that the workers bring in")
        people = load_studios()
        say(f"They are there after {time.monotonic() - began:.0f} s")
        self.crew = Shift(hands(people[:: len(people) // HANDS][:HANDS]))
        self.owners = people
        for each in self.crew.hands:
            each.ask("first look", reverse("bench:bench", args=[each.visit.pk]))
        self._throughput()
        faults: list[tuple[str, Fault, float]] = [
            ("an app server killed", kill_app, OTHER_MOST_S),
            ("a worker killed, an archive in its hands", self._kill_worker, OTHER_MOST_S),
            ("a pooler killed", kill_pooler, OTHER_MOST_S),
            ("the primary killed", kill_primary, PRIMARY_MOST_S),
            ("the primary cut off, and running on", split_brain, PRIMARY_MOST_S),
        ]
        once: list[tuple[str, Fault, float]] = [
            ("the standby's disk full", fill_standby, PRIMARY_MOST_S),
            ("a server's clock a minute ahead", set_clock_ahead, OTHER_MOST_S),
        ]
        for self.turn in range(1, turns + 1):
            self._meanwhile("nothing", self._calm, None)
            for what, fault, most_s in (*faults, *once[self.turn - 1 : self.turn]):
                self._meanwhile(what, fault, most_s)
        self._meanwhile("a new version rolled out, with a migration", roll_out, OTHER_MOST_S)
        self._count()
        self._restore()
        self.ledger.tell("the whole drill", f"{(time.monotonic() - began) / 60:.0f} minutes", True)
        return self.ledger.faults

    def _meanwhile(self, what: str, fault: Fault, most_s: float | None) -> None:
        """Do it while everybody works, and note what they waited."""
        began = time.monotonic()
        self.crew.begin()
        time.sleep(SETTLED_S)
        note = fault(self.chain)
        time.sleep(SETTLED_S)
        self.crew.end()
        close_old_connections()  # the drill's own may have been to a primary that is dead
        row = row_of(what, self.crew.since(began), most_s, note)
        if "**" in note:
            self.ledger.tell(what, note, is_good=False)
        self.ledger.rows.append((self.turn, row))
        say(f"round {self.turn}: {what}: {row.asked} asked, {row.again} again, longest {row.longest_s:.1f} s; {note}")

    def _calm(self, chain: Chain) -> str:
        began = time.monotonic()
        time.sleep(CALM_S)
        self.moment = self.moment or time.time()
        time.sleep(CALM_S)
        return f"95 % of pours within {p95_ms(self.crew.since(began), 'a pour'):.0f} ms"

    def _kill_worker(self, chain: Chain) -> str:
        """Archives are asked for; the worker dies with one in its hands, and the other one sees to it."""
        asked = [ask_for_archive(person, now=timezone.now()).pk for person in self._next_owners()]
        awaited("a worker at an archive", lambda: _is_at_archives(), 60, 0.02)
        chain.kill("worker-a")
        await_workers(asked, 300)
        self.archives += asked
        return f"all {len(asked)} archives are there"

    def _next_owners(self) -> list[Person]:
        start = len(self.archives) + HANDS
        return self.owners[start : start + ARCHIVES]

    def _throughput(self) -> None:
        """What a request costs by one app server and by two at the same pace, and how many they answer at most."""
        for each in NODES:  # each has met every head before it is measured
            self._serve_by((each,))
            self._work_for(WARM_S)
        cost, most = {}, {}
        for servers in (NODES[:1], NODES):
            self._serve_by(servers)
            cost[len(servers)] = self._cost_of(servers, PACE_S)
            began = time.monotonic()
            most[len(servers)] = self._work_for(FULL_LOAD_S, pause_s=0.0) / (time.monotonic() - began)
        ratio, times = cost[2] / cost[1], most[2] / most[1]
        said = f"{cost[1]:.1f} CPU ms by one server, {cost[2]:.1f} by two ({ratio:.2f} times, of at most {CPU_MOST})"
        self.ledger.tell(
            "a request at a colourist's pace costs", said, is_good=ratio <= CPU_MOST or times >= TIMES_LEAST
        )
        say(said)
        said = f"{most[1]:.0f} requests a second by one server, {most[2]:.0f} by two ({times:.2f} times)"
        self.ledger.tell("as fast as they are answered, drivers and databases on the same cores", said, is_good=True)
        say(said)

    def _serve_by(self, servers: tuple[str, ...]) -> None:
        for each in NODES:
            self.chain.front(f"set server apps/app-{each} state {'ready' if each in servers else 'maint'}")
        time.sleep(SETTLED_S)

    def _cost_of(self, servers: tuple[str, ...], seconds: float) -> float:
        """CPU milliseconds of the app servers for a request."""
        pids = [self.chain.pid(f"app-{server}") for server in servers]
        spent = sum(map(cpu_s, pids))
        asked = self._work_for(seconds)
        return (sum(map(cpu_s, pids)) - spent) * 1000 / asked

    def _work_for(self, seconds: float, pause_s: float = 1.0) -> int:
        began = time.monotonic()
        self.crew.begin(pause_s=pause_s)
        time.sleep(seconds)
        self.crew.end()
        return len(self.crew.since(began))

    def _count(self) -> None:
        """What was acknowledged, and what is kept."""
        close_old_connections()
        crew = self.crew.hands
        grams, tokens = map(sum, zip(*(each.check() for each in crew), strict=True))
        changes = sum(len(each.acknowledged) for each in crew)
        faults = [fault for each in crew for fault in each.faults]
        self.ledger.tell("changes that were answered for", f"{changes} of {len(crew)} colourists", is_good=True)
        self.ledger.tell("of these not kept", f"{tokens}", is_good=tokens == 0)
        self.ledger.tell("grams kept more or less than answered for", f"{grams}", is_good=grams == 0)
        self.ledger.tell("answers that were faults", f"{faults[:3] or 'none'}", is_good=not faults)
        self.ledger.tell("archives asked for while workers died", f"{len(self.archives)}, all there", is_good=True)

    def _restore(self) -> None:
        """To a moment of the first round: what was answered for before is there, what came after is not."""
        moment = datetime.datetime.fromtimestamp(self.moment, datetime.UTC)
        say(f"restoring to {moment:%H:%M:%S.%f}")
        took = restore_to(self.chain, f"{moment:%Y-%m-%d %H:%M:%S.%f+00}")
        before = [token for each in self.crew.hands for at, token in each.acknowledged if at < self.moment]
        after = [token for each in self.crew.hands for at, token in each.sent if at > self.moment]
        there = set(self.chain.sql_of_app("SELECT token FROM accounts_sentonce", port="RESTORED_PORT").split())
        lost, early = len(set(before) - there), len(set(after) & there)
        end_restored(self.chain)
        said = f"in {took:.0f} s; of {len(before)} changes before it {lost} are missing, "
        said += f"of {len(after)} after it {early} are there"
        self.ledger.tell("restored to a moment of round 1", said, is_good=not lost and not early and bool(before))

    def write(self, turns: int) -> None:
        """The page of the docs, of so many rounds."""
        PAGE.parent.mkdir(exist_ok=True)
        PAGE.write_text(
            HEAD.format(turns=turns, day=timezone.now(), machine=machine(), hands=HANDS) + self.ledger.markdown(),
            "utf-8",
        )


def _is_at_archives() -> bool:
    close_old_connections()
    try:
        with connection.cursor() as cursor:
            cursor.execute("SELECT count(*) FROM procrastinate_jobs WHERE status = 'doing' AND task_name = 'carry'")
            (count,) = cursor.fetchone()
    except OperationalError:
        return False
    return bool(count)
