"""Draw over the photo of a head: over its hair, over what is none, and over the zones that no photo shows by itself."""

from __future__ import annotations

import io
from collections.abc import Iterable, Sequence
from typing import Final

import numpy as np
from django.core.files.base import File
from django.db import transaction
from PIL import Image

from engine.portrait.matte import NoHair, Stroke, check_strokes, hair_in
from studio.accounts.models import Person
from studio.photos.models import Photo
from studio.photos.services.photo import mark_paper, take_photo
from studio.portrait.models import HAIR, OTHER, Portrait
from studio.ui.refusal import Refusal
from studio.visits.models import Zone

Points = Sequence[tuple[float, float]]
FIGURES: Final = 4  # of a share that are kept: a tenth of a pixel of the largest photo


@transaction.atomic
def take_head(person: Person, *, visit_id: int, upload: File[bytes] | None) -> Portrait:
    """Keep a photo of the head; what was drawn over another goes. Raises as `take_photo`."""
    photo = take_photo(person, visit_id=visit_id, upload=upload, purpose=Photo.Purpose.HEAD)
    portrait, _ = Portrait.objects.update_or_create(photo=photo, defaults={"strokes": [], "matte": b""})
    return _counted(portrait)


@transaction.atomic
def tell_light(person: Person, *, visit_id: int, x: float, y: float) -> Portrait:
    """Say where white paper lies, as shares of the photo. Raises Refusal for paper that can't be used."""
    portrait = _held(person, visit_id)
    photo = portrait.photo
    at = round(x * (photo.width - 1)), round(y * (photo.height - 1))
    mark_paper(person, visit_id=visit_id, x=at[0], y=at[1], purpose=Photo.Purpose.HEAD)
    return _counted(portrait)


@transaction.atomic
def draw(person: Person, *, visit_id: int, of: str, points: Points) -> Portrait:
    """Add a stroke over hair, over what is none, or over a zone, and find the hair anew.

    Raises Refusal stroke_of_what, and strokes_… as `engine.portrait.matte.NoHair` has it; Portrait.DoesNotExist.
    """
    portrait = _held(person, visit_id)
    zones = Zone.objects.filter(visit=visit_id, removed=False).values_list("pk", flat=True)
    if of not in (HAIR, OTHER, *(str(pk) for pk in zones)):
        raise Refusal("stroke_of_what", "points")
    stroke = {"of": of, "points": [[round(x, FIGURES), round(y, FIGURES)] for x, y in points]}
    portrait.strokes = [*portrait.strokes, stroke]
    _found_anew(portrait, is_hair=of in (HAIR, OTHER))
    return _counted(portrait)


@transaction.atomic
def undraw(person: Person, *, visit_id: int, every: bool = False) -> Portrait:
    """Take the last stroke away, or all of them. Raises Portrait.DoesNotExist."""
    portrait = _held(person, visit_id)
    portrait.strokes = [] if every else portrait.strokes[:-1]
    _found_anew(portrait, is_hair=True)
    return _counted(portrait)


@transaction.atomic
def set_seen(person: Person, *, visit_id: int, from_behind: bool, on_handout: bool) -> Portrait:
    """Say from which side the photo was taken, and whether the hand-out shows it. Raises Portrait.DoesNotExist."""
    portrait = _held(person, visit_id)
    portrait.from_behind, portrait.on_handout = from_behind, on_handout
    return _counted(portrait)


def strokes_of(drawn: Iterable[Sequence[Sequence[float]]]) -> tuple[Stroke, ...]:
    """Kept strokes for the engine."""
    return tuple(Stroke(points=tuple((float(x), float(y)) for x, y in points)) for points in drawn)


def _held(person: Person, visit_id: int) -> Portrait:
    found = Portrait.objects.visible_to(person).select_for_update(of=("self",)).select_related("photo")
    return found.get(photo__visit=visit_id)


def _found_anew(portrait: Portrait, *, is_hair: bool) -> None:
    """The matte by all strokes. Raises Refusal where they tell none."""
    hair, other = (strokes_of(portrait.drawn(of)) for of in (HAIR, OTHER))
    try:
        check_strokes(strokes_of(stroke["points"] for stroke in portrait.strokes))
        if not is_hair:
            return
        portrait.matte = _png(hair_in(pixels_of(portrait.photo), hair, other)) if hair else b""
    except NoHair as none:
        raise Refusal(f"strokes_{none.code}".replace("strokes_strokes", "strokes"), "points") from None


def pixels_of(photo: Photo) -> np.ndarray:
    """A photo's encoded sRGB, bytes (height, width, 3)."""
    with Image.open(io.BytesIO(bytes(photo.jpeg))) as picture:
        return np.asarray(picture.convert("RGB"))


def _png(cover: np.ndarray) -> bytes:
    kept = io.BytesIO()
    Image.fromarray(np.rint(255 * cover).astype(np.uint8), "L").save(kept, "PNG", compress_level=3)
    return kept.getvalue()


def _counted(portrait: Portrait) -> Portrait:
    portrait.number += 1
    portrait.save()
    return portrait
