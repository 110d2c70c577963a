"""The shortest order that keeps every window: all orders of a small head, the best of many of a large one."""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from math import ceil, inf
from typing import Final

from engine.errors import BadInput
from engine.service.schedule.order import DUST, Orders, Standing, standing_at_first
from engine.service.schedule.work import HANDS_MOST, Broken, Schedule, Slot, SlotKind, Visit

FOLLOWED: Final = 60  # coats, of orders that are followed side by side
FOLLOWED_MOST: Final = 8
SMALL: Final = 8  # coats of a head of which all orders may be weighed
MIDDLING: Final = 24  # coats up to which several orders are followed side by side first
STEPS_SMALL: Final = 4_000  # orders looked at in search of a shorter one
STEPS_LARGE: Final = 500
STEPS_FOR_ANY: Final = 2_000  # for one that is shorter than a zone after the other
DUST_OF_SUMS: Final = 1e-6
Key = tuple[float, float, float, float]


@dataclass(frozen=True, kw_only=True)
class _Found:
    """The best order, and whether all were weighed."""

    standing: Standing | None
    is_exact: bool  # of none, too: then none keeps every window


def schedule(visit: Visit) -> Schedule:
    """The shortest plan in which every coat's window is kept.

    If none was found, the one that overruns least, lighteners first, with what would help. The search is exact on
    small heads; the time of a large one grows with its coats. Raises BadInput for joins that leave no order.
    """
    found = _best(visit)
    if found.standing:
        return _told(visit, found.standing, found.is_exact, hands_needed=visit.hands)
    more = (replace(visit, hands=hands) for hands in range(visit.hands + 1, HANDS_MOST + 1))
    needed = next((each.hands for each in more if _any(Orders(each))), None)
    overrun = _beam(Orders(visit, soft=True))
    if overrun is None:  # only joins can leave no order at all
        raise BadInput("joins", "joins leave no order in which every coat could be put on and rinsed")
    return _told(visit, overrun, found.is_exact, hands_needed=needed)


def _best(visit: Visit) -> _Found:
    """First the best of a few followed side by side, then anything shorter, as far as the steps go.

    Where something must wait for its time, of orders that are as long the one that is taken up sooner is better.
    """
    orders = Orders(visit, lean=visit.coats > SMALL)
    best, steps = _any(orders), 0
    if best is None and not visit.joiners:  # what can't be kept on a zone alone can't be kept beside others
        return _Found(standing=None, is_exact=True)
    if best and not visit.joiners and visit.coats <= MIDDLING:
        best = min((way for way in (best, _beam(orders)) if way), key=lambda way: way.end_min)
    shortest = best.end_min if best else inf
    alike = DUST if any(coat.not_before_min for zone in visit.zones for coat in zone.coats) else -DUST
    stack = [standing_at_first(visit)]
    most, first = STEPS_SMALL if visit.coats <= SMALL else STEPS_LARGE, best
    while stack and (steps < most or (best is first and steps < STEPS_FOR_ANY)):
        now = stack.pop()
        if orders.is_done(now):
            if now.end_min < shortest - DUST or (best and now.end_min < shortest + alike and _sooner(now, best)):
                best, shortest = now, now.end_min
            continue
        ways = sorted(((_at_least(orders, way), way) for way in orders.nexts(now)), key=lambda each: -each[0])
        steps += len(ways)
        stack += [way for least, way in ways if least < shortest + alike]
    return _Found(standing=best, is_exact=not stack and not orders.lean)


def _sooner(one: Standing, other: Standing) -> bool:
    """Whether the work of one order is taken up sooner than that of another."""
    return sum(one.begins) < sum(other.begins) - DUST


def _any(orders: Orders) -> Standing | None:
    """An order that keeps the windows, found fast: a zone after the other, or several followed where zones join."""
    return _beam(orders) if orders.visit.joiners else _one_by_one(orders)


def _one_by_one(orders: Orders) -> Standing | None:
    """One zone after the other, each with all its coats: long, and kept if anything is."""
    now: Standing | None = standing_at_first(orders.visit)
    for zone in sorted(orders.zones, key=orders.visit.turn_of):
        planned = orders.visit.zones[zone]
        while now and (now.done[zone] < len(planned.coats) or now.on[zone] >= 0):
            here = (now.done[zone], now.on[zone])
            ways = [way for way in orders.nexts(now) if (way.done[zone], way.on[zone]) != here]
            now = min(ways, key=lambda way: way.end_min, default=None)
    return now


