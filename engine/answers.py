"""Results of the engine as JSON objects: numbers rounded to what the model can carry."""

from collections.abc import Mapping

from engine.arrays import FloatArray
from engine.bowl.adjust import Adjustment
from engine.bowl.fade import FadePath
from engine.bowl.fill import Fill
from engine.bowl.match import Match
from engine.bowl.predict import Forecast, Warning
from engine.bowl.reach import Reach, Within
from engine.bowl.spread import Spread
from engine.bowl.steer import Steering
from engine.colorimetry.lab import lch_of
from engine.colorimetry.lights import Light, viewing
from engine.colorimetry.screen import screen_colour
from engine.dye.shade import Shade
from engine.hair.canvas import Canvas
from engine.hair.reading import HairReading
from engine.reading import JsonObject


def numbers(values: FloatArray) -> list[float]:
    """A row of numbers, to four decimals."""
    return [round(float(value), 4) for value in values]


def colour_object(lab: FloatArray, light: Light) -> JsonObject:
    """A colour as L*a*b*, LCh and for the screen."""
    shown = screen_colour(lab, viewing(light).white_xyz)
    return {
        "lab": numbers(lab),
        "lch": numbers(lch_of(lab)),
        "hex": shown.hexes[0],
        "in_gamut": bool(shown.in_gamut),
        "light": light.value,
    }


def canvas_object(canvas: Canvas) -> JsonObject:
    """A canvas with everything that it assumes."""
    return {
        "level": round(canvas.level, 4),
        "warmth": round(canvas.warmth, 4),
        "lean": round(canvas.lean, 4),
        "porosity": canvas.porosity,
        "grey": canvas.grey,
        "family": canvas.family.value,
        "old": [{"shade": layer.shade.name, "k_s": round(layer.k_s, 4)} for layer in canvas.old],
    }


def grams_object(grams: Mapping[Shade, float]) -> JsonObject:
    """Grams by shade name."""
    return {shade.name: round(weight, 4) for shade, weight in grams.items()}


def warning_object(warning: Warning) -> JsonObject:
    """A warning with its code."""
    return {"code": warning.code, "severity": warning.severity.value, "sentence": warning.sentence}


def forecast_object(forecast: Forecast) -> JsonObject:
    """A forecast with what it was reckoned from."""
    answer: JsonObject = {
        "lab": numbers(forecast.lab),
        "lch": numbers(forecast.lch),
        "hex": forecast.hex,
        "in_gamut": forecast.in_gamut,
        "light": forecast.light.value,
        "assumptions": {
            **canvas_object(forecast.canvas),
            "minutes": forecast.process.minutes,
            "damp": forecast.process.damp,
            "developer_vol": forecast.process.developer_vol,
            "ratio": forecast.process.ratio,
        },
        "warnings": [warning_object(warning) for warning in forecast.warnings],
    }
    if forecast.aim:
        answer["delta_e00"] = round(forecast.aim.delta_e00, 4)
        answer["words"] = forecast.aim.words
    return answer


def match_object(found: Match) -> JsonObject:
    """A match: the best recipe's fields on top, all recipes in `recipes`."""
    recipes = [
        {"grams": grams_object(recipe.bowl.grams), **forecast_object(recipe.forecast)} for recipe in found.recipes
    ]
    return {
        **recipes[0],
        "limited_by": found.limited_by.value,
        "sets_tried": found.sets_tried,
        "recipes": recipes,
        "warnings": [warning_object(w) for w in (*found.warnings, *found.recipes[0].forecast.warnings)],
    }


def adjustment_object(found: Adjustment) -> JsonObject:
    """An adjustment: the mended bowl's forecast with the additions that lead to it."""
    return {
        **forecast_object(found.after),
        "way": found.way.value,
        "additions": grams_object(found.additions),
        "keep_fraction": found.keep_fraction,
        "waste_grams": found.waste_g,
        "total_grams": round(found.total_g, 4),
        "surplus_grams": round(found.surplus_g, 4),
        "before": forecast_object(found.before),
    }


def steering_object(found: Steering, light: Light) -> JsonObject:
    """Where the bowl stands, and where each shade would take it."""
    return {
        **colour_object(found.lab, light),
        "pulls": {
            pull.shade.name: {
                **colour_object(pull.lab, light),
                "d_lab": numbers(pull.d_lab),
                "delta_e00": round(pull.delta_e00, 4),
            }
            for pull in found.pulls
        },
    }


def spread_object(found: Spread, light: Light) -> JsonObject:
    """How far a result may wander."""
    return {
        **colour_object(found.lab, light),
        "within_50": round(found.within_50, 4),
        "within_90": round(found.within_90, 4),
        "samples": [colour_object(lab, light) for lab in found.samples],
    }


def fade_object(found: FadePath, light: Light) -> JsonObject:
    """The path of a colour over washes; the fields on top are those after the last wash."""
    return {
        **colour_object(found.lab[-1], light),
        "delta_e00": round(float(found.delta_e00[-1]), 4),
        "off_after": found.off_after,
        "through": list(found.through),
        "path": [
            {**colour_object(lab, light), "delta_e00": round(float(off), 4)}
            for lab, off in zip(found.lab, found.delta_e00, strict=True)
        ],
    }


def fill_object(found: Fill, light: Light) -> JsonObject:
    """Whether a fill is due, its steps, and what the final colour is without it."""
    answer: JsonObject = {
        "due": found.due,
        "levels_down": round(found.levels_down, 4),
        "steps": [
            {"level": round(step.level, 4), "target_lab": numbers(step.target_lab), **match_object(step.bowl)}
            for step in found.steps
        ],
        "cast": found.cast,
    }
    if found.without_lab is not None and found.with_lab is not None:
        answer["without_fill"] = colour_object(found.without_lab, light)
        answer["with_fill"] = colour_object(found.with_lab, light)
    return answer


def reach_object(found: Reach, light: Light) -> JsonObject:
    """The richest colour of each hue at a depth; hues out of reach are left out."""
    richest = [
        {"hue": round(float(hue), 4), "chroma": round(float(chroma), 4), **colour_object(lab, light)}
        for hue, chroma, lab in zip(found.hues_deg, found.chroma, found.richest, strict=True)
        if chroma > 0
    ]
    return {"depth": round(found.depth, 4), "edge": richest}


def within_object(found: Within, light: Light) -> JsonObject:
    """Whether a target can be reached, the nearest, and the level that it needs."""
    return {
        **colour_object(found.nearest_lab, light),
        "reachable": found.reachable,
        "delta_e00": round(found.delta_e00, 4),
        "lowest_level": found.lowest_level,
    }


def reading_object(found: HairReading, light: Light) -> JsonObject:
    """A canvas read from a colour."""
    cast = {"word": found.cast.word, "delta_e00": round(found.cast.delta_e00, 4)} if found.cast else None
    return {
        "canvas": canvas_object(found.canvas),
        "cast": cast,
        "delta_e00": round(found.miss_delta_e00, 4),
        "bare": colour_object(found.bare_lab, light),
    }
