"""Which zone each pixel of photographed hair is in: by stretch from where it begins, by half, and as it was painted.

A photo shows one side of a head. Stretches of the length run from the crown outwards and down; halves lie to both sides
of its middle; strands that are woven out follow the strands of the photo. Any other part is where a hand paints it.
"""

from collections.abc import Mapping, Sequence
from typing import Final

import cv2
import numpy as np

from engine.arrays import FloatArray
from engine.portrait.matte import Stroke, painted
from engine.portrait.recolour import Pixels, Plane
from engine.service.parting import AREAS, HALVES, Place
from engine.service.strands import MIDDLE, Strands, zone_shares
from engine.service.stretch import Stretch

PAINTED_BRUSH: Final = 0.022  # of the longer side: half a painted stroke's width
SOFT: Final = 0.006  # of the longer side, of a painted edge
BROKEN: Final = 2.2  # hundredths of the hair's width by which the photo's own strands break the edges of woven ones
SIDEWAYS: Final = 0.8  # of what hair runs to the side is counted as length
STRAND_WIDE, STRAND_HIGH = 0.003, 0.03  # of the longer side
ON_TOP: Final = 0.1  # what is photographed lies on top of all


def shares_of(
    pixels: Pixels,
    cover: Plane,
    places: Sequence[Place],
    stretches: Sequence[Stretch],
    *,
    blends: Sequence[float],
    strokes: Mapping[int, Sequence[Stroke]],
    from_behind: bool = False,
) -> Plane:
    """How much of each zone each pixel with hair holds, (zones, hair), in the order of `numpy.nonzero`.

    cover: how much of each pixel is hair (height, width). strokes: painted, by the place of their zone. from_behind:
    her left is on the left. See `engine.service.strands.zone_shares` for the rest.
    """
    rows, columns = np.nonzero(cover > 0)
    length_cm = max((stretch.to_cm for stretch in stretches), default=1.0)
    across, along = _lies(rows, columns, length_cm)
    side = (across < MIDDLE) if from_behind else (across >= MIDDLE)
    strands = Strands(
        across=across + BROKEN * _texture(pixels)[rows, columns],
        layer=np.full(len(rows), ON_TOP),
        along_cm=along[:, None],
        roots={"left": side.astype(float), "right": (~side).astype(float)},
    )
    found = np.array(zone_shares(places, stretches, blends, strands)[..., 0], dtype=np.float32)
    height, width = cover.shape
    for zone, drawn in strokes.items():
        mask = painted(drawn, (width, height), PAINTED_BRUSH).astype(np.float32)
        soft = np.asarray(cv2.GaussianBlur(mask, (0, 0), max(SOFT * max(cover.shape), 0.5)))[rows, columns]
        found *= 1.0 - soft
        found[zone] += soft
    return found


def unpainted(places: Sequence[Place], strokes: Mapping[int, Sequence[Stroke]]) -> tuple[int, ...]:
    """Zones that no photo shows by itself and that nobody has painted, by their place."""
    return tuple(
        at
        for at, place in enumerate(places)
        if place.part in AREAS and place.part not in HALVES and not strokes.get(at)
    )


def _lies(rows: np.ndarray, columns: np.ndarray, length_cm: float) -> tuple[FloatArray, FloatArray]:
    """Where pixels lie: across the hair, in hundredths of its width, and along it, in cm."""
    left, right = np.percentile(columns, [1, 99])
    across = 100.0 * (columns - left) / max(float(right - left), 1.0)
    top = float(rows.min())
    crown = float(np.median(columns[rows <= np.percentile(rows, 2)]))
    gone = np.hypot(SIDEWAYS * (columns - crown), rows - top)
    return across, length_cm * gone / max(float(np.percentile(gone, 99.5)), 1.0)


def _texture(pixels: Pixels) -> Plane:
    """How much lighter each strand is than what lies beside it, about -1 to 1: strands hang, so that what is seen
    down a short way is one of them.
    """
    grey = cv2.cvtColor(pixels, cv2.COLOR_RGB2GRAY).astype(np.float32)
    wide, high = max(round(STRAND_WIDE * max(grey.shape)), 1), max(round(STRAND_HIGH * max(grey.shape)), 1)
    strand, around = cv2.blur(grey, (wide, high)), cv2.blur(grey, (6 * wide + 1, high))
    return np.asarray(np.tanh((strand - around) / 12.0), dtype=np.float32)
