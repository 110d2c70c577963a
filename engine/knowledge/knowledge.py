"""What a studio's results have taught: unknowns with their doubt, and what they make of shades, hair and forecasts."""

import hashlib
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Final

import numpy as np

from engine.arrays import FloatArray
from engine.dye.shade import BASED_STRENGTH_LEAST, STRENGTH_LIMIT, Shade
from engine.errors import BadInput
from engine.knowledge.law import Physics
from engine.knowledge.remainder import per_axis_of
from engine.knowledge.told import Subject, Told, shifted, told
from engine.knowledge.unknowns import SHADE_SD, Layout

PRINT_LENGTH: Final = 12
UPTAKE_LIMITS_MIN: Final = (0.5, 60.0)
LIFE_LIMITS: Final = (0.5, 100.0)
REMAINDER_PRIOR: Final = 1.5  # delta E00 by which a studio's physics is off that nothing is known of yet


@dataclass(frozen=True, kw_only=True, eq=False)
class Knowledge:
    """Learned unknowns (layout.size,) of shades, lines, clients and readers, by name in their order, and of physics.

    spread: their standard deviations before any record. told_of: (size, rank); covariance = spread^2 less its square.
    prints: what each shade was when it was learned of. shade_sd: how far its strength was believed to stray, (shades,).
    line_of: the line of each, (shades,). records: how many taught. forgotten: shades that are others by now than those
    that were learned of; what is known of their lines goes for them, too.
    """

    model: str
    records: int
    shades: tuple[str, ...]
    prints: tuple[str, ...]
    shade_sd: FloatArray
    line_of: tuple[int, ...]
    lines: tuple[str, ...]
    clients: tuple[str, ...]
    readers: tuple[str, ...]
    layout: Layout
    remainder: tuple[float, float, float]
    centres: FloatArray
    unknowns: FloatArray
    told_of: FloatArray
    noise: float
    forgotten: frozenset[str] = frozenset()

    @cached_property
    def physics(self) -> Physics:
        """Constants of this studio's own."""
        return Physics(*self._group("physics")) if self.layout.physics else Physics()

    @cached_property
    def place(self) -> Mapping[str, int]:
        """Where each shade stands that is still what it was."""
        return {name: index for index, name in enumerate(self.shades) if name not in self.forgotten}

    def fitting(self, shelf: Sequence[Shade]) -> "Knowledge":
        """What goes for a shelf: without what was learned of shades that are others by now."""
        learned = dict(zip(self.shades, self.prints, strict=True))
        changed = {each.key for each in shelf if not each.is_clear and learned.get(each.key, "") != print_of(each)}
        gone = frozenset(changed & set(learned))
        return replace(self, forgotten=self.forgotten | gone) if gone else self

    @cached_property
    def spread(self) -> FloatArray:
        """Standard deviations (size,) before any record."""
        return self.layout.spreads(self.remainder, self.shade_sd)

    def _group(self, name: str) -> FloatArray:
        return self.unknowns[self.layout.groups[name]]

    @property
    def told_of_shades(self) -> "tuple[ToldShade, ...]":
        """What was learned of each shade, its line's part included."""
        groups, found = self.layout.groups, []
        for index, name in enumerate(self.shades):
            mine, line = groups["strengths"].start + index, groups["lines"].start + self.line_of[index]
            known = self.told_of[mine] + self.told_of[line]
            left = self.spread[mine] ** 2 + self.spread[line] ** 2 - float(known @ known)
            shift = self._group("shifts")[index] if self.layout.shifts else 0.0
            factor = float(np.exp(self.unknowns[mine] + self.unknowns[line]))
            found.append(ToldShade(name=name, factor=factor, doubt=float(max(left, 0.0)) ** 0.5, shift_nm=float(shift)))
        return tuple(found)

    def level_offset(self, reader: str) -> float:
        """How many levels too light a reader reads; 0 for one that nothing is known of."""
        return float(self._group("readers")[self.readers.index(reader)]) if reader in self.readers else 0.0

    def taught(self, shade: Shade, client: str = "") -> Shade:
        """A shade as it works here, on a client's hair if it is known. Raises BadInput if it isn't what it was."""
        log = self._group("clients")[self.clients.index(client)] if client in self.clients else 0.0
        if shade.is_clear:
            return shade
        slow = float(np.clip(shade.uptake_min * np.exp(self.physics.pace), *UPTAKE_LIMITS_MIN))
        life, shift = shade.life, 0.0
        if shade.key in self.place:
            index = self.place[shade.key]
            if self.prints[index] != print_of(shade):
                raise BadInput(
                    "knowledge",
                    f"knowledge was learned when shades.{shade.name} was another: learn again from the records",
                )
            log = log + self._group("strengths")[index] + self._group("lines")[self.line_of[index]]
            shift = float(self._group("shifts")[index]) if self.layout.shifts else 0.0
            if self.layout.lives:
                longer = np.exp(self._group("lives")[self.line_of[index]])
                life = float(np.clip(shade.life_washes * longer, *LIFE_LIMITS))
        elif shade.line in self.lines:
            log = log + self._group("lines")[self.lines.index(shade.line)]
        least = 0.0 if shade.level is None else BASED_STRENGTH_LEAST
        strength = min(max(shade.strength * float(np.exp(log)), least), STRENGTH_LIMIT)
        if shift and shade.strength:
            tone = shifted(shade.tone[None], np.array([shift]))[0]
            shade = replace(shade, bands=(), samples=tuple(tone.tolist()))
        return replace(shade, strength=strength, time_constant_min=slow, life=life)

    def look(self, subject: Subject, shades: Sequence[Shade]) -> "Looked":
        """Forecast bowls of shades that were `taught`, with what is left in doubt."""
        part = self._part(shades)
        found = told(subject, part.layout, part.rest, self.centres)
        by_own = [
            (found.by_band * found.units[:, row, None, None] * shade.tone) @ self._own_doubt(shade).T
            for row, shade in enumerate(shades)
            if shade.doubt
        ]
        return Looked(told=found, part=part, remainder=np.array(self.remainder), by_own=tuple(by_own))

    def _own_doubt(self, shade: Shade) -> FloatArray:
        """What a shade's own doubt moves its logarithm of K by, (factors, bands); of one that results taught of, what
        they can't tell as strength: the course of its bands."""
        moves = shade.doubt.by_band if shade.doubt else np.zeros((0, len(shade.tone)))
        if shade.key not in self.place:
            return moves
        common = moves @ (shade.tone / max(float(shade.tone.sum()), 1e-9))
        return moves - common[:, None]

    def _strength_sd(self, shade: Shade) -> float:
        """How far a strength strays before any record; one that results didn't teach of may have a doubt of its own."""
        if shade.key in self.place:
            return float(self.shade_sd[self.place[shade.key]])
        return SHADE_SD if shade.doubt is None else 0.0

    def _part(self, shades: Sequence[Shade]) -> "Part":
        """What is known of some shades, each as a line of its own, and of all physics."""
        count = len(shades)
        layout = replace(self.layout, shades=count, lines=count, clients=0, readers=0)
        rest, spread = (
            np.zeros(layout.size),
            layout.spreads(self.remainder, np.array([*map(self._strength_sd, shades)])),
        )
        known = np.zeros((layout.size, self.told_of.shape[-1]))
        mine, theirs = layout.groups, self.layout.groups
        for name in ("physics", "remainder"):
            rest[mine[name]], known[mine[name]] = self.unknowns[theirs[name]], self.told_of[theirs[name]]
        if layout.physics:
            rest[mine["physics"]] = self.physics._replace(pace=0.0)  # which is in the taught shades
        for row, shade in enumerate(shades):
            index = self.place.get(shade.key)
            if index is None and shade.doubt is not None:
                for name in ("lines", "shifts"):
                    spread[mine[name]][row : row + 1] = 0.0
                continue
            line = self.lines.index(shade.line) if shade.line in self.lines else None
            for name, at in (("strengths", index), ("shifts", index), ("lines", line), ("lives", line)):
                if at is not None and mine[name].stop > mine[name].start:
                    known[mine[name].start + row] = self.told_of[theirs[name].start + at]
        return Part(layout=layout, rest=rest, spread=spread, known=known)


