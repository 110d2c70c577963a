"""What comes to the shelf and goes from it: every change of a stock leaves a move, with who and when."""

import datetime
from collections.abc import Mapping
from decimal import Decimal
from typing import Final

from django.db import transaction

from engine.errors import BadInput
from engine.service.stocktaking import counted_g
from studio.accounts.models import Person
from studio.shelf.models import Shade, StockMove
from studio.shelf.services.holding import held_shade, held_shades, line_changed
from studio.ui.days import day_words
from studio.ui.numbers import within
from studio.ui.refusal import Refusal

TUBES_MOST: Final = 200
STOCK_MOST_G: Final = 99_999
PRICE_MOST: Final = 10_000


@transaction.atomic
def deliver(
    person: Person,
    *,
    shade_id: int,
    tubes: Decimal,
    today: datetime.date,
    lot: str = "",
    expires_on: datetime.date | None = None,
    paid: Decimal | None = None,
) -> StockMove:
    """Book tubes of a shade in. paid: what one cost, which is its price from now on.

    Raises Refusal out_of_range, stock_too_much, expired_already; Shade.DoesNotExist.
    """
    within(tubes, "tubes", 0.1, TUBES_MOST)
    if paid is not None:
        within(paid, "paid", 0, PRICE_MOST)
    if expires_on is not None and expires_on < today:
        raise Refusal("expired_already", "expires_on", day=day_words(expires_on))
    shade = held_shade(person, shade_id)
    grams = round(tubes * shade.line.tube_g, 1)
    if paid is not None:
        shade.tube_price = paid
    shade.off_shelf = False
    return _move(person, shade, StockMove.Kind.DELIVERED, grams, lot=lot.strip(), expires_on=expires_on, paid=paid)


@transaction.atomic
def count(person: Person, *, shade_id: int, full_tubes: Decimal, open_g: Decimal, with_tube: bool = False) -> StockMove:
    """Say what is there: full tubes, and what is in the open one, weighed with its tube or without.

    The move's grams are how far the record was off. Raises Refusal out_of_range, lighter_than_tube, stock_too_much;
    Shade.DoesNotExist.
    """
    within(full_tubes, "full_tubes", 0, TUBES_MOST)
    within(open_g, "open_g", 0, STOCK_MOST_G, " g")
    shade = held_shade(person, shade_id)
    empty = shade.line.empty_tube_g if with_tube else Decimal(0)
    try:
        there = counted_g(
            full_tubes=float(full_tubes), tube_g=float(shade.line.tube_g), open_g=float(open_g), empty_g=float(empty)
        )
    except BadInput:
        raise Refusal("lighter_than_tube", "open_g", empty=empty, given=open_g) from None
    return _move(person, shade, StockMove.Kind.COUNTED, round(Decimal(there), 1) - shade.stock_g)


@transaction.atomic
def spill(person: Person, *, shade_id: int, grams: Decimal) -> StockMove:
    """Say that some of a shade is gone and was never in a bowl. Raises Refusal more_than_left; Shade.DoesNotExist."""
    shade = held_shade(person, shade_id)
    if not 0 < grams <= shade.stock_g:
        raise Refusal("more_than_left", "spilt_g", left=shade.stock_g)
    return _move(person, shade, StockMove.Kind.SPILT, -grams)


def take_away(person: Person, shade: Shade) -> StockMove:
    """Say that nothing is there of a tube that is held, since it leaves the shelf."""
    return _move(person, shade, StockMove.Kind.COUNTED, -shade.stock_g)


def use(person: Person, grams: Mapping[int, Decimal], lots: Mapping[int, str]) -> list[StockMove]:
    """Take what was mixed off the shelf, by shade id; lots: the numbers on their tubes, where they were noted.

    A record that holds less than was mixed goes to nothing: it was wrong, and the move says how much was mixed.
    """
    moves = []
    for shade in held_shades(person, grams):
        used = round(grams[shade.pk], 1)
        if used > 0:
            moves.append(_move(person, shade, StockMove.Kind.MIXED, -used, lot=lots.get(shade.pk, "")))
    return moves


def _move(person: Person, shade: Shade, kind: StockMove.Kind, grams: Decimal, **facts: object) -> StockMove:
    left = max(shade.stock_g + grams, Decimal(0))
    if left > STOCK_MOST_G:
        raise Refusal("stock_too_much", "tubes", most=STOCK_MOST_G)
    shade.stock_g = left
    shade.save(update_fields=["stock_g", "tube_price", "off_shelf"])
    line_changed(shade.line_id)
    return StockMove.objects.create(shade=shade, kind=kind, grams=grams, left_g=left, made_by=person, **facts)
