"""Knowledge as a JSON object: versioned, sealed, and opaque to whoever carries it."""

import base64
import binascii
import hashlib
import json
from collections.abc import Callable, Mapping, Sequence
from dataclasses import asdict, fields
from typing import Final

import numpy as np

from engine.arrays import FloatArray
from engine.errors import BadInput, Missing, OutOfRange, WrongType
from engine.knowledge.knowledge import Knowledge
from engine.knowledge.unknowns import Layout

VERSION: Final = 1
NAMES: Final = ("shades", "prints", "lines", "clients", "readers")
NUMBERS: Final = ("shade_sd", "centres", "unknowns", "told_of")
SIZE_MOST: Final = 2000  # unknowns


def stored(knowledge: Knowledge) -> dict[str, object]:
    """Knowledge as JSON values. Numbers are kept as text: single precision, base64."""
    held: dict[str, object] = {
        "version": VERSION,
        "model": knowledge.model,
        "records": knowledge.records,
        **{name: list(getattr(knowledge, name)) for name in NAMES},
        "line_of": list(knowledge.line_of),
        "layout": asdict(knowledge.layout),
        "remainder": [round(each, 6) for each in knowledge.remainder],
        "noise": round(knowledge.noise, 6),
        **{name: _packed(getattr(knowledge, name)) for name in NUMBERS},
    }
    return {**held, "seal": _seal(held)}


def opened(given: object) -> Knowledge:
    """Knowledge from JSON values. Raises WrongType, Missing, OutOfRange for another version, or BadInput if it was
    changed since it was learned."""
    if not isinstance(given, dict):
        raise WrongType("knowledge", given, "an object, as learn answers it")
    if "version" not in given:
        raise Missing("knowledge.version", f"the number {VERSION}")
    if given["version"] != VERSION:
        version = given["version"]
        if isinstance(version, bool) or not isinstance(version, int):
            raise WrongType("knowledge.version", version, f"the number {VERSION}")
        raise OutOfRange("knowledge.version", version, VERSION, VERSION)
    held = {name: each for name, each in given.items() if name != "seal"}
    if given.get("seal") != _seal(held):
        raise BadInput(
            "knowledge.seal", "knowledge.seal does not fit: it was changed since it was learned; learn again"
        )
    try:
        return _knowledge(held)
    except (KeyError, TypeError, ValueError, AttributeError, binascii.Error) as error:
        raise BadInput("knowledge", "knowledge can't be read: it is not what learn answered; learn again") from error


def renamed(given: object, names: Mapping[str, Callable[[str], str]]) -> object:
    """Stored knowledge that knows its shades, clients or readers by other names, sealed anew; what is none stays.

    names: what becomes of a name, by which list it is in. Raises what `opened` raises.
    """
    if not isinstance(given, dict) or not given:
        return given
    opened(given)
    held = {name: each for name, each in given.items() if name != "seal"}
    for name, becomes in names.items():
        held[name] = [becomes(str(each)) for each in held[name]]
    return {**held, "seal": _seal(held)}


def _knowledge(held: Mapping[str, object]) -> Knowledge:
    """What was sealed; whatever is not as it was raises KeyError, TypeError or ValueError."""
    numbers = {name: _unpacked(held[name]) for name in NUMBERS}
    names = {name: tuple(str(each) for each in _listed(held[name])) for name in NAMES}
    shades, prints, lines, clients, readers = (names[name] for name in NAMES)
    shade_sd, centres, unknowns, told_of = (numbers[name] for name in NUMBERS)
    given = held["layout"]
    if not isinstance(given, dict) or set(given) != {field.name for field in fields(Layout)}:
        raise ValueError("layout")
    layout = Layout(**given)
    lightness, a, b = (_number(each) for each in _listed(held["remainder"]))
    found = Knowledge(
        model=str(held["model"]),
        records=int(_number(held["records"])),
        line_of=tuple(int(_number(each)) for each in _listed(held["line_of"])),
        layout=layout,
        remainder=(lightness, a, b),
        noise=_number(held["noise"]),
        shades=shades,
        prints=prints,
        lines=lines,
        clients=clients,
        readers=readers,
        shade_sd=shade_sd,
        centres=centres,
        unknowns=unknowns,
        told_of=told_of,
    )
    shapes = {
        "unknowns": (layout.size,),
        "told_of": (layout.size, told_of.shape[-1]),
        "centres": (layout.waves, 4) if layout.waves else centres.shape,
        "shade_sd": (layout.shades,),
    }
    if layout.size > SIZE_MOST or any(numbers[name].shape != shape for name, shape in shapes.items()):
        raise ValueError("shape")
    counts = {"shades": len(shades), "lines": len(lines), "clients": len(clients), "readers": len(readers)}
    if len(prints) != len(shades) or any(getattr(layout, name) != count for name, count in counts.items()):
        raise ValueError("names")
    if len(found.line_of) != len(shades) or not all(0 <= line < len(lines) for line in found.line_of):
        raise ValueError("line_of")
    return found


def _listed(given: object) -> Sequence[object]:
    if not isinstance(given, list):
        raise TypeError("list")
    return given


def _number(given: object) -> float:
    if isinstance(given, bool) or not isinstance(given, int | float):
        raise TypeError("number")
    return float(given)


def _packed(numbers: FloatArray) -> dict[str, object]:
    single = np.ascontiguousarray(numbers, dtype="<f4")
    return {"shape": list(numbers.shape), "base64": base64.b64encode(single.tobytes()).decode("ascii")}


def _unpacked(given: object) -> FloatArray:
    if not isinstance(given, dict):
        raise TypeError("numbers")
    raw = base64.b64decode(str(given["base64"]), validate=True)
    shape = [int(_number(each)) for each in _listed(given["shape"])]
    return np.frombuffer(raw, dtype="<f4").astype(float).reshape(shape)


def _seal(held: Mapping[str, object]) -> str:
    """What tells whether anything was changed: no secret, so it guards against slips, not against malice."""
    text = json.dumps(held, sort_keys=True, separators=(",", ":"))
    return hashlib.sha256(text.encode()).hexdigest()
