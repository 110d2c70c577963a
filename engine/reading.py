"""Reading the parts of a JSON job into value objects, with errors that name the field."""

from collections.abc import Iterator, Mapping, Sequence
from contextlib import contextmanager
from enum import StrEnum
from typing import Final, TypeVar

import numpy as np

from engine.arrays import FloatArray, finite, within
from engine.bowl.mix import GRAMS_LIMIT, Bowl, Process
from engine.colorimetry.grid import BANDS as GRID_BANDS
from engine.colorimetry.lab import lab_from_lch
from engine.colorimetry.lights import Light
from engine.dye.kind import Kind
from engine.dye.known import COUNT_MOST, NODES, RANK_MOST, Known, ShadeDoubt
from engine.dye.shade import Band, Shade
from engine.dye.shelf import demo_shelf
from engine.errors import BadInput, Missing, OutOfRange, Unknown, WrongType
from engine.hair.canvas import RANGES, Canvas, OldColour
from engine.hair.ladder import RUNGS, Ladder, Rung, School, school_ladder
from engine.hair.residue import Family

JsonObject = dict[str, object]
Job = Mapping[str, object]

SHADES_MOST: Final = 200
BANDS_MOST: Final = 20
LAYERS_MOST: Final = 10
ZONES_MOST: Final = 100
NAME_LONGEST: Final = 80
SHADE_NUMBERS: Final = frozenset({"strength", "time_constant_min", "life", "level", "ratio", "thins"})
LAB_LIMITS: Final = ((0.0, 100.0), (-128.0, 128.0), (-128.0, 128.0))
LCH_LIMITS: Final = ((0.0, 100.0), (0.0, 181.0), (0.0, 360.0))


def an_object(field: str, given: object, known: frozenset[str] | None = None) -> Job:
    """`given` as a JSON object whose keys are all known. Raises WrongType or Unknown."""
    if not isinstance(given, dict):
        raise WrongType(field, given, "an object")
    for name in given:
        if known is not None and name not in known:
            raise Unknown(field, name, sorted(known))
        if len(name) > NAME_LONGEST or not name:
            raise BadInput(field, f"{field} holds a name of {len(name)} characters: 1 to {NAME_LONGEST} are allowed")
    return given


def a_list(field: str, given: object, most: int, least: int = 0) -> list[object]:
    """`given` as a list with least..most entries. Raises WrongType or OutOfRange."""
    if not isinstance(given, list):
        raise WrongType(field, given, "a list")
    if not least <= len(given) <= most:
        raise OutOfRange(f"{field} (entries)", len(given), least, most)
    return given


@contextmanager
def inside(prefix: str) -> Iterator[None]:
    """Names a refused field by its place in a list or an object of the job."""
    try:
        yield
    except BadInput as error:
        error.field, error.message = f"{prefix}.{error.field}", f"{prefix}.{error.message}"
        error.args = (error.message,)
        raise


def needed_number(field: str, parts: Job, expected: str) -> float:
    """A number that must be there. Raises Missing or WrongType."""
    if field not in parts:
        raise Missing(field, expected)
    return finite(field, parts[field])


def a_flag(job: Job, name: str) -> bool:
    """A yes or no of the job, no by default. Raises WrongType."""
    given = job.get(name, False)
    if not isinstance(given, bool):
        raise WrongType(name, given, "true or false")
    return given


Choice = TypeVar("Choice", bound=StrEnum)


def a_choice(field: str, given: object, choices: type[Choice]) -> Choice:
    """`given` as a member of an enumeration. Raises Unknown."""
    known = [choice.value for choice in choices]
    if given not in known:
        raise Unknown(field, str(given), known)
    return choices(given)


def read_shades(job: Job) -> Mapping[str, Shade]:
    """The demo shelf with the job's own shades over it."""
    own = an_object("shades", job.get("shades", {}))
    if len(own) > SHADES_MOST:
        raise OutOfRange("shades (entries)", len(own), 0, SHADES_MOST)
    return {**demo_shelf(), **{name: _read_shade(name, given) for name, given in own.items()}}


