"""What bowls look like: L*a*b*, its slope, and the difference to an aim."""

from typing import Final, NamedTuple

import numpy as np

from engine.arrays import FloatArray, IntArray
from engine.bowl.loops.machine import (
    compiled,
    coordinate_slopes,
    coordinates_of,
    filled_up,
    five_thirds_of,
    inlined,
    lent,
    parts_of,
    quick_difference,
    reflectance,
    reflectance_and_slope,
    response,
    response_slope,
    three_fifths_of,
)
from engine.dye.uptake import CROWDING

TINY: Final = 1e-12


class Tables(NamedTuple):
    """What a reckoning needs, zones side by side.

    hair: K (zones, fibres, bands) of the hair as it is. bare, pigment, base: what it consists of, as `Fibres` has it,
    with zones in front; read where a shade has a base. fibre_share: (zones, fibres). takes: K of a shade at a fraction
    of one alone, (zones, shades). spectra: (shades, bands) of tones, with as many of bases behind them if a shade has
    one. weights: (3, bands), those of the light over its white. targets: L*a*b* (zones, 3). metrics: those of small
    differences at each target, weighed by the roots of the zones' shares, (zones, 3, 3). zone_share: (zones,), sum 1.
    """

    hair: FloatArray
    bare: FloatArray
    pigment: FloatArray
    base: FloatArray
    fibre_share: FloatArray
    takes: FloatArray
    spectra: FloatArray
    weights: FloatArray
    targets: FloatArray
    metrics: FloatArray
    zone_share: FloatArray


@compiled
def write(values: FloatArray | IntArray, target: FloatArray | IntArray) -> None:
    """Writes values (k,) into a target (k,); a slice's own assignment takes seconds to compile."""
    for each in range(len(values)):
        target[each] = values[each]


@compiled
def _absorb(
    takes: FloatArray, spectra: FloatArray, zone: int, members: IntArray, fractions: FloatArray, added: FloatArray
) -> float:
    """Fills the K/S (bands,) that fractions (k,) of shades (k,) add; how much the dyes crowd one another."""
    crowd = 1.0
    for each in range(len(members)):
        crowd += CROWDING * fractions[each]
    is_bare = True
    for each in range(len(members)):
        if fractions[each] == 0.0:
            continue
        shade = members[each]
        taken = takes[zone, shade] * fractions[each] / crowd
        if is_bare:
            for band in range(len(added)):
                added[band] = taken * spectra[shade, band]
        else:
            for band in range(len(added)):
                added[band] += taken * spectra[shade, band]
        is_bare = False
    if is_bare:
        for band in range(len(added)):
            added[band] = 0.0
    return crowd


# The K (bands,) of one zone's fibres with what is added, as `Fibres.dyed` has it, is written over what is added. Handed
# over are a zone's own arrays: a call with all tables costs as much as a sum over a hundred bands. mixed: scratch, as
# wide as what is added.


@compiled
def _mingle(hair: FloatArray, shares: FloatArray, added: FloatArray, mixed: FloatArray) -> None:
    """Fibres of several kinds, hair (kinds, bands) in shares (kinds,), with tones (bands,)."""
    for band in range(len(added)):
        mixed[band] = 0.0
    for kind in range(len(shares)):
        share = shares[kind]
        for band in range(len(added)):
            mixed[band] += share * three_fifths_of(added[band] + hair[kind, band])
    for band in range(len(added)):
        added[band] = five_thirds_of(mixed[band])


@compiled
def _mingle_and_slopes(
    hair: FloatArray, shares: FloatArray, added: FloatArray, slopes: FloatArray, mixed: FloatArray
) -> None:
    """As `_mingle`; fills how fast that K grows with what is added, (bands,)."""
    for band in range(len(added)):
        slopes[band] = mixed[band] = 0.0
    for kind in range(len(shares)):
        share = shares[kind]
        for band in range(len(added)):
            each = added[band] + hair[kind, band]
            powered = share * three_fifths_of(each)
            mixed[band] += powered
            slopes[band] += powered / each
    for band in range(len(added)):
        added[band] = five_thirds_of(mixed[band])
        slopes[band] *= added[band] / mixed[band]


@compiled
def _dye(
    bare: FloatArray, pigment: FloatArray, base: FloatArray, shares: FloatArray, added: FloatArray, mixed: FloatArray
) -> None:
    """Fibres (kinds, bands) with tones and bases, (2 bands,)."""
    kinds, bands = bare.shape
    for band in range(bands):
        mixed[band] = 0.0
    for kind in range(kinds):
        share = shares[kind]
        for band in range(bands):
            whole = filled_up(pigment[kind, band], base[band] + added[bands + band])
            mixed[band] += share * three_fifths_of(added[band] + bare[kind, band] + whole)
    for band in range(bands):
        added[band] = five_thirds_of(mixed[band])


