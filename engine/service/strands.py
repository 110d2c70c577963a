"""Which zone a strand of hair is in, place by place along it: by this a drawn head is coloured.

Zones part the scalp, the length and the strands (`parting`). A strand is of the part that its root lies in; strands
that are woven out of a part lie side by side in its pattern; what neither takes is of the stretches of the length,
which give way to one another across their seams. How far apart strands of a pattern lie is the founders', so that each
can be told from the others in a drawing.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np

from engine.arrays import FloatArray, frozen
from engine.service.parting import AREAS, HALVES, STRANDS, Place
from engine.service.stretch import Stretch

# How far apart, in hundredths of the width of a head, strands of a pattern lie; any other lies like a weave.
PERIODS: Final[Mapping[str, float]] = {
    "fine_weave": 3.0,
    "weave": 5.0,
    "chunky_weave": 8.0,
    "slices": 12.0,
    "alternate_a": 10.0,
    "alternate_b": 10.0,
    "herringbone": 6.0,
}
MIDDLE: Final = 50.0  # of the width of a head, in hundredths
STRAND: Final = 0.6  # what hangs as near to one another is one strand
WOVEN: Final = frozenset({"fine_weave", "weave", "chunky_weave"})  # picked out by a comb's tail, never quite evenly
WOVEN_UNEVEN: Final = 0.5  # by how much of their distance
VEIL_LAYER: Final = 0.25  # what lies above this is the veil
VEIL_CLOSED: Final = 0.4  # of its length: below it parts
VEIL_COVERS: Final = 0.65  # and lets through what of the strands there is above this


@dataclass(frozen=True, kw_only=True, eq=False)
class Strands:
    """Strands of a head, or of what is seen of it.

    across: (strands,) where they hang, in hundredths of the head's width. layer: (strands,) 0 for those on top of all,
    1 for those beneath. along_cm: (strands, places) from the scalp. roots: of parts of the scalp, which strands grow
    there, (strands,) as shares 0-1.
    """

    across: FloatArray
    layer: FloatArray
    along_cm: FloatArray
    roots: Mapping[str, FloatArray]


def zone_shares(
    places: Sequence[Place], stretches: Sequence[Stretch], blends: Sequence[float], strands: Strands
) -> FloatArray:
    """How much of each zone there is at each place of each strand, (zones, strands, places); sums to 1 at most.

    stretches: of each place, see `parting.parted`. blends: after each place, the width of its seam as a share of the
    whole length. What no zone has is left over.
    """
    left = np.ones(strands.along_cm.shape)
    shares = np.zeros((len(places), *left.shape))
    for group in _groups(places):
        start = 0.0
        for at in group:
            among = _of_pattern(places[at], stretches[at], start, _period(places, group), strands)[:, None]
            shares[at] = np.minimum(_there(places[at], stretches[at], strands) * among, left)
            left = left - shares[at]
            start += _share_of(places[at])
    along = [at for at, place in enumerate(places) if place.is_lengthwise and place.is_all]
    along.sort(key=lambda at: stretches[at].from_cm)
    shares[along] = left * _along(along, stretches, blends, strands)
    return frozen(np.clip(shares, 0.0, 1.0))


def _groups(places: Sequence[Place]) -> list[tuple[int, ...]]:
    """Zones that part the same hair side by side, what is smallest first: woven strands before what they come from."""
    found: dict[tuple[int, bool, str], list[int]] = {}
    for at, place in enumerate(places):
        if place.is_lengthwise and place.is_all:
            continue
        size = 2 if place.is_lengthwise else 1 if place.part in HALVES else 0
        found.setdefault((size, place.is_all, "" if place.is_lengthwise else place.part), []).append(at)
    return [tuple(found[key]) for key in sorted(found)]


def _there(place: Place, stretch: Stretch, strands: Strands) -> FloatArray:
    """Whether each place of each strand lies in the part and the stretch of a zone, (strands, places)."""
    along = strands.along_cm
    inside: FloatArray = ((along >= stretch.from_cm) & (along < stretch.to_cm + 1e-9)).astype(float)
    if place.part in AREAS:
        inside = inside * strands.roots.get(place.part, np.zeros(len(strands.across)))[:, None]
    if place.pattern == "veil":
        closed = (along < VEIL_CLOSED * stretch.to_cm) | (_luck(strands.across) < VEIL_COVERS)[:, None]
        inside = inside * (strands.layer < VEIL_LAYER)[:, None] * closed
    return inside


def _share_of(place: Place) -> float:
    return STRANDS[place.pattern] if place.strand_share is None else place.strand_share


def _period(places: Sequence[Place], group: Sequence[int]) -> float:
    """How far apart the strands of a group lie: as far as those of its widest pattern."""
    return max(PERIODS.get(places[at].pattern, PERIODS["weave"]) for at in group)


def _of_pattern(place: Place, stretch: Stretch, start: float, period: float, strands: Strands) -> FloatArray:
    """Which strands are of a zone's pattern, (strands,). start: the share that others of its group have before it."""
    if place.pattern == "veil":
        return np.ones(len(strands.across))
    if place.is_all:
        return np.full(len(strands.across), stretch.strand_share if place.strand_share is not None else 1.0)
    across = strands.across
    if place.pattern in WOVEN:
        across = across + WOVEN_UNEVEN * period * (_luck(across) - 0.5)
    elif place.pattern == "herringbone":  # slices on the diagonal, back to back: what lies deeper belongs further out
        across = across + np.sign(across - MIDDLE) * strands.layer * period
    if place.pattern == "alternate_b":
        start = max(start, 1.0 - _share_of(place))
    at = np.mod(across / period - start, 1.0)
    return (at < _share_of(place)).astype(float)


def _luck(across: FloatArray) -> FloatArray:
    """What looks random of each strand, 0-1, the same each time."""
    luck: FloatArray = np.mod(np.sin(np.rint(across / STRAND) * 12.9898) * 43758.5453, 1.0)
    return luck


def _along(zones: Sequence[int], stretches: Sequence[Stretch], blends: Sequence[float], strands: Strands) -> FloatArray:
    """How much of each stretch of the length there is at each place, (stretches, strands, places).

    Across a seam the one above gives way to the one below in a straight line. Beyond the last, and above the first,
    there is nothing of any.
    """
    length = max((stretches[at].to_cm for at in zones), default=1.0)
    found, left = np.zeros((len(zones), *strands.along_cm.shape)), np.ones(strands.along_cm.shape)
    for number, at in enumerate(zones):
        top, bottom = stretches[at].from_cm, stretches[at].to_cm
        begins = _ramp(strands.along_cm, top, _seam(zones, number - 1, blends, length)) if number else 1.0
        ends = _ramp(strands.along_cm, bottom, _seam(zones, number, blends, length)) if number + 1 < len(zones) else 0.0
        inside = (strands.along_cm >= top) if not number else True
        found[number] = np.minimum(np.clip(begins - ends, 0.0, 1.0) * inside, left)
        left = left - found[number]
    return found


def _seam(zones: Sequence[int], number: int, blends: Sequence[float], length: float) -> float:
    return max(blends[zones[number]] * length, 1e-3)


def _ramp(along_cm: FloatArray, at_cm: float, width_cm: float) -> FloatArray:
    """From 0 above a seam to 1 below it."""
    ramp: FloatArray = np.clip((along_cm - at_cm) / width_cm + 0.5, 0.0, 1.0)
    return ramp
