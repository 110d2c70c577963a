"""A forecast laid on a photograph: the hair in it as it would look, with the photo's own light, shine and strands.

What a pixel of hair sends back is the hair's colour times the light that falls there, and some shine that never met
pigment. The shine is told from the rest by its white; what is left, over the hair's colour as it was read, is the
light. Both are laid on the forecast's colour. A strand that is seen through more hair is deeper: with the law of hair
assemblies (`engine.hair.reflectance`) each channel's deviation grows by the ratio of the logarithms. How much of a
deviation is that, and not light, how far a channel that has nearly no light of its own is believed, and how much of
the white is shine were chosen on made photos of known absorbers (`tests/engine/test_portrait.py`).
"""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np
from numpy.typing import NDArray

from engine.arrays import FloatArray
from engine.colorimetry.difference import delta_e00
from engine.colorimetry.lab import lab_of
from engine.colorimetry.photo import PAPER_REFLECTANCE
from engine.colorimetry.screen import RGB_FROM_XYZ, SCREEN_WHITE_XYZ, decode, encode, screen_colour
from engine.errors import BadInput

Pixels = NDArray[np.uint8]
Plane = NDArray[np.float32]

BY_DEPTH: Final = 0.2  # of a deviation: the rest is light
BELIEVED_FROM: Final = 0.1  # linear light of a channel below which the others tell its light, too
CAST_FROM: Final = 0.03  # linear light of a channel from which it tells the colour of the light
SHINE_SHARE: Final = 0.8  # of the white that a pixel holds beside the hair's own colour
SHINE_MOST: Final = 0.8  # of a pixel's light
GROWS: Final = (0.25, 4.0)  # by how much depth may grow or shrink a deviation
KNOWN: Final = (0.01, 0.95)  # linear light whose logarithm tells depth
DARKEST: Final = 1e-3
LIT: Final = (0.25, 1.8)  # the light on the hair in a photo, over that of paper beside it
TINT: Final = (0.5, 2.0)  # how far the light's colour, a channel over the middle one, is believed
LUMINANCE: Final = np.array([0.2126, 0.7152, 0.0722], dtype=np.float32)  # of linear sRGB, IEC 61966-2-1
STEPS: Final = 4096  # of the table that encodes linear light

_DECODED: Final = decode(np.arange(256) / 255).astype(np.float32)
_LIGHT: Final = np.linspace(0.0, 1.0, STEPS) ** 2  # finer where the eye tells more
_ENCODED: Final = np.rint(255 * encode(_LIGHT)).astype(np.uint8)


@dataclass(frozen=True, kw_only=True, eq=False)
class Portrait:
    """A photo with its hair found, ready for any number of forecasts.

    pixels: (height, width, 3) of encoded sRGB. rows, columns: of the pixels that hold hair (hair,). cover: how much of
    each is hair, 0-1. linear: their light (hair, 3). shares: (zones, hair) of each zone. seen: the middle colour of
    each zone in the photo, linear (zones, 3). tint: the light's colour (3,), 1 in its middle channel; None where no
    paper told it.
    """

    pixels: Pixels
    rows: NDArray[np.intp]
    columns: NDArray[np.intp]
    cover: Plane
    linear: Plane
    shares: Plane
    seen: Plane
    tint: Plane | None


def portrait(pixels: Pixels, cover: Plane, shares: Plane, paper: Pixels | None = None) -> Portrait:
    """A photo, how much of each pixel is hair (height, width), and of each zone (zones, hair), in the hair's order.

    paper: pixels (pixels, 3) of white paper in it.
    """
    rows, columns = np.nonzero(cover > 0)
    linear = _DECODED[pixels[rows, columns]]
    sure = cover[rows, columns] > 0.9
    seen = np.stack([_middle(linear, own, sure) for own in shares])
    tint = None
    if paper is not None:
        light = np.median(_DECODED[paper], axis=0) / PAPER_REFLECTANCE
        tint = np.clip(light / max(float(np.median(light)), DARKEST), *TINT).astype(np.float32)
    return Portrait(
        pixels=pixels,
        rows=rows,
        columns=columns,
        cover=cover[rows, columns].astype(np.float32),
        linear=linear,
        shares=shares.astype(np.float32),
        seen=seen,
        tint=tint,
    )


def _middle(linear: Plane, own: Plane, sure: NDArray[np.bool_]) -> Plane:
    """The middle colour of a zone's pixels; that of all hair where it has none of its own."""
    mine = sure & (own > 0.6)
    if mine.sum() < 16:
        mine = own > 0.3
    middle: Plane = np.median(linear[mine] if mine.any() else linear, axis=0)
    return np.maximum(middle, DARKEST).astype(np.float32)


