"""What of it runs out, and how many packs to order."""

from dataclasses import dataclass
from decimal import Decimal

from engine.service.stocktaking import tubes_to_order
from studio.accounts.models import Person
from studio.supplies.models import Supply


@dataclass(frozen=True, kw_only=True)
class SupplyOrder:
    """A supply that runs out, how many packs to order, and what they cost."""

    supply: Supply
    packs: int
    cost: Decimal


def supplies_to_order(person: Person) -> list[SupplyOrder]:
    """Those that hold no more than the point at which they are ordered; one of which none is ordered has none."""
    found = Supply.objects.visible_to(person).filter(off_shelf=False, reorder_at__gt=0)
    return [_ordered(supply) for supply in found if supply.is_short]


def _ordered(supply: Supply) -> SupplyOrder:
    packs = tubes_to_order(
        left_g=float(supply.stock), ordered_at_g=float(supply.reorder_at), tube_g=min(float(supply.pack), 2000.0)
    )
    return SupplyOrder(supply=supply, packs=packs, cost=packs * supply.pack_price)
