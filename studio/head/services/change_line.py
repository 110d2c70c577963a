"""Work with another line of the shelf."""

from engine.language import say
from studio.accounts.models import Person
from studio.head.models import Bowl, Coat
from studio.head.services.changing import changing, refuse_line
from studio.head.state import refill
from studio.shelf.models import ShadeLine


def change_line(person: Person, *, zone_id: int, coat_id: int | None = None, version: int, line_id: int) -> Bowl:
    """Empty the bowl and set it up for another line; lines are not mixed in one bowl. Undo brings the bowl back.

    Raises Refusal line_not_for when the coat is not mixed from it; ShadeLine.DoesNotExist for another studio's line;
    Stale; Bowl.DoesNotExist.
    """
    line = ShadeLine.objects.visible_to(person).get(pk=line_id)
    coats = Coat.objects.visible_to(person).filter(zone=zone_id, removed=False, bowl__isnull=False)
    coat = coats.filter(pk=coat_id).first() if coat_id is not None else coats.last()
    if coat is not None:
        refuse_line(coat.bowl_id, line)
    with changing(
        person, zone_id=zone_id, coat_id=coat_id, version=version, words=say("an empty bowl of {line}", line=line)
    ) as bowl:
        if bowl.line_id != line.pk:
            bowl.line = line
            bowl.save()
            refill(bowl, {})
    return bowl
