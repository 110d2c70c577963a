"""Results of the engine as JSON objects: numbers rounded to what the model can carry."""

from collections.abc import Mapping, Sequence

from engine.arrays import FloatArray
from engine.bowl.adjust import Adjustment
from engine.bowl.cautions import Warning
from engine.bowl.fade import FadePath
from engine.bowl.fill import Fill
from engine.bowl.match import Match, Recipe
from engine.bowl.mix import Bowl, Process
from engine.bowl.pour import OverPour
from engine.bowl.predict import Forecast, predict
from engine.bowl.reach import Reach, Within
from engine.bowl.spread import Spread, spread
from engine.bowl.steer import Steering
from engine.bowl.strategies import Outcome
from engine.colorimetry.lab import lch_of
from engine.colorimetry.lights import Light, viewing
from engine.colorimetry.screen import screen_colour
from engine.dye.characterise import Characterised
from engine.dye.known import ShadeDoubt
from engine.dye.shade import Shade
from engine.hair.canvas import Canvas
from engine.hair.reading import HairReading
from engine.knowledge.stored import stored
from engine.learning.learn import Learned
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
        "yellowing": canvas.yellowing,
        "family": canvas.family.value,
        "old": [{"shade": layer.shade.name, "k_s": round(layer.k_s, 4)} for layer in canvas.old],
    }


def grams_object(grams: Mapping[Shade, float]) -> JsonObject:
    """Grams by shade name."""
    return {shade.name: round(weight, 4) for shade, weight in grams.items()}


def warning_object(warning: Warning) -> JsonObject:
    """A warning with its code."""
    return {"code": warning.code, "severity": warning.severity.value, "sentence": warning.sentence}


def warning_objects(warnings: Sequence[Warning]) -> list[JsonObject]:
    """Warnings in their order."""
    return [warning_object(warning) for warning in warnings]


def wander_object(within_50: float, within_90: float) -> JsonObject:
    """How far half, and nine in ten, of the results stay from the forecast, in delta E00."""
    return {"within_50": round(within_50, 4), "within_90": round(within_90, 4)}


def assumptions_object(canvas: Canvas, process: Process, light: Light) -> JsonObject:
    """What an answer was reckoned from."""
    return {
        **canvas_object(canvas),
        "minutes": process.minutes,
        "damp": process.damp,
        "developer_vol": process.developer_vol,
        "ratio": process.ratio,
        "light": light.value,
    }


def standing_object(
    canvas: Canvas, bowl: Bowl | None, process: Process, light: Light, found: Spread | None = None
) -> JsonObject:
    """What answers without a forecast of their own carry: assumptions, the spread of the bowl if any, warnings."""
    answer: JsonObject = {
        "assumptions": assumptions_object(canvas, process, light),
        "warnings": warning_objects(predict(canvas, bowl, process=process, light=light).warnings),
    }
    if bowl:
        found = found or spread(canvas, bowl, process=process, light=light)
        answer["spread"] = wander_object(found.within_50, found.within_90)
    return answer


def forecast_object(forecast: Forecast, wander: Spread | Recipe | None = None) -> JsonObject:
    """A forecast with what it was reckoned from, and how far results may wander."""
    answer: JsonObject = {
        "lab": numbers(forecast.lab),
        "lch": numbers(forecast.lch),
        "hex": forecast.hex,
        "in_gamut": forecast.in_gamut,
        "light": forecast.light.value,
        "assumptions": assumptions_object(forecast.canvas, forecast.process, forecast.light),
        "warnings": warning_objects(forecast.warnings),
    }
    if wander:
        answer["spread"] = wander_object(wander.within_50, wander.within_90)
    if forecast.aim:
        answer["delta_e00"] = round(forecast.aim.delta_e00, 4)
        answer["words"] = forecast.aim.words
    return answer


def recipe_object(recipe: Recipe) -> JsonObject:
    """A recipe with the forecast of its zone."""
    return {
        "grams": grams_object(recipe.bowl.grams),
        "cost": round(recipe.cost, 4),
        "chance": round(recipe.chance, 4),
        **forecast_object(recipe.forecast, recipe),
    }


