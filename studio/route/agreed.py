"""What was agreed with the client, and what has changed since, with what that takes."""

from collections import Counter
from dataclasses import dataclass

from engine.language import decimals, later
from studio.accounts.models import Person
from studio.head.models import Coat
from studio.head.selectors import Bench, ZoneBench
from studio.head.stock import stock_of
from studio.route.models import Agreement
from studio.route.planned import HeadPlan


@dataclass(frozen=True, kw_only=True)
class Agreed:
    """The newest agreement, if there is one; what was added and left out since, and what is in the bowls of the added
    coats alone, in the studio's own money."""

    last: Agreement | None
    work: tuple[str, ...]
    added: tuple[str, ...]
    left_out: tuple[str, ...]
    added_cost: str

    @property
    def is_stale(self) -> bool:
        """Whether the work is no longer what was agreed."""
        return self.last is not None and bool(self.added or self.left_out)


def work_of(bench: Bench, plan: HeadPlan) -> tuple[str, ...]:
    """Every coat of the head in words, zone by zone, and what routes propose ahead of them before one is chosen.

    A zone that is left alone has none. They are said later: two who read two languages agree to the same.
    """
    treated = {each.zone.pk: each.zone.name for each in bench.zones if not each.zone.left_alone}
    proposed = [
        later("{name}: {label}, as its route proposes", name=name, label=Coat.Purpose(each.planned.purpose.value).label)
        for name, coats in plan.coats.items()
        for each in coats
        if each.coat is None
    ]
    return (*(_words(coat, treated[coat.zone_id]) for coat in bench.rows if coat.zone_id in treated), *proposed)


def _words(coat: Coat, zone: str) -> str:
    label = coat.get_purpose_display()
    if coat.to_level is None:
        return later("{zone}: {label}", zone=zone, label=label)
    return later("{zone}: {label} to {to_level:g}", zone=zone, label=label, to_level=float(coat.to_level))


def agreed_of(person: Person, bench: Bench, plan: HeadPlan) -> Agreed:
    """What was agreed of a visit, held against what is planned now. One query."""
    last = Agreement.objects.visible_to(person).filter(visit=bench.visit).first()
    now = work_of(bench, plan)
    before: Counter[str] = Counter(last.work if last else now)
    added = tuple((Counter(now) - before).elements())
    cost = _cost_of(bench, added)
    return Agreed(
        last=last,
        work=now,
        added=added,
        left_out=tuple((before - Counter(now)).elements()),
        added_cost=decimals(f"{cost:.2f}") if cost else "",
    )


def _cost_of(bench: Bench, added: tuple[str, ...]) -> float:
    """What is in the bowls that serve added coats and no other."""
    serve: dict[int, list[ZoneBench]] = {}
    for each in bench.coats:
        serve.setdefault(each.bowl.pk, []).append(each)
    bowls = [coats[0] for coats in serve.values() if all(_words(each.coat, each.zone.name) in added for each in coats)]
    return sum(stock_of(each.stocked, limited=False).cost(each.mix.grams) for each in bowls if each.mix)
