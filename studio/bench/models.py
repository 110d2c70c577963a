"""The mixing work: the aim, the bowl, what was poured, and every step so far."""

from decimal import Decimal
from typing import Final

from django.db import models
from django.db.models import Q

from studio.accounts.models import Person, StudioScope
from studio.shelf.models import Shade, ShadeLine
from studio.visits.models import Zone

POUR_MOST_G: Final = Decimal(1000)
WANTED_LEAST_G: Final = Decimal(5)
WANTED_MOST_G: Final = Decimal(1000)


class TargetFields(models.Model):
    """An aim in L*a*b* under daylight: all three numbers or none."""

    target_l = models.DecimalField(max_digits=6, decimal_places=3, null=True, blank=True)
    target_a = models.DecimalField(max_digits=7, decimal_places=3, null=True, blank=True)
    target_b = models.DecimalField(max_digits=7, decimal_places=3, null=True, blank=True)

    class Meta:
        abstract = True
        constraints = [
            models.CheckConstraint(
                condition=Q(target_l=None, target_a=None, target_b=None)
                | Q(
                    # A comparison with NULL is not false, so a target with a part missing must be named as such.
                    target_l__isnull=False,
                    target_a__isnull=False,
                    target_b__isnull=False,
                    target_l__range=(0, 100),
                    target_a__range=(-128, 128),
                    target_b__range=(-128, 128),
                ),
                name="%(app_label)s_%(class)s_target_whole_and_in_range",
            )
        ]


class BowlScope(StudioScope["Bowl"]):
    """Bowls of one studio's visits."""

    studio_path = "zone__visit__client__studio"


class Bowl(TargetFields):
    """What is mixed for a zone, and the aim.

    `version` counts every change, so that two tabs can't overwrite each other. `cursor` is the number of the
    step that the bowl stands at; steps from there to `newest_step` can be redone.
    """

    zone = models.OneToOneField(Zone, on_delete=models.CASCADE, related_name="bowl")
    line = models.ForeignKey(ShadeLine, on_delete=models.PROTECT, related_name="+")
    wanted_g = models.DecimalField(max_digits=6, decimal_places=1, default=Decimal(60))
    version = models.PositiveIntegerField(default=0)
    cursor = models.PositiveIntegerField(default=0)
    newest_step = models.PositiveIntegerField(default=0)

    objects = BowlScope.as_manager()

    class Meta(TargetFields.Meta):
        abstract = False
        constraints = [
            *TargetFields.Meta.constraints,
            models.CheckConstraint(
                condition=Q(cursor__lte=models.F("newest_step")), name="bench_bowl_cursor_at_a_step"
            ),
            models.CheckConstraint(
                condition=Q(wanted_g__gte=WANTED_LEAST_G, wanted_g__lte=WANTED_MOST_G), name="bench_bowl_wanted_range"
            ),
        ]

    def __str__(self) -> str:
        return f"bowl for {self.zone}"


class Pour(models.Model):
    """Grams of one shade in a bowl."""

    bowl = models.ForeignKey(Bowl, on_delete=models.CASCADE, related_name="pours")
    shade = models.ForeignKey(Shade, on_delete=models.PROTECT, related_name="+")
    grams = models.DecimalField(max_digits=6, decimal_places=2)

    class Meta:
        ordering = ["shade__position", "shade_id"]
        constraints = [
            models.UniqueConstraint(fields=["bowl", "shade"], name="bench_pour_once_a_shade"),
            models.CheckConstraint(condition=Q(grams__gt=0, grams__lte=POUR_MOST_G), name="bench_pour_grams_range"),
        ]

    def __str__(self) -> str:
        return f"{self.grams} g {self.shade}"


class BenchStep(models.Model):
    """The bench after one change, so that each can be undone and redone."""

    bowl = models.ForeignKey(Bowl, on_delete=models.CASCADE, related_name="steps")
    number = models.PositiveIntegerField()
    words = models.CharField(max_length=120)
    state = models.JSONField()
    made_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["bowl", "number"], name="bench_step_number_once")]

    def __str__(self) -> str:
        return self.words
