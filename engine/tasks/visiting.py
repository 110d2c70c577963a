"""Tasks of a whole visit: amounts, chain, plan."""

from collections.abc import Mapping
from dataclasses import replace
from typing import Final

from engine import answers
from engine.dye.kind import Kind
from engine.errors import BadInput, Missing, WrongType
from engine.hair.ladder import Ladder
from engine.reading import (
    NAME_LONGEST,
    Job,
    JsonObject,
    a_choice,
    a_flag,
    a_list,
    a_whole_number,
    an_object,
    inside,
    needed_number,
    read_bowl,
    read_canvas,
    read_ladder,
    read_process,
)
from engine.service.amounts import DOUBT, Density
from engine.service.chain import ChainedCoat, chain
from engine.service.schedule.search import schedule
from engine.service.schedule.work import (
    COATS_MOST,
    HANDS_MOST,
    WANTS_DRY,
    ZONES_MOST,
    PlannedCoat,
    PlannedZone,
    Purpose,
    Schedule,
    Visit,
)
from engine.service.stretch import Head, Stretch, amounts
from engine.tasks.common import Setting, Task, read_setting

STRETCH_FIELDS: Final = frozenset({"name", "from_cm", "to_cm", "area_share", "strand_share", "saturation"})
COAT_FIELDS: Final = frozenset({"purpose", "apply_min", "window_min", "last_min", "wants_dry", "rinsed"})
ZONE_FIELDS: Final = frozenset({"name", "apart", "coats"})
CHAINED_FIELDS: Final = frozenset({"purpose", "kind", "bowl", "to_level", "rinsed", "read"})
CHAINED_MOST: Final = 20


def _amounts(job: Job) -> JsonObject:
    density = a_choice("density", job.get("density", Density.MEDIUM.value), Density)
    head = Head(length_cm=needed_number("length_cm", job, "how long the hair is, in cm"), density=density)
    zones = []
    for index, given in enumerate(_zones(job)):
        with inside(f"zones.{index}"):
            zones.append(_stretch(an_object("zone", given, STRETCH_FIELDS), head))
    found = amounts(head, zones)
    total = sum(each.grams for each in found)
    return {
        "zones": [
            {"name": zone.name, "grams": each.grams, "least_g": each.least_g, "most_g": each.most_g}
            for zone, each in zip(zones, found, strict=True)
        ],
        "total_grams": total,
        "least_g": total * (1 - DOUBT),
        "most_g": total * (1 + DOUBT),
    }


def _stretch(given: Job, head: Head) -> Stretch:
    numbers = {name: _number(given, name) for name in STRETCH_FIELDS - {"name"} if name in given}
    return Stretch(name=_name(given), **{"from_cm": 0.0, "to_cm": head.length_cm, **numbers})


def _plan(job: Job) -> JsonObject:
    zones = []
    for index, given in enumerate(_zones(job)):
        with inside(f"zones.{index}"):
            zones.append(_zone(an_object("zone", given, ZONE_FIELDS)))
    names = [zone.name for zone in zones]
    for name in names:
        if names.count(name) > 1:
            raise BadInput("zones", f"zones holds two that are called {name}: each needs a name of its own")
    usual = {"basin_min": Visit.basin_min, "dry_min": Visit.dry_min}
    basin_min, dry_min = (_number(job, name) if name in job else minutes for name, minutes in usual.items())
    hands = a_whole_number("hands", job.get("hands", 1), 1, HANDS_MOST)
    return _told(schedule(Visit(zones=tuple(zones), hands=hands, basin_min=basin_min, dry_min=dry_min)))


def _zone(given: Job) -> PlannedZone:
    if "coats" not in given:
        raise Missing("coats", "a list of coats")
    coats = []
    for index, each in enumerate(a_list("coats", given["coats"], COATS_MOST, 1)):
        with inside(f"coats.{index}"):
            coats.append(_coat(an_object("coat", each, COAT_FIELDS)))
    return PlannedZone(name=_name(given), coats=tuple(coats), apart=a_flag(given, "apart"))


def _coat(given: Job) -> PlannedCoat:
    purpose = _purpose(given)
    if "window_min" not in given:
        raise Missing("window_min", "a list of the least and the most minutes")
    window = a_list("window_min", given["window_min"], 2, 2)
    least, most = (
        needed_number(f"window_min.{place}", {f"window_min.{place}": window[place]}, "min") for place in (0, 1)
    )
    return PlannedCoat(
        purpose=purpose,
        apply_min=needed_number("apply_min", given, "minutes that a pair of hands takes to apply it"),
        least_min=least,
        most_min=most,
        wants_dry=a_flag(given, "wants_dry") if "wants_dry" in given else purpose in WANTS_DRY,
        rinsed=a_flag(given, "rinsed") if "rinsed" in given else True,
        last_min=needed_number("last_min", given, "minutes of the last hair") if "last_min" in given else 0.0,
    )