@dataclass(frozen=True, kw_only=True)
class ToldShade:
    """How much stronger a shade is than its line says, the doubt of its logarithm, and how far its bands lie off."""

    name: str
    factor: float
    doubt: float
    shift_nm: float


# Strengths as far as any may stray, and a remainder that stands for all of physics: on salons whose physics is the
# engine's own this holds what it says, on others it is the first thing that results mend.
UNTAUGHT: Final = Knowledge(
    model="nothing learned",
    records=0,
    shades=(),
    prints=(),
    shade_sd=np.zeros(0),
    line_of=(),
    lines=(),
    clients=(),
    readers=(),
    layout=Layout(shades=0, lines=0, clients=0, readers=0),
    remainder=per_axis_of(REMAINDER_PRIOR),
    centres=np.zeros((0, 4)),
    unknowns=np.zeros(0),
    told_of=np.zeros((0, 0)),
    noise=1.0,
)


@dataclass(frozen=True, kw_only=True, eq=False)
class Part:
    """What bears on one bowl: unknowns (size,) that its shades don't hold, spread (size,), known (size, rank)."""

    layout: Layout
    rest: FloatArray
    spread: FloatArray
    known: FloatArray


@dataclass(frozen=True, kw_only=True, eq=False)
class Looked:
    """Forecasts, and how sure they are. by_own: slopes (n, 3, factors) by each doubt that a shade brings along."""

    told: Told
    part: Part
    remainder: FloatArray
    by_own: tuple[FloatArray, ...]

    @property
    def lab(self) -> FloatArray:
        """L*a*b* (n, 3)."""
        return self.told.lab

    @cached_property
    def covariance(self) -> FloatArray:
        """Of L*a*b*, (n, 3, 3), from what is not known of shades and physics."""
        prior, known = self.told.slopes * self.part.spread, self.told.slopes @ self.part.known
        whole = prior @ np.swapaxes(prior, 1, 2) - known @ np.swapaxes(known, 1, 2)
        for own in self.by_own:
            whole = whole + own @ np.swapaxes(own, 1, 2)
        # What the remainder's centres don't tell of.
        far = (1 - self.told.likeness) * self.told.presence**2
        return whole + far[:, None, None] * np.diag(self.remainder**2)


def print_of(shade: Shade) -> str:
    """A fingerprint of what a shade does, whatever it is called."""
    told = [shade.kind.value, shade.level, shade.line, *np.round(shade.strength * shade.tone, 6).tolist()]
    return hashlib.sha256(repr(told).encode()).hexdigest()[:PRINT_LENGTH]
