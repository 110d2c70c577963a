"""The rail: every shade of a line at three dilutions on the hair in hand."""

from studio.head.selectors import ZoneBench
from studio.shelf.ladders import Ladder, ladders_of
from studio.visits.engine_adapter import canvas_of


def rail_of(bench: ZoneBench) -> dict[int, Ladder]:
    """For each shade of the line by row id: shadow, body and shine at three dilutions on this hair."""
    shades = tuple(bench.stocked.dyes.values())
    return dict(zip(bench.stocked.dyes, ladders_of(canvas_of(bench.reading), shades), strict=True))