def _told(made: Schedule) -> JsonObject:
    return {
        "possible": made.possible,
        "slots": [
            {
                "kind": slot.kind.value,
                "zones": list(slot.zones),
                "coat": slot.coats[0] if slot.coats else None,
                "coats": list(slot.coats),
                "start_min": round(slot.start_min, 6),
                "end_min": round(slot.end_min, 6),
                "hand": slot.hand,
            }
            for slot in made.slots
        ],
        "total_min": round(made.total_min, 6),
        "broken": [
            {"zone": each.zone, "coat": each.coat, "by_min": round(each.by_min, 6), "sections": each.sections}
            for each in made.broken
        ],
        "hands_needed": made.hands_needed,
        "exact": made.is_exact,
    }


def _zones(job: Job) -> list[object]:
    if "zones" not in job:
        raise Missing("zones", "a list of zones")
    return a_list("zones", job["zones"], ZONES_MOST, 1)


def _name(given: Job) -> str:
    name = given.get("name")
    if not isinstance(name, str) or not 0 < len(name) <= NAME_LONGEST:
        raise WrongType("name", name, f"a name of 1 to {NAME_LONGEST} characters")
    return name


def _number(given: Job, name: str) -> float:
    return needed_number(name, given, "a number")


def _chain(job: Job) -> JsonObject:
    setting, ladder = read_setting(job), read_ladder(job)
    if "coats" not in job:
        raise Missing("coats", "a list of coats")
    coats = []
    for index, given in enumerate(a_list("coats", job["coats"], CHAINED_MOST, 1)):
        with inside(f"coats.{index}"):
            coats.append(read_coat(an_object("coat", given), setting, ladder))
    canvas = read_canvas("canvas", job.get("canvas"), setting.shades, ladder)
    light = setting.light
    return {
        "coats": [
            {
                "purpose": coat.purpose.value,
                "canvas": answers.canvas_object(after.canvas),
                **answers.colour_object(after.lab, light),
                "spread": answers.wander_object(after.spread.within_50, after.spread.within_90),
                "processing": [
                    {
                        "moment": look.moment.value,
                        "minutes": look.minutes,
                        **answers.colour_object(look.lab, light),
                        "words": look.words,
                    }
                    for look in after.processing
                ],
                "range": None
                if after.darker is None or after.lighter is None
                else {
                    "darker": answers.colour_object(after.darker, light),
                    "lighter": answers.colour_object(after.lighter, light),
                },
            }
            for coat, after in zip(coats, chain(canvas, coats, light=light), strict=True)
        ]
    }


def read_coat(given: Job, setting: Setting, ladder: Ladder, purpose: Purpose | None = None) -> ChainedCoat:
    """A coat that was laid on, or will be. Raises Missing, Unknown, WrongType, OutOfRange, BadInput."""
    an_object("coat", given, CHAINED_FIELDS)
    return ChainedCoat(
        purpose=_purpose(given) if purpose is None else purpose,
        bowl=read_bowl(given, setting.shades),
        process=replace(read_process(given), taught=setting.process.taught),
        to_level=_number(given, "to_level") if "to_level" in given else None,
        rinsed=a_flag(given, "rinsed") if "rinsed" in given else True,
        read=read_canvas("read", given["read"], setting.shades, ladder) if "read" in given else None,
    )


def _purpose(given: Job) -> Purpose:
    """What a coat is for. What says only what kind its colour is, or nothing but a bowl, colours."""
    if "kind" in given and given["kind"] not in list(Purpose):
        a_choice("kind", given["kind"], Kind)
    elif "kind" in given and "purpose" not in given:
        return a_choice("kind", given["kind"], Purpose)
    if "purpose" not in given and "bowl" in given:
        return Purpose.COLOUR
    if "purpose" not in given:
        raise Missing("purpose", f"one of {', '.join(Purpose)}")
    return a_choice("purpose", given["purpose"], Purpose)


VISITING: Final[Mapping[str, Task]] = {
    "amounts": Task(fields=frozenset({"length_cm", "density", "zones"}), perform=_amounts),
    "chain": Task(
        fields=frozenset({"canvas", "coats", "shades", "ladder", "light", "knowledge", "client"}), perform=_chain
    ),
    "plan": Task(fields=frozenset({"hands", "zones", "basin_min", "dry_min"}), perform=_plan),
}