def _read_shade(name: str, given: object) -> Shade:
    field = f"shades.{name}"
    parts = an_object(field, given, SHADE_NUMBERS | {"bands", "samples", "kind", "line", "doubt"})
    if not parts and name in demo_shelf():
        return demo_shelf()[name]
    kind = a_choice(f"{field}.kind", parts.get("kind", Kind.DIRECT.value), Kind)
    bands = tuple(
        _read_band(f"{field}.bands.{index}", entry)
        for index, entry in enumerate(a_list(f"{field}.bands", parts.get("bands", []), BANDS_MOST))
    )
    numbers = {key: finite(f"{field}.{key}", parts[key]) for key in SHADE_NUMBERS if key in parts}
    line = parts.get("line", "")
    if not isinstance(line, str) or len(line) > NAME_LONGEST:
        raise WrongType(f"{field}.line", line, f"a name of up to {NAME_LONGEST} characters")
    samples = tuple(
        finite(f"{field}.samples.{index}", entry)
        for index, entry in enumerate(a_list(f"{field}.samples", parts.get("samples", []), GRID_BANDS))
    )
    doubt = None
    if parts.get("doubt") is not None:
        with inside(field):
            doubt = _read_doubt(parts["doubt"])
    return Shade(name=name, code="", bands=bands, samples=samples, kind=kind, line=line, doubt=doubt, **numbers)


def _read_doubt(given: object) -> ShadeDoubt:
    parts = an_object("doubt", given, frozenset({"source", "count", "factors"}))
    rows = []
    for index, row in enumerate(a_list("doubt.factors", parts.get("factors", []), RANK_MOST)):
        field = f"doubt.factors.{index}"
        rows.append(
            tuple(finite(f"{field}.{place}", each) for place, each in enumerate(a_list(field, row, NODES, NODES)))
        )
    return ShadeDoubt(
        source=a_choice("doubt.source", parts.get("source", Known.NAMED.value), Known),
        count=a_whole_number("doubt.count", parts.get("count", 0), 0, COUNT_MOST),
        factors=tuple(rows),
    )


def _read_band(field: str, given: object) -> Band:
    entries = a_list(field, given, 3, 3)
    centre_nm, sigma_nm, weight = (finite(f"{field}.{index}", entry) for index, entry in enumerate(entries))
    try:
        return Band(centre_nm=centre_nm, sigma_nm=sigma_nm, weight=weight)
    except OutOfRange as error:
        part = error.field.removeprefix("band.")
        raise OutOfRange(f"{field}.{part}", error.given, error.low, error.high, error.unit) from None


def read_zones(job: Job, shelf: Mapping[str, Shade]) -> dict[str, Canvas]:
    """The job's canvases by zone; a single `canvas` has the empty name. Raises Missing unless one is given."""
    ladder = read_ladder(job)
    if "zones" in job:
        if "canvas" in job:
            raise BadInput("zones", "zones and canvas are both given: one of them is expected")
        zones = an_object("zones", job["zones"])
        if not 1 <= len(zones) <= ZONES_MOST:
            raise OutOfRange("zones (entries)", len(zones), 1, ZONES_MOST)
        return {name: read_canvas(f"zones.{name}", given, shelf, ladder) for name, given in zones.items()}
    return {"": read_canvas("canvas", job.get("canvas"), shelf, ladder)}


def read_ladder(job: Job) -> Ladder:
    """The job's ladder: a school by name, or rungs of its own; the default school without one."""
    given = job.get("ladder", School.YELLOW_GOLD_AT_8.value)
    if isinstance(given, str):
        return school_ladder(a_choice("ladder", given, School))
    rungs = []
    for index, entry in enumerate(a_list("ladder", given, RUNGS[1], RUNGS[0])):
        field = f"ladder.{index}"
        parts = an_object(field, entry, frozenset({"level", "undertone", "warmth", "lean"}))
        word = parts.get("undertone")
        if not isinstance(word, str):
            raise WrongType(f"{field}.undertone", word, "a word")
        numbers = {name: finite(f"{field}.{name}", parts[name]) for name in ("warmth", "lean") if name in parts}
        if "level" not in parts:
            raise Missing(f"{field}.level", "a number from 1 to 11")
        rungs.append(Rung(level=finite(f"{field}.level", parts["level"]), undertone=word, **numbers))
    return Ladder(rungs=tuple(rungs))


def read_canvas(field: str, given: object, shelf: Mapping[str, Shade], ladder: Ladder) -> Canvas:
    """A canvas; what it does not say of its warmth and lean is as the ladder expects. Raises Missing."""
    if given is None:
        raise Missing(field, "an object with a level")
    parts = an_object(field, given, frozenset({*RANGES, "old", "family"}))
    if "level" not in parts:
        raise Missing(f"{field}.level", "a number from 1 to 11")
    numbers = {name: within(f"{field}.{name}", parts[name], *RANGES[name]) for name in RANGES if name in parts}
    layers = a_list(f"{field}.old", parts.get("old", []), LAYERS_MOST)
    old = tuple(_read_layer(f"{field}.old.{index}", layer, shelf) for index, layer in enumerate(layers))
    family = a_choice(f"{field}.family", parts.get("family", Family.LIGHTENED.value), Family)
    if family is Family.LIGHTENED:
        warmth, lean = ladder.undertone_at(numbers["level"])
        numbers = {"warmth": warmth, "lean": lean, **numbers}
    return Canvas(**numbers, old=old, family=family)


