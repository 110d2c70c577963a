"""Toning lightened hair: what a toner of its own level, a deeper one, and one that is too light would do."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Final

from engine.arrays import FloatArray
from engine.bowl.mix import Bowl, Process
from engine.bowl.predict import predict
from engine.colorimetry.difference import delta_e00
from engine.colorimetry.lab import lch_of
from engine.colorimetry.words import hue_word
from engine.dye.shade import Shade
from engine.errors import EmptyShelf
from engine.hair.canvas import RANGES, Canvas
from engine.hair.reading import canvas_lab
from engine.language import say

STEPS: Final = (1.0, 0.0, -1.0, -2.0)  # levels from the hair's own: too light, its own, one and two deeper
TONE_SHARE: Final = 0.15  # of the tone's own strength on a levelled base: a glaze is mostly base; the founders'
LEAST_DEPTH: Final = 0.5  # of lightness, so that what hardly darkens is not divided by nothing
DEPOSIT: Final = Process(developer_vol=6.0)


@dataclass(frozen=True, kw_only=True, eq=False)
class TonerAt:
    """One toner on the hair: its level, the colour (3,) it gives, and how far that is from the bare hair.

    is_too_light: whether its base is lighter than the hair, so that it shows least.
    """

    level: float
    lab: FloatArray
    delta_e00: float
    is_too_light: bool


def toner_for(canvas: Canvas, shelf: Sequence[Shade]) -> Shade:
    """The oxidative shade that is the opposite of this hair's warmth: it takes the most brightness for the least depth,
    so that violet comes before brown on yellow, and blue on orange. Raises EmptyShelf."""
    toners = [shade for shade in shelf if shade.kind.is_oxidative and not shade.is_clear]
    if not toners:
        raise EmptyShelf

    bare = lch_of(canvas_lab(canvas))

    def dulled(shade: Shade) -> float:
        weak = replace(shade, level=None, strength=shade.strength * TONE_SHARE)
        toned = lch_of(predict(canvas, Bowl(grams={weak: 30.0}), process=DEPOSIT).lab)
        return float((bare[1] - toned[1]) / max(bare[0] - toned[0], LEAST_DEPTH))

    return max(toners, key=dulled)


def toner_sentence(canvas: Canvas, tone: Shade) -> str:
    """Why it is that one: what it takes out of what the hair shows."""
    white = Canvas(level=RANGES["level"][1])
    shown = lch_of(predict(white, Bowl(grams={replace(tone, level=None): 30.0}), process=DEPOSIT).lab)
    return say(
        "{hue_word} for the {hue_word2} that it shows",
        hue_word=hue_word(float(shown[2])),
        hue_word2=hue_word(float(lch_of(canvas_lab(canvas))[2])),
    )


def toner_levels(
    canvas: Canvas, tone: Shade, steps: Sequence[float] = STEPS, *, damp: bool = False
) -> tuple[TonerAt, ...]:
    """A tone on bases from a level lighter than the hair to two deeper: the lighter the base, the less it shows."""
    bare, process = canvas_lab(canvas), replace(DEPOSIT, damp=damp)
    found = []
    for step in steps:
        level = min(max(canvas.level + step, RANGES["level"][0]), RANGES["level"][1])
        shade = replace(tone, level=level, strength=tone.strength * TONE_SHARE)
        forecast = predict(canvas, Bowl(grams={shade: 30.0}), process=process)
        codes = {warning.code for warning in forecast.warnings}
        found.append(
            TonerAt(
                level=level,
                lab=forecast.lab,
                delta_e00=float(delta_e00(bare, forecast.lab)),
                is_too_light="toner_lighter_than_hair" in codes,
            )
        )
    return tuple(found)
