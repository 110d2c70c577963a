"""An order of acts, and the earliest times at which it can be worked.

Times follow from differences alone: an act begins so and so long after another (a simple temporal network, [DEC91]).
What is on the hair too long is not begun later than it must be: its first hair is put off as far as the basin allows.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from math import inf
from typing import Final

from engine.service.schedule.work import PlannedCoat, Purpose, SlotKind, Visit

DUST: Final = 1e-9
ROUNDS_MOST: Final = 64  # of putting off; each makes some first hair later

After = tuple[int, float]  # an act, and the minutes from its begin


@dataclass(frozen=True, kw_only=True)
class Act:
    """One thing done. hands: of which pairs. coats: by zone index, which coat is put on or ends here.

    after: what it begins after. not_before_min: the earliest that it begins at all.
    """

    kind: SlotKind
    coats: tuple[tuple[int, int], ...]
    minutes: float
    hands: tuple[int, ...]
    after: tuple[After, ...]
    not_before_min: float = 0.0


@dataclass(frozen=True, kw_only=True)
class Standing:
    """An order worked so far, and how the head stands after it.

    begins: of each act, in minutes. done: coats begun, by zone. on: the act that put on what is on the hair, by zone,
    or -1. wet: by zone. free: the last act of each hand, or -1. barrier: the last act that had the whole head, or -1.
    windows: which act began at most how long before which. over: minutes past the windows, those of lighteners first;
    due: the same with those that will be past them even if all is rinsed next.
    """

    acts: tuple[Act, ...]
    begins: tuple[float, ...]
    done: tuple[int, ...]
    on: tuple[int, ...]
    wet: tuple[bool, ...]
    free: tuple[int, ...]
    barrier: int
    windows: tuple[tuple[int, int, float], ...] = ()
    over: tuple[float, float] = (0.0, 0.0)
    due: tuple[float, float] = (0.0, 0.0)

    @cached_property
    def end_min(self) -> float:
        """When the last of it ends."""
        return max((begin + act.minutes for begin, act in zip(self.begins, self.acts, strict=True)), default=0.0)


def standing_at_first(visit: Visit) -> Standing:
    """Nothing done yet."""
    count = len(visit.zones)
    return Standing(
        acts=(),
        begins=(),
        done=(0,) * count,
        on=(-1,) * count,
        wet=(False,) * count,
        free=(-1,) * visit.hands,
        barrier=-1,
    )


class Orders:
    """What may be done next at a head.

    soft: windows may be overrun, which is counted. lean: hair is dried only right before what wants it dry, which
    halves the orders and seldom makes the best of them longer.
    """

    def __init__(self, visit: Visit, *, soft: bool = False, lean: bool = False) -> None:
        self.visit, self.soft, self.lean = visit, soft, lean
        self.zones = range(len(visit.zones))
        self.joined = {mine: there for there, joiners in visit.joiners.items() for mine in joiners}
        self.waited_for = frozenset(zone for zone, _ in visit.joiners)
        self.ahead = tuple(visit.ahead_of(zone) for zone in self.zones)
        self.together = tuple(index for index in self.zones if not visit.zones[index].apart)

    def is_done(self, now: Standing) -> bool:
        """Whether every coat has been on and is rinsed."""
        return all(done == len(zone.coats) for done, zone in zip(now.done, self.visit.zones, strict=True)) and (
            max(now.on, default=-1) < 0
        )

    def nexts(self, now: Standing) -> Iterator[Standing]:
        """Every way to go on that keeps the windows, drying first or not where that makes a difference."""
        for start in (now, *self._dried(now)):
            alike = set()
            dried_for_it = self.lean and start is not now
            for zone in self.zones:
                if not now.done[zone] and any(not now.done[other] for other in self.ahead[zone]):
                    continue
                if dried_for_it and not (now.wet[zone] and self._wants_dry(now, zone)):
                    continue
                look = self._look(now, zone)
                if now.on[zone] >= 0 or look not in alike:  # of zones that are as far with the same to come, the first
                    alike.add(look)
                    yield from self._in_time(self._applied(start, zone))
            for rinsed in () if dried_for_it else self._basins(start):
                yield from self._in_time(self._rinsed(start, rinsed))

    def _look(self, now: Standing, zone: int) -> tuple[object, ...]:
        """What tells a zone that nothing is on from the others: what is to come of it, and who waits for it."""
        planned = self.visit.zones[zone]
        return planned.coats[now.done[zone] :], planned.apart, now.wet[zone], zone if zone in self.waited_for else None

    def _dried(self, now: Standing) -> Iterator[Standing]:
        """The head once it is dried, if anything waits for that."""
        if any(now.wet[zone] and self._wants_dry(now, zone) for zone in self.zones):
            act = self._for_the_head(now, SlotKind.DRY, self.visit.dry_min)
            dried = self._with(now, act, wet=(False,) * len(now.wet))
            if dried:
                yield dried

    def _in_time(self, ways: Iterator[Standing]) -> Iterator[Standing]:
        """Of ways, those in which all that is on can still be rinsed in time, or with what will be overrun."""
        for way in ways:
            late = self._late(way)
            if late is None:
                yield way
            elif self.soft:
                yield replace(way, due=(way.over[0] + late[0], way.over[1] + late[1]))

    def _late(self, now: Standing) -> tuple[float, float] | None:
        """How far past their windows coats will be even if they are rinsed next; None if none will."""
        on = [zone for zone in self.zones if now.on[zone] >= 0 and self.coat(zone, now.done[zone] - 1).rinsed]
        head = [zone for zone in on if not self.visit.zones[zone].apart]
        past, lifts = 0.0, 0.0
        for zones in (head, *([zone] for zone in on if zone not in head)):
            if not zones:
                continue
            before = [(act, now.acts[act].minutes) for act in now.free if act >= 0]
            before += [(now.on[zone], self._stays(now, zone)) for zone in zones]
            basin_min = max(now.begins[act] + wait for act, wait in before)
            latest = _latest(now.acts, min(now.on[zone] for zone in zones), basin_min, before)
            for zone in zones:
                coat = self.coat(zone, now.done[zone] - 1)
                by_min = basin_min - latest[now.on[zone]] - coat.most_min
                if by_min > DUST:
                    lifts += by_min * (coat.purpose is Purpose.LIFT)
                    past += by_min * (coat.purpose is not Purpose.LIFT)
        return (lifts, past) if lifts or past else None

    def coat(self, zone: int, index: int) -> PlannedCoat:
        """A coat by its place."""
        return self.visit.zones[zone].coats[index]

    def _stays(self, now: Standing, zone: int) -> float:
        """Minutes from its first hair on that what is on a zone stays at the least."""
        return self.coat(zone, now.done[zone] - 1).stays_min(now.acts[now.on[zone]].minutes)

    def _wants_dry(self, now: Standing, zone: int) -> bool:
        index = now.done[zone]
        return index < len(self.visit.zones[zone].coats) and self.coat(zone, index).wants_dry

    def _applied(self, now: Standing, zone: int) -> Iterator[Standing]:
        index, below = now.done[zone], now.on[zone]
        if index == len(self.visit.zones[zone].coats):
            return
        coat = self.coat(zone, index)
        if (below >= 0 and self.coat(zone, index - 1).rinsed) or (coat.wants_dry and now.wet[zone]):
            return
        there = self.joined.get((zone, index))
        if there and not self._is_on(now, *there):
            return
        if not all(self._is_free_for(now, *joiner) for joiner in self.visit.joiners.get((zone, index), ())):
            return
        many = coat.hands_of(len(now.free))
        hands = tuple(sorted(range(len(now.free)), key=lambda hand: self._ended(now, now.free[hand]))[:many])
        before = {now.barrier, *(now.free[hand] for hand in hands)}
        after = [(act, now.acts[act].minutes) for act in before if act >= 0]
        if there:
            after.append((now.on[there[0]], 0.0))
        until: tuple[After, ...] = ()
        if below >= 0:
            beneath = self.coat(zone, index - 1)
            after.append((below, self._stays(now, zone)))
            until = ((below, beneath.most_min),)
        act = Act(
            kind=SlotKind.APPLY,
            coats=((zone, index),),
            minutes=coat.apply_min / many,
            hands=hands,
            after=tuple(after),
            not_before_min=coat.not_before_min,
        )
        number = len(now.acts)
        found = self._with(
            now,
            act,
            until,
            done=_put(now.done, zone, index + 1),
            on=_put(now.on, zone, number),
            free=tuple(number if hand in hands else last for hand, last in enumerate(now.free)),
        )
        if found:
            yield found

    def _is_on(self, now: Standing, zone: int, index: int) -> bool:
        return now.done[zone] == index + 1 and now.on[zone] >= 0

    def _is_free_for(self, now: Standing, zone: int, index: int) -> bool:
        """Whether nothing of a zone must be rinsed before a coat of it, which is joined to one that is about to begin:
        that would rinse both."""
        between = self.visit.zones[zone].coats[max(now.done[zone] - (now.on[zone] >= 0), 0) : index]
        return not any(coat.rinsed for coat in between)

    def _basins(self, now: Standing) -> Iterator[tuple[int, ...]]:
        """Which zones may be rinsed together: the head with all that is on it, each zone apart, or everything."""
        ripe = [zone for zone in self.zones if now.on[zone] >= 0 and self.coat(zone, now.done[zone] - 1).rinsed]
        head = tuple(zone for zone in ripe if not self.visit.zones[zone].apart)
        apart = [zone for zone in ripe if self.visit.zones[zone].apart]
        waited_for = [now.done[zone] > index for zone in head for zone, index in self._joiners(now, zone)]
        is_free = all(now.on[zone] < 0 or zone in head for zone in self.together) and all(waited_for)
        if head and is_free:
            yield head
        for zone in apart:
            yield (zone,)
        if len(apart) > 1:
            yield tuple(apart)
        if head and is_free and apart:
            yield (*head, *apart)

    def _joiners(self, now: Standing, zone: int) -> tuple[tuple[int, int], ...]:
        """What joins the coat that is on a zone."""
        return self.visit.joiners.get((zone, now.done[zone] - 1), ())

    def _rinsed(self, now: Standing, zones: tuple[int, ...]) -> Iterator[Standing]:
        coats = tuple((zone, now.done[zone] - 1) for zone in zones)
        more_min = max(self.coat(*each).wash_more_min for each in coats)
        act = self._for_the_head(now, SlotKind.BASIN, self.visit.basin_min + more_min)
        least = tuple((now.on[zone], self._stays(now, zone)) for zone in zones)
        most = tuple((now.on[zone], self.coat(zone, index).most_min) for zone, index in coats)
        has_head = any(not self.visit.zones[zone].apart for zone in zones)
        wet, on = list(now.wet), list(now.on)
        for zone in (*zones, *self.together) if has_head else zones:
            wet[zone] = True
        for zone in zones:
            on[zone] = -1
        found = self._with(
            now, replace(act, coats=coats, after=(*act.after, *least)), most, on=tuple(on), wet=tuple(wet)
        )
        if found:
            yield found

    def _for_the_head(self, now: Standing, kind: SlotKind, minutes: float) -> Act:
        """An act in which nothing else is done to the head."""
        last = {act for act in (*now.free, now.barrier) if act >= 0}
        hand = min(range(len(now.free)), key=lambda hand: self._ended(now, now.free[hand]))
        after = tuple((act, now.acts[act].minutes) for act in last)
        return Act(kind=kind, coats=(), minutes=minutes, hands=(hand,), after=after)

    @staticmethod
    def _ended(now: Standing, act: int) -> float:
        return now.begins[act] + now.acts[act].minutes if act >= 0 else 0.0

    def _with(
        self,
        now: Standing,
        act: Act,
        until: tuple[After, ...] = (),
        *,
        done: tuple[int, ...] | None = None,
        on: tuple[int, ...] | None = None,
        wet: tuple[bool, ...] | None = None,
        free: tuple[int, ...] | None = None,
    ) -> Standing | None:
        """The order with one act more, at its earliest times; None if a window can't be kept.

        until: acts that may have begun no longer before this one than so many minutes. The rest: how the head stands
        after it, where that differs. What is not put on has the whole head, and all hands wait for it.
        """
        number, acts, over = len(now.acts), (*now.acts, act), now.over
        begins = [*now.begins, max((now.begins[each] + wait for each, wait in act.after), default=0.0)]
        begins[-1] = max(begins[-1], act.not_before_min)
        windows = [*now.windows, *((first, number, most_min) for first, most_min in until)]
        for _ in range(ROUNDS_MOST):
            late = _overrun(windows, begins)
            if late is None:
                break
            place, by_min = late
            first, last, most_min = windows[place]
            room = _latest(acts[:last], first, begins[last], acts[last].after)[first] - begins[first]
            if room < by_min - DUST:  # what lies between is as long as that: no later begin helps
                if not self.soft:
                    return None
                over = self._counted(over, acts[first], by_min - room)
                windows[place] = (first, last, most_min + by_min - room)
                by_min = room
            _put_off(acts, begins, first, by_min)
        else:
            return None
        return Standing(
            acts=acts,
            begins=tuple(begins),
            done=done or now.done,
            on=on or now.on,
            wet=wet or now.wet,
            free=free or (number,) * len(now.free),
            barrier=now.barrier if free else number,
            windows=tuple(windows),
            over=over,
            due=over,
        )

    def _counted(self, over: tuple[float, float], act: Act, by_min: float) -> tuple[float, float]:
        ((zone, index),) = act.coats
        lifts = self.coat(zone, index).purpose is Purpose.LIFT
        return (over[0] + by_min * lifts, over[1] + by_min * (not lifts))


def _put(values: tuple[int, ...], place: int, value: int) -> tuple[int, ...]:
    return (*values[:place], value, *values[place + 1 :])


def _overrun(windows: list[tuple[int, int, float]], begins: list[float]) -> tuple[int, float] | None:
    """The first window that is overrun, by its place, and by how many minutes."""
    for place, (first, last, most_min) in enumerate(windows):
        by_min = begins[last] - begins[first] - most_min
        if by_min > DUST:
            return place, by_min
    return None


def _latest(acts: Sequence[Act], first: int, last_min: float, before_last: Sequence[After]) -> list[float]:
    """The latest begins of acts, from `first` on, that put off nothing which begins at last_min after some of them."""
    latest = [inf] * len(acts)
    for before, wait in before_last:
        latest[before] = min(latest[before], last_min - wait)
    for each in range(len(acts) - 1, first, -1):
        at_min = latest[each]
        for before, wait in acts[each].after:
            if at_min - wait < latest[before]:
                latest[before] = at_min - wait
    return latest


def _put_off(acts: tuple[Act, ...], begins: list[float], first: int, by_min: float) -> None:
    """Begin an act later, and all that follow as late as that makes them."""
    begins[first] += by_min
    for each in range(first + 1, len(acts)):
        for before, wait in acts[each].after:
            if begins[before] + wait > begins[each]:
                begins[each] = begins[before] + wait
