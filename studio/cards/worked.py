"""What pouring and clocks noted of a zone."""

import datetime
from collections.abc import Mapping
from dataclasses import dataclass
from decimal import Decimal
from typing import Any

from engine.bowl.mix import FULL_TIME_DRY, MINUTES_LIMIT, Process
from studio.accounts.models import Person
from studio.bench.selectors import ZoneBench
from studio.clocks.models import ZoneClock
from studio.pour.selectors import batch_of, lines_of_batch, weighings_of


@dataclass(frozen=True, kw_only=True)
class Worked:
    """What pouring and clocks noted of a zone: by shade id what was planned and the tubes' numbers, and moments."""

    planned: Mapping[int, Decimal]
    lots: Mapping[int, str]
    developer_g: Decimal
    batches: int
    mixed_at: datetime.datetime | None
    clock: ZoneClock | None

    @property
    def noted(self) -> dict[str, Any]:
        """The fields of a formula that tell how it was worked."""
        return {
            "developer_g": round(self.developer_g, 1),
            "batches": self.batches,
            "mixed_at": self.mixed_at,
            "applied_at": self.clock.applied_at if self.clock else None,
            "rinsed_at": self.clock.rinsed_at if self.clock else None,
            "damp": bool(self.clock and self.clock.damp),
            "heat": bool(self.clock and self.clock.heat),
        }

    @property
    def process(self) -> Process:
        """How the bowl was worked: as the clock has it once it was rinsed, else at full time on dry hair."""
        if self.clock is None or self.clock.rinsed_at is None:
            return FULL_TIME_DRY
        return self.process_at(self.clock.rinsed_at)

    @property
    def is_on(self) -> bool:
        """Whether it is on the hair now."""
        return self.clock is not None and self.clock.rinsed_at is None

    def process_at(self, now: datetime.datetime) -> Process:
        """How the bowl was worked up to a moment, or to the rinse; without a clock at full time on dry hair."""
        if self.clock is None:
            return FULL_TIME_DRY
        minutes = ((self.clock.rinsed_at or now) - self.clock.applied_at).total_seconds() / 60
        return Process(minutes=min(max(minutes, 0.0), MINUTES_LIMIT), damp=self.clock.damp)


def worked_on(person: Person, bench: ZoneBench) -> Worked:
    """What was noted while a zone's bowl was poured and worked. A few queries."""
    batch = batch_of(person, bench.bowl.pk)
    lines = lines_of_batch(bench, weighings_of(batch))
    weighed = {line.shade.pk: line for line in lines if line.shade and line.poured_g} if batch else {}
    developer = next((line for line in lines if line.shade is None), None)
    clocks = ZoneClock.objects.visible_to(person).filter(zone=bench.zone, kind__in=ZoneClock.COLOURS)
    return Worked(
        planned={shade: line.planned_g for shade, line in weighed.items()},
        lots={shade: ", ".join(line.lots)[:62] for shade, line in weighed.items()},
        developer_g=Decimal(0) if developer is None else developer.poured_g or developer.aimed_g,
        batches=batch.number if batch else 1,
        mixed_at=batch.mixed_at if batch else None,
        clock=clocks.order_by("-applied_at").first(),
    )
