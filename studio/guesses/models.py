"""What was expected of a bowl before its forecast was shown."""

from django.db import models
from django.db.models import Q

from studio.accounts.models import Person, StudioScope
from studio.visits.models import Zone

Lab = tuple[float, float, float]


class GuessScope(StudioScope["Guess"]):
    """Guesses of one studio's people."""

    studio_path = "person__studio"


class Guess(models.Model):
    """The colour that somebody expects on a zone, L*a*b* under daylight, and the forecast once it was shown to them.

    level: of the hair that it goes on. It says something of its person, and goes with the visit that it was made in.
    """

    zone = models.ForeignKey(Zone, on_delete=models.CASCADE, related_name="guesses")
    person = models.ForeignKey(Person, on_delete=models.CASCADE, related_name="guesses")
    level = models.DecimalField(max_digits=4, decimal_places=2)
    expected_l = models.DecimalField(max_digits=6, decimal_places=3)
    expected_a = models.DecimalField(max_digits=7, decimal_places=3)
    expected_b = models.DecimalField(max_digits=7, decimal_places=3)
    forecast_l = models.DecimalField(max_digits=6, decimal_places=3, null=True, blank=True)
    forecast_a = models.DecimalField(max_digits=7, decimal_places=3, null=True, blank=True)
    forecast_b = models.DecimalField(max_digits=7, decimal_places=3, null=True, blank=True)
    shown_at = models.DateTimeField(null=True, blank=True)

    objects = GuessScope.as_manager()

    class Meta:
        ordering = ["id"]
        indexes = [models.Index(fields=["person", "shown_at"], name="guesses_by_person")]
        constraints = [
            models.UniqueConstraint(
                fields=["zone", "person"], condition=Q(shown_at=None), name="guesses_one_open_a_zone"
            ),
            models.CheckConstraint(
                condition=Q(level__range=(1, 12))
                & Q(expected_l__range=(0, 100), expected_a__range=(-128, 128), expected_b__range=(-128, 128)),
                name="guesses_expected_in_range",
            ),
            models.CheckConstraint(
                condition=Q(shown_at=None, forecast_l=None, forecast_a=None, forecast_b=None)
                | Q(
                    shown_at__isnull=False,
                    forecast_l__isnull=False,
                    forecast_a__isnull=False,
                    forecast_b__isnull=False,
                    forecast_l__range=(0, 100),
                    forecast_a__range=(-128, 128),
                    forecast_b__range=(-128, 128),
                ),
                name="guesses_forecast_once_shown",
            ),
        ]

    def __str__(self) -> str:
        return f"{self.person}: {self.zone}"

    @property
    def expected_lab(self) -> Lab:
        """What was expected, as L*a*b*."""
        return float(self.expected_l), float(self.expected_a), float(self.expected_b)

    @property
    def forecast_lab(self) -> Lab:
        """What was forecast, as L*a*b*; only of one that was shown."""
        parts = self.forecast_l, self.forecast_a, self.forecast_b
        lightness, a, b = (float(part) for part in parts if part is not None)
        return lightness, a, b
