"""Today's heads: what stage each is in, what runs, what comes next, and where one pair of hands is wanted twice."""

import datetime
from dataclasses import dataclass
from typing import Final

from engine.language import later, say
from engine.service.schedule.clash import clashes
from engine.service.schedule.work import Schedule
from studio.accounts.models import Person
from studio.accounts.prepared import Prepared
from studio.chairs.progress import Progress, progress_of_day
from studio.chairs.wall import Bar, bars_of
from studio.clocks.seen import BowlSeen, ClockSeen
from studio.clocks.selectors import mixed_bowls, running_clocks
from studio.head.models import Bowl, Coat, TargetFields
from studio.head.selectors import bench_of
from studio.route.planned import planned_of
from studio.ui.locks import Lock, lock_of_colour
from studio.visits.gates import asked_of
from studio.visits.models import Visit
from studio.visits.selectors import open_zone

NEVER_MIN: Final = 9999.0
# From the newest stage back: what has to be there, the stage in words, and where the next step is taken.
STAGES: Final = (
    ("on_card", later("on the card"), "result:care", later("Hand over")),
    ("judged", later("judged"), "result:result", later("Keep it")),
    ("rinsed", later("rinsed"), "result:result", later("Judge")),
    ("mixed", later("mixed"), "clocks:clock", later("Apply")),
    ("poured", later("pouring"), "pour:pour", later("Pour")),
    ("aimed", later("aimed"), "bench:bench", later("Mix")),
    ("read", later("read"), "bench:bench", later("Aim")),
    ("consulted", later("consulted"), "visits:read", later("Read")),
)


@dataclass(frozen=True, kw_only=True)
class Chair:
    """One head today: its visit, the stage in words, the page of the next step with its word, clocks and bowls."""

    visit: Visit
    begins_at: datetime.time | None
    stage: str
    next_page: str
    next_word: str
    clocks: tuple[ClockSeen, ...]
    bowls: tuple[BowlSeen, ...]
    lock: Lock | None

    @property
    def bars(self) -> tuple[Bar, ...]:
        """Its clocks on the wall's axis."""
        return bars_of(self.clocks)

    @property
    def call_words(self) -> str:
        """What it calls for now, or what comes next; empty without a clock."""
        called = [clock.called_words for clock in self.clocks if clock.is_calling]
        coming = [clock for clock in self.clocks if clock.standing.left_min is not None]
        if called:
            return called[0]
        return min(coming, key=lambda clock: clock.standing.left_min or 0.0).coming_words if coming else ""

    @property
    def left_words(self) -> str:
        """In how many minutes it calls, to be read from afar: "now", "in 2 min"; empty without a clock."""
        if self.is_calling:
            return say("now")
        return say("in {max:.0f} min", max=max(self.soonest_min, 1)) if self.soonest_min < NEVER_MIN else ""

    @property
    def is_calling(self) -> bool:
        """Whether one of its clocks calls now."""
        return any(clock.is_calling for clock in self.clocks)

    @property
    def is_alarm(self) -> bool:
        """Whether one of its clocks is at its stop."""
        return any(clock.is_alarm for clock in self.clocks)

    @property
    def soonest_min(self) -> float:
        """Minutes until its next call, none left counting as now; heads without a clock come last."""
        if self.is_calling:
            return 0.0
        left = [clock.standing.left_min for clock in self.clocks if clock.standing.left_min is not None]
        return min(left, default=NEVER_MIN)


@dataclass(frozen=True, kw_only=True)
class Clash:
    """From when to when one colourist's hands are wanted at two chairs."""

    colourist: str
    start: str
    end: str


