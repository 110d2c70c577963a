"""Clocks: what is on which zone since when. Moments are kept in UTC, so that no zone of time and no change of the
clocks touches them, and in the database, so that no restart does."""

from typing import Final

from django.db import models
from django.db.models import F, Q

from engine.service.timing import MINUTES_MOST, ClockKind
from studio.accounts.models import Person, StudioScope
from studio.pour.models import Batch
from studio.visits.models import Zone

BATCHES_MOST: Final = 6


class ClockScope(StudioScope["ZoneClock"]):
    """Clocks of one studio's zones."""

    studio_path = "zone__visit__client__studio"


class ZoneClock(models.Model):
    """One application on one zone, from the first brush stroke to the rinse.

    answered_to_min: calls up to this minute were answered. batches: how many bowls the application takes.
    """

    class Kind(models.TextChoices):
        LIGHTENER = ClockKind.LIGHTENER.value, "lightener"
        TONER = ClockKind.TONER.value, "toner"
        DEMI = ClockKind.DEMI.value, "demi"
        PERMANENT = ClockKind.PERMANENT.value, "permanent"
        DIRECT = ClockKind.DIRECT.value, "direct"
        FILL = ClockKind.FILL.value, "fill"
        MASK = ClockKind.MASK.value, "mask"
        SEAL = ClockKind.SEAL.value, "seal"

    COLOURS = (Kind.DIRECT, Kind.DEMI, Kind.PERMANENT, Kind.TONER, Kind.MASK)

    zone = models.ForeignKey(Zone, on_delete=models.CASCADE, related_name="clocks")
    batch = models.ForeignKey(Batch, on_delete=models.SET_NULL, related_name="clocks", null=True, blank=True)
    kind = models.CharField(max_length=10, choices=Kind.choices)
    planned_min = models.DecimalField(max_digits=4, decimal_places=1)
    batches = models.PositiveSmallIntegerField(default=1)
    damp = models.BooleanField(default=False)
    heat = models.BooleanField(default=False)
    applied_at = models.DateTimeField()
    rinsed_at = models.DateTimeField(null=True, blank=True)
    answered_to_min = models.DecimalField(max_digits=5, decimal_places=1, default=-1)
    started_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")

    objects = ClockScope.as_manager()

    class Meta:
        ordering = ["applied_at", "id"]
        constraints = [
            models.UniqueConstraint(fields=["zone"], condition=Q(rinsed_at=None), name="clocks_one_runs_a_zone"),
            models.CheckConstraint(
                condition=Q(planned_min__gte=0.5, planned_min__lte=MINUTES_MOST), name="clocks_planned_range"
            ),
            models.CheckConstraint(
                condition=Q(rinsed_at=None) | Q(rinsed_at__gte=F("applied_at")), name="clocks_rinsed_after_applied"
            ),
            models.CheckConstraint(condition=Q(batches__gte=1, batches__lte=BATCHES_MOST), name="clocks_batches_range"),
        ]

    def __str__(self) -> str:
        return f"{self.get_kind_display()} on {self.zone}"
