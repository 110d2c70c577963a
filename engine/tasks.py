"""The tasks of the command line: each reads its part of a job, asks the engine, and answers with an object."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Final

from engine import answers
from engine.arrays import FloatArray, finite, within
from engine.bowl.adjust import adjust
from engine.bowl.fade import WASHES_MOST, fade, faded_canvas
from engine.bowl.fill import FillFrom, fill
from engine.bowl.match import SHADES_LIMIT, match
from engine.bowl.mix import Bowl
from engine.bowl.predict import predict
from engine.bowl.reach import reach, within_reach
from engine.bowl.spread import Doubt, spread
from engine.bowl.steer import steer
from engine.bowl.weigh import Scale
from engine.dye.shade import Shade
from engine.errors import EmptyBowl, Missing, WrongType
from engine.hair.canvas import Canvas
from engine.hair.reading import read_hair
from engine.reading import (
    Job,
    JsonObject,
    a_choice,
    a_whole_number,
    an_object,
    read_bowl,
    read_lab,
    read_light,
    read_process,
    read_shades,
    read_target,
    read_zones,
)

SINGLE_ZONE: Final = ""
SCALE_FIELDS: Final = frozenset({"total_grams", "step_grams", "least_grams"})


@dataclass(frozen=True, kw_only=True)
class Task:
    """A task: the fields that it knows beside `task`, and what it does."""

    fields: frozenset[str]
    perform: Callable[[Job], JsonObject]


def per_zone(job: Job, shelf: Mapping[str, Shade], ask: Callable[[Canvas], JsonObject]) -> JsonObject:
    """The answer for the one canvas, or answers by zone under `zones`."""
    found: dict[str, object] = {name: ask(canvas) for name, canvas in read_zones(job, shelf).items()}
    single = found.get(SINGLE_ZONE)
    return single if isinstance(single, dict) else {"zones": found}


def own_shelf(job: Job, shelf: Mapping[str, Shade]) -> list[Shade]:
    """The shades that a recipe may use: those that the job names, else the whole demo shelf."""
    given = job.get("shades")
    return [shade for name, shade in shelf.items() if given is None or name in an_object("shades", given)]


def needed_bowl(job: Job, shelf: Mapping[str, Shade]) -> Bowl:
    """The job's bowl. Raises Missing."""
    bowl = read_bowl(job, shelf)
    if bowl is None:
        raise Missing("bowl", "an object with grams")
    return bowl


def needed_target(job: Job) -> FloatArray:
    """The job's target. Raises Missing."""
    target_lab = read_target(job)
    if target_lab is None:
        raise Missing("target", "an object with lab or lch")
    return target_lab


def a_scale(job: Job) -> Scale:
    """The scale of the job, with the defaults of the engine."""
    numbers = {name: finite(name, job[name], "g") for name in SCALE_FIELDS if name in job}
    return Scale(
        total_g=numbers.get("total_grams", Scale.total_g),
        step_g=numbers.get("step_grams", Scale.step_g),
        least_g=numbers.get("least_grams"),
    )


def a_flag(job: Job, name: str) -> bool:
    """A yes or no of the job, no by default. Raises WrongType."""
    given = job.get(name, False)
    if not isinstance(given, bool):
        raise WrongType(name, given, "true or false")
    return given


def _predict(job: Job) -> JsonObject:
    shelf = read_shades(job)
    bowl, target_lab, light, process = read_bowl(job, shelf), read_target(job), read_light(job), read_process(job)
    washes = a_whole_number("washes", job.get("washes", 0), 0, WASHES_MOST)

    def ask(canvas: Canvas) -> JsonObject:
        if washes and bowl:
            worn = faded_canvas(canvas, bowl, washes, process=process)
            return answers.forecast_object(predict(worn, None, light=light, target_lab=target_lab))
        return answers.forecast_object(predict(canvas, bowl, process=process, light=light, target_lab=target_lab))

    return per_zone(job, shelf, ask)


def _match(job: Job) -> JsonObject:
    shelf, target_lab, scale = read_shades(job), needed_target(job), a_scale(job)
    max_shades = a_whole_number("max_shades", job.get("max_shades", 3), 1, SHADES_LIMIT)
    process, light = read_process(job), read_light(job)

    def ask(canvas: Canvas) -> JsonObject:
        found = match(
            canvas,
            own_shelf(job, shelf),
            target_lab,
            scale=scale,
            max_shades=max_shades,
            process=process,
            light=light,
        )
        return answers.match_object(found)

    return per_zone(job, shelf, ask)


def _adjust(job: Job) -> JsonObject:
    shelf, target_lab = read_shades(job), needed_target(job)
    bowl = needed_bowl(job, shelf)
    if bowl.total_g <= 0:
        raise EmptyBowl
    max_total_g = finite("max_total_grams", job.get("max_total_grams", 2 * bowl.total_g), "g")
    step_g, process, light = a_scale(job).step_g, read_process(job), read_light(job)

    def ask(canvas: Canvas) -> JsonObject:
        found = adjust(
            canvas,
            bowl,
            own_shelf(job, shelf),
            target_lab,
            max_total_g=max_total_g,
            step_g=step_g,
            process=process,
            light=light,
        )
        return answers.adjustment_object(found)

    return per_zone(job, shelf, ask)


