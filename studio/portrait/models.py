"""What was drawn over the photo of a head: where its hair is, and which zone lies where."""

from typing import Final

from django.db import models

from studio.accounts.models import StudioScope
from studio.photos.models import Photo

MATTE_MOST_BYTES: Final = 3_000_000
HAIR: Final = "hair"
OTHER: Final = "other"


class PortraitScope(StudioScope["Portrait"]):
    """Portraits of one studio's visits."""

    studio_path = "photo__visit__client__studio"


class Portrait(models.Model):
    """A photo of a head with what was drawn over it; it goes with its photo.

    strokes: each with what it is of (hair, other, or a zone's row) and its points, shares 0-1 of width and height.
    matte: how much of each pixel is hair, as a grey PNG of the photo's size; empty before any was found. number: counts
    its changes. on_handout: whether the hand-out shows it.
    """

    photo = models.OneToOneField(Photo, on_delete=models.CASCADE, related_name="portrait")
    strokes = models.JSONField(default=list, blank=True)
    matte = models.BinaryField(max_length=MATTE_MOST_BYTES, default=bytes, blank=True)
    from_behind = models.BooleanField(default=False)
    on_handout = models.BooleanField(default=False)
    number = models.PositiveIntegerField(default=0)

    objects = PortraitScope.as_manager()

    def __str__(self) -> str:
        return f"portrait on {self.photo}"

    def drawn(self, of: str) -> list[list[list[float]]]:
        """The strokes of hair, of what is none, or of a zone by its row: lists of points."""
        return [stroke["points"] for stroke in self.strokes if stroke["of"] == of]
