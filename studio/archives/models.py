"""An archive on its way out or in."""

from __future__ import annotations

from django.db import models
from django.db.models import F, Q

from engine.language import later
from studio.accounts.identity import own_uid
from studio.accounts.models import Person, Studio, StudioScope

FAILED_LONGEST = 400


class Transfer(models.Model):
    """An archive that the worker makes, or one that is brought, and how far it is.

    size: of the file, in bytes, as it was made or as it is brought. parts: how many pieces of it are here.
    done, total: rows. told: what came otherwise than it was, in words. failed: why nothing came of it, in words.
    """

    class Way(models.TextChoices):
        OUT = "out", later("out")
        IN = "in", later("in")

    studio = models.ForeignKey(Studio, on_delete=models.CASCADE, related_name="transfers")
    person = models.ForeignKey(Person, on_delete=models.CASCADE, related_name="+")
    way = models.CharField(max_length=3, choices=Way.choices)
    size = models.BigIntegerField(default=0)
    parts = models.PositiveIntegerField(default=0)
    total = models.PositiveIntegerField(default=0)
    done = models.PositiveIntegerField(default=0)
    told = models.JSONField(default=list, blank=True)
    failed = models.CharField(max_length=FAILED_LONGEST, blank=True)
    uid = own_uid()
    asked_at = models.DateTimeField(auto_now_add=True)
    asked_for_at = models.DateTimeField(null=True, blank=True, help_text="since when the worker knows of it")
    finished_at = models.DateTimeField(null=True, blank=True)

    objects = StudioScope["Transfer"].as_manager()

    class Meta:
        ordering = ["-asked_at", "-id"]
        constraints = [
            models.CheckConstraint(condition=Q(done__lte=F("total")), name="archives_done_within_total"),
            models.CheckConstraint(condition=Q(size__gte=0), name="archives_size_not_negative"),
        ]

    def __str__(self) -> str:
        return f"{self.get_way_display()} {self.asked_at:%Y-%m-%d %H:%M}"

    @property
    def is_done(self) -> bool:
        """Whether it came to an end, good or bad."""
        return self.finished_at is not None

    @property
    def is_here(self) -> bool:
        """Whether there is a file to fetch."""
        return self.is_done and not self.failed and self.way == self.Way.OUT and self.size > 0

    @property
    def percent(self) -> int:
        """How far the worker is."""
        return 100 * self.done // self.total if self.total else 0
