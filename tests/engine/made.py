"""Short ways to make engine objects in tests."""

import numpy as np

from engine.arrays import FloatArray
from engine.bowl.mix import FULL_TIME_DRY, Bowl, Process
from engine.bowl.predict import Forecast, predict
from engine.colorimetry.lights import Light
from engine.dye.shelf import demo_shelf
from engine.hair.canvas import Canvas

CLEAN_WHITE = Canvas(level=11)


def bowl(**grams: float) -> Bowl:
    """A bowl of demo shades by name; blue_black is blue-black."""
    return Bowl(grams={demo_shelf()[name.replace("_", "-")]: g for name, g in grams.items()})


def dyed(
    canvas: Canvas, *, process: Process = FULL_TIME_DRY, light: Light = Light.DAYLIGHT, **grams: float
) -> Forecast:
    """The forecast of a bowl of demo shades."""
    return predict(canvas, bowl(**grams), process=process, light=light)


def lightness(forecast: Forecast) -> float:
    return float(forecast.lch[0])


def chroma(forecast: Forecast) -> float:
    return float(forecast.lch[1])


def hue(forecast: Forecast) -> float:
    return float(forecast.lch[2])


def hue_gap(one_deg: float, other_deg: float) -> float:
    """The unsigned angle between two hues."""
    return abs((one_deg - other_deg + 180) % 360 - 180)


def lab(*values: float) -> FloatArray:
    return np.array(values, dtype=float)
