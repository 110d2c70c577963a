"""What was agreed with the client, and what has changed since."""

from collections import Counter
from dataclasses import dataclass
from decimal import Decimal

from studio.accounts.models import Person
from studio.head.models import Coat
from studio.head.selectors import Bench
from studio.head.stock import stock_of
from studio.route.models import Agreement
from studio.route.planned import HeadPlan


@dataclass(frozen=True, kw_only=True)
class Agreed:
    """The newest agreement, if there is one; what was added and left out since, and what the materials cost more."""

    last: Agreement | None
    work: tuple[str, ...]
    added: tuple[str, ...]
    left_out: tuple[str, ...]
    costs_more: str

    @property
    def is_stale(self) -> bool:
        """Whether the work is no longer what was agreed."""
        return self.last is not None and bool(self.added or self.left_out)


def work_of(bench: Bench, plan: HeadPlan) -> tuple[str, ...]:
    """Every coat of the head in words, zone by zone, and what routes propose ahead of them before one is chosen.

    A zone that is left alone has none.
    """
    names = {each.zone.pk: each.zone.name for each in bench.zones if not each.zone.left_alone}
    rows = [coat for coat in bench.rows if coat.zone_id in names]
    proposed = [
        f"{name}: {Coat.Purpose(each.planned.purpose.value).label}, as its route proposes"
        for name, coats in plan.coats.items()
        for each in coats
        if each.coat is None
    ]
    return (*(f"{names[coat.zone_id]}: {_words(coat)}" for coat in rows), *proposed)


def _words(coat: Coat) -> str:
    label = coat.get_purpose_display()
    return f"{label} to {float(coat.to_level):g}" if coat.to_level is not None else label


def materials_of(bench: Bench) -> Decimal:
    """What all that is in the bowls cost, in the studio's own money."""
    bowls = {each.bowl.pk: each for each in bench.coats if each.mix is not None}
    cost = sum(stock_of(each.stocked, limited=False).cost(each.mix) for each in bowls.values() if each.mix)
    return round(Decimal(cost), 2)


def agreed_of(person: Person, bench: Bench, plan: HeadPlan) -> Agreed:
    """What was agreed of a visit, held against what is planned now. One query."""
    last = Agreement.objects.visible_to(person).filter(visit=bench.visit).first()
    now = work_of(bench, plan)
    before: Counter[str] = Counter(last.work if last else now)
    more = materials_of(bench) - last.materials if last else Decimal(0)
    return Agreed(
        last=last,
        work=now,
        added=tuple((Counter(now) - before).elements()),
        left_out=tuple((before - Counter(now)).elements()),
        costs_more=f"{more:+.2f}" if more else "",
    )
