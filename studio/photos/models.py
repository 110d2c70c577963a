"""A visit's photographs."""

from typing import Final

from django.db import models
from django.db.models import Q

from engine.language import later
from studio.accounts.models import Person, StudioScope
from studio.accounts.traced import traced
from studio.shelf.models import PHOTO_MOST_BYTES as PHOTO_MOST_BYTES
from studio.visits.models import Visit

HEAD_MOST_BYTES: Final = 1_600_000  # of the photo that a forecast is laid on: two megapixels, strand by strand


class PhotoScope(StudioScope["Photo"]):
    """Photos of one studio's visits."""

    studio_path = "visit__client__studio"


@traced("jpeg")
class Photo(models.Model):
    """A photograph, already turned upright, shrunk and encoded anew: one a visit to aim by, one of the result, one of
    what went wrong, and one of the head to lay forecasts on.

    hair_x, hair_y: the hair that was picked, or that is as it should be; spots: what is not.
    """

    class Purpose(models.TextChoices):
        AIM = "aim", later("to aim by")
        RESULT = "result", later("of the result")
        WRONG = "wrong", later("of what went wrong")
        HEAD = "head", later("of the head")

    visit = models.ForeignKey(Visit, on_delete=models.CASCADE, related_name="photos")
    purpose = models.CharField(max_length=6, choices=Purpose.choices, default=Purpose.AIM)
    jpeg = models.BinaryField(max_length=HEAD_MOST_BYTES)
    width = models.PositiveSmallIntegerField()
    height = models.PositiveSmallIntegerField()
    paper_x = models.PositiveSmallIntegerField(null=True, blank=True)
    paper_y = models.PositiveSmallIntegerField(null=True, blank=True)
    hair_x = models.PositiveSmallIntegerField(null=True, blank=True)
    hair_y = models.PositiveSmallIntegerField(null=True, blank=True)
    spots = models.JSONField(default=list, blank=True)
    taken_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")

    objects = PhotoScope.as_manager()

    class Meta:
        db_table = "bench_photo"  # as it was called when the Bench alone had photos
        constraints = [
            models.CheckConstraint(
                condition=Q(paper_x=None, paper_y=None) | Q(paper_x__isnull=False, paper_y__isnull=False),
                name="bench_photo_paper_whole",
            ),
            models.CheckConstraint(
                condition=Q(hair_x=None, hair_y=None) | Q(hair_x__isnull=False, hair_y__isnull=False),
                name="bench_photo_hair_whole",
            ),
            models.UniqueConstraint(fields=["visit", "purpose"], name="bench_photo_one_a_purpose"),
        ]

    def __str__(self) -> str:
        return f"photo of {self.visit}"

    @property
    def marks(self) -> list[tuple[str, int, int]]:
        """Where it was tapped, with what was tapped."""
        hair = "right" if self.purpose == Photo.Purpose.WRONG else "hair"
        places = (("paper", self.paper_x, self.paper_y), (hair, self.hair_x, self.hair_y))
        spots = [(str(number), x, y) for number, (x, y) in enumerate(self.spots, start=1)]
        return [*((name, x, y) for name, x, y in places if x is not None and y is not None), *spots]
