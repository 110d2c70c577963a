"""Judging a result: which of several locks it looks like, how far it is from forecast and aim, and what mends spots."""

from collections.abc import Sequence
from contextlib import suppress
from dataclasses import dataclass, replace
from enum import StrEnum
from typing import Final

import numpy as np

from engine.arrays import FloatArray, frozen, within
from engine.bowl.fade import faded_canvas
from engine.bowl.match import aim_of, match
from engine.bowl.mix import MINUTES_LIMIT, Bowl, Process
from engine.bowl.predict import predict
from engine.bowl.stock import PLENTY, Stock
from engine.bowl.weigh import Scale
from engine.colorimetry.difference import delta_e00
from engine.colorimetry.lab import lab_from_lch, lch_of
from engine.colorimetry.words import Saying, are_alike, difference_words
from engine.dye.shade import Shade
from engine.errors import EmptyShelf
from engine.hair.canvas import Canvas
from engine.language import later

# How far the locks of the judging ladder stand apart: chosen by the founders to be told apart with ease.
DEPTHS: Final = (6.0, 0.0, -6.0)  # L*, from lighter to deeper
TURN_DEG: Final = 14.0
STRENGTH: Final = 8.0  # C*
MORE_MIN: Final = (5.0, 10.0)
TURNED_OUT: Final = Saying(
    alike=later("as forecast"),
    lighter=later("lighter"),
    deeper=later("deeper"),
    brighter=later("brighter"),
    softer=later("softer"),
    towards=later("towards"),
)
BATH_STEP_G: Final = 0.1
BATH_LITRES: Final = (0.25, 5.0)


@dataclass(frozen=True, kw_only=True, eq=False)
class JudgedLock:
    """One lock of the judging ladder: its colour (3,), and how it differs from the forecast in words."""

    lab: FloatArray
    words: str


def judging_ladder(forecast_lab: FloatArray) -> tuple[tuple[JudgedLock, ...], ...]:
    """Rows from lighter to deeper of locks round a forecast (3,): turned one way, softer, as forecast, brighter, turned
    the other way."""
    lightness, chroma, hue = (float(part) for part in lch_of(forecast_lab))
    across = ((0.0, -TURN_DEG), (-STRENGTH, 0.0), (0.0, 0.0), (STRENGTH, 0.0), (0.0, TURN_DEG))
    return tuple(
        tuple(
            _lock(forecast_lab, np.clip(lightness + deeper, 2.0, 98.0), max(chroma + stronger, 0.0), hue + turned)
            for stronger, turned in across
        )
        for deeper in DEPTHS
    )


def _lock(forecast_lab: FloatArray, lightness: float, chroma: float, hue: float) -> JudgedLock:
    lab = lab_from_lch(np.array([lightness, chroma, hue % 360]))
    return JudgedLock(lab=frozen(lab), words=against_forecast(forecast_lab, lab))


def against_forecast(forecast_lab: FloatArray, actual_lab: FloatArray, *, alike: str = TURNED_OUT.alike) -> str:
    """How a colour (3,) turned out against its forecast (3,): a forecast is no aim, so nothing is too much of it.

    alike: what to say when they can hardly be told apart.
    """
    return difference_words(forecast_lab, actual_lab, replace(TURNED_OUT, alike=alike))


@dataclass(frozen=True, kw_only=True, eq=False)
class Verdict:
    """A result against its forecast and its aim: differences and words; the aim's are None where there was none."""

    forecast_delta_e00: float
    forecast_words: str
    aim_delta_e00: float | None
    aim_words: str
    is_as_forecast: bool


def judge(actual_lab: FloatArray, forecast_lab: FloatArray, target_lab: FloatArray | None) -> Verdict:
    """Say how a result (3,) turned out."""
    return Verdict(
        forecast_delta_e00=float(delta_e00(forecast_lab, actual_lab)),
        forecast_words=against_forecast(forecast_lab, actual_lab),
        aim_delta_e00=None if target_lab is None else float(delta_e00(target_lab, actual_lab)),
        aim_words="" if target_lab is None else difference_words(target_lab, actual_lab),
        is_as_forecast=are_alike(forecast_lab, actual_lab),
    )


