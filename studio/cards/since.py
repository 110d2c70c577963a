"""What has changed since a formula was kept: its tubes, what results have taught, and so how a repeat would look."""

from collections.abc import Mapping
from dataclasses import replace
from typing import Final

import numpy as np

from engine.bowl.mix import Bowl, Process
from engine.bowl.predict import predict
from engine.colorimetry.difference import delta_e00
from engine.dye.shade import Shade as Dye
from engine.language import say
from engine.service.judge import against_forecast
from studio.cards.models import Formula
from studio.shelf.models import Shade
from studio.shelf.selectors import stocked_line
from studio.visits.engine_adapter import canvas_of

TELL_FROM: Final = 0.5  # delta E00 from which another forecast of the same grams on the same hair is worth a word


def since_words(formula: Formula, dyes: Mapping[int, Dye], process: Process) -> tuple[str, ...]:
    """Sentences of it; none where a repeat is forecast as it was then. dyes, process: as the line works now.

    One query.
    """
    pours = list(formula.pours.all())
    rows = {row.pk: row for row in Shade.objects.filter(pk__in=[pour.shade_id for pour in pours])}
    told = []
    for pour in pours:
        row = rows[pour.shade_id]
        if row.off_shelf:
            told.append(say("{shade_name} is off the shelf.", shade_name=pour.shade_name))
        if pour.shade_version is not None and pour.shade_version != row.version:
            told.append(
                say(
                    "{shade_name} is known anew since: {known} now.",
                    shade_name=pour.shade_name,
                    known=row.get_known_display(),
                )
            )
    version = stocked_line(formula.line).version
    is_from_here = any(pour.shade_version is not None for pour in pours)  # a card of a file does not say by what
    if is_from_here and formula.knowledge_version != version:
        told.append(_learned(formula.knowledge_version, version))
    grams = {dyes[pour.shade_id]: float(pour.grams) for pour in pours if pour.shade_id in dyes}
    if len(grams) != len(pours) or formula.to_level is not None:
        return tuple(told)
    then = np.array([float(part) for part in (formula.forecast_l, formula.forecast_a, formula.forecast_b)])
    now = predict(canvas_of(formula), Bowl(grams=grams), process=_worked(formula, process)).lab
    off = float(delta_e00(then, now))
    if off < TELL_FROM:
        return tuple(told)
    differs = against_forecast(then, now)
    return (
        *told,
        say(
            "The same amounts on the same hair are forecast {off:.1f} off what they were then: {differs}.",
            off=off,
            differs=differs,
        ),
    )


def _worked(formula: Formula, usual: Process) -> Process:
    """How it was forecast: with its own developer, where that was not as the line has it."""
    line, (vol, parts) = formula.line, formula.developer
    if (vol, parts) == (line.developer_vol, line.developer_parts):
        return usual
    return replace(usual, developer_vol=float(vol) if parts else None, ratio=float(parts) or None)


def _learned(then: int | None, now: int | None) -> str:
    if now is None:
        return say("It was forecast with what results had taught; now forecasts are the engine's own.")
    if then is None:
        return say("It was forecast before anything was learned from results.")
    return say("Results have taught since: version {now}, it was forecast with {then}.", now=now, then=then)
