"""One aim on today's other heads: the route that each of them needs to it, side by side."""

from dataclasses import dataclass
from typing import Final

from engine.arrays import FloatArray
from engine.colorimetry.lab import lch_of
from engine.language import begun, decimals, say
from studio.accounts.models import Person
from studio.head.models import Coat
from studio.head.selectors import Bench, bench_of
from studio.route.coats import route_coats
from studio.route.engine_adapter import routes_to
from studio.route.models import ChosenRoute
from studio.ui.locks import Lock, bare_lock, lock_of_colour
from studio.ui.refusal import Refusal
from studio.visits.engine_adapter import canvas_of
from studio.visits.gates import asked_of, check_many
from studio.visits.models import Visit
from studio.visits.selectors import OpenZone, open_zone

HEADS_MOST: Final = 12


@dataclass(frozen=True, kw_only=True, eq=False)
class HeadRoute:
    """Another head of today: its hair, the way to the aim, what that costs, and what stops it.

    level: of its hair as it was read. is_aimed: it has this aim already. is_free: it has no aim yet. busy: why its aim
    is no longer to be changed, in words; empty when it is.
    """

    visit: Visit
    zone: str
    level: str
    now: Lock
    then: Lock
    title: str
    off: float
    reaches: bool
    minutes: str
    cost: str
    stops: tuple[str, ...]
    is_aimed: bool
    is_free: bool
    busy: str

    @property
    def takes(self) -> bool:
        """Whether the aim is taken there with those of all heads that are free."""
        return self.is_free and not self.stops and not self.busy


@dataclass(frozen=True, kw_only=True, eq=False)
class HeadsPage:
    """The aim, and today's other heads. unread: those whose hair nobody has read yet."""

    bench: Bench
    target_lab: FloatArray
    aim: Lock
    heads: tuple[HeadRoute, ...]
    unread: tuple[str, ...]

    @property
    def takes(self) -> int:
        """How many heads would take the aim with one press."""
        return sum(head.takes for head in self.heads)


def heads_page(person: Person, opened: OpenZone) -> HeadsPage:
    """Gather today's other heads, some twenty queries each. Raises Refusal no_target before there is an aim."""
    bench = bench_of(person, opened)
    target_lab = bench.target_lab
    if target_lab is None:
        raise Refusal("no_target", "route")
    heads, unread = [], []
    for visit in others_today(person, bench.visit):
        other = head_of_visit(person, visit)
        if other is None:
            unread.append(visit.client.name)
        else:
            heads.append(_head(person, bench, other, target_lab))
    return HeadsPage(
        bench=bench,
        target_lab=target_lab,
        aim=lock_of_colour(tuple(target_lab.tolist())),
        heads=tuple(sorted(heads, key=lambda head: (bool(head.stops), head.off))),
        unread=tuple(unread),
    )


def others_today(person: Person, visit: Visit) -> list[Visit]:
    """The other visits of the day, at most a dozen."""
    found = Visit.objects.visible_to(person).filter(day=visit.day).exclude(pk=visit.pk)
    return list(found.select_related("client").order_by("pk")[:HEADS_MOST])


def head_of_visit(person: Person, visit: Visit) -> Bench | None:
    """A visit with its first zone in hand that was read; None before there is one, or a bowl for it."""
    opened = open_zone(person, visit.pk)
    zone = next((each for each in opened.zones if each.pk in opened.by_zone), None)
    if zone is None or not Coat.objects.filter(zone=zone, removed=False, bowl__isnull=False).exists():
        return None
    return bench_of(person, open_zone(person, visit.pk, zone.pk))


def busy_with(other: Bench) -> str:
    """Why a head's aim is no longer to be changed from elsewhere; empty when it is."""
    if other.coat.begun:
        return say("its colour is on, or has been")
    return say("its bowl is mixed") if other.mixed_g else ""


def _head(person: Person, bench: Bench, other: Bench, target: FloatArray) -> HeadRoute:
    asked = asked_of(person, other.visit)
    route = routes_to(other, asked, target, bench).proposed
    gates = check_many(asked, route_coats(asked, other, other, route.lift))
    least, most = (round(part) for part in route.minutes)
    own = other.target_lab
    return HeadRoute(
        visit=other.visit,
        zone=other.zone.name,
        level=decimals(f"{float(other.now.level):g}"),
        now=bare_lock(canvas_of(other.now)),
        then=lock_of_colour(tuple(route.lab.tolist())),
        title=begun(ChosenRoute.Kind(route.kind.value).label),
        off=route.delta_e00,
        reaches=route.reaches,
        minutes=say("{least} to {most} min", least=least, most=most),
        cost=route.cost.words,
        stops=tuple(dict.fromkeys(seen.gate.sentence for seen in gates if seen.is_shut)),
        is_aimed=own is not None and bool(abs(lch_of(own) - lch_of(target)).max() < 0.05),
        is_free=own is None,
        busy=busy_with(other),
    )