@compiled
def _dye_and_slopes(
    bare: FloatArray,
    pigment: FloatArray,
    base: FloatArray,
    shares: FloatArray,
    added: FloatArray,
    slopes: FloatArray,
    mixed: FloatArray,
) -> None:
    """As `_dye`; fills how fast that K grows with what is added, (2 bands,)."""
    kinds, bands = bare.shape
    for part in range(2 * bands):
        slopes[part] = mixed[part] = 0.0
    for kind in range(kinds):
        share = shares[kind]
        for band in range(bands):
            bases = base[band] + added[bands + band]
            whole = filled_up(pigment[kind, band], bases)
            each = added[band] + bare[kind, band] + whole
            powered = share * three_fifths_of(each)
            mixed[band] += powered
            slopes[band] += powered / each
            filled = bases / max(whole, TINY)  # where both are nothing, the base is all there is
            squared = filled * filled
            slopes[bands + band] += powered / each * squared * squared * filled
    for band in range(bands):
        added[band] = five_thirds_of(mixed[band])
        outer = added[band] / mixed[band]
        slopes[band] *= outer
        slopes[bands + band] *= outer


@inlined
def lab(
    tables: Tables, zone: int, members: IntArray, fractions: FloatArray, scratch: FloatArray
) -> tuple[float, float, float]:
    """L*a*b* of one bowl on one zone; scratch: (2, bands or 2 bands)."""
    _absorb(tables.takes, tables.spectra, zone, members, fractions, scratch[0])
    return _lab_of(tables, zone, scratch)


@inlined
def _lab_of(tables: Tables, zone: int, scratch: FloatArray) -> tuple[float, float, float]:
    """L*a*b* of one zone with what is added, the first row of scratch; all of it is written over."""
    weights, added, mixed = tables.weights, scratch[0], scratch[1]
    bands = weights.shape[1]
    if len(added) > bands:
        _dye(tables.bare[zone], tables.pigment[zone], tables.base[zone], tables.fibre_share[zone], added, mixed)
    elif tables.hair.shape[1] > 1:
        _mingle(tables.hair[zone], tables.fibre_share[zone], added, mixed)
    else:
        for band in range(bands):
            added[band] += tables.hair[zone, 0, band]
    x = y = z = 0.0
    for band in range(bands):
        seen = reflectance(added[band])
        x += seen * weights[0, band]
        y += seen * weights[1, band]
        z += seen * weights[2, band]
    found: tuple[float, float, float] = coordinates_of(response(x), response(y), response(z))
    return found


@inlined
def difference(tables: Tables, members: IntArray, fractions: FloatArray, scratch: FloatArray) -> float:
    """delta E00 of one bowl to the targets, the mean over zones by share; scratch: (2, bands or 2 bands)."""
    targets, zone_share = tables.targets, tables.zone_share
    total = 0.0
    for zone in range(len(zone_share)):
        lightness, a, b = lab(tables, zone, members, fractions, scratch)
        found, opposed = quick_difference(targets[zone, 0], targets[zone, 1], targets[zone, 2], lightness, a, b)
        if opposed:
            found = parts_of(targets[zone, 0], targets[zone, 1], targets[zone, 2], lightness, a, b)[0]
        total += zone_share[zone] * found
    return total


@compiled
def labs(tables: Tables, sets: IntArray, fractions: FloatArray) -> FloatArray:
    """L*a*b* (bowls, 3) on the first zone of fractions (bowls, k) of the shades of sets (bowls, k)."""
    found = np.empty((len(fractions), 3))
    _labs(tables, sets, fractions, np.empty((2, tables.spectra.shape[1])), found)
    return found


@lent
def _labs(tables: Tables, sets: IntArray, fractions: FloatArray, scratch: FloatArray, found: FloatArray) -> None:
    """Fills what `labs` finds (bowls, 3); scratch: (2, bands or 2 bands)."""
    for row in range(len(fractions)):
        found[row, 0], found[row, 1], found[row, 2] = lab(tables, 0, sets[row], fractions[row], scratch)


@compiled
def richest(
    tables: Tables, sets: IntArray, mixes: FloatArray, dilutions: FloatArray, depths: int, hues: int
) -> tuple[FloatArray, IntArray, IntArray, IntArray]:
    """Of all sets (sets, k) in mixes (mixes, k), diluted (dilutions,), the richest in each cell of depth and hue.

    Seen on the first zone. Its chroma, -1 where nothing lies, and the rows of its set, mix and dilution, each
    (depths, hues): L* from 0 to 100 in `depths` equal steps, hue once round in `hues`.
    """
    chroma = np.full((depths, hues), -1.0)
    rows = np.zeros((3, depths, hues), dtype=np.intp)
    _richest(tables, sets, mixes, dilutions, np.empty((3, tables.spectra.shape[1])), chroma, rows)
    return chroma, rows[0], rows[1], rows[2]


