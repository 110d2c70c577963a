"""The route that was chosen for a zone."""

from django.db import models
from django.db.models import Q

from engine.service.plan import MINUTES_MOST
from engine.service.route import RouteKind, StepKind
from studio.accounts.models import Person, StudioScope
from studio.visits.models import Visit, Zone


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


class PlanScope(StudioScope["VisitPlan"]):
    """Plans of one studio's visits."""

    studio_path = "visit__client__studio"


class StepScope(StudioScope["PlannedStep"]):
    """Planned steps of one studio's zones."""

    studio_path = "zone__visit__client__studio"


class VisitPlan(models.Model):
    """When a visit begins, and which zone is taken up first, where the colourist has said."""

    visit = models.OneToOneField(Visit, on_delete=models.CASCADE, related_name="plan")
    begins_at = models.TimeField(null=True, blank=True)
    first_zone = models.ForeignKey(Zone, on_delete=models.SET_NULL, related_name="+", null=True, blank=True)

    objects = PlanScope.as_manager()

    def __str__(self) -> str:
        return f"plan of {self.visit}"


class PlannedStep(models.Model):
    """The minutes of one step of a zone as the colourist has them, in place of the plan's own."""

    class Kind(models.TextChoices):
        REMOVE = StepKind.REMOVE.value, "take old colour out"
        LIFT = StepKind.LIFT.value, "lift"
        CLEAN_UP = StepKind.CLEAN_UP.value, "rinse, clean, dry, read"
        FILL = StepKind.FILL.value, "fill"
        DEPOSIT = StepKind.DEPOSIT.value, "colour"

    zone = models.ForeignKey(Zone, on_delete=models.CASCADE, related_name="planned_steps")
    kind = models.CharField(max_length=10, choices=Kind.choices)
    apply_min = models.DecimalField(max_digits=4, decimal_places=1)
    process_min = models.DecimalField(max_digits=4, decimal_places=1)

    objects = StepScope.as_manager()

    class Meta:
        ordering = ["id"]
        constraints = [
            models.UniqueConstraint(fields=["zone", "kind"], name="route_step_once_a_zone"),
            models.CheckConstraint(
                condition=Q(apply_min__gte=0, apply_min__lte=MINUTES_MOST)
                & Q(process_min__gte=0, process_min__lte=MINUTES_MOST),
                name="route_step_minutes_range",
            ),
        ]

    def __str__(self) -> str:
        return f"{self.get_kind_display()} on {self.zone}"
