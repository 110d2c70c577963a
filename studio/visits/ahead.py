"""What stands ahead of a visit before it is known what will be done: the gates of every kind of work at hand."""

from collections.abc import Sequence
from dataclasses import dataclass

from engine.language import listed
from engine.service.safety import ORDER, Gate
from studio.shelf.models import ShadeLine
from studio.visits.coats import lift_coat, line_coat
from studio.visits.gates import Asked, GateCoat, check
from studio.visits.selectors import OpenZone

USUAL_LIFT = 1.0  # of a level: the least that lightener is for


@dataclass(frozen=True, kw_only=True)
class Ahead:
    """A gate, and the kinds of work that it stands before, in words."""

    gate: Gate
    works: str


def ahead_of(asked: Asked, opened: OpenZone, lines: Sequence[ShadeLine]) -> list[Ahead]:
    """The gates of lightener and of each line's colour on the head's zones, stops first, each told once."""
    readings = [(zone, opened.by_zone.get(zone.pk)) for zone in opened.zones]
    lifts = [
        lift_coat(
            asked,
            zone,
            opened.by_zone,
            opened.zones,
            to_level=min(float(reading.level) + USUAL_LIFT, 11.0) if reading else USUAL_LIFT,
        )
        for zone, reading in readings
    ]
    lightener = GateCoat(zones=opened.zones, works=tuple(lift.works[0] for lift in lifts))
    found: dict[str, tuple[Gate, list[str]]] = {}
    for coat in (lightener, *(line_coat(line, readings) for line in lines)):
        for seen in check(asked, coat):
            found.setdefault(seen.gate.code, (seen.gate, []))[1].append(coat.words)
    told = [Ahead(gate=gate, works=listed(words)) for gate, words in found.values()]
    return sorted(told, key=lambda each: ORDER.index(each.gate.severity))
