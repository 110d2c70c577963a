"""The route that was chosen for a zone."""

from typing import Final

from django.db import models
from django.db.models import Q

from engine.language import later
from engine.service.route import RouteKind
from engine.service.schedule.work import HANDS_MOST
from studio.accounts.models import Person, StudioScope
from studio.visits.models import Visit, Zone

PRICE_MOST: Final = 99_999


class RouteScope(StudioScope["ChosenRoute"]):
    """Routes of one studio's zones."""

    studio_path = "zone__visit__client__studio"


class ChosenRoute(models.Model):
    """One route a zone; choosing again takes its place."""

    class Kind(models.TextChoices):
        DEPOSIT = RouteKind.DEPOSIT.value, later("colour only")
        LIFT = RouteKind.LIFT.value, later("lift, then colour")
        FILL = RouteKind.FILL.value, later("fill, then colour")
        REMOVE = RouteKind.REMOVE.value, later("take old colour out, then colour")
        RELIFT = RouteKind.RELIFT.value, later("lift spots again, then colour")
        REFRESH = RouteKind.REFRESH.value, later("refresh")
        TONE_DOWN = RouteKind.TONE_DOWN.value, later("tone down")
        BY_HAND = RouteKind.BY_HAND.value, later("by hand")

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


class VisitPlan(models.Model):
    """When a visit begins, and how many pairs of hands there are. turns: the rows of zones in the order in which they
    are taken up, where that is said."""

    visit = models.OneToOneField(Visit, on_delete=models.CASCADE, related_name="plan")
    begins_at = models.TimeField(null=True, blank=True)
    turns = models.JSONField(default=list, blank=True)
    hands = models.PositiveSmallIntegerField(default=1)

    objects = PlanScope.as_manager()

    class Meta:
        constraints = [
            models.CheckConstraint(condition=Q(hands__gte=1, hands__lte=HANDS_MOST), name="route_plan_hands_1_3")
        ]

    def __str__(self) -> str:
        return f"plan of {self.visit}"


class AgreementScope(StudioScope["Agreement"]):
    """Agreements of one studio's visits."""

    studio_path = "visit__client__studio"


class Agreement(models.Model):
    """What a client agreed to, and its price; a change is a further one, and the earlier ones stay.

    work: every coat in words. price: in the studio's own money, if one was told.
    """

    visit = models.ForeignKey(Visit, on_delete=models.CASCADE, related_name="agreements")
    work = models.JSONField(default=list)
    price = models.DecimalField(max_digits=8, decimal_places=2, null=True, blank=True)
    noted_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    agreed_at = models.DateTimeField(auto_now_add=True)

    objects = AgreementScope.as_manager()

    class Meta:
        ordering = ["-agreed_at", "-id"]
        constraints = [
            models.CheckConstraint(
                condition=Q(price=None) | Q(price__range=(0, PRICE_MOST)), name="route_agreement_price_range"
            )
        ]

    def __str__(self) -> str:
        return f"agreed at {self.agreed_at:%H:%M}"
