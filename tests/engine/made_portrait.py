"""Made photos of heads whose hair absorbs what is known: rendered wave by wave, not with the code under test."""

import io
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from PIL import Image

from engine.arrays import FloatArray
from engine.bowl.mix import FULL_TIME_DRY, Bowl, added_absorption
from engine.colorimetry.lab import lab_of, xyz_of
from engine.colorimetry.lights import Light, viewing
from engine.colorimetry.screen import encode, linear_from_lab
from engine.hair.canvas import Canvas, fibres_of
from engine.hair.reflectance import reflectance
from engine.portrait.recolour import Pixels

SKIN, WALL, SHIRT, PAPER = (0.52, 0.33, 0.25), (0.30, 0.34, 0.33), (0.05, 0.07, 0.16), (0.88, 0.88, 0.88)
CORNER = slice(0.03, 0.12)  # of the photo, where paper lies


@dataclass(frozen=True, kw_only=True)
class Scene:
    """A head before a wall: how light falls on it, through how much hair it runs, and its shine, (rows, columns).

    hair: which pixels are hair. tint: the light's colour (3,), on everything.
    """

    light: FloatArray
    path: FloatArray
    shine: FloatArray
    hair: np.ndarray
    ground: FloatArray
    tint: FloatArray


@lru_cache
def scene(rows: int = 240, columns: int = 300, *, heads: int = 1, tint: tuple[float, ...] = (1.0, 1.0, 1.0)) -> Scene:
    """A scene with long hair round a face, strand by strand, the same each time."""
    chance = np.random.default_rng(3)
    y, x = np.mgrid[0:rows, 0:columns] / np.array([rows, columns])[:, None, None]
    strands = np.convolve(chance.normal(size=columns + 4), [0.1, 0.2, 0.4, 0.2, 0.1], "valid") * 1.6
    hair = np.zeros((rows, columns), dtype=bool)
    ground = np.broadcast_to(np.array(WALL), (rows, columns, 3)) * (0.8 + 0.3 * x)[..., None]
    ground = np.where((y > 0.86)[..., None], np.array(SHIRT), ground)
    for middle in (0.5,) if heads == 1 else (0.22, 0.78):
        wide = 0.2 if heads == 1 else 0.14
        face = ((x - middle) / (0.62 * wide)) ** 2 + ((y - 0.46) / 0.26) ** 2 < 1
        dome = ((x - middle) / wide) ** 2 + ((y - 0.42) / 0.33) ** 2 < 1
        falls = (abs(x - middle) < 0.98 * wide) & (y > 0.42) & (y < 0.84)
        hair |= (dome | falls) & ~face
        ground = np.where(face[..., None], np.array(SKIN) * (1.1 - 0.5 * abs(x - middle) / wide)[..., None], ground)
    corner = (x > CORNER.start) & (x < CORNER.stop) & (y > CORNER.start) & (y < CORNER.stop)
    ground = np.where(corner[..., None], np.array(PAPER), ground)
    fall = 0.62 + 0.38 * np.sin(2.4 * y + 0.5) * np.cos(1.6 * (x - 0.4))
    gaps = np.exp(-0.3 * np.maximum(strands, 0))[None, :]
    shine = 0.06 * np.exp(-(((y - 0.28) / 0.06) ** 2)) * chance.uniform(0.2, 1, size=(rows, columns))
    return Scene(
        light=np.clip(fall * gaps * (1 + 0.05 * chance.normal(size=(rows, columns))), 0.15, 1.3),
        path=np.clip(np.exp(0.3 * strands)[None, :] * (1 + 0.06 * chance.normal(size=(rows, columns))), 0.4, 3.0),
        shine=shine,
        hair=hair,
        ground=ground,
        tint=np.array(tint),
    )


def absorption_of(canvas: Canvas, bowl: Bowl | None = None) -> FloatArray:
    """K (bands,) of a canvas without grey, with a bowl on it."""
    fibres = fibres_of(canvas)
    added = added_absorption(bowl, canvas.porosity, FULL_TIME_DRY) if bowl else 0 * fibres.absorption[0]
    return fibres.dyed(added).reshape(-1, fibres.absorption.shape[-1])[0]


def lab_of_hair(absorption: FloatArray) -> FloatArray:
    """L*a*b* (3,) of hair, evenly lit."""
    view = viewing(Light.DAYLIGHT)
    return lab_of(xyz_of(reflectance(absorption), view.weights), view.white_xyz)


def photographed(made: Scene, absorption: FloatArray) -> Pixels:
    """The scene as a camera has it, encoded sRGB (rows, columns, 3) of bytes."""
    view = viewing(Light.DAYLIGHT)
    back = reflectance(made.path[..., None] * absorption)
    back = np.clip(made.light[..., None] * back + made.shine[..., None], 0, 1)
    hair = linear_from_lab(lab_of(xyz_of(back, view.weights), view.white_xyz))
    linear = np.clip(np.where(made.hair[..., None], hair, made.ground) * made.tint, 0.0, 1.0)
    return np.rint(255 * encode(linear)).astype(np.uint8)


# A stroke over the hair of a made head, from one side over the crown to the other, as shares of the photo.
OVER_HAIR = ((0.33, 0.75), (0.33, 0.5), (0.36, 0.2), (0.5, 0.14), (0.64, 0.2), (0.67, 0.5), (0.67, 0.75))


@lru_cache
def head_photo(rows: int = 240, columns: int = 300, *, level: float = 10.0, heads: int = 1) -> bytes:
    """A made photo of a head with hair of a level, white paper beside it, as a PNG."""
    kept = io.BytesIO()
    pixels = photographed(scene(rows, columns, heads=heads), absorption_of(Canvas(level=level)))
    Image.fromarray(pixels).save(kept, "PNG")
    return kept.getvalue()
