"""How the bowl looks beyond one lock: thinner and thinner, while it works, and among strands left out."""

from dataclasses import dataclass
from decimal import Decimal

from engine.bowl.dilute import dilutions, nearest_rung
from engine.language import say
from engine.service.processing import Moment, processing
from studio.bench.answers import pours_of
from studio.head.engine_adapter import BenchForecast, carrier_of, scale_of
from studio.head.selectors import Bench
from studio.ui.locks import Lock, lock_of_colour, woven
from studio.ui.refusal import Refusal
from studio.visits.engine_adapter import canvas_of
from studio.visits.head import share_of_strands


@dataclass(frozen=True, kw_only=True, eq=False)
class PastelRung:
    """One rung of the pastel ladder: its parts, how it looks, and what it takes, by row id, name and grams.

    off: delta E00 to the aim, if there is one. nearest: whether no other is nearer to it.
    """

    parts: int
    lock: Lock
    off: float | None
    nearest: bool
    too_fine: bool
    pours: tuple[tuple[int, str, Decimal], ...]


@dataclass(frozen=True, kw_only=True, eq=False)
class LookMeanwhile:
    """What is seen at a moment while the bowl works, with words for who is in the chair."""

    title: str
    lock: Lock
    words: str


def pastel_ladder(bench: Bench) -> tuple[PastelRung, ...]:
    """The bowl's colours with 1 to 32 parts of its carrier. Raises Refusal empty_bowl, no_carrier."""
    bowl, carrier = bench.mix, carrier_of(bench)
    if bowl is None or not bowl.colours:
        raise Refusal("empty_bowl", "grams")
    if carrier is None:
        raise Refusal("no_carrier", "grams", line=bench.stocked.line)
    rungs = dilutions(
        canvas_of(bench.reading),
        bowl,
        bench.stocked.dyes[carrier.pk],
        scale_of(float(bench.bowl.wanted_g)),
        process=bench.process,
        target_lab=bench.target_lab,
    )
    nearest = nearest_rung(rungs)
    return tuple(
        PastelRung(
            parts=rung.parts,
            lock=lock_of_colour(tuple(rung.forecast.lab.tolist())),
            off=rung.forecast.aim.delta_e00 if rung.forecast.aim else None,
            nearest=index == nearest,
            too_fine=rung.too_fine,
            pours=pours_of(rung.bowl, bench.stocked),
        )
        for index, rung in enumerate(rungs)
    )


def woven_lock(bench: Bench, seen: BenchForecast) -> Lock:
    """The forecast of the zone in hand: strands that were taken out lie among those that were not."""
    zone, own = bench.zone, seen.then
    share = share_of_strands(zone)
    if share >= 1:
        return own
    others = [each for each in seen.zones if each.bench.zone.pk != zone.pk]
    sisters = [each for each in others if each.bench.zone.part == zone.part]
    around = sisters or [each for each in others if each.bench.zone.is_lengthwise]
    beside = max(around, key=lambda each: share_of_strands(each.bench.zone), default=None)
    lab = beside.forecast.lab if beside else seen.hand.bare_lab
    return woven(own, lock_of_colour(tuple(lab.tolist())), share)


def looks_meanwhile(bench: Bench, dry: Lock) -> tuple[LookMeanwhile, ...]:
    """What is seen while the bowl works, and dry at the end. Raises Refusal empty_bowl."""
    bowl = bench.mix
    if bowl is None or not bowl.colours:
        raise Refusal("empty_bowl", "grams")
    found = processing(canvas_of(bench.reading), bowl, dry.lab, process=bench.process)
    looks = [
        LookMeanwhile(
            title=say("rinsed, still wet")
            if look.moment is Moment.WET
            else say("after {minutes:.0f} minutes", minutes=look.minutes),
            lock=lock_of_colour(tuple(look.lab.tolist())),
            words=look.words,
        )
        for look in found
    ]
    return (*looks, LookMeanwhile(title=say("dry"), lock=dry, words=say("What it will be.")))
