"""The forecast against a second one, written from the model's own text in plain loops, with the tables of a library.

Nothing of the engine's reckoning is used here: the observer and the lights come from colour-science, the rest is
arithmetic on one wavelength after another. Sources: [CHI16], [CIE15]; the form of uptake and residue is the
model's own (docs/model.md).
"""

import math
import unittest
import warnings
from collections.abc import Mapping

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from engine.bowl.fade import fade, faded_canvas
from engine.bowl.mix import Bowl, Process
from engine.bowl.predict import predict
from engine.colorimetry.lights import Light
from engine.dye.shade import Shade
from engine.dye.shelf import demo_shelf
from engine.hair.canvas import Canvas, OldColour

with warnings.catch_warnings():
    warnings.simplefilter("ignore")
    import colour

GRID = list(range(380, 785, 5))
LEVEL_LIGHTNESS = (18, 22, 27, 33, 40, 48, 56.5, 65, 73, 80)
NAMES = ("yellow", "orange", "red", "crimson", "magenta", "violet", "blue", "turquoise", "green", "black")
LIGHTS = {Light.DAYLIGHT: "D65", Light.EVENING: "A", Light.SALON: "LED-B3", Light.SHOP: "FL2"}

GRAMS = st.dictionaries(st.sampled_from(NAMES), st.floats(0.1, 20), min_size=1, max_size=4)
LEVELS = st.floats(4, 10.9)


def _tables(light: Light) -> tuple[list[list[float]], list[float]]:
    """Weights (81 x 3) and the white of a light, from the library's own tables."""
    shape = colour.SpectralShape(380, 780, 5)
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        observer = colour.MSDS_CMFS["CIE 1931 2 Degree Standard Observer"].copy().align(shape).values
        power = colour.SDS_ILLUMINANTS[LIGHTS[light]].copy().align(shape).values
    weights = [[power[i] * observer[i][k] for k in range(3)] for i in range(81)]
    total = sum(row[1] for row in weights)
    weights = [[part / total for part in row] for row in weights]
    return weights, [sum(row[k] for row in weights) for k in range(3)]


TABLES = {light: _tables(light) for light in LIGHTS}


def lab(reflectance: list[float], light: Light = Light.DAYLIGHT) -> list[float]:
    """L*a*b* of a reflectance. [CIE15]."""
    weights, white = TABLES[light]
    xyz = [sum(r * row[k] for r, row in zip(reflectance, weights, strict=True)) for k in range(3)]

    def f(t: float) -> float:
        return t ** (1 / 3) if t > (6 / 29) ** 3 else t / (3 * (6 / 29) ** 2) + 4 / 29

    x, y, z = (f(part / of) for part, of in zip(xyz, white, strict=True))
    return [116 * y - 16, 500 * (x - y), 200 * (y - z)]


def seen(k: float) -> float:
    """Reflectance of a hair assembly, the form of [CHI16]."""
    return 0.012 + (1 - 0.012) * math.exp(-2.378 * math.sqrt(k))


def band(nm: float, centre: float, sigma: float) -> float:
    """A Gaussian in wavenumber."""
    width = sigma * 1e7 / centre**2
    return math.exp(-0.5 * ((1e7 / nm - 1e7 / centre) / width) ** 2)


def keratin(nm: float) -> float:
    return 0.02 + 0.05 * math.exp(-(nm - 380) / 55)


def residue(nm: float, warmth: float, lean: float) -> float:
    return (nm / 550) ** -(7 + 1.2 * warmth) + lean * band(nm, 500, 45)


def bare(canvas: Canvas) -> list[float]:
    """K/S of bare lightened hair: the residue's amount is halved and doubled until the lightness is the level's."""
    white = lab([seen(keratin(nm)) for nm in GRID])[0]
    steps = [*LEVEL_LIGHTNESS, white]
    low = math.floor(canvas.level)
    wanted = steps[low - 1] if low >= 11 else steps[low - 1] + (canvas.level - low) * (steps[low] - steps[low - 1])

    def hair(amount: float) -> list[float]:
        return [keratin(nm) + amount * residue(nm, canvas.warmth, canvas.lean) for nm in GRID]

    least, most = 0.0, 1.0
    while lab([seen(k) for k in hair(most)])[0] > wanted:
        most *= 2
    for _ in range(80):
        middle = (least + most) / 2
        if lab([seen(k) for k in hair(middle)])[0] > wanted:
            least = middle
        else:
            most = middle
    return hair(most)


def shade_at(shade: Shade, nm: float) -> float:
    return sum(each.weight * band(nm, each.centre_nm, each.sigma_nm) for each in shade.bands)


def taken(grams: Mapping[str, float], porosity: float, minutes: float | None, damp: bool) -> dict[str, float]:
    """What hair takes of each dye: porosity and time multiply it, and damp hair evens and takes less."""
    total = sum(grams.values())
    colours = {name: g / total for name, g in grams.items() if name != "clear"}
    met = porosity + (1 - porosity) / 2 if damp else porosity
    gain = met * (0.85 if damp else 1.0)
    if minutes is not None:
        gain *= 1 - math.exp(-minutes * met / 7)
    strength = {name: demo_shelf()[name].strength for name in colours}
    return {name: strength[name] * x * gain for name, x in colours.items()}


