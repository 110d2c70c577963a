"""The ways out after an over-pour: keep the recipe and make more of it, or leave it and know the colour."""

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from engine.arrays import FloatArray
from engine.bowl.mix import FULL_TIME_DRY, GRAMS_LIMIT, Bowl, Process
from engine.bowl.predict import Forecast, predict
from engine.colorimetry.lights import Light
from engine.dye.shade import Shade
from engine.errors import BadInput
from engine.hair.canvas import Canvas


@dataclass(frozen=True, kw_only=True, eq=False)
class OverPour:
    """What to do about pours that are over their plan.

    factor: how much more of everything keeps the recipe, 1 when nothing is over. still_to_pour: grams by shade that
    are missing then. kept, left: the forecasts of the recipe kept, and of the over-pour left as it is.
    """

    factor: float
    still_to_pour: Mapping[Shade, float]
    total_g: float
    kept: Forecast
    left: Forecast


def after_pours(
    canvas: Canvas,
    planned: Bowl,
    poured: Mapping[Shade, float],
    *,
    step_g: float = 0.1,
    target_lab: FloatArray | None = None,
    process: Process = FULL_TIME_DRY,
    light: Light = Light.DAYLIGHT,
) -> OverPour:
    """The ways out while a recipe is being weighed; shades not yet poured count as planned.

    Raises BadInput for a shade that the recipe does not have, and for one that is so far over that no bowl is large
    enough: no scale-up keeps such a recipe.
    """
    for shade, grams in poured.items():
        if grams > 0 and planned.grams.get(shade, 0) <= 0:
            raise BadInput(f"poured.{shade.name}", f"poured.{shade.name} is not in the recipe: adjust the bowl instead")
    factor = max([1.0, *(grams / planned.grams[shade] for shade, grams in poured.items() if grams > 0)])
    scaled = {
        shade: max(_up_to_step(grams * factor, step_g), poured.get(shade, 0.0))
        for shade, grams in planned.grams.items()
    }
    if max(scaled.values()) > GRAMS_LIMIT:
        words = f"poured is {factor:g} times the plan: the recipe would take more than {GRAMS_LIMIT:g} g of a shade"
        raise BadInput("poured", words)
    left = {shade: max(grams, poured.get(shade, 0.0)) for shade, grams in planned.grams.items()}

    def forecast(grams: Mapping[Shade, float]) -> Forecast:
        return predict(canvas, Bowl(grams=grams), process=process, light=light, target_lab=target_lab)

    missing = {shade: round(grams - poured.get(shade, 0.0), 6) for shade, grams in scaled.items()}
    return OverPour(
        factor=factor,
        still_to_pour={shade: grams for shade, grams in missing.items() if grams > 1e-9},
        total_g=float(sum(scaled.values())),
        kept=forecast(scaled),
        left=forecast(left),
    )


def _up_to_step(grams: float, step_g: float) -> float:
    """Grams rounded to the scale's nearest step."""
    return round(float(np.rint(grams / step_g)) * step_g, 6)