def _beam(orders: Orders) -> Standing | None:
    """The shortest of orders that are followed side by side, the most promising of those that are as far."""
    goal = 2 * orders.visit.coats  # each coat goes on, and ends
    kept = min(max(1, FOLLOWED // max(orders.visit.coats, 1)), FOLLOWED_MOST)
    levels: list[dict[tuple[object, ...], Standing]] = [{} for _ in range(goal + 1)]
    levels[0][()] = standing_at_first(orders.visit)
    for level in range(goal):
        promising = sorted(levels[level].values(), key=lambda way: _rank(orders, way))[:kept]
        for now in promising:
            for way in orders.nexts(now):
                there, alike = levels[_far(way)], (way.done, way.on, way.wet, way.end_min)
                there.setdefault(alike, way)
    return min(levels[goal].values(), key=lambda way: _rank(orders, way), default=None)


def _far(now: Standing) -> int:
    """How many coats went on and ended."""
    return 2 * sum(now.done) - sum(act >= 0 for act in now.on)


def _rank(orders: Orders, now: Standing) -> Key:
    return (*now.due, _at_least(orders, now), now.end_min)


def _at_least(orders: Orders, now: Standing) -> float:
    """Minutes that no way on from here stays below: the hands' work, and each zone's own coats one after the other."""
    visit = orders.visit
    busy = [now.begins[act] + now.acts[act].minutes if act >= 0 else 0.0 for act in now.free]
    hands_min, longest = 0.0, 0.0
    for zone, planned in enumerate(visit.zones):
        on, wet, at_min = now.on[zone], now.wet[zone], min(busy)
        left = planned.coats[now.done[zone] :]
        if on >= 0:
            coat = planned.coats[now.done[zone] - 1]
            at_min = now.begins[on] + coat.stays_min(now.acts[on].minutes) + visit.basin_min * coat.rinsed
            wet |= coat.rinsed
        for coat in left:
            hands_min += coat.apply_min
            at_min += visit.dry_min * (wet and coat.wants_dry)
            at_min += coat.stays_min(coat.apply_min / coat.hands_of(visit.hands)) + visit.basin_min * coat.rinsed
            wet = (wet and not coat.wants_dry) or coat.rinsed
        if left or on >= 0:
            longest = max(longest, at_min)
    last_basin = visit.basin_min if longest else 0.0
    return max(now.end_min, longest, (sum(busy) + hands_min) / len(busy) + last_basin)


def _told(visit: Visit, found: Standing, is_exact: bool, *, hands_needed: int | None) -> Schedule:
    slots = sorted([*_slots(visit, found), *_checks(visit, found)], key=lambda slot: (slot.start_min, slot.hand))
    return Schedule(
        slots=tuple(slots),
        broken=tuple(_broken(visit, found)),
        hands_needed=hands_needed,
        is_exact=is_exact,
    )


def _slots(visit: Visit, found: Standing) -> Iterator[Slot]:
    for begin, act in zip(found.begins, found.acts, strict=True):
        for hand in act.hands:
            yield Slot(
                kind=act.kind,
                zones=tuple(visit.zones[zone].name for zone, _ in act.coats),
                coats=tuple(coat for _, coat in act.coats),
                start_min=begin,
                end_min=begin + act.minutes,
                hand=hand + 1,
            )


def _stays(visit: Visit, found: Standing) -> Iterator[tuple[int, int, float, float]]:
    """Each coat, by zone and place: when its first hair is on, and when it ends."""
    for first, last, _ in found.windows:
        ((zone, coat),) = found.acts[first].coats
        yield zone, coat, found.begins[first], found.begins[last]


def _checks(visit: Visit, found: Standing) -> Iterator[Slot]:
    for zone, index, on_min, off_min in _stays(visit, found):
        planned = visit.zones[zone]
        look_min = on_min + planned.coats[index].looked_at_min
        if look_min < off_min - DUST:
            yield Slot(
                kind=SlotKind.CHECK, zones=(planned.name,), coats=(index,), start_min=look_min, end_min=look_min, hand=0
            )


def _broken(visit: Visit, found: Standing) -> Iterator[Broken]:
    for zone, index, on_min, off_min in _stays(visit, found):
        planned = visit.zones[zone]
        coat = planned.coats[index]
        by_min = off_min - on_min - coat.most_min
        if by_min > DUST_OF_SUMS:
            left_min = coat.most_min - coat.last_min
            sections = ceil(coat.apply_min / left_min - DUST) if left_min > 0 else None
            yield Broken(zone=planned.name, coat=index, purpose=coat.purpose, by_min=by_min, sections=sections)
