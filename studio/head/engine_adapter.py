"""From the bench's rows to the engine and back to what the page shows."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Final

import numpy as np

from engine.arrays import FloatArray
from engine.bowl.across import Parting, partings, zone_labs
from engine.bowl.correct import Correction, corrections
from engine.bowl.fade import fade, faded_canvas
from engine.bowl.goal import ZoneAim
from engine.bowl.mix import Bowl, Process, added_absorption, lifted_under
from engine.bowl.past import OverTone
from engine.bowl.pot import room_for_more_g
from engine.bowl.predict import Aim, Forecast, predict, predict_zones
from engine.bowl.spread import Doubt, Spread, spread
from engine.bowl.steer import Steering, steer
from engine.bowl.taught import beside
from engine.bowl.weigh import Scale
from engine.bowl.why import reason_words, reasons_of
from engine.colorimetry.lights import Light
from engine.dye.shade import Shade
from engine.hair.canvas import Canvas, fibres_of, lightened
from engine.hair.tress import NOTHING_OFF, Stretch
from engine.language import kept_by_language
from engine.service.house import Carrier
from engine.weights import handy_g
from studio.head.models import Coat
from studio.head.selectors import Bench, ZoneBench
from studio.head.sight import Sight
from studio.head.state import BowlState
from studio.shelf.models import Shade as RowShade
from studio.ui.locks import Lock, aim_tress_lock, tress_lock
from studio.visits.engine_adapter import bare_lab, canvas_of

SCALE_STEP_G: Final = 0.1
LEAST_POUR_G: Final = 0.3  # less of a shade than this no bench scale tells from its neighbours; chosen by the founders
SPREAD_SAMPLES: Final = 96
# Shares of the hair's length: roots are short, lengths are not. Chosen by the founders.
LENGTHS: Final = {"roots": 1.0, "mids": 2.0, "ends": 2.0, "whole": 3.0}


@dataclass(frozen=True, kw_only=True, eq=False)
class ZoneSeen:
    """One zone as forecast after the washes that the bench is looked at with; its numbers are those of daylight.

    lifted: the hair as its coat of lightener is to leave it, if that is what it has.
    """

    bench: ZoneBench
    canvas: Canvas
    bowl: Bowl | None
    forecast: Forecast
    lifted: Canvas | None = None

    @property
    def bare_lab(self) -> FloatArray:
        """The hair without the bowl, L*a*b* (3,)."""
        return bare_lab(self.canvas)


@dataclass(frozen=True, kw_only=True, eq=False)
class BenchForecast:
    """The engine's view of the bench: each zone, the one in hand, and tresses now, then, and as aimed at."""

    zones: tuple[ZoneSeen, ...]
    hand: ZoneSeen
    now: Lock
    then: Lock
    aim: Lock | None

    @property
    def forecast(self) -> Forecast:
        """The forecast of the zone in hand."""
        return self.hand.forecast


def forecast_of(bench: Bench, sight: Sight = Sight()) -> BenchForecast:  # noqa: B008 - frozen
    """Forecast every zone, dry, at full time, as the sight asks for it."""
    zones = _zones_seen(bench, sight)
    hand = next(each for each in zones if each.bench.zone.pk == bench.zone.pk)
    ids = {each.zone.pk for each in bench.lengthwise}
    along = [each for each in zones if each.bench.zone.pk in ids]
    target_labs = [each.bench.target_lab for each in along]
    aims = [None if lab is None else tuple(lab.tolist()) for lab in target_labs]
    return BenchForecast(
        zones=zones,
        hand=hand,
        now=_bare_tress(
            tuple((each.canvas, length_of(each), each.bench.coat.blend_percent / 100) for each in along),
            sight.light,
            _at(hand, along),
        ),
        then=tress_lock([_stretch(each, each.bowl, sight) for each in along], sight.light, words_of=_at(hand, along)),
        aim=aim_tress_lock(
            tuple(
                (aim, length_of(each), each.bench.coat.blend_percent / 100)
                for aim, each in zip(aims, along, strict=True)
            ),
            words_of=_at(hand, along),
        )
        if bench.target_lab is not None
        else None,
    )


