"""The route that was chosen for a zone."""

from django.db import models

from engine.service.route import RouteKind
from studio.accounts.models import Person, StudioScope
from studio.visits.models import Zone


class RouteScope(StudioScope["ChosenRoute"]):
    """Routes of one studio's zones."""

    studio_path = "zone__visit__client__studio"


class ChosenRoute(models.Model):
    """One route a zone; choosing again takes its place."""

    class Kind(models.TextChoices):
        DEPOSIT = RouteKind.DEPOSIT.value, "colour only"
        LIFT = RouteKind.LIFT.value, "lift, then colour"
        FILL = RouteKind.FILL.value, "fill, then colour"
        REMOVE = RouteKind.REMOVE.value, "take old colour out, then colour"
        RELIFT = RouteKind.RELIFT.value, "lift spots again, then colour"
        REFRESH = RouteKind.REFRESH.value, "refresh"
        TONE_DOWN = RouteKind.TONE_DOWN.value, "tone down"

    zone = models.OneToOneField(Zone, on_delete=models.CASCADE, related_name="route")
    kind = models.CharField(max_length=10, choices=Kind.choices)
    chosen_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    chosen_at = models.DateTimeField(auto_now=True)

    objects = RouteScope.as_manager()

    def __str__(self) -> str:
        return f"{self.zone}: {self.get_kind_display()}"
