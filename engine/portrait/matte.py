"""Where the hair is in a photograph, found from a few strokes over it and beside it.

The strokes seed a segmentation by colour and edges (GrabCut [ROT04], as OpenCV has it) on a small copy; what it finds
is brought to the photo's own edges, strand by strand, with a guided filter [HE13].
"""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

import cv2
import numpy as np
from numpy.typing import NDArray

from engine.arrays import FloatArray
from engine.errors import BadInput
from engine.portrait.recolour import Pixels, Plane

Mask = NDArray[np.uint8]
Place = tuple[float, float]

SMALL: Final = 420  # pixels: the longer side of the copy that is segmented
ROUNDS: Final = 4
NOWHERE: Final = (0, 0, 1, 1)  # the box that GrabCut takes and does not read beside a mask
BRUSH: Final = 0.012  # of the longer side: half a stroke's width
GREY_MOST: Final = 5.0  # levels between channels, at the ninth tenth of a photo's pixels: less has no colour
AROUND: Final = 0.6  # of the longer side: as far from its strokes hair is looked for
HAIR_LEAST: Final = 0.01  # of the photo: less is no hair to judge
BEYOND_STROKES: Final = 1.15  # times the strokes' own area: less, and they fit nothing
APART_MOST: Final = 0.35  # of the wider one's width, between two pieces of hair that are of one head
SECOND_HEAD: Final = 0.3  # of the larger piece from which the smaller may be another head
FEATHER: Final = 3  # pixels beyond the segmented edge that strands may reach
RADIUS: Final = 0.006  # of the longer side, of the guided filter
SMOOTH: Final = 4e-4  # its regularisation, of light 0-1 squared
STROKES_MOST: Final = 60
POINTS_MOST: Final = 4000


class NoHair(BadInput):
    """Strokes from which no hair can be told; `code` says why."""

    def __init__(self, code: str, message: str) -> None:
        super().__init__("strokes", message)
        self.code = code


@dataclass(frozen=True, kw_only=True)
class Stroke:
    """A line drawn over a photo: its points from left and top, as shares 0-1 of its width and height."""

    points: tuple[Place, ...]


def hair_in(pixels: Pixels, hair: Sequence[Stroke], other: Sequence[Stroke]) -> Plane:
    """How much of each pixel of a photo (height, width, 3) is hair, 0-1, from strokes over hair and over what is none.

    Raises NoHair: black_and_white, strokes_outside, strokes_none, strokes_too_many, no_hair, two_heads.
    """
    _check(pixels, hair, other)
    height, width = pixels.shape[:2]
    scale = min(SMALL / max(height, width), 1.0)
    size = (max(round(width * scale), 8), max(round(height * scale), 8))
    small = np.asarray(cv2.resize(pixels, size, interpolation=cv2.INTER_AREA), dtype=np.uint8)
    drawn, not_hair = painted(hair, size), painted(other, size)
    found = _segmented(small, drawn, not_hair)
    whole = cv2.resize(found, (width, height), interpolation=cv2.INTER_LINEAR)
    return _to_edges(pixels, np.asarray(whole, dtype=np.float32))


