"""Tasks that end in grams: match, adjust, compare, fill, refresh, pour."""

from collections.abc import Mapping
from typing import Final

from engine import answers
from engine.arrays import FloatArray, finite, within
from engine.bowl.adjust import adjust
from engine.bowl.fade import refresh
from engine.bowl.fill import FillFrom, fill
from engine.bowl.filler import FillWith
from engine.bowl.goal import WEIGHT_LIMITS, ZoneAim
from engine.bowl.match import ANSWERS, SHADES_LIMIT, match, match_zones
from engine.bowl.mix import GRAMS_LIMIT, Process
from engine.bowl.pour import after_pours
from engine.bowl.stock import PRICE_MOST, STOCK_MOST_G, Stock
from engine.bowl.strategies import compare
from engine.dye.shade import Shade
from engine.errors import BadInput, Missing, Unknown
from engine.hair.canvas import Canvas
from engine.reading import (
    Job,
    JsonObject,
    a_choice,
    a_flag,
    a_whole_number,
    an_object,
    inside,
    read_grams,
    read_target,
)
from engine.tasks.common import (
    HAIR_FIELDS,
    SCALE_FIELDS,
    SETTING_FIELDS,
    SINGLE_ZONE,
    Task,
    a_scale,
    hair_of,
    needed_target,
    per_zone,
    read_setting,
    washes_of,
)

ANSWERS_MOST: Final = 10


def _most_shades(job: Job) -> int:
    return a_whole_number("max_shades", job.get("max_shades", 3), 1, SHADES_LIMIT)


def _stock(job: Job, shades: Mapping[str, Shade]) -> Stock:
    return Stock(
        grams=read_grams("stock", job.get("stock", {}), shades, STOCK_MOST_G),
        prices=read_grams("prices", job.get("prices", {}), shades, PRICE_MOST, "a gram"),
    )


def _match(job: Job) -> JsonObject:
    if a_flag(job, "one_bowl"):
        return _match_one_bowl(job)
    for name in ("weights", "targets"):
        if name in job:
            raise BadInput(name, f"{name} is for one bowl for several zones: give one_bowl too")
    setting, target_lab, scale = read_setting(job), needed_target(job), a_scale(job)
    max_shades, stock = _most_shades(job), _stock(job, setting.shades)
    count = a_whole_number("answers", job.get("answers", ANSWERS), 1, ANSWERS_MOST)

    def ask(canvas: Canvas) -> JsonObject:
        found = match(
            canvas,
            setting.shelf,
            target_lab,
            scale=scale,
            max_shades=max_shades,
            process=setting.process,
            light=setting.light,
            answers=count,
            stock=stock,
        )
        return answers.match_object(found)

    return per_zone(job, setting, ask)


def _match_one_bowl(job: Job) -> JsonObject:
    """One bowl for all zones of the job, each with its weight and, if it has one of its own, its target."""
    setting = read_setting(job)
    canvases = hair_of(job, setting)
    if SINGLE_ZONE in canvases:
        raise Missing("zones", "an object of canvases, for one bowl,")
    weights, targets = (_by_zone(job, name, canvases) for name in ("weights", "targets"))
    aims = {name: _zone_target(job, targets, name) for name in canvases}
    zones = [
        ZoneAim(canvas=canvas, target_lab=aims[name], weight=_weight(weights, name))
        for name, canvas in canvases.items()
    ]
    found = match_zones(
        zones,
        setting.shelf,
        scale=a_scale(job),
        max_shades=_most_shades(job),
        process=setting.process,
        light=setting.light,
        answers=a_whole_number("answers", job.get("answers", ANSWERS), 1, ANSWERS_MOST),
        stock=_stock(job, setting.shades),
    )
    return answers.shared_match_object(found, list(canvases))


def _by_zone(job: Job, name: str, canvases: Mapping[str, Canvas]) -> Job:
    given = an_object(name, job.get(name, {}))
    for zone in given:
        if zone not in canvases:
            raise Unknown(name, zone, canvases)
    return given


def _weight(weights: Job, zone: str) -> float:
    return within(f"weights.{zone}", weights.get(zone, 1.0), *WEIGHT_LIMITS)


def _zone_target(job: Job, targets: Job, zone: str) -> FloatArray:
    if zone not in targets:
        return needed_target(job)
    with inside("targets"):
        target_lab = read_target({"target": targets[zone]}, zone)
        if target_lab is None:
            raise Missing(zone, "an object with lab or lch")
    return target_lab