def forecast(
    canvas: Canvas,
    grams: Mapping[str, float],
    *,
    minutes: float | None = None,
    damp: bool = False,
    light: Light = Light.DAYLIGHT,
    left: Mapping[str, float] | None = None,
) -> list[float]:
    """L*a*b* by the second way. left: what share of each dye washes have left."""
    uptakes = taken(grams, canvas.porosity, minutes, damp)
    hair, reflectance = bare(canvas), []
    for place, nm in enumerate(GRID):
        added = sum(u * (left or {}).get(name, 1.0) * shade_at(demo_shelf()[name], nm) for name, u in uptakes.items())
        added += sum(layer.k_s * shade_at(layer.shade, nm) for layer in canvas.old)
        white = 2.2 * keratin(nm)
        mean = (1 - canvas.grey) * (hair[place] + added) ** 0.6 + canvas.grey * (white + added) ** 0.6
        reflectance.append(seen(mean ** (1 / 0.6)))
    return lab(reflectance, light)


def engine_bowl(grams: Mapping[str, float]) -> Bowl:
    return Bowl(grams={demo_shelf()[name]: g for name, g in grams.items()})


class TheSecondForecast(unittest.TestCase):
    def near(self, engine: np.ndarray, second: list[float], within: float = 0.02) -> None:
        np.testing.assert_allclose(engine, second, atol=within)

    @settings(max_examples=12, deadline=None)
    @given(level=LEVELS, warmth=st.floats(-2, 2), lean=st.floats(0, 6))
    def test_bare_hair(self, level: float, warmth: float, lean: float) -> None:
        canvas = Canvas(level=level, warmth=warmth, lean=lean)
        self.near(predict(canvas, None).lab, lab([seen(k) for k in bare(canvas)]))

    @settings(max_examples=15, deadline=None)
    @given(level=LEVELS, porosity=st.floats(0.5, 1.6), grams=GRAMS, clear=st.floats(0, 200))
    def test_dyed_hair_at_any_dilution(
        self, level: float, porosity: float, grams: dict[str, float], clear: float
    ) -> None:
        canvas, mixed = Canvas(level=level, porosity=porosity), {**grams, "clear": clear}
        self.near(predict(canvas, engine_bowl(mixed)).lab, forecast(canvas, mixed))

    @settings(max_examples=12, deadline=None)
    @given(grams=GRAMS, minutes=st.floats(1, 60), damp=st.booleans(), porosity=st.floats(0.5, 1.6))
    def test_time_and_damp_hair(self, grams: dict[str, float], minutes: float, damp: bool, porosity: float) -> None:
        canvas = Canvas(level=10, porosity=porosity)
        engine = predict(canvas, engine_bowl(grams), process=Process(minutes=minutes, damp=damp)).lab
        self.near(engine, forecast(canvas, grams, minutes=minutes, damp=damp))

    @settings(max_examples=10, deadline=None)
    @given(level=st.floats(5, 9), grey=st.floats(0, 1), grams=GRAMS)
    def test_grey_hair_is_white_and_pigmented_fibres_among_one_another(
        self, level: float, grey: float, grams: dict[str, float]
    ) -> None:
        canvas = Canvas(level=level, grey=grey)
        self.near(predict(canvas, engine_bowl(grams)).lab, forecast(canvas, grams))

    @settings(max_examples=10, deadline=None)
    @given(grams=GRAMS, light=st.sampled_from(list(LIGHTS)))
    def test_other_lights(self, grams: dict[str, float], light: Light) -> None:
        canvas = Canvas(level=9.5)
        self.near(predict(canvas, engine_bowl(grams), light=light).lab, forecast(canvas, grams, light=light), 0.05)

    @settings(max_examples=10, deadline=None)
    @given(grams=GRAMS, name=st.sampled_from(NAMES), k_s=st.floats(0, 2))
    def test_old_colour_lies_beneath(self, grams: dict[str, float], name: str, k_s: float) -> None:
        canvas = Canvas(level=10, old=(OldColour(shade=demo_shelf()[name], k_s=k_s),))
        self.near(predict(canvas, engine_bowl(grams)).lab, forecast(canvas, grams))

    @settings(max_examples=10, deadline=None)
    @given(grams=GRAMS, washes=st.integers(0, 20), porosity=st.floats(0.6, 1.5))
    def test_washes_take_a_share_of_each_dye(self, grams: dict[str, float], washes: int, porosity: float) -> None:
        canvas = Canvas(level=10, porosity=porosity)
        # A quarter is left at the end of a line's life in washes, sooner on porous hair.
        left = {n: 0.25 ** (washes * porosity / demo_shelf()[n].life_washes) for n in grams if n != "clear"}
        second = forecast(canvas, grams, left=left)
        self.near(fade(canvas, engine_bowl(grams), washes=washes).lab[-1], second)
        self.near(predict(faded_canvas(canvas, engine_bowl(grams), washes), None).lab, second)
