"""Additions to a bowl that is already mixed: what they cost, and a walk to where that is least."""

from typing import Final, NamedTuple

import numpy as np

from engine.arrays import FloatArray, IntArray
from engine.bowl.loops.look import Tables, difference, write
from engine.bowl.loops.machine import compiled, inlined

GAIN: Final = 1e-12  # cost below which a move is no gain


class Held(NamedTuple):
    """A bowl in hand, all in grams. held, thins: (shades,), see `Search`. coloured: those of the tables' shades,
    which are members of it one after the other.

    good: delta E00 that is as good as none. a_shade, doubling: delta E00 that a further shade, and as much again as
    is held, must bring.
    """

    held: FloatArray
    thins: FloatArray
    coloured: IntArray
    members: IntArray
    room_g: float
    step_g: float
    good: float
    a_shade: float
    doubling: float


@inlined
def _off(tables: Tables, held: Held, additions: FloatArray, fractions: FloatArray, scratch: FloatArray) -> float:
    """delta E00 of the bowl with additions (shades,), infinite where they don't fit; fractions: scratch (coloured,)."""
    whole = poured = 0.0
    for each in range(len(additions)):
        poured += additions[each]
        whole += (held.held[each] + additions[each]) * held.thins[each]
    for each in range(len(held.coloured)):
        shade = held.coloured[each]
        fractions[each] = (held.held[shade] + additions[shade]) * held.thins[shade] / whole
    fits = poured <= held.room_g + 1e-9
    return difference(tables, held.members, fractions, scratch) if fits else np.inf


@inlined
def _cost(tables: Tables, held: Held, additions: FloatArray, fractions: FloatArray, scratch: FloatArray) -> float:
    """What a search minimises: the difference that can be seen, and what the additions (shades,) cost."""
    shades = 0
    for shade in held.coloured:
        shades += additions[shade] > 0
    growth = additions.sum() / held.held.sum()
    seen = max(_off(tables, held, additions, fractions, scratch), held.good)
    cost: float = seen + held.a_shade * shades + held.doubling * growth
    return cost


@compiled
def differences(tables: Tables, held: Held, additions: FloatArray) -> FloatArray:
    """delta E00 (rows,) of the bowl with additions (rows, shades); infinite where they don't fit."""
    found, fractions = np.empty(len(additions)), np.empty(len(held.coloured))
    scratch = np.empty((2, tables.spectra.shape[1]))
    for row in range(len(additions)):
        found[row] = _off(tables, held, additions[row], fractions, scratch)
    return found


@compiled
def costs(tables: Tables, held: Held, additions: FloatArray) -> FloatArray:
    """What a search minimises, (rows,), of additions (rows, shades)."""
    found, fractions = np.empty(len(additions)), np.empty(len(held.coloured))
    scratch = np.empty((2, tables.spectra.shape[1]))
    for row in range(len(additions)):
        found[row] = _cost(tables, held, additions[row], fractions, scratch)
    return found


@compiled
def walk(tables: Tables, held: Held, start: FloatArray, shares: FloatArray, most_rounds: int) -> FloatArray:
    """Additions (rows, shades) moved to the neighbour of least cost until none is better, in ever finer steps.

    shares: the steps, of what is added so far. Up and down along each addition, and along all pairs and threes.
    """
    additions, width = start.copy(), start.shape[1]
    tried, nearest, fractions = np.empty(width), np.empty(width), np.empty(len(held.coloured))
    scratch = np.empty((2, tables.spectra.shape[1]))
    for row in range(len(additions)):
        members = np.flatnonzero(additions[row])
        now = _cost(tables, held, additions[row], fractions, scratch)
        for share in shares:
            for _ in range(most_rounds):
                least = now
                for move in range(3 ** len(members)):
                    digits = move
                    write(additions[row], tried)
                    for member in members:
                        grams = additions[row, member]
                        moved = grams + max(share * grams, held.step_g) * (digits % 3 - 1) * (grams > 0)
                        tried[member] = np.rint(max(moved, 0.0) / held.step_g) * held.step_g
                        digits //= 3
                    found = _cost(tables, held, tried, fractions, scratch)
                    if found < least:
                        least = found
                        write(tried, nearest)
                if least >= now - GAIN:
                    break
                now = least
                write(nearest, additions[row])
    return additions
