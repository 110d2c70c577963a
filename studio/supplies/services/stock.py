"""What comes to a supply and goes from it: every change leaves a move, with who and when."""

from decimal import Decimal

from django.db import IntegrityError, transaction

from engine.language import decimals
from studio.accounts.models import Person
from studio.supplies.models import AMOUNT_MOST, Supply, SupplyMove
from studio.ui.numbers import within
from studio.ui.refusal import Refusal


@transaction.atomic
def add_supply(
    person: Person,
    *,
    kind: str,
    name: str,
    unit: str,
    pack: Decimal,
    vol: Decimal | None = None,
    pack_price: Decimal = Decimal(0),
    reorder_at: Decimal = Decimal(0),
    packs: Decimal = Decimal(0),
) -> Supply:
    """Put something on the shelf, with so many packs of it. Raises Refusal supply_taken, supply_vol, out_of_range."""
    if (kind == Supply.Kind.DEVELOPER) is not (vol is not None):
        raise Refusal("supply_vol", "vol")
    within(pack, "pack", 1, AMOUNT_MOST)
    try:
        with transaction.atomic():
            supply = Supply.objects.create(
                studio_id=person.studio_id,
                kind=kind,
                name=name,
                unit=unit,
                vol=vol,
                pack=pack,
                pack_price=pack_price,
                reorder_at=reorder_at,
            )
    except IntegrityError:
        raise Refusal("supply_taken", "name", said=name) from None
    if packs:
        _move(person, supply, SupplyMove.Kind.DELIVERED, packs * pack, paid=pack_price or None)
    return supply


@transaction.atomic
def deliver(person: Person, *, supply_id: int, packs: Decimal, paid: Decimal | None = None) -> SupplyMove:
    """Book packs in. paid: what one cost, which is its price from now on. Raises Refusal out_of_range; DoesNotExist."""
    supply = _held(person, supply_id)
    within(packs, "amount", 0.1, 1000)
    if paid is not None:
        supply.pack_price = paid
    return _move(person, supply, SupplyMove.Kind.DELIVERED, packs * supply.pack, paid=paid)


@transaction.atomic
def count(person: Person, *, supply_id: int, there: Decimal) -> SupplyMove:
    """Say what is there; the move is how far the record was off. Raises Refusal out_of_range; Supply.DoesNotExist."""
    supply = _held(person, supply_id)
    within(there, "amount", 0, AMOUNT_MOST)
    return _move(person, supply, SupplyMove.Kind.COUNTED, there - supply.stock)


@transaction.atomic
def use(person: Person, *, supply_id: int, amount: Decimal) -> SupplyMove:
    """Say that some of it was used. Raises Refusal supply_more_than_left; Supply.DoesNotExist."""
    supply = _held(person, supply_id)
    if not 0 < amount <= supply.stock:
        raise Refusal("supply_more_than_left", "amount", left=decimals(f"{float(supply.stock):g} {supply.unit}"))
    return _move(person, supply, SupplyMove.Kind.USED, -amount)


@transaction.atomic
def set_off(person: Person, *, supply_id: int, off: bool) -> Supply:
    """Take it off the shelf, or put it on again; what was noted of it stays. Raises Supply.DoesNotExist."""
    supply = _held(person, supply_id)
    supply.off_shelf = off
    supply.save(update_fields=["off_shelf"])
    return supply


def use_developer(person: Person, *, vol: Decimal, grams: Decimal) -> None:
    """Take developer that was poured off the shelf, where there is one of that strength.

    A record that holds less than was poured goes to nothing: it was wrong, and the move says how much was poured.
    """
    supply = developer_of(person.studio_id, vol, locked=True)
    if supply is not None and grams > 0:
        _move(person, supply, SupplyMove.Kind.USED, -round(grams, 1))


def developer_of(studio_id: int, vol: Decimal, *, locked: bool = False) -> Supply | None:
    """The studio's developer of a strength; of two the one that there is more of. One query."""
    found = Supply.objects.filter(studio=studio_id, kind=Supply.Kind.DEVELOPER, vol=vol, off_shelf=False)
    found = found.order_by("-stock", "pk")
    return (found.select_for_update() if locked else found).first()


def developer_cost(studio_id: int, vol: Decimal, grams: Decimal) -> Decimal:
    """What so much developer of a strength costs by its pack; nothing where there is none on the shelf. One query."""
    supply = developer_of(studio_id, vol) if grams > 0 else None
    return supply.pack_price / supply.pack * grams if supply else Decimal(0)


def _held(person: Person, supply_id: int) -> Supply:
    return Supply.objects.visible_to(person).select_for_update().get(pk=supply_id)


def _move(
    person: Person, supply: Supply, kind: SupplyMove.Kind, amount: Decimal, *, paid: Decimal | None = None
) -> SupplyMove:
    left = max(round(supply.stock + amount, 1), Decimal(0))
    if left > AMOUNT_MOST:
        raise Refusal("out_of_range", "amount", low=0, high=AMOUNT_MOST, given=left, unit="")
    supply.stock = left
    supply.save(update_fields=["stock", "pack_price"])
    return SupplyMove.objects.create(supply=supply, kind=kind, amount=amount, left=left, paid=paid, made_by=person)
