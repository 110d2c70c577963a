"""The photo of a head with a forecast laid on, as a picture to send."""

import hashlib
import io
import threading
from collections import OrderedDict
from dataclasses import dataclass
from typing import Final

import cv2
import numpy as np
from PIL import Image

from engine.arrays import FloatArray
from engine.portrait import matte, recolour
from engine.portrait.zones import shares_of, unpainted
from engine.service.parting import Place
from engine.service.stretch import Stretch
from studio.head.selectors import Bench
from studio.head.sight import Sight
from studio.head.whole import End, whole_head
from studio.photos.services.photo import PATCH
from studio.portrait.models import Portrait
from studio.portrait.services.draw import pixels_of, strokes_of
from studio.visits.lies import consult_of, places_of, stretches_of
from studio.visits.models import Consult, Zone

QUALITY: Final = 90
READY_MOST: Final = 3  # photos that are kept ready in each process, some 40 MB each
WIDTHS: Final = (360, 720)  # smaller pictures that are made, too
LIT_LEAST, LIT_MOST = 0.3, 1.5  # light on the hair, over that of paper: beyond, the photo or the reading is odd
STRAYS: Final = 18.0  # delta E00 between the hair in the photo and as it was read, from which one of them is odd

_ready: OrderedDict[tuple[object, ...], recolour.Portrait] = OrderedDict()
_making = threading.Lock()


@dataclass(frozen=True, kw_only=True, eq=False)
class Seen:
    """A portrait with the colours that are laid on it: before and after, of each zone.

    blends: how wide the seam after each zone is, as a share of the length. width: of the picture, if not the photo's
    own.
    """

    portrait: Portrait
    zones: tuple[Zone, ...]
    blends: tuple[float, ...]
    consult: Consult
    before: tuple[FloatArray, ...]
    after: tuple[FloatArray, ...]
    width: int | None = None

    @property
    def etag(self) -> str:
        """What changes when the picture does."""
        colours = [np.round(lab, 2).tolist() for lab in (*self.before, *self.after)]
        lies = (_lies(self), self.portrait.photo.pk, self.portrait.number, self.width)
        return hashlib.sha256(repr((colours, lies)).encode()).hexdigest()[:20]


def seen(bench: Bench, portrait: Portrait, sight: Sight, end: End = End.LIKELY, width: int | None = None) -> Seen:
    """A forecast on a portrait, in a light and after washes, likely or at an end of its range."""
    before, after = whole_head(bench).before, whole_head(bench, sight, end).after
    zones = tuple(each.zone for each in bench.zones)
    return Seen(
        portrait=portrait,
        zones=zones,
        blends=tuple(each.coat.blend_percent / 100 for each in bench.zones),
        consult=consult_of(bench.visit),
        before=tuple(before[zone.pk] for zone in zones),
        after=tuple(after[zone.pk] for zone in zones),
        width=width if width in WIDTHS else None,
    )


def picture(asked: Seen, kind: str = "JPEG") -> bytes:
    """The picture, as a JPEG or, without loss, as a PNG."""
    pixels = recolour.recoloured(_ready_once(asked), asked.before, asked.after)
    kept = io.BytesIO()
    image = Image.fromarray(pixels)
    if kind == "PNG":
        image.save(kept, "PNG", compress_level=3)
    else:
        image.save(kept, "JPEG", quality=QUALITY)
    return kept.getvalue()


def taken(asked: Seen) -> bytes:
    """The photo as it was taken, in the size that is asked for."""
    kept = io.BytesIO()
    Image.fromarray(_ready_once(asked).pixels).save(kept, "JPEG", quality=QUALITY)
    return kept.getvalue()


