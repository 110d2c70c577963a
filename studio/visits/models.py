"""One client's appointment, its zones, and what was read of their hair."""

from django.db import models
from django.db.models import Q

from engine.hair.canvas import RANGES
from engine.hair.residue import Family
from studio.accounts.models import Person, StudioScope
from studio.clients.models import Client

OLD_MOST = 3


class VisitScope(StudioScope["Visit"]):
    """Visits of one studio."""

    studio_path = "client__studio"


class Visit(models.Model):
    """A client's appointment on one day."""

    client = models.ForeignKey(Client, on_delete=models.CASCADE, related_name="visits")
    day = models.DateField()
    colourist = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="visits")

    objects = VisitScope.as_manager()

    class Meta:
        ordering = ["-day", "-id"]
        constraints = [models.UniqueConstraint(fields=["client", "day"], name="visits_one_a_day")]

    def __str__(self) -> str:
        return f"{self.client} on {self.day}"


class ZoneScope(StudioScope["Zone"]):
    """Zones of one studio's visits."""

    studio_path = "visit__client__studio"


class Zone(models.Model):
    """A part of the head with its own canvas and mix.

    Lengthwise parts follow one another from root to end by position. A removed zone is kept, so that it can come back.
    """

    class Part(models.TextChoices):
        WHOLE = "whole", "whole head"
        ROOTS = "roots", "roots"
        MIDS = "mids", "mids"
        ENDS = "ends", "ends"
        FRAME = "frame", "face frame"
        CROWN = "crown", "crown"
        NAPE = "nape", "nape"
        PANEL = "panel", "panel"

    LENGTHWISE = (Part.WHOLE, Part.ROOTS, Part.MIDS, Part.ENDS)

    visit = models.ForeignKey(Visit, on_delete=models.CASCADE, related_name="zones")
    name = models.CharField(max_length=40, default="whole head")
    part = models.CharField(max_length=10, choices=Part.choices, default=Part.WHOLE)
    position = models.PositiveSmallIntegerField(default=0)
    removed = models.BooleanField(default=False)

    objects = ZoneScope.as_manager()

    class Meta:
        ordering = ["position", "id"]
        constraints = [
            models.UniqueConstraint(fields=["visit", "name"], condition=Q(removed=False), name="visits_zone_name_once"),
            models.CheckConstraint(condition=~Q(name=""), name="visits_zone_name_not_empty"),
        ]

    def __str__(self) -> str:
        return self.name

    @property
    def is_lengthwise(self) -> bool:
        """Whether it is a stretch of the hair from root to end."""
        return self.part in self.LENGTHWISE


class FamilyChoice(models.TextChoices):
    """What the pigment of a canvas is."""

    LIGHTENED = Family.LIGHTENED.value, "lightened"
    NATURAL = Family.NATURAL.value, "natural"


class HairFields(models.Model):
    """A canvas as numbers, shared by readings and by what a formula remembers of the hair.

    old_shade, old_k_s: earlier colour still on the hair, and how strong it stands, K/S.
    """

    level = models.DecimalField(max_digits=4, decimal_places=2)
    warmth = models.DecimalField(max_digits=4, decimal_places=2, default=0)
    lean = models.DecimalField(max_digits=4, decimal_places=2, default=0)
    porosity = models.DecimalField(max_digits=4, decimal_places=2, default=1)
    grey = models.DecimalField(max_digits=4, decimal_places=2, default=0)
    family = models.CharField(max_length=10, choices=FamilyChoice.choices, default=FamilyChoice.LIGHTENED)
    old_shade = models.CharField(max_length=20, blank=True, help_text="a spectrum of the engine's demo shelf")
    old_k_s = models.DecimalField(max_digits=4, decimal_places=2, default=0)

    class Meta:
        abstract = True
        constraints = [
            models.CheckConstraint(
                condition=Q(**{f"{name}__gte": low, f"{name}__lte": high}), name=f"%(app_label)s_%(class)s_{name}_range"
            )
            for name, (low, high) in [*RANGES.items(), ("old_k_s", (0, OLD_MOST))]
        ]


class Reading(HairFields):
    """A zone's canvas as seen; the one with the highest number is in force."""

    zone = models.ForeignKey(Zone, on_delete=models.CASCADE, related_name="readings")
    number = models.PositiveIntegerField()
    read_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    read_at = models.DateTimeField(auto_now_add=True)

    class Meta(HairFields.Meta):
        abstract = False
        ordering = ["-number"]
        constraints = [
            *HairFields.Meta.constraints,
            models.UniqueConstraint(fields=["zone", "number"], name="visits_reading_number_once"),
        ]

    def __str__(self) -> str:
        return f"level {self.level}"
