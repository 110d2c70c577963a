"""Tasks that say what a bowl or hair looks like: predict, spread, steer, fade, reach, read."""

from collections.abc import Mapping
from typing import Final

from engine import answers
from engine.arrays import finite, within
from engine.bowl.fade import fade, faded_canvas
from engine.bowl.predict import predict, seen_as
from engine.bowl.reach import reach, within_reach
from engine.bowl.spread import EVEN, SAMPLES, Doubt, spread
from engine.bowl.steer import steer
from engine.errors import Missing
from engine.hair.canvas import Canvas
from engine.hair.reading import read_hair
from engine.hair.source import Source
from engine.reading import (
    Job,
    JsonObject,
    a_choice,
    a_flag,
    a_whole_number,
    an_object,
    read_lab,
    read_ladder,
    read_target,
)
from engine.tasks.common import HAIR_FIELDS, SETTING_FIELDS, Task, per_zone, read_setting, washes_of


def _predict(job: Job) -> JsonObject:
    setting, target_lab, washes, hot = read_setting(job), read_target(job), washes_of(job, 0), a_flag(job, "hot_water")
    bowl, process, light = setting.bowl, setting.process, setting.light

    def ask(canvas: Canvas) -> JsonObject:
        found = predict(canvas, bowl, process=process, light=light, target_lab=target_lab)
        if bowl is None:
            return answers.forecast_object(found)
        wander = spread(canvas, bowl, process=process, light=light, washes=washes)
        if washes:
            worn = faded_canvas(canvas, bowl, washes, hot_water=hot, process=process)
            first_day, found = found, predict(worn, None, light=light, target_lab=target_lab)
            if process.taught:
                path = fade(canvas, bowl, washes=washes, hot_water=hot, process=process, light=light)
                found = seen_as(found, path.lab[-1], target_lab)
            return {**answers.forecast_object(found, wander), "warnings": answers.warning_objects(first_day.warnings)}
        return answers.forecast_object(found, wander)

    return per_zone(job, setting, ask)


def _steer(job: Job) -> JsonObject:
    setting = read_setting(job)
    add_g = finite("add_grams", job.get("add_grams", 1.0), "g")
    grams = dict(setting.bowl.grams) if setting.bowl else {}

    def ask(canvas: Canvas) -> JsonObject:
        found = steer(canvas, grams, setting.shelf, add_g=add_g, process=setting.process, light=setting.light)
        return {
            **answers.steering_object(found, setting.light),
            **answers.standing_object(canvas, setting.bowl, setting.process, setting.light),
        }

    return per_zone(job, setting, ask)


def _spread(job: Job) -> JsonObject:
    setting, washes = read_setting(job), washes_of(job, 0)
    given = an_object("doubt", job.get("doubt", {}), frozenset({"level", "porosity", "grams", "minutes"}))
    # The level is in doubt as far as what it was read by leaves it, unless the job says how far.
    read_by = a_choice("read_by", job.get("read_by", Source.EYE.value), Source)
    doubts = {name: finite(f"doubt.{name}", number) for name, number in given.items()}
    doubt = Doubt(**{"level": EVEN * read_by.level_sd, **doubts})
    count = a_whole_number("samples", job["samples"], 1, SAMPLES_MOST) if "samples" in job else 0
    bowl = setting.needed_bowl

    def ask(canvas: Canvas) -> JsonObject:
        found = spread(
            canvas,
            bowl,
            doubt=doubt,
            process=setting.process,
            light=setting.light,
            washes=washes,
            samples=count or SAMPLES,
        )
        standing = answers.standing_object(canvas, bowl, setting.process, setting.light, found)
        told = {**answers.spread_object(found, setting.light), **standing}
        return {**told, "samples_lab": [answers.numbers(lab) for lab in found.samples]} if count else told

    return per_zone(job, setting, ask)


def _fade(job: Job) -> JsonObject:
    setting, washes, hot = read_setting(job), washes_of(job, 20), a_flag(job, "hot_water")
    bowl = setting.needed_bowl

    def ask(canvas: Canvas) -> JsonObject:
        path = fade(canvas, bowl, washes=washes, hot_water=hot, process=setting.process, light=setting.light)
        standing = answers.standing_object(canvas, bowl, setting.process, setting.light)
        return {**answers.fade_object(path, setting.light), **standing}

    return per_zone(job, setting, ask)


def _reach(job: Job) -> JsonObject:
    setting, target_lab = read_setting(job), read_target(job)
    if "depth" in job:
        depth = within("depth", job["depth"], 0, 100)
    elif target_lab is not None:
        depth = float(target_lab[0])
    else:
        raise Missing("target", "an object with lab or lch, or a depth,")
    process, light = setting.process, setting.light

    def ask(canvas: Canvas) -> JsonObject:
        answer = answers.reach_object(reach(canvas, setting.shelf, depth, process=process, light=light), light)
        if target_lab is not None:
            found = within_reach(canvas, setting.shelf, target_lab, process=process, light=light)
            answer |= answers.within_object(found, light)
        return {**answer, **answers.standing_object(canvas, None, process, light)}

    return per_zone(job, setting, ask)


def _read(job: Job) -> JsonObject:
    setting, ladder = read_setting(job), read_ladder(job)
    if "lab" not in job:
        raise Missing("lab", "a list of L*, a* and b*")
    casts = [shade for shade in setting.shelf if not shade.is_clear]
    found = read_hair(read_lab("lab", job["lab"]), light=setting.light, casts=casts)
    return {**answers.reading_object(found, setting.light), "undertone": ladder.undertone(found.canvas.level)}


SAMPLES_MOST: Final = 4096
KNOWN: Final = HAIR_FIELDS | SETTING_FIELDS
FORECASTING: Final[Mapping[str, Task]] = {
    "predict": Task(fields=KNOWN | {"target", "washes", "hot_water"}, perform=_predict),
    "steer": Task(fields=KNOWN | {"add_grams"}, perform=_steer),
    "spread": Task(fields=KNOWN | {"doubt", "washes", "read_by", "samples"}, perform=_spread),
    "fade": Task(fields=KNOWN | {"washes", "hot_water"}, perform=_fade),
    "reach": Task(fields=KNOWN | {"target", "depth"}, perform=_reach),
    "read": Task(fields=frozenset({"shades", "light", "lab", "ladder", "knowledge", "client"}), perform=_read),
}
