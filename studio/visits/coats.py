"""Coats described for the gates: lightener, a line's colour, a mask or seal."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Final

from engine.service.lift import USUAL_VOL
from engine.service.work import Work, WorkKind
from studio.shelf.models import ShadeLine
from studio.visits.gates import Asked, GateCoat, place_of
from studio.visits.models import Consult, Reading, Zone

LIGHT_WITHIN: Final = 0.5  # of a level below what the lift stops at: hair as light as that needs no lightener


@dataclass(frozen=True, kw_only=True)
class How:
    """How a coat is worked. kind: the line's own unless another is set. beneath: what is on that hair as it goes on."""

    kind: WorkKind | None = None
    heat: bool = False
    in_metal: bool = False
    other_developer: bool = False
    unguarded: bool = False
    beneath: frozenset[WorkKind] = frozenset()
    minutes: float | None = None
    pack_most_min: float | None = None


AS_USUAL = How()
WORK_OF_LINE: Final = {"booster": WorkKind.DIRECT}  # concentrated direct dye


def line_coat(
    line: ShadeLine,
    zones: Sequence[tuple[Zone, Reading | None]],
    how: How = AS_USUAL,
    *,
    names: Sequence[str] = (),
    beside: frozenset[str] = frozenset(),
    vol: float | None = None,
) -> GateCoat:
    """A line's colour on zones. names: of the shades in it. beside: the lines that are on this head.

    vol: strength of its developer, where not as the line has it.
    """
    usual_vol = float(line.developer_vol) if line.developer_parts else 0.0
    works = tuple(
        Work(
            kind=how.kind or WORK_OF_LINE.get(line.kind) or WorkKind(line.kind),
            place=place_of(zone, reading, beneath=how.beneath),
            line=line.name,
            asks_test=line.asks_test,
            test_lasts_days=line.test_lasts_days,
            declares=frozenset(words.strip() for words in line.declares.split(",") if words.strip()),
            products=frozenset(names),
            vol=usual_vol if vol is None else vol,
            heat=how.heat,
            has_metal_bowl=how.in_metal,
            other_developer=how.other_developer,
            lines_beside=beside,
            minutes=how.minutes,
            pack_most_min=how.pack_most_min,
        )
        for zone, reading in zones
    )
    return GateCoat(zones=tuple(zone for zone, _ in zones), works=works)


def lift_coat(
    asked: Asked,
    zone: Zone,
    readings: Mapping[int, Reading],
    zones: Sequence[Zone],
    *,
    to_level: float,
    vol: float = USUAL_VOL,
    how: How | None = None,
) -> GateCoat:
    """Lightener on a zone, up to a level. how: as it is set at the clock, else as the consult plans it."""
    how = how or How(heat=asked.consult.heat)
    reading = readings.get(zone.pk)
    place = place_of(zone, reading, beneath=how.beneath, overlaps_light=_overlaps(zone, readings, zones, to_level))
    work = Work(
        kind=WorkKind.LIGHTENER,
        place=place,
        vol=vol,
        lift_levels=max(to_level - float(reading.level), 0.0) if reading else 0.0,
        heat=how.heat,
        covered=asked.consult.lay != Consult.Lay.OPEN,
        has_metal_bowl=how.in_metal,
        unguarded=how.unguarded,
        minutes=how.minutes,
        pack_most_min=how.pack_most_min,
    )
    return GateCoat(zones=(zone,), works=(work,))


def plain_coat(
    kind: WorkKind, zone: Zone, reading: Reading | None, how: How = AS_USUAL, *, vol: float = 0.0
) -> GateCoat:
    """A remover, an equaliser, a mask or a seal: nothing of it is weighed on the bench. vol: of peroxide in it."""
    work = Work(
        kind=kind,
        place=place_of(zone, reading, beneath=how.beneath),
        vol=vol,
        heat=how.heat,
        has_metal_bowl=how.in_metal,
        minutes=how.minutes,
        pack_most_min=how.pack_most_min,
    )
    return GateCoat(zones=(zone,), works=(work,))


def _overlaps(zone: Zone, readings: Mapping[int, Reading], zones: Sequence[Zone], to_level: float) -> bool:
    """Whether the hair next to a zone, along its length, is lightened as far already: lightener runs onto it."""
    along = [each for each in zones if each.is_lengthwise]
    if zone not in along:
        return False
    at = along.index(zone)
    beside = [readings.get(each.pk) for each in (*along[max(at - 1, 0) : at], *along[at + 1 : at + 2])]
    return any(
        reading is not None and reading.family == "lightened" and float(reading.level) >= to_level - LIGHT_WITHIN
        for reading in beside
    )