def _adjust(job: Job) -> JsonObject:
    setting, target_lab = read_setting(job), needed_target(job)
    bowl = setting.needed_bowl
    usual_g = min(max(2 * bowl.total_g, 1.0), GRAMS_LIMIT)
    max_total_g = finite("max_total_grams", job.get("max_total_grams", usual_g), "g")
    wanted_g = within("wanted_grams", job["wanted_grams"], 0, 5000, "g") if "wanted_grams" in job else None

    def ask(canvas: Canvas) -> JsonObject:
        found = adjust(
            canvas,
            bowl,
            setting.shelf,
            target_lab,
            max_total_g=max_total_g,
            wanted_g=wanted_g,
            step_g=a_scale(job).step_g,
            process=setting.process,
            light=setting.light,
        )
        return answers.adjustment_object(found)

    return per_zone(job, setting, ask)


def _compare(job: Job) -> JsonObject:
    setting, target_lab, scale, max_shades = read_setting(job), needed_target(job), a_scale(job), _most_shades(job)

    def ask(canvas: Canvas) -> JsonObject:
        found = compare(
            canvas,
            setting.shelf,
            target_lab,
            scale=scale,
            max_shades=max_shades,
            process=Process(taught=setting.process.taught),
            light=setting.light,
        )
        return {"strategies": [answers.outcome_object(each) for each in found]}

    return per_zone(job, setting, ask)


def _fill(job: Job) -> JsonObject:
    setting, scale = read_setting(job), a_scale(job)
    if "level" not in job:
        raise Missing("level", "the level to go down to, 1 to 11")
    level = within("level", job["level"], 1, 11)
    school = a_choice("fill_from", job.get("fill_from", FillFrom.TWO_LEVELS.value), FillFrom)
    fill_with = a_choice("fill_with", job.get("fill_with", FillWith.MISSING.value), FillWith)

    def ask(canvas: Canvas) -> JsonObject:
        found = fill(
            canvas,
            level,
            setting.shelf,
            scale=scale,
            final=setting.bowl,
            fill_from=school,
            fill_with=fill_with,
            process=setting.process,
            light=setting.light,
        )
        standing = answers.standing_object(canvas, setting.bowl, setting.process, setting.light)
        return {**answers.fill_object(found, setting.light), **standing}

    return per_zone(job, setting, ask)


def _refresh(job: Job) -> JsonObject:
    setting, scale, washes, hot = read_setting(job), a_scale(job), washes_of(job, 6), a_flag(job, "hot_water")
    bowl = setting.needed_bowl

    def ask(canvas: Canvas) -> JsonObject:
        found = refresh(
            canvas,
            bowl,
            setting.shelf,
            washes=washes,
            hot_water=hot,
            scale=scale,
            process=setting.process,
            light=setting.light,
        )
        return answers.match_object(found)

    return per_zone(job, setting, ask)


def _pour(job: Job) -> JsonObject:
    setting, target_lab = read_setting(job), read_target(job)
    poured = read_grams("poured", job.get("poured", {}), setting.shades)

    def ask(canvas: Canvas) -> JsonObject:
        found = after_pours(
            canvas,
            setting.needed_bowl,
            poured,
            step_g=a_scale(job).step_g,
            target_lab=target_lab,
            process=setting.process,
            light=setting.light,
        )
        return answers.over_pour_object(found)

    return per_zone(job, setting, ask)


KNOWN: Final = HAIR_FIELDS | SETTING_FIELDS
MIXING: Final[Mapping[str, Task]] = {
    "match": Task(
        fields=KNOWN
        | SCALE_FIELDS
        | {"target", "targets", "max_shades", "one_bowl", "weights", "stock", "prices", "answers"},
        perform=_match,
    ),
    "adjust": Task(fields=KNOWN | {"target", "max_total_grams", "wanted_grams", "step_grams"}, perform=_adjust),
    "compare": Task(fields=KNOWN | SCALE_FIELDS | {"target", "max_shades"}, perform=_compare),
    "fill": Task(fields=KNOWN | SCALE_FIELDS | {"level", "fill_from", "fill_with"}, perform=_fill),
    "refresh": Task(fields=KNOWN | SCALE_FIELDS | {"washes", "hot_water"}, perform=_refresh),
    "pour": Task(fields=KNOWN | {"target", "poured", "step_grams"}, perform=_pour),
}
