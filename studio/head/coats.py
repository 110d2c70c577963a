"""Coats from the bench's bowls, described for the gates: what every page over the bench asks about."""

from collections.abc import Sequence
from dataclasses import replace

from engine.service.work import WorkKind
from studio.head.models import Coat
from studio.head.selectors import Bench, ZoneBench
from studio.visits.coats import AS_USUAL, How, lift_coat, line_coat
from studio.visits.gates import Asked, GateCoat, heated


def bowl_coat(asked: Asked, bench: Bench, how: How = AS_USUAL, *, of: ZoneBench | None = None) -> GateCoat:
    """A coat's bowl, that of the one in hand unless another is named, on every zone that it goes on."""
    bowl = (of or bench).bowl.pk
    on = [each for each in bench.coats if each.bowl.pk == bowl]
    taken = [each for each in on if not each.zone.left_alone] or on
    served = {each.zone.pk: each for each in reversed(taken)}
    return _coat(asked, bench, [served[zone.zone.pk] for zone in bench.zones if zone.zone.pk in served], how)


def zone_coat(asked: Asked, bench: Bench, zone: ZoneBench, how: How = AS_USUAL) -> GateCoat:
    """A zone's bowl on that zone alone, as it is put on."""
    return _coat(asked, bench, [zone], how)


def _coat(asked: Asked, bench: Bench, zones: Sequence[ZoneBench], how: How) -> GateCoat:
    bowl = zones[0]
    if bowl.coat.lifts:
        return _lightener(asked, bench, zones, how)
    if how.kind is None and bowl.coat.purpose == Coat.Purpose.FILL:
        how = replace(how, kind=WorkKind.FILL)
    return line_coat(
        bowl.bowl.line,
        [(each.zone, each.reading) for each in zones],
        how,
        names=[shade.name for shade, _ in bowl.poured if not bowl.stocked.dyes[shade.pk].is_clear],
        beside=frozenset(each.bowl.line.name for each in bench.coats if each.pours and each.colours),
        vol=float(bowl.bowl.vol) if bowl.bowl.parts else 0.0,
    )


def _lightener(asked: Asked, bench: Bench, zones: Sequence[ZoneBench], how: How) -> GateCoat:
    """A bowl of lightener on its zones, up to the level that is set for each."""
    readings = {each.zone.pk: each.reading for each in (*bench.zones, *zones)}
    head = [each.zone for each in bench.zones]
    works = [
        work
        for each in zones
        for work in lift_coat(
            asked,
            each.zone,
            readings,
            head,
            to_level=float(each.coat.to_level or 0),
            vol=float(each.bowl.vol),
            how=replace(how, heat=how.heat or heated(asked, WorkKind.LIGHTENER)),
        ).works
    ]
    return GateCoat(zones=tuple(each.zone for each in zones), works=tuple(works))
