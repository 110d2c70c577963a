"""The people in the chair."""

import datetime

from django.contrib.postgres.indexes import GinIndex, OpClass
from django.db import models
from django.db.models.functions import Upper

from engine.service.past import WHOLE, Work
from studio.accounts.models import Person, Studio, StudioScope
from studio.shelf.models import ShadeLine


class Client(models.Model):
    """A client of one studio, with a card."""

    studio = models.ForeignKey(Studio, on_delete=models.CASCADE, related_name="clients")
    name = models.CharField(max_length=80)
    about = models.CharField(max_length=120, blank=True)
    notes = models.TextField(max_length=2000, blank=True)
    born_on = models.DateField(null=True, blank=True)
    sensitivities = models.CharField(max_length=200, blank=True)
    reacted = models.BooleanField(default=False, help_text="has reacted to hair colour before")
    black_henna_tattoo = models.BooleanField(default=False)

    objects = StudioScope["Client"].as_manager()

    class Meta:
        ordering = ["name", "id"]
        indexes = [
            GinIndex(OpClass(Upper(field), name="gin_trgm_ops"), name=f"clients_{field}_holds")
            for field in ("name", "about")
        ]
        constraints = [
            models.UniqueConstraint(fields=["studio", "name"], name="clients_name_once"),
            models.CheckConstraint(condition=~models.Q(name=""), name="clients_name_not_empty"),
        ]

    def __str__(self) -> str:
        return self.name

    def age_on(self, day: datetime.date) -> int | None:
        """Whole years of age on a day, if the birthday is known."""
        if self.born_on is None:
            return None
        had_birthday = (day.month, day.day) >= (self.born_on.month, self.born_on.day)
        return day.year - self.born_on.year - (not had_birthday)


class PastScope(StudioScope["PastWork"]):
    """Earlier work of one studio's clients."""

    studio_path = "client__studio"


class SkinTestScope(StudioScope["SkinTest"]):
    """Sensitivity tests of one studio's clients."""

    studio_path = "client__studio"


class PastWork(models.Model):
    """Something that was done to a client's hair before, here or elsewhere; none means virgin hair."""

    class Kind(models.TextChoices):
        LIFT = Work.LIFT.value, "lift"
        DIRECT = Work.DIRECT.value, "direct colour"
        OXIDATIVE = Work.OXIDATIVE.value, "oxidative colour"
        BOX_DYE = Work.BOX_DYE.value, "box dye"
        HENNA = Work.HENNA.value, "henna"
        METALLIC = Work.METALLIC.value, "metallic salts"
        RELAXER = Work.RELAXER.value, "relaxer"
        PERM = Work.PERM.value, "perm"

    class Part(models.TextChoices):
        WHOLE = WHOLE, "whole head"
        ROOTS = "roots", "roots"
        MIDS = "mids", "mids"
        ENDS = "ends", "ends"
        FRAME = "frame", "face frame"
        CROWN = "crown", "crown"
        NAPE = "nape", "nape"
        PANEL = "panel", "panel"

    client = models.ForeignKey(Client, on_delete=models.CASCADE, related_name="past")
    work = models.CharField(max_length=10, choices=Kind.choices)
    part = models.CharField(max_length=10, choices=Part.choices, default=Part.WHOLE)
    done_on = models.DateField()
    note = models.CharField(max_length=120, blank=True)

    objects = PastScope.as_manager()

    class Meta:
        ordering = ["-done_on", "-id"]

    def __str__(self) -> str:
        return f"{self.get_work_display()}, {self.get_part_display()}"


class SkinTest(models.Model):
    """A sensitivity test: of which line, when, and whether the skin stayed clear."""

    client = models.ForeignKey(Client, on_delete=models.CASCADE, related_name="skin_tests")
    line = models.ForeignKey(ShadeLine, on_delete=models.CASCADE, related_name="+")
    tested_at = models.DateTimeField()
    clear = models.BooleanField()
    recorded_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")

    objects = SkinTestScope.as_manager()

    class Meta:
        ordering = ["-tested_at", "-id"]

    def __str__(self) -> str:
        return f"{self.line}, {'clear' if self.clear else 'a reaction'}"
