"""Whole steps of the scale: the best of several, and a walk from step to step."""

from typing import Final, NamedTuple

import numpy as np

from engine.arrays import FloatArray, IntArray
from engine.bowl.loops.look import Tables, difference, write
from engine.bowl.loops.machine import compiled, inlined, lent

WALK_GAIN: Final = 1e-3  # delta E00 below which a move is not worth another round


class Steps(NamedTuple):
    """What can be weighed, in steps of the scale. most: (shades,) of each shade. thins: see `Pot`."""

    least: int
    whole: int
    most: IntArray
    most_clear: int
    thins: float


@inlined
def _weighed(
    tables: Tables, steps: Steps, members: IntArray, tried: IntArray, fractions: FloatArray, scratch: FloatArray
) -> float:
    """delta E00 of whole steps (k,), which are brought within what can be weighed first; infinite where they can't.

    fractions, scratch: (k,), and as `difference` needs it.
    """
    coloured = 0
    for each in range(len(members)):
        tried[each] = min(max(tried[each], steps.least), steps.most[members[each]])
        if tried[each] < steps.least:
            return np.inf
        coloured += tried[each]
    clear = steps.whole - coloured
    if clear < 0 or clear > steps.most_clear:
        return np.inf
    for each in range(len(members)):
        fractions[each] = tried[each] / max(coloured + steps.thins * clear, 1e-9)
    return difference(tables, members, fractions, scratch)


@compiled
def best_options(tables: Tables, steps: Steps, sets: IntArray, options: IntArray) -> tuple[IntArray, FloatArray]:
    """The best of whole-step options (sets, options, k) of each set (sets, k), and its delta E00 (sets,)."""
    best, found = options[:, 0].copy(), np.full(len(sets), np.inf)
    tried, fractions = np.empty(sets.shape[1], dtype=np.int64), np.empty(sets.shape[1])
    _best_options(tables, steps, sets, options, tried, fractions, np.empty((2, tables.spectra.shape[1])), best, found)
    return best, found


@lent
def _best_options(
    tables: Tables,
    steps: Steps,
    sets: IntArray,
    options: IntArray,
    tried: IntArray,
    fractions: FloatArray,
    scratch: FloatArray,
    best: IntArray,
    found: FloatArray,
) -> None:
    """Fills what `best_options` finds; tried, fractions, scratch: as `_weighed` needs them."""
    for row in range(len(sets)):
        for option in range(options.shape[1]):
            write(options[row, option], tried)
            off = _weighed(tables, steps, sets[row], tried, fractions, scratch)
            if off < found[row]:
                found[row] = off
                write(tried, best[row])


@compiled
def walk(
    tables: Tables, steps: Steps, sets: IntArray, start: IntArray, found: FloatArray, strides: IntArray, most_moves: int
) -> tuple[IntArray, FloatArray]:
    """Whole steps (sets, k), moved to the best neighbour, a stride (sets,) away, until none is better.

    found: delta E00 (sets,) of the start; a set without any stays where it is.
    """
    units, found, size = start.copy(), found.copy(), sets.shape[1]
    tried, fractions = np.empty(size, dtype=np.int64), np.empty(size)
    nearest, scratch = np.empty(size, dtype=np.int64), np.empty((2, tables.spectra.shape[1]))
    _walk(tables, steps, sets, strides, most_moves, tried, nearest, fractions, scratch, units, found)
    return units, found


@lent
def _walk(
    tables: Tables,
    steps: Steps,
    sets: IntArray,
    strides: IntArray,
    most_moves: int,
    tried: IntArray,
    nearest: IntArray,
    fractions: FloatArray,
    scratch: FloatArray,
    units: IntArray,
    found: FloatArray,
) -> None:
    """Moves units (sets, k) as `walk` does; tried, nearest, fractions: scratch (k,), and as `difference` needs it."""
    size = units.shape[1]
    for row in range(len(sets)):
        for _ in range(most_moves if np.isfinite(found[row]) else 0):
            least = found[row]
            for move in range(3**size):
                digits = move
                for each in range(size):
                    tried[each] = units[row, each] + strides[row] * (digits % 3 - 1)
                    digits //= 3
                off = _weighed(tables, steps, sets[row], tried, fractions, scratch)
                if off < least:
                    least = off
                    write(tried, nearest)
            if least >= found[row] - WALK_GAIN:
                break
            found[row] = least
            write(nearest, units[row])