def painted(strokes: Sequence[Stroke], size: tuple[int, int], brush: float = BRUSH) -> Mask:
    """Strokes as a mask (height, width) of 0 and 1 on a picture of a size (width, height)."""
    mask = np.zeros((size[1], size[0]), dtype=np.uint8)
    thick = max(round(2 * brush * max(size)), 1)
    for stroke in strokes:
        line = np.rint(np.array(stroke.points) * (size[0] - 1, size[1] - 1)).astype(np.int32)
        cv2.polylines(mask, [line.reshape(-1, 1, 2)], False, 1, thickness=thick)
        cv2.circle(mask, (int(line[0][0]), int(line[0][1])), thick // 2, 1, thickness=-1)
    return mask


def check_strokes(strokes: Sequence[Stroke]) -> None:
    """Raises NoHair for strokes that lie beside the photo, hold no point, or are too many."""
    if len(strokes) > STROKES_MOST or sum(len(stroke.points) for stroke in strokes) > POINTS_MOST:
        raise NoHair("strokes_too_many", f"strokes: at most {STROKES_MOST} of {POINTS_MOST} points altogether")
    for stroke in strokes:
        if not stroke.points or not all(0 <= x <= 1 and 0 <= y <= 1 for x, y in stroke.points):
            raise NoHair("strokes_outside", "strokes lie beside the photo")


def _check(pixels: Pixels, hair: Sequence[Stroke], other: Sequence[Stroke]) -> None:
    spread = pixels[::7, ::7].max(axis=-1).astype(int) - pixels[::7, ::7].min(axis=-1)
    if float(np.percentile(spread, 90)) < GREY_MOST:
        raise NoHair("black_and_white", "the photo has no colours: it is black and white")
    if not hair:
        raise NoHair("strokes_none", "strokes: draw over the hair")
    check_strokes([*hair, *other])


def _segmented(small: Pixels, drawn: Mask, not_hair: Mask) -> Plane:
    """The hair on the small copy, 0 or 1."""
    reach = round(AROUND * max(small.shape))
    near = cv2.distanceTransform(1 - drawn, cv2.DIST_L2, 5) < reach
    seeds = np.where(near, cv2.GC_PR_BGD, cv2.GC_BGD).astype(np.uint8)
    grown = cv2.dilate(drawn, np.ones((5, 5), np.uint8), iterations=3)
    seeds[grown > 0] = cv2.GC_PR_FGD
    seeds[drawn > 0] = cv2.GC_FGD
    seeds[not_hair > 0] = cv2.GC_BGD
    if not (seeds == cv2.GC_FGD).any():
        raise NoHair("no_hair", "strokes over hair lie under those over what is none")
    cv2.setRNGSeed(17)  # its mixtures are begun at random
    cv2.grabCut(
        cv2.cvtColor(small, cv2.COLOR_RGB2BGR),
        seeds,
        NOWHERE,
        np.zeros((1, 65)),
        np.zeros((1, 65)),
        ROUNDS,
        cv2.GC_INIT_WITH_MASK,
    )
    hair = ((seeds == cv2.GC_FGD) | (seeds == cv2.GC_PR_FGD)).astype(np.uint8)
    opened = np.asarray(cv2.morphologyEx(hair, cv2.MORPH_OPEN, np.ones((3, 3), np.uint8)), dtype=np.uint8)
    return _one_head(opened | (drawn & (1 - not_hair)), drawn).astype(np.float32)


def _one_head(hair: Mask, drawn: Mask) -> Mask:
    """The pieces that strokes touch. Raises NoHair where there are none to speak of, or of two heads."""
    count, labels, stats, _ = cv2.connectedComponentsWithStats(hair, connectivity=8)
    touched = [part for part in range(1, count) if (drawn[labels == part] > 0).any()]
    kept = np.isin(labels, touched).astype(np.uint8)
    if kept.sum() < HAIR_LEAST * hair.size or kept.sum() < BEYOND_STROKES * max(int((drawn & kept).sum()), 1):
        raise NoHair("no_hair", "no hair was found where the strokes lie")
    big = sorted(touched, key=lambda part: -stats[part, cv2.CC_STAT_AREA])[:2]
    if len(big) == 2 and stats[big[1], cv2.CC_STAT_AREA] >= SECOND_HEAD * stats[big[0], cv2.CC_STAT_AREA]:
        left, right = sorted(big, key=lambda part: stats[part, cv2.CC_STAT_LEFT])
        ends = stats[left, cv2.CC_STAT_LEFT] + stats[left, cv2.CC_STAT_WIDTH]
        widest = max(stats[part, cv2.CC_STAT_WIDTH] for part in big)
        if stats[right, cv2.CC_STAT_LEFT] - ends > APART_MOST * widest:
            raise NoHair("two_heads", "the strokes lie on two heads: draw over one")
    return kept


def _to_edges(pixels: Pixels, rough: Plane) -> Plane:
    """A rough matte brought to the photo's own edges, nothing beyond a few pixels from where it lay."""
    guide = cv2.cvtColor(pixels, cv2.COLOR_RGB2GRAY).astype(np.float32) / 255
    radius = max(round(RADIUS * max(pixels.shape)), 2)
    window = (2 * radius + 1, 2 * radius + 1)

    def mean(plane: FloatArray | Plane) -> Plane:
        return np.asarray(cv2.blur(plane, window), dtype=np.float32)

    guide_mean, rough_mean = mean(guide), mean(rough)
    slope = (mean(guide * rough) - guide_mean * rough_mean) / (mean(guide * guide) - guide_mean**2 + SMOOTH)
    offset = rough_mean - slope * guide_mean
    fine = np.clip(mean(slope) * guide + mean(offset), 0.0, 1.0)
    hard = (rough > 0.5).astype(np.uint8)
    reach = cv2.dilate(hard, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * FEATHER + 1, 2 * FEATHER + 1)))
    inner = cv2.erode(hard, np.ones((2 * FEATHER + 1, 2 * FEATHER + 1), np.uint8))
    fine = np.where(inner > 0, 1.0, np.where(reach > 0, fine, 0.0))
    fine[fine < 0.04] = 0.0
    return np.asarray(fine, dtype=np.float32)
