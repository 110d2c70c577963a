"""What this studio's own results say of its shades: true strengths, and each line's bias."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Final

import numpy as np

from engine.arrays import FloatArray
from engine.bowl.mix import FULL_TIME_DRY, Bowl, Process
from engine.bowl.predict import predict
from engine.colorimetry.difference import delta_e00, local_metric
from engine.colorimetry.lights import Light
from engine.dye.shade import Shade
from engine.errors import BadInput
from engine.fitting import bounded_fit
from engine.hair.canvas import Canvas

# How far strengths are believed to stray, as logarithms, before any record; and how sure a judged result is.
SHADE_DOUBT: Final = 0.25
LINE_DOUBT: Final = 0.25
RESULT_DOUBT: Final = 1.0  # delta E00
STRAY_MOST: Final = 1.5  # a factor of 4.5 either way
RECORDS_MOST: Final = 500


@dataclass(frozen=True, kw_only=True, eq=False)
class Record:
    """One result: what was put on which hair, and the colour (3,) that came out, judged dry in `light`."""

    canvas: Canvas
    bowl: Bowl
    actual_lab: FloatArray
    process: Process = FULL_TIME_DRY
    light: Light = Light.DAYLIGHT


@dataclass(frozen=True, kw_only=True, eq=False)
class Learned:
    """Factors of strength by shade (its line's bias included) and by line, and the mean delta E00 before and after."""

    shade_factors: Mapping[Shade, float]
    line_factors: Mapping[str, float]
    before: float
    after: float
    settled: bool


def learn(records: Sequence[Record]) -> Learned:
    """Fit the logarithms of shade strengths and line biases to records, by regularised least squares.

    With few records little is believed. Raises BadInput without records.
    """
    if not records or len(records) > RECORDS_MOST:
        raise BadInput("records", f"records holds {len(records)} results: 1 to {RECORDS_MOST} are needed")
    shades = list(dict.fromkeys(shade for record in records for shade in record.bowl.colours))
    line_of = {shade: shade.line for shade in shades}
    names = list(dict.fromkeys(line_of.values()))
    metrics = [local_metric(record.actual_lab) for record in records]

    def factors(logs: FloatArray) -> dict[Shade, float]:
        by_line = dict(zip(names, logs[len(shades) :], strict=True))
        return {shade: float(np.exp(logs[i] + by_line[line_of[shade]])) for i, shade in enumerate(shades)}

    def residual(logs: FloatArray) -> FloatArray:
        known = factors(logs)
        misses = [
            metric @ (_forecast(record, known) - record.actual_lab) / RESULT_DOUBT
            for metric, record in zip(metrics, records, strict=True)
        ]
        return np.concatenate([*misses, logs[: len(shades)] / SHADE_DOUBT, logs[len(shades) :] / LINE_DOUBT])

    width = len(shades) + len(names)
    bound = np.full(width, STRAY_MOST)
    fitted = bounded_fit(residual, np.zeros(width), -bound, bound)
    plain = dict.fromkeys(shades, 1.0)
    return Learned(
        shade_factors=factors(fitted.unknowns),
        line_factors=dict(zip(names, np.exp(fitted.unknowns[len(shades) :]).tolist(), strict=True)),
        before=_mean_miss(records, plain),
        after=_mean_miss(records, factors(fitted.unknowns)),
        settled=fitted.settled,
    )


def _forecast(record: Record, factors: Mapping[Shade, float]) -> FloatArray:
    grams = {_scaled(shade, factors.get(shade, 1.0)): g for shade, g in record.bowl.grams.items()}
    return predict(record.canvas, Bowl(grams=grams), process=record.process, light=record.light).lab


def _scaled(shade: Shade, factor: float) -> Shade:
    """A shade with its tone scaled. Its base is what its level says."""
    return shade if shade.is_clear else replace(shade, strength=shade.strength * factor)


def _mean_miss(records: Sequence[Record], factors: Mapping[Shade, float]) -> float:
    return float(np.mean([delta_e00(record.actual_lab, _forecast(record, factors)) for record in records]))
