"""What a tube is taken for without strands: a look, or a spectrum."""

from collections.abc import Mapping, Sequence
from decimal import Decimal
from typing import Any, Final

import numpy as np
from django.db import transaction

from engine.arrays import FloatArray
from engine.dye import shade as dye
from engine.dye.characterise import Characterised, StrandTest, characterise, prior_of
from engine.dye.families import Prior
from engine.dye.guess import guessed
from engine.dye.known import Known, ShadeDoubt
from engine.dye.measured import from_absorption, from_reflectance
from engine.dye.swatch import from_swatch
from engine.errors import BadInput
from engine.hair.canvas import Canvas
from engine.hair.source import Source
from studio.accounts.models import Person
from studio.shelf.engine_adapter import kind_of, knowledge_fields
from studio.shelf.models import Shade, StrandReading
from studio.shelf.services.holding import held_shade
from studio.shelf.services.versions import know_as
from studio.ui.refusal import Refusal

SWATCH: Final = "swatch"
SPECTRUM: Final = "spectrum"


@transaction.atomic
def take_look(
    person: Person, *, shade_id: int, lab: Sequence[float], level: Decimal, share: Decimal = Decimal(1), like: str = ""
) -> Shade:
    """Take a tube for a look L*a*b* (3,): a swatch's, or that of a lock of the family that it is like.

    Raises Refusal carrier_strand, told_unfit; Shade.DoesNotExist.
    """
    look = [round(float(part), 2) for part in lab]
    told = {"by": SWATCH, "lab": look, "level": float(level), "share": float(share), "like": like}
    return _told(person, shade_id, told)


@transaction.atomic
def take_spectrum(
    person: Person, *, shade_id: int, values: FloatArray, level: Decimal | None, share: Decimal = Decimal(1)
) -> Shade:
    """Take a tube for a spectrum (bands,): a strand's reflectance on a level, or K undiluted where there is no level.

    Raises Refusal carrier_strand, told_unfit; Shade.DoesNotExist.
    """
    spectrum = [round(float(part), 6) for part in values]
    place = None if level is None else float(level)
    return _told(person, shade_id, {"by": SPECTRUM, "values": spectrum, "level": place, "share": float(share)})


@transaction.atomic
def forget_told(person: Person, *, shade_id: int) -> Shade:
    """Take a tube for what its strands, name or line say, without look and spectrum. Raises Shade.DoesNotExist."""
    return _told(person, shade_id, None)


def _told(person: Person, shade_id: int, told: Mapping[str, Any] | None) -> Shade:
    shade = held_shade(person, shade_id)
    check_colours(shade)
    shade.told = told
    try:
        shade_told(shade)
    except BadInput as error:
        raise Refusal("told_unfit", "spectrum", message=str(error)) from None
    shade.save(update_fields=["told"])
    known_anew(person, shade)
    return shade


def check_colours(shade: Shade) -> None:
    """Raises Refusal carrier_strand for a tube that colours nothing."""
    if not (shade.samples or shade.bands.exists()):
        raise Refusal("carrier_strand")


def shade_told(shade: Shade) -> dye.Shade | None:
    """The engine's shade that a look or a spectrum gives; None without one. Raises BadInput."""
    told, kind = shade.told, kind_of(shade.line)
    if told is None:
        return None
    hair = None if told["level"] is None else Canvas(level=told["level"])
    if told["by"] == SPECTRUM:
        values = np.array(told["values"])
        if hair is None:
            return from_absorption(shade.name, values, kind=kind)
        return from_reflectance(shade.name, values, hair, share=told["share"], kind=kind)
    lab, canvas = np.array(told["lab"]), hair or Canvas(level=10)
    return from_swatch(shade.name, lab, canvas, kind=kind, like=told["like"], share=told["share"]).shade


def told_by(shade: Shade) -> Characterised | None:
    """What a tube's strands tell together; None while they are fewer than two, or of one dilution."""
    try:
        tests = [_test(each) for each in shade.strands.all()]
        return characterise(shade.name, tests, kind=kind_of(shade.line), start=_start(shade))
    except BadInput:
        return None


def _start(shade: Shade) -> Prior | None:
    """What strands start from: a spectrum, which knows the course of a tube; else what bears them out best."""
    measured = shade_told(shade) if shade.told and shade.told["by"] == SPECTRUM else None
    return prior_of(measured) if measured else None


def _test(row: StrandReading) -> StrandTest:
    return StrandTest(
        canvas=Canvas(level=float(row.level)),
        share=float(row.share),
        lab=np.array([float(row.lightness), float(row.a), float(row.b)]),
        doubt=Source(row.source).colour_doubt,
    )


def known_anew(person: Person, shade: Shade) -> None:
    """The tube as its strands tell it, else as its look or spectrum does, else its name or its line."""
    fields: dict[str, object] = {"known": "", "samples": None, "doubt_factors": None, "readings": 0}
    strands = told_by(shade)
    found = strands.shade if strands else shade_told(shade)
    if found is not None and isinstance(found.doubt, ShadeDoubt):
        fields.update(knowledge_fields(found.doubt.source, found))
    elif not shade.bands.exists():
        tones = tuple(filter(None, shade.tones.split(", ")))
        level = None if shade.level is None else float(shade.level)
        guess = guessed(shade.name, kind=kind_of(shade.line), tones=tones, level=level)
        fields.update(knowledge_fields(Known.NAMED, guess))
    know_as(person, shade, fields)