def next_aim(actual_lab: FloatArray, forecast_lab: FloatArray, target_lab: FloatArray) -> FloatArray:
    """What to aim at next time (3,) so that the same miss lands on the target: the miss, taken the other way.

    Kept inside what a colour can be; half the miss in lightness, since an eye judges depth least surely (the
    founders' choice).
    """
    miss = np.asarray(actual_lab) - np.asarray(forecast_lab)
    aimed = np.asarray(target_lab) - miss * np.array([0.5, 1.0, 1.0])
    return frozen(np.clip(aimed, [2.0, -120.0, -120.0], [98.0, 120.0, 120.0]))


class FixKind(StrEnum):
    """Ways to mend a spot while the client is still in the chair."""

    MORE_MINUTES = "more_minutes"
    SECOND_COAT = "second_coat"
    DYE_BATH = "dye_bath"


@dataclass(frozen=True, kw_only=True, eq=False)
class Fix:
    """One way to mend a spot: the colour (3,) it leads to and how far that is from the aim.

    minutes: more of them. bath: grams of dye by shade, in `litres` of water.
    """

    kind: FixKind
    lab: FloatArray
    delta_e00: float
    minutes: float = 0.0
    bath: Bowl | None = None
    litres: float = 0.0


def spot_fixes(
    canvas: Canvas,
    bowl: Bowl,
    target_lab: FloatArray,
    shelf: Sequence[Shade],
    *,
    minutes: float | None = None,
    grams: float = 60.0,
    litres: float = 1.0,
    damp: bool = False,
    still_on: bool = False,
    stock: Stock = PLENTY,
) -> tuple[Fix, ...]:
    """Ways to bring a spot nearer to the target (3,), nearest first; only those that bring it nearer than it stands.

    minutes: how long the bowl has been on, None for its full time. still_on: whether it is on yet, so that more minutes
    can be given. grams, litres, stock: as `dye_bath` takes them. Dye only adds, so that none makes lighter.
    """
    now = predict(canvas, bowl, process=Process(minutes=minutes, damp=damp), target_lab=target_lab)
    found = []
    if minutes is not None and still_on:
        for more in (more for more in MORE_MIN if minutes + more <= MINUTES_LIMIT):
            later = predict(canvas, bowl, process=Process(minutes=minutes + more, damp=damp), target_lab=target_lab)
            found.append(_fix(FixKind.MORE_MINUTES, later.lab, aim_of(later), minutes=more))
    coated = faded_canvas(canvas, bowl, 0, process=Process(minutes=minutes, damp=damp))
    again = predict(coated, bowl, target_lab=target_lab)
    found.append(_fix(FixKind.SECOND_COAT, again.lab, aim_of(again)))
    with suppress(EmptyShelf):
        found.append(dye_bath(coated, target_lab, shelf, grams=grams, litres=litres, stock=stock))
    nearer = [fix for fix in found if fix.delta_e00 < aim_of(now) - 0.05]
    return tuple(sorted(nearer, key=lambda fix: fix.delta_e00))


def dye_bath(
    canvas: Canvas,
    target_lab: FloatArray,
    shelf: Sequence[Shade],
    *,
    grams: float,
    litres: float = 1.0,
    stock: Stock = PLENTY,
) -> Fix:
    """Direct dye in water for a canvas and a target (3,), dosed by the hair that it is for and by what is in stock.

    grams: what a bowl for that hair would weigh. The hair takes from a bath what it would from a bowl that holds the
    same dye, however much water there is: water carries, and doesn't thin as clear does. (Common practice, no published
    source, that dye for a bath is weighed by the hair; that it is used up as a bowl is, the founders' estimate.)
    Raises OutOfRange for more water than a basin holds, EmptyShelf where no direct dye is in stock.
    """
    within("bath.litres", litres, *BATH_LITRES, "l")
    scale = Scale(total_g=grams, step_g=BATH_STEP_G)
    direct = [shade for shade in shelf if not shade.kind.is_oxidative and not shade.is_clear]
    direct = [shade for shade in direct if stock.units(shade, scale) >= scale.least_units]
    best = match(canvas, direct, target_lab, scale=scale, max_shades=2, answers=1, stock=stock).recipes[0]
    bath = Bowl(grams={shade: best.bowl.grams[shade] for shade in best.bowl.colours})
    return _fix(FixKind.DYE_BATH, best.forecast.lab, best.delta_e00, bath=bath, litres=litres)


def _fix(
    kind: FixKind, lab: FloatArray, off: float, *, minutes: float = 0.0, bath: Bowl | None = None, litres: float = 0.0
) -> Fix:
    return Fix(kind=kind, lab=frozen(lab), delta_e00=float(off), minutes=minutes, bath=bath, litres=litres)
