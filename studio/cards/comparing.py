"""Two formulas side by side: hair, grams, minutes, forecasts and results, and how the colours differ."""

from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal

from django.db.models import Q

from engine.colorimetry.difference import delta_e00
from engine.language import decimals, say
from engine.service.judge import against_forecast
from studio.accounts.models import Person
from studio.cards.selectors import KeptFormula, kept_formulas
from studio.ui.locks import Lock, bare_lock
from studio.ui.numbers import brief_weight, shown_weight
from studio.visits.engine_adapter import canvas_of


@dataclass(frozen=True, kw_only=True)
class CompareRow:
    """One thing in both, and whether it differs."""

    name: str
    first: str
    second: str

    @property
    def differs(self) -> bool:
        """Whether the two are not alike."""
        return self.first != self.second


@dataclass(frozen=True, kw_only=True, eq=False)
class ComparePage:
    """Two formulas, the older first, as the template takes them."""

    first: KeptFormula
    second: KeptFormula
    hairs: tuple[Lock, Lock]
    rows: tuple[CompareRow, ...]
    words: str
    off: str


def compare_page(person: Person, formula_ids: Sequence[int]) -> ComparePage | None:
    """Two formulas of the studio compared; None unless there are two. Four queries."""
    kept = sorted(kept_formulas(person, Q(pk__in=formula_ids)), key=lambda each: each.formula.saved_at)
    if len(kept) != 2:
        return None
    first, second = kept
    labs = [(each.result_lock or each.lock).lab for each in kept]
    return ComparePage(
        first=first,
        second=second,
        hairs=(bare_lock(canvas_of(first.formula)), bare_lock(canvas_of(second.formula))),
        rows=tuple(_rows(first, second)),
        words=against_forecast(labs[0], labs[1], alike="alike"),
        off=decimals(f"{float(delta_e00(labs[0], labs[1])):.1f}"),
    )


def _rows(first: KeptFormula, second: KeptFormula) -> list[CompareRow]:
    both = (first, second)
    names = dict.fromkeys(pour.shade_name for each in both for pour in each.pours)
    rows = [_row(say("Line"), *(str(each.formula.line) for each in both))]
    rows += [_row(name, *(_grams(each, name) for each in both)) for name in names]
    rows += [
        _row(say("In all"), *(shown_weight(sum((pour.grams for pour in each.pours), Decimal(0))) for each in both)),
        _row(say("Developer"), *(brief_weight(each.formula.developer_g) for each in both)),
        _row(say("Level"), *(decimals(f"{float(each.formula.level):g}") for each in both)),
        _row(say("Warmth"), *(decimals(f"{float(each.formula.warmth):g}") for each in both)),
        _row(say("Porosity"), *(decimals(f"{float(each.formula.porosity):g}") for each in both)),
        _row(say("Minutes"), *(_minutes(each) for each in both)),
        _row(say("Turned out"), *(each.turned_out or say("not judged") for each in both)),
    ]
    return rows


def _row(name: str, first: str, second: str) -> CompareRow:
    return CompareRow(name=name, first=first, second=second)


def _grams(kept: KeptFormula, name: str) -> str:
    return next((shown_weight(pour.grams) for pour in kept.pours if pour.shade_name == name), say("none"))


def _minutes(kept: KeptFormula) -> str:
    minutes = kept.formula.process_min
    return say("full time") if minutes is None else f"{minutes:.0f}"
