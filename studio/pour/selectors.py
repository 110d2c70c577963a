"""What a page needs to know of pouring."""

from collections.abc import Iterable
from dataclasses import dataclass
from decimal import Decimal
from typing import Final

from engine.language import say
from studio.accounts.models import Person
from studio.head.models import Bowl
from studio.head.selectors import ZoneBench
from studio.pour.models import Batch, Weighing
from studio.shelf.models import Shade

NEAR_G: Final = Decimal("0.05")  # half a step of the scale: nearer than this, a line is poured as planned


@dataclass(frozen=True, kw_only=True)
class Line:
    """One line of a recipe while it is poured; shade is None for developer.

    planned_g: what was planned before anything was poured. fair_g: the same after the recipe was made larger.
    aimed_g: what it is to be now. poured_g: what is in.
    """

    shade: Shade | None
    planned_g: Decimal
    fair_g: Decimal
    aimed_g: Decimal
    poured_g: Decimal
    lots: tuple[str, ...]

    @property
    def name(self) -> str:
        """What is poured."""
        return self.shade.name if self.shade else say("Developer")

    @property
    def key(self) -> str:
        """The line's name in a form."""
        return str(self.shade.pk) if self.shade else "developer"

    @property
    def left_g(self) -> Decimal:
        """What is still to go in."""
        return max(self.aimed_g - self.poured_g, Decimal(0))

    @property
    def is_done(self) -> bool:
        """Whether no more goes in."""
        return self.left_g <= NEAR_G

    @property
    def over_g(self) -> Decimal:
        """How much more went in than the recipe has of it."""
        over = self.poured_g - self.fair_g
        return over if over > NEAR_G else Decimal(0)


def batch_of(person: Person, bowl_id: int) -> Batch | None:
    """The batch that is poured, or was last. One query."""
    return Batch.objects.visible_to(person).filter(bowl=bowl_id).order_by("-number").first()


def tube_of(person: Person, zone_id: int, coat_id: int | None) -> float:
    """Grams in a tube of the line that a coat is mixed from; 60 before it has a bowl. One query."""
    bowls = Bowl.objects.visible_to(person).filter(coats__zone=zone_id, coats__removed=False).order_by("coats__order")
    tubes = list(bowls.values_list("coats__pk", "line__tube_g"))
    found = [grams for pk, grams in tubes if pk == coat_id] or [grams for _, grams in tubes]
    return float(found[-1] if found else 60)


def weighings_of(batch: Batch | None) -> list[Weighing]:
    """What was weighed into a batch and not taken back, in order. One query."""
    if batch is None:
        return []
    return list(batch.weighings.filter(taken_back=False).order_by("id"))


def lines_of_batch(bench: ZoneBench, weighings: Iterable[Weighing], factor: Decimal = Decimal(1)) -> tuple[Line, ...]:
    """The recipe as lines to pour, in shelf order, developer last. A bowl's own pours say what is in it.

    factor: how much larger an over-pour has made the batch.
    """
    by_shade: dict[int | None, list[Weighing]] = {}
    for each in weighings:
        by_shade.setdefault(each.shade_id, []).append(each)
    lines = []
    for shade, grams in bench.poured:
        weighed = by_shade.get(shade.pk, [])
        lines.append(
            Line(
                shade=shade,
                planned_g=weighed[0].planned_g if weighed else grams,
                fair_g=weighed[0].planned_g * factor if weighed else grams,
                aimed_g=grams,
                poured_g=bench.pours[shade.pk].mixed_g,
                lots=_lots(weighed),
            )
        )
    if bench.bowl.parts and lines:
        weighed = by_shade.get(None, [])
        wanted = round(bench.developer_g, 1)
        lines.append(
            Line(
                shade=None,
                planned_g=weighed[0].planned_g if weighed else wanted,
                fair_g=wanted,
                aimed_g=wanted,
                poured_g=sum((each.poured_g for each in weighed), Decimal(0)),
                lots=_lots(weighed),
            )
        )
    return tuple(lines)


def _lots(weighed: list[Weighing]) -> tuple[str, ...]:
    return tuple(dict.fromkeys(each.lot for each in weighed if each.lot))
