"""The coats of the zone in hand: a short row from bare hair to the finish, and the panel that orders them."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Final

from engine.language import begun, later, say
from engine.weights import measure_of
from studio.head.engine_adapter import BenchForecast, finish_lab
from studio.head.models import Coat
from studio.head.selectors import Bench
from studio.ui.locks import lock_of_colour
from studio.ui.numbers import brief_number
from studio.ui.templatetags.ui import plain
from studio.visits.engine_adapter import bare_lab, canvas_of
from studio.visits.models import Reading

# What each coat is for, as its button says it, in the order of work.
PURPOSES: Final = (
    (Coat.Purpose.REMOVE, later("Remove"), later("draw old colour out")),
    (Coat.Purpose.LIFT, later("Lift"), later("lightener")),
    (Coat.Purpose.EQUALISE, later("Equalise"), later("even porous hair")),
    (Coat.Purpose.FILL, later("Fill"), later("put warmth back")),
    (Coat.Purpose.PRE_TONE, later("Pre-tone"), later("before the colour")),
    (Coat.Purpose.COLOUR, later("Colour"), later("a further colour")),
    (Coat.Purpose.OVERLAY, later("Overlay"), later("over the base")),
    (Coat.Purpose.GLAZE, later("Glaze"), later("over all of it")),
    (Coat.Purpose.MASK, later("Mask"), later("with colour in it")),
    (Coat.Purpose.SEAL, later("Seal"), later("the last step")),
)


@dataclass(frozen=True, kw_only=True)
class CoatStep:
    """One coat in the row: its place, what it is for, the hair's colour after it, and what may be done with it."""

    coat: Coat
    number: int
    words: str
    hex: str
    chosen: bool
    state: str
    can_move: tuple[bool, bool]
    can_go: bool
    fields: tuple[tuple[str, str, str, str], ...]


def coat_steps(bench: Bench, seen: BenchForecast, refused: Mapping[str, str]) -> tuple[CoatStep, ...]:
    """The coats of the zone in hand. The colour after one is what the next meets; after the last, what is forecast.

    refused: what a refused form held, kept in the fields of the coat that it was of.
    """
    rows = bench.zone_rows
    own = [each for each in bench.coats if each.zone.pk == bench.zone.pk]
    finish = _finish_hex(bench, seen)
    steps = []
    for place, coat in enumerate(rows):
        later = next((each for each in own if each.coat.order > coat.order), None)
        steps.append(
            CoatStep(
                coat=coat,
                number=place + 1,
                words=_words(coat),
                hex=finish if later is None else lock_of_colour(_lab(later.reading)).hex,
                chosen=coat.pk == bench.coat.pk,
                state=_state(coat),
                can_move=(
                    place > 0 and not coat.begun and not rows[place - 1].begun,
                    place + 1 < len(rows) and not coat.begun and not rows[place + 1].begun,
                ),
                can_go=not coat.begun and (coat.is_plain or len(own) > 1),
                fields=_fields(coat, refused if refused.get("of_coat") == str(coat.pk) else {}),
            )
        )
    return tuple(steps)


def _fields(coat: Coat, typed: Mapping[str, str]) -> tuple[tuple[str, str, str, str], ...]:
    """What is said of a coat that nothing is mixed for: name of the field, its label, what stands in it, and a hint."""
    if not coat.is_plain:
        return ()
    amount = "" if coat.grams is None else brief_number(coat.grams)
    said = [
        ("product", say("Product"), coat.product, ""),
        ("plain_grams", say("Amount, {unit}", unit=measure_of()), amount, ""),
        ("vol", say("Peroxide, vol"), plain(coat.own_vol), say("none")),
        ("minutes", say("Minutes"), plain(coat.minutes), say("usual")),
    ]
    removes = coat.purpose == Coat.Purpose.REMOVE  # the rest has no peroxide in it
    return tuple(
        (name, label, typed.get(name, now), hint) for name, label, now, hint in said if removes or name != "vol"
    )


def bare_hex(bench: Bench) -> str:
    """The hair of the zone in hand before any coat."""
    own = next(each for each in bench.coats if each.zone.pk == bench.zone.pk)
    return lock_of_colour(_lab(own.reading)).hex


def _finish_hex(bench: Bench, seen: BenchForecast) -> str:
    """The colour after the zone's last coat."""
    own = [each for each in bench.coats if each.zone.pk == bench.zone.pk]
    if own[-1].coat.pk == bench.coat.pk:
        return seen.then.hex
    return lock_of_colour(tuple(finish_lab(own[-1]).tolist())).hex


def _words(coat: Coat) -> str:
    label = begun(coat.get_purpose_display())
    return (
        say("{label} to {to_level:g}", label=label, to_level=float(coat.to_level))
        if coat.to_level is not None
        else label
    )


def _state(coat: Coat) -> str:
    if not coat.begun:
        return ""
    return say("on") if coat.worked_min is None else say("done")


def _lab(reading: Reading) -> tuple[float, ...]:
    return tuple(bare_lab(canvas_of(reading)).tolist())
