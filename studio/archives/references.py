"""Numbers of rows inside JSON, and in text: where they stand, so that they can be told by an archive's own numbers."""

from collections.abc import Callable, Mapping
from functools import partial
from typing import Any, Final

from engine.errors import EngineError
from engine.knowledge.stored import renamed

Number = int
To = Callable[[str, Number], Number]  # a table's label and a row's number there, to its number elsewhere
SHADE: Final = "shelf.Shade"
ZONE: Final = "visits.Zone"
PERSON: Final = "accounts.Person"
CLIENT: Final = "clients.Client"
LESSONS: Final = {"result": "cards.ZoneResult", "later": "cards.LaterLook", "strand": "clients.StrandTest"}


def _text(label: str) -> Callable[[Any, To], Any]:
    """A number written as text; words stay words."""
    return lambda value, to: str(to(label, int(value))) if value.isdecimal() else value


def _each(label: str) -> Callable[[Any, To], Any]:
    return lambda value, to: [to(label, each) for each in value]


def _keys(value: Mapping[str, Any], label: str, to: To) -> dict[str, Any]:
    return {str(to(label, int(key))): each for key, each in value.items()}


def _layers(value: Any, to: To) -> Any:
    """What lies on hair, by its shades."""
    return [{**layer, "shade": to(SHADE, int(layer["shade"]))} for layer in value]


def _strokes(value: Any, to: To) -> Any:
    """Strokes over a photo: of hair, of none, or of a zone."""
    of_zone = _text(ZONE)
    return [{**stroke, "of": of_zone(stroke["of"], to)} for stroke in value]


def _mending(value: Any, to: To) -> Any:
    """What bowls were in truth, by their shades."""
    if "coats" not in value:
        return value
    return {**value, "coats": [_keys(grams, SHADE, to) for grams in value["coats"]]}


def _worked(value: Any, to: To) -> Any:
    """The hair and the bowl of a strand test."""
    if not value:
        return value
    hair = dict(value["hair"])
    hair["old_shade"] = _text(SHADE)(str(hair.get("old_shade", "")), to)
    hair["laid"] = _layers(hair.get("laid", ()), to)
    reader = None if value["reader"] is None else to(PERSON, value["reader"])
    line = to("shelf.ShadeLine", value["line"])
    return {**value, "hair": hair, "reader": reader, "line": line, "grams": _keys(value["grams"], SHADE, to)}


def _held(value: Any, to: To) -> Any:
    """Knowledge, which knows shades, clients and readers by their rows."""
    named = {"shades": _text(SHADE), "clients": _text(CLIENT), "readers": _text(PERSON)}
    try:
        return renamed(value, {name: partial(_with, becomes, to) for name, becomes in named.items()})
    except EngineError:  # of a version that is not read any more, here or there
        return value


def _with(becomes: Callable[[Any, To], Any], to: To, code: str) -> str:
    return str(becomes(code, to))


def _shown(value: Any, to: To) -> Any:
    """What is read of knowledge: of shades, readers, clients, and of the rows that taught it."""
    if not value:
        return value
    shown = dict(value)
    for name, label in (("shades", SHADE), ("readers", PERSON)):
        shown[name] = _keys(value.get(name, {}), label, to)
    for name in ("records", "misfits"):
        shown[name] = {_lesson(key, to): each for key, each in value.get(name, {}).items()}
    for misfit in shown["misfits"].values():
        if isinstance(misfit.get("mending"), dict):
            misfit["mending"] = _mending(misfit["mending"], to)
    return shown


def _lesson(key: str, to: To) -> str:
    kind, _, number = key.partition("-")
    if kind not in LESSONS or not number.isdecimal():
        return key
    return f"{kind}-{to(LESSONS[kind], int(number))}"


def _state(value: Any, to: To) -> Any:
    """A step of the Bench, by the rows of bowls, lines, shades, zones and coats."""
    bowls = {}
    for key, bowl in value["bowls"].items():
        told = {**bowl, "line": to("shelf.ShadeLine", bowl["line"])}
        told |= {name: _keys(bowl[name], SHADE, to) for name in ("grams", "mixed", "doubts") if name in bowl}
        bowls[str(to("bench.Bowl", int(key)))] = told
    zones = {
        str(to(ZONE, int(key))): {**zone, "coats": [_coat(coat, to) for coat in zone["coats"]]}
        for key, zone in value["zones"].items()
    }
    return {**value, "bowls": bowls, "zones": zones}


def _coat(coat: Mapping[str, Any], to: To) -> dict[str, Any]:
    told = {**coat, "coat": to("bench.Coat", coat["coat"])}
    if coat.get("bowl") is not None:
        told["bowl"] = to("bench.Bowl", coat["bowl"])
    if coat.get("joins") is not None:
        told["joins"] = to("bench.Coat", coat["joins"])
    return told


def _who(value: Any, to: To) -> Any:
    """Whose hand a trace is by."""
    named = {"person": PERSON, "studio": "accounts.Studio"}
    return {name: to(named[name], each) if name in named and each else each for name, each in value.items()}


_HAIR: Final = {"old_shade": _text(SHADE), "laid": _layers}
INSIDE: Final[Mapping[str, Mapping[str, Callable[[Any, To], Any]]]] = {
    "taught.KnowledgeVersion": {"held": _held, "shown": _shown},
    "clients.StrandTest": {"worked": _worked, "mended": _mending},
    "visits.Reading": _HAIR,
    "visits.ReadingEvent": _HAIR,
    "visits.Signature": {"zones": _each(ZONE)},
    "visits.SignatureEvent": {"zones": _each(ZONE)},
    "bench.Bowl": {"mixed_for": _each(ZONE)},
    "bench.BenchStep": {"state": _state},
    "pour.Batch": {"held": lambda value, to: _keys(value, SHADE, to), "served": _each(ZONE)},
    "cards.Formula": _HAIR,
    "cards.ZoneResult": {"mended": _mending},
    "cards.ZoneResultEvent": {"mended": _mending},
    "cards.LaterLook": {"mended": _mending},
    "portrait.Portrait": {"strokes": _strokes},
    "route.VisitPlan": {"turns": _each(ZONE)},
    "pghistory.Context": {"metadata": _who},
}
