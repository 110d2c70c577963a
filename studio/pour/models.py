"""Pouring: every filling of a bowl, and what was weighed into it."""

from typing import Final

from django.db import models
from django.db.models import Q
from django.utils import timezone

from engine.language import later, say
from studio.accounts.models import Person, StudioScope
from studio.head.models import POUR_MOST_G, Bowl
from studio.shelf.models import LOT_LONGEST, Shade

MEANWHILE_LONGEST: Final = 300


class BatchScope(StudioScope["Batch"]):
    """Batches of one studio's bowls."""

    studio_path = "bowl__worktop__visit__client__studio"


class Batch(models.Model):
    """One filling of a bowl. mixed_at: when its life began. factor: how many times its plan an over-pour made it.

    in_metal, other_developer: how it is mixed, where that matters: with peroxide in it. held: what was in it when it
    was mixed, grams by the shade's row. served: rows of the zones that it was mixed for.
    """

    bowl = models.ForeignKey(Bowl, on_delete=models.CASCADE, related_name="batches")
    number = models.PositiveSmallIntegerField(default=1)
    begun_at = models.DateTimeField(auto_now_add=True)
    mixed_at = models.DateTimeField(null=True, blank=True)
    factor = models.DecimalField(max_digits=8, decimal_places=4, default=1)
    held = models.JSONField(default=dict, blank=True)
    served = models.JSONField(default=list, blank=True)
    in_metal = models.BooleanField(default=False)
    other_developer = models.BooleanField(default=False, help_text="the developer is another line's")

    objects = BatchScope.as_manager()

    class Meta:
        ordering = ["bowl", "number"]
        constraints = [
            models.UniqueConstraint(fields=["bowl", "number"], name="pour_batch_number_once"),
            models.CheckConstraint(condition=Q(factor__gte=1), name="pour_batch_factor_from_1"),
        ]

    def __str__(self) -> str:
        return f"batch {self.number} of {self.bowl}"


class Weighing(models.Model):
    """What went into a batch at once: of a shade, or of developer where there is none.

    planned_g: what was still to go in. taken_back: it was noted by mistake, and nothing went in. meanwhile: what
    others had changed of the plan by the time that a tablet without connection could tell of it.
    """

    class Source(models.TextChoices):
        TYPED = "typed", later("typed")
        SCALE = "scale", later("by the scale")

    batch = models.ForeignKey(Batch, on_delete=models.CASCADE, related_name="weighings")
    shade = models.ForeignKey(Shade, on_delete=models.PROTECT, related_name="+", null=True, blank=True)
    planned_g = models.DecimalField(max_digits=6, decimal_places=2)
    poured_g = models.DecimalField(max_digits=6, decimal_places=2)
    lot = models.CharField(max_length=LOT_LONGEST, blank=True, help_text="the number on the tube, if it was noted")
    source = models.CharField(max_length=6, choices=Source.choices, default=Source.TYPED)
    taken_back = models.BooleanField(default=False)
    weighed_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    weighed_at = models.DateTimeField(default=timezone.now)
    meanwhile = models.CharField(
        max_length=MEANWHILE_LONGEST, blank=True, db_default="", help_text="what others changed before it was told"
    )

    class Meta:
        ordering = ["id"]
        constraints = [
            models.CheckConstraint(condition=Q(poured_g__gt=0, poured_g__lte=POUR_MOST_G), name="pour_weighing_range"),
            models.CheckConstraint(condition=Q(planned_g__gte=0), name="pour_planned_not_negative"),
        ]

    def __str__(self) -> str:
        what = self.shade or say("developer")
        return f"{self.poured_g} g {what}"
