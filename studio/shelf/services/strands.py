"""Strands that were made of a tube and read, and what they tell of it."""

from collections.abc import Sequence
from decimal import Decimal
from typing import Final

from django.db import transaction

from engine.hair.source import Source
from studio.accounts.models import Person
from studio.shelf.models import Shade, StrandReading, StrandSheet
from studio.shelf.services.holding import held_shade
from studio.shelf.services.told import check_colours, known_anew
from studio.ui.refusal import Refusal

READINGS_MOST: Final = 24


@transaction.atomic
def read_strand(
    person: Person, *, shade_id: int, level: Decimal, share: Decimal, lab: Sequence[Decimal], source: str
) -> StrandReading:
    """Note a strand's colour, and take the tube for what all its strands show.

    Raises Refusal carrier_strand, too_many_strands; Shade.DoesNotExist.
    """
    shade = _held(person, shade_id, more=1)
    lightness, a, b = lab
    made = shade.strands.create(level=level, share=share, lightness=lightness, a=a, b=b, source=source, read_by=person)
    known_anew(person, shade)
    return made


@transaction.atomic
def note_sheet(person: Person, *, sheet_id: int) -> Shade:
    """Note all strands of a photo at once. Raises Refusal too_many_strands, sheet_noted; StrandSheet.DoesNotExist."""
    sheet = StrandSheet.objects.visible_to(person).select_for_update(of=("self",)).get(pk=sheet_id)
    if sheet.noted:
        raise Refusal("sheet_noted")
    shade = _held(person, sheet.shade_id, more=len(sheet.strands))
    for each in sheet.strands:
        lightness, a, b = each["lab"]
        shade.strands.create(
            level=Decimal(str(each["level"])),
            share=Decimal(str(each["share"])),
            lightness=round(lightness, 2),
            a=round(a, 2),
            b=round(b, 2),
            source=Source.PHOTO.value,
            sheet=sheet,
            read_by=person,
        )
    sheet.noted = True
    sheet.save(update_fields=["noted"])
    known_anew(person, shade)
    return shade


@transaction.atomic
def forget_sheet(person: Person, *, sheet_id: int) -> Shade:
    """Take all strands of a photo out at once, and the photo with them. Raises StrandSheet.DoesNotExist."""
    sheet = StrandSheet.objects.visible_to(person).select_for_update(of=("self",)).get(pk=sheet_id)
    shade = held_shade(person, sheet.shade_id)
    gone, _ = sheet.readings.all().delete()
    sheet.delete()
    if gone:
        known_anew(person, shade)
    return shade


@transaction.atomic
def forget_strand(person: Person, *, strand_id: int) -> Shade:
    """Take a strand out, and take the tube for what the others show; for its name, where they are too few.

    Raises StrandReading.DoesNotExist.
    """
    strand = StrandReading.objects.visible_to(person).get(pk=strand_id)
    shade = held_shade(person, strand.shade_id)
    strand.delete()
    known_anew(person, shade)
    return shade


def _held(person: Person, shade_id: int, *, more: int) -> Shade:
    """A tube that is to have more strands. Raises Refusal carrier_strand, too_many_strands."""
    shade = held_shade(person, shade_id)
    check_colours(shade)
    if shade.strands.count() + more > READINGS_MOST:
        raise Refusal("too_many_strands", most=READINGS_MOST)
    return shade
