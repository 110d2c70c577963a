"""A card as jobs of the engine's command line, with the tubes that were poured: anybody can compute it again."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from copy import copy
from dataclasses import replace
from typing import Any, Final

from engine.bowl.mix import Process
from engine.dye import shade as dye
from engine.hair.canvas import RANGES, lightened
from engine.knowledge.stored import renamed
from studio.accounts.models import Person
from studio.cards.models import Formula, FormulaPour
from studio.cards.selectors import KeptFormula
from studio.clients.models import Client
from studio.shelf.engine_adapter import engine_shade
from studio.shelf.models import Shade, ShadeLine, ShadeVersion
from studio.shelf.selectors import stocked_line, usual_process
from studio.taught.models import KnowledgeVersion
from studio.visits.engine_adapter import canvas_of

AS_KNOWN_THEN: Final = ("known", "readings", "strength", "samples", "doubt_factors")
NUMBERS: Final = ("strength", "time_constant_min", "life", "level", "ratio", "thins")


def jobs_document(person: Person, formulas: Iterable[KeptFormula]) -> list[dict[str, Any]]:
    """A `predict` job for each formula, in the order of the card: its answers' `lab` are the forecasts of the card.

    Tubes are named by their UUIDs, and are what they were known to be when the formula was kept; what results had
    taught by then goes along. A few queries a formula.
    """
    return [_job(person, kept.formula, kept.pours) for kept in formulas]


def line_setting(person: Person, line: ShadeLine) -> dict[str, Any]:
    """What jobs share that are reckoned with the tubes of a line: by their names, as they are known now.

    What results have taught goes along: a job that names a client by its UUID is reckoned for that hair. A few queries.
    """
    stocked = stocked_line(line)
    names = {shade.pk: shade.name for shade in stocked.shades}
    setting: dict[str, Any] = {"shades": {names[pk]: _shade(shade) for pk, shade in stocked.plain.items()}}
    if stocked.version is not None:
        clients = {str(pk): str(uid) for pk, uid in Client.objects.visible_to(person).values_list("pk", "uid")}
        setting |= _known(person, stocked.version, names, clients)
    return setting


def _job(person: Person, formula: Formula, pours: list[FormulaPour]) -> dict[str, Any]:
    canvas = canvas_of(formula)
    if formula.to_level is not None:
        canvas = lightened(canvas, max(float(formula.to_level), canvas.level))
    tubes = {pour.shade_id: _as_then(pour) for pour in pours}
    names = {pk: _name(row, pour) for pour in pours for pk, row in ((pour.shade_id, tubes[pour.shade_id]),)}
    shades = {names[pk]: _shade(engine_shade(row, formula.line)) for pk, row in tubes.items()}
    old = []
    for place, layer in enumerate(canvas.old, 1):
        if not isinstance(layer.shade, dye.Shade):
            continue  # of no tube: a canvas that rows make has none
        name = f"beneath {place}: {layer.shade.name}"
        shades[name] = _shade(layer.shade)
        old.append({"shade": name, "k_s": layer.k_s})
    job: dict[str, Any] = {
        "task": "predict",
        "canvas": {name: getattr(canvas, name) for name in RANGES} | {"family": canvas.family.value, "old": old},
        "shades": shades,
    }
    if formula.to_level is not None:
        return job
    job["bowl"] = {"grams": {names[pour.shade_id]: float(pour.grams) for pour in pours}} | _how(formula)
    if formula.target_l is not None:
        job["target"] = {"lab": [float(getattr(formula, f"target_{part}")) for part in "lab"]}
    return job | _knowledge(person, formula, names)


def _as_then(pour: FormulaPour) -> Shade:
    """The row of a tube as it was known when it was poured."""
    shade = pour.shade
    if pour.shade_version in (None, shade.version):
        return shade
    was = ShadeVersion.objects.filter(shade=shade, number=pour.shade_version).first()
    if was is None:
        return shade
    then = copy(shade)
    for name in AS_KNOWN_THEN:
        setattr(then, name, getattr(was, name))
    return then


def _name(shade: Shade, pour: FormulaPour) -> str:
    """Of what a tube was: by its UUID, and by the version where that is not today's."""
    return str(shade.uid) if pour.shade_version in (None, shade.version) else f"{shade.uid} as {pour.shade_version}"


def _shade(shade: dye.Shade) -> dict[str, Any]:
    """A tube as a job writes it."""
    told: dict[str, Any] = {"kind": shade.kind.value, "line": shade.line}
    told |= {name: number for name in NUMBERS if (number := getattr(shade, name)) is not None}
    if shade.samples:
        told["samples"] = list(shade.samples)
    if shade.bands:
        told["bands"] = [[band.centre_nm, band.sigma_nm, band.weight] for band in shade.bands]
    return told


def process_of(formula: Formula) -> Process:
    """How a formula is forecast: at full time, damp or dry as the house has its kind, with a developer of its own."""
    usual, line = usual_process(formula.line), stocked_line(formula.line).line
    vol, parts = formula.developer
    if not parts or (vol, parts) == (line.developer_vol, line.developer_parts):
        return usual
    return replace(usual, developer_vol=float(vol), ratio=float(parts))


def _how(formula: Formula) -> dict[str, Any]:
    """The same, as a job writes it."""
    process = process_of(formula)
    how: dict[str, Any] = {"damp": True} if process.damp else {}
    told = {"developer_vol": process.developer_vol, "ratio": process.ratio}
    return how | {name: number for name, number in told.items() if number is not None}


def _knowledge(person: Person, formula: Formula, names: Mapping[int, str]) -> dict[str, Any]:
    """What results had taught when it was kept, by the names of this job."""
    if formula.knowledge_version is None:
        return {}
    client = str(formula.client.uid)
    known = _known(person, formula.knowledge_version, names, {str(formula.client_id): client})
    return known | {"client": client} if known else {}


def _known(person: Person, version: int, names: Mapping[int, str], clients: Mapping[str, str]) -> dict[str, Any]:
    """What results had taught by a version, with tubes and clients by the names that a job has for them. One query."""
    versions = KnowledgeVersion.objects.filter(studio=person.studio_id, number=version)
    held = versions.values_list("held", flat=True).first()
    if not held:
        return {}
    known = renamed(
        held,
        {
            "shades": lambda code: names.get(int(code), code) if code.isdecimal() else code,
            "clients": lambda code: clients.get(code, f"no {code}"),
            "readers": lambda code: f"reader {code}",
        },
    )
    return {"knowledge": known}
