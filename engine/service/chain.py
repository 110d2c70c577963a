"""Hair through several coats in one visit, each on what the one before has left."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Final

from engine.arrays import FloatArray, frozen
from engine.bowl.doses import Worked
from engine.bowl.fade import faded_canvas
from engine.bowl.mix import FULL_TIME_DRY, Bowl, Process
from engine.bowl.spread import Spread, spread_of_coats
from engine.bowl.taught import looks
from engine.colorimetry.lights import Light
from engine.errors import BadInput, Missing, OutOfRange
from engine.hair.canvas import RANGES, Canvas, lightened
from engine.hair.reading import canvas_lab
from engine.hair.source import Source
from engine.service.processing import ProcessingLook, processing
from engine.service.route import REMOVAL_LEAVES
from engine.service.schedule.work import Purpose
from engine.service.steps import equalised

LIFT_DOUBT: Final = 0.5  # levels either way that hair may end from where a lift is planned; the founders' estimate
COLOURING: Final = frozenset({Purpose.FILL, Purpose.PRE_TONE, Purpose.COLOUR, Purpose.OVERLAY, Purpose.GLAZE})
MUST_BE_OFF: Final = frozenset({Purpose.LIFT, Purpose.REMOVE})  # before anything else goes on


@dataclass(frozen=True, kw_only=True, eq=False)
class ChainedCoat:
    """One coat. bowl: what colours, for coats that do. to_level: where a lift ends. read: the hair as it was read
    after it, in place of the forecast. rinsed: whether it is off before the next. Raises Missing, BadInput.
    """

    purpose: Purpose
    bowl: Bowl | None = None
    process: Process = FULL_TIME_DRY
    to_level: float | None = None
    rinsed: bool = True
    read: Canvas | None = None

    def __post_init__(self) -> None:
        if self.purpose in COLOURING and self.bowl is None:
            raise Missing("bowl", "an object with grams")
        if self.bowl is not None and self.purpose not in COLOURING | {Purpose.MASK}:
            raise BadInput("bowl", f"bowl does not belong to a coat that is to {self.purpose.value}")
        if (self.to_level is None) is (self.purpose is Purpose.LIFT):
            raise BadInput("to_level", "to_level says where a lift ends: a lift needs it, and nothing else takes it")


@dataclass(frozen=True, kw_only=True, eq=False)
class AfterCoat:
    """Hair after a coat: the canvas of the next, and its look L*a*b* (3,).

    darker, lighter: looks (3,) where a lift that nobody has read yet ended short or went further; None once it is read.
    processing: what is seen while it works, of a coat that colours. spread: how far it may wander, all coats since the
    hair was last read or lifted included.
    """

    canvas: Canvas
    lab: FloatArray
    darker: FloatArray | None
    lighter: FloatArray | None
    processing: tuple[ProcessingLook, ...]
    spread: Spread


@dataclass(frozen=True, kw_only=True, eq=False)
class _Way:
    """Hair as it may be: the canvas, what it was when it was last read or lifted, and what was laid on since."""

    canvas: Canvas
    since: Canvas
    laid: tuple[tuple[Bowl, Process], ...] = ()

    def look(self, light: Light) -> FloatArray:
        taught = self.laid[-1][1].taught if self.laid else None
        if taught is None:
            return canvas_lab(self.canvas, light)
        seen: FloatArray = looks([Worked(canvas=self.since, coats=self.laid)], light, taught)[0]
        return seen

    def spread(self, light: Light, level_sd: float) -> Spread:
        taught = self.laid[-1][1].taught if self.laid else None
        worked = Worked(canvas=self.since, coats=self.laid)
        return spread_of_coats(worked, level_sd=level_sd, taught=taught, light=light)


def chain(canvas: Canvas, coats: Sequence[ChainedCoat], *, light: Light = Light.DAYLIGHT) -> tuple[AfterCoat, ...]:
    """A canvas through coats in their order.

    A coat that stays on beneath the next leaves what a rinsed one leaves: what is forecast is what is fixed. Raises
    OutOfRange for a lift to where the hair is already, BadInput for a coat over lightener or remover that is still on.
    """
    ways = [_Way(canvas=canvas, since=canvas)]  # as forecast; then darker and lighter, while a lift is unread
    found = []
    for index, coat in enumerate(coats):
        below = coats[index - 1] if index else None
        if below and not below.rinsed and below.purpose in MUST_BE_OFF:
            raise BadInput(
                f"coats.{index}", f"coats.{index} would go over {below.purpose.value} that is still on: rinse it first"
            )
        under = ways[0].canvas
        ways = [_Way(canvas=coat.read, since=coat.read)] if coat.read else _after(ways, coat, index)
        seen = [frozen(way.look(light)) for way in ways]
        darker, lighter = seen[1:] if len(seen) > 1 else (None, None)
        working = processing(under, coat.bowl, seen[0], process=coat.process, light=light) if coat.bowl else ()
        sure = Source.EYE.level_sd if darker is None else math.hypot(Source.EYE.level_sd, LIFT_DOUBT)
        found.append(
            AfterCoat(
                canvas=ways[0].canvas,
                lab=seen[0],
                darker=darker,
                lighter=lighter,
                processing=working,
                spread=ways[0].spread(light, sure),
            )
        )
    return tuple(found)


def hair_after(canvas: Canvas, coats: Sequence[ChainedCoat]) -> Canvas:
    """The hair when coats are on, without how it may wander: the canvas of the next.

    A lift to where the hair is already leaves it as it is, and what is laid on it stays.
    """
    way = _Way(canvas=canvas, since=canvas)
    for index, coat in enumerate(coats):
        if coat.to_level is not None and coat.to_level <= way.canvas.level:
            continue
        way = _Way(canvas=coat.read, since=coat.read) if coat.read else _after([way], coat, index)[0]
    return way.canvas


def laid_on(canvas: Canvas, coats: Sequence[ChainedCoat]) -> tuple[Canvas, tuple[tuple[Bowl, Process], ...]]:
    """The hair that coats of colour were laid on, and those that nothing has since lifted, drawn out or read over.

    Raises OutOfRange for a lift to where the hair is already.
    """
    way = _Way(canvas=canvas, since=canvas)
    for index, coat in enumerate(coats):
        way = _Way(canvas=coat.read, since=coat.read) if coat.read else _after([way], coat, index)[0]
    return way.since, way.laid


def _after(ways: Sequence[_Way], coat: ChainedCoat, index: int) -> list[_Way]:
    if coat.bowl is not None:
        return [_coloured(way, coat.bowl, coat.process) for way in ways]
    if coat.to_level is None:
        worked = [_worked(way.canvas, coat) for way in ways]
        return [
            way if canvas == way.canvas else _Way(canvas=canvas, since=canvas)
            for way, canvas in zip(ways, worked, strict=True)
        ]
    level, (low, high) = ways[0].canvas.level, RANGES["level"]
    if not level <= coat.to_level <= high:
        raise OutOfRange(f"coats.{index}.to_level", coat.to_level, level, high)
    ends = (coat.to_level, coat.to_level - LIFT_DOUBT, coat.to_level + LIFT_DOUBT)
    hair = [lightened(ways[0].canvas, min(max(end, level, low), high)) for end in ends]
    return [_Way(canvas=each, since=each) for each in hair]


def _coloured(way: _Way, bowl: Bowl, process: Process) -> _Way:
    canvas = faded_canvas(way.canvas, bowl, 0, process=process)
    return _Way(canvas=canvas, since=way.since, laid=(*way.laid, (bowl, process)))


def _worked(canvas: Canvas, coat: ChainedCoat) -> Canvas:
    if coat.purpose is Purpose.REMOVE:
        return replace(canvas, old=tuple(replace(each, k_s=each.k_s * REMOVAL_LEAVES) for each in canvas.old))
    if coat.purpose is Purpose.EQUALISE:
        return equalised(canvas)
    return canvas
