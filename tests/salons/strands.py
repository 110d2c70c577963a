"""Strand tests of a secret shade, read by an instrument or off photos that lie as photos do."""

import time
from dataclasses import dataclass
from typing import Final

import numpy as np

from engine.arrays import FloatArray
from engine.bowl.mix import Bowl
from engine.bowl.predict import predict
from engine.bowl.spread import Doubt, spread
from engine.colorimetry.difference import delta_e00
from engine.colorimetry.lab import lab_of, xyz_of
from engine.colorimetry.lights import Light, viewing
from engine.dye.characterise import Characterised, StrandTest, characterise
from engine.dye.families import family
from engine.dye.shade import Band, Shade
from engine.hair.canvas import Canvas, fibres_of
from engine.hair.ladder import School, school_ladder
from engine.hair.reflectance import reflectance
from tests.salons.salon import CLEAN, SHELF
from tests.salons.worlds import World, assembly, blend, paint

# Level and share of each strand.
BY_INSTRUMENT: Final = ((10.0, 1.0), (10.0, 0.2), (9.0, 0.05), (11.0, 0.02))
BY_PHOTO: Final = ((10.0, 1.0), (10.0, 0.4), (10.0, 0.15), (9.0, 0.06), (9.0, 0.03), (8.0, 0.3))
# What a camera makes of light is no hair's law: a blend of another, besides gloss, shadow and a tone curve.
CAMERA: Final = blend(assembly(0.012), paint(0.012), 0.3)
USES: Final = 12


@dataclass(frozen=True, kw_only=True, eq=False)
class Secret:
    """A shade that strands are to find, and the family that it belongs to."""

    family: str
    shade: Shade


def secret(luck: np.random.Generator) -> Secret:
    """A member of a family: its bands moved, widened, weighed and strengthened."""
    base = SHELF[int(luck.integers(len(SHELF)))]
    bands = tuple(
        Band(
            centre_nm=band.centre_nm + luck.normal(0, 6),
            sigma_nm=band.sigma_nm * float(np.exp(luck.normal(0, 0.12))),
            weight=band.weight * float(np.exp(luck.normal(0, 0.15))),
        )
        for band in base.bands
    )
    strength = float(np.clip(8 * np.exp(luck.normal(0, 0.35)), 1, 29))
    return Secret(family=base.name, shade=Shade(name="secret", bands=bands, strength=strength))


def hair(level: float) -> Canvas:
    """Hair of a level as the ladder expects it."""
    warmth, lean = school_ladder(School.YELLOW_GOLD_AT_8).undertone_at(level)
    return Canvas(level=level, warmth=warmth, lean=lean)


def strands(of: Secret, luck: np.random.Generator, *, photos: bool) -> list[StrandTest]:
    """Four strands read by an instrument, or six off photos of one set."""
    world = World(law=CAMERA if photos else assembly(0.012))
    gloss, shadow, curve = luck.uniform(0, 0.02), luck.uniform(0.88, 1.0), luck.uniform(0.94, 1.06)
    view, made = viewing(Light.DAYLIGHT), []
    for level, share in BY_PHOTO if photos else BY_INSTRUMENT:
        fibres = fibres_of(hair(level))
        dye = share * of.shade.strength * of.shade.spectrum
        seen = world.seen(reflectance(fibres.absorption), fibres.share, dye)
        if photos:
            seen = np.clip(seen * shadow + gloss, 0, 1) ** curve
        lab = lab_of(xyz_of(seen, view.weights), view.white_xyz) + luck.normal(0, 1.2 if photos else 0.4, 3)
        made.append(StrandTest(canvas=hair(level), share=share, lab=lab, doubt=3.0 if photos else 0.7))
    return made


def found_out(seed: int, *, photos: bool) -> tuple[Characterised, FloatArray, float, float]:
    """What strands say of a secret, how far forecasts with it lie off (uses,), alone and in mixes, how often they stay
    within what the spread says, and the seconds that finding it took."""
    luck = np.random.default_rng([seed, 7])
    of = secret(luck)
    tests = strands(of, luck, photos=photos)
    start = time.process_time()
    found = characterise("new", tests, start=family(of.family))
    seconds = time.process_time() - start
    misses, inside = [], []
    for turn in range(USES):
        share, canvas = float(np.exp(luck.uniform(np.log(0.02), 0))), hair(float(luck.uniform(7.5, 10.8)))
        grams = {CLEAN: 60 * (1 - share)}
        if turn % 2:
            other = 0.5 * luck.uniform(0, 60 * (1 - share))
            grams = {CLEAN: grams[CLEAN] - other, SHELF[int(luck.integers(len(SHELF)))]: other}
        true = predict(canvas, Bowl(grams={of.shade: 60 * share, **grams})).lab
        around = spread(
            canvas,
            Bowl(grams={found.shade: 60 * share, **grams}),
            doubt=Doubt(level=0, porosity=0, grams=0, minutes=0),
        )
        misses.append(float(delta_e00(around.lab, true)))
        inside.append(misses[-1] <= around.within_90)
    return found, np.array(misses), float(np.mean(inside)), seconds
