"""What several tasks read from a job in the same way."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Final

from engine.arrays import FloatArray, finite
from engine.bowl.fade import WASHES_MOST
from engine.bowl.mix import Bowl, Process
from engine.bowl.weigh import Scale
from engine.colorimetry.lights import Light
from engine.dye.shade import Shade
from engine.errors import BadInput, Missing, WrongType
from engine.hair.canvas import RANGES, Canvas
from engine.knowledge.knowledge import Knowledge
from engine.knowledge.stored import opened
from engine.reading import (
    NAME_LONGEST,
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
SETTING_FIELDS: Final = frozenset({"shades", "bowl", "light", "knowledge", "client", "reader"})


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
    reader: str = ""

    @property
    def needed_bowl(self) -> Bowl:
        """The job's bowl. Raises Missing."""
        if self.bowl is None:
            raise Missing("bowl", "an object with grams")
        return self.bowl


def read_setting(job: Job) -> Setting:
    """The setting of a job. A recipe may use the shades that the job names, or the whole demo shelf.

    With knowledge, shades are as they work in that studio, and on its client's hair. Raises BadInput for knowledge of
    another shelf.
    """
    shades, given = read_shades(job), job.get("shades")
    own = shades if given is None else an_object("shades", given)
    client, taught = a_name(job, "client"), opened(job["knowledge"]) if "knowledge" in job else None
    if taught is not None:
        _refuse_foreign(taught, [shades[name] for name in own])
        shades = {name: taught.taught(shade, client) for name, shade in shades.items()}
    return Setting(
        shades=shades,
        shelf=tuple(shade for name, shade in shades.items() if name in own),
        bowl=read_bowl(job, shades),
        process=replace(read_process(job), taught=taught),
        light=read_light(job),
        reader=a_name(job, "reader"),
    )


def _refuse_foreign(taught: Knowledge, shelf: Sequence[Shade]) -> None:
    """Raises BadInput if a job's own shades are none of those that results taught of."""
    coloured = [shade.name for shade in shelf if not shade.is_clear]
    if taught.shades and coloured and not any(name in taught.place for name in coloured):
        raise BadInput("knowledge", "knowledge was learned on another shelf: it tells of none of these shades")


def a_name(job: Job, field: str) -> str:
    """A name of the job, empty without one. Raises WrongType."""
    given = job.get(field, "")
    if not isinstance(given, str) or len(given) > NAME_LONGEST:
        raise WrongType(field, given, f"a name of up to {NAME_LONGEST} characters")
    return given


def hair_of(job: Job, setting: Setting) -> dict[str, Canvas]:
    """The job's canvases by zone, as they are: with knowledge of who read them, without what her eyes add."""
    taught = setting.process.taught
    off = taught.level_offset(setting.reader) if taught and setting.reader else 0.0
    low, high = RANGES["level"]
    return {
        name: replace(canvas, level=min(max(canvas.level - off, low), high)) if off else canvas
        for name, canvas in read_zones(job, setting.shades).items()
    }


def per_zone(job: Job, setting: Setting, ask: Callable[[Canvas], JsonObject]) -> JsonObject:
    """The answer for the one canvas, or answers by zone under `zones`."""
    found: dict[str, object] = {name: ask(canvas) for name, canvas in hair_of(job, setting).items()}
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
