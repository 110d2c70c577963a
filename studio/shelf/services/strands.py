"""Strands that were made of a tube and read, and what they tell of it."""

from collections.abc import Sequence
from decimal import Decimal
from typing import Final

import numpy as np
from django.db import transaction

from engine.dye.characterise import Characterised, StrandTest, characterise
from engine.dye.guess import guessed
from engine.dye.known import Known
from engine.errors import BadInput
from engine.hair.canvas import Canvas
from engine.hair.source import Source
from studio.accounts.models import Person
from studio.shelf.engine_adapter import kind_of, knowledge_fields
from studio.shelf.models import Shade, StrandReading
from studio.shelf.services.holding import held_shade
from studio.shelf.services.versions import know_as
from studio.ui.refusal import Refusal

READINGS_MOST: Final = 24


@transaction.atomic
def read_strand(
    person: Person, *, shade_id: int, level: Decimal, share: Decimal, lab: Sequence[Decimal], source: str
) -> StrandReading:
    """Note a strand's colour, and take the tube for what all its strands show.

    Raises Refusal carrier_strand, too_many_strands; Shade.DoesNotExist.
    """
    shade = held_shade(person, shade_id)
    if not (shade.samples or shade.bands.exists()):
        raise Refusal("carrier_strand")
    if shade.strands.count() >= READINGS_MOST:
        raise Refusal("too_many_strands", most=READINGS_MOST)
    lightness, a, b = lab
    made = shade.strands.create(level=level, share=share, lightness=lightness, a=a, b=b, source=source, read_by=person)
    _known_anew(person, shade)
    return made


@transaction.atomic
def forget_strand(person: Person, *, strand_id: int) -> Shade:
    """Take a strand out, and take the tube for what the others show; for its name, where they are too few.

    Raises StrandReading.DoesNotExist.
    """
    strand = StrandReading.objects.visible_to(person).get(pk=strand_id)
    shade = held_shade(person, strand.shade_id)
    strand.delete()
    _known_anew(person, shade)
    return shade


def told_by(shade: Shade) -> Characterised | None:
    """What a tube's strands tell together; None while they are fewer than two, or of one dilution."""
    try:
        return characterise(shade.name, [_test(each) for each in shade.strands.all()], kind=kind_of(shade.line))
    except BadInput:
        return None


def _test(row: StrandReading) -> StrandTest:
    return StrandTest(
        canvas=Canvas(level=float(row.level)),
        share=float(row.share),
        lab=np.array([float(row.lightness), float(row.a), float(row.b)]),
        doubt=Source(row.source).colour_doubt,
    )


def _known_anew(person: Person, shade: Shade) -> None:
    """The tube as its strands tell it, else as its name or its line does."""
    found = told_by(shade)
    fields: dict[str, object] = {"known": "", "samples": None, "doubt_factors": None, "readings": 0}
    if found is not None and found.shade.doubt is not None:
        fields.update(knowledge_fields(found.shade.doubt.source, found.shade))
    elif not shade.bands.exists():
        tones = tuple(filter(None, shade.tones.split(", ")))
        level = None if shade.level is None else float(shade.level)
        guess = guessed(shade.name, kind=kind_of(shade.line), tones=tones, level=level)
        fields.update(knowledge_fields(Known.NAMED, guess))
    know_as(person, shade, fields)
