"""Coats from the bench's bowls, described for the gates: what every page over the bench asks about."""

from collections.abc import Sequence

from studio.head.selectors import Bench, ZoneBench
from studio.visits.coats import AS_USUAL, How, line_coat
from studio.visits.gates import GateCoat


def bowl_coat(bench: Bench, how: How = AS_USUAL, *, of: ZoneBench | None = None) -> GateCoat:
    """A coat's bowl, that of the one in hand unless another is named, on every zone that it goes on."""
    bowl = (of or bench).bowl.pk
    served = {each.zone.pk: each for each in reversed(bench.coats) if each.bowl.pk == bowl}
    return _coat(bench, [served[zone.zone.pk] for zone in bench.zones if zone.zone.pk in served], how)


def zone_coat(bench: Bench, zone: ZoneBench, how: How = AS_USUAL) -> GateCoat:
    """A zone's bowl on that zone alone, as it is put on."""
    return _coat(bench, [zone], how)


def _coat(bench: Bench, zones: Sequence[ZoneBench], how: How) -> GateCoat:
    bowl = zones[0]
    return line_coat(
        bowl.bowl.line,
        [(each.zone, each.reading) for each in zones],
        how,
        names=[shade.name for shade, _ in bowl.poured if not bowl.stocked.dyes[shade.pk].is_clear],
        beside=frozenset(each.bowl.line.name for each in bench.coats if each.pours and each.colours),
        vol=float(bowl.bowl.vol) if bowl.bowl.parts else 0.0,
    )