_VISITS: Final = Prepared(
    lambda studio, day: (
        Visit.objects.of_studio(studio).filter(day=day).select_related("client", "colourist", "plan").order_by("-pk")
    ),
    studio=int,
    day=datetime.date,
)
_AIMED_COATS: Final = Prepared(
    lambda studio, visits: (
        Coat.objects.of_studio(studio)
        .filter(zone__visit__among=visits, removed=False, target_l__isnull=False)
        .select_related("zone")
        .order_by("-id")
    ),
    studio=int,
    visits=list,
)
_AIMED_BOWLS: Final = Prepared(
    lambda studio, visits: (
        Bowl.objects.of_studio(studio)
        .filter(worktop__visit__among=visits, target_l__isnull=False)
        .select_related("worktop")
        .order_by("-id")
    ),
    studio=int,
    visits=list,
)


def chairs_of(person: Person, day: datetime.date, now: datetime.datetime) -> list[Chair]:
    """The day's heads, the one that calls first on top. A fixed number of queries for any number of heads."""
    visits = _VISITS(studio=person.studio_id, day=day)
    progress = progress_of_day(person.studio_id, day)
    ids = [visit.pk for visit in visits]
    running, bowls = running_clocks(person, ids, now), mixed_bowls(person, ids, now)
    aims = _aims(person, ids)
    chairs = []
    for visit in visits:
        clocks = tuple(clock for clock in running if clock.clock.zone.visit_id == visit.pk)
        stage, page, word = _stage(progress.get(visit.pk, {}), is_on=bool(clocks))
        chairs.append(
            Chair(
                visit=visit,
                begins_at=getattr(getattr(visit, "plan", None), "begins_at", None),
                stage=stage,
                next_page=page,
                next_word=word,
                clocks=clocks,
                lock=aims.get(visit.pk),
                bowls=tuple(bowl for bowl in bowls if bowl.batch.bowl.worktop.visit_id == visit.pk and clocks == ()),
            )
        )
    return sorted(chairs, key=lambda chair: (chair.soonest_min, chair.begins_at or datetime.time.max))


def _aims(person: Person, visits: list[int]) -> dict[int, Lock]:
    """A lock in the colour that each visit's first bowl aims at, else a coat of it by itself. Two queries."""
    coats = _AIMED_COATS(studio=person.studio_id, visits=visits)
    bowls = _AIMED_BOWLS(studio=person.studio_id, visits=visits)
    aimed: list[tuple[int, TargetFields]] = [(coat.zone.visit_id, coat) for coat in coats]
    aimed += [(bowl.worktop.visit_id, bowl) for bowl in bowls]
    last = dict(aimed)
    return {
        visit: lock_of_colour((float(each.target_l or 0), float(each.target_a or 0), float(each.target_b or 0)))
        for visit, each in last.items()
    }


def clashes_of(person: Person, day: datetime.date) -> list[Clash]:
    """Where one colourist's hands are wanted at two chairs, by the plans of visits that have a begin."""
    plans: dict[str, list[tuple[float, Schedule]]] = {}
    visits = Visit.objects.visible_to(person).filter(day=day, plan__begins_at__isnull=False)
    for visit in visits.select_related("client", "colourist", "plan"):
        opened = open_zone(person, visit.pk)
        if opened.reading is None:
            continue
        planned = planned_of(person, bench_of(person, opened), asked_of(person, visit))
        begin = planned.begins_at
        if begin is not None:
            plans.setdefault(str(visit.colourist), []).append((begin.hour * 60.0 + begin.minute, planned.made))
    return [
        Clash(colourist=name, start=_at(start), end=_at(end))
        for name, each in plans.items()
        for start, end in clashes(each)
        if end - start >= 1
    ]


def _at(minute: float) -> str:
    return f"{int(minute) // 60 % 24:02d}:{int(minute) % 60:02d}"


def _stage(seen: Progress, *, is_on: bool) -> tuple[str, str, str]:
    if is_on:
        return say("on the clock"), "clocks:clock", say("Clock")
    for name, words, page, word in STAGES:
        if seen.get(name):
            return words, page, word
    return say("in the chair"), "visits:consult", say("Consult")
