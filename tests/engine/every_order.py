"""Every order of the work at a small head, one after the other: what a search may not miss."""

from collections.abc import Iterator
from dataclasses import dataclass, field, replace
from itertools import combinations
from math import inf

from engine.service.schedule.work import PlannedCoat, Visit

Wait = tuple[int, int, float]  # the second act begins at least so long after the first; less than 0: at most


@dataclass(frozen=True)
class Tried:
    """An order so far. on: what put on each zone's coat. free: each hand's last act. head: the last that had it."""

    minutes: tuple[float, ...]
    earliest: tuple[float, ...]
    waits: tuple[Wait, ...]
    done: tuple[int, ...]
    on: tuple[int | None, ...]
    wet: frozenset[int]
    free: tuple[int | None, ...]
    head: int | None = None

    def with_act(self, minutes: float, waits: list[Wait], earliest: float = 0.0, **changed: object) -> "Tried":
        timed = {"minutes": (*self.minutes, minutes), "earliest": (*self.earliest, earliest)}
        return replace(self, **timed, waits=(*self.waits, *waits), **changed)  # type: ignore[arg-type]


@dataclass
class EveryOrder:
    """The shortest order of all, `inf` if none keeps the windows; times by relaxing the waits until they stand."""

    visit: Visit
    shortest: float = field(default=inf, init=False)

    def __post_init__(self) -> None:
        count = len(self.visit.zones)
        self.zones = range(count)
        nothing: tuple[None, ...] = (None,)
        self._try(Tried((), (), (), (0,) * count, nothing * count, frozenset(), nothing * self.visit.hands))

    def _try(self, now: Tried) -> None:
        end = self._end(now)
        if end >= self.shortest - 1e-9:
            return
        if all(now.done[zone] == len(self._coats(zone)) and now.on[zone] is None for zone in self.zones):
            self.shortest = end
            return
        for zone in self.zones:
            for hand in range(self.visit.hands):
                for way in self._applied(now, zone, hand):
                    self._try(way)
        if now.wet:
            self._try(self._for_the_head(now, self.visit.dry_min, [], wet=frozenset()))
        for zones in self._rinsed_together(now):
            self._try(self._rinsed(now, zones))

    def _end(self, now: Tried) -> float:
        at = [*now.earliest]
        for _ in range(3 * len(at) + 3):
            moved = False
            for before, after, wait in now.waits:
                if at[before] + wait > at[after] + 1e-9:
                    at[after], moved = at[before] + wait, True
            if not moved:
                return max((begin + minutes for begin, minutes in zip(at, now.minutes, strict=True)), default=0.0)
        return inf

    def _coats(self, zone: int) -> tuple[PlannedCoat, ...]:
        return self.visit.zones[zone].coats

    def _applied(self, now: Tried, zone: int, hand: int) -> Iterator[Tried]:
        new, index, below = len(now.minutes), now.done[zone], now.on[zone]
        if index == len(self._coats(zone)) or (self._coats(zone)[index].wants_dry and zone in now.wet):
            return
        coat = self._coats(zone)[index]
        waits = [(act, new, now.minutes[act]) for act in (now.free[hand], now.head) if act is not None]
        if coat.joins:
            other = next(each for each in self.zones if self.visit.zones[each].name == coat.joins[0])
            if now.done[other] != coat.joins[1] + 1 or now.on[other] is None:
                return
            waits.append((now.on[other], new, 0.0))
        if below is not None:
            beneath = self._coats(zone)[index - 1]
            if beneath.rinsed:
                return
            waits += [(below, new, beneath.stays_min(now.minutes[below])), (new, below, -beneath.most_min)]
        yield now.with_act(
            coat.apply_min,
            waits,
            coat.not_before_min,
            done=tuple(done + (each == zone) for each, done in enumerate(now.done)),
            on=tuple(new if each == zone else act for each, act in enumerate(now.on)),
            free=tuple(new if each == hand else act for each, act in enumerate(now.free)),
        )

    def _for_the_head(self, now: Tried, minutes: float, waits: list[Wait], **changed: object) -> Tried:
        new = len(now.minutes)
        alone = [(act, new, now.minutes[act]) for act in (*now.free, now.head) if act is not None]
        return now.with_act(minutes, alone + waits, free=(new,) * self.visit.hands, head=new, **changed)

    def _rinsed(self, now: Tried, zones: tuple[int, ...]) -> Tried:
        new, waits = len(now.minutes), []
        for zone in zones:
            mine, on = self._coats(zone)[now.done[zone] - 1], now.on[zone]
            if on is not None:
                waits += [(on, new, max(mine.least_min, now.minutes[on] + mine.last_min)), (new, on, -mine.most_min)]
        is_head = any(not self.visit.zones[zone].apart for zone in zones)
        wet = {zone for zone in self.zones if zone in zones or (is_head and not self.visit.zones[zone].apart)}
        on_still = tuple(None if zone in zones else act for zone, act in enumerate(now.on))
        return self._for_the_head(now, self.visit.basin_min, waits, on=on_still, wet=now.wet | wet)

    def _is_waited_for(self, now: Tried, zone: int) -> bool:
        """Whether a coat that joins what is on a zone has not gone on yet."""
        mine = (self.visit.zones[zone].name, now.done[zone] - 1)
        coats = ((other, place) for other in self.zones for place in range(len(self._coats(other))))
        return any(self._coats(other)[place].joins == mine and now.done[other] <= place for other, place in coats)

    def _rinsed_together(self, now: Tried) -> Iterator[tuple[int, ...]]:
        on = [zone for zone in self.zones if now.on[zone] is not None]
        ripe = [zone for zone in on if self._coats(zone)[now.done[zone] - 1].rinsed]
        apart = [zone for zone in ripe if self.visit.zones[zone].apart]
        head = [zone for zone in on if not self.visit.zones[zone].apart]
        if any(self._is_waited_for(now, zone) for zone in head):
            head = []
        for size in range(len(apart) + 1):
            for some in combinations(apart, size):
                if some:
                    yield some
                if head and set(head) <= set(ripe):
                    yield (*head, *some)
