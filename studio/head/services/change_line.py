"""Work with another line of the shelf."""

from studio.accounts.models import Person
from studio.head.models import Bowl
from studio.head.services.changing import changing
from studio.head.state import refill
from studio.shelf.models import ShadeLine


def change_line(person: Person, *, zone_id: int, coat_id: int | None = None, version: int, line_id: int) -> Bowl:
    """Empty the bowl and set it up for another line; lines are not mixed in one bowl. Undo brings the bowl back.

    Raises ShadeLine.DoesNotExist for another studio's line; Stale; Bowl.DoesNotExist.
    """
    line = ShadeLine.objects.visible_to(person).get(pk=line_id)
    with changing(person, zone_id=zone_id, coat_id=coat_id, version=version, words=f"an empty bowl of {line}") as bowl:
        if bowl.line_id != line.pk:
            bowl.line = line
            bowl.save()
            refill(bowl, {})
    return bowl
