"""Weighable candidates for the aims of a bowl, also where a forecast is not what a search reckons with."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Final

import numpy as np

from engine.arrays import FloatArray, IntArray
from engine.bowl.doses import Worked
from engine.bowl.goal import Goal, ZoneAim, goal_of, shares_of
from engine.bowl.mix import Bowl, Process, lifted, lifts
from engine.bowl.ranking import Candidate, closeness, shortlist
from engine.bowl.solve import Fit, fit_sets, refit
from engine.bowl.taught import aimed_beside, is_beside, looks
from engine.bowl.weigh import Pot, weigh_sets
from engine.colorimetry.difference import delta_e00
from engine.colorimetry.lights import Light
from engine.dye.shade import Shade

REAIMED: Final = 3  # times that a search which aims beside its target looks again by how much
LIFTING_SHARES: Final = (1.0, 0.6, 0.3, 0.1)  # of the bowl that is colour, for which lift is tried
STRIDES: Final = (64, 32, 16, 8, 4, 2, 1)  # steps of the scale in which a candidate is walked by its forecast
ROUNDS: Final = 3  # of each stride


@dataclass(frozen=True, kw_only=True, eq=False)
class Seek:
    """What is sought: a bowl of coloured shades and clear in a pot, for aims; the nearest `keep` sets of each size."""

    zones: Sequence[ZoneAim]
    colours: Sequence[Shade]
    clear: Shade
    pot: Pot
    process: Process
    light: Light
    largest: int
    keep: int

    @property
    def is_beside(self) -> bool:
        """Whether forecasts are otherwise than a search reckons."""
        return any(is_beside(zone.canvas, self.colours, self.process) for zone in self.zones)

    @property
    def lifts(self) -> bool:
        """Whether colour lifts any of the hair."""
        return any(lifts(zone.canvas, self.colours, self.process) for zone in self.zones)

    def bowl_of(self, candidate: Candidate) -> Bowl:
        """A candidate as grams. What clear is left to pour is left out where it is less than is weighed well."""
        scale = self.pot.scale
        clear = scale.units - sum(candidate.units)
        units = np.array([*candidate.units, clear if clear >= scale.least_units else 0])
        shades = [*(self.colours[i] for i in candidate.shades), self.clear]
        return Bowl(grams={shade: float(g) for shade, g in zip(shades, scale.grams(units), strict=True) if g > 0})

    def found(self, few: int) -> tuple[list[Candidate], list[Fit]]:
        """Candidates, and the fits that they come from.

        Where a forecast is what the search reckons with, all of them; else those `few` that are nearest by their
        forecasts, each walked to the weights that its forecast likes best.
        """
        if not self.is_beside:
            return self._found(self.zones, self.process)
        candidates, fits = [], []
        for zones, process in self._as_lifted() if self.lifts else [(self.zones, self.process)]:
            found, own = self._found(zones, process)
            for _ in range(REAIMED if found and process.taught else 0):
                best = self.bowl_of(min(found, key=closeness))
                goal = goal_of(
                    aimed_beside(zones, best, process, self.light, self.colours), self.colours, process, self.light
                )
                own = refit(goal, own)
                found = self._candidates(goal, own)
            candidates += [self._walked(each) for each in shortlist(found, few)]
            fits += own
        return candidates, fits

    def _found(self, zones: Sequence[ZoneAim], process: Process) -> tuple[list[Candidate], list[Fit]]:
        goal = goal_of(zones, self.colours, process, self.light)
        fits = fit_sets(goal, self.largest, self.keep)
        return self._candidates(goal, fits), fits

    def _as_lifted(self) -> list[tuple[list[ZoneAim], Process]]:
        """The hair as bowls of several shares of colour lift it, for searches that need not know of lift."""
        still = replace(self.process, developer_vol=None)
        return [
            (
                [replace(zone, canvas=lifted(zone.canvas, self.colours, self.process, share)) for zone in self.zones],
                still,
            )
            for share in LIFTING_SHARES
        ]

    def _candidates(self, goal: Goal, fits: Sequence[Fit]) -> list[Candidate]:
        """Weighable candidates of fitted sets."""
        found = []
        for fit in fits:
            exact = goal.difference(fit.fractions, fit.sets)
            weighed = weigh_sets(goal, fit.sets, fit.fractions, self.pot)
            rows = zip(fit.sets, weighed.units, weighed.delta_e00, exact, strict=True)
            found += [
                Candidate(
                    shades=tuple(int(i) for i in members),
                    units=tuple(int(n) for n in units),
                    delta_e00=float(difference),
                    exact_delta_e00=float(before),
                )
                for members, units, difference, before in rows
                if np.isfinite(difference)
            ]
        return found

    def _walked(self, candidate: Candidate) -> Candidate:
        """A candidate moved to the neighbouring weights of least difference by its forecast, in ever finer steps."""
        units = np.array(candidate.units)
        off = float(self._differences(candidate, units[None])[0])
        ways = np.vstack([np.eye(len(units), dtype=int), -np.eye(len(units), dtype=int)])
        for stride in STRIDES:
            for _ in range(ROUNDS):
                near = units + stride * ways
                near = near[self._fits(candidate, near)]
                if not len(near):
                    break
                tried = self._differences(candidate, near)
                if tried.min() >= off - 1e-9:
                    break
                off, units = float(tried.min()), near[tried.argmin()]
        return replace(candidate, units=tuple(int(n) for n in units), delta_e00=off, exact_delta_e00=off)

    def _fits(self, candidate: Candidate, units: IntArray) -> IntArray:
        """Which steps (n, k) can be weighed and are in stock, (n,)."""
        clear = self.pot.scale.units - units.sum(axis=-1)
        enough = (units >= self.pot.scale.least_units).all(axis=-1)
        there = (units <= self.pot.most_units[list(candidate.shades)]).all(axis=-1)
        fits: IntArray = enough & there & (clear >= 0) & (clear <= self.pot.most_clear_units)
        return fits

    def _differences(self, candidate: Candidate, units: IntArray) -> FloatArray:
        """delta E00 (n,) of steps (n, k) of a candidate's shades by their forecasts, the mean over zones by share."""
        bowls = [self.bowl_of(replace(candidate, units=tuple(int(n) for n in row))) for row in units]
        total = np.zeros(len(bowls))
        for zone, share in zip(self.zones, shares_of(self.zones), strict=True):
            worked = [Worked(canvas=zone.canvas, coats=((bowl, self.process),)) for bowl in bowls]
            total += share * delta_e00(zone.sought_lab, looks(worked, self.light, self.process.taught))
        return total
