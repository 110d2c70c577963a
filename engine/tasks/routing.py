"""The task that says which way to a colour: route."""

from collections.abc import Mapping
from typing import Final

from engine import answers
from engine.arrays import within
from engine.bowl.match import SHADES_LIMIT
from engine.colorimetry.lights import Light
from engine.hair.canvas import Canvas
from engine.hair.residue import LEVEL_CLEAN_WHITE
from engine.reading import Job, JsonObject, a_choice, a_flag, a_whole_number, an_object, inside, read_target
from engine.service.lift import Lay, Strength
from engine.service.route import Route, routes
from engine.service.work import SCALP_MOST_VOL
from engine.tasks.common import HAIR_FIELDS, SETTING_FIELDS, Task, needed_target, per_zone, read_setting

STRENGTH_FIELDS: Final = frozenset(
    {"fragile", "curl_sets_limit", "lifts_before", "lifted_today", "most_levels", "scalp_most_vol"}
)
LIFTS_BEFORE_MOST: Final = 50


def _route(job: Job) -> JsonObject:
    setting, target_lab = read_setting(job), needed_target(job)
    strength = _strength(an_object("strength", job.get("strength", {}), STRENGTH_FIELDS))
    lay = a_choice("lay", job.get("lay", Lay.FOIL.value), Lay)
    last_aim_lab = read_target({"target": job.get("last_aim")}, "last_aim")
    max_shades = a_whole_number("max_shades", job.get("max_shades", 2), 1, SHADES_LIMIT)
    on_scalp = a_flag(job, "on_scalp")

    def ask(canvas: Canvas) -> JsonObject:
        found = routes(
            canvas,
            target_lab,
            setting.shelf,
            strength=strength,
            lay=lay,
            on_scalp=on_scalp,
            last_aim_lab=last_aim_lab,
            max_shades=max_shades,
            taught=setting.process.taught,
        )
        return {
            "proposed": route_object(found.proposed, setting.light),
            "others": [route_object(each, setting.light) for each in found.others],
        }

    return per_zone(job, setting, ask)


def _strength(given: Job) -> Strength:
    """What the hair can bear, as a job tells it."""
    most = given.get("most_levels")
    with inside("strength"):
        return Strength(
            fragile=a_flag(given, "fragile"),
            curl_sets_limit=a_flag(given, "curl_sets_limit"),
            lifted_today=a_flag(given, "lifted_today"),
            lifts_before=a_whole_number("lifts_before", given.get("lifts_before", 0), 0, LIFTS_BEFORE_MOST),
            most_levels=None if most is None else within("most_levels", most, 1.0, LEVEL_CLEAN_WHITE),
            scalp_most_vol=within(
                "scalp_most_vol", given.get("scalp_most_vol", SCALP_MOST_VOL), 0, SCALP_MOST_VOL, "vol"
            ),
        )


def route_object(route: Route, light: Light) -> JsonObject:
    """One way to a colour."""
    planned = route.lift
    return {
        "kind": route.kind.value,
        "steps": [
            {"kind": step.kind.value, "minutes": list(step.minutes), "one_way": step.one_way} for step in route.steps
        ],
        "canvas": answers.canvas_object(route.canvas),
        **answers.colour_object(route.lab, light),
        "delta_e00": round(route.delta_e00, 4),
        "reaches": route.reaches,
        "cost": route.cost.name.lower(),
        "reasons": list(route.reasons),
        "lift": None
        if planned is None
        else {
            "from_level": round(planned.from_level, 4),
            "to_level": round(planned.stop_level, 4),
            "wanted_level": round(planned.wanted_level, 4),
            "visits": planned.visits,
            "developer_vol": planned.vol,
            "parts": planned.parts,
            "applications": planned.applications,
            "minutes": [round(each, 2) for each in planned.expected_min],
        },
    }


ROUTING: Final[Mapping[str, Task]] = {
    "route": Task(
        fields=HAIR_FIELDS
        | (SETTING_FIELDS - {"bowl", "light"})
        | {"target", "max_shades", "strength", "lay", "on_scalp", "last_aim"},
        perform=_route,
    ),
}
