"""Spots that are not as the rest of the hair, marked on a photo and held against a place that is right."""

from dataclasses import dataclass

from engine.colorimetry.difference import delta_e00
from engine.colorimetry.words import difference_words
from engine.service.trouble import A_SPOT
from studio.photos.models import Photo
from studio.photos.services.photo import colours_of
from studio.ui.locks import Lock, lock_of_colour
from studio.ui.refusal import Refusal
from studio.ui.words import refusal_words


@dataclass(frozen=True, kw_only=True)
class Spot:
    """One spot: how it differs from the place that is right, in words and in delta E00."""

    number: int
    lock: Lock
    off: float
    words: str


@dataclass(frozen=True, kw_only=True)
class Spots:
    """What a photo says of its spots. wrong: why it says nothing, in words."""

    right: Lock | None = None
    spots: tuple[Spot, ...] = ()
    wrong: str = ""


def spots_of(photo: Photo | None) -> Spots:
    """The spots of a photo with its picture, each against the place that is right; none before that is tapped."""
    if photo is None or photo.hair_x is None or photo.hair_y is None:
        return Spots()
    try:
        right, *labs = colours_of(photo, [(photo.hair_x, photo.hair_y), *((x, y) for x, y in photo.spots)])
    except Refusal as refusal:
        return Spots(wrong=refusal_words(refusal))
    return Spots(
        right=lock_of_colour(tuple(right.tolist())),
        spots=tuple(
            Spot(
                number=number,
                lock=lock_of_colour(tuple(lab.tolist())),
                off=float(delta_e00(right, lab)),
                words=difference_words(right, lab, A_SPOT),
            )
            for number, lab in enumerate(labs, start=1)
        ),
    )
