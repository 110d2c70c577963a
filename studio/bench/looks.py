"""How the bowl looks on this hair thinner and thinner, and while it works."""

from dataclasses import dataclass
from decimal import Decimal

from engine.bowl.dilute import dilutions, softest
from engine.service.processing import Moment, processing
from studio.head.engine_adapter import carrier_of, lock_of_bowl, scale_of
from studio.head.selectors import Bench
from studio.ui.locks import Lock, lock_of_colour
from studio.ui.refusal import Refusal
from studio.visits.engine_adapter import canvas_of


@dataclass(frozen=True, kw_only=True, eq=False)
class PastelRung:
    """One rung of the pastel ladder: its parts, how it looks, and what it takes, by row id, name and grams.

    off: delta E00 to the aim, if there is one. nearest: whether no other is nearer to it.
    """

    parts: int
    lock: Lock
    words: str
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
    canvas, names = canvas_of(bench.reading), {shade.pk: shade.name for shade in bench.stocked.shades}
    rungs = dilutions(
        canvas,
        bowl,
        bench.stocked.dyes[carrier.pk],
        scale_of(float(bench.bowl.wanted_g)),
        process=bench.process,
        target_lab=bench.target_lab,
    )
    nearest = softest(rungs)
    return tuple(
        PastelRung(
            parts=rung.parts,
            lock=lock_of_bowl(canvas, rung.bowl),
            words=rung.forecast.aim.words if rung.forecast.aim else "",
            off=rung.forecast.aim.delta_e00 if rung.forecast.aim else None,
            nearest=index == nearest,
            too_fine=rung.too_fine,
            pours=tuple(
                (int(shade.name), names[int(shade.name)], round(Decimal(grams), 2))
                for shade, grams in rung.bowl.grams.items()
            ),
        )
        for index, rung in enumerate(rungs)
    )


def looks_meanwhile(bench: Bench, dry: Lock) -> tuple[LookMeanwhile, ...]:
    """What is seen while the bowl works, and dry at the end. Raises Refusal empty_bowl."""
    bowl = bench.mix
    if bowl is None or not bowl.colours:
        raise Refusal("empty_bowl", "grams")
    found = processing(canvas_of(bench.reading), bowl, dry.lab, process=bench.process)
    looks = [
        LookMeanwhile(
            title="rinsed, still wet" if look.moment is Moment.WET else f"after {look.minutes:.0f} minutes",
            lock=lock_of_colour(tuple(look.lab.tolist())),
            words=look.words,
        )
        for look in found
    ]
    return (*looks, LookMeanwhile(title="dry", lock=dry, words="What it will be."))