def _steer(job: Job) -> JsonObject:
    shelf, light, process = read_shades(job), read_light(job), read_process(job)
    bowl = read_bowl(job, shelf)
    add_g = finite("add_grams", job.get("add_grams", 1.0), "g")
    grams = dict(bowl.grams) if bowl else {}

    def ask(canvas: Canvas) -> JsonObject:
        found = steer(canvas, grams, own_shelf(job, shelf), add_g=add_g, process=process, light=light)
        return answers.steering_object(found, light)

    return per_zone(job, shelf, ask)


def _spread(job: Job) -> JsonObject:
    shelf, light, process = read_shades(job), read_light(job), read_process(job)
    bowl = needed_bowl(job, shelf)
    given = an_object("doubt", job.get("doubt", {}), frozenset({"level", "porosity", "grams", "minutes"}))
    doubt = Doubt(**{name: finite(f"doubt.{name}", number) for name, number in given.items()})

    def ask(canvas: Canvas) -> JsonObject:
        return answers.spread_object(spread(canvas, bowl, doubt=doubt, process=process, light=light), light)

    return per_zone(job, shelf, ask)


def _fade(job: Job) -> JsonObject:
    shelf, light, process = read_shades(job), read_light(job), read_process(job)
    bowl = needed_bowl(job, shelf)
    washes, hot = a_whole_number("washes", job.get("washes", 20), 0, WASHES_MOST), a_flag(job, "hot_water")

    def ask(canvas: Canvas) -> JsonObject:
        path = fade(canvas, bowl, washes=washes, hot_water=hot, process=process, light=light)
        return answers.fade_object(path, light)

    return per_zone(job, shelf, ask)


def _fill(job: Job) -> JsonObject:
    shelf, light, scale = read_shades(job), read_light(job), a_scale(job)
    if "level" not in job:
        raise Missing("level", "the level to go down to, 1 to 11")
    level = within("level", job["level"], 1, 11)
    final, school = read_bowl(job, shelf), a_choice("fill_from", job.get("fill_from", "two_levels"), FillFrom)

    def ask(canvas: Canvas) -> JsonObject:
        found = fill(canvas, level, own_shelf(job, shelf), scale=scale, final=final, fill_from=school, light=light)
        return answers.fill_object(found, light)

    return per_zone(job, shelf, ask)


def _reach(job: Job) -> JsonObject:
    shelf, light, process = read_shades(job), read_light(job), read_process(job)
    target_lab = read_target(job)
    if target_lab is None and "depth" not in job:
        raise Missing("target", "an object with lab or lch, or a depth,")
    depth = within("depth", job["depth"], 0, 100) if "depth" in job else float(target_lab[0])  # type: ignore[index]

    def ask(canvas: Canvas) -> JsonObject:
        shades = own_shelf(job, shelf)
        answer = answers.reach_object(reach(canvas, shades, depth, process=process, light=light), light)
        if target_lab is not None:
            found = within_reach(canvas, shades, target_lab, process=process, light=light)
            answer |= answers.within_object(found, light)
        return answer

    return per_zone(job, shelf, ask)


def _read(job: Job) -> JsonObject:
    shelf, light = read_shades(job), read_light(job)
    if "lab" not in job:
        raise Missing("lab", "a list of L*, a* and b*")
    casts = [shade for shade in own_shelf(job, shelf) if not shade.is_clear]
    return answers.reading_object(read_hair(read_lab("lab", job["lab"]), light=light, casts=casts), light)


ZONES: Final = frozenset({"canvas", "zones", "shades", "light"})
TASKS: Final[Mapping[str, Task]] = {
    "predict": Task(fields=ZONES | {"bowl", "target", "washes"}, perform=_predict),
    "match": Task(fields=ZONES | SCALE_FIELDS | {"bowl", "target", "max_shades"}, perform=_match),
    "adjust": Task(fields=ZONES | {"bowl", "target", "max_total_grams", "step_grams"}, perform=_adjust),
    "steer": Task(fields=ZONES | {"bowl", "add_grams"}, perform=_steer),
    "spread": Task(fields=ZONES | {"bowl", "doubt"}, perform=_spread),
    "fade": Task(fields=ZONES | {"bowl", "washes", "hot_water"}, perform=_fade),
    "fill": Task(fields=ZONES | SCALE_FIELDS | {"bowl", "level", "fill_from"}, perform=_fill),
    "reach": Task(fields=ZONES | {"bowl", "target", "depth"}, perform=_reach),
    "read": Task(fields=frozenset({"shades", "light", "lab"}), perform=_read),
}
