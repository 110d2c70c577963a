"""What a strand is tested with: a bowl, how it is forecast to look, and what the reader finds."""

import datetime
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from decimal import Decimal

from engine.bowl.mix import MINUTES_LIMIT
from engine.bowl.predict import predict
from studio.head.reader import read_coloured
from studio.head.selectors import Bench, ZoneBench
from studio.shelf.models import LIGHTENER
from studio.ui.refusal import Refusal
from studio.visits.engine_adapter import canvas_of
from studio.visits.models import HAIR_NAMES, Zone


@dataclass(frozen=True, kw_only=True, eq=False)
class BowlTested:
    """A bowl as a strand test notes it. hairs: what it serves."""

    hairs: Sequence[ZoneBench]

    @property
    def line(self) -> str:
        """The name of its line; nothing for lightener, as a coat of it has none."""
        line = self.hairs[0].bowl.line
        return "" if line.kind == LIGHTENER else line.name

    @property
    def grams(self) -> Mapping[str, float]:
        """Grams of each shade by name."""
        return {shade.name: float(grams) for shade, grams in self.hairs[0].poured}

    def lab_on(self, zone: Zone, minutes: Decimal) -> Sequence[float]:
        """L*a*b* (3,) of a zone's hair with the bowl on it for so long; empty for lightener and an empty bowl."""
        hair = self._hair(zone, minutes)
        if hair is None or hair.mix is None:
            return ()
        process = replace(hair.process, minutes=float(minutes))
        return [float(part) for part in predict(canvas_of(hair.reading), hair.mix, process=process).lab]

    def worked_on(self, zone: Zone, minutes: Decimal) -> Mapping[str, object]:
        """A zone's hair and the bowl on it as numbers that JSON keeps; empty for lightener and an empty bowl."""
        hair = self._hair(zone, minutes)
        if hair is None or hair.mix is None:
            return {}
        process = hair.process
        return {
            "hair": {name: _plain(getattr(hair.reading, name)) for name in HAIR_NAMES},
            "source": hair.reading.source,
            "reader": hair.reading.read_by_id,
            "line": hair.bowl.line_id,
            "grams": {str(shade.pk): str(grams) for shade, grams in hair.poured},
            "minutes": str(minutes),
            "vol": process.developer_vol,
            "ratio": process.ratio,
        }

    def read_on(
        self, zone: Zone, minutes: Decimal, form: Mapping[str, str], *, now: datetime.datetime
    ) -> Sequence[float]:
        """L*a*b* (3,) of the tested strand, by the reader. Raises Refusal strand_no_look, and when the reader fails."""
        hair = self._hair(zone, minutes)
        if hair is None or hair.mix is None:
            raise Refusal("strand_no_look", "reader")
        process = replace(hair.process, minutes=float(minutes))
        return [float(part) for part in read_coloured(canvas_of(hair.reading), hair.plain_mix, process, form, now=now)]

    def _hair(self, zone: Zone, minutes: Decimal) -> ZoneBench | None:
        if not 0 < minutes <= MINUTES_LIMIT:
            return None
        return next((each for each in self.hairs if each.zone.pk == zone.pk), None)


def _plain(given: object) -> object:
    return str(given) if isinstance(given, Decimal) else given


def bowl_tested(bench: Bench | None, bowl_id: int | None) -> BowlTested | None:
    """A bowl of a head as it is tested; None where nothing is mixed."""
    hairs = [each for each in bench.coats if each.bowl.pk == bowl_id] if bench else []
    return BowlTested(hairs=hairs) if hairs else None
