"""The head as a card's last visit left it, drawn from its formulas."""

from collections.abc import Sequence

import numpy as np

from engine.language import later
from studio.cards.models import Formula
from studio.cards.selectors import KeptFormula
from studio.visits.engine_adapter import bare_lab, canvas_of
from studio.visits.head import HeadColours, HeadView, head_views
from studio.visits.models import Zone

TITLES = (later("Before"), later("As it was left"))


def last_head(formulas: Sequence[KeptFormula]) -> tuple[tuple[str, tuple[HeadView, ...]], ...]:
    """Before and after the newest visit on a card, its formulas newest first; nothing for an empty card.

    After: as it turned out where that was judged, else as it was forecast.
    """
    if not formulas:
        return ()
    newest = formulas[0].formula
    last = [each for each in formulas if (each.formula.visit_id, each.formula.saved_at) == _kept_at(newest)]
    by_zone: dict[str, list[KeptFormula]] = {}
    for each in sorted(last, key=lambda kept: (kept.formula.zone_position, kept.formula.coat_number)):
        by_zone.setdefault(str(each.formula.zone_name), []).append(each)
    zones = [_zone(at, coats[0].formula) for at, coats in enumerate(by_zone.values(), start=1)]
    before, after = {}, {}
    for zone, coats in zip(zones, by_zone.values(), strict=True):
        before[zone.pk] = bare_lab(canvas_of(coats[0].formula))
        seen = coats[-1].result_lock or coats[-1].lock
        after[zone.pk] = np.asarray(seen.lab)
    blends = {
        zone.pk: coats[0].formula.blend_percent / 100 for zone, coats in zip(zones, by_zone.values(), strict=True)
    }
    return tuple(
        (str(title), head_views(zones, zones[0], HeadColours(zones=labs, between=before), blends=blends, taps=False))
        for title, labs in zip(TITLES, (before, after), strict=True)
    )


def _kept_at(formula: Formula) -> tuple[int, object]:
    return formula.visit_id, formula.saved_at


def _zone(at: int, formula: Formula) -> Zone:
    """The zone that a formula remembers; never saved."""
    return Zone(
        pk=at,
        visit=formula.visit,
        name=formula.zone_name,
        part=formula.zone_part,
        position=formula.zone_position,
        pattern=formula.pattern,
        strand_share=formula.strand_share,
        from_cm=formula.from_cm,
        to_cm=formula.to_cm,
    )
