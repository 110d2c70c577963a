"""Jobs as plain JSON values: read, checked, done, and answered."""

from collections.abc import Callable, Mapping
from typing import Final

from engine.bowl.match import SHADES_LIMIT, Match, match
from engine.bowl.predict import Forecast, Warning, predict
from engine.bowl.weigh import Scale
from engine.colorimetry.lab import lch_of
from engine.errors import BadInput, EngineError, OutOfRange, Unknown, WrongType
from engine.reading import (
    Job,
    JsonObject,
    an_object,
    read_bowl,
    read_light,
    read_process,
    read_shades,
    read_target,
    read_zones,
)

JOBS_LIMIT: Final = 10_000
SINGLE_ZONE: Final = ""
COMMON_FIELDS: Final = frozenset({"task", "canvas", "zones", "shades", "target", "light"})


def run_all(jobs: object) -> object:
    """The answer to a job, or the list of answers to a list of them.

    In a list, a bad job gets its `error` object in its place; a single bad job raises.
    """
    if not isinstance(jobs, list):
        return run(jobs)
    if len(jobs) > JOBS_LIMIT:
        raise OutOfRange("jobs", len(jobs), 0, JOBS_LIMIT)
    return [_run_or_explain(job, index) for index, job in enumerate(jobs)]


def run(given: object) -> JsonObject:
    """The answer to one job. Raises BadInput."""
    job = an_object("job", given)
    task = job.get("task")
    if not isinstance(task, str):
        raise WrongType("task", task, f"one of {', '.join(TASKS)}")
    if task not in TASKS:
        raise Unknown("task", task, TASKS)
    own_fields, perform = TASKS[task]
    for name in job:
        if name not in COMMON_FIELDS | own_fields:
            raise Unknown("job", name, sorted(COMMON_FIELDS | own_fields))
    return {"task": task, **perform(job)}


def error_object(error: EngineError) -> JsonObject:
    """An error as the command line shows it."""
    field = error.field if isinstance(error, BadInput) else ""
    return {"error": {"code": error.code, "field": field, "message": str(error)}}


def _run_or_explain(job: object, index: int) -> JsonObject:
    try:
        return run(job)
    except BadInput as error:
        explained = error_object(error)
        explained["index"] = index
        return explained


def _predict(job: Job) -> JsonObject:
    shelf = read_shades(job)
    bowl = read_bowl(job, shelf)
    target_lab, light, process = read_target(job), read_light(job), read_process(job)
    answers = {
        name: forecast_object(predict(canvas, bowl, process=process, light=light, target_lab=target_lab))
        for name, canvas in read_zones(job, shelf).items()
    }
    return answers.get(SINGLE_ZONE, {"zones": answers})


def _match(job: Job) -> JsonObject:
    shelf = read_shades(job)
    if "zones" in job:
        raise BadInput("zones", "zones can't be matched yet: give one canvas")
    canvas = read_zones(job, shelf)[SINGLE_ZONE]
    target_lab = read_target(job, required=True)
    assert target_lab is not None  # noqa: S101  read_target raised
    max_shades = job.get("max_shades", 3)
    if isinstance(max_shades, bool) or not isinstance(max_shades, int):
        raise WrongType("max_shades", max_shades, "a whole number")
    if not 1 <= max_shades <= SHADES_LIMIT:
        raise OutOfRange("max_shades", max_shades, 1, SHADES_LIMIT)
    given = job.get("shades")
    found = match(
        canvas,
        [shade for name, shade in shelf.items() if given is None or name in an_object("shades", given)],
        target_lab,
        scale=_scale(job),
        max_shades=max_shades,
        process=read_process(job),
        light=read_light(job),
    )
    return match_object(found)


def _scale(job: Job) -> Scale:
    names = {"total_grams": "total_g", "step_grams": "step_g", "least_grams": "least_g"}
    return Scale(**{inside: job[outside] for outside, inside in names.items() if outside in job})  # type: ignore[arg-type]


def forecast_object(forecast: Forecast) -> JsonObject:
    """A forecast as JSON: numbers rounded to what the model can carry."""
    canvas = forecast.canvas
    answer: JsonObject = {
        "lab": [round(float(v), 4) for v in forecast.lab],
        "lch": [round(float(v), 4) for v in lch_of(forecast.lab)],
        "hex": forecast.hex,
        "in_gamut": forecast.in_gamut,
        "light": forecast.light.value,
        "assumptions": {
            "level": canvas.level,
            "warmth": canvas.warmth,
            "lean": canvas.lean,
            "porosity": canvas.porosity,
            "grey": canvas.grey,
            "minutes": forecast.process.minutes,
            "damp": forecast.process.damp,
        },
        "warnings": [warning_object(w) for w in forecast.warnings],
    }
    if forecast.aim:
        answer["delta_e00"] = round(forecast.aim.delta_e00, 4)
        answer["words"] = forecast.aim.words
    return answer


def match_object(found: Match) -> JsonObject:
    """A match as JSON: the best recipe's fields on top, all recipes in `recipes`."""
    recipes = [
        {"grams": {shade.name: g for shade, g in recipe.bowl.grams.items()}, **forecast_object(recipe.forecast)}
        for recipe in found.recipes
    ]
    return {
        **recipes[0],
        "limited_by": found.limited_by.value,
        "sets_tried": found.sets_tried,
        "recipes": recipes,
        "warnings": [warning_object(w) for w in (*found.warnings, *found.recipes[0].forecast.warnings)],
    }


def warning_object(warning: Warning) -> JsonObject:
    """A warning as JSON."""
    return {"code": warning.code, "severity": warning.severity.value, "sentence": warning.sentence}


TASKS: Final[Mapping[str, tuple[frozenset[str], Callable[[Job], JsonObject]]]] = {
    "predict": (frozenset({"bowl"}), _predict),
    "match": (frozenset({"bowl", "max_shades", "total_grams", "step_grams", "least_grams"}), _match),
}
