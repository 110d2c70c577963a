"""What stands beside the tubes: developers by strength, additives, masks, foils and gloves; and what became of it."""

from typing import Final

from django.db import models
from django.db.models import Q

from engine.language import later
from studio.accounts.models import Person, Studio, StudioScope

AMOUNT_MOST: Final = 99_999


class Supply(models.Model):
    """Something that a visit takes and that colours nothing. Amounts are in grams, or in pieces."""

    class Kind(models.TextChoices):
        DEVELOPER = "developer", later("developer")
        BOND = "bond", later("bond builder")
        EQUALISER = "equaliser", later("equaliser")
        REMOVER = "remover", later("remover")
        SEALER = "sealer", later("sealer")
        MASK = "mask", later("mask or conditioner")
        FOIL = "foil", later("foils")
        GLOVES = "gloves", later("gloves")
        OTHER = "other", later("other")

    class Unit(models.TextChoices):
        GRAM = "g", later("g")
        PIECE = "pieces", later("pieces")

    studio = models.ForeignKey(Studio, on_delete=models.CASCADE, related_name="supplies")
    kind = models.CharField(max_length=10, choices=Kind.choices)
    name = models.CharField(max_length=60)
    unit = models.CharField(max_length=6, choices=Unit.choices, default=Unit.GRAM)
    vol = models.DecimalField(
        max_digits=4, decimal_places=1, null=True, blank=True, help_text="strength of a developer; none for the rest"
    )
    pack = models.DecimalField(max_digits=7, decimal_places=1, help_text="what one bottle or box holds")
    pack_price = models.DecimalField(max_digits=7, decimal_places=2, default=0)
    stock = models.DecimalField(max_digits=7, decimal_places=1, default=0)
    reorder_at = models.DecimalField(max_digits=7, decimal_places=1, default=0)
    off_shelf = models.BooleanField(default=False)

    objects = StudioScope["Supply"].as_manager()

    class Meta:
        ordering = ["kind", "vol", "name", "id"]
        constraints = [
            models.UniqueConstraint(fields=["studio", "name"], name="supplies_name_once"),
            models.CheckConstraint(condition=Q(pack__gte=1), name="supplies_pack_from_1"),
            models.CheckConstraint(
                condition=Q(stock__gte=0, reorder_at__gte=0, pack_price__gte=0), name="supplies_not_negative"
            ),
            models.CheckConstraint(
                condition=Q(kind="developer", vol__gte=1, vol__lte=40) | (~Q(kind="developer") & Q(vol=None)),
                name="supplies_developer_has_strength",
            ),
        ]

    def __str__(self) -> str:
        return self.name

    @property
    def is_short(self) -> bool:
        """Whether more of it is to be ordered."""
        return not self.off_shelf and self.reorder_at > 0 and self.stock <= self.reorder_at


class SupplyMoveScope(StudioScope["SupplyMove"]):
    """Moves of one studio's supplies."""

    studio_path = "supply__studio"


class SupplyMove(models.Model):
    """What came to a supply or went from it, and what was left by the record. paid: what a pack cost, when it came."""

    class Kind(models.TextChoices):
        DELIVERED = "delivered", later("came in")
        COUNTED = "counted", later("counted")
        USED = "used", later("used")

    supply = models.ForeignKey(Supply, on_delete=models.CASCADE, related_name="moves")
    kind = models.CharField(max_length=9, choices=Kind.choices)
    amount = models.DecimalField(max_digits=8, decimal_places=1)
    left = models.DecimalField(max_digits=7, decimal_places=1)
    paid = models.DecimalField(max_digits=7, decimal_places=2, null=True, blank=True)
    made_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    made_at = models.DateTimeField(auto_now_add=True)

    objects = SupplyMoveScope.as_manager()

    class Meta:
        ordering = ["-made_at", "-id"]
        constraints = [
            models.CheckConstraint(condition=Q(left__gte=0), name="supplies_left_not_negative"),
            models.CheckConstraint(
                condition=Q(kind="delivered", amount__gt=0) | Q(kind="counted") | Q(kind="used", amount__lt=0),
                name="supplies_move_way",
            ),
        ]

    def __str__(self) -> str:
        return f"{self.amount:+} {self.supply}"
