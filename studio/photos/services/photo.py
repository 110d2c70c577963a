"""Aim by a photograph: take it in, mark the white paper in it, and pick the hair."""

from __future__ import annotations

import io
from collections.abc import Callable, Sequence
from functools import partial

import numpy as np
from django.core.files.base import File
from PIL import Image

from engine.arrays import FloatArray
from engine.colorimetry.photo import PhotoColour, PhotoUnusable, patch_colour
from studio.accounts.models import Person
from studio.clients.consents import check_consent
from studio.clients.models import Consent
from studio.photos.models import HEAD_MOST_BYTES, PHOTO_MOST_BYTES, Photo
from studio.photos.services.decode import decoded
from studio.ui.refusal import Refusal
from studio.ui.uploads import UPLOAD_MOST_BYTES
from studio.visits.models import Visit

SHOWN = (520, 320)  # the page shows a photo at its own size, so that a tap names its pixel
HEAD_WITHIN = (1600, 1600)  # of a head, of which the strands are to stay
PATCH = 6  # pixels to either side of a tap
QUALITIES = (92, 88, 75, 60)
SPOTS_MOST = 12


def take_photo(person: Person, *, visit_id: int, upload: File[bytes] | None, purpose: str = Photo.Purpose.AIM) -> Photo:
    """Keep a photo for a visit in place of one of its purpose: upright, not transparent, shrunk, encoded anew.

    Raises Refusal photo_missing, photo_too_large, consent_withdrawn, consent_unasked and those of `decoded`;
    Visit.DoesNotExist.
    """
    visit = Visit.objects.visible_to(person).select_related("client").get(pk=visit_id)
    if upload is None or not upload.size:
        raise Refusal("photo_missing", "photo")
    if upload.size > UPLOAD_MOST_BYTES:
        raise Refusal("photo_too_large", "photo", most=UPLOAD_MOST_BYTES // 1_000_000)
    check_consent(person, visit.client, Consent.Of.PHOTOS)
    is_head = purpose == Photo.Purpose.HEAD
    picture = decoded(upload, within=HEAD_WITHIN if is_head else SHOWN)
    photo, _ = Photo.objects.update_or_create(
        visit=visit,
        purpose=purpose,
        defaults={
            "jpeg": encoded(picture, most=HEAD_MOST_BYTES if is_head else PHOTO_MOST_BYTES),
            "width": picture.width,
            "height": picture.height,
            "paper_x": None,
            "paper_y": None,
            "hair_x": None,
            "hair_y": None,
            "spots": [],
            "taken_by": person,
        },
    )
    return photo


def mark_paper(person: Person, *, visit_id: int, x: int, y: int, purpose: str = Photo.Purpose.AIM) -> Photo:
    """Say where white paper lies in the photo. Raises Refusal for paper that can't be used; Photo.DoesNotExist."""
    photo = Photo.objects.visible_to(person).get(visit=visit_id, purpose=purpose)
    _checked(lambda: patch_colour(_patch(photo, x, y), _patch(photo, x, y)))
    photo.paper_x, photo.paper_y = x, y
    photo.save(update_fields=["paper_x", "paper_y"])
    return photo


def picked_colour(person: Person, *, visit_id: int, x: int, y: int, purpose: str = Photo.Purpose.AIM) -> PhotoColour:
    """The colour of the hair at a place in the photo, corrected by the paper if it is marked. The place is kept.

    Raises Refusal for a patch that can't be used; Photo.DoesNotExist.
    """
    photo = Photo.objects.visible_to(person).get(visit=visit_id, purpose=purpose)
    paper = None
    if photo.paper_x is not None and photo.paper_y is not None:
        paper = _patch(photo, photo.paper_x, photo.paper_y)
    picked = _checked(lambda: patch_colour(_patch(photo, x, y), paper))
    photo.hair_x, photo.hair_y = x, y
    photo.save(update_fields=["hair_x", "hair_y"])
    return picked


def mark_spot(person: Person, *, visit_id: int, x: int, y: int) -> Photo:
    """Mark a spot that is not as the rest of the hair in the photo of what went wrong.

    Raises Refusal for a patch that can't be used, too_many_spots; Photo.DoesNotExist.
    """
    photo = Photo.objects.visible_to(person).get(visit=visit_id, purpose=Photo.Purpose.WRONG)
    if len(photo.spots) >= SPOTS_MOST:
        raise Refusal("too_many_spots", "photo", most=SPOTS_MOST)
    _checked(lambda: patch_colour(_patch(photo, x, y), None))
    photo.spots = [*photo.spots, [x, y]]
    photo.save(update_fields=["spots"])
    return photo


def forget_spot(person: Person, *, visit_id: int) -> Photo:
    """Take the last spot away, if there is one. Raises Photo.DoesNotExist."""
    photo = Photo.objects.visible_to(person).get(visit=visit_id, purpose=Photo.Purpose.WRONG)
    photo.spots = photo.spots[:-1]
    photo.save(update_fields=["spots"])
    return photo


def colours_of(photo: Photo, places: Sequence[tuple[int, int]]) -> list[FloatArray]:
    """The colours (3,) at places of a photo, corrected by its paper. Raises Refusal for a patch that can't be used."""
    paper = None
    if photo.paper_x is not None and photo.paper_y is not None:
        paper = _patch(photo, photo.paper_x, photo.paper_y)

    def colour(x: int, y: int) -> PhotoColour:
        return patch_colour(_patch(photo, x, y), paper)

    return [_checked(partial(colour, x, y)).lab for x, y in places]


def _checked(pick: Callable[[], PhotoColour]) -> PhotoColour:
    try:
        return pick()
    except PhotoUnusable as unusable:
        raise Refusal(f"photo_{unusable.code}", "photo", what=unusable.field) from None


def _patch(photo: Photo, x: int, y: int) -> FloatArray:
    """Encoded sRGB (pixels, 3) in 0-1 round a place. Raises Refusal photo_outside."""
    if not (0 <= x < photo.width and 0 <= y < photo.height):
        raise Refusal("photo_outside", "photo")
    with Image.open(io.BytesIO(bytes(photo.jpeg))) as picture:
        box = (max(x - PATCH, 0), max(y - PATCH, 0), min(x + PATCH + 1, photo.width), min(y + PATCH + 1, photo.height))
        pixels = np.asarray(picture.convert("RGB").crop(box), dtype=float).reshape(-1, 3)
    return pixels / 255


def encoded(picture: Image.Image, *, most: int = PHOTO_MOST_BYTES) -> bytes:
    """A JPEG of so many bytes at most, without any of the upload's metadata."""
    for quality in QUALITIES:
        kept = io.BytesIO()
        picture.save(kept, "JPEG", quality=quality)
        if kept.tell() <= most:
            return kept.getvalue()
    raise Refusal("photo_too_large", "photo", most=UPLOAD_MOST_BYTES // 1_000_000)
