"""What bowls look like: L*a*b*, its slope, and the difference to an aim."""

from typing import NamedTuple

import numpy as np

from engine.arrays import FloatArray, IntArray
from engine.bowl.loops.machine import (
    compiled,
    coordinate_slopes,
    coordinates_of,
    filled_up,
    five_thirds_of,
    inlined,
    parts_of,
    quick_difference,
    reflectance,
    reflectance_and_slope,
    response,
    response_slope,
    three_fifths_of,
)
from engine.dye.uptake import CROWDING


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


@compiled
def _dye(tables: Tables, zone: int, added: FloatArray) -> None:
    """Makes of what is added, (bands,) or (2 bands,), the K (bands,) of a zone with it, as `Fibres.dyed` does."""
    hair, fibre_share = tables.hair, tables.fibre_share
    kinds, bands = hair.shape[1], hair.shape[2]
    has_bases = len(added) > bands
    if kinds == 1 and not has_bases:
        for band in range(bands):
            added[band] += hair[zone, 0, band]
        return
    mixed = np.zeros(bands)
    for kind in range(kinds):
        share = fibre_share[zone, kind]
        if has_bases:
            for band in range(bands):
                base = tables.base[zone, band] + added[bands + band]
                each = added[band] + tables.bare[zone, kind, band] + filled_up(tables.pigment[zone, kind, band], base)
                mixed[band] += share * three_fifths_of(each)
        else:
            for band in range(bands):
                mixed[band] += share * three_fifths_of(added[band] + hair[zone, kind, band])
    for band in range(bands):
        added[band] = five_thirds_of(mixed[band])


@compiled
def _dye_slopes(tables: Tables, zone: int, added: FloatArray, slopes: FloatArray) -> None:
    """Fills how fast the K of a zone grows with what is added, (bands,) or (2 bands,), in the shape of that."""
    hair, fibre_share = tables.hair, tables.fibre_share
    kinds, bands = hair.shape[1], hair.shape[2]
    has_bases = len(added) > bands
    if kinds == 1 and not has_bases:
        for band in range(bands):
            slopes[band] = 1.0
        return
    for band in range(bands):
        total = tones = bases = 0.0
        for kind in range(kinds):
            each, filled = added[band] + hair[zone, kind, band], 0.0
            if has_bases:
                base = tables.base[zone, band] + added[bands + band]
                whole = filled_up(tables.pigment[zone, kind, band], base)
                each = added[band] + tables.bare[zone, kind, band] + whole
                filled = (base / whole) ** 5 if whole > 0.0 else 1.0
            powered = fibre_share[zone, kind] * three_fifths_of(each)
            total += powered
            tones += powered / each
            bases += powered / each * filled
        outer = five_thirds_of(total) / total
        slopes[band] = tones * outer
        if has_bases:
            slopes[bands + band] = bases * outer


@inlined
def lab(
    tables: Tables, zone: int, members: IntArray, fractions: FloatArray, added: FloatArray
) -> tuple[float, float, float]:
    """L*a*b* of one bowl on one zone; added: scratch (bands,)."""
    weights = tables.weights
    _absorb(tables.takes, tables.spectra, zone, members, fractions, added)
    _dye(tables, zone, added)
    x = y = z = 0.0
    for band in range(weights.shape[1]):
        seen = reflectance(added[band])
        x += seen * weights[0, band]
        y += seen * weights[1, band]
        z += seen * weights[2, band]
    found: tuple[float, float, float] = coordinates_of(response(x), response(y), response(z))
    return found


@inlined
def difference(tables: Tables, members: IntArray, fractions: FloatArray, added: FloatArray) -> float:
    """delta E00 of one bowl to the targets, the mean over zones by share; added: scratch (bands,)."""
    targets, zone_share = tables.targets, tables.zone_share
    total = 0.0
    for zone in range(len(zone_share)):
        lightness, a, b = lab(tables, zone, members, fractions, added)
        found, opposed = quick_difference(targets[zone, 0], targets[zone, 1], targets[zone, 2], lightness, a, b)
        if opposed:
            found = parts_of(targets[zone, 0], targets[zone, 1], targets[zone, 2], lightness, a, b)[0]
        total += zone_share[zone] * found
    return total


@compiled
def labs(tables: Tables, sets: IntArray, fractions: FloatArray) -> FloatArray:
    """L*a*b* (bowls, 3) on the first zone of fractions (bowls, k) of the shades of sets (bowls, k)."""
    found = np.empty((len(fractions), 3))
    added = np.empty(tables.spectra.shape[1])
    for row in range(len(fractions)):
        found[row, 0], found[row, 1], found[row, 2] = lab(tables, 0, sets[row], fractions[row], added)
    return found


@compiled
def differences(tables: Tables, sets: IntArray, fractions: FloatArray) -> FloatArray:
    """delta E00 (bowls,) to the targets of fractions (bowls, k) of the shades of sets, the mean over zones by share."""
    found, added = np.empty(len(fractions)), np.empty(tables.spectra.shape[1])
    for row in range(len(fractions)):
        found[row] = difference(tables, sets[row], fractions[row], added)
    return found


@compiled
def lab_and_slope(
    tables: Tables, zone: int, members: IntArray, fractions: FloatArray, slope: FloatArray
) -> tuple[float, float, float]:
    """L*a*b* of fractions (k,) of shades (k,) on one zone; fills its slope (3, k)."""
    takes, spectra, weights = tables.takes, tables.spectra, tables.weights
    size, bands, parts = len(members), weights.shape[1], spectra.shape[1]
    added, slopes, seen, steep = np.empty(parts), np.empty(parts), np.empty(bands), np.empty(bands)
    crowd = _absorb(takes, spectra, zone, members, fractions, added)
    _dye_slopes(tables, zone, added, slopes)
    _dye(tables, zone, added)
    for band in range(bands):
        seen[band], steep[band] = reflectance_and_slope(added[band])
    xyz = np.zeros(3)
    for axis in range(3):
        total = 0.0
        for band in range(bands):
            total += seen[band] * weights[axis, band]
        xyz[axis], outer, crowded = total, response_slope(total), 0.0
        for each in range(size):
            total = 0.0
            for band in range(bands):
                total += steep[band] * slopes[band] * weights[axis, band] * spectra[members[each], band]
            for part in range(bands, parts):
                band = part - bands
                total += steep[band] * slopes[part] * weights[axis, band] * spectra[members[each], part]
            # d u_i / d x_j = take_i (delta_ij - beta x_i / crowd) / crowd
            slope[axis, each] = outer * total * takes[zone, members[each]] / crowd
            crowded += slope[axis, each] * fractions[each]
        for each in range(size):
            slope[axis, each] -= CROWDING * crowded / crowd
    for each in range(size):
        slope[0, each], slope[1, each], slope[2, each] = coordinate_slopes(
            slope[0, each], slope[1, each], slope[2, each]
        )
    found: tuple[float, float, float] = coordinates_of(response(xyz[0]), response(xyz[1]), response(xyz[2]))
    return found
