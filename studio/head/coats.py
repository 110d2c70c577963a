"""Coats from the bench's bowls, described for the gates: what every page over the bench asks about."""

from collections.abc import Sequence

from studio.head.selectors import Bench, ZoneBench
from studio.visits.coats import AS_USUAL, How, line_coat
from studio.visits.gates import Coat


def bowl_coat(bench: Bench, how: How = AS_USUAL, *, of: ZoneBench | None = None) -> Coat:
    """A zone's bowl, that of the zone in hand unless another is named, on every zone that is coloured from it."""
    bowl = (of or bench).bowl.pk
    return _coat(bench, [each for each in bench.zones if each.bowl.pk == bowl], how)


def zone_coat(bench: Bench, zone: ZoneBench, how: How = AS_USUAL) -> Coat:
    """A zone's bowl on that zone alone, as it is put on."""
    return _coat(bench, [zone], how)


def _coat(bench: Bench, zones: Sequence[ZoneBench], how: How) -> Coat:
    bowl = zones[0]
    return line_coat(
        bowl.bowl.line,
        [(each.zone, each.reading) for each in zones],
        how,
        names=[shade.name for shade, _ in bowl.poured if not bowl.stocked.dyes[shade.pk].is_clear],
        beside=frozenset(each.bowl.line.name for each in bench.zones if each.pours),
    )