def aim_now(bench: Bench) -> Aim | None:
    """How far the zone in hand is from its aim on the first day, if it has one."""
    zones = _zones_seen(bench, Sight())
    return next(each.forecast.aim for each in zones if each.bench.zone.pk == bench.zone.pk)


@kept_by_language(maxsize=256)
def _bare_tress(zones: tuple[tuple[Canvas, float, float], ...], light: Light, words_of: int) -> Lock:
    """Bare hair from root to end, which no pour changes."""
    stretches = []
    for canvas, length, blend in zones:
        fibres = fibres_of(canvas)
        stretches.append(Stretch(fibres=fibres, added=0 * fibres.absorption[0], length=length, blend=blend))
    return tress_lock(stretches, light, words_of=words_of)


def _at(hand: ZoneSeen, along: Sequence[ZoneSeen]) -> int:
    """Where the zone in hand stands along the hair."""
    return next(index for index, each in enumerate(along) if each is hand)


def _zones_seen(bench: Bench, sight: Sight) -> tuple[ZoneSeen, ...]:
    """All zones; those that one bowl serves are forecast together."""
    canvases = {each.zone.pk: canvas_of(each.reading) for each in bench.zones}
    seen: dict[int, ZoneSeen] = {}
    for key in dict.fromkeys(_alike(each) for each in bench.zones):
        served = [each for each in bench.zones if _alike(each) == key]
        hair, bowl = [canvases[each.zone.pk] for each in served], served[0].mix
        process = served[0].process
        lifted = [lifted_by(each, canvas) for each, canvas in zip(served, hair, strict=True)]
        worn = (
            [faded_canvas(canvas, bowl, sight.washes, process=process) for canvas in hair]
            if bowl and sight.washes
            else [after or canvas for after, canvas in zip(lifted, hair, strict=True)]
        )
        targets = tuple(None if each.target_lab is None else tuple(each.target_lab.tolist()) for each in served)
        forecasts = _forecasts_once(tuple(worn), None if sight.washes else bowl, targets, process)
        for each, canvas, forecast, after in zip(served, hair, forecasts, lifted, strict=True):
            seen[each.zone.pk] = ZoneSeen(bench=each, canvas=canvas, bowl=bowl, forecast=forecast, lifted=after)
    return tuple(seen[each.zone.pk] for each in bench.zones)


def _alike(coat: ZoneBench) -> tuple[int, bool]:
    """What zones that are forecast together have in common: their bowl, and whether they get it."""
    return coat.bowl.pk, coat.zone.left_alone


@kept_by_language(maxsize=256)
def _forecasts_once(
    hair: tuple[Canvas, ...], bowl: Bowl | None, targets: tuple[tuple[float, ...] | None, ...], process: Process
) -> list[Forecast]:
    """Forecasts of one bowl on the zones that it serves; a pour changes those of its own bowl only."""
    targets_lab = [None if target is None else np.array(target) for target in targets]
    return predict_zones(hair, bowl, process=process, targets_lab=targets_lab)


def lifted_by(coat: ZoneBench, canvas: Canvas) -> Canvas | None:
    """The hair as a coat of lightener is to leave it; None for any other coat."""
    if coat.coat.to_level is None:
        return None
    to_level = float(coat.coat.to_level)
    return lightened(canvas, to_level) if to_level > canvas.level else canvas


def finish_lab(coat: ZoneBench) -> FloatArray:
    """How the hair looks after a coat, L*a*b* (3,), at full time on dry hair."""
    canvas = canvas_of(coat.reading)
    lifted = lifted_by(coat, canvas)
    return bare_lab(lifted) if lifted else _forecasts_once((canvas,), coat.mix, (None,), coat.process)[0].lab


def length_of(seen: ZoneSeen) -> float:
    """A zone's share of the hair's length, against the other zones'."""
    return LENGTHS.get(seen.bench.zone.part, 1.0)


