"""The hair of a zone as each of its coats meets it: as it was read, with what the coats before have left on it."""

from copy import copy
from dataclasses import dataclass, field, replace
from functools import lru_cache

from engine.bowl.mix import FULL_TIME_DRY, MINUTES_LIMIT, Bowl, Process
from engine.hair.canvas import Canvas
from engine.service.chain import COLOURING, ChainedCoat, hair_after
from engine.service.schedule.work import Purpose
from studio.head.models import Bowl as BowlRow
from studio.head.models import Coat
from studio.shelf.selectors import usual_process
from studio.visits.engine_adapter import canvas_of, hair_fields
from studio.visits.models import Reading, Zone
from studio.visits.selectors import OpenZone


@dataclass(kw_only=True)
class StandingHair:
    """Hair that coats go on one after the other. readings: after so many coats, in that order, the first before any.

    A reading between two coats takes the place of what was forecast there.
    """

    readings: tuple[Reading, ...]
    _since: Reading | None = field(default=None, init=False)
    _coats: list[ChainedCoat] = field(default_factory=list, init=False)

    def before(self, number: int) -> Reading:
        """The hair when so many coats are on: a reading, or one that is forecast and never saved."""
        here = [reading for reading in self.readings if reading.after_coats <= number] or [self.readings[0]]
        newest = max(here, key=lambda reading: reading.after_coats)
        if newest is not self._since:
            self._since, self._coats = newest, []
        return _forecast(newest, tuple(self._coats)) if self._coats else newest

    def on(self, coat: Coat, mix: Bowl | None) -> None:
        """A further coat goes on; one whose bowl is empty leaves nothing, and one beyond what was read counts."""
        chained = _chained(coat, mix)
        if chained is not None:
            self._coats.append(chained)


def hair_of(opened: OpenZone, zone: Zone) -> StandingHair:
    """The hair of a zone that has been read."""
    return StandingHair(readings=opened.all_by_zone[zone.pk])


def _chained(coat: Coat, mix: Bowl | None) -> ChainedCoat | None:
    """A coat as the engine takes it; None for one that leaves no trace on the hair."""
    purpose = Purpose(coat.purpose)
    if purpose is Purpose.LIFT:
        return ChainedCoat(purpose=purpose, to_level=float(coat.to_level or 0))
    if purpose in COLOURING or purpose is Purpose.MASK:
        return None if mix is None else ChainedCoat(purpose=purpose, bowl=mix, process=process_of(coat))
    return ChainedCoat(purpose=purpose)


def _forecast(reading: Reading, coats: tuple[ChainedCoat, ...]) -> Reading:
    keys = tuple((coat.purpose, coat.bowl, coat.process, coat.to_level) for coat in coats)
    canvas = _after_once(canvas_of(reading), keys)
    standing = copy(reading)
    for name, number in hair_fields(canvas, reading).items():
        setattr(standing, name, number)
    standing.source = Reading.Source.FORECAST
    return standing


def process_of(coat: Coat) -> Process:
    """How a coat was worked, once it is off the hair; until then at full time, as the house works."""
    usual = FULL_TIME_DRY if coat.bowl is None else bowl_process(coat.bowl)
    if coat.worked_min is None:
        return usual
    return replace(usual, minutes=min(float(coat.worked_min), MINUTES_LIMIT), damp=coat.damp)


def bowl_process(bowl: BowlRow) -> Process:
    """How a bowl works here at full time, on hair as the house has it, by its own developer if it has one."""
    usual = usual_process(bowl.line)
    if bowl.own_vol is None and bowl.own_parts is None:
        return usual
    return replace(usual, developer_vol=float(bowl.vol) if bowl.parts else None, ratio=float(bowl.parts) or None)


@lru_cache(maxsize=512)
def _after_once(canvas: Canvas, coats: tuple[tuple[Purpose, Bowl | None, Process, float | None], ...]) -> Canvas:
    """The pages of a visit ask for the same hair at every tap. coats: purpose, bowl, process, and level of a lift."""
    return hair_after(
        canvas,
        [
            ChainedCoat(purpose=purpose, bowl=bowl, process=process, to_level=to_level)
            for purpose, bowl, process, to_level in coats
        ],
    )
