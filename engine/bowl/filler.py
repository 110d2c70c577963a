"""Four kinds of filler, and what the final colour looks like over each."""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from enum import StrEnum
from typing import Final

import numpy as np

from engine.arrays import FloatArray, frozen
from engine.bowl.mix import Bowl, Process, added_absorption
from engine.bowl.predict import seen_lab
from engine.bowl.taught import beside
from engine.colorimetry.difference import delta_e00
from engine.colorimetry.grid import WAVELENGTHS_NM
from engine.colorimetry.lab import lch_of
from engine.colorimetry.lights import Light
from engine.colorimetry.words import colour_word
from engine.dye.shade import BASE_EXPONENT
from engine.dye.shelf import demo_shelf
from engine.hair.canvas import Canvas, OldColour, fibres_of
from engine.hair.residue import amount_for_lightness, level_lightness
from engine.language import say

FAULT_FROM: Final = 2.0  # a* or C*: greener or flatter than well-filled hair by more than this is a fault
NEUTRAL_SHARE: Final = 0.5  # of a filler, from which shades without a tone belong in it
HIDDEN_BELOW: Final = 3.0  # L*: what is deeper shows no fault


class Filler(StrEnum):
    """What schools fill with; common practice, no published source."""

    GOLD_NEUTRAL = "gold_neutral"
    COPPER_RED = "copper_red"
    BROWN = "brown"
    DIRECT_RED = "direct_red"


class FillWith(StrEnum):
    """What a house fills with: what is missing, by whatever warm shades give it, or always one of the four kinds."""

    MISSING = "missing"
    GOLD_NEUTRAL = Filler.GOLD_NEUTRAL.value
    COPPER_RED = Filler.COPPER_RED.value
    BROWN = Filler.BROWN.value
    DIRECT_RED = Filler.DIRECT_RED.value

    @property
    def kind(self) -> Filler | None:
        """Its kind of filler; None where it fills with what is missing."""
        return None if self is FillWith.MISSING else Filler(self.value)

    @property
    def has_neutral(self) -> bool:
        """Whether a good part of it is neutral."""
        return self.kind is not None and SHAPES[self.kind][0] >= NEUTRAL_SHARE


# Shares of a neutral brown base and of demo spectra in one unit of each filler: chosen by the founders.
SHAPES: Final[Mapping[Filler, tuple[float, Mapping[str, float]]]] = {
    Filler.GOLD_NEUTRAL: (0.5, {"yellow": 0.6, "orange": 0.4}),
    Filler.COPPER_RED: (0.2, {"copper": 0.6, "red": 0.4}),
    Filler.BROWN: (1.0, {}),
    Filler.DIRECT_RED: (0.0, {"red": 1.0}),
}


@dataclass(frozen=True, kw_only=True, eq=False)
class FillerOutcome:
    """One filler: the filled hair, L*a*b* (3,), and the final colour (3,) over it when a final bowl was given.

    cast: what is wrong with the final colour against hair filled with its own warmth, in words; empty if nothing is.
    delta_e00: how far it is from that.
    """

    filler: Filler
    filled_lab: FloatArray
    final_lab: FloatArray | None
    delta_e00: float
    cast: str


@dataclass(frozen=True, kw_only=True, eq=False)
class Pigment:
    """Pigment put into hair, as something that absorbs: K (bands,)."""

    name: str
    tone: FloatArray
    code: str = ""

    @property
    def base(self) -> FloatArray:
        """It fills nothing up by itself: all of it is added, (bands,)."""
        return 0 * self.tone


def filler_shape(filler: Filler) -> FloatArray:
    """K/S (bands,) of one unit of a filler."""
    neutral, tones = SHAPES[filler]
    shape: FloatArray = neutral * (WAVELENGTHS_NM / 550) ** -BASE_EXPONENT
    for name, share in tones.items():
        shape = shape + share * demo_shelf()[name].spectrum
    return shape


def filled_with(canvas: Canvas, absorption: FloatArray, name: str) -> Canvas:
    """The canvas with K/S (bands,) put in as old colour."""
    pigment = Pigment(name=name, tone=frozen(absorption))
    return replace(canvas, old=(*canvas.old, OldColour(shade=pigment, k_s=1.0)))


def filled_by(canvas: Canvas, level: float, filler: Filler) -> Canvas:
    """The canvas, brought down to a level by a kind of filler."""
    bare = fibres_of(replace(canvas, grey=0.0)).absorption[0]
    amount = amount_for_lightness(filler_shape(filler), float(level_lightness(level)), bare)
    return filled_with(canvas, amount, filler.value)


def filled_as(canvas: Canvas, level: float, fill_with: FillWith) -> Canvas:
    """The canvas as a house fills it down to a level: natural hair of that level, or by the house's kind of filler."""
    kind = fill_with.kind
    return replace(canvas, level=level) if kind is None else filled_by(canvas, level, kind)


def filler_outcomes(
    canvas: Canvas, level: float, truly_filled: Canvas, final: Bowl | None, process: Process, light: Light
) -> tuple[FillerOutcome, ...]:
    """Each filler, in such an amount that it brings the canvas to a level, judged against truly filled hair."""
    outcomes = []
    for filler in Filler:
        filled = filled_by(canvas, level, filler)
        true, found = (over(hair, final, process, light) for hair in (truly_filled, filled))
        outcomes.append(
            FillerOutcome(
                filler=filler,
                filled_lab=frozen(over(filled, None, process, light)),
                final_lab=frozen(found) if final else None,
                delta_e00=float(delta_e00(true, found)),
                cast=fault_words(true, found) if final else "",
            )
        )
    return tuple(sorted(outcomes, key=lambda each: each.delta_e00))


def over(canvas: Canvas, bowl: Bowl | None, process: Process, light: Light) -> FloatArray:
    """L*a*b* (3,) of a bowl over a canvas, or of the canvas alone."""
    fibres = fibres_of(canvas)
    if bowl is None:
        return seen_lab(fibres, np.zeros_like(fibres.absorption[0]), light)
    added = added_absorption(bowl, canvas.porosity, process)
    return seen_lab(fibres, added, light) + beside(canvas, bowl, process, light)


def fault_words(true_lab: FloatArray, lab: FloatArray) -> str:
    """What is wrong with a colour (3,) against the same bowl on truly filled hair (3,); empty if nothing shows."""
    flat = float(lch_of(true_lab)[1] - lch_of(lab)[1])
    greener = float(true_lab[1] - lab[1])
    faults = [
        word
        for word, shows in (
            (say("greenish"), greener > FAULT_FROM and lab[1] < 0),
            (say("too red"), greener < -2 * FAULT_FROM),
            (say("hollow"), flat > FAULT_FROM),
        )
        if shows and lab[0] > HIDDEN_BELOW
    ]
    return say("{faults}: {colour}", faults=say(" and ").join(faults), colour=colour_word(lab)) if faults else ""