@lent
def _richest(
    tables: Tables,
    sets: IntArray,
    mixes: FloatArray,
    dilutions: FloatArray,
    scratch: FloatArray,
    chroma: FloatArray,
    rows: IntArray,
) -> None:
    """Fills what `richest` finds; scratch: (3, bands or 2 bands)."""
    depths, hues = chroma.shape
    added, whole = scratch[0], scratch[2]
    for row in range(len(sets)):
        for mix in range(len(mixes)):
            crowd = _absorb(tables.takes, tables.spectra, 0, sets[row], mixes[mix], whole)
            for each in range(len(dilutions)):
                diluted = dilutions[each]
                taken = diluted * crowd / (1.0 + diluted * (crowd - 1.0))
                for band in range(len(whole)):
                    added[band] = taken * whole[band]
                lightness, a, b = _lab_of(tables, 0, scratch)
                depth = min(max(int(lightness / 100 * depths), 0), depths - 1)
                hue = int((np.arctan2(b, a) / (2 * np.pi) + 1) * hues) % hues
                found = np.sqrt(a * a + b * b)
                if found > chroma[depth, hue]:
                    chroma[depth, hue] = found
                    rows[0, depth, hue], rows[1, depth, hue], rows[2, depth, hue] = row, mix, each


@compiled
def differences(tables: Tables, sets: IntArray, fractions: FloatArray) -> FloatArray:
    """delta E00 (bowls,) to the targets of fractions (bowls, k) of the shades of sets, the mean over zones by share."""
    found = np.empty(len(fractions))
    _differences(tables, sets, fractions, np.empty((2, tables.spectra.shape[1])), found)
    return found


@lent
def _differences(tables: Tables, sets: IntArray, fractions: FloatArray, scratch: FloatArray, found: FloatArray) -> None:
    """Fills what `differences` finds (bowls,); scratch: (2, bands or 2 bands)."""
    for row in range(len(fractions)):
        found[row] = difference(tables, sets[row], fractions[row], scratch)


@inlined
def _see_and_slopes(
    tables: Tables, zone: int, added: FloatArray, seen: FloatArray, steep: FloatArray, mixed: FloatArray
) -> None:
    """Fills the reflectance (bands,) of a zone with what is added, and how steeply it falls, in the shape of that."""
    bands, parts = tables.weights.shape[1], len(added)
    if parts > bands:
        bare, pigment, base = tables.bare[zone], tables.pigment[zone], tables.base[zone]
        _dye_and_slopes(bare, pigment, base, tables.fibre_share[zone], added, steep, mixed)
    elif tables.hair.shape[1] > 1:
        _mingle_and_slopes(tables.hair[zone], tables.fibre_share[zone], added, steep, mixed)
    else:
        for band in range(bands):
            added[band] += tables.hair[zone, 0, band]
            steep[band] = 1.0
    for band in range(bands):
        seen[band], by_k = reflectance_and_slope(added[band])
        steep[band] *= by_k
        if parts > bands:
            steep[bands + band] *= by_k


@inlined
def _weigh(weights: FloatArray, seen: FloatArray, steep: FloatArray, weighed: FloatArray) -> float:
    """What is seen by weights (bands,); fills its slopes, in the shape of `steep`, (bands,) or (2 bands,)."""
    bands, total = len(weights), 0.0
    for band in range(bands):
        total += seen[band] * weights[band]
        weighed[band] = steep[band] * weights[band]
    for band in range(len(steep) - bands):
        weighed[bands + band] = steep[bands + band] * weights[band]
    return total


@inlined
def lab_and_slope(
    tables: Tables, zone: int, members: IntArray, fractions: FloatArray, slope: FloatArray, scratch: FloatArray
) -> tuple[float, float, float]:
    """L*a*b* of fractions (k,) of shades (k,) on one zone; fills its slope (3, k). scratch: (4, bands or 2 bands)."""
    takes, spectra, weights, size = tables.takes, tables.spectra, tables.weights, len(members)
    added, seen, steep, weighed = scratch[0], scratch[1], scratch[2], scratch[3]
    crowd = _absorb(takes, spectra, zone, members, fractions, added)
    _see_and_slopes(tables, zone, added, seen, steep, weighed)
    x = y = z = 0.0
    for axis in range(3):
        total = _weigh(weights[axis], seen, steep, weighed)
        answered = response(total)
        x, y, z, outer, crowded = y, z, answered, response_slope(answered), 0.0
        for each in range(size):
            shade, total = members[each], 0.0
            for part in range(len(steep)):
                total += weighed[part] * spectra[shade, part]
            # d u_i / d x_j = take_i (delta_ij - beta x_i / crowd) / crowd
            slope[axis, each] = outer * total * takes[zone, shade] / crowd
            crowded += slope[axis, each] * fractions[each]
        for each in range(size):
            slope[axis, each] -= CROWDING * crowded / crowd
    for each in range(size):
        slope[0, each], slope[1, each], slope[2, each] = coordinate_slopes(
            slope[0, each], slope[1, each], slope[2, each]
        )
    found: tuple[float, float, float] = coordinates_of(x, y, z)
    return found
