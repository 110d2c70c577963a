"""Simulated salons: a shelf, a secret world, and visits with records as a careful or a hurried hand notes them."""

from dataclasses import dataclass, field, replace
from enum import StrEnum
from typing import Final

import numpy as np

from engine.arrays import FloatArray
from engine.bowl.mix import Bowl, Process
from engine.colorimetry.lab import lab_of, xyz_of
from engine.colorimetry.lights import Light, viewing
from engine.dye.shade import CLEAR, Shade
from engine.dye.shelf import demo_shelf
from engine.hair.canvas import Canvas, fibres_of
from engine.hair.ladder import School, school_ladder
from engine.hair.reflectance import reflectance
from tests.salons.worlds import World, assembly, blend, hyperbola, paint

SHELF: Final = tuple(shade for shade in demo_shelf().values() if not shade.is_clear)
CLEAN: Final = demo_shelf()[CLEAR]
STRENGTH_SD: Final = 0.28
LINE_SD: Final = 0.12


class Otherness(StrEnum):
    """How far a salon's physics is from the engine's."""

    SAME = "same"
    MILD = "mild"
    STRONG = "strong"


@dataclass(frozen=True, kw_only=True, eq=False)
class Visit:
    """What was on which hair, and what came out: true, and as it was noted. lab and noted_lab: (3,) in daylight."""

    canvas: Canvas
    bowl: Bowl
    process: Process
    lab: FloatArray
    noted: Canvas
    noted_bowl: Bowl
    noted_lab: FloatArray


@dataclass(kw_only=True, eq=False)
class Salon:
    """A salon with its secrets. eye_sd: of noted colours, L*a*b*. level_sd: of read levels."""

    world: World
    luck: np.random.Generator
    eye_sd: float = 0.6
    level_sd: float = 0.35
    shelf: tuple[Shade, ...] = SHELF
    white: FloatArray = field(default_factory=lambda: viewing(Light.DAYLIGHT).white_xyz)

    def outcome(self, canvas: Canvas, bowl: Bowl, process: Process) -> FloatArray:
        """L*a*b* (3,) that this salon's physics gives."""
        hair, shades = fibres_of(canvas), bowl.colours
        shares = bowl.fractions(shades)
        slow = np.array([shade.uptake_min for shade in shades])
        taken = self.world.taken(shares, canvas.porosity, process.minutes, slow)
        dye = sum(
            (
                each * self.world.moved(shade.name, shade.strength * shade.spectrum)
                for each, shade in zip(taken, shades, strict=True)
            ),
            np.zeros(hair.bare.shape[-1]),
        )
        seen = self.world.seen(reflectance(hair.absorption), hair.share, dye)
        return lab_of(xyz_of(seen, viewing(Light.DAYLIGHT).weights), self.white)

    def visit(self) -> Visit:
        """One visit with its record."""
        luck, ladder = self.luck, school_ladder(School.YELLOW_GOLD_AT_8)
        level = float(luck.uniform(6, 10.8))
        warmth, lean = ladder.undertone_at(level)
        grey = float(luck.uniform(0.1, 0.6)) if luck.random() < 0.15 else 0.0
        canvas = Canvas(
            level=level, warmth=warmth, lean=lean, porosity=float(np.clip(luck.normal(1.05, 0.15), 0.6, 1.5)), grey=grey
        )
        chosen = luck.choice(len(self.shelf), size=int(luck.integers(1, 4)), replace=False)
        clear_g = 60 * float(luck.choice([0.0, 0.3, 0.6, 0.8, 0.9, 0.95]))
        parts = luck.dirichlet(np.full(len(chosen), 2.0)) * (60 - clear_g)
        grams = {self.shelf[i]: max(round(float(g), 1), 0.3) for i, g in zip(chosen, parts, strict=True)}
        bowl = Bowl(grams={**grams, CLEAN: clear_g})
        process = Process(minutes=float(luck.integers(15, 46)) if luck.random() < 0.4 else None)
        lab = self.outcome(canvas, bowl, process)
        read = float(np.clip(level + luck.normal(0, self.level_sd), 1, 11))
        noted = Canvas(level=read, warmth=warmth, lean=lean, porosity=canvas.porosity, grey=grey)
        noted_lab = lab + luck.normal(0, self.eye_sd, 3)
        return Visit(
            canvas=canvas, bowl=bowl, process=process, lab=lab, noted=noted, noted_bowl=bowl, noted_lab=noted_lab
        )

    def visits(self, count: int) -> list[Visit]:
        """Several visits."""
        return [self.visit() for _ in range(count)]

    def spoiled(self, visit: Visit) -> Visit:
        """A visit whose card names another shade than the one that was in the bowl."""
        shades = visit.bowl.colours
        wrong = shades[int(self.luck.integers(len(shades)))]
        others = [shade for shade in self.shelf if shade not in shades]
        other = others[int(self.luck.integers(len(others)))]
        grams = {(other if shade is wrong else shade): g for shade, g in visit.bowl.grams.items()}
        return replace(visit, noted_bowl=Bowl(grams=grams))


def salon(otherness: Otherness, seed: int) -> Salon:
    """A salon of some otherness; the same seed makes the same one."""
    luck = np.random.default_rng([seed, list(Otherness).index(otherness)])
    strong = {Otherness.SAME: 0.0, Otherness.MILD: 1.0, Otherness.STRONG: 2.2}[otherness]
    line = float(luck.normal(0, LINE_SD))
    strengths = {shade.name: float(np.exp(luck.normal(line, STRENGTH_SD))) for shade in SHELF}
    if strong == 0:
        return Salon(world=World(law=assembly(0.012), strengths=strengths), luck=luck)
    surface = 0.012 * float(np.exp(strong * luck.normal(0.2, 0.35)))
    laws = (
        assembly(surface, 0.5 + 0.04 * strong * float(luck.choice([-1, 1]))),
        blend(assembly(surface), paint(surface), min(0.3 * strong, 1.0)),
        blend(assembly(surface), hyperbola(surface), min(0.3 * strong, 1.0)),
    )
    crowding = 0.35 * strong * float(luck.uniform(0.3, 1))
    takes = (
        lambda share: share * (1 + crowding) / (1 + crowding * share),
        lambda share: share ** (1 - 0.08 * strong),
        lambda share: share,
    )
    world = World(
        law=laws[seed % len(laws)],
        uptake=takes[(seed // len(laws)) % len(takes)],
        strengths=strengths,
        shifts_nm={shade.name: float(luck.normal(0, 2.5 * strong)) for shade in SHELF},
        porosity_power=float(1 + 0.2 * strong * luck.normal()),
        pace=float(np.exp(0.15 * strong * luck.normal())),
        mingle=float(np.clip(0.6 + 0.06 * strong * luck.normal(), 0.35, 0.95)),
    )
    return Salon(world=world, luck=luck)
