"""Why a forecast looks as it does: what each thing that absorbs light does to it, from the engine's own sums."""

from dataclasses import dataclass, replace
from enum import StrEnum
from typing import Final

import numpy as np

from engine.arrays import FloatArray, frozen
from engine.bowl.mix import FULL_TIME_DRY, Bowl, Process, lifted_under, uptakes_of
from engine.bowl.predict import seen_lab
from engine.bowl.taught import beside
from engine.colorimetry.difference import delta_e00, local_metric
from engine.colorimetry.lab import lch_of
from engine.colorimetry.lights import Light
from engine.colorimetry.words import GREY_CHROMA, hue_word
from engine.dye.shade import spectra_of
from engine.hair.canvas import Canvas, fibres_of
from engine.hair.ladder import Ladder, school_ladder
from engine.hair.residue import LEVEL_CLEAN_WHITE, Family
from engine.language import say

TELLING: Final = 3.0  # delta E00 that an absorber must make to be worth a word
DULLS: Final = 0.75  # of the chroma that would be there without it
HALVES: Final = 0.5
WARMS: Final = 5.0  # b* and a* together
BLAME: Final = 0.4  # share of a difference that one absorber must carry to be named for it


class Absorber(StrEnum):
    """What kind of thing absorbs."""

    UNDERTONE = "undertone"
    OLD = "old"
    SHADE = "shade"


@dataclass(frozen=True, kw_only=True, eq=False)
class Part:
    """One absorber: its name, the colour L*a*b* (3,) that there would be without it, and what it makes of that.

    shift: (3,), from without to with. delta_e00: the size of that.
    """

    kind: Absorber
    name: str
    without_lab: FloatArray
    shift: FloatArray
    delta_e00: float


@dataclass(frozen=True, kw_only=True, eq=False)
class Reasons:
    """The forecast (3,) and its absorbers, the strongest first."""

    canvas: Canvas
    lab: FloatArray
    parts: tuple[Part, ...]


def reasons_of(
    canvas: Canvas, bowl: Bowl | None, *, process: Process = FULL_TIME_DRY, light: Light = Light.DAYLIGHT
) -> Reasons:
    """Leave out one absorber at a time - the hair's pigment, each old colour, each shade - and forecast the rest."""
    shades = bowl.colours if bowl else ()
    hair = lifted_under(canvas, bowl, process) if bowl else canvas
    spectra = spectra_of(shades)
    uptakes = uptakes_of(bowl, canvas.porosity, process) if bowl and shades else np.zeros(0)
    added = uptakes @ spectra
    lab = seen_lab(fibres_of(hair), added, light)
    off = beside(canvas, bowl, process, light) if bowl else np.zeros(3)
    without: list[tuple[Absorber, str, FloatArray]] = []
    if hair.level < LEVEL_CLEAN_WHITE:
        bare = fibres_of(replace(hair, level=LEVEL_CLEAN_WHITE))
        without.append((Absorber.UNDERTONE, "", seen_lab(bare, added, light)))
    for layer in hair.old:
        rest = tuple(other for other in hair.old if other is not layer)
        without.append((Absorber.OLD, layer.shade.name, seen_lab(fibres_of(replace(hair, old=rest)), added, light)))
    for index, shade in enumerate(shades):
        left = added - uptakes[index] * spectra[index]
        without.append((Absorber.SHADE, shade.name, seen_lab(fibres_of(hair), left, light)))
    lab = lab + off
    parts = [
        Part(
            kind=kind,
            name=name,
            without_lab=frozen(other + off),
            shift=frozen(lab - other - off),
            delta_e00=float(delta_e00(other + off, lab)),
        )
        for kind, name, other in without
    ]
    return Reasons(canvas=canvas, lab=frozen(lab), parts=tuple(sorted(parts, key=lambda part: -part.delta_e00)))


def reason_words(
    reasons: Reasons,
    *,
    target_lab: FloatArray | None = None,
    ladder: Ladder | None = None,
) -> str:
    """The reasons in a sentence or two; empty when nothing is worth a word.

    First what the hair itself does to the colour; then, with a target, which absorber carries most of the difference.
    """
    ladder = ladder or school_ladder()
    said = []
    for part in reasons.parts:
        subject = _subject(part, reasons.canvas, ladder)
        if part.kind is not Absorber.SHADE and part.delta_e00 >= TELLING:
            done = _what_it_does(part, reasons.lab)
            if done:
                said.append(f"{subject} {done}")
                break
    if target_lab is not None and float(delta_e00(target_lab, reasons.lab)) >= TELLING:
        blamed = _most_to_blame(reasons, target_lab)
        if blamed:
            subject = _subject(blamed, reasons.canvas, ladder)
            if not said or not said[0].startswith(subject):
                said.append(say("most of the difference comes from {subject}", subject=subject))
    return "; ".join(said)


def _subject(part: Part, canvas: Canvas, ladder: Ladder) -> str:
    if part.kind is Absorber.SHADE:
        return part.name
    if part.kind is Absorber.OLD:
        return say("the {name} still in it", name=say(part.name))
    if canvas.family is Family.NATURAL:
        return say("the natural pigment at level {level:g}", level=canvas.level)
    return say("the {undertone} left at level {level:g}", undertone=ladder.undertone(canvas.level), level=canvas.level)


def _what_it_does(part: Part, lab: FloatArray) -> str:
    """What an absorber of the hair makes of the colour that there would be without it."""
    before, after = lch_of(part.without_lab), lch_of(lab)
    hue, now = hue_word(float(before[2])), hue_word(float(after[2]))
    if before[1] < GREY_CHROMA:
        return say("turns this grey {now}", now=now) if after[1] >= GREY_CHROMA else ""
    if after[1] < GREY_CHROMA:
        return say("dulls this {hue} to grey", hue=hue)
    if hue != now:
        halved = after[1] < HALVES * before[1]
        return (
            say("dulls this {hue} and turns it {now}", hue=hue, now=now)
            if halved
            else say("turns this {hue} {now}", hue=hue, now=now)
        )
    if after[1] < DULLS * before[1]:
        return say("dulls this {hue}", hue=hue)
    if part.shift[1] + part.shift[2] > WARMS:
        return say("warms this {hue}", hue=hue)
    return say("deepens this {hue}", hue=hue) if part.shift[0] < -TELLING else ""


def _most_to_blame(reasons: Reasons, target_lab: FloatArray) -> Part | None:
    """The absorber whose shift lies most along the difference to the target, if it carries a good share of it."""
    metric = local_metric(target_lab)
    miss = metric @ (reasons.lab - target_lab)
    size = float(np.linalg.norm(miss))
    if not reasons.parts or size == 0:
        return None
    along = [float((metric @ part.shift) @ miss) / size for part in reasons.parts]
    most = int(np.argmax(along))
    return reasons.parts[most] if along[most] > BLAME * size else None
