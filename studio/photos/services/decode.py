"""A photograph as it comes from outside, made small and plain before anything else is done to it."""

from __future__ import annotations

import io
import threading
import warnings
from typing import Final

from django.core.files.base import File
from PIL import Image, ImageCms, ImageFile, ImageOps, UnidentifiedImageError
from pillow_heif import register_heif_opener

from studio.ui.refusal import Refusal

register_heif_opener(thumbnails=False, depth_images=False, aux_images=False, decode_threads=1)

# What each kind may have at most, in megapixels. A JPEG is shrunk while it is read; the others are decoded whole.
MEGAPIXELS_MOST: Final = {"JPEG": 60, "MPO": 60, "HEIF": 50, "PNG": 24, "WEBP": 16}
TAKEN: Final = ("JPEG", "PNG", "WEBP", "HEIF")
SIDE_LEAST: Final = 40  # pixels: less is no photograph
WAIT_S: Final = 20  # how long a photo waits for the one before it
UNREADABLE: Final = (
    UnidentifiedImageError,
    OSError,
    ValueError,
    SyntaxError,
    EOFError,
    RuntimeError,
    Image.DecompressionBombWarning,
    Image.DecompressionBombError,
)

_decoding = threading.Lock()  # one at a time in each process: a photo takes up to 350 MB while it is decoded


def decoded(upload: File[bytes], *, within: tuple[int, int]) -> Image.Image:
    """An upload as upright, solid sRGB no larger than the pixels of `within`, its ratio kept.

    Raises Refusal photo_unreadable, photo_pixels, photo_too_small, photo_busy.
    """
    if not _decoding.acquire(timeout=WAIT_S):
        raise Refusal("photo_busy", "photo")
    try:
        ImageFile.LOAD_TRUNCATED_IMAGES = False  # a library that prints sets it for the whole process
        with warnings.catch_warnings():
            warnings.simplefilter("error", Image.DecompressionBombWarning)
            with Image.open(upload, formats=TAKEN) as opened:
                return _plain(_small(opened, within), within)
    except UNREADABLE:
        raise Refusal("photo_unreadable", "photo") from None
    finally:
        _decoding.release()


def _small(opened: Image.Image, within: tuple[int, int]) -> Image.Image:
    """The pixels of a bounded picture, at no more than about twice the size that they are wanted in."""
    most = MEGAPIXELS_MOST[opened.format or "PNG"]
    if opened.width * opened.height > most * 1_000_000:
        raise Refusal("photo_pixels", "photo", most=most, kind=opened.format or "")
    if min(opened.size) < SIDE_LEAST:
        raise Refusal("photo_too_small", "photo", least=SIDE_LEAST)
    side = max(within)
    opened.draft("RGB", (2 * side, 2 * side))
    opened.load()
    if opened.mode == "P":
        opened = opened.convert("RGBA" if "transparency" in opened.info else "RGB")
    times = max(opened.size) // (2 * side)
    return opened.reduce(times) if times > 1 and opened.mode not in ("1", "I;16") else opened


def _plain(picture: Image.Image, within: tuple[int, int]) -> Image.Image:
    picture = ImageOps.exif_transpose(picture) or picture
    profile = picture.info.get("icc_profile")
    if picture.mode not in ("RGB", "CMYK"):
        picture = _solid(picture)
    picture.thumbnail(within)
    return _in_srgb(picture, profile)


def _solid(picture: Image.Image) -> Image.Image:
    """A picture of any kind as RGB, on white where it is transparent."""
    if "A" in picture.getbands() or "transparency" in picture.info:
        solid = Image.new("RGBA", picture.size, (255, 255, 255, 255))
        picture = Image.alpha_composite(solid, picture.convert("RGBA"))
    return picture.convert("RGB")


def _in_srgb(picture: Image.Image, profile: bytes | None) -> Image.Image:
    """The picture's colours in sRGB: phones photograph in a wider space, whose reds would come out dull."""
    if profile:
        try:
            source = ImageCms.ImageCmsProfile(io.BytesIO(profile))
            turned = ImageCms.profileToProfile(picture, source, ImageCms.createProfile("sRGB"), outputMode="RGB")
        except (ImageCms.PyCMSError, OSError, TypeError, ValueError):
            turned = None  # a profile of another kind of picture, or a broken one, tells nothing
        if turned is not None:
            return turned
    return picture.convert("RGB")