def _stretch(seen: ZoneSeen, bowl: Bowl | None, sight: Sight = Sight()) -> Stretch:  # noqa: B008 - frozen
    """A zone's part of the tress: bare, or with its bowl as it is after the washes."""
    canvas, process = seen.lifted or seen.canvas, seen.bench.process
    if bowl and sight.washes:
        canvas, bowl = faded_canvas(canvas, bowl, sight.washes, process=process), None
    if bowl:
        canvas = lifted_under(canvas, bowl, process)
    return _dyed(canvas, bowl, process, sight.light, length=length_of(seen), blend=seen.bench.coat.blend_percent / 100)


def _dyed(canvas: Canvas, bowl: Bowl | None, process: Process, light: Light, **seam: float) -> Stretch:
    """A stretch of hair that developers have been on, drawn as the studio forecasts it."""
    fibres = fibres_of(canvas)
    added = added_absorption(bowl, canvas.porosity, process) if bowl else 0 * fibres.absorption[0]
    off = beside(canvas, bowl, process, light) if bowl else NOTHING_OFF
    return Stretch(fibres=fibres, added=added, off=off, **seam)


def aims_of(bench: Bench) -> list[ZoneAim]:
    """The zones that the bowl in hand serves and that have an aim, each with its own; empty before there is an aim.

    Steered for on it, or slightly past it, as the house does: see `over_tone_of`.
    """
    if bench.target_lab is None:
        return []
    return [aim for each in bench.aimed if (aim := zone_aim(each)) is not None]


def zone_aim(bench: ZoneBench) -> ZoneAim | None:
    """A zone's own aim for a search, steered for as the house does; None before there is one."""
    canvas, lab = canvas_of(bench.reading), bench.target_lab
    if lab is None:
        return None
    return ZoneAim(canvas=canvas, target_lab=lab, steer_lab=over_tone_of(bench).steer_lab(canvas, lab))


def over_tone_of(bench: ZoneBench) -> OverTone:
    """How far the bowl in hand is steered: a coat that others cover is on its aim in any house."""
    ends = bench.coat.purpose in (Coat.Purpose.COLOUR, Coat.Purpose.OVERLAY, Coat.Purpose.GLAZE)
    return OverTone(bench.stocked.line.studio.over_tone) if ends else OverTone.ON_AIM


def stocked_shelf(bench: ZoneBench, *, in_stock: bool = True) -> list[Shade]:
    """The shades that a bowl is mixed from, for the engine; see `offered_shades`."""
    return [bench.stocked.dyes[shade.pk] for shade in offered_shades(bench, in_stock=in_stock)]


def reckoned_shelf(bench: ZoneBench) -> list[Shade]:
    """What a way is reckoned with: what is left of the bowl's line; where no colour of it is, all of it.

    What is short, the Plan tells: a line that is used up is no reason to know nothing.
    """
    left = stocked_shelf(bench)
    return left if any(not dye.is_clear for dye in left) else stocked_shelf(bench, in_stock=False)


def offered_shades(bench: ZoneBench, *, in_stock: bool = True) -> list[RowShade]:
    """The line's shades, those that are used up left out on request, with one carrier: see `carrier_of`."""
    dyes, carrier = bench.stocked.dyes, carrier_of(bench)
    return [
        shade
        for shade in bench.stocked.shades
        if (shade.stock_g > 0 or not (in_stock or shade.off_shelf))
        and (shade == carrier or not dyes[shade.pk].is_clear)
    ]


def carrier_of(bench: ZoneBench) -> RowShade | None:
    """What thins the bowl: the carrier that it has most of, else the line's first in stock, clear or conditioner as the
    house has it; None when it has none.
    """
    dyes = bench.stocked.dyes
    if held := {shade: grams for shade, grams in bench.poured if dyes[shade.pk].is_clear}:
        return max(held, key=lambda shade: held[shade])
    carriers = [shade for shade in bench.stocked.shades if dyes[shade.pk].is_clear]
    by_conditioner = bench.stocked.line.studio.carrier == Carrier.CONDITIONER
    carriers.sort(key=lambda shade: (shade.thins == 1) == by_conditioner)
    return next((shade for shade in carriers if shade.stock_g > 0), next(iter(carriers), None))


