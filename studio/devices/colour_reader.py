"""The colour reader: an instrument that is held on hair and sends L*a*b*."""

from collections.abc import Iterator
from contextlib import contextmanager
from enum import StrEnum
from typing import Final, Protocol

import numpy as np

from engine.arrays import FloatArray
from engine.hair.canvas import Canvas
from engine.hair.reading import canvas_lab

NOISE: Final = 0.35  # delta E76 by which the simulated instrument's readings stray
SLIP: Final = 18.0  # L* by which one reading slips off the lock
SLIPS_AT: Final = 2
STOPS_AT: Final = 3


class ReaderFault(Exception):
    """The reader gave no reading; `code` tells why."""

    def __init__(self, code: str) -> None:
        super().__init__(code)
        self.code = code


class ColourReader(Protocol):
    """What every colour reader does. Raises ReaderFault not_there or lost."""

    def connect(self) -> None:
        """Open the connection."""

    def read(self) -> tuple[float, ...]:
        """One reading as L*a*b* under daylight, as the instrument sends it: it may be garbage."""

    def close(self) -> None:
        """Let it go."""


class Fault(StrEnum):
    """What the simulated reader can be told to do wrong."""

    NONE = "none"
    SLIPS = "slips"
    STOPS = "stops"
    GARBAGE = "garbage"
    UNPLUGGED = "unplugged"


class SimulatedReader:
    """A stand-in that reads a canvas it is told of, with an instrument's noise, and with faults on request."""

    def __init__(self, canvas: Canvas, *, seed: int, fault: Fault = Fault.NONE) -> None:
        self._truth: FloatArray = canvas_lab(canvas)
        self._chance = np.random.default_rng(seed)
        self._fault = fault
        self._taken = 0

    def connect(self) -> None:
        """Open the connection. Raises ReaderFault not_there."""
        if self._fault is Fault.UNPLUGGED:
            raise ReaderFault("not_there")

    def read(self) -> tuple[float, ...]:
        """One reading. Raises ReaderFault lost when it stops half way."""
        self._taken += 1
        if self._fault is Fault.STOPS and self._taken >= STOPS_AT:
            raise ReaderFault("lost")
        if self._fault is Fault.GARBAGE:
            return (float("nan"), 999.0)
        lab = self._truth + self._chance.normal(0, NOISE / np.sqrt(3), 3)
        if self._fault is Fault.SLIPS and self._taken == SLIPS_AT:
            lab[0] -= SLIP
        return tuple(float(part) for part in lab)

    def close(self) -> None:
        """Nothing to let go."""


@contextmanager
def connected(reader: ColourReader) -> Iterator[ColourReader]:
    """A reader that is connected and let go again, whatever happens. Raises ReaderFault."""
    reader.connect()
    try:
        yield reader
    finally:
        reader.close()


def take_readings(reader: ColourReader, count: int) -> list[tuple[float, ...]]:
    """Several readings of one place. Raises ReaderFault."""
    with connected(reader) as held:
        return [held.read() for _ in range(count)]