def recoloured(photo: Portrait, before_labs: Sequence[FloatArray], after_labs: Sequence[FloatArray]) -> Pixels:
    """The photo (height, width, 3) with its hair as forecast; what is no hair stays as it is, byte by byte.

    before_labs, after_labs: of each zone, L*a*b* (3,) as it was read, and as it would be. Without paper in the photo
    the light's colour is what makes the hair look as it was read. Raises BadInput for other than one of each a zone.
    """
    if not len(before_labs) == len(after_labs) == len(photo.shares):
        raise BadInput("after_labs", f"after_labs: one for each of {len(photo.shares)} zones, and as many before_labs")
    light = np.zeros_like(photo.linear)
    for share, seen, before, after in zip(photo.shares, photo.seen, before_labs, after_labs, strict=True):
        at = np.flatnonzero(share > 0)
        if len(at):
            light[at] += share[at, None] * _relit(photo.linear[at], seen, photo.tint, before, after)
    left = np.clip(1.0 - photo.shares.sum(axis=0), 0.0, 1.0)[:, None]
    light += left * photo.linear
    mixed = photo.linear + photo.cover[:, None] * (light - photo.linear)
    found = photo.pixels.copy()
    found[photo.rows, photo.columns] = _ENCODED[
        np.rint(np.sqrt(np.clip(mixed, 0.0, 1.0)) * (STEPS - 1)).astype(np.int32)
    ]
    return found


def lit(photo: Portrait, before_labs: Sequence[FloatArray]) -> tuple[float, ...]:
    """How much light falls on each zone in the photo, if it is as it was read: 1 is that of paper beside it."""
    return tuple(
        float(seen @ LUMINANCE) / max(float(_linear(before) @ LUMINANCE), DARKEST)
        for seen, before in zip(photo.seen, before_labs, strict=True)
    )


def strays(photo: Portrait, before_labs: Sequence[FloatArray]) -> FloatArray:
    """How far each zone's colour in the photo lies from how it was read, in as much light, delta E00 (zones,)."""
    found = []
    for seen, before in zip(photo.seen, before_labs, strict=True):
        white = seen if photo.tint is None else seen / photo.tint
        lighting = max(float(white @ LUMINANCE), DARKEST) / max(float(_linear(before) @ LUMINANCE), DARKEST)
        found.append(lab_of(np.linalg.solve(RGB_FROM_XYZ, white / lighting), SCREEN_WHITE_XYZ))
    return delta_e00(np.stack(found), np.stack(list(before_labs)))


def _linear(lab: FloatArray) -> Plane:
    """A colour's linear light (3,), pulled into what a screen can show."""
    return decode(screen_colour(lab).srgb).astype(np.float32)


def _relit(linear: Plane, seen: Plane, tint: Plane | None, before: FloatArray, after: FloatArray) -> Plane:
    """Pixels of one zone (pixels, 3) in the forecast's colour, with their own light and shine."""
    read = np.maximum(_linear(before), DARKEST)
    lighting = float(np.clip((seen @ LUMINANCE) / (read @ LUMINANCE), *LIT))
    cast = tint if tint is not None else _cast(seen, lighting * read)
    own = np.maximum(seen / lighting, DARKEST)  # the hair as the photo has it, fully lit
    aim = np.maximum(_linear(after), DARKEST / 10)
    shine = _shine(linear, own)
    body = linear - shine[:, None]
    light = np.maximum((body @ LUMINANCE) / (own @ LUMINANCE), DARKEST)[:, None]
    over = np.maximum((body + BELIEVED_FROM * light) / (own + BELIEVED_FROM), DARKEST)
    grows = np.clip(np.log(np.clip(aim, *KNOWN)) / np.log(np.clip(read, *KNOWN)), *GROWS)
    power = (1 - BY_DEPTH) + BY_DEPTH * grows
    relit: Plane = cast * aim * over ** power.astype(np.float32) + shine[:, None]
    return relit


def _cast(seen: Plane, fully: FloatArray | Plane) -> Plane:
    """The light's colour (3,) that makes hair, (3,) under white light, look as it is seen."""
    return np.clip((seen + CAST_FROM) / (fully + CAST_FROM), *TINT).astype(np.float32)


def _shine(linear: Plane, own: Plane) -> Plane:
    """The light of each pixel (pixels,) that never met pigment: what a white light adds to the hair's own colour."""
    parts = np.linalg.pinv(np.stack([own, np.ones(3, dtype=np.float32)], axis=1))
    white = linear @ parts[1].astype(np.float32)
    shine: Plane = np.clip(SHINE_SHARE * white, 0.0, SHINE_MOST * (linear @ LUMINANCE))
    return shine