def corrections_of(bench: Bench) -> tuple[Correction, ...]:
    """The two best small additions to the bowl in hand; none before there is both a bowl and an aim."""
    aims, bowl = aims_of(bench), bench.mix
    if not aims or bowl is None:
        return ()
    return corrections(
        aims,
        bowl,
        stocked_shelf(bench),
        room_g=room_for_more_g(bowl.total_g, float(bench.bowl.wanted_g)),
        step_g=SCALE_STEP_G,
        process=bench.process,
    )


def steering_of(bench: Bench) -> Steering:
    """Where a step of each shade of the line would take the zone in hand; see `step_g_of`."""
    grams = {bench.stocked.dyes[shade.pk]: float(g) for shade, g in bench.poured}
    shelf = list(bench.stocked.dyes.values())
    add_g = [step_g_of(dye) for dye in shelf]
    return steer(canvas_of(bench.reading), grams, shelf, add_g=add_g, process=bench.process)


def scale_of(total_g: float, step_g: float = SCALE_STEP_G) -> Scale:
    """The scale that recipes are made for: none holds less of a shade than can be weighed well."""
    return Scale(total_g=total_g, step_g=step_g, least_g=min(max(step_g, LEAST_POUR_G), total_g))


def step_g_of(dye: Shade) -> float:
    """Grams that a tap on the wheel pours: one of a shade, ten of clear, or the next step of another unit."""
    return handy_g(10.0 if dye.is_clear else 1.0)


def spread_of(bench: Bench) -> Spread | None:
    """How far the result may wander, squeezed and dropped pours more than weighed ones."""
    bowl = bench.mix
    if bowl is None:
        return None
    unsure = max((float(pour.doubt_g) for pour in bench.pours.values()), default=0.0)
    doubt = Doubt(grams=max(Doubt.grams, unsure))
    return spread(canvas_of(bench.reading), bowl, process=bench.process, doubt=doubt, samples=SPREAD_SAMPLES)


def why_of(bench: Bench) -> str:
    """Why the forecast of the zone in hand looks as it does, in words."""
    bowl = bench.mix
    if bowl is None:
        return ""
    reasons = reasons_of(canvas_of(bench.reading), bowl, process=bench.process)
    return reason_words(reasons, target_lab=bench.target_lab)


def partings_of(seen: BenchForecast) -> tuple[Parting, ...]:
    """Zones that match in one light and part in another."""
    if len({(each.canvas, each.bench.bowl.pk) for each in seen.zones}) < 2:
        return ()
    return partings(zone_labs([(each.canvas, each.bowl) for each in seen.zones]))


def fade_labs(bench: Bench, washes: int) -> FloatArray | None:
    """The path L*a*b* (washes + 1, 3) of the zone in hand."""
    bowl = bench.mix
    return None if bowl is None else fade(canvas_of(bench.reading), bowl, washes=washes, process=bench.process).lab


def trail_labs(bench: Bench, states: Sequence[BowlState]) -> FloatArray:
    """Where earlier states of the bowl stood, L*a*b* (states, 3), on the hair as it is read now."""
    canvas = canvas_of(bench.reading)
    dyes = bench.stocked.dyes
    labs = []
    for state in states:
        known = sorted((int(shade), float(g)) for shade, g in state["grams"].items() if int(shade) in dyes)
        if known:
            labs.append(_lab_once(canvas, tuple((dyes[shade], g) for shade, g in known), bench.process))
    return np.array(labs).reshape(-1, 3)


@lru_cache(maxsize=1024)
def _lab_once(canvas: Canvas, grams: tuple[tuple[Shade, float], ...], process: Process) -> FloatArray:
    return predict(canvas, Bowl(grams=dict(grams)), process=process).lab


def lock_of_bowl(canvas: Canvas, bowl: Bowl, process: Process) -> Lock:
    """A lock of one canvas with a bowl on it, in daylight."""
    return tress_lock([_dyed(canvas, bowl, process, Light.DAYLIGHT)])
