"""Strands that lie on a sheet of white paper, found in one photo and each read by the paper around it."""

from dataclasses import dataclass
from typing import Final

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from engine.arrays import FloatArray, IntArray
from engine.colorimetry.photo import PAPER_LEAST, TINT_MOST, PhotoColour, PhotoUnusable, patch_colour
from engine.colorimetry.screen import decode

Mask = NDArray[np.bool_]

BRIGHT: Final = 0.55  # of the brightest hundredth: darker is no paper, whatever lies on it
ALIKE: Final = 0.14  # of paper's own light by which paper may stray, channel by channel, once shading is taken off
PAPER_SHARE: Final = 0.05  # of the photo that its paper fills at least
SECOND_PAPER: Final = 0.35  # of the sheet from which another white area is a sheet of its own
STRAND_SHARE: Final = 0.004  # of the sheet that a strand fills at least: less is print or a crumb
TOO_LIKE: Final = 0.4  # of the smallest strand from which one more thing may be a strand, too
SHADED: Final = 0.6  # of the sheet's brightest part: a strand where paper is darker lies in shadow
LIGHTER: Final = 1.03  # of what a strand lies on: no hair is lighter than white paper
CORE: Final = 0.5  # of a strand's greatest depth from its edge, from which its pixels are read
ROUND: Final = 6  # pixels around a strand by whose paper it is read
SHADING_TERMS: Final = 6  # of a light that falls off smoothly over the sheet: a plane and its bends
ROUNDS: Final = 3
COUNT_MOST: Final = 12


@dataclass(frozen=True, kw_only=True, eq=False)
class SheetStrand:
    """A strand: where it lies, from left and top, and its colour."""

    x: int
    y: int
    colour: PhotoColour


@dataclass(frozen=True, kw_only=True, eq=False)
class Sheet:
    """A photo's sheet: a place on its bare paper, and its strands in the order in which they lie."""

    paper_x: int
    paper_y: int
    strands: tuple[SheetStrand, ...]


def read_sheet(pixels: FloatArray, count: int) -> Sheet:
    """Find so many strands on white paper in encoded sRGB (height, width, 3) in 0-1, from left to right, or from top to
    bottom where they lie below one another.

    Raises PhotoUnusable: no_paper, two_papers, few_strands, many_strands, strand_in_shadow, strand_unclear.
    """
    linear = np.clip(decode(pixels), 1e-5, None)
    paper, light = _paper(linear)
    sheet = ndimage.binary_fill_holes(paper)
    labels, sizes = _parts(ndimage.binary_opening(sheet & ~paper, iterations=2))
    big = [part for part in np.argsort(-sizes) if sizes[part] >= STRAND_SHARE * sheet.sum()]
    if len(big) < count:
        raise PhotoUnusable("few_strands", str(len(big)), f"photo shows {len(big)} strands on its paper, not {count}")
    if len(big) > count and sizes[big[count]] > TOO_LIKE * sizes[big[count - 1]]:
        raise PhotoUnusable("many_strands", str(len(big)), f"photo shows {len(big)} strands on its paper, not {count}")
    strands = [labels == part + 1 for part in big[:count]]
    centres = np.array([ndimage.center_of_mass(strand) for strand in strands])
    along = 1 if np.ptp(centres[:, 1]) >= np.ptp(centres[:, 0]) else 0
    order = np.argsort(centres[:, along])
    read = [_read(pixels, strands[index], paper, light, place) for place, index in enumerate(order, start=1)]
    y, x = _deepest(paper)
    return Sheet(paper_x=x, paper_y=y, strands=tuple(read))


