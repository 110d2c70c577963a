"""What a page needs to know of the bench."""

from dataclasses import dataclass
from decimal import Decimal

import numpy as np

from engine.arrays import FloatArray
from studio.accounts.models import Person
from studio.bench.models import Bowl
from studio.shelf.models import Shade
from studio.shelf.selectors import StockedLine, stocked_line
from studio.visits.models import Reading, Visit, Zone
from studio.visits.selectors import OpenZone


@dataclass(frozen=True, kw_only=True)
class Bench:
    """One zone on the bench: its hair, its bowl with grams by shade id, and the shelf's line in use."""

    visit: Visit
    zone: Zone
    reading: Reading
    bowl: Bowl
    grams: dict[int, Decimal]
    stocked: StockedLine

    @property
    def target_lab(self) -> FloatArray | None:
        """The aim in L*a*b* (3,), if there is one."""
        parts = [self.bowl.target_l, self.bowl.target_a, self.bowl.target_b]
        if None in parts:
            return None
        return np.array([float(part) for part in parts if part is not None])

    @property
    def total_g(self) -> Decimal:
        """Grams of colour and clear in the bowl."""
        return sum(self.grams.values(), Decimal(0))

    @property
    def developer_g(self) -> Decimal:
        """Grams of developer that the line's ratio asks for."""
        return self.total_g * self.stocked.line.developer_parts

    @property
    def poured(self) -> list[tuple[Shade, Decimal]]:
        """What is in the bowl, in shelf order."""
        return [(shade, self.grams[shade.pk]) for shade in self.stocked.shades if shade.pk in self.grams]


def bench_of(person: Person, opened: OpenZone, bowl: Bowl | None = None) -> Bench:
    """The bench of an open zone that has been read and has a bowl; a bowl just changed need not be read again.

    Two queries, one with a bowl given. Raises Bowl.DoesNotExist when there is no bowl or it is another studio's,
    Reading.DoesNotExist before a reading.
    """
    if opened.reading is None:
        raise Reading.DoesNotExist
    if bowl is None:
        bowl = Bowl.objects.visible_to(person).select_related("line").get(zone=opened.zone)
    return Bench(
        visit=opened.visit,
        zone=opened.zone,
        reading=opened.reading,
        bowl=bowl,
        grams=dict(bowl.pours.values_list("shade_id", "grams")),
        stocked=stocked_line(bowl.line),
    )