def _read_layer(field: str, given: object, shelf: Mapping[str, Shade]) -> OldColour:
    parts = an_object(field, given, frozenset({"shade", "k_s"}))
    for name in ("shade", "k_s"):
        if name not in parts:
            raise Missing(f"{field}.{name}", "a shade's name" if name == "shade" else "a number")
    shade = parts["shade"]
    if not isinstance(shade, str):
        raise WrongType(f"{field}.shade", shade, "a shade's name")
    if shade not in shelf:
        raise Unknown(f"{field}.shade", shade, shelf)
    return OldColour(shade=shelf[shade], k_s=within(f"{field}.k_s", parts["k_s"], 0.0, 20.0))


def _bowl_parts(job: Job) -> Job:
    return an_object("bowl", job.get("bowl", {}), frozenset({"grams", "minutes", "damp", "developer_vol", "ratio"}))


def read_bowl(job: Job, shelf: Mapping[str, Shade]) -> Bowl | None:
    """The job's bowl, or None when the job has none and asks for the bare canvas."""
    if "bowl" not in job:
        return None
    parts = _bowl_parts(job)
    if "grams" not in parts:
        raise Missing("bowl.grams", "an object of grams by shade")
    return Bowl(grams=read_grams("bowl.grams", parts["grams"], shelf))


def read_grams(
    field: str, given: object, shelf: Mapping[str, Shade], most: float = GRAMS_LIMIT, unit: str = "g"
) -> dict[Shade, float]:
    """Numbers by shade from 0 to `most`, such as grams or prices. Raises WrongType, OutOfRange or Unknown."""
    found: dict[Shade, float] = {}
    for name, number in an_object(field, given).items():
        if name not in shelf:
            raise Unknown(field, name, shelf)
        found[shelf[name]] = within(f"{field}.{name}", number, 0.0, most, unit)
    return found


def read_process(job: Job) -> Process:
    """Minutes and damp or dry, from the job's bowl."""
    parts = _bowl_parts(job)
    minutes, damp = parts.get("minutes"), parts.get("damp", False)
    if not isinstance(damp, bool):
        raise WrongType("bowl.damp", damp, "true or false")
    return Process(
        minutes=None if minutes is None else finite("bowl.minutes", minutes, "min"),
        damp=damp,
        developer_vol=finite("bowl.developer_vol", parts["developer_vol"], "vol") if "developer_vol" in parts else None,
        ratio=finite("bowl.ratio", parts["ratio"]) if "ratio" in parts else None,
    )


def read_light(job: Job) -> Light:
    """The light named in the job, daylight by default."""
    return a_choice("light", job.get("light", Light.DAYLIGHT.value), Light)


def a_whole_number(field: str, given: object, low: int, high: int) -> int:
    """`given` as a whole number in low..high. Raises WrongType or OutOfRange."""
    if isinstance(given, bool) or not isinstance(given, int):
        raise WrongType(field, given, "a whole number")
    if not low <= given <= high:
        raise OutOfRange(field, given, low, high)
    return given


def read_triple(field: str, given: object, limits: Sequence[tuple[float, float]]) -> FloatArray:
    """A list of three numbers, each within its limits, as (3,). Raises WrongType or OutOfRange."""
    entries = a_list(field, given, 3, 3)
    return np.array([within(f"{field}.{i}", entry, *limits[i]) for i, entry in enumerate(entries)])


def read_lab(field: str, given: object) -> FloatArray:
    """L*a*b* (3,) from a list. Raises WrongType or OutOfRange."""
    return read_triple(field, given, LAB_LIMITS)


def read_target(job: Job, field: str = "target") -> FloatArray | None:
    """The target as L*a*b* (3,), from `lab` or `lch`; None without one. field: what a refusal calls it."""
    if job.get("target") is None:
        return None
    parts = an_object(field, job["target"], frozenset({"lab", "lch"}))
    if len(parts) != 1:
        raise BadInput(field, f"{field} holds neither or both of lab and lch: one of them is expected")
    name, given = next(iter(parts.items()))
    if name == "lab":
        return read_lab(f"{field}.lab", given)
    return lab_from_lch(read_triple(f"{field}.lch", given, LCH_LIMITS))
