"""What a strand is tested with: the bowl in hand, and how it is forecast to look."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from decimal import Decimal

from engine.bowl.mix import MINUTES_LIMIT
from engine.bowl.predict import predict
from studio.head.selectors import Bench
from studio.visits.engine_adapter import canvas_of
from studio.visits.models import Zone


@dataclass(frozen=True, kw_only=True, eq=False)
class BowlTested:
    """The bowl in hand as a strand test notes it."""

    bench: Bench

    @property
    def grams(self) -> Mapping[str, float]:
        """Grams of each shade by name."""
        return {shade.name: float(grams) for shade, grams in self.bench.poured}

    def lab_on(self, zone: Zone, minutes: Decimal) -> Sequence[float]:
        """L*a*b* (3,) of a zone's hair with the bowl on it for so long; empty for lightener and an empty bowl."""
        hair = next((each for each in self.bench.served if each.zone.pk == zone.pk), None)
        if hair is None or hair.mix is None or not 0 < minutes <= MINUTES_LIMIT:
            return ()
        process = replace(hair.process, minutes=float(minutes))
        return [float(part) for part in predict(canvas_of(hair.reading), hair.mix, process=process).lab]
