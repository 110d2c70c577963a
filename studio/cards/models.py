"""The logbook: formulas kept on a client's card. A formula is written once and never changed."""

from django.db import models
from django.db.models import Q

from engine.colorimetry.lights import Light
from studio.accounts.models import Person, StudioScope
from studio.bench.models import POUR_MOST_G, TargetFields
from studio.clients.models import Client
from studio.shelf.models import Shade, ShadeLine
from studio.visits.models import HairFields, Visit, Zone


class FormulaScope(StudioScope["Formula"]):
    """Formulas of one studio's clients."""

    studio_path = "client__studio"


class Formula(HairFields, TargetFields):
    """A mix as it was saved: the hair, the aim, the grams, and the forecast with its light."""

    class LightChoice(models.TextChoices):
        DAYLIGHT = Light.DAYLIGHT.value, "daylight"
        EVENING = Light.EVENING.value, "evening"
        SALON = Light.SALON.value, "salon"
        SHOP = Light.SHOP.value, "shop"

    client = models.ForeignKey(Client, on_delete=models.CASCADE, related_name="formulas")
    visit = models.ForeignKey(Visit, on_delete=models.PROTECT, related_name="formulas")
    zone_name = models.CharField(max_length=40)
    zone_part = models.CharField(max_length=10, choices=Zone.Part.choices, default=Zone.Part.WHOLE)
    zone_position = models.PositiveSmallIntegerField(default=0)
    blend_percent = models.PositiveSmallIntegerField(default=10)
    bowl_number = models.PositiveSmallIntegerField(default=1, help_text="zones with one number shared one bowl")
    line = models.ForeignKey(ShadeLine, on_delete=models.PROTECT, related_name="+")
    wanted_g = models.DecimalField(max_digits=6, decimal_places=1)
    forecast_l = models.DecimalField(max_digits=6, decimal_places=3)
    forecast_a = models.DecimalField(max_digits=7, decimal_places=3)
    forecast_b = models.DecimalField(max_digits=7, decimal_places=3)
    delta_e00 = models.DecimalField(max_digits=6, decimal_places=3, null=True, blank=True)
    light = models.CharField(max_length=10, choices=LightChoice.choices, default=LightChoice.DAYLIGHT)
    note = models.CharField(max_length=200, blank=True)
    saved_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    saved_at = models.DateTimeField()

    objects = FormulaScope.as_manager()

    class Meta:
        ordering = ["-saved_at", "-id"]
        indexes = [models.Index(fields=["client", "-saved_at"], name="cards_by_client_and_time")]
        constraints = [
            *HairFields.Meta.constraints,
            *TargetFields.Meta.constraints,
            models.CheckConstraint(condition=Q(forecast_l__range=(0, 100)), name="cards_formula_forecast_l_0_100"),
            models.CheckConstraint(
                condition=Q(delta_e00=None) | Q(delta_e00__gte=0), name="cards_formula_delta_e00_not_negative"
            ),
        ]

    def __str__(self) -> str:
        return f"{self.client}, {self.saved_at:%d %b %Y}"


class FormulaPour(models.Model):
    """Grams of one shade in a formula, with the name it had then."""

    formula = models.ForeignKey(Formula, on_delete=models.CASCADE, related_name="pours")
    shade = models.ForeignKey(Shade, on_delete=models.PROTECT, related_name="+")
    shade_name = models.CharField(max_length=40)
    grams = models.DecimalField(max_digits=6, decimal_places=2)

    class Meta:
        ordering = ["id"]
        constraints = [
            models.UniqueConstraint(fields=["formula", "shade"], name="cards_formula_pour_once_a_shade"),
            models.CheckConstraint(
                condition=Q(grams__gt=0, grams__lte=POUR_MOST_G), name="cards_formula_pour_grams_range"
            ),
        ]

    def __str__(self) -> str:
        return f"{self.grams} g {self.shade_name}"
