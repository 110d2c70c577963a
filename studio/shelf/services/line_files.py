"""Take a line in from a file: all of it, with what is known of its tubes, or nothing."""

from django.db import transaction

from studio.accounts.models import Person
from studio.shelf.line_file import LineFile
from studio.shelf.models import Shade, ShadeBand, StockMove, TubeList
from studio.shelf.selectors import colour_lines
from studio.shelf.services.holding import line_changed
from studio.shelf.services.own_tubes import NewLine, added_line
from studio.shelf.signals import first_line_stocked
from studio.ui.refusal import Refusal


@transaction.atomic
def take_line(person: Person, told: LineFile, *, name: str, is_here: bool) -> TubeList:
    """Put a line that a file tells on the shelf, under a name; as one that can be taken back.

    is_here: a full tube of each is there; else they are empty until they are delivered or counted.
    Raises Refusal line_name_taken, no_line_name, too_many_lines.
    """
    if not name.strip():
        raise Refusal("no_line_name", "line_name")
    is_first = not colour_lines(person).exists()
    new = NewLine(
        name=name.strip(),
        kind=told.fields["kind"],
        developer_parts=told.fields.get("developer_parts", 0),
        developer_vol=told.fields.get("developer_vol", 0),
        tube_g=told.fields.get("tube_g", 60),
    )
    line = added_line(person, new)
    for field, given in told.fields.items():
        setattr(line, field, given)
    line.save()
    made = TubeList.objects.create(line=line, is_new_line=True, taken_by=person)
    for position, tube in enumerate(told.tubes):
        held = line.tube_g if is_here else 0
        shade = Shade.objects.create(line=line, listed=made, position=position, stock_g=held, **tube.fields)
        ShadeBand.objects.bulk_create(
            ShadeBand(shade=shade, centre_nm=centre, sigma_nm=sigma, weight=weight)
            for centre, sigma, weight in tube.bands
        )
        if is_here:
            kind = StockMove.Kind.DELIVERED
            StockMove.objects.create(shade=shade, kind=kind, grams=held, left_g=held, made_by=person)
    line_changed(line.pk)
    if is_first:
        first_line_stocked.send(TubeList, person=person)
    return made