def matte_picture(portrait: Portrait) -> bytes:
    """Where hair was found, as a picture to lay over the photo: hatched, and clear beside it."""
    with Image.open(io.BytesIO(bytes(portrait.matte))) as kept:
        cover = np.asarray(kept.convert("L"))
    rows, columns = np.indices(cover.shape)
    band = max(round(max(cover.shape) / 100), 3)
    stripe = ((rows + columns) // band) % 3 == 0
    edge = cv2.dilate((cover > 127).astype(np.uint8), np.ones((3, 3), np.uint8)) - (cover > 127)
    alpha = np.where(stripe, cover // 2, 0).astype(np.uint8)
    drawn = np.dstack([np.full_like(cover, 255), np.where(edge > 0, 255, alpha)])
    out = io.BytesIO()
    Image.fromarray(drawn, "LA").save(out, "PNG", compress_level=3)
    return out.getvalue()


def oddities(asked: Seen) -> tuple[str, ...]:
    """What makes a portrait doubtful, by name: unpainted, too_dark, too_bright, not_as_read."""
    ready = _ready_once(asked)
    lit = recolour.lit(ready, asked.before)
    places = places_of(asked.zones)
    found = {
        "unpainted": bool(unpainted(places, _painted(asked))),
        "too_dark": min(lit) < LIT_LEAST,
        "too_bright": max(lit) > LIT_MOST,
        "not_as_read": ready.tint is not None and float(recolour.strays(ready, asked.before).max()) > STRAYS,
    }
    return tuple(name for name, is_so in found.items() if is_so)


Lies = tuple[tuple[Place, ...], tuple[Stretch, ...], tuple[float, ...], tuple[int, ...]]


def _lies(asked: Seen) -> Lies:
    """How the zones lie: what the shares of a photo's pixels follow from, beside the photo itself."""
    zones = asked.zones
    return tuple(places_of(zones)), stretches_of(zones, asked.consult), asked.blends, tuple(zone.pk for zone in zones)


def _painted(asked: Seen) -> dict[int, tuple[matte.Stroke, ...]]:
    """What was painted, by the place of its zone."""
    return {
        at: strokes_of(drawn) for at, zone in enumerate(asked.zones) if (drawn := asked.portrait.drawn(str(zone.pk)))
    }


def _ready_once(asked: Seen) -> recolour.Portrait:
    """The photo taken apart, ready for any forecast: once while nothing is drawn over it and its zones lie the same."""
    key = (asked.portrait.photo.pk, asked.portrait.number, asked.width, _lies(asked))
    with _making:
        if key not in _ready:
            _ready[key] = _made(asked)
        _ready.move_to_end(key)
        while len(_ready) > READY_MOST:
            _ready.popitem(last=False)
        return _ready[key]


def _made(asked: Seen) -> recolour.Portrait:
    photo = asked.portrait.photo
    pixels = pixels_of(photo)
    with Image.open(io.BytesIO(bytes(asked.portrait.matte))) as kept:
        cover: recolour.Plane = np.asarray(kept.convert("L"), dtype=np.float32) / np.float32(255)
    paper = None
    if photo.paper_x is not None and photo.paper_y is not None:
        rows = slice(max(photo.paper_y - PATCH, 0), photo.paper_y + PATCH + 1)
        paper = pixels[rows, max(photo.paper_x - PATCH, 0) : photo.paper_x + PATCH + 1].reshape(-1, 3)
    if asked.width and asked.width < photo.width:
        size = asked.width, max(round(photo.height * asked.width / photo.width), 1)
        pixels = np.asarray(cv2.resize(pixels, size, interpolation=cv2.INTER_AREA), dtype=np.uint8)
        cover = np.asarray(cv2.resize(cover, size, interpolation=cv2.INTER_AREA), dtype=np.float32)
    places, stretches, blends, _ = _lies(asked)
    shares = shares_of(
        pixels,
        cover,
        places,
        stretches,
        blends=blends,
        strokes=_painted(asked),
        from_behind=asked.portrait.from_behind,
    )
    return recolour.portrait(pixels, cover, shares, paper)