def match_object(found: Match) -> JsonObject:
    """A match: the best recipe's fields on top, all recipes in `recipes`."""
    recipes = [recipe_object(recipe) for recipe in found.recipes]
    return {
        **recipes[0],
        "limited_by": found.limited_by.value,
        "sets_tried": found.sets_tried,
        "recipes": recipes,
        "warnings": warning_objects((*found.warnings, *found.recipes[0].forecast.warnings)),
    }


def shared_match_object(found: Match, zones: Sequence[str]) -> JsonObject:
    """One bowl for several zones: each recipe with the forecast of every zone."""
    return {
        "one_bowl": True,
        "limited_by": found.limited_by.value,
        "sets_tried": found.sets_tried,
        "warnings": warning_objects(found.warnings),
        "recipes": [
            {
                "grams": grams_object(recipe.bowl.grams),
                "cost": round(recipe.cost, 4),
                "chance": round(recipe.chance, 4),
                "delta_e00": round(recipe.delta_e00, 4),
                "spread": wander_object(recipe.within_50, recipe.within_90),
                "zones": {
                    name: forecast_object(forecast) for name, forecast in zip(zones, recipe.forecasts, strict=True)
                },
            }
            for recipe in found.recipes
        ],
    }


def outcome_object(found: Outcome) -> JsonObject:
    """One strategy for the undertone."""
    return {
        **forecast_object(found.forecast),
        "strategy": found.strategy.value,
        "grams": grams_object(found.bowl.grams),
        "toner": grams_object(found.toner.grams) if found.toner else None,
    }


def over_pour_object(found: OverPour) -> JsonObject:
    """The ways out after a pour."""
    return {
        "factor": round(found.factor, 6),
        "still_to_pour": grams_object(found.still_to_pour),
        "total_grams": round(found.total_g, 4),
        "kept": forecast_object(found.kept),
        "left": forecast_object(found.left),
    }


def learned_object(found: Learned) -> JsonObject:
    """What records taught: knowledge to be handed back as it is, and what a person may read of it."""
    knowledge = found.knowledge
    return {
        "knowledge": stored(knowledge),
        "before": {"median": round(found.before.median, 4), "p90": round(found.before.most, 4)},
        "after": {"median": round(found.after.median, 4), "p90": round(found.after.most, 4)},
        "model": knowledge.model,
        "records": knowledge.records,
        "shades": {
            each.name: {
                "factor": round(each.factor, 4),
                "doubt": round(each.doubt, 4),
                "shift_nm": round(each.shift_nm, 4),
            }
            for each in knowledge.told_of_shades
        },
        "misfits": [
            {
                "record": each.record,
                "delta_e00": round(each.delta_e00, 4),
                "cause": each.cause.value,
                "chance": round(each.chance, 4),
                "sentence": each.sentence,
            }
            for each in found.misfits
        ],
    }


def doubt_object(doubt: ShadeDoubt) -> JsonObject:
    """How well a shade is known, as a job's `shades` take it."""
    return {"source": doubt.source.value, "count": doubt.count, "factors": [list(row) for row in doubt.factors]}


def characterised_object(found: Characterised) -> JsonObject:
    """A new shade, to be used as one of a job's `shades`."""
    shade = found.shade
    return {
        "name": shade.name,
        "shade": {
            "kind": shade.kind.value,
            "strength": shade.strength,
            "samples": [round(float(each), 6) for each in shade.samples],
            **({"doubt": doubt_object(shade.doubt)} if shade.doubt else {}),
        },
        "family": found.family,
        "misses": numbers(found.misses),
        "settled": found.settled,
        "next_strand": {
            "level": found.next_strand.level,
            "share": found.next_strand.share,
            "doubt": round(found.next_strand.doubt, 4),
            "doubt_after": round(found.next_strand.doubt_after, 4),
        },
    }


def adjustment_object(found: Adjustment) -> JsonObject:
    """An adjustment: the mended bowl's forecast with the additions that lead to it."""
    bowl, after = found.after.bowl, found.after
    wander = spread(after.canvas, bowl, process=after.process, light=after.light) if bowl else None
    return {
        **forecast_object(after, wander),
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
        "samples": [colour_object(lab, light) for lab in found.shown],
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
        "fillers": [
            {
                "filler": each.filler.value,
                "filled": colour_object(each.filled_lab, light),
                "final": None if each.final_lab is None else colour_object(each.final_lab, light),
                "delta_e00": round(each.delta_e00, 4),
                "cast": each.cast,
            }
            for each in found.fillers
        ],
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
