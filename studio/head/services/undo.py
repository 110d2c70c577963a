"""Walk back and forth over the steps of the bench."""

from django.db import transaction

from studio.accounts.models import Person
from studio.head.models import Bowl
from studio.head.services.changing import locked_bowl
from studio.head.state import restore
from studio.ui.refusal import Refusal


def undo(person: Person, *, zone_id: int, coat_id: int | None = None, version: int) -> Bowl:
    """Go one step back. Raises Refusal nothing_to_undo; Stale; Bowl.DoesNotExist."""
    return _walk(person, zone_id=zone_id, coat_id=coat_id, version=version, by=-1)


def redo(person: Person, *, zone_id: int, coat_id: int | None = None, version: int) -> Bowl:
    """Go one step forth again. Raises Refusal nothing_to_redo; Stale; Bowl.DoesNotExist."""
    return _walk(person, zone_id=zone_id, coat_id=coat_id, version=version, by=1)


@transaction.atomic
def _walk(person: Person, *, zone_id: int, coat_id: int | None = None, version: int, by: int) -> Bowl:
    verb = "undo" if by < 0 else "redo"
    bowl = locked_bowl(person, zone_id=zone_id, coat_id=coat_id, version=version, attempt=verb, whole=True)
    worktop = bowl.worktop
    step = worktop.steps.filter(number=worktop.cursor + by).first()
    if step is None:
        raise Refusal(f"nothing_to_{verb}")
    restore(worktop, step.state)
    worktop.cursor += by
    worktop.version += 1
    worktop.save()
    return bowl
