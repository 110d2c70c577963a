"""Take a line in from a file: all of it, with what is known of its tubes, or nothing."""

import uuid
from collections.abc import Iterable
from decimal import Decimal

from django.db import transaction

from studio.accounts.models import Person
from studio.shelf.line_file import LineFile
from studio.shelf.models import ShadeBand, ShadeLine, TubeList
from studio.shelf.selectors import colour_lines
from studio.shelf.services.holding import line_changed
from studio.shelf.services.own_tubes import NewLine, added_line, put_on
from studio.shelf.signals import first_line_stocked
from studio.ui.refusal import Refusal


@transaction.atomic
def take_line(person: Person, told: LineFile, *, name: str, is_here: bool) -> TubeList:
    """Put a line that a file tells on the shelf, under a name; as one that can be taken back.

    It is known here by what it is known by where it comes from, unless that is on this shelf already. is_here: a full
    tube of each is there; else they are empty until they are delivered or counted.
    Raises Refusal line_name_taken, no_line_name, too_many_lines.
    """
    if not name.strip():
        raise Refusal("no_line_name", "line_name")
    is_first = not colour_lines(person).exists()
    new = NewLine(
        name=name.strip(),
        kind=told.fields["kind"],
        developer_parts=told.fields.get("developer_parts", Decimal(0)),
        developer_vol=told.fields.get("developer_vol", Decimal(0)),
        tube_g=told.fields.get("tube_g", Decimal(60)),
    )
    uid = told.fields.get("uid")
    is_second = uid is not None and ShadeLine.objects.visible_to(person).filter(uid=uid).exists()
    line = added_line(person, new)
    for field, given in told.fields.items():
        if not (is_second and field == "uid"):
            setattr(line, field, given)
    line.save()
    made = TubeList.objects.create(line=line, is_new_line=True, taken_by=person)
    for position, tube in enumerate(told.tubes):
        if is_second:
            tube.row.uid = uuid.uuid4()
        tube.row.position, tube.row.stock_g = position, line.tube_g if is_here else Decimal(0)
        put_on(tube.row, made)
        for band in tube.bands:
            band.shade = tube.row
        ShadeBand.objects.bulk_create(tube.bands)
    line_changed(line.pk)
    if is_first:
        first_line_stocked.send(TubeList, person=person)
    return made


@transaction.atomic
def take_shelf(person: Person, lines: Iterable[LineFile], *, is_here: bool) -> list[TubeList]:
    """Put lines that a file tells on the shelf, under their own names: all of them or none.

    Raises Refusal line_name_taken, too_many_lines.
    """
    return [take_line(person, line, name=line.name, is_here=is_here) for line in lines]
