"""What bowls look like: L*a*b*, its slope, and the difference to an aim."""

from typing import NamedTuple

import numpy as np

from engine.arrays import FloatArray, IntArray
from engine.bowl.loops.machine import (
    compiled,
    coordinate_slopes,
    coordinates_of,
    inlined,
    parts_of,
    quick_difference,
    reflectance,
    reflectance_and_slope,
    response,
    response_slope,
)
from engine.dye.uptake import CROWDING


class Tables(NamedTuple):
    """What a reckoning needs, zones side by side.

    absorption: K/S (zones, fibres, bands) of the hair. fibre_share: (zones, fibres). takes: K/S of a shade at a
    fraction of one alone, (zones, shades). spectra: (shades, bands). weights: (3, bands), those of the light over its
    white. targets: L*a*b* (zones, 3). metrics: those of small differences at each target, weighed by the roots of the
    zones' shares, (zones, 3, 3). zone_share: (zones,), sum 1.
    """

    absorption: FloatArray
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


@inlined
def lab(
    tables: Tables, zone: int, members: IntArray, fractions: FloatArray, added: FloatArray
) -> tuple[float, float, float]:
    """L*a*b* of one bowl on one zone; added: scratch (bands,)."""
    absorption, fibre_share, weights = tables.absorption, tables.fibre_share, tables.weights
    _absorb(tables.takes, tables.spectra, zone, members, fractions, added)
    x = y = z = 0.0
    for fibre in range(fibre_share.shape[1]):
        share = fibre_share[zone, fibre]
        for band in range(len(added)):
            seen = share * reflectance(absorption[zone, fibre, band] + added[band])
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
    absorption, takes = tables.absorption, tables.takes
    spectra, weights = tables.spectra, tables.weights
    size, bands = len(members), spectra.shape[1]
    added, seen, steep = np.empty(bands), np.zeros(bands), np.zeros(bands)
    crowd = _absorb(takes, spectra, zone, members, fractions, added)
    for fibre in range(tables.fibre_share.shape[1]):
        share = tables.fibre_share[zone, fibre]
        for band in range(bands):
            value, falls = reflectance_and_slope(absorption[zone, fibre, band] + added[band])
            seen[band] += share * value
            steep[band] += share * falls
    xyz = np.zeros(3)
    for axis in range(3):
        total = 0.0
        for band in range(bands):
            total += seen[band] * weights[axis, band]
        xyz[axis], outer, crowded = total, response_slope(total), 0.0
        for each in range(size):
            total = 0.0
            for band in range(bands):
                total += steep[band] * weights[axis, band] * spectra[members[each], band]
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
