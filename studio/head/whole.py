"""The whole head: how every zone looked when it was read, and how it will look once every coat is on it."""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from enum import Enum
from functools import lru_cache
from typing import Final

from engine.arrays import FloatArray
from engine.bowl.across import zone_labs
from engine.bowl.fade import faded_canvas
from engine.bowl.mix import Bowl, Process
from engine.bowl.spread import spread
from engine.colorimetry.lights import Light, viewing
from engine.colorimetry.screen import adapt_to_screen
from engine.hair.canvas import RANGES, Canvas
from engine.language import later
from studio.head.engine_adapter import lifted_by
from studio.head.selectors import Bench, ZoneBench
from studio.head.sight import Sight
from studio.visits.engine_adapter import canvas_of
from studio.visits.head import HeadColours, HeadView, head_views
from studio.visits.models import Zone

TITLES = (later("Before"), later("After every coat"))


@dataclass(frozen=True, kw_only=True, eq=False)
class WholeHead:
    """Colours L*a*b* (3,) by zone, for an eye at home on the screen's white, and how wide the seam after each is."""

    zones: tuple[Zone, ...]
    before: Mapping[int, FloatArray]
    after: Mapping[int, FloatArray]
    blends: Mapping[int, float]

    def drawn(self, in_hand: Zone, *, taps: bool = False) -> tuple[tuple[str, tuple[HeadView, ...]], ...]:
        """The head from four sides, before and after, each with its title. taps: whether parts lead to zones."""
        return tuple(
            (
                str(title),
                head_views(
                    self.zones,
                    in_hand,
                    HeadColours(zones=labs, between=self.before),
                    blends=self.blends,
                    adds=False,
                    taps=taps,
                ),
            )
            for title, labs in zip(TITLES, (self.before, self.after), strict=True)
        )


class End(Enum):
    """Where in its range a result may come out."""

    LIKELY = "likely"
    DEEPER = "deeper"
    LIGHTER = "lighter"


LEVELS: Final = RANGES["level"]
# By so many levels one lift in ten stops sooner, or later: read by eye, see `engine.hair.source`.
LEVELS_OFF: Final = {End.LIKELY: 0.0, End.DEEPER: -0.45, End.LIGHTER: 0.45}


def whole_head(bench: Bench, sight: Sight = Sight(), end: End = End.LIKELY) -> WholeHead:  # noqa: B008 - frozen
    """The head as it was read before any coat, and as it is forecast after the last, in a light and after washes.

    end: as it is likeliest, or where one in ten comes out deeper, or lighter, still.
    """
    before, after = {}, {}
    for zone in bench.zones:
        own = [each for each in bench.coats if each.zone.pk == zone.zone.pk]
        pk, hair = zone.zone.pk, canvas_of(own[0].reading)
        before[pk] = _seen(hair, None, own[0].process, sight.light)
        after[pk] = before[pk] if zone.zone.left_alone else _finish(own[-1], sight, end)
    return WholeHead(
        zones=tuple(each.zone for each in bench.zones),
        before=before,
        after=after,
        blends={each.zone.pk: each.coat.blend_percent / 100 for each in bench.zones},
    )


def _finish(coat: ZoneBench, sight: Sight, end: End) -> FloatArray:
    canvas = canvas_of(coat.reading)
    if (lifted := lifted_by(coat, canvas)) is not None:
        to = min(max(lifted.level + LEVELS_OFF[end], LEVELS[0]), LEVELS[1])
        return _seen(replace(lifted, level=to), None, coat.process, sight.light)
    if coat.mix and end is not End.LIKELY:
        return _end(canvas, coat.mix, coat.process, sight.light, sight.washes, end)
    if coat.mix and sight.washes:
        worn = faded_canvas(canvas, coat.mix, sight.washes, process=coat.process)
        return _seen(worn, None, coat.process, sight.light)
    return _seen(canvas, coat.mix, coat.process, sight.light)


@lru_cache(maxsize=256)
def _end(canvas: Canvas, bowl: Bowl, process: Process, light: Light, washes: int, end: End) -> FloatArray:
    around = spread(canvas, bowl, process=process, light=light, washes=washes)
    return adapt_to_screen(around.ends[0 if end is End.DEEPER else 1], viewing(light).white_xyz)


@lru_cache(maxsize=512)
def _seen(canvas: Canvas, bowl: Bowl | None, process: Process, light: Light) -> FloatArray:
    lab = zone_labs([(canvas, bowl)], process=process, lights=(light,))[0, 0]
    return adapt_to_screen(lab, viewing(light).white_xyz)
