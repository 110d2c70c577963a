"""Take a photo of strands or of a swatch on white paper in, and read it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal

import numpy as np
from django.core.files.base import File
from django.db import transaction

from engine.colorimetry.photo import PhotoUnusable
from engine.colorimetry.sheet import Sheet, read_sheet
from studio.accounts.models import Person
from studio.photos.services.decode import decoded
from studio.photos.services.photo import SHOWN, encoded
from studio.shelf.models import Shade, StrandSheet
from studio.shelf.services.holding import held_shade
from studio.shelf.services.told import check_colours
from studio.ui.refusal import Refusal
from studio.ui.uploads import UPLOAD_MOST_BYTES


@dataclass(frozen=True, kw_only=True)
class Laid:
    """What lies on the paper at one place: a share of the tube in clear, on hair of a level."""

    level: Decimal
    share: Decimal


def read_photo(
    person: Person, *, shade_id: int, upload: File[bytes] | None, laid: Sequence[Laid], kind: str
) -> StrandSheet:
    """Find and read what lies on the paper; nothing of it is taken for the tube yet. One that was read before and not
    noted gives way.

    Raises Refusal photo_missing, photo_too_large, carrier_strand, and those of a photo that can't be used;
    Shade.DoesNotExist.
    """
    if upload is None or not upload.size:
        raise Refusal("photo_missing", "photo")
    if upload.size > UPLOAD_MOST_BYTES:
        raise Refusal("photo_too_large", "photo", most=UPLOAD_MOST_BYTES // 1_000_000)
    check_colours(Shade.objects.visible_to(person).get(pk=shade_id))
    picture = decoded(upload, within=SHOWN)
    sheet = _read(np.asarray(picture, dtype=float) / 255, len(laid))
    strands = [
        {
            "level": float(each.level),
            "share": float(each.share),
            "x": found.x,
            "y": found.y,
            "lab": [round(float(part), 2) for part in found.colour.lab],
        }
        for each, found in zip(laid, sheet.strands, strict=True)
    ]
    jpeg = encoded(picture)
    with transaction.atomic():
        shade = held_shade(person, shade_id)
        shade.sheets.filter(noted=False).delete()
        return shade.sheets.create(
            kind=kind,
            jpeg=jpeg,
            width=picture.width,
            height=picture.height,
            paper_x=sheet.paper_x,
            paper_y=sheet.paper_y,
            strands=strands,
            taken_by=person,
        )


def _read(pixels: np.ndarray, count: int) -> Sheet:
    """Raises Refusal sheet_no_paper and its like, with what was found."""
    try:
        return read_sheet(pixels, count)
    except PhotoUnusable as unusable:
        raise Refusal(f"sheet_{unusable.code}", "photo", what=unusable.field, wanted=count) from None
