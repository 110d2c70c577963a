"""The people in the chair."""

import datetime
from typing import Final

from django.contrib.postgres.fields import ArrayField
from django.contrib.postgres.indexes import GinIndex, OpClass
from django.db import models
from django.db.models.functions import Upper

from engine.language import later, say
from engine.service.past import WHOLE, Earlier
from studio.accounts.identity import own_uid
from studio.accounts.models import Person, Studio, StudioScope
from studio.accounts.traced import traced
from studio.shelf.models import ShadeLine
from studio.taught.models import Teaches

LIGHTENER_WORDS: Final = later("lightener")
NAME_LONGEST: Final = 80
# What a card holds of health, and what it is without: her age tells the law, and stays.
HEALTH_OF_CLIENT: Final = {"sensitivities": "", "reacted": False, "black_henna_tattoo": False}


@traced("forgotten_at", "uid", "other_uids")
class Client(models.Model):
    """A client of one studio, with a card."""

    studio = models.ForeignKey(Studio, on_delete=models.CASCADE, related_name="clients")
    name = models.CharField(max_length=NAME_LONGEST)
    about = models.CharField(max_length=120, blank=True)
    notes = models.TextField(max_length=2000, blank=True)
    born_on = models.DateField(null=True, blank=True)
    sensitivities = models.CharField(max_length=200, blank=True)
    reacted = models.BooleanField(default=False, help_text="has reacted to hair colour before")
    black_henna_tattoo = models.BooleanField(default=False)
    teaches = models.BooleanField(default=True, help_text="what comes out on this hair teaches")
    forgotten_at = models.DateTimeField(null=True, blank=True, help_text="since when nothing tells who it was")
    uid = own_uid()
    other_uids = ArrayField(
        models.UUIDField(), default=list, blank=True, help_text="what other studios' files know the same person by"
    )

    objects = StudioScope["Client"].as_manager()

    class Meta:
        ordering = ["name", "id"]
        indexes = [
            GinIndex(OpClass(Upper(field), name="gin_trgm_ops"), name=f"clients_{field}_holds")
            for field in ("name", "about")
        ]
        constraints = [
            models.UniqueConstraint(fields=["studio", "name"], name="clients_name_once"),
            models.UniqueConstraint(fields=["studio", "uid"], name="clients_uid_once"),
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


@traced()
class PastWork(models.Model):
    """Something that was done to a client's hair before, here or elsewhere; none means virgin hair."""

    class Kind(models.TextChoices):
        LIFT = Earlier.LIFT.value, later("lift")
        DIRECT = Earlier.DIRECT.value, later("direct colour")
        OXIDATIVE = Earlier.OXIDATIVE.value, later("oxidative colour")
        BOX_DYE = Earlier.BOX_DYE.value, later("box dye")
        HENNA = Earlier.HENNA.value, later("henna")
        METALLIC = Earlier.METALLIC.value, later("metallic salts")
        RELAXER = Earlier.RELAXER.value, later("relaxer")
        PERM = Earlier.PERM.value, later("perm")

    class Part(models.TextChoices):
        WHOLE = WHOLE, later("whole head")
        ROOTS = "roots", later("roots")
        MIDS = "mids", later("mids")
        ENDS = "ends", later("ends")
        FRAME = "frame", later("face frame")
        CROWN = "crown", later("crown")
        NAPE = "nape", later("nape")
        PANEL = "panel", later("panel")
        LEFT = "left", later("left half")
        RIGHT = "right", later("right half")

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


@traced()
class SkinTest(models.Model):
    """A sensitivity test: of which line, when, and whether the skin stayed clear."""

    client = models.ForeignKey(Client, on_delete=models.CASCADE, related_name="skin_tests")
    line = models.ForeignKey(
        ShadeLine,
        on_delete=models.CASCADE,
        related_name="+",
        null=True,
        blank=True,
        help_text="none for lightener and its developer",
    )
    tested_at = models.DateTimeField(help_text="from when it counts")
    clear = models.BooleanField()
    recorded_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")

    objects = SkinTestScope.as_manager()

    class Meta:
        ordering = ["-tested_at", "-id"]

    def __str__(self) -> str:
        outcome = say("clear") if self.clear else say("a reaction")
        return f"{self.of}, {outcome}"

    @property
    def of(self) -> str:
        """What was tested."""
        return self.line.name if self.line else LIGHTENER_WORDS


class ConsentScope(StudioScope["Consent"]):
    """Consents of one studio's clients."""

    studio_path = "client__studio"


class Consent(models.Model):
    """That a client agreed to have something kept, when, and when she withdrew it. One that was withdrawn stays so."""

    class Of(models.TextChoices):
        PHOTOS = "photos", later("photos")
        HEALTH = "health", later("health facts")

    client = models.ForeignKey(Client, on_delete=models.CASCADE, related_name="consents")
    of = models.CharField(max_length=6, choices=Of.choices)
    given_at = models.DateTimeField()
    noted_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    withdrawn_at = models.DateTimeField(null=True, blank=True)
    withdrawal_noted_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+", null=True, blank=True)

    objects = ConsentScope.as_manager()

    class Meta:
        ordering = ["-given_at", "-id"]
        constraints = [
            models.UniqueConstraint(
                fields=["client", "of"], condition=models.Q(withdrawn_at=None), name="clients_one_consent_stands"
            )
        ]

    def __str__(self) -> str:
        return f"{self.get_of_display()} of {self.client}"


class StrandTestScope(StudioScope["StrandTest"]):
    """Strand tests of one studio's clients."""

    studio_path = "client__studio"


class StrandTest(Teaches):
    """A strand test: of which mix on which hair, what was seen, and whether the strand passed. It opens only that.

    worked: its hair and its bowl as numbers, where both are known; see `studio.head.strands`.
    """

    client = models.ForeignKey(Client, on_delete=models.CASCADE, related_name="strand_tests")
    part = models.CharField(max_length=10, choices=PastWork.Part.choices, default=PastWork.Part.WHOLE)
    line = models.ForeignKey(ShadeLine, on_delete=models.CASCADE, related_name="+", null=True, blank=True)
    products = models.JSONField(default=list, blank=True, help_text="names of the shades that were in it")
    vol = models.DecimalField(max_digits=4, decimal_places=1, default=0)
    minutes = models.DecimalField(max_digits=4, decimal_places=1)
    grams = models.JSONField(default=dict, blank=True, help_text="of each shade of its mix, by name")
    forecast_lab = models.JSONField(default=list, blank=True, help_text="L*a*b* that it was forecast to look like")
    worked = models.JSONField(default=dict, blank=True)
    seen_lab = models.JSONField(default=list, blank=True, help_text="L*a*b* of the strand, where that was read")
    colour_seen = models.CharField(max_length=120, blank=True)
    stretch_held = models.BooleanField(default=True)
    passed = models.BooleanField()
    tested_at = models.DateTimeField()
    recorded_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")

    objects = StrandTestScope.as_manager()

    class Meta:
        ordering = ["-tested_at", "-id"]
        constraints = [
            models.CheckConstraint(condition=models.Q(vol__gte=0, vol__lte=40), name="clients_strand_vol_0_40"),
            models.CheckConstraint(
                condition=models.Q(minutes__gt=0, minutes__lte=240), name="clients_strand_minutes_range"
            ),
            models.CheckConstraint(
                condition=models.Q(passed=False) | models.Q(stretch_held=True), name="clients_strand_passed_holds"
            ),
        ]

    def __str__(self) -> str:
        outcome = say("passed") if self.passed else say("failed")
        return say("{of_} on {part}, {outcome}", of_=self.of, part=self.get_part_display(), outcome=outcome)

    @property
    def of(self) -> str:
        """What was tested."""
        return self.line.name if self.line else LIGHTENER_WORDS
