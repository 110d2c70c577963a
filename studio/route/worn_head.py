"""A head as a wish would be worn on it: drawn from four sides, and on the photo of it."""

from typing import Final

import numpy as np

from engine.arrays import FloatArray
from engine.service.wear import Wearing
from studio.accounts.models import Person
from studio.head.selectors import Bench
from studio.head.whole import whole_head
from studio.portrait.models import HAIR
from studio.portrait.picture import Seen
from studio.portrait.selectors import portrait_of
from studio.visits.engine_adapter import bare_lab, canvas_of
from studio.visits.head import HeadColours, HeadView, head_views
from studio.visits.lies import consult_of
from studio.visits.models import Zone

SEAM: Final = 0.15  # how wide the seam between root and lengths is, of the length
PICTURE_WIDE: Final = 720


def drawn(bench: Bench, shown: Wearing) -> tuple[HeadView, ...]:
    """The head from four sides."""
    rows = _rows(bench, shown)
    zones, labs = [zone for zone, _ in rows], {zone.pk: lab for zone, lab in rows}
    colours = HeadColours(zones=labs, between={})
    return head_views(zones, zones[0], colours, blends=dict.fromkeys(labs, SEAM), taps=False)


def photographed(person: Person, bench: Bench, shown: Wearing) -> Seen | None:
    """The wish on the photo of the head; None where there is none with hair found on it. At most one query.

    What gets nothing stays as it was photographed, zone by zone as they were read.
    """
    portrait = portrait_of(person, bench.visit.pk)
    if portrait is None or not portrait.drawn(HAIR):
        return None
    rows, bare = _rows(bench, shown), bare_lab(canvas_of(bench.reading))
    read = whole_head(bench).before
    by_part = {each.zone.part: read[each.zone.pk] for each in bench.zones}
    before = [by_part.get(zone.part, bare) for zone, _ in rows]
    return Seen(
        portrait=portrait,
        zones=tuple(zone for zone, _ in rows),
        blends=tuple(SEAM for _ in rows),
        consult=consult_of(bench.visit),
        before=tuple(before),
        after=tuple(was if np.allclose(lab, bare) else lab for (_, lab), was in zip(rows, before, strict=True)),
        width=PICTURE_WIDE,
    )


def _rows(bench: Bench, shown: Wearing) -> list[tuple[Zone, FloatArray]]:
    """A head with root, lengths and, where one lies over them, a veil; their rows are of no visit."""
    visit, bare = bench.visit, bare_lab(canvas_of(bench.reading))
    below = Zone.Part.ENDS if shown.worn.ends_only else Zone.Part.MIDS
    rows = [
        (Zone(pk=-1, visit=visit, name="roots", part=Zone.Part.ROOTS), shown.root_lab),
        (Zone(pk=-2, visit=visit, name="lengths", part=below), shown.lengths_lab),
    ]
    if shown.worn.ends_only:
        rows.insert(1, (Zone(pk=-3, visit=visit, name="mids", part=Zone.Part.MIDS), bare))
    if shown.worn.beneath:
        veil = Zone(pk=-4, visit=visit, name="veil", pattern=Zone.Pattern.VEIL)
        rows = [(veil, bare), (Zone(pk=-5, visit=visit, name="beneath"), shown.lengths_lab)]
    return rows
