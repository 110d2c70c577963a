"""The unknowns that results bear on, side by side in one row, and how far each is believed to stray."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np

from engine.arrays import FloatArray
from engine.knowledge.law import Physics

# Standard deviations before any record, chosen by the founders and tried on simulated salons (tools/bench_learning.py).
SHADE_SD: Final = 0.25  # of the logarithm of a shade's strength
LINE_SD: Final = 0.15  # of what all shades of a line share
SHIFT_SD_NM: Final = 4.0
LIFE_SD: Final = 0.3  # of the logarithm of a line's life in washes
CLIENT_SD: Final = 0.12  # of the logarithm of how much a client's hair takes
READER_SD: Final = 0.2  # levels by which one pair of eyes reads too light
PHYSICS_SD: Final = Physics(surface=0.4, power=0.05, crowding=0.3, porosity=0.25, pace=0.2)


@dataclass(frozen=True, kw_only=True)
class Layout:
    """Where each group of unknowns lies in the row of all, (size,).

    Strengths, lines, clients and readers always; physics, shifts (with lives) and the remainder where they are let in.
    """

    shades: int
    lines: int
    clients: int
    readers: int
    physics: bool = False
    shifts: bool = False
    lives: bool = False
    waves: int = 0

    @property
    def groups(self) -> dict[str, slice]:
        """The place of each group, an empty one where it is left out."""
        sizes = {
            "strengths": self.shades,
            "lines": self.lines,
            "clients": self.clients,
            "readers": self.readers,
            "physics": len(PHYSICS_SD) * self.physics,
            "shifts": self.shades * self.shifts,
            "lives": self.lines * self.lives,
            "remainder": 3 * self.waves,
        }
        ends = np.cumsum([0, *sizes.values()]).tolist()
        return {name: slice(start, end) for name, start, end in zip(sizes, ends, ends[1:], strict=False)}

    @property
    def size(self) -> int:
        """How many unknowns there are."""
        return int(self.groups["remainder"].stop)

    def spreads(self, remainder: Sequence[float], shade_sd: FloatArray | float = SHADE_SD) -> FloatArray:
        """Standard deviations (size,) before any record. remainder: of L*, a* and b*; shade_sd: of each (shades,)."""
        parts = {
            "strengths": shade_sd,
            "lines": LINE_SD,
            "clients": CLIENT_SD,
            "readers": READER_SD,
            "physics": PHYSICS_SD,
            "shifts": SHIFT_SD_NM,
            "lives": LIFE_SD,
            "remainder": np.tile(remainder, self.waves),
        }
        spread = np.empty(self.size)
        for name, place in self.groups.items():
            spread[place] = parts[name] if place.stop > place.start else 0.0
        return spread

    def carried(self, other: "Layout", unknowns: FloatArray) -> FloatArray:
        """Unknowns of another layout in this one, (size,); what that one left out starts at nothing."""
        row = np.zeros(self.size)
        for name, place in self.groups.items():
            theirs = unknowns[other.groups[name]]
            if len(theirs) == place.stop - place.start:
                row[place] = theirs
        return row
