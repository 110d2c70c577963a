"""Quick corrections: the one or two best small additions to a bowl, found while a hand is still on the tube."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Final

import numpy as np

from engine.arrays import FloatArray, frozen
from engine.bowl.additions import Search, search_for
from engine.bowl.goal import ZoneAim
from engine.bowl.mix import FULL_TIME_DRY, Bowl, Process
from engine.bowl.taught import aimed_beside
from engine.colorimetry.lights import Light
from engine.dye.shade import Shade

SHADE_SHARES: Final = frozenset(np.geomspace(0.002, 0.6, 10).round(5).tolist())  # of the bowl's grams
CLEAR_SHARES: Final = (0.0, 0.06, 0.15, 0.35, 0.8, 2.0)
REFINED: Final = 4
STEPS: Final = frozen([0.3, 0.1])
ROUNDS: Final = 2
WORTH_IT: Final = 0.3  # delta E00 that a correction must bring


@dataclass(frozen=True, kw_only=True, eq=False)
class Correction:
    """Grams to add by shade, and how far off what is wanted that leaves it, the mean over the zones by weight."""

    additions: Mapping[Shade, float]
    delta_e00: float


def corrections(
    zones: Sequence[ZoneAim],
    bowl: Bowl,
    shelf: Sequence[Shade],
    *,
    room_g: float,
    step_g: float = 0.1,
    count: int = 2,
    process: Process = FULL_TIME_DRY,
    light: Light = Light.DAYLIGHT,
) -> tuple[Correction, ...]:
    """The best additions of one shade, of clear, or of both, each with another shade; none if none is worth it.

    room_g: how many grams more the bowl may take. Raises OutOfRange for the step.
    """
    zones = aimed_beside(zones, bowl, process, light, [*shelf, *bowl.grams])
    search = replace(search_for(zones, bowl, shelf, step_g, process, light), room_g=room_g)
    exact = search.goal
    search = replace(search, goal=exact.coarse())
    now = float(replace(search, goal=exact).differences(np.zeros(len(search.shades))))
    tries = _best_of_each(search)
    best = tries[np.argsort(search.costs(tries), kind="stable")[:REFINED]]
    refined = search.walk(best, STEPS, ROUNDS)
    order = np.argsort(search.costs(refined), kind="stable")
    left = replace(search, goal=exact).differences(refined)
    off = left
    if any(zone.steer_lab is not None for zone in zones):
        wanted = search_for([zone.told for zone in zones], bowl, shelf, step_g, process, light).goal
        off = replace(search, goal=wanted).differences(refined)
    found: dict[frozenset[Shade], Correction] = {}
    for row in order:
        additions = {shade: float(g) for shade, g in zip(search.shades, refined[row], strict=True) if g > 0}
        if additions and left[row] < now - WORTH_IT:
            found.setdefault(frozenset(additions), Correction(additions=additions, delta_e00=float(off[row])))
    return tuple(found.values())[:count]


def _best_of_each(search: Search) -> FloatArray:
    """The best first try of each shade, with or without clear, and of clear alone, (shades + 1, shades)."""
    total, width = search.held.sum(), len(search.shades)
    grid = np.array([(own, clear) for own in sorted(SHADE_SHARES) for clear in CLEAR_SHARES]) * total
    tries = np.zeros((len(search.usable), len(grid), width))
    tries[:, :, search.clear] = grid[:, 1]
    for row, index in enumerate(search.usable):
        tries[row, :, index] = grid[:, 0]
    tries = search.on_scale(tries)
    best = tries[np.arange(len(tries)), search.costs(tries).argmin(axis=1)]
    clear = np.zeros((len(CLEAR_SHARES) - 1, width))
    clear[:, search.clear] = np.array(CLEAR_SHARES[1:]) * total
    clear = search.on_scale(clear)
    return np.vstack([best, clear[[int(search.costs(clear).argmin())]]])
