"""The whole head: how every zone looked when it was read, and how it will look once every coat is on it."""

from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache

from engine.arrays import FloatArray
from engine.bowl.across import zone_labs
from engine.bowl.fade import faded_canvas
from engine.bowl.mix import Bowl, Process
from engine.colorimetry.lights import Light, viewing
from engine.colorimetry.screen import adapt_to_screen
from engine.hair.canvas import Canvas
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

    def drawn(self, in_hand: Zone) -> tuple[tuple[str, tuple[HeadView, ...]], ...]:
        """The head from four sides, before and after, each with its title."""
        return tuple(
            (
                str(title),
                head_views(
                    self.zones,
                    in_hand,
                    HeadColours(zones=labs, between=self.before),
                    blends=self.blends,
                    taps=False,
                ),
            )
            for title, labs in zip(TITLES, (self.before, self.after), strict=True)
        )


def whole_head(bench: Bench, sight: Sight = Sight()) -> WholeHead:  # noqa: B008 - frozen
    """The head as it was read before any coat, and as it is forecast after the last, in a light and after washes."""
    before, after = {}, {}
    for zone in bench.zones:
        own = [each for each in bench.coats if each.zone.pk == zone.zone.pk]
        pk, hair = zone.zone.pk, canvas_of(own[0].reading)
        before[pk] = _seen(hair, None, own[0].process, sight.light)
        after[pk] = before[pk] if zone.zone.left_alone else _finish(own[-1], sight)
    return WholeHead(
        zones=tuple(each.zone for each in bench.zones),
        before=before,
        after=after,
        blends={each.zone.pk: each.coat.blend_percent / 100 for each in bench.zones},
    )


def _finish(coat: ZoneBench, sight: Sight) -> FloatArray:
    canvas = canvas_of(coat.reading)
    if (lifted := lifted_by(coat, canvas)) is not None:
        return _seen(lifted, None, coat.process, sight.light)
    if coat.mix and sight.washes:
        return _seen(
            faded_canvas(canvas, coat.mix, sight.washes, process=coat.process), None, coat.process, sight.light
        )
    return _seen(canvas, coat.mix, coat.process, sight.light)


@lru_cache(maxsize=512)
def _seen(canvas: Canvas, bowl: Bowl | None, process: Process, light: Light) -> FloatArray:
    lab = zone_labs([(canvas, bowl)], process=process, lights=(light,))[0, 0]
    return adapt_to_screen(lab, viewing(light).white_xyz)
