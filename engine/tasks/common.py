"""What several tasks read from a job in the same way."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Final

from engine.arrays import FloatArray, finite
from engine.bowl.fade import WASHES_MOST
from engine.bowl.mix import Bowl, Process
from engine.bowl.weigh import Scale
from engine.colorimetry.lights import Light
from engine.dye.shade import Shade
from engine.errors import Missing
from engine.hair.canvas import Canvas
from engine.reading import (
    Job,
    JsonObject,
    a_whole_number,
    an_object,
    read_bowl,
    read_light,
    read_process,
    read_shades,
    read_target,
    read_zones,
)

SINGLE_ZONE: Final = ""
HAIR_FIELDS: Final = frozenset({"canvas", "zones", "ladder"})
SCALE_FIELDS: Final = frozenset({"total_grams", "step_grams", "least_grams"})
SETTING_FIELDS: Final = frozenset({"shades", "bowl", "light"})


@dataclass(frozen=True, kw_only=True)
class Task:
    """A task: the fields that it knows beside `task`, and what it does."""

    fields: frozenset[str]
    perform: Callable[[Job], JsonObject]


@dataclass(frozen=True, kw_only=True)
class Setting:
    """What nearly every job holds: the shades that it knows, those a recipe may use, how they are worked and seen."""

    shades: Mapping[str, Shade]
    shelf: tuple[Shade, ...]
    bowl: Bowl | None
    process: Process
    light: Light

    @property
    def needed_bowl(self) -> Bowl:
        """The job's bowl. Raises Missing."""
        if self.bowl is None:
            raise Missing("bowl", "an object with grams")
        return self.bowl


def read_setting(job: Job) -> Setting:
    """The setting of a job. A recipe may use the shades that the job names, or the whole demo shelf."""
    shades, given = read_shades(job), job.get("shades")
    own = shades if given is None else an_object("shades", given)
    return Setting(
        shades=shades,
        shelf=tuple(shade for name, shade in shades.items() if name in own),
        bowl=read_bowl(job, shades),
        process=read_process(job),
        light=read_light(job),
    )


def per_zone(job: Job, setting: Setting, ask: Callable[[Canvas], JsonObject]) -> JsonObject:
    """The answer for the one canvas, or answers by zone under `zones`."""
    found: dict[str, object] = {name: ask(canvas) for name, canvas in read_zones(job, setting.shades).items()}
    single = found.get(SINGLE_ZONE)
    return single if isinstance(single, dict) else {"zones": found}


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


def washes_of(job: Job, default: int) -> int:
    """How many washes a job asks for."""
    return a_whole_number("washes", job.get("washes", default), 0, WASHES_MOST)