def _paper(linear: FloatArray) -> tuple[Mask, FloatArray]:
    """Where bare paper lies, and how bright paper is at every place (height, width) over its brightest."""
    bright = linear.mean(axis=-1)
    top = float(np.quantile(bright, 0.99))
    if top < PAPER_LEAST:
        raise PhotoUnusable("no_paper", "paper", "photo is too dark to hold white paper")
    tint = linear.max(axis=-1) / linear.min(axis=-1)
    seen = _largest((bright > BRIGHT * top) & (tint < TINT_MOST))
    shading = np.ones_like(bright)
    for _ in range(ROUNDS):  # paper is what is as paper is here, where light falls off over the sheet
        white = np.median(linear[seen] / shading[seen][:, None], axis=0)
        shading = _shading(bright / white.mean(), seen)
        away = np.abs(linear / (shading[..., None] * white) - 1).max(axis=-1)
        alike = ndimage.binary_opening(away < ALIKE)
        seen = _largest(alike)
    labels, sizes = _parts(alike)
    own = int(labels[seen].max()) - 1
    others = [size for part, size in enumerate(sizes) if part != own and _stands_apart(labels == part + 1, seen)]
    if any(size > SECOND_PAPER * sizes[own] for size in others):
        raise PhotoUnusable("two_papers", "paper", "photo shows two white papers")
    return seen, shading / float(shading[seen].max())


def _stands_apart(part: Mask, sheet: Mask) -> bool:
    """Whether a white area is none that strands cut off the sheet, or that lies within it."""
    return not bool((ndimage.binary_fill_holes(sheet) & part).any())


def _largest(mask: Mask) -> Mask:
    """The largest part of a mask. Raises PhotoUnusable no_paper where it is too small."""
    labels, sizes = _parts(mask)
    if not len(sizes) or sizes.max() < PAPER_SHARE * mask.size:
        raise PhotoUnusable("no_paper", "paper", "photo shows no sheet of white paper")
    found: Mask = labels == int(sizes.argmax()) + 1
    return found


def _parts(mask: Mask) -> tuple[IntArray, IntArray]:
    """Connected parts, numbered from 1, and how many pixels each has."""
    labels, count = ndimage.label(mask)
    return labels.astype(np.intp), np.bincount(labels.ravel(), minlength=count + 1)[1:]


def _shading(bright: FloatArray, paper: Mask) -> FloatArray:
    """How bright paper would be at every place, from where it lies bare: a smooth fall-off, fitted to its logarithm."""
    height, width = bright.shape
    y, x = np.mgrid[-1 : 1 : height * 1j, -1 : 1 : width * 1j]
    terms = np.stack([np.ones_like(x), x, y, x * y, x * x, y * y], axis=-1)
    rows = terms[paper]
    step = max(1, len(rows) // 4000)
    fitted, *_ = np.linalg.lstsq(rows[::step], np.log(bright[paper])[::step], rcond=None)
    shading: FloatArray = np.exp(np.clip(terms @ fitted, -3, 3))
    return shading


def _deepest(mask: Mask) -> tuple[int, int]:
    """The row and column far from a mask's edge that lie nearest to its middle."""
    depth = ndimage.distance_transform_edt(mask)
    deep = np.argwhere(depth >= 0.9 * depth.max())
    row, column = deep[int(((deep - np.argwhere(mask).mean(axis=0)) ** 2).sum(axis=1).argmin())]
    return int(row), int(column)


def _read(pixels: FloatArray, strand: Mask, paper: Mask, light: FloatArray, place: int) -> SheetStrand:
    """A strand by the paper around it."""
    y, x = _deepest(strand)
    around = ndimage.binary_dilation(strand, iterations=ROUND) & paper
    if float(light[strand].mean()) < SHADED or not around.any():
        raise PhotoUnusable("strand_in_shadow", str(place), f"strand {place} lies in shadow")
    depth = ndimage.distance_transform_edt(strand)
    core = pixels[depth >= CORE * depth.max()]
    if float(np.median(core.mean(axis=-1))) > LIGHTER * float(np.median(pixels[around].mean(axis=-1))):
        raise PhotoUnusable("no_paper", "paper", "strands are lighter than what they lie on: that is no white paper")
    try:
        colour = patch_colour(core, pixels[around])
    except PhotoUnusable as unusable:
        raise PhotoUnusable("strand_unclear", str(place), f"strand {place}: {unusable}") from None
    return SheetStrand(x=x, y=y, colour=colour)
