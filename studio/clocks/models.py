"""Clocks: what is on which zone since when. Moments are kept in UTC, so that no zone of time and no change of the
clocks touches them, and in the database, so that no restart does."""

import datetime
from typing import Final

from django.db import models
from django.db.models import F, Q

from engine.dye.kind import Kind as DyeKind
from engine.language import later
from engine.service.sections import SECTIONS_MOST, section_begin
from engine.service.timing import MINUTES_MOST, SILENT, ClockKind, Pack
from studio.accounts.models import Person, StudioScope
from studio.accounts.traced import traced
from studio.head.models import Bowl, Coat
from studio.pour.models import Batch
from studio.visits.models import Zone

BATCHES_MOST: Final = 6


class ClockScope(StudioScope["ZoneClock"]):
    """Clocks of one studio's zones."""

    studio_path = "zone__visit__client__studio"


@traced("answered_to_min", "boot_id", "boot_s")
class ZoneClock(models.Model):
    """One application on one zone, from the first brush stroke to the rinse.

    answered_to_min: calls up to this minute were answered. batches: how many bowls the application takes.
    sections: into how many the zone is parted; sections_on: when those after the first were begun, in minutes after
    the first hair; sections_off: how many are rinsed.
    vol, to_level, in_metal, unguarded: of lightener: the strength of its developer, the level it is to stop at, and
    whether it was mixed in metal, or as powder without mask and fresh air.
    """

    class Kind(models.TextChoices):
        LIGHTENER = ClockKind.LIGHTENER.value, later("lightener")
        TONER = ClockKind.TONER.value, later("toner")
        DEMI = ClockKind.DEMI.value, later("demi")
        PERMANENT = ClockKind.PERMANENT.value, later("permanent")
        DIRECT = ClockKind.DIRECT.value, later("direct")
        FILL = ClockKind.FILL.value, later("fill")
        MASK = ClockKind.MASK.value, later("mask")
        SEAL = ClockKind.SEAL.value, later("seal")
        REMOVER = ClockKind.REMOVER.value, later("remover")
        EQUALISER = ClockKind.EQUALISER.value, later("equaliser")

    COLOURS = (Kind.DIRECT, Kind.DEMI, Kind.PERMANENT, Kind.TONER, Kind.MASK)

    zone = models.ForeignKey(Zone, on_delete=models.CASCADE, related_name="clocks")
    batch = models.ForeignKey(Batch, on_delete=models.SET_NULL, related_name="clocks", null=True, blank=True)
    bowl = models.ForeignKey(Bowl, on_delete=models.SET_NULL, related_name="clocks", null=True, blank=True)
    coat = models.ForeignKey(Coat, on_delete=models.SET_NULL, related_name="clocks", null=True, blank=True)
    kind = models.CharField(max_length=10, choices=Kind.choices)
    planned_min = models.DecimalField(max_digits=4, decimal_places=1)
    batches = models.PositiveSmallIntegerField(default=1)
    sections = models.PositiveSmallIntegerField(default=1)
    sections_on = models.JSONField(default=list, blank=True)
    sections_off = models.PositiveSmallIntegerField(default=0)
    damp = models.BooleanField(default=False)
    heat = models.BooleanField(default=False)
    vol = models.DecimalField(max_digits=4, decimal_places=1, null=True, blank=True)
    to_level = models.DecimalField(max_digits=4, decimal_places=2, null=True, blank=True)
    in_metal = models.BooleanField(default=False)
    unguarded = models.BooleanField(default=False)
    applied_at = models.DateTimeField()
    boot_id = models.CharField(max_length=36, blank=True, help_text="the start of the machine that boot_s counts from")
    boot_s = models.FloatField(null=True, blank=True, help_text="the machine's steady time at the application")
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
            models.CheckConstraint(
                condition=Q(sections__gte=1, sections__lte=SECTIONS_MOST, sections_off__lt=F("sections")),
                name="clocks_sections_1_4",
            ),
            models.CheckConstraint(condition=Q(vol=None) | Q(vol__gte=0, vol__lte=40), name="clocks_vol_0_40"),
            models.CheckConstraint(
                condition=Q(to_level=None) | Q(to_level__gte=1, to_level__lte=11), name="clocks_to_level_1_11"
            ),
        ]

    def __str__(self) -> str:
        return f"{self.get_kind_display()} on {self.zone}"

    @property
    def section_begin_min(self) -> float:
        """When the first section that is still on was begun, in minutes after the first hair of all."""
        return section_begin(self.sections_on, self.sections_off)

    @property
    def section_applied_at(self) -> datetime.datetime:
        """When that section was put on: what of a zone in sections is rinsed last has it on since then."""
        begun = self.applied_at + datetime.timedelta(minutes=self.section_begin_min)
        return begun if self.rinsed_at is None else min(begun, self.rinsed_at)

    @property
    def dye(self) -> DyeKind | None:
        """What its bowl is mixed from; None without a bowl, and for lightener."""
        return DyeKind(self.bowl.line.kind) if self.bowl and self.bowl.line.kind in set(DyeKind) else None

    @property
    def pack(self) -> Pack:
        """What the pack of its bowl's line says of minutes."""
        return self.bowl.line.pack if self.bowl else SILENT


class CheckScope(StudioScope["ClockCheck"]):
    """Checks of one studio's clocks."""

    studio_path = "clock__zone__visit__client__studio"


class ClockCheck(models.Model):
    """What was seen when the hair was looked at while it worked, with its minute; never changed."""

    class Depth(models.TextChoices):
        UNDER = "under", later("under")
        ON = "on", later("on")
        OVER = "over", later("over")

    clock = models.ForeignKey(ZoneClock, on_delete=models.CASCADE, related_name="checks")
    minute = models.DecimalField(max_digits=5, decimal_places=1)
    depth = models.CharField(max_length=5, choices=Depth.choices, blank=True, help_text="against what is wanted")
    is_going = models.BooleanField(default=False, help_text="stretch or curl is going")
    seen_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    seen_at = models.DateTimeField()

    objects = CheckScope.as_manager()

    class Meta:
        ordering = ["minute", "id"]
        constraints = [models.CheckConstraint(condition=Q(minute__gte=0), name="clocks_check_minute_not_negative")]

    def __str__(self) -> str:
        return f"minute {self.minute} of {self.clock}"


class CorrectionScope(StudioScope["ClockCorrection"]):
    """Corrections of one studio's clocks."""

    studio_path = "clock__zone__visit__client__studio"


class ClockCorrection(models.Model):
    """A moment of a clock that was noted wrongly and set right: what it was, what it became, by whom; never changed."""

    class Moment(models.TextChoices):
        APPLIED = "applied_at", later("put on")
        RINSED = "rinsed_at", later("rinsed")

    clock = models.ForeignKey(ZoneClock, on_delete=models.CASCADE, related_name="corrections")
    moment = models.CharField(max_length=10, choices=Moment.choices)
    was = models.DateTimeField(null=True, blank=True)
    became = models.DateTimeField(null=True, blank=True, help_text="none when it turned out to be on still")
    corrected_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    corrected_at = models.DateTimeField(auto_now_add=True)

    objects = CorrectionScope.as_manager()

    class Meta:
        ordering = ["corrected_at", "id"]

    def __str__(self) -> str:
        return f"{self.get_moment_display()} of {self.clock}"
