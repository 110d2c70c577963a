"""Array types, read-only copies, and the checks made once where numbers enter."""

import math
from collections.abc import Sequence

import numpy as np
from numpy.typing import ArrayLike, NDArray

from engine.errors import OutOfRange, WrongType

FloatArray = NDArray[np.float64]
BoolArray = NDArray[np.bool_]
IntArray = NDArray[np.intp]


def frozen(values: ArrayLike) -> FloatArray:
    """A read-only float64 copy, for arrays kept inside value objects."""
    copy = np.array(values, dtype=np.float64)
    copy.setflags(write=False)
    return copy


def either(condition: BoolArray, first: FloatArray | float, other: FloatArray | float) -> FloatArray:
    """`first` (...) where a condition (...) holds, else `other`: `numpy.where` under a name that can be compiled."""
    return np.where(condition, first, other)


def finite(field: str, given: object, unit: str = "") -> float:
    """`given` as a float. Raises WrongType unless it is a finite real number (booleans are not)."""
    if isinstance(given, bool) or not isinstance(given, int | float | np.floating | np.integer):
        raise WrongType(field, given, f"a number{f' in {unit}' if unit else ''}")
    try:
        number = float(given)
    except OverflowError:
        number = math.inf
    if not math.isfinite(number):
        raise WrongType(field, given, f"a finite number{f' in {unit}' if unit else ''}")
    return number


def within(field: str, given: object, low: float, high: float, unit: str = "") -> float:
    """`given` as a float in low..high, both included. Raises WrongType or OutOfRange."""
    number = finite(field, given, unit)
    if not low <= number <= high:
        raise OutOfRange(field, number, low, high, unit)
    return number


def each_within(field: str, given: Sequence[object], low: float, high: float, unit: str = "") -> None:
    """Every one of `given` is a float in low..high. Raises WrongType or OutOfRange, with the place of the first."""
    if all(type(value) is float and low <= value <= high for value in given):  # as nearly always, and quick
        return
    for place, value in enumerate(given):
        within(f"{field}.{place}", value, low, high, unit)


def falling(power: FloatArray) -> FloatArray:
    """e to a power (...) of 0 or less. The compiled loops have a way of their own to it."""
    return np.exp(power)


def three_fifths(value: FloatArray) -> FloatArray:
    """A value (...) > 0 to the power of 0.6. The compiled loops have a way of their own to it."""
    return value**0.6


def five_thirds(value: FloatArray) -> FloatArray:
    """A value (...) > 0 to the power of 5/3: undoes `three_fifths`. The compiled loops have a way of their own."""
    return value ** (5 / 3)


def sixth_root(value: FloatArray) -> FloatArray:
    """The sixth root of a value (...) >= 0. The compiled loops have a way of their own to it."""
    return value ** (1 / 6)
