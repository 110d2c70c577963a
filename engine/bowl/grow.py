"""Which sets of shades are tried: every one, or those that grow from the best smaller ones."""

from dataclasses import dataclass
from itertools import combinations
from typing import Final

import numpy as np

from engine.arrays import BoolArray, FloatArray, IntArray

CODE_BASE: Final = 1024  # more than any shelf has shades


@dataclass(frozen=True, kw_only=True, eq=False)
class Grown:
    """Sets (sets, k) of ascending shade indices, each with the row of the set that it comes from, (sets,).

    column: where in each stands the shade that its origin lacks, (sets,).
    """

    sets: IntArray
    origin: IntArray
    column: IntArray

    @property
    def kept(self) -> BoolArray:
        """Which of each set's places its origin fills, (sets, k)."""
        filled: BoolArray = np.arange(self.sets.shape[1]) != self.column[:, None]
        return filled


def every_set(shades: int, size: int) -> IntArray:
    """All sets of a size, (sets, size), in the order of `combinations`."""
    if size == 2:
        return np.stack(np.triu_indices(shades, 1), axis=1).astype(np.intp)
    return np.array(list(combinations(range(shades), size)), dtype=np.intp).reshape(-1, size)


def from_best_part(sets: IntArray, smaller: IntArray, cost: FloatArray) -> Grown:
    """Sets (sets, k), each from the one of least cost (smaller,) of the k sets of one shade fewer that it contains.

    smaller: all of those, (smaller, k - 1), in the order of `combinations`.
    """
    codes = _codes(smaller)
    parts = [np.searchsorted(codes, _codes(np.delete(sets, drop, axis=1))) for drop in range(sets.shape[1])]
    origins = np.stack(parts, axis=1)
    column = cost[origins].argmin(axis=1)
    return Grown(sets=sets, origin=origins[np.arange(len(sets)), column], column=column)


def with_one_more(smaller: IntArray, rows: IntArray, shades: int) -> Grown:
    """Every set of one shade more than some rows (rows,) of smaller sets hold; of the same, from the first row."""
    origin, added = np.repeat(rows, shades), np.tile(np.arange(shades), len(rows))
    is_new = (smaller[origin] != added[:, None]).all(axis=1)
    return _sorted(smaller[origin[is_new]], origin[is_new], added[is_new])


def with_one_other(sets: IntArray, rows: IntArray, shades: int) -> Grown:
    """Every set that differs from some rows (rows,) of sets (sets, k) in one shade; of the same, from the first row.

    column is that of the other shade, where the set is sorted anew.
    """
    size = sets.shape[1]
    origin = np.repeat(rows, size * shades)
    place = np.tile(np.repeat(np.arange(size), shades), len(rows))
    added = np.tile(np.arange(shades), len(rows) * size)
    is_new = (sets[origin] != added[:, None]).all(axis=1)
    origin, place, added = origin[is_new], place[is_new], added[is_new]
    others = sets[origin][np.arange(size) != place[:, None]].reshape(-1, size - 1)
    return _sorted(others, origin, added)


def _sorted(others: IntArray, origin: IntArray, added: IntArray) -> Grown:
    """Sets of ascending others (sets, k - 1) and a shade more (sets,), each once."""
    column = (others < added[:, None]).sum(axis=1)
    sets = np.sort(np.concatenate([others, added[:, None]], axis=1), axis=1)
    _, first = np.unique(_codes(sets), return_index=True)
    return Grown(sets=sets[first], origin=origin[first], column=column[first])


def _codes(sets: IntArray) -> IntArray:
    """A number for each set of ascending indices (sets, k), ascending in the order of `combinations`."""
    codes: IntArray = sets @ (CODE_BASE ** np.arange(sets.shape[1] - 1, -1, -1, dtype=np.intp))
    return codes
