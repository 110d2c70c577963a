"""The shades on the rail and what is in the bowl: layers to scale, parts, cost and other measures."""

from dataclasses import dataclass
from decimal import Decimal
from typing import Final, NamedTuple

from engine.language import decimals, say
from engine.service.measures import Unit, shown_amount
from engine.weights import measure_of
from studio.head.rail import rail_of
from studio.head.selectors import Bench
from studio.head.stock import stock_of
from studio.shelf.ladders import Ladder
from studio.shelf.models import Shade
from studio.ui.numbers import brief_weight, shown_grams, shown_weight

LABEL_FITS: Final = 12  # percent of the bowl's width that a layer needs to carry its grams, and its name too
NAME_FITS: Final = 20
WHOLE_GRAMS_FROM: Final = 100  # of stock: nobody asks after the tenths of more


class RailRow(NamedTuple):
    """One shade on the rail, with its ladder of dilutions and what is poured of it: all that is drawn of it.

    grams, weight: what is in the bowl, as a number for its field and with its unit. is_out: there is none of it, in the
    tube or in the bowl.
    """

    pk: int
    name: str
    code: str
    key: str
    favourite: bool
    is_guessed: bool
    ladder: Ladder
    grams: str
    weight: str
    stock: str
    is_out: bool
    chosen: bool


@dataclass(frozen=True, kw_only=True)
class Layer:
    """One layer of the bowl, to scale, in percent of the whole width."""

    shade: Shade
    grams: str
    doubt: str
    start: str
    width: str
    hex: str
    dark: bool
    labelled: bool
    named: bool


def _doubt(doubt_g: Decimal) -> str:
    """How far a weight may be off, with as many places as it needs to be told; nothing when it was weighed."""
    if not doubt_g:
        return ""
    return shown_grams(round(doubt_g, 1 if doubt_g >= Decimal("0.1") else 2))


def rail_rows_of(bench: Bench, chosen: str) -> list[RailRow]:
    """The shades of the line. chosen: the row id of the shade in hand, else the first poured one."""
    ladders = rail_of(bench)
    known = {str(shade.pk) for shade in bench.stocked.shades}
    first = str(next(iter(bench.pours), bench.stocked.shades[0].pk))
    chosen = chosen if chosen in known else first
    return [
        RailRow(
            pk=shade.pk,
            name=shade.name,
            code=shade.code,
            key=shade.keyboard_key,
            favourite=shade.favourite,
            is_guessed=shade.is_guessed,
            ladder=ladders[shade.pk],
            grams=shown_grams(bench.pours[shade.pk].grams) if shade.pk in bench.pours else "",
            weight=shown_weight(bench.pours[shade.pk].grams) if shade.pk in bench.pours else "",
            stock=brief_weight(round(shade.stock_g) if shade.stock_g >= WHOLE_GRAMS_FROM else shade.stock_g),
            is_out=not shade.stock_g and shade.pk not in bench.pours,
            chosen=str(shade.pk) == chosen,
        )
        for shade in bench.stocked.shades
        if not shade.off_shelf or shade.pk in bench.pours
    ]


def layers_of(bench: Bench) -> list[Layer]:
    """The poured layers across whichever is more, the bowl or what is wanted."""
    ladders = rail_of(bench)
    whole = float(max(bench.total_g, bench.bowl.wanted_g))
    layers: list[Layer] = []
    start = 0.0
    for shade, grams in bench.poured:
        width = 100 * float(grams) / whole
        body = ladders[shade.pk][0][1]
        is_clear = bench.stocked.dyes[shade.pk].is_clear
        layers.append(
            Layer(
                shade=shade,
                grams=shown_weight(grams),
                doubt=_doubt(bench.pours[shade.pk].doubt_g),
                start=f"{start:.3f}",
                width=f"{width:.3f}",
                hex="#ffffff" if is_clear else body,
                dark=not is_clear and int(body[1:3], 16) * 2 + int(body[3:5], 16) * 5 + int(body[5:7], 16) < 1100,
                labelled=width > LABEL_FITS,
                named=width > NAME_FITS,
            )
        )
        start += width
    return layers


def parts_of(bench: Bench) -> str:
    """The bowl as parts: one of colour to so many of its carrier, by name unless it is clear; nothing of lightener."""
    if bench.coat.lifts:
        return ""
    carriers = [(shade, grams) for shade, grams in bench.poured if bench.stocked.dyes[shade.pk].is_clear]
    carried = float(sum(grams for _, grams in carriers))
    colour = float(bench.total_g) - carried
    named = {"" if shade.thins == 1 else shade.name for shade, _ in carriers}
    name = named.pop() if len(named) == 1 else say("carriers")
    if not carried:
        return say("no clear") if colour else ""
    if not colour:
        return say("{name} only", name=name) if name else say("clear only")
    parts = decimals(f"{carried / colour:.1f}".removesuffix(".0"))
    return say("1 : {parts} {name}", parts=parts, name=name) if name else say("1 : {parts} clear", parts=parts)


def cost_of(bench: Bench) -> str:
    """What the bowl costs; empty without prices."""
    bowl = bench.mix
    cost = stock_of(bench.stocked, limited=False).cost(bowl.grams) if bowl else 0.0
    return decimals(f"{cost:.2f}") if cost else ""


def measures_of(bench: Bench) -> str:
    """The bowl in the units that the house does not measure in; empty while nothing is in it.

    Powder has no millilitres of its own.
    """
    total, tube_g = float(bench.total_g), float(bench.stocked.line.tube_g)
    if not total:
        return ""
    other = (Unit.GRAM, Unit.OUNCE, *(() if bench.coat.lifts else (Unit.MILLILITRE,)), Unit.TUBE)
    return " · ".join(shown_amount(total, unit, tube_g=tube_g) for unit in other if unit.value != measure_of().value)
